#include "core/match/ways.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>
#include <stdexcept>

namespace ingot {

const char* code(MatchWay way) {
    switch (way) {
    case MatchWay::search:
        return "search";
    case MatchWay::twins:
        return "twins";
    case MatchWay::voltage_only:
        return "voltage-only";
    case MatchWay::deal:
        return "deal";
    }
    return "";
}

const char* code(MatchNote note) {
    switch (note) {
    case MatchNote::resistance_unknown:
        return "resistance-unknown";
    case MatchNote::self_discharge_unknown:
        return "self-discharge-unknown";
    case MatchNote::units_without_capacity:
        return "units-without-capacity";
    case MatchNote::units_without_resistance:
        return "units-without-resistance";
    case MatchNote::units_without_self_discharge:
        return "units-without-self-discharge";
    case MatchNote::unlike_capacities:
        return "unlike-capacities";
    case MatchNote::demands_not_met:
        return "demands-not-met";
    case MatchNote::units_without_asked_figure:
        return "units-without-asked-figure";
    case MatchNote::stopped:
        return "stopped";
    }
    return "";
}

namespace {

template <class Get> double spread_of(const std::vector<GroupSums>& groups, Get get) {
    double low = get(groups.front());
    double high = low;
    for (const GroupSums& g : groups) {
        low = std::min(low, get(g));
        high = std::max(high, get(g));
    }
    return high - low;
}

template <class Get> double mean_of(const std::vector<GroupSums>& groups, Get get) {
    double sum = 0;
    for (const GroupSums& g : groups)
        sum += get(g);
    return sum / static_cast<double>(groups.size());
}

// The bound in Ah: at whole mAh where the pool is given in whole mAh, else without rounding down.
double bound_of(const MatchProblem& problem) {
    const auto usable = matching::usable_units(problem, true);
    if (usable.size() < static_cast<std::size_t>(problem.series) * static_cast<std::size_t>(problem.parallel))
        return 0;
    constexpr double per_ah = 1000;
    constexpr int finer = 1000; // micro-ampere-hours, where some capacity is not whole mAh
    bool whole = true;
    std::vector<int> coarse;
    std::vector<int> fine;
    for (const std::size_t u : usable) {
        const double mah = *problem.pool[u].capacity_ah * per_ah;
        whole &= std::fabs(mah - std::round(mah)) < 1e-6;
        coarse.push_back(static_cast<int>(std::lround(mah)));
        fine.push_back(static_cast<int>(std::lround(mah * finer)));
    }
    if (whole)
        return static_cast<double>(usable_bound_mah(std::move(coarse), problem.series, problem.parallel)) / per_ah;
    return static_cast<double>(usable_bound_mah(std::move(fine), problem.series, problem.parallel) + 1) / per_ah /
           finer;
}

} // namespace

MatchResult figures_of(const MatchProblem& problem, const std::vector<std::vector<std::size_t>>& groups) {
    if (groups.size() != static_cast<std::size_t>(problem.series))
        throw std::invalid_argument("a grouping needs S groups");
    std::set<std::size_t> seen;
    const matching::FilledPool filled = matching::fill(problem);
    MatchResult result;
    double total = 0;
    for (const auto& group : groups) {
        if (group.size() != static_cast<std::size_t>(problem.parallel))
            throw std::invalid_argument("a group needs P units");
        GroupSums sums;
        sums.units = group;
        double conductance = 0;
        double leak = 0;
        for (const std::size_t u : group) {
            if (u >= problem.pool.size() || !seen.insert(u).second)
                throw std::invalid_argument("a unit of the pool may be used once");
            const MatchUnit& unit = problem.pool[u];
            sums.capacity_ah += unit.capacity_ah.value_or(0);
            conductance += filled.conductance_s[u];
            leak += filled.leak_ah_per_day[u];
        }
        sums.conductance_s = conductance;
        if (filled.has_leak)
            sums.leak_ah_per_day = leak;
        total += sums.capacity_ah;
        result.groups.push_back(std::move(sums));
    }
    const auto capacity = [](const GroupSums& g) { return g.capacity_ah; };
    const auto conductance = [](const GroupSums& g) { return *g.conductance_s; };
    const auto leak = [](const GroupSums& g) { return *g.leak_ah_per_day; };
    result.usable_ah = std::min_element(result.groups.begin(), result.groups.end(), [&](const auto& a, const auto& b) {
                           return capacity(a) < capacity(b);
                       })->capacity_ah;
    const double mean_capacity = mean_of(result.groups, capacity);
    result.capacity_spread = mean_capacity > 0 ? spread_of(result.groups, capacity) / mean_capacity : 0;
    result.stranded_ah = total - problem.series * result.usable_ah;
    result.levelness = result.capacity_spread;
    if (filled.has_conductance) {
        result.conductance_spread = spread_of(result.groups, conductance) / mean_of(result.groups, conductance);
        result.levelness += *result.conductance_spread;
    } else {
        for (GroupSums& g : result.groups)
            g.conductance_s.reset();
    }
    if (filled.has_leak) {
        result.leak_spread_ah_per_day = spread_of(result.groups, leak);
        if (filled.median_leak > 0)
            result.levelness +=
                problem.leak_weight * *result.leak_spread_ah_per_day / (problem.parallel * filled.median_leak);
    }
    result.bound_ah = bound_of(problem);
    result.best_usable_ah = result.usable_ah;
    return result;
}

} // namespace ingot

