// What a person asks of a match beside levelness: what a grouping breaks of it.
#include "core/match/demand_reader.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace ingot {

const char* code(Demand demand) {
    constexpr std::array<const char*, demand_count> codes{"one-model-per-group", "whole-origins", "apart",
                                                          "join-window", "load"};
    return codes[static_cast<std::size_t>(demand)];
}

bool MatchDemands::asks(Demand demand) const {
    switch (demand) {
    case Demand::one_model_per_group:
        return one_model_per_group;
    case Demand::whole_origins:
        return whole_origins;
    case Demand::apart:
        return !apart.empty();
    case Demand::join_window:
        return join_window_v.has_value();
    case Demand::load:
        return load_a.has_value();
    }
    return false;
}

void MatchDemands::drop(Demand demand) {
    switch (demand) {
    case Demand::one_model_per_group:
        one_model_per_group = false;
        break;
    case Demand::whole_origins:
        whole_origins = false;
        break;
    case Demand::apart:
        apart.clear();
        break;
    case Demand::join_window:
        join_window_v.reset();
        break;
    case Demand::load:
        load_a.reset();
        break;
    }
}

namespace matching {

DemandReader::DemandReader(const MatchProblem& problem) : problem_(problem), filled_(matching::fill(problem)) {
    enemies_.resize(problem.pool.size());
    for (const auto& [a, b] : problem.demands.apart)
        if (a < problem.pool.size() && b < problem.pool.size() && a != b) {
            enemies_[a].push_back(b);
            enemies_[b].push_back(a);
        }
    const std::set<std::size_t> excluded(problem.excluded.begin(), problem.excluded.end());
    std::map<std::string, int> ids;
    origin_.assign(problem.pool.size(), -1);
    std::map<std::string, int> models;
    for (std::size_t u = 0; u < problem.pool.size(); ++u) {
        model_.push_back(models.emplace(problem.pool[u].model, static_cast<int>(models.size())).first->second);
        if (!problem.demands.whole_origins || problem.pool[u].origin.empty() || excluded.contains(u))
            continue;
        const auto [at, fresh] = ids.emplace(problem.pool[u].origin, static_cast<int>(ids.size()));
        if (fresh)
            sizes_.push_back(0);
        origin_[u] = at->second;
        ++sizes_[static_cast<std::size_t>(at->second)];
    }
    models_ = models.size();
}

int DemandReader::broken(int origin, int used) const {
    return std::min(used, sizes_[static_cast<std::size_t>(origin)] - used);
}

std::array<int, demand_count> DemandReader::broken(const std::vector<std::size_t>& group) const {
    std::array<int, demand_count> out{};
    const MatchDemands& demands = problem_.demands;
    if (demands.one_model_per_group)
        out[static_cast<std::size_t>(Demand::one_model_per_group)] = odd_models(group);
    if (!demands.apart.empty())
        out[static_cast<std::size_t>(Demand::apart)] = meetings(group);
    if (demands.join_window_v)
        out[static_cast<std::size_t>(Demand::join_window)] = outside_window(group, *demands.join_window_v);
    if (demands.load_a)
        out[static_cast<std::size_t>(Demand::load)] = overloaded(group, *demands.load_a);
    return out;
}

int DemandReader::total(const std::vector<std::size_t>& group) const {
    const auto each = broken(group);
    return std::accumulate(each.begin(), each.end(), 0);
}

int DemandReader::odd_models(const std::vector<std::size_t>& group) const {
    std::vector<int> counts(models_, 0);
    int most = 0;
    for (const std::size_t u : group)
        most = std::max(most, ++counts[static_cast<std::size_t>(model_[u])]);
    return static_cast<int>(group.size()) - most;
}

int DemandReader::meetings(const std::vector<std::size_t>& group) const {
    int out = 0;
    for (const std::size_t u : group)
        for (const std::size_t enemy : enemies_[u])
            out += enemy > u && std::find(group.begin(), group.end(), enemy) != group.end() ? 1 : 0;
    return out;
}

int DemandReader::outside_window(const std::vector<std::size_t>& group, double window_v) const {
    std::vector<double> volts;
    for (const std::size_t u : group)
        if (problem_.pool[u].voltage_v)
            volts.push_back(*problem_.pool[u].voltage_v);
    std::sort(volts.begin(), volts.end());
    std::size_t most = 0;
    std::size_t from = 0;
    constexpr double exactly = 1e-9;
    for (std::size_t to = 0; to < volts.size(); ++to) {
        while (volts[to] - volts[from] > window_v + exactly)
            ++from;
        most = std::max(most, to - from + 1);
    }
    return static_cast<int>(group.size() - most);
}

int DemandReader::overloaded(const std::vector<std::size_t>& group, double load_a) const {
    double conductance = 0;
    for (const std::size_t u : group)
        conductance += filled_.has_conductance ? filled_.conductance_s[u] : 1;
    int out = 0;
    constexpr double exactly = 1e-9;
    for (const std::size_t u : group) {
        const double share = (filled_.has_conductance ? filled_.conductance_s[u] : 1) / conductance;
        const auto& able_a = problem_.pool[u].continuous_a;
        out += !able_a || share * load_a > *able_a + exactly ? 1 : 0;
    }
    return out;
}

} // namespace matching

