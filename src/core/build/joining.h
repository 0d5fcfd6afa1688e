// Before joining: what current flows when groups of unequal voltage are put in parallel or units are joined in a group.
#pragma once

#include "core/measure/facts.h"

#include <optional>
#include <span>
#include <vector>

namespace ingot {

// One unit (or group) about to be joined in parallel. V and ohm.
struct JoinMember {
    double voltage_v = 0;
    double resistance_ohm = 0; // must be positive
};

struct ParallelState {
    double voltage_v = 0;          // common voltage
    std::vector<double> current_a; // per member; positive = delivering, negative = being charged
};

// Members in parallel delivering `load_a` together (0: only equalising). Closed form:
// V = (sum E/R - I) / sum 1/R, I_i = (E_i - V)/R_i. Source: circuit theory; checked against a circuit simulator's
// result.
[[nodiscard]] ParallelState share_current(std::span<const JoinMember> members, double load_a = 0);

// Limits for joining directly; the usual ones are in data/practice.
struct JoinLimits {
    double good_v = 0;           // ideal difference
    double largest_v = 0;        // never above this directly
    double resistor_below_v = 0; // through a resistor up to here, above: charge each to the same voltage first
    double largest_share = 0;    // equalising current, multiple of the rated capacity per hour
};

enum class JoinAdvice { join, within_limit, through_resistor, bring_to_voltage, unknown };
[[nodiscard]] const char* code(JoinAdvice advice);

struct JoinCheck {
    std::optional<double> lowest_v;
    std::optional<double> highest_v;
    std::optional<double> difference_v;
    std::optional<double> largest_current_a; // largest magnitude over the members, no leads counted: worst case
    double current_limit_a = 0;
    std::size_t unknown = 0; // members without voltage or resistance
    std::size_t lapsed = 0;  // of these, voltages that were read before a run moved charge
    JoinAdvice advice = JoinAdvice::unknown;
};

struct JoinUnit {
    std::optional<Fact> voltage_v; // one that no longer holds counts as not read
    std::optional<Fact> resistance_ohm;
    double rated_ah = 0;
};

// A whole group's units about to be joined.
[[nodiscard]] JoinCheck check_joining(std::span<const JoinUnit> units, const JoinLimits& limits);

} // namespace ingot
