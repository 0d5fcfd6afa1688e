#include "core/measure/discharge_curve.h"

#include <algorithm>

namespace ingot {

DischargeCurve discharge_curve(const LogSamples& log) {
    LogSamples copy = log; // may be turned
    const CapacityResult result = measure_capacity(copy);
    const Step* last = nullptr;
    for (const Step& step : result.steps)
        if (step.kind == StepKind::discharge)
            last = &step;
    return last == nullptr ? DischargeCurve{} : discharge_curve(copy, last->first, last->last);
}

DischargeCurve discharge_curve(const LogSamples& log, std::size_t first, std::size_t last) {
    DischargeCurve out;
    double moved = 0;
    for (std::size_t i = first; i <= last; ++i) {
        if (i > first)
            moved -= 0.5 * (log.current_a[i] + log.current_a[i - 1]) * (log.time_s[i] - log.time_s[i - 1]) /
                     seconds_per_hour;
        if (out.amount_ah.empty() || moved > out.amount_ah.back()) {
            out.amount_ah.push_back(moved);
            out.volts.push_back(log.voltage_v[i]);
        }
    }
    return out;
}

DischargeBand discharge_band(std::span<const LogSamples> siblings) {
    DischargeBand band;
    std::vector<DischargeCurve> curves;
    double longest = 0;
    constexpr std::size_t least_points = 10;
    for (const LogSamples& log : siblings) {
        DischargeCurve curve = discharge_curve(log);
        if (curve.amount_ah.size() < least_points)
            continue;
        longest = std::max(longest, curve.amount_ah.back());
        curves.push_back(std::move(curve));
    }
    constexpr int points = 120;
    if (curves.size() < 2)
        return band;
    for (int n = 0; n <= points; ++n) {
        const double at = longest * n / points;
        double low = 1e9;
        double high = -1e9;
        bool any = false;
        for (const auto& [amount, volts] : curves) {
            const auto next = std::lower_bound(amount.begin(), amount.end(), at);
            if (next == amount.end())
                continue;
            const auto i = static_cast<std::size_t>(next - amount.begin());
            const double v =
                i == 0 ? volts[0]
                       : volts[i - 1] + (volts[i] - volts[i - 1]) * (at - amount[i - 1]) / (amount[i] - amount[i - 1]);
            low = std::min(low, v);
            high = std::max(high, v);
            any = true;
        }
        if (!any)
            break;
        band.amount_ah.push_back(at);
        band.low_v.push_back(low);
        band.high_v.push_back(high);
    }
    return band;
}

} // namespace ingot
