#include "workshop/match.h"

#include "core/build/joining.h"
#include "exchange/match_demands_json.h"

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
        if (inventory_.set_of(u) != filter.set)
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
        // A model without a data sheet counts as one that empties in an hour (N35); without a rating nobody knows.
        if (u->reference.continuous_a > 0)
            m.continuous_a = u->reference.continuous_a;
        else if (u->reference.rated_ah > 0)
            m.continuous_a = u->reference.rated_ah;
        if (u->record.pack != 0 && u->record.group > 0)
            m.origin = fmt::format("{}.{}", u->record.pack, u->record.group);
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

Result<MatchService::Chosen> MatchService::chosen(const std::vector<std::vector<Id>>& groups) const {
    Chosen out;
    std::set<std::string> chemistries;
    std::vector<Id> all;
    for (const auto& group : groups)
        all.insert(all.end(), group.begin(), group.end());
    if (const auto problem = inventory_.breaks_a_set(all))
        return *problem;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        for (std::size_t k = 0; k < groups[g].size(); ++k) {
            const UnitState* u = inventory_.unit(groups[g][k]);
            if (u == nullptr || !u->in_stock())
                return Problem{"", 0,
                               said("{} is not in stock any more. Search again.",
                                    (u != nullptr ? u->code() : std::string("A unit")))};
            if (u->quarantined || u->verdict.duty == Duty::quarantine)
                return Problem{"", 0, said("{} is in quarantine and goes into no pack.", u->code())};
            chemistries.insert(u->facts.chemistry);
            out.cells_per_unit = std::max(out.cells_per_unit, u->reference.cells_in_series);
            Placement placement;
            placement.group = static_cast<int>(g) + 1;
            placement.place = static_cast<int>(k) + 1;
            placement.unit = u->record.id;
            placement.why = "reserved";
            placement.from_tray = u->record.tray;
            placement.from_well = u->record.well;
            out.placements.push_back(std::move(placement));
        }
    }
    if (chemistries.size() != 1)
        return Problem{"", 0, said("One pack takes one chemistry.")};
    out.chemistry = *chemistries.begin();
    return out;
}

Result<Id> MatchService::reserve(int series, int parallel, const std::vector<std::vector<Id>>& groups,
                                 std::optional<MatchWay> way, double give_up, const std::string& label) {
    auto taken = chosen(groups);
    if (!taken)
        return taken.problem();
    for (const Assembly& b : inventory_.builds())
        if (!label.empty() && b.label == label)
            return Problem{"", 0, said("build {} exists already.", label)};
    Assembly build;
    build.label = label.empty() ? inventory_.next_build_label() : label;
    build.state = AssemblyState::planned;
    build.layout = {series, parallel, 1};
    build.way = way ? code(*way) : "";
    build.give_up = give_up;
    return keep(std::move(build), std::move(taken).value());
}

Result<Id> MatchService::reserve_for(Id id, int parallel, const std::vector<std::vector<Id>>& groups,
                                     std::optional<MatchWay> way, double give_up) {
    const Assembly* record = inventory_.build(id);
    if (record == nullptr || !inventory_.wants_units(*record))
        return Problem{"", 0, said("This build wants no units any more.")};
    auto taken = chosen(groups);
    if (!taken)
        return taken.problem();
    Assembly build = *record;
    build.layout = {static_cast<int>(groups.size()), parallel, 1};
    build.way = way ? code(*way) : "";
    build.give_up = give_up;
    return keep(std::move(build), std::move(taken).value());
}

Result<int> MatchService::reserve_met(const AllotAnswer& answer) {
    int reserved = 0;
    const auto done = session_.batch([&]() -> Result<bool> {
        for (std::size_t b = 0; b < answer.question.builds.size(); ++b) {
            if (!answer.met(b))
                continue;
            std::vector<std::vector<Id>> groups;
            for (const GroupSums& group : answer.result.builds[b].match.groups) {
                std::vector<Id>& ids = groups.emplace_back();
                ids.reserve(group.units.size());
                for (const std::size_t u : group.units)
                    ids.push_back(answer.question.units[u]);
            }
            const AllotBuild& asked = answer.question.problem.builds[b];
            if (const auto kept =
                    reserve_for(answer.question.builds[b], asked.parallel, groups, MatchWay::search, asked.give_up);
                !kept)
                return kept.problem();
            ++reserved;
        }
        return true;
    });
    if (!done)
        return done.problem();
    return reserved;
}

