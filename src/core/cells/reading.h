// Readings: what was measured, on what, with what and under which conditions. Immutable once recorded.
#pragma once

#include <optional>
#include <string>

namespace ingot {

enum class Quantity { voltage, dc_resistance, ac_resistance, capacity, self_discharge, temperature };
enum class Condition { rest, end_of_charge, load, stored };

[[nodiscard]] const char* code(Quantity quantity);
[[nodiscard]] const char* code(Condition condition);
[[nodiscard]] std::optional<Quantity> quantity_from(const std::string& code);
[[nodiscard]] std::optional<Condition> condition_from(const std::string& code);

// What cannot be added to a past reading later. Everything is optional: unknown stays unknown.
struct ReadingConditions {
    Condition condition = Condition::rest;
    std::optional<double> state_of_charge; // 0..1
    std::optional<double> temperature_c;
    std::optional<double> charge_current_a;    // positive
    std::optional<double> discharge_current_a; // positive
    std::optional<double> cutoff_v;
    std::optional<double> charged_to_v;
    std::optional<double> days_since_charge;
    friend bool operator==(const ReadingConditions&, const ReadingConditions&) = default;
};

// The unit of `value`: V, ohm, Ah, Ah per day, degC.
struct Reading {
    Quantity quantity = Quantity::voltage;
    double value = 0;
    std::optional<double> uncertainty; // k = 2, same unit
    std::string instrument;
    std::string protocol; // id and version, "typed" when read off an instrument by hand
    ReadingConditions conditions;
};

// Objects to a value that no cell of this kind can have (a decimal slip, a sign, mAh for Ah). `volts_limit_v`: the
// largest voltage the thing may show. Returns a sentence's code, or nothing when it can be believed.
enum class Disbelief { none, negative, too_high, too_low };
[[nodiscard]] Disbelief believe(Quantity quantity, double value, double volts_limit_v);

} // namespace ingot
