#include "core/match/exchange.h"

#include "core/match/ways.h"

#include <algorithm>
#include <cmath>

namespace ingot {

std::optional<MatchResult> exchanged(const MatchProblem& problem, const MatchResult& answer, std::size_t unit,
                                     std::size_t with) {
    if (unit >= problem.pool.size() || with >= problem.pool.size() || unit == with || !problem.pool[unit].capacity_ah ||
        !problem.pool[with].capacity_ah)
        return std::nullopt;
    matching::Groups groups = matching::groups_in(answer);
    bool stands = false;
    for (auto& group : groups)
        for (std::size_t& u : group) {
            stands |= u == unit;
            u = u == unit ? with : u == with ? unit : u;
        }
    if (!stands)
        return std::nullopt;
    MatchResult out = figures_of(problem, groups);
    out.best_usable_ah = std::max(answer.best_usable_ah, out.usable_ah);
    matching::note_breaches(problem, out);
    return out;
}

std::optional<InPlace> nearest_in_place(const MatchProblem& problem, const MatchResult& answer, std::size_t unit) {
    if (unit >= problem.pool.size() || !problem.pool[unit].capacity_ah)
        return std::nullopt;
    std::vector<char> taken(problem.pool.size(), 0);
    for (const GroupSums& group : answer.groups)
        for (const std::size_t u : group.units)
            taken[u] = 1;
    for (const std::size_t u : problem.excluded)
        taken[u] = 1;
    std::vector<std::size_t> stock;
    for (std::size_t u = 0; u < taken.size(); ++u)
        if (taken[u] == 0 && problem.pool[u].capacity_ah)
            stock.push_back(u);
    const double ah = *problem.pool[unit].capacity_ah;
    const auto away = [&](std::size_t u) { return std::fabs(*problem.pool[u].capacity_ah - ah); };
    constexpr std::size_t looked_at = 40;
    const std::size_t nearest = std::min(looked_at, stock.size());
    std::partial_sort(stock.begin(), stock.begin() + static_cast<std::ptrdiff_t>(nearest), stock.end(),
                      [&](std::size_t a, std::size_t b) { return away(a) < away(b); });
    stock.resize(nearest);
    const int broken = matching::count_breaches(problem, matching::groups_in(answer));
    std::optional<InPlace> best;
    for (const std::size_t u : stock) {
        auto other = exchanged(problem, answer, unit, u);
        if (!other || other->usable_ah < answer.usable_ah * (1 - problem.give_up) ||
            matching::count_breaches(problem, matching::groups_in(*other)) > broken)
            continue;
        if (!best || other->levelness < best->result.levelness)
            best = InPlace{u, std::move(*other)};
    }
    return best;
}

} // namespace ingot
