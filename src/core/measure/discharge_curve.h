// Voltage over the charge taken out, of one discharge; and the band in which those of its siblings lie.
#pragma once

#include "core/measure/capacity.h"

#include <span>
#include <vector>

namespace ingot {

// V over Ah, rising amounts. Of the last discharge in a log; empty where there is none.
struct DischargeCurve {
    std::vector<double> amount_ah, volts;
};
[[nodiscard]] DischargeCurve discharge_curve(const LogSamples& log);
// Of the samples from `first` to `last`, both inclusive, which are one discharge; negative current.
[[nodiscard]] DischargeCurve discharge_curve(const LogSamples& log, std::size_t first, std::size_t last);

// Lowest and highest voltage at rising amounts, V and Ah. Empty for fewer than two curves of at least ten points.
struct DischargeBand {
    std::vector<double> amount_ah, low_v, high_v;
};
[[nodiscard]] DischargeBand discharge_band(std::span<const LogSamples> siblings);

} // namespace ingot
