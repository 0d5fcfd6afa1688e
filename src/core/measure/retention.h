// The retention test: charge, let it rest for weeks, discharge, charge and discharge again. The way to find a leak
// where voltage says little of charge (nickel, LFP). See docs/methods/self-discharge.md.
#pragma once

#include "core/measure/self_discharge.h"

#include <optional>

namespace ingot {

// Charge that a discharge gave, with what its measurement leaves open (k = 2). Ah.
struct MeasuredCharge {
    double ah = 0;
    double uncertainty_ah = 0;
};

// So many days stand between charge and discharge (IEC 61960-3 and 61951-2: 28 days, from memory).
inline constexpr double retention_days = 28;

struct RetentionResult {
    LeakVerdict verdict = LeakVerdict::undecided;
    double ah_per_day = 0, low_ah_per_day = 0, high_ah_per_day = 0; // 95 %
    std::optional<Retention> shares;                                // once it was recharged and discharged again
};

// What is missing after so many days is what leaked; with `recharged`, what is gone for good is no leak. Held against
// what the duty lets it lose. Throws std::invalid_argument unless days, capacity before and limit are positive.
[[nodiscard]] RetentionResult judge_retention(const MeasuredCharge& before, const MeasuredCharge& stored,
                                              const std::optional<MeasuredCharge>& recharged, double days,
                                              double limit_ah_per_day);

// The most that a unit may have fallen which still reads `now_v` so many days after it was charged: it stood at the
// charge limit at best. V per day; a unit that falls slower than a limit by this is sound without a first reading.
[[nodiscard]] double largest_fall(double charged_to_v, double now_v, double meter_v, double days);

} // namespace ingot