namespace ingot::matching {

namespace {

Problem too_few(Sentence sentence) {
    return {"", 0, std::move(sentence)};
}

// To and fro: 1..S, S..1.
Groups serpentine(const std::vector<std::size_t>& order, int series) {
    const auto s = static_cast<std::size_t>(series);
    Groups groups(s);
    for (std::size_t i = 0; i < order.size(); ++i) {
        const std::size_t lap = i / s;
        const std::size_t at = i % s;
        groups[lap % 2 == 0 ? at : s - 1 - at].push_back(order[i]);
    }
    return groups;
}

std::size_t wanted(const MatchProblem& problem) {
    return static_cast<std::size_t>(problem.series) * static_cast<std::size_t>(problem.parallel);
}

void sort_by_capacity(const MatchProblem& problem, std::vector<std::size_t>& units) {
    std::stable_sort(units.begin(), units.end(), [&](std::size_t a, std::size_t b) {
        return *problem.pool[a].capacity_ah > *problem.pool[b].capacity_ah;
    });
}

struct Window {
    double width = 1e300;
    std::vector<std::size_t> units;
};

// The narrowest window among slices of the capacity order, each cut down to `need` units by resistance.
void narrowest(const MatchProblem& problem, const std::vector<std::size_t>& sorted, std::size_t need, Window& best) {
    constexpr std::array<double, 6> lengths{1.0, 1.1, 1.25, 1.5, 2.0, 3.0};
    constexpr std::size_t most_starts = 400;
    const std::size_t stride = std::max<std::size_t>(1, sorted.size() * need / (most_starts * 60));
    for (const double length : lengths) {
        const auto slice = static_cast<std::size_t>(std::ceil(length * static_cast<double>(need)));
        if (slice > sorted.size())
            break;
        for (std::size_t from = 0; from + slice <= sorted.size(); from += stride) {
            std::vector<std::size_t> units(sorted.begin() + static_cast<std::ptrdiff_t>(from),
                                           sorted.begin() + static_cast<std::ptrdiff_t>(from + slice));
            const auto resistance = [&](std::size_t u) -> double { return problem.pool[u].resistance_ohm.value_or(0); };
            const auto capacity = [&](std::size_t u) -> double { return *problem.pool[u].capacity_ah; };
            std::stable_sort(units.begin(), units.end(),
                             [&](std::size_t a, std::size_t b) { return resistance(a) < resistance(b); });
            for (std::size_t i = 0; i + need <= units.size(); ++i) {
                const double r_width =
                    resistance(units[i]) > 0
                        ? (resistance(units[i + need - 1]) - resistance(units[i])) / resistance(units[i])
                        : 0;
                if (r_width >= best.width)
                    continue;
                double low = 1e300;
                double high = 0;
                for (std::size_t k = i; k < i + need; ++k) {
                    low = std::min(low, capacity(units[k]));
                    high = std::max(high, capacity(units[k]));
                }
                const double width = r_width + (high - low) / high;
                if (width < best.width)
                    best = {width,
                            {units.begin() + static_cast<std::ptrdiff_t>(i),
                             units.begin() + static_cast<std::ptrdiff_t>(i + need)}};
            }
        }
    }
}

} // namespace

std::vector<std::size_t> usable_units(const MatchProblem& problem, bool needs_capacity) {
    std::vector<char> out(problem.pool.size(), 0);
    for (const std::size_t u : problem.excluded)
        out[u] = 1;
    std::vector<std::size_t> units;
    for (std::size_t u = 0; u < problem.pool.size(); ++u)
        if (out[u] == 0 && (!needs_capacity || problem.pool[u].capacity_ah))
            units.push_back(u);
    return units;
}

FilledPool fill(const MatchProblem& problem) {
    FilledPool filled;
    std::map<std::string, std::vector<double>> by_model;
    std::vector<double> conductances;
    std::vector<double> leaks;
    for (const MatchUnit& unit : problem.pool) {
        if (unit.resistance_ohm) {
            by_model[unit.model].push_back(1 / *unit.resistance_ohm);
            conductances.push_back(1 / *unit.resistance_ohm);
        }
        if (unit.self_discharge_ah_per_day)
            leaks.push_back(*unit.self_discharge_ah_per_day);
    }
    filled.has_conductance = 2 * conductances.size() >= problem.pool.size() && !conductances.empty();
    filled.has_leak = !leaks.empty();
    if (filled.has_leak)
        filled.median_leak = median(std::move(leaks));
    std::map<std::string, double> middle;
    for (const auto& [model, values] : by_model)
        middle[model] = median(values);
    const double overall = filled.has_conductance ? median(std::move(conductances)) : 0;
    for (const MatchUnit& unit : problem.pool) {
        const auto of_model = middle.find(unit.model);
        const double stand_in = of_model != middle.end() ? of_model->second : overall;
        filled.conductance_s.push_back(
            !filled.has_conductance ? 0 : (unit.resistance_ohm ? 1 / *unit.resistance_ohm : stand_in));
        filled.leak_ah_per_day.push_back(
            filled.has_leak ? unit.self_discharge_ah_per_day.value_or(filled.median_leak).value : 0.0);
    }
    return filled;
}

Result<Groups> by_deal(const MatchProblem& problem) {
    auto units = usable_units(problem, true);
    if (units.size() < wanted(problem))
        return too_few(
            said("{} units are needed, {} in the pool have a capacity. Choose a smaller pack, or test more units.",
                 wanted(problem), units.size()));
    sort_by_capacity(problem, units);
    units.resize(wanted(problem));
    return serpentine(units, problem.series);
}

Result<Groups> by_twins(const MatchProblem& problem) {
    const std::size_t need = wanted(problem);
    std::map<std::string, std::vector<std::size_t>> by_model;
    for (const std::size_t u : usable_units(problem, true))
        by_model[problem.pool[u].model].push_back(u);
    Window best;
    std::size_t most = 0;
    for (auto& [model, units] : by_model) {
        const auto with_resistance = static_cast<std::size_t>(std::count_if(
            units.begin(), units.end(), [&](std::size_t u) { return problem.pool[u].resistance_ohm.has_value(); }));
        if (with_resistance >= need)
            std::erase_if(units, [&](std::size_t u) { return !problem.pool[u].resistance_ohm; });
        else if (with_resistance > 0 && units.size() >= need) // compare all on capacity alone rather than some on both
            continue;
        most = std::max(most, units.size());
        if (units.size() < need)
            continue;
        sort_by_capacity(problem, units);
        narrowest(problem, units, need, best);
    }
    if (best.units.empty())
        return too_few(said(
            "{} units are needed, {} are there of the most common model. Choose a smaller pack, or test more units.",
            need, most));
    sort_by_capacity(problem, best.units);
    return serpentine(best.units, problem.series);
}

Result<Groups> by_voltage(const MatchProblem& problem) {
    auto units = usable_units(problem, false);
    std::erase_if(units, [&](std::size_t u) { return !problem.pool[u].voltage_v; });
    const std::size_t need = wanted(problem);
    if (units.size() < need)
        return too_few(
            said("{} units are needed, {} in the pool have a voltage. Choose a smaller pack, or test more units.", need,
                 units.size()));
    const auto voltage = [&](std::size_t u) { return *problem.pool[u].voltage_v; };
    std::stable_sort(units.begin(), units.end(), [&](std::size_t a, std::size_t b) { return voltage(a) > voltage(b); });
    std::size_t from = 0;
    for (std::size_t i = 0; i + need <= units.size(); ++i)
        if (voltage(units[i]) - voltage(units[i + need - 1]) <
            voltage(units[from]) - voltage(units[from + need - 1]) - 1e-9)
            from = i;
    Groups groups;
    for (int g = 0; g < problem.series; ++g) {
        const auto begin =
            units.begin() + static_cast<std::ptrdiff_t>(from) + static_cast<std::ptrdiff_t>(g) * problem.parallel;
        groups.emplace_back(begin, begin + problem.parallel);
    }
    return groups;
}

} // namespace ingot::matching
