#include "core/measure/protocol.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double over_limit_v = 0.05;       // IEC 62133-2: 4.25 V is the upper limit for a 4.20 V cell (from memory)
constexpr double nickel_fault_v = 1.60;     // per cell at 0.5 It or less (common practice, no source)
constexpr double nickel_module_high_c = 55; // handbooks, from memory
constexpr double lithium_charge_high_c = 45;
constexpr double discharge_high_c = 60;
constexpr double current_margin = 1.1;
constexpr int most_times = 50;
constexpr int most_steps = 10'000;
constexpr double cv_tail_h = 0.35; // what a constant-voltage tail adds (common practice, no source)
constexpr double pulse_h = 11.0 / 3600;

double amperes(const ProtocolStep& step, double rated_ah) {
    return step.current_a.value_or(step.current_it.value_or(0) * rated_ah);
}

bool ends(const ProtocolStep& step) {
    switch (step.kind) {
    case ProtocolStepKind::charge:
        return step.hours || step.capacity_share || step.minus_dv || step.rise_k_per_min ||
               (step.volts && step.tail_it);
    case ProtocolStepKind::discharge:
        return step.volts || step.hours || step.capacity_share;
    case ProtocolStepKind::rest:
        return step.hours.has_value();
    case ProtocolStepKind::pulse:
    case ProtocolStepKind::loop:
        return true;
    }
    return false;
}

double hours_of(const ProtocolStep& step, double capacity_ah, double rated_ah) {
    const double a = amperes(step, rated_ah);
    const double most = step.hours.value_or(1e9);
    switch (step.kind) {
    case ProtocolStepKind::charge: {
        // What was taken out goes in again, and a little more; by the clock where there is no other end.
        constexpr double extra = 1.05;
        const bool by_clock =
            step.hours && !step.volts && !step.minus_dv && !step.capacity_share && !step.rise_k_per_min;
        if (by_clock || a <= 0)
            return std::min(most, 1e6);
        double ah = extra * capacity_ah;
        if (step.capacity_share)
            ah = std::min(ah, *step.capacity_share * rated_ah);
        return std::min(most, ah / a + (step.tail_it ? cv_tail_h : 0));
    }
    case ProtocolStepKind::discharge: {
        if (a <= 0)
            return std::min(most, 1e6);
        double ah = capacity_ah;
        if (step.capacity_share)
            ah = std::min(ah, *step.capacity_share * rated_ah);
        return std::min(most, ah / a);
    }
    case ProtocolStepKind::rest:
        return step.hours.value_or(0);
    case ProtocolStepKind::pulse:
        return pulse_h;
    case ProtocolStepKind::loop:
        break;
    }
    return 0;
}

} // namespace

const char* code(ProtocolStepKind kind) {
    switch (kind) {
    case ProtocolStepKind::charge:
        return "charge";
    case ProtocolStepKind::rest:
        return "rest";
    case ProtocolStepKind::discharge:
        return "discharge";
    case ProtocolStepKind::pulse:
        return "pulse";
    case ProtocolStepKind::loop:
        break;
    }
    return "loop";
}

const char* code(ProtocolFault fault) {
    switch (fault) {
    case ProtocolFault::no_step:
        return "no-step";
    case ProtocolFault::wrong_chemistry:
        return "wrong-chemistry";
    case ProtocolFault::over_voltage:
        return "over-voltage";
    case ProtocolFault::under_floor:
        return "under-floor";
    case ProtocolFault::too_much_current:
        return "too-much-current";
    case ProtocolFault::endless_step:
        return "endless-step";
    case ProtocolFault::endless_loop:
        return "endless-loop";
    case ProtocolFault::no_end_for_nickel:
        return "no-end-for-nickel";
    case ProtocolFault::charges_frozen:
        return "charges-frozen";
    case ProtocolFault::charges_deep:
        return "charges-deep";
    case ProtocolFault::too_hot:
        return "too-hot";
    case ProtocolFault::beyond_instrument:
        return "beyond-instrument";
    case ProtocolFault::nothing_there:
        return "nothing-there";
    case ProtocolFault::reversed:
        return "reversed";
    case ProtocolFault::overfull:
        return "overfull";
    case ProtocolFault::another_unit:
        return "another-unit";
    case ProtocolFault::no_rating:
        break;
    }
    return "no-rating";
}

