// Match and Build.
#include "workshop/workshop.h"

#include "exchange/csv.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace ingot {

namespace {

std::optional<double> resistance_of(const UnitFacts& facts) {
    return facts.dc_resistance_ohm ? facts.dc_resistance_ohm : facts.ac_resistance_ohm;
}

} // namespace

std::vector<Id> Workshop::pool(const PoolFilter& filter) const {
    std::vector<Id> ids;
    for (const UnitState& u : units_) {
        if (!u.in_stock() || u.quarantined || u.verdict.duty == Duty::quarantine ||
            u.facts.chemistry != filter.chemistry)
            continue;
        if (!filter.model.empty() && u.record.model != filter.model)
            continue;
        if (!filter.tray.empty() && u.record.tray != filter.tray)
            continue;
        if (std::find(filter.duties.begin(), filter.duties.end(), u.verdict.duty) == filter.duties.end())
            continue;
        ids.push_back(u.record.id);
    }
    return ids;
}

MatchProblem Workshop::problem_for(const std::vector<Id>& ids) const {
    MatchProblem problem;
    for (const Id id : ids) {
        const UnitState* u = unit(id);
        MatchUnit m;
        m.id = u->code();
        if (u->facts.capacity_ah && *u->facts.capacity_ah > 0)
            m.capacity_ah = u->facts.capacity_ah;
        m.resistance_ohm = u->facts.dc_resistance_ohm; // one method only: AC and DC values do not mix
        m.self_discharge_ah_per_day = u->facts.self_discharge_ah_per_day;
        m.voltage_v = u->facts.rest_voltage_v;
        m.model = u->record.model;
        m.chemistry = u->facts.chemistry;
        problem.pool.push_back(std::move(m));
    }
    return problem;
}

Result<Id> Workshop::reserve(int series, int parallel, const std::vector<std::vector<Id>>& groups, MatchWay way,
                             double give_up) {
    store::BuildRecord build;
    std::set<std::string> chemistries;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        for (std::size_t k = 0; k < groups[g].size(); ++k) {
            const UnitState* u = unit(groups[g][k]);
            if (u == nullptr || !u->in_stock())
                return Problem{"", 0,
                               (u != nullptr ? u->code() : std::string("A unit")) +
                                   " is not in stock any more. Search again."};
            if (u->quarantined || u->verdict.duty == Duty::quarantine)
                return Problem{"", 0, u->code() + " is in quarantine and goes into no pack."};
            chemistries.insert(u->facts.chemistry);
            build.units.push_back(
                {static_cast<int>(g) + 1, static_cast<int>(k) + 1, u->record.id, u->record.tray, "", u->record.well});
        }
    }
    if (chemistries.size() != 1)
        return Problem{"", 0, "One pack takes one chemistry."};
    int largest = 0;
    for (const auto& b : builds_)
        if (b.label.starts_with("B-"))
            largest = std::max(largest, std::atoi(b.label.c_str() + 2));
    build.label = fmt::format("B-{:03d}", largest + 1);
    build.chemistry = *chemistries.begin();
    build.series = series;
    build.parallel = parallel;
    build.way = code(way);
    build.give_up = give_up;
    build.rule_set = rules_.stamp();
    build.created_at = now();
    Touched touched = touched_packs;
    for (const auto& member : build.units)
        touched.units.push_back(member.unit_id);
    return guarded(
        [&] {
            const Id id = records_.add(build);
            records_.add(
                store::EventRecord{now(), "units reserved", build.label, fmt::format("{} units", build.units.size())});
            return id;
        },
        touched);
}

