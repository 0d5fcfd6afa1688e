// Inside the explanation engine: the logs of densities that its likelihoods are made of.
#pragma once

#include "core/triage/predict.h"

#include <cmath>
#include <numbers>

namespace ingot::triage_detail {

inline constexpr double terminals_stray = 0.004; // a terminal voltage that has nothing to do with the groups' sum

inline double log_normal(double x, double sd) {
    return -0.5 * x * x / (sd * sd) - std::log(sd) - 0.5 * std::log(2 * std::numbers::pi);
}
inline double log_mix(double share, double a, double b) { // (1 - share) a + share b
    return log_sum({std::log(1 - share) + a, std::log(share) + b});
}
// Density of a distance whose size may be anything between two bounds, on a log scale.
inline double log_any_size(double size, double from, double to) {
    return size < from || size > to ? -20.0 : -std::log(size * std::log(to / from));
}

} // namespace ingot::triage_detail