bool Protocol::suits(const std::string& chemistry) const {
    return std::find(chemistries.begin(), chemistries.end(), chemistry) != chemistries.end();
}

bool Protocol::charges() const {
    return std::any_of(steps.begin(), steps.end(),
                       [](const ProtocolStep& s) { return s.kind == ProtocolStepKind::charge; });
}

bool Protocol::empties_first() const {
    const auto first = std::find_if(steps.begin(), steps.end(), [](const ProtocolStep& s) {
        return s.kind == ProtocolStepKind::charge || s.kind == ProtocolStepKind::discharge;
    });
    return first != steps.end() && first->kind == ProtocolStepKind::discharge && charges();
}

BayStep resolve(const ProtocolStep& step, const BayUnit& unit) {
    BayStep out;
    out.kind = step.kind;
    const double sign = step.kind == ProtocolStepKind::charge ? 1 : -1;
    const double a = amperes(step, unit.rated_ah);
    out.current_a = a > 0 ? sign * a : 0;
    if (step.second_it)
        out.second_a = -*step.second_it * unit.rated_ah;
    if (step.volts)
        out.volts = *step.volts * unit.cells;
    if (step.tail_it)
        out.tail_a = *step.tail_it * unit.rated_ah;
    if (step.minus_dv)
        out.minus_dv = *step.minus_dv * unit.cells;
    out.rise_k_per_min = step.rise_k_per_min;
    if (step.capacity_share)
        out.capacity_ah = *step.capacity_share * unit.rated_ah;
    out.hours = step.hours;
    return out;
}

namespace {

std::optional<double> charge_limit_of(const BayUnit& unit, const Chemistry& chemistry) {
    if (!chemistry.charge_limit_v || !unit.charge_limit_v)
        return chemistry.charge_limit_v;
    return std::min(*chemistry.charge_limit_v, *unit.charge_limit_v);
}

} // namespace

BayLimits limits_for(const Protocol& protocol, const ProtocolStep& step, const BayUnit& unit,
                     const Chemistry& chemistry) {
    const ProtocolLimits& wanted = protocol.limits;
    const bool charging = step.kind == ProtocolStepKind::charge;
    BayLimits out;
    const auto limit_v = charge_limit_of(unit, chemistry);
    const double usual_high = limit_v ? *limit_v + over_limit_v : nickel_fault_v;
    out.high_v = std::min(wanted.high_v.value_or(usual_high), usual_high) * unit.cells;
    // A charge may begin from a flat nickel unit, and the slow recovery from a deep lithium one; nothing is charged the
    // wrong way round. A discharge never goes under the floor.
    const bool from_flat = charging && (!chemistry.lithium || protocol.recovers_deep);
    out.low_v = from_flat ? 0 : std::max(0.0, charging ? chemistry.floor_v : wanted.low_v.value_or(chemistry.floor_v));
    out.low_v *= unit.cells;
    const double a = std::max(amperes(step, unit.rated_ah), step.second_it.value_or(0) * unit.rated_ah);
    constexpr double least_a = 0.05;
    out.current_a = std::max(least_a, a * current_margin);
    out.capacity_ah = wanted.capacity_share * unit.rated_ah;
    if (step.hours && !step.volts) // by the clock, more than the rating goes in
        out.capacity_ah = std::max(out.capacity_ah, 1.1 * a * *step.hours);
    out.high_c = charging ? wanted.charge_high_c : wanted.discharge_high_c;
    out.low_c = charging ? std::max(0.0, wanted.low_c) : -20;
    out.hours = wanted.hours;
    return out;
}

