#include "core/measure/statistics.h"

#include <boost/math/statistics/univariate_statistics.hpp>

#include <algorithm>
#include <cmath>

namespace ingot {

double median(std::vector<double> values) {
    return values.empty() ? 0 : boost::math::statistics::median(values);
}

double quantile(std::vector<double> values, double share) {
    if (values.empty())
        return 0;
    const auto at =
        values.begin() + static_cast<std::ptrdiff_t>(std::lround(share * static_cast<double>(values.size() - 1)));
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

RobustSpread robust_spread(const std::vector<double>& values) {
    if (values.empty())
        return {};
    constexpr double of_normal = 1.4826;
    const double centre = median(values);
    std::vector<double> away; // Boost 1.74's own median_absolute_deviation forgets to take the centre off
    away.reserve(values.size());
    for (const double v : values)
        away.push_back(std::fabs(v - centre));
    return {centre, of_normal * median(std::move(away))};
}

} // namespace ingot