BuildSheet Workshop::sheet(Id id) const {
    BuildSheet sheet;
    const store::BuildRecord* record = build(id);
    if (record == nullptr)
        return sheet;
    sheet.build = *record;
    sheet.group_capacity_ah.assign(static_cast<std::size_t>(record->series), 0);
    std::vector<std::vector<JoinUnit>> joining(static_cast<std::size_t>(record->series));
    for (const auto& member : record->units) {
        const UnitState* u = unit(member.unit_id);
        BuildLine line;
        line.group = member.group;
        line.place = member.place;
        line.unit = member.unit_id;
        line.tray = member.from_tray;
        line.well = member.from_well;
        line.taken = !member.taken_at.empty();
        sheet.taken += line.taken ? 1 : 0;
        const auto g = static_cast<std::size_t>(member.group - 1);
        if (u != nullptr) {
            line.code = u->code();
            line.model = u->record.model;
            line.capacity_ah = u->facts.capacity_ah;
            line.resistance_ohm = resistance_of(u->facts);
            line.leak_ah_per_day = u->facts.self_discharge_ah_per_day;
            line.voltage_v = u->facts.rest_voltage_v;
            if (g < joining.size()) {
                joining[g].push_back({line.voltage_v, line.resistance_ohm, u->reference.rated_ah});
                sheet.group_capacity_ah[g] += line.capacity_ah.value_or(0);
            }
        }
        sheet.lines.push_back(std::move(line));
    }
    for (const auto& group : joining)
        sheet.joining.push_back(check_joining(group));
    for (const JoinCheck& check : sheet.joining)
        if (check.difference_v.value_or(0) >= sheet.worst.difference_v.value_or(-1))
            sheet.worst = check;
    return sheet;
}

Result<BuildLine> Workshop::take(Id build_id, Id unit_id) {
    const BuildSheet now_sheet = sheet(build_id);
    const UnitState* u = unit(unit_id);
    if (u == nullptr)
        return Problem{"", 0, "There is no such unit."};
    const auto line = std::find_if(now_sheet.lines.begin(), now_sheet.lines.end(),
                                   [&](const BuildLine& l) { return l.unit == unit_id; });
    if (line == now_sheet.lines.end())
        return Problem{"", 0,
                       u->code() + " does not belong to " + now_sheet.build.label + ". Put it back" +
                           (u->record.tray.empty()
                                ? std::string(".")
                                : fmt::format(": tray {}, well {}.", u->record.tray, u->record.well))};
    if (line->taken)
        return Problem{"", 0, fmt::format("{} was taken already, for group {}.", u->code(), line->group)};
    BuildLine taken = *line;
    taken.taken = true;
    const auto done = guarded_step(
        [&] {
            records_.set_taken(build_id, unit_id, now());
            if (now_sheet.taken + 1 == static_cast<int>(now_sheet.lines.size()))
                records_.set_build_state(build_id, "taken");
        },
        touched_packs);
    if (!done)
        return done.problem();
    return taken;
}

Result<bool> Workshop::put_back(Id build_id, Id unit_id) {
    return guarded_step(
        [&] {
            records_.set_taken(build_id, unit_id, "");
            records_.set_build_state(build_id, "taking");
        },
        touched_packs);
}

Result<bool> Workshop::give_up_build(Id build_id) {
    const store::BuildRecord* record = build(build_id);
    if (record == nullptr)
        return Problem{"", 0, "There is no such build."};
    const store::BuildRecord copy = *record;
    Touched touched = touched_packs;
    for (const auto& member : copy.units)
        touched.units.push_back(member.unit_id);
    return guarded_step(
        [&] {
            for (const auto& member : copy.units)
                records_.set_unit_state(member.unit_id, "stock");
            records_.set_build_state(build_id, "given-up");
            records_.add(store::EventRecord{now(), "build given up", copy.label, ""});
        },
        touched);
}

std::string Workshop::sheet_csv(const BuildSheet& sheet) {
    std::string out = exchange::csv_line({"Group", "Place", "Unit ID", "Model", "Tray", "Well", "Capacity / Ah",
                                          "Resistance / Ohm", "Self-discharge / mAh/day", "Voltage / V", "Taken"});
    for (const BuildLine& line : sheet.lines) {
        std::optional<double> leak = line.leak_ah_per_day;
        if (leak)
            *leak *= 1000;
        out += exchange::csv_line({std::to_string(line.group), std::to_string(line.place), line.code, line.model,
                                   line.tray, line.well > 0 ? std::to_string(line.well) : "",
                                   exchange::csv_number(line.capacity_ah), exchange::csv_number(line.resistance_ohm),
                                   exchange::csv_number(leak), exchange::csv_number(line.voltage_v),
                                   line.taken ? "yes" : "no"});
    }
    return out;
}

} // namespace ingot
