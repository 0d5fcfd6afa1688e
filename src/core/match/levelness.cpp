#include "core/match/arena.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace ingot {

long usable_bound_mah(std::vector<int> capacities_mah, int series, int parallel) {
    std::sort(capacities_mah.begin(), capacities_mah.end(), std::greater<>());
    const auto n = static_cast<long>(capacities_mah.size());
    if (n < static_cast<long>(series) * parallel)
        return 0;
    std::vector<long> prefix(static_cast<std::size_t>(n) + 1, 0);
    for (long i = 0; i < n; ++i)
        prefix[static_cast<std::size_t>(i + 1)] =
            prefix[static_cast<std::size_t>(i)] + capacities_mah[static_cast<std::size_t>(i)];
    long bound = std::numeric_limits<long>::max();
    for (long k = 0; k < series; ++k) {
        const long groups = series - k;
        const long end = std::min(n, k + groups * parallel);
        bound = std::min(bound, (prefix[static_cast<std::size_t>(end)] - prefix[static_cast<std::size_t>(k)]) / groups);
    }
    return bound;
}

} // namespace ingot

namespace ingot::matching {

bool Arena::has_locks() const {
    return std::any_of(locked_to.begin(), locked_to.end(), [](int g) { return g >= 0; });
}

void Extremes::add(const Sums& sums) {
    if (empty) {
        *this = {sums.capacity, sums.capacity, sums.conductance, sums.conductance, sums.leak, sums.leak, false};
        return;
    }
    low_c = std::min(low_c, sums.capacity);
    high_c = std::max(high_c, sums.capacity);
    low_g = std::min(low_g, sums.conductance);
    high_g = std::max(high_g, sums.conductance);
    low_l = std::min(low_l, sums.leak);
    high_l = std::max(high_l, sums.leak);
}

double Extremes::lower_bound(double leak_scale) const {
    if (empty)
        return 0;
    double bound = static_cast<double>(high_c - low_c) / static_cast<double>(std::max(1L, high_c));
    if (high_g > 0)
        bound += (high_g - low_g) / high_g;
    return bound + leak_scale * (high_l - low_l);
}

std::vector<Sums> sums_of(const Arena& arena, const Slots& slots) {
    std::vector<Sums> sums(static_cast<std::size_t>(arena.series));
    for (std::size_t i = 0; i < slots.size(); ++i) {
        Sums& group = sums[i / static_cast<std::size_t>(arena.parallel)];
        const auto u = static_cast<std::size_t>(slots[i]);
        group.capacity += arena.capacity_mah[u];
        group.conductance += arena.conductance[u];
        group.leak += arena.leak[u];
    }
    return sums;
}

Level level_of(const Arena& arena, const std::vector<Sums>& sums) {
    Extremes extremes;
    double capacity = 0;
    double conductance = 0;
    for (const Sums& group : sums) {
        extremes.add(group);
        capacity += static_cast<double>(group.capacity);
        conductance += group.conductance;
    }
    const auto groups = static_cast<double>(sums.size());
    double levelness = static_cast<double>(extremes.high_c - extremes.low_c) * groups / std::max(1.0, capacity);
    if (conductance > 0)
        levelness += (extremes.high_g - extremes.low_g) * groups / conductance;
    levelness += arena.leak_scale * (extremes.high_l - extremes.low_l);
    return {extremes.low_c, levelness};
}

bool better(const Level& a, const Level& b, long floor_mah) {
    const long reach_a = std::min(a.usable_mah, floor_mah);
    const long reach_b = std::min(b.usable_mah, floor_mah);
    if (reach_a != reach_b)
        return reach_a > reach_b;
    return a.levelness < b.levelness - 1e-12;
}

std::vector<int> largest(const Arena& arena, const std::vector<char>& avoid) {
    const int wanted = arena.wanted();
    std::vector<char> taken(static_cast<std::size_t>(arena.size()), 0);
    std::vector<int> chosen;
    const auto take_where = [&](auto&& condition) {
        for (int i = 0; i < arena.size() && static_cast<int>(chosen.size()) < wanted; ++i) {
            const auto u = static_cast<std::size_t>(i);
            if (taken[u] == 0 && condition(u)) {
                taken[u] = 1;
                chosen.push_back(i);
            }
        }
    };
    take_where([&](std::size_t u) { return arena.locked_to[u] >= 0; });
    take_where([&](std::size_t u) { return avoid.empty() || avoid[u] == 0; });
    take_where([](std::size_t) { return true; });
    std::sort(chosen.begin(), chosen.end());
    return chosen;
}

Slots deal(const Arena& arena, const std::vector<int>& chosen) {
    const auto series = static_cast<std::size_t>(arena.series);
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    std::vector<std::vector<int>> groups(series);
    std::vector<int> free;
    for (const int u : chosen) {
        const int lock = arena.locked_to[static_cast<std::size_t>(u)];
        if (lock >= 0)
            groups[static_cast<std::size_t>(lock)].push_back(u);
        else
            free.push_back(u);
    }
    std::size_t at = 0;
    bool forward = true;
    std::size_t next = 0;
    while (at < free.size()) {
        const std::size_t g = forward ? next : series - 1 - next;
        if (groups[g].size() < parallel)
            groups[g].push_back(free[at++]);
        if (++next == series) {
            next = 0;
            forward = !forward;
        }
    }
    Slots slots;
    slots.reserve(series * parallel);
    for (const auto& group : groups)
        slots.insert(slots.end(), group.begin(), group.end());
    return slots;
}

} // namespace ingot::matching
