// What several subjects ask of a handful of values: the middle, a quantile, a spread that a few bad values do not move.
#pragma once

#include <utility>
#include <vector>

namespace ingot {

// Of an empty list: 0.
[[nodiscard]] double median(std::vector<double> values);
// The value below which `share` (0 to 1) of the others lie, as one of the values. Of an empty list: 0.
[[nodiscard]] double quantile(std::vector<double> values, double share);

// Median, and the median distance from it times 1.4826, which is the standard deviation where errors are normal.
struct RobustSpread {
    double centre = 0;
    double scale = 0;
};
[[nodiscard]] RobustSpread robust_spread(const std::vector<double>& values);

} // namespace ingot
