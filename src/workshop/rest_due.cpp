#include "workshop/rest_due.h"

#include <algorithm>
#include <map>
#include <set>
#include <stdexcept>

namespace ingot {

namespace {

QDateTime local(const std::string& moment) {
    return QDateTime::fromString(QString::fromStdString(moment), Qt::ISODate).toLocalTime();
}
QDate local_day(const std::string& moment) {
    return local(moment).date();
}

std::string home_of(const Workshop& workshop, const RestingLine& line) {
    const UnitState* unit = workshop.unit(line.unit);
    const Assembly* pack = workshop.pack(line.place.assembly);
    return unit != nullptr ? unit->record.tray : pack != nullptr ? pack->label : std::string();
}

} // namespace

RestShelf judge_beside(const std::string& path, const Wanted& wanted) {
    const auto own = Workshop::open(path);
    if (!own)
        throw std::runtime_error(own.problem().text());
    return RestService::judge(own.value()->rest().question(), wanted);
}

std::function<RestShelf(const Wanted&)> shelf_judgement(Workshop& workshop) {
    if (workshop.inventory().gathered_beside())
        return [path = workshop.path()](const Wanted& wanted) { return judge_beside(path, wanted); };
    return
        [question = workshop.rest().question()](const Wanted& wanted) { return RestService::judge(question, wanted); };
}

std::vector<DueVisit> due_visits(const Workshop& workshop, const RestShelf& shelf) {
    std::map<std::pair<QDate, QString>, DueVisit> by;
    for (const RestingLine& line : shelf.lines) {
        const QDateTime due = local(line.due_at);
        if (line.due_at.empty() || !due.isValid())
            continue;
        const QString home = QString::fromStdString(home_of(workshop, line));
        DueVisit& visit = by[{due.date(), home}];
        visit.at = visit.units == 0 ? due : std::min(visit.at, due);
        visit.home = home;
        ++visit.units;
    }
    std::vector<DueVisit> out;
    out.reserve(by.size());
    for (auto& [key, visit] : by)
        out.push_back(std::move(visit));
    return out;
}

DueBoard due_board(const Workshop& workshop, const RestShelf& shelf) {
    const QDate today = local_day(workshop.now());
    std::set<QDate> coming;
    for (const RestingLine& line : shelf.lines)
        if (const QDate day = local_day(line.due_at); !line.due_at.empty() && day.isValid() && day > today)
            coming.insert(day);
    DueBoard out;
    std::array<QDate, 2> next;
    for (std::size_t i = 0; i < next.size() && i < coming.size(); ++i) {
        next[i] = *std::next(coming.begin(), static_cast<std::ptrdiff_t>(i));
        out.days[i] = next[i].toString(Qt::ISODate).toStdString();
    }
    std::map<std::pair<int, std::string>, std::vector<Id>> by;
    for (const RestingLine& line : shelf.lines) {
        const QDate day = local_day(line.due_at);
        if (line.due_at.empty() || !day.isValid())
            continue;
        const DueColumn column = day < today      ? DueColumn::overdue
                                 : day == today   ? DueColumn::today
                                 : day == next[0] ? DueColumn::next_day
                                 : day == next[1] ? DueColumn::day_after
                                                  : DueColumn::later;
        by[{static_cast<int>(column), home_of(workshop, line)}].push_back(line.row());
    }
    for (auto& [key, rows] : by)
        out.trays.push_back({key.second, static_cast<DueColumn>(key.first), std::move(rows)});
    std::stable_sort(out.trays.begin(), out.trays.end(), [](const DueTray& a, const DueTray& b) {
        return std::pair(a.column, b.rows.size()) < std::pair(b.column, a.rows.size());
    });
    return out;
}

} // namespace ingot