namespace {

constexpr double nothing_there_v = 0.05;
// A unit that rested drifts by millivolts and a meter errs by a few; more is another unit, or it was used meanwhile
// (common practice, no source).
constexpr double same_unit_v = 0.15; // per cell

// What stands in the bay, or stood there when it was last read, against what the protocol would do to it.
std::vector<ProtocolObjection> check_standing(const Protocol& protocol, const BayUnit& unit,
                                              const Chemistry& chemistry) {
    const int cells = std::max(1, unit.cells);
    if (unit.found_v) {
        const double per_cell = *unit.found_v / cells;
        if (*unit.found_v < -nothing_there_v)
            return {{ProtocolFault::reversed, -1, *unit.found_v, 0}};
        if (*unit.found_v < nothing_there_v)
            return {{ProtocolFault::nothing_there, -1, *unit.found_v, 0}};
        if (chemistry.charge_limit_v && per_cell > *chemistry.charge_limit_v + over_limit_v)
            return {{ProtocolFault::overfull, -1, per_cell, *chemistry.charge_limit_v + over_limit_v}};
        if (unit.rested_v && std::fabs(per_cell - *unit.rested_v / cells) > same_unit_v)
            return {{ProtocolFault::another_unit, -1, *unit.found_v, *unit.rested_v}};
    }
    const std::optional<double> stands_at = unit.found_v ? unit.found_v : unit.rested_v;
    if (protocol.charges() && stands_at && !protocol.recovers_deep && chemistry.lithium &&
        *stands_at / cells < chemistry.floor_v)
        return {{ProtocolFault::charges_deep, -1, *stands_at / cells, chemistry.floor_v}};
    return {};
}

} // namespace

std::vector<ProtocolObjection> check_protocol(const Protocol& protocol, const BayUnit& unit, const Chemistry& chemistry,
                                              const BayAbilities& abilities, std::optional<double> room_c) {
    std::vector<ProtocolObjection> out;
    const auto object = [&](ProtocolFault fault, int step = -1, double value = 0, double limit = 0) {
        out.push_back({fault, step, value, limit});
    };
    if (protocol.steps.empty())
        object(ProtocolFault::no_step);
    if (!protocol.suits(chemistry.id))
        object(ProtocolFault::wrong_chemistry);
    if (!(unit.rated_ah > 0))
        object(ProtocolFault::no_rating);
    for (const ProtocolObjection& objection : check_standing(protocol, unit, chemistry))
        out.push_back(objection);
    if (protocol.charges() && protocol.limits.low_c < 0)
        object(ProtocolFault::charges_frozen, -1, protocol.limits.low_c, 0);
    if (protocol.charges() && room_c && *room_c < std::max(0.0, protocol.limits.low_c))
        object(ProtocolFault::charges_frozen, -1, *room_c, std::max(0.0, protocol.limits.low_c));
    const double hot_charge = chemistry.lithium ? lithium_charge_high_c : nickel_module_high_c;
    if (protocol.charges() && protocol.limits.charge_high_c > hot_charge)
        object(ProtocolFault::too_hot, -1, protocol.limits.charge_high_c, hot_charge);
    if (protocol.limits.discharge_high_c > discharge_high_c)
        object(ProtocolFault::too_hot, -1, protocol.limits.discharge_high_c, discharge_high_c);
    if (protocol.limits.high_v && chemistry.charge_limit_v &&
        *protocol.limits.high_v > *chemistry.charge_limit_v + over_limit_v + 1e-9)
        object(ProtocolFault::over_voltage, -1, *protocol.limits.high_v, *chemistry.charge_limit_v + over_limit_v);
    if (protocol.limits.low_v && *protocol.limits.low_v < chemistry.floor_v - 1e-9)
        object(ProtocolFault::under_floor, -1, *protocol.limits.low_v, chemistry.floor_v);
    for (std::size_t i = 0; i < protocol.steps.size(); ++i) {
        const ProtocolStep& step = protocol.steps[i];
        const int at = static_cast<int>(i);
        const double a = std::max(amperes(step, unit.rated_ah), step.second_it.value_or(0) * unit.rated_ah);
        if (step.kind == ProtocolStepKind::loop) {
            if (step.back_to < 0 || step.back_to >= at || step.times < 1 || step.times > most_times)
                object(ProtocolFault::endless_loop, at, step.times, most_times);
            continue;
        }
        if (!ends(step))
            object(chemistry.lithium || step.kind != ProtocolStepKind::charge ? ProtocolFault::endless_step
                                                                              : ProtocolFault::no_end_for_nickel,
                   at);
        if (step.kind != ProtocolStepKind::rest && !(a > 0))
            object(ProtocolFault::endless_step, at);
        if (step.kind == ProtocolStepKind::charge) {
            if (const auto limit_v = charge_limit_of(unit, chemistry);
                limit_v && (!step.volts || *step.volts > *limit_v + 1e-9))
                object(ProtocolFault::over_voltage, at, step.volts.value_or(0), *limit_v);
            if (!chemistry.charge_limit_v && step.volts && *step.volts > nickel_fault_v)
                object(ProtocolFault::over_voltage, at, *step.volts, nickel_fault_v);
        }
        if (step.kind == ProtocolStepKind::discharge && step.volts && *step.volts < chemistry.floor_v - 1e-9)
            object(ProtocolFault::under_floor, at, *step.volts, chemistry.floor_v);
        const double bears_a =
            step.kind == ProtocolStepKind::charge && unit.charge_a > 0 ? unit.charge_a : unit.continuous_a;
        if (bears_a > 0 && a > bears_a * (1 + 1e-9))
            object(ProtocolFault::too_much_current, at, a, bears_a);
        if (a > abilities.most_a)
            object(ProtocolFault::beyond_instrument, at, a, abilities.most_a);
        if (step.minus_dv && !abilities.minus_dv)
            object(ProtocolFault::beyond_instrument, at);
        const double volts = limits_for(protocol, step, unit, chemistry).high_v;
        if (volts > abilities.most_v)
            object(ProtocolFault::beyond_instrument, at, volts, abilities.most_v);
    }
    return out;
}

