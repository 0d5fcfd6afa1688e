#include "core/build/joining.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ingot {

const char* code(JoinAdvice advice) {
    switch (advice) {
    case JoinAdvice::join:
        return "join";
    case JoinAdvice::within_limit:
        return "within-limit";
    case JoinAdvice::through_resistor:
        return "through-resistor";
    case JoinAdvice::bring_to_voltage:
        return "bring-to-voltage";
    case JoinAdvice::unknown:
        return "unknown";
    }
    return "";
}

ParallelState share_current(std::span<const JoinMember> members, double load_a) {
    double conductance = 0;
    double driven = 0;
    for (const JoinMember& member : members) {
        conductance += 1 / member.resistance_ohm;
        driven += member.voltage_v / member.resistance_ohm;
    }
    ParallelState state;
    state.voltage_v = (driven - load_a) / conductance;
    for (const JoinMember& member : members)
        state.current_a.push_back((member.voltage_v - state.voltage_v) / member.resistance_ohm);
    return state;
}

JoinCheck check_joining(std::span<const JoinUnit> units, const JoinLimits& limits) {
    JoinCheck check;
    std::vector<JoinMember> members;
    double smallest_rated = std::numeric_limits<double>::infinity();
    for (const JoinUnit& unit : units) {
        if (unit.rated_ah > 0)
            smallest_rated = std::min(smallest_rated, unit.rated_ah);
        const bool holds = unit.voltage_v && unit.voltage_v->holds();
        check.lapsed += unit.voltage_v && !holds ? 1 : 0;
        if (holds) {
            check.lowest_v = std::min(check.lowest_v.value_or(unit.voltage_v->value), unit.voltage_v->value);
            check.highest_v = std::max(check.highest_v.value_or(unit.voltage_v->value), unit.voltage_v->value);
        }
        if (holds && unit.resistance_ohm && *unit.resistance_ohm > 0)
            members.push_back({*unit.voltage_v, *unit.resistance_ohm});
        else
            ++check.unknown;
    }
    if (std::isfinite(smallest_rated))
        check.current_limit_a = limits.largest_share * smallest_rated;
    if (!check.lowest_v)
        return check;
    check.difference_v = *check.highest_v - *check.lowest_v;
    if (!members.empty()) {
        double largest = 0;
        for (const double i : share_current(members).current_a)
            largest = std::max(largest, std::fabs(i));
        check.largest_current_a = largest;
    }
    constexpr double meter_digit = 1e-9; // so that a difference of exactly 10 mV counts as 10 mV
    const double difference = *check.difference_v - meter_digit;
    const bool current_fits =
        check.largest_current_a && check.current_limit_a > 0 && *check.largest_current_a <= check.current_limit_a;
    if (difference > limits.resistor_below_v)
        check.advice = JoinAdvice::bring_to_voltage;
    else if (difference > limits.largest_v)
        check.advice = JoinAdvice::through_resistor;
    else if (check.unknown > 0)
        check.advice = JoinAdvice::unknown;
    else if (!current_fits)
        check.advice = JoinAdvice::through_resistor;
    else
        check.advice = difference > limits.good_v ? JoinAdvice::within_limit : JoinAdvice::join;
    return check;
}

} // namespace ingot
