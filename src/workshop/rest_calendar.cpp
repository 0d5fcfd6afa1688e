#include "workshop/rest_calendar.h"

#include "exchange/jobs_csv.h"
#include "workshop/translated.h"

#include <QDateTime>

#include <map>

namespace ingot {

std::string reading_calendar(const Workshop& workshop, const RestShelf& shelf, const std::string& stamp_utc) {
    std::map<QDate, std::map<QString, int>> days; // trays with how many of each
    for (const RestingLine& line : shelf.lines) {
        const UnitState* unit = workshop.unit(line.unit);
        const Assembly* pack = workshop.pack(line.place.assembly);
        const QDateTime due = QDateTime::fromString(QString::fromStdString(line.due_at), Qt::ISODate).toLocalTime();
        if ((unit == nullptr && pack == nullptr) || line.due_at.empty() || !due.isValid())
            continue;
        ++days[due.date()][QString::fromStdString(unit != nullptr ? unit->record.tray : pack->label)];
    }
    constexpr int morning = 9;
    constexpr int seconds_a_unit = 30;
    constexpr int least_s = 600;
    std::vector<exchange::BenchVisit> visits;
    for (const auto& [day, trays] : days) {
        int units = 0;
        QString description;
        for (const auto& [tray, count] : trays) {
            units += count;
            description += (tray.isEmpty() ? wording::tr("without a tray: %1").arg(count)
                                           : wording::tr("tray %1: %2").arg(tray).arg(count)) +
                           QLatin1Char('\n');
        }
        const QDateTime begin(day, QTime(morning, 0));
        const QString form = QStringLiteral("yyyyMMddTHHmmss");
        visits.push_back({begin.toString(form).toStdString(),
                          begin.addSecs(std::max(least_s, units * seconds_a_unit)).toString(form).toStdString(),
                          wording::tr("Read %1 units at rest").arg(units).toStdString(), description.toStdString()});
    }
    return exchange::write_calendar(visits, stamp_utc);
}

} // namespace ingot
