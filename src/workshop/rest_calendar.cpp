#include "workshop/rest_calendar.h"

#include "exchange/jobs_csv.h"
#include "workshop/rest_due.h"
#include "workshop/rest_wording.h"
#include "workshop/stock.h"

#include <QDateTime>

#include <algorithm>
#include <map>

namespace ingot {

std::string reading_calendar(const Workshop& workshop, const RestShelf& shelf, const std::string& stamp_utc) {
    std::map<QDate, std::map<QString, int>> days; // trays with how many of each
    for (const DueVisit& visit : due_visits(workshop, shelf))
        days[visit.at.date()][visit.home] = visit.units;
    // What storage asks comes on the same walk.
    const QDate today = QDateTime::fromString(QString::fromStdString(workshop.now()), Qt::ISODate).toLocalTime().date();
    std::map<QDate, int> cared_for;
    for (const StockLine& line : stock_of(workshop)) {
        const QDateTime due = QDateTime::fromString(QString::fromStdString(line.due_at), Qt::ISODate).toLocalTime();
        if (line.care != Care::none && due.isValid())
            ++cared_for[std::max(due.date(), today)];
    }
    // And packs in service that are to be read again.
    std::map<QDate, QStringList> packs;
    for (const ProveService::Visit& visit : workshop.prove().field_visits()) {
        const QDate due = QDateTime::fromString(QString::fromStdString(visit.at), Qt::ISODate).toLocalTime().date();
        packs[std::max(due, today)] << QString::fromStdString(visit.label);
        days[std::max(due, today)];
    }
    for (const auto& [day, units] : cared_for)
        days[day]; // a day of its own where nothing else is due
    constexpr int morning = 9;
    constexpr int seconds_a_unit = 30;
    constexpr int least_s = 600;
    std::vector<exchange::BenchVisit> visits;
    for (const auto& [day, trays] : days) {
        int units = 0;
        QString description;
        for (const auto& [tray, count] : trays) {
            units += count;
            description += wording::visit_of_tray(tray, count) + QLatin1Char('\n');
        }
        if (const auto care = cared_for.find(day); care != cared_for.end()) {
            units += care->second;
            description += wording::visit_of_storage(care->second) + QLatin1Char('\n');
        }
        if (const auto read = packs.find(day); read != packs.end())
            description += wording::visit_of_packs(read->second) + QLatin1Char('\n');
        const QDateTime begin(day, QTime(morning, 0));
        const QString form = QStringLiteral("yyyyMMddTHHmmss");
        visits.push_back({begin.toString(form).toStdString(),
                          begin.addSecs(std::max(least_s, units * seconds_a_unit)).toString(form).toStdString(),
                          wording::visit(units).toStdString(), description.toStdString()});
    }
    return exchange::write_calendar(visits, stamp_utc);
}

} // namespace ingot
