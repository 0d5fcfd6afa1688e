// The plain ways of matching, to stand beside the search. Not a public header.
#pragma once

#include "core/match/problem.h"

namespace ingot::matching {

// Pool indices that may be used: not excluded; with capacity unless the way does without.
[[nodiscard]] std::vector<std::size_t> usable_units(const MatchProblem& problem, bool needs_capacity);

using Groups = std::vector<std::vector<std::size_t>>;
// The best S x P by capacity dealt out to and fro.
[[nodiscard]] Result<Groups> by_deal(const MatchProblem& problem);
// One model: the S x P units of the narrowest window of capacity and resistance, dealt out to and fro.
[[nodiscard]] Result<Groups> by_twins(const MatchProblem& problem);
// The S x P units with the nearest voltages, grouped in order.
[[nodiscard]] Result<Groups> by_voltage(const MatchProblem& problem);

} // namespace ingot::matching
