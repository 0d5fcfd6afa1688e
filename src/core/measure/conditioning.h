// Keep cycling or stop: where a unit's capacity settles as it is cycled, and whether it will ever reach the bar.
//
// Model: C(n) = L - (L - C1) e^(-k (n - 1)) + noise, with, where the cycles show it, a second climb that begins after a
// stand-still; and a doubt that a unit which stands still may climb again, which fades with every further cycle that
// brings nothing. Sources: the exponential is common practice, no source; priors and doubt are Ingot's own and stand in
// docs/methods/conditioning.md with what they were measured at.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct ConditioningCycle {
    int number = 0;         // as counted by the tester; rising
    double capacity_ah = 0; // discharged, not negative
    bool full = true;       // false: a limit (time, capacity, temperature) ended it early, or it ran hot
    friend bool operator==(const ConditioningCycle&, const ConditioningCycle&) = default;
};

struct ConditioningRules {
    double bar_ah = 0;                // at least this is wanted
    std::optional<double> rated_ah;   // not known: estimated from the bar
    double give_up_below = 0.05;      // probability of ever reaching the bar under which the unit is replaced
    int most_cycles_at_a_time = 5;    // longest run that is proposed
    double rule_of_thumb_gain = 0.01; // "three cycles without a gain of 1 %"
};

enum class ConditioningVerdict { fit, replace, keep_cycling };
[[nodiscard]] const char* code(ConditioningVerdict verdict);

enum class ConditioningReason {
    no_cycle,          // nothing to judge by
    at_the_bar,        // the last full cycle reaches the bar and does not fall
    by_chance,         // the last reached it, but the others say that it was the meter's noise
    falls,             // capacity falls from cycle to cycle
    may_fall,          // the last cycle lost much: one more will tell
    too_far,           // it levels under the bar
    climbs,            // still on its way
    stood_still_doubt, // levelled under the bar, but not for long enough to give it up
    last_cut_short,    // a limit ended the last cycle: it says little
};
[[nodiscard]] const char* code(ConditioningReason reason);

struct FittedPoint {
    double cycle = 0;
    double capacity_ah = 0, low_ah = 0, high_ah = 0; // 95 %
};

struct ConditioningResult {
    ConditioningVerdict verdict = ConditioningVerdict::keep_cycling;
    ConditioningReason reason = ConditioningReason::no_cycle;
    std::optional<double> level_ah, level_low_ah, level_high_ah; // where it settles, 95 %
    double pass_probability = 0;                                 // that it ever reaches the bar
    double pass_within_3 = 0, pass_within_5 = 0;                 // within so many further cycles
    int cycles_to_run = 0;                                       // 0 when decided
    double noise_ah = 0;                                         // of one cycle, standard deviation
    ConditioningVerdict rule_of_thumb = ConditioningVerdict::keep_cycling;
    std::vector<double> weight; // of each cycle, 0 to 1
    std::vector<FittedPoint> curve;
};

// Cycles in any order; cycles with the same number count both. Deterministic, no state.
[[nodiscard]] ConditioningResult judge_conditioning(std::vector<ConditioningCycle> cycles,
                                                    const ConditioningRules& rules);

} // namespace ingot
