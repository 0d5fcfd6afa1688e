// Thrift: what a build can do without stays in stock for the next.
#pragma once

#include "core/match/problem.h"

#include <vector>

namespace ingot {

// The strongest units without which the pool still gives `wanted_ah`, with what may be given up of it and a little room
// for levelling. Indices into the pool; locked units are never among them. Nothing where demands are made of the
// groups: what those leave of the pool is not known before the search.
[[nodiscard]] std::vector<std::size_t> spare_strongest(const MatchProblem& problem, double wanted_ah);

} // namespace ingot
