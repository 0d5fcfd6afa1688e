#include "core/triage/unit_causes.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <map>
#include <set>

namespace ingot {

namespace {

constexpr std::size_t least_leaks = 3;  // measured units, so that there is a middle
constexpr std::size_t least_groups = 2; // beside the one that is judged
constexpr double leaks_more_often = 3;  // against the middle
constexpr double leaks_more = 0.001;    // of the middle capacity a day: 3 % a month
constexpr double weak_under = 0.85;     // of the middle of the others
constexpr double short_of_a_cell = 0.7; // of its nominal voltage

// The middle of what the other groups have; nothing where they are too few to say.
std::optional<double> middle_of_others(const std::map<int, double>& by_group, int group, std::size_t least) {
    std::vector<double> others;
    for (const auto& [other, value] : by_group)
        if (other != group)
            others.push_back(value);
    return others.size() >= least ? std::optional(median(std::move(others))) : std::nullopt;
}

std::set<int> dead_groups(std::span<const std::optional<double>> group_v, const PackLayout& layout,
                          const Chemistry& chemistry) {
    std::map<int, double> known;
    for (std::size_t g = 0; g < group_v.size(); ++g)
        if (group_v[g])
            known[static_cast<int>(g) + 1] = *group_v[g];
    const int cells = layout.cells_per_tap();
    std::set<int> out;
    for (const auto& [group, volts] : known) {
        const auto usual = cells > 1 ? middle_of_others(known, group, 1) : std::nullopt;
        const bool a_cell_short = usual && volts < *usual - short_of_a_cell * chemistry.nominal_v();
        if (volts < chemistry.floor_v * cells || a_cell_short)
            out.insert(group);
    }
    return out;
}

// By group: what all its units hold, where all were measured. Units in series between two taps hold what the least
// does.
std::map<int, double> group_capacities(std::span<const TestedUnit> units, const PackLayout& layout) {
    std::map<int, std::vector<double>> measured;
    for (const TestedUnit& unit : units)
        if (unit.capacity_ah)
            measured[unit.group].push_back(*unit.capacity_ah);
    std::map<int, double> out;
    for (const auto& [group, capacities] : measured) {
        double sum = 0;
        for (const double ah : capacities)
            sum += ah;
        const double least = *std::min_element(capacities.begin(), capacities.end());
        if (capacities.size() == static_cast<std::size_t>(layout.units_per_group()))
            out[group] = layout.units_per_tap > 1 ? least * layout.parallel : sum;
    }
    return out;
}

std::set<int> leaking_groups(std::span<const TestedUnit> units) {
    std::vector<double> leaks;
    std::vector<double> capacities;
    for (const TestedUnit& unit : units) {
        if (unit.leak_ah_per_day)
            leaks.push_back(*unit.leak_ah_per_day);
        if (unit.capacity_ah)
            capacities.push_back(*unit.capacity_ah);
    }
    std::set<int> out;
    if (leaks.size() < least_leaks || capacities.empty())
        return out;
    const double usual = median(std::move(leaks));
    const double ordinary = leaks_more * median(std::move(capacities));
    for (const TestedUnit& unit : units)
        if (unit.leak_ah_per_day && *unit.leak_ah_per_day > std::max(ordinary, leaks_more_often * usual))
            out.insert(unit.group);
    return out;
}

std::set<int> weak_groups(std::span<const TestedUnit> units, const PackLayout& layout) {
    const std::map<int, double> holds = group_capacities(units, layout);
    std::set<int> out;
    for (const auto& [group, ah] : holds) {
        const auto usual = middle_of_others(holds, group, least_groups);
        if (usual && ah < weak_under * *usual)
            out.insert(group);
    }
    return out;
}

} // namespace

std::vector<NamedFault> causes_by_units(std::span<const std::optional<double>> group_v,
                                        std::span<const TestedUnit> units, const PackLayout& layout,
                                        const Chemistry& chemistry) {
    if (units.empty())
        return {};
    const std::set<int> dead = dead_groups(group_v, layout, chemistry);
    if (layout.series > 1 && dead.size() == static_cast<std::size_t>(layout.series))
        return {{Fault::all_discharged, {}}};
    std::set<int> named = dead;
    const auto unnamed = [&named](const std::set<int>& groups) {
        std::vector<int> out;
        for (const int g : groups)
            if (named.insert(g).second)
                out.push_back(g);
        return out;
    };
    std::vector<NamedFault> out;
    if (!dead.empty())
        out.push_back({Fault::dead_group, {dead.begin(), dead.end()}});
    if (auto leaking = unnamed(leaking_groups(units)); !leaking.empty())
        out.push_back({Fault::leaking_cell, std::move(leaking)});
    if (auto weak = unnamed(weak_groups(units, layout)); !weak.empty())
        out.push_back({Fault::weak_group, std::move(weak)});
    return out.empty() ? out : in_order(std::move(out));
}

} // namespace ingot
