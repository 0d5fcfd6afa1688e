#include "core/measure/retention.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace ingot {

RetentionResult judge_retention(const MeasuredCharge& before, const MeasuredCharge& stored,
                                const std::optional<MeasuredCharge>& recharged, double days, double limit_ah_per_day) {
    if (!(days > 0) || !(before.ah > 0) || !(limit_ah_per_day > 0))
        throw std::invalid_argument("a retention test needs days, a capacity before and a limit");
    const MeasuredCharge& whole = recharged ? *recharged : before;
    const double half = std::hypot(whole.uncertainty_ah, stored.uncertainty_ah) / days;
    RetentionResult out;
    out.ah_per_day = (whole.ah - stored.ah) / days;
    out.low_ah_per_day = out.ah_per_day - half;
    out.high_ah_per_day = out.ah_per_day + half;
    if (out.high_ah_per_day <= limit_ah_per_day)
        out.verdict = LeakVerdict::fit;
    else if (out.low_ah_per_day > limit_ah_per_day)
        out.verdict = LeakVerdict::leaking;
    if (recharged)
        out.shares = retention(before.ah, stored.ah, recharged->ah);
    return out;
}

double largest_fall(double charged_to_v, double now_v, double meter_v, double days) {
    if (!(days > 0))
        throw std::invalid_argument("a fall needs days");
    return std::max(0.0, charged_to_v - now_v + meter_v) / days;
}

} // namespace ingot
