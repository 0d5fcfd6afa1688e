#include "core/prove/proven_units.h"

#include "core/measure/statistics.h"

#include <algorithm>

namespace ingot {

std::optional<double> group_capacity_ah(std::span<const ProvenUnit> units) {
    double sum = 0;
    for (const ProvenUnit& unit : units) {
        if (!unit.capacity_ah || !(*unit.capacity_ah > 0))
            return std::nullopt;
        sum += *unit.capacity_ah;
    }
    return units.empty() ? std::nullopt : std::optional(sum);
}

double carrying_v(std::span<const double> volts, int cells_per_unit) {
    if (volts.size() != 2)
        return median(std::vector<double>(volts.begin(), volts.end()));
    const double low = std::min(volts[0], volts[1]);
    const double high = std::max(volts[0], volts[1]);
    constexpr double a_joint_v = 0.25; // a cell: what no sag explains
    return high - low > a_joint_v * cells_per_unit ? high : low;
}

} // namespace ingot
