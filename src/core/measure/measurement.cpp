#include "core/measure/measurement.h"

#include <array>
#include <utility>

namespace ingot {

namespace {

constexpr std::array<std::pair<Quantity, const char*>, 10> quantities{{{Quantity::voltage, "voltage"},
                                                                       {Quantity::dc_resistance, "dc-resistance"},
                                                                       {Quantity::ac_resistance, "ac-resistance"},
                                                                       {Quantity::resistance, "resistance"},
                                                                       {Quantity::capacity, "capacity"},
                                                                       {Quantity::self_discharge, "self-discharge"},
                                                                       {Quantity::temperature, "temperature"},
                                                                       {Quantity::insulation, "insulation"},
                                                                       {Quantity::sensor, "sensor"},
                                                                       {Quantity::duration, "duration"}}};
constexpr std::array<std::pair<Condition, const char*>, 5> conditions{{{Condition::rest, "rest"},
                                                                       {Condition::end_of_charge, "end-of-charge"},
                                                                       {Condition::load, "load"},
                                                                       {Condition::charge, "charge"},
                                                                       {Condition::stored, "stored"}}};

template <class Table, class Key> const char* name_in(const Table& table, Key key) {
    for (const auto& [value, name] : table)
        if (value == key)
            return name;
    return "";
}

template <class Value, class Table> std::optional<Value> value_in(const Table& table, const std::string& code) {
    for (const auto& [value, name] : table)
        if (code == name)
            return value;
    return std::nullopt;
}

// Believable ranges for one unit, wide on purpose (common practice, no source): only slips of a decimal place, of a
// sign or of a unit fall outside.
struct Range {
    double low;
    double high;
};
Range range_of(Quantity quantity, double volts_limit_v) {
    switch (quantity) {
    case Quantity::voltage:
        return {-volts_limit_v, volts_limit_v};
    case Quantity::dc_resistance:
    case Quantity::ac_resistance:
    case Quantity::resistance:
        return {0.0002, 5.0};
    case Quantity::capacity:
        return {0.0, 400.0};
    case Quantity::self_discharge:
        return {-0.005, 5.0};
    case Quantity::temperature:
        return {-40.0, 120.0};
    case Quantity::insulation:
    case Quantity::sensor:
        return {0.0, 1e13};
    case Quantity::duration:
        return {0.0, 3.2e7}; // a year
    }
    return {0, 0};
}

} // namespace

const char* code(Quantity quantity) {
    return name_in(quantities, quantity);
}
const char* code(Condition condition) {
    return name_in(conditions, condition);
}
std::optional<Quantity> quantity_from(const std::string& code) {
    return value_in<Quantity>(quantities, code);
}
std::optional<Condition> condition_from(const std::string& code) {
    return value_in<Condition>(conditions, code);
}

Implausible check_plausible(Quantity quantity, double value, double volts_limit_v) {
    const auto [low, high] = range_of(quantity, volts_limit_v);
    if (value > high)
        return Implausible::too_high;
    if (value < low)
        return value < 0 && quantity != Quantity::temperature ? Implausible::negative : Implausible::too_low;
    return Implausible::none;
}

} // namespace ingot