// In one step: a new build (without an id), or one that had no units.
Result<Id> MatchService::keep(Assembly build, Chosen chosen) {
    build.chemistry = chosen.chemistry;
    build.layout.cells_per_unit = chosen.cells_per_unit;
    build.rule_set = inventory_.rules().stamp();
    const std::string at = session_.now();
    if (build.id == 0)
        build.created_at = at;
    ChangeSet changes;
    return session_.commit(
        [&] {
            const Id id = build.id == 0 ? session_.assemblies.add(build) : build.id;
            if (build.id != 0)
                session_.assemblies.set_matched(build);
            for (Placement& placement : chosen.placements) {
                placement.assembly = id;
                placement.since = at;
                session_.assemblies.add(placement);
                changes.units.insert(placement.unit);
            }
            session_.record_event("units reserved", build.label, fmt::format("{} units", chosen.placements.size()));
            changes.assemblies.insert(id);
            return id;
        },
        changes);
}

namespace {
constexpr const char* demands_setting = "match-demands";
} // namespace

std::vector<NamedDemands> MatchService::named_demands() const {
    std::vector<NamedDemands> out;
    const auto kept = exchange::read_match_demands(session_.catalogue.value(demands_setting), demands_setting);
    if (kept)
        for (const auto& [name, demands] : kept.value())
            out.push_back({name, demands});
    return out;
}

Result<bool> MatchService::name_demands(const NamedDemands& named) {
    if (named.name.empty())
        return Problem{"", 0, said("Give the demands a name, under which they are found again.")};
    if (!named.demands.any())
        return Problem{"", 0, said("Nothing is asked yet: choose at least one demand.")};
    std::map<std::string, MatchDemands> all;
    for (const NamedDemands& known : named_demands())
        all[known.name] = known.demands;
    all[named.name] = named.demands;
    return session_.step([&] { session_.catalogue.set(demands_setting, exchange::write_match_demands(all)); }, {});
}

Result<bool> MatchService::forget_demands(const std::string& name) {
    std::map<std::string, MatchDemands> all;
    for (const NamedDemands& known : named_demands())
        all[known.name] = known.demands;
    if (all.erase(name) == 0)
        return Problem{"", 0, said("There are no demands \"{}\".", name)};
    return session_.step([&] { session_.catalogue.set(demands_setting, exchange::write_match_demands(all)); }, {});
}

PoolFilter MatchService::filter_for(Id id) const {
    PoolFilter out;
    const Assembly* record = inventory_.build(id);
    if (record == nullptr)
        return out;
    const BuildDesign& design = inventory_.design(id);
    out.chemistry = record->chemistry;
    out.model = design.word(DesignFigure::wanted_model);
    const Duty least = duty_from(design.word(DesignFigure::least_duty)).value_or(Duty::light);
    for (int d = 0; d <= static_cast<int>(least); ++d)
        out.duties.push_back(static_cast<Duty>(d));
    // Beside survivors their model is liked, not demanded.
    if (design.refills() && static_cast<int>(pool(out).size()) < record->layout.units())
        out.model.clear();
    return out;
}

AllotQuestion MatchService::allot_question(double give_up) const {
    AllotQuestion out;
    for (const UnitState& u : inventory_.units()) {
        const bool waits = u.verdict.duty == Duty::undecided || u.verdict.duty == Duty::rest_again;
        if (!u.in_stock() || u.quarantined || !(u.verdict.duty <= Duty::light || waits) || inventory_.set_of(u) != 0)
            continue;
        out.units.push_back(u.record.id);
        out.waits.push_back(waits ? 1 : 0);
    }
    out.problem.pool = problem_for(out.units).pool;
    std::set<std::string> chemistries;
    for (const MatchUnit& unit : out.problem.pool)
        chemistries.insert(unit.chemistry);
    int priority = 0;
    for (const Assembly* record : inventory_.wanting()) {
        const BuildDesign& design = inventory_.design(record->id);
        AllotBuild build;
        build.id = record->label;
        build.series = record->layout.series;
        build.parallel = record->layout.parallel;
        build.priority = ++priority;
        build.chemistry = chemistries.contains(record->chemistry) ? record->chemistry : std::string();
        build.model = design.word(DesignFigure::wanted_model);
        build.model_first = design.refills(); // beside survivors another model will do where there are too few
        build.wanted_ah = design.number(DesignFigure::wanted_ah);
        build.give_up = give_up;
        const Duty least = duty_from(design.word(DesignFigure::least_duty)).value_or(Duty::light);
        // A chemistry of which there is nothing: no unit may be used, rather than one of another.
        const bool none = !record->chemistry.empty() && build.chemistry.empty();
        build.may_use.reserve(out.units.size());
        for (const Id id : out.units)
            build.may_use.push_back(!none && inventory_.unit(id)->verdict.duty <= least ? 1 : 0);
        out.builds.push_back(record->id);
        out.problem.builds.push_back(std::move(build));
    }
    return out;
}

} // namespace ingot