std::vector<Breach> breaches_of(const MatchProblem& problem, const std::vector<std::vector<std::size_t>>& groups) {
    std::vector<Breach> out;
    if (!problem.demands.any())
        return out;
    const matching::DemandReader reader(problem);
    std::vector<int> used(reader.origins(), 0);
    for (std::size_t g = 0; g < groups.size(); ++g) {
        const auto counts = reader.broken(groups[g]);
        for (std::size_t d = 0; d < counts.size(); ++d)
            if (counts[d] > 0)
                out.push_back({static_cast<Demand>(d), static_cast<int>(g), counts[d]});
        for (const std::size_t u : groups[g])
            if (reader.origin(u) >= 0)
                ++used[static_cast<std::size_t>(reader.origin(u))];
    }
    int origins = 0;
    for (std::size_t o = 0; o < used.size(); ++o)
        origins += reader.broken(static_cast<int>(o), used[o]);
    if (origins > 0)
        out.push_back({Demand::whole_origins, -1, origins});
    return out;
}

namespace matching {

Groups groups_in(const MatchResult& result) {
    Groups out;
    out.reserve(result.groups.size());
    for (const GroupSums& group : result.groups)
        out.push_back(group.units);
    return out;
}

Groups earlier_answer(const MatchProblem& problem) {
    const Groups& groups = problem.go_on_from;
    if (groups.size() != static_cast<std::size_t>(problem.series))
        return {};
    constexpr std::size_t nowhere = static_cast<std::size_t>(-1);
    std::vector<std::size_t> group_of(problem.pool.size(), nowhere);
    const std::vector<std::size_t> usable = usable_units(problem, true);
    const std::set<std::size_t> free(usable.begin(), usable.end());
    for (std::size_t g = 0; g < groups.size(); ++g) {
        if (groups[g].size() != static_cast<std::size_t>(problem.parallel))
            return {};
        for (const std::size_t u : groups[g]) {
            if (!free.contains(u) || group_of[u] != nowhere)
                return {};
            group_of[u] = g;
        }
    }
    const bool locks_hold = std::all_of(problem.locks.begin(), problem.locks.end(),
                                        [&](const MatchLock& lock) { return group_of[lock.unit] == lock.group; });
    return locks_hold ? groups : Groups{};
}

int count_breaches(const MatchProblem& problem, const Groups& groups) {
    int count = 0;
    for (const Breach& breach : breaches_of(problem, groups))
        count += breach.count;
    return count;
}

void note_breaches(const MatchProblem& problem, MatchResult& result) {
    if (const int broken = count_breaches(problem, groups_in(result)); broken > 0)
        result.notes.emplace_back(MatchNote::demands_not_met, broken);
}

std::vector<std::size_t> without_asked_figure(const MatchProblem& problem) {
    std::vector<std::size_t> out;
    std::set<std::size_t> locked;
    for (const MatchLock& lock : problem.locks)
        locked.insert(lock.unit);
    for (const std::size_t u : usable_units(problem, true)) {
        const bool blind = (problem.demands.join_window_v && !problem.pool[u].voltage_v) ||
                           (problem.demands.load_a && !problem.pool[u].continuous_a);
        if (blind && !locked.contains(u))
            out.push_back(u);
    }
    return out;
}

} // namespace matching

} // namespace ingot
