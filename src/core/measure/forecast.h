// What a discharge that is under way will give, from how those of its siblings went on: the charge whose curve, drawn
// over its own share, lies along theirs. A constant difference in volts (resistance, a colder room) is left out.
//
// Ingot's own method: the interval comes from forecasting each sibling, cut off at the same charge, from the others, so
// that it is as wide as these units are unlike; docs/methods/capacity.md says how often it held.
#pragma once

#include "core/measure/discharge_curve.h"

#include <optional>
#include <span>

namespace ingot {

struct CapacityForecast {
    double capacity_ah = 0;
    double low_ah = 0, high_ah = 0; // 95 %
    int siblings = 0;
};

// Of a discharge from full, at the siblings' current and to their cutoff. Nothing while it cannot be told: fewer than
// three siblings, too little of the curve, or an interval that is wider than 15 % on either side.
[[nodiscard]] std::optional<CapacityForecast> forecast_capacity(const DischargeCurve& so_far,
                                                                std::span<const DischargeCurve> siblings);

} // namespace ingot
