#include "workshop/match.h"

#include "core/build/joining.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace ingot {

std::vector<Id> MatchService::pool(const PoolFilter& filter) const {
    std::vector<Id> ids;
    for (const UnitState& u : inventory_.units()) {
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

MatchProblem MatchService::problem_for(const std::vector<Id>& ids) const {
    MatchProblem problem;
    for (const Id id : ids) {
        const UnitState* u = inventory_.unit(id);
        if (u == nullptr)
            continue;
        MatchUnit m;
        m.id = u->code();
        if (u->facts.capacity_ah && *u->facts.capacity_ah > 0)
            m.capacity_ah = u->facts.capacity_ah;
        m.resistance_ohm = u->facts.dc_resistance_ohm; // one method only: AC and DC values do not mix
        m.self_discharge_ah_per_day = u->facts.self_discharge_ah_per_day;
        m.voltage_v = u->facts.fresh_voltage_v();
        m.model = u->record.model;
        m.chemistry = u->facts.chemistry;
        problem.pool.push_back(std::move(m));
    }
    return problem;
}

std::vector<double> MatchService::current_shares(const MatchProblem& problem, const GroupSums& group) {
    if (!group.conductance_s)
        return {};
    double known = 0;
    int unknown = 0;
    for (const std::size_t u : group.units) {
        known += problem.pool[u].resistance_ohm ? 1 / *problem.pool[u].resistance_ohm : 0;
        unknown += problem.pool[u].resistance_ohm ? 0 : 1;
    }
    const double stand_in = unknown > 0 ? unknown / std::max(1e-9, *group.conductance_s - known) : 0;
    std::vector<JoinMember> members;
    constexpr double any_voltage = 3.7; // all alike: the shares do not depend on it
    for (const std::size_t u : group.units)
        members.push_back(
            {any_voltage, problem.pool[u].resistance_ohm ? problem.pool[u].resistance_ohm->value : stand_in});
    return share_current(members, static_cast<double>(group.units.size())).current_a;
}

Result<Id> MatchService::reserve(int series, int parallel, const std::vector<std::vector<Id>>& groups,
                                 std::optional<MatchWay> way, double give_up, const std::string& label) {
    std::set<std::string> chemistries;
    std::vector<Placement> placements;
    int cells_per_unit = 1;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        for (std::size_t k = 0; k < groups[g].size(); ++k) {
            const UnitState* u = inventory_.unit(groups[g][k]);
            if (u == nullptr || !u->in_stock())
                return Problem{"", 0,
                               (u != nullptr ? u->code() : std::string("A unit")) +
                                   " is not in stock any more. Search again."};
            if (u->quarantined || u->verdict.duty == Duty::quarantine)
                return Problem{"", 0, u->code() + " is in quarantine and goes into no pack."};
            chemistries.insert(u->facts.chemistry);
            cells_per_unit = std::max(cells_per_unit, u->reference.cells_in_series);
            Placement placement;
            placement.group = static_cast<int>(g) + 1;
            placement.place = static_cast<int>(k) + 1;
            placement.unit = u->record.id;
            placement.why = "reserved";
            placement.from_tray = u->record.tray;
            placement.from_well = u->record.well;
            placements.push_back(std::move(placement));
        }
    }
    if (chemistries.size() != 1)
        return Problem{"", 0, "One pack takes one chemistry."};
    int largest = 0;
    for (const Assembly& b : inventory_.builds()) {
        if (b.label.starts_with("B-"))
            largest = std::max(largest, std::atoi(b.label.c_str() + 2));
        if (!label.empty() && b.label == label)
            return Problem{"", 0, "build " + label + " exists already."};
    }
    Assembly build;
    build.label = label.empty() ? fmt::format("B-{:03d}", largest + 1) : label;
    build.state = AssemblyState::planned;
    build.chemistry = *chemistries.begin();
    build.layout = {series, parallel, cells_per_unit};
    build.way = way ? code(*way) : "";
    build.give_up = give_up;
    build.rule_set = inventory_.rules().stamp();
    build.created_at = session_.now();
    ChangeSet changes;
    return session_.commit(
        [&] {
            const Id id = session_.assemblies.add(build);
            for (Placement& placement : placements) {
                placement.assembly = id;
                placement.since = build.created_at;
                session_.assemblies.add(placement);
                changes.units.insert(placement.unit);
            }
            session_.record_event("units reserved", build.label, fmt::format("{} units", placements.size()));
            changes.assemblies.insert(id);
            return id;
        },
        changes);
}

} // namespace ingot
