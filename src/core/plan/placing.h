// Placing jobs one after the other, each as early as the rules let it. Internals of bay_plan.
#pragma once

#include "core/plan/bay_plan.h"

#include <optional>
#include <vector>

namespace ingot::plan_detail {

inline constexpr double tolerance_h = 1e-7;

struct Timing {
    double grid_h = 0; // somebody comes only at multiples of this after the shift opens; 0: at any attended moment
};

// Each job of `order` at its earliest feasible start, after those that run already or are insisted on.
[[nodiscard]] std::vector<PlacedJob> place_in_order(const PlanProblem& problem, const std::vector<std::size_t>& order,
                                                    const Timing& timing);

// What is done at `from_h` is done at `to_h` instead, the rest follows on the same bays in the same order; nothing if a
// rule stands in the way.
[[nodiscard]] std::optional<std::vector<PlacedJob>>
put_off(const PlanProblem& problem, const std::vector<PlacedJob>& jobs, double from_h, double to_h);

// Distinct moments at which something is put in or lifted out, in time.
[[nodiscard]] std::vector<double> moments_of(const std::vector<PlacedJob>& jobs);

[[nodiscard]] std::optional<Problem> objection_to_problem(const PlanProblem& problem);

} // namespace ingot::plan_detail
