// Is a unit leaking? From voltages read while it rests, among the units that rest beside it: drift apart from
// relaxation and from the room, with its interval, held against a limit. See docs/methods/self-discharge.md.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/wanted.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct RestReading {
    double time_h = 0; // on any axis that all units share
    double voltage_v = 0;
};

struct RestingUnit {
    std::string id;
    std::vector<RestReading> readings; // any order
    std::optional<double> capacity_ah;
    int cells_in_series = 1;
};

enum class LeakVerdict { fit, leaking, undecided };
[[nodiscard]] const char* code(LeakVerdict verdict);

struct LeakRules {
    double limit_v_per_day = 0;  // > 0: a unit that falls faster leaks
    double resolution_v = 0.001; // of the meter: one step of its last digit
};

// Falling is positive. Intervals are 95 %.
struct LeakResult {
    LeakVerdict verdict = LeakVerdict::undecided;
    std::optional<double> v_per_day; // nothing from a single reading
    std::optional<double> low_v_per_day, high_v_per_day;
    std::optional<double> ah_per_day;     // nothing without capacity, or where voltage tells no charge
    std::optional<double> next_reading_h; // when a further reading is expected to decide; nothing when decided
    std::vector<RestReading> own;         // its course without what all share, from its first reading on; V
    double leaks_more_since_h = 0; // the time from which it falls faster, where a late start explains more; 0: no
};

// What is common to at least this many siblings is told apart from what is a unit's own.
inline constexpr std::size_t siblings_needed = 4;

// One result for each unit. Units of unlike make-up are judged better in a call of their own. Throws
// std::invalid_argument without a positive limit and resolution. When it is no longer wanted, what it returns is not to
// be used.
[[nodiscard]] std::vector<LeakResult> judge_leaks(const std::vector<RestingUnit>& units, const Chemistry& chemistry,
                                                  const LeakRules& rules, const Wanted& wanted = {});

// Ah a day behind a drift at that voltage: nothing where the curve rises by less than 1 mV for 1 % of charge.
[[nodiscard]] std::optional<double> leak_ah_per_day(const Chemistry& chemistry, double voltage_v, int cells_in_series,
                                                    double v_per_day, double capacity_ah);

// What is left after four weeks: the standard's retention and recovery test.
struct Retention {
    double retention = 0;       // discharged after storing / capacity before
    double recovery = 0;        // capacity after a recharge / capacity before
    double lost_for_good = 0;   // 1 - recovery
    double self_discharged = 0; // recovery - retention: comes back with a charge
};
// Ah. IEC 61960-3 and 61951-2 (from memory). Throws std::invalid_argument unless the first is positive.
[[nodiscard]] Retention retention(double before_ah, double stored_ah, double recharged_ah);

} // namespace ingot