double predicted_hours(const Protocol& protocol, const BayUnit& unit) {
    const double capacity_ah = unit.capacity_ah.value_or(unit.rated_ah);
    double hours = 0;
    auto position = std::optional<RunPosition>(first_position(protocol));
    for (int n = 0; position && n < most_steps; ++n) {
        hours += hours_of(protocol.steps[static_cast<std::size_t>(position->step)], capacity_ah, unit.rated_ah);
        position = next_position(protocol, *position);
    }
    return hours;
}

double largest_charge_a(const Protocol& protocol, const BayUnit& unit) {
    double largest = 0;
    for (const ProtocolStep& step : protocol.steps)
        if (step.kind == ProtocolStepKind::charge)
            largest = std::max(largest, amperes(step, unit.rated_ah));
    return largest;
}

RunPosition first_position(const Protocol& protocol) {
    return {0, std::vector<int>(protocol.steps.size(), 0)};
}

std::optional<RunPosition> next_position(const Protocol& protocol, RunPosition position) {
    position.runs.resize(protocol.steps.size(), 0);
    ++position.step;
    for (int hops = 0; hops < most_steps; ++hops) {
        if (position.step >= static_cast<int>(protocol.steps.size()))
            return std::nullopt;
        const auto at = static_cast<std::size_t>(position.step);
        const ProtocolStep& step = protocol.steps[at];
        if (step.kind != ProtocolStepKind::loop)
            return position;
        if (++position.runs[at] < step.times && step.back_to >= 0 && step.back_to < position.step) {
            // What lies inside counts anew.
            std::fill(position.runs.begin() + step.back_to, position.runs.begin() + position.step, 0);
            position.step = step.back_to;
        } else {
            ++position.step;
        }
    }
    return std::nullopt;
}

int steps_in_all(const Protocol& protocol) {
    if (protocol.steps.empty())
        return 0;
    int count = 0;
    auto position = std::optional<RunPosition>(first_position(protocol));
    while (position && count < most_steps) {
        ++count;
        position = next_position(protocol, *position);
    }
    return count;
}

int steps_done(const Protocol& protocol, const RunPosition& position) {
    int count = 0;
    auto here = std::optional<RunPosition>(first_position(protocol));
    while (here && count < most_steps && (here->step != position.step || here->runs != position.runs)) {
        ++count;
        here = next_position(protocol, *here);
    }
    return count;
}

} // namespace ingot
