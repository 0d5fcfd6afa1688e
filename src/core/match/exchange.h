// One unit of an answer exchanged for another: what that would make of it, and which unit of the stock stands nearest
// in its place.
#pragma once

#include "core/match/problem.h"

#include <cstddef>
#include <optional>

namespace ingot {

// `unit` stands in the answer's groups; `with` in another place of them, or in the stock. Indices into the pool.
// Nothing where one is not in the pool, both are the same, or a capacity is not known.
[[nodiscard]] std::optional<MatchResult> exchanged(const MatchProblem& problem, const MatchResult& answer,
                                                   std::size_t unit, std::size_t with);

// Of the units of the stock that are nearest in capacity (at most 40 are looked at): the one that leaves the answer
// most level in the unit's place, without a breach more and within what may be given up. Nothing: none could take it.
struct InPlace {
    std::size_t unit = 0;
    MatchResult result;
};
[[nodiscard]] std::optional<InPlace> nearest_in_place(const MatchProblem& problem, const MatchResult& answer,
                                                      std::size_t unit);

} // namespace ingot
