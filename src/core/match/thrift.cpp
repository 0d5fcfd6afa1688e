#include "core/match/thrift.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace ingot {

std::vector<std::size_t> spare_strongest(const MatchProblem& problem, double wanted_ah) {
    if (problem.demands.any() || !(wanted_ah > 0))
        return {};
    std::set<std::size_t> out(problem.excluded.begin(), problem.excluded.end());
    std::set<std::size_t> locked;
    for (const MatchLock& lock : problem.locks)
        locked.insert(lock.unit);
    constexpr double mah = 1000;
    std::vector<int> kept; // whether it may go or not
    std::vector<std::size_t> strongest;
    for (std::size_t i = 0; i < problem.pool.size(); ++i) {
        if (out.contains(i) || !problem.pool[i].capacity_ah)
            continue;
        if (locked.contains(i))
            kept.push_back(static_cast<int>(std::lround(*problem.pool[i].capacity_ah * mah)));
        else
            strongest.push_back(i);
    }
    std::stable_sort(strongest.begin(), strongest.end(), [&](std::size_t a, std::size_t b) {
        return *problem.pool[a].capacity_ah > *problem.pool[b].capacity_ah;
    });
    constexpr double room = 1.003; // the bound is nearly always reached, not always
    const double needed = wanted_ah * mah * room / (1 - problem.give_up);
    const auto gives = [&](std::size_t spared) {
        std::vector<int> left = kept;
        for (std::size_t i = spared; i < strongest.size(); ++i)
            left.push_back(static_cast<int>(std::lround(*problem.pool[strongest[i]].capacity_ah * mah)));
        return static_cast<double>(usable_bound_mah(std::move(left), problem.series, problem.parallel)) >= needed;
    };
    if (!gives(0))
        return {};
    // The fewer strong ones stay in the pool, the less it gives: the most that can be spared is found by halving.
    std::size_t low = 0;
    std::size_t high = strongest.size();
    while (low < high) {
        const std::size_t middle = (low + high + 1) / 2;
        if (gives(middle))
            low = middle;
        else
            high = middle - 1;
    }
    strongest.resize(low);
    return strongest;
}

} // namespace ingot
