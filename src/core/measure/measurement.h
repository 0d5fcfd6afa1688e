// Measurements: what an instrument or a person said, once: of what, what, how, under which conditions, when. Immutable;
// what turned out wrong is struck out with a reason. Facts (facts.h) are read off a history of measurements.
#pragma once

#include "core/cells/id.h"

#include <optional>
#include <string>

namespace ingot {

// `resistance`: by a method that the instrument does not say. It is held against its like only. `insulation`: from a
// conductor of a pack to what a hand or the case can touch; `sensor`: of a pack's own temperature sensor; `duration`:
// how long a pack ran, or was given to wake its device.
enum class Quantity {
    voltage,
    dc_resistance,
    ac_resistance,
    resistance,
    capacity,
    self_discharge,
    temperature,
    insulation,
    sensor,
    duration
};
enum class Condition { rest, end_of_charge, load, charge, stored };

[[nodiscard]] const char* code(Quantity quantity);
[[nodiscard]] const char* code(Condition condition);
[[nodiscard]] std::optional<Quantity> quantity_from(const std::string& code);
[[nodiscard]] std::optional<Condition> condition_from(const std::string& code);

// What was measured: a unit, or a place in an assembly (a pack that came in, or one that is built).
struct Subject {
    Id unit = 0;
    Id assembly = 0; // with `group` and `place`; never together with `unit`
    int group = 0;   // from 1; 0: the terminals
    int place = 0;   // a unit's place in the group, from 1; 0: the whole group. Of the terminals: 0 at the cells; of a
                     // voltage 1 behind the board, of an insulation 1 from plus, 2 from minus
    friend bool operator==(const Subject&, const Subject&) = default;
};

// What cannot be added later. Everything is optional: unknown stays unknown.
struct Conditions {
    Condition condition = Condition::rest;
    std::optional<double> state_of_charge; // 0..1
    std::optional<double> temperature_c;
    std::optional<double> charge_current_a;    // positive
    std::optional<double> discharge_current_a; // positive
    std::optional<double> cutoff_v;
    std::optional<double> charged_to_v;
    std::optional<double> days_since_charge; // of a stored reading: since the one at rest
    friend bool operator==(const Conditions&, const Conditions&) = default;
};

// The unit of `value`: V, ohm, Ah, Ah per day, degC, s.
struct Measurement {
    Id id = 0;
    Subject subject;
    Quantity quantity = Quantity::voltage;
    double value = 0;
    std::optional<double> resolution;  // of the last written digit, same unit
    std::optional<double> uncertainty; // k = 2, same unit
    std::string instrument;            // its name; see Instrument
    std::string protocol;              // id and version; "typed" when read off an instrument by hand
    Conditions conditions;
    Id round = 0;     // siblings that were read together
    Id run = 0;       // the run that it was concluded from
    std::string tray; // where the unit stood
    int well = 0;
    std::optional<int> model_version; // what it was judged under when it was taken
    std::string rule_set;
    std::string taken_at, recorded_at; // ISO 8601, UTC
    std::string struck_reason;         // empty: it stands
};

// What is known of an instrument. Errors are k = 2; unknown ones are not filled in.
struct Instrument {
    Id id = 0;
    std::string name;
    std::string kind; // meter, tester, charger, board, …
    int channels = 1;
    std::optional<double> volts_resolution, amperes_resolution;
    std::optional<double> current_gain;     // fraction of the reading
    std::optional<double> current_offset_a; // A
    std::string checked_at;                 // the last time it was held against another; empty: never
};

// Siblings that were read together: what they share is the room and the meter.
struct Round {
    Id id = 0;
    Id assembly = 0; // the pack whose groups were read; 0: units on a shelf
    Condition condition = Condition::rest;
    std::optional<double> room_c;
    std::string instrument;
    std::string begun_at;
};

// The plausibility check of one figure: objects to a value that no cell can have (a decimal slip, a sign, mAh for Ah).
// `volts_limit_v`: the largest voltage the thing may show.
enum class Implausible { none, negative, too_high, too_low };
[[nodiscard]] Implausible check_plausible(Quantity quantity, double value, double volts_limit_v);

} // namespace ingot
