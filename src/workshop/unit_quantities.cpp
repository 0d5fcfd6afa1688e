#include "workshop/unit_quantities.h"

#include "workshop/translated.h"

namespace ingot {

namespace {

std::optional<double> times(const std::optional<Fact>& fact, double factor) {
    return fact ? std::optional(fact->value * factor) : std::nullopt;
}

std::optional<double> multiple_of_new(const UnitState& unit) {
    if (unit.facts.dc_resistance_ohm && unit.reference.new_dc_resistance_ohm)
        return unit.facts.dc_resistance_ohm->value / *unit.reference.new_dc_resistance_ohm;
    if (unit.facts.ac_resistance_ohm && unit.reference.new_ac_resistance_ohm)
        return unit.facts.ac_resistance_ohm->value / *unit.reference.new_ac_resistance_ohm;
    return std::nullopt;
}

} // namespace

std::optional<double> value_of(const UnitState& unit, UnitQuantity quantity) {
    constexpr double milli = 1000;
    constexpr double percent = 100;
    switch (quantity) {
    case UnitQuantity::capacity:
        return times(unit.facts.capacity_ah, 1);
    case UnitQuantity::dc_resistance:
        return times(unit.facts.dc_resistance_ohm, milli);
    case UnitQuantity::ac_resistance:
        return times(unit.facts.ac_resistance_ohm, milli);
    case UnitQuantity::self_discharge:
        return times(unit.facts.self_discharge_ah_per_day, milli);
    case UnitQuantity::rest_voltage:
        return times(unit.facts.fresh_voltage_v(), 1);
    case UnitQuantity::capacity_share:
        return unit.reference.rated_ah > 0 ? times(unit.facts.capacity_ah, percent / unit.reference.rated_ah)
                                           : std::nullopt;
    case UnitQuantity::resistance_multiple:
        return multiple_of_new(unit);
    case UnitQuantity::age:
        return unit.facts.age_years;
    case UnitQuantity::temperature_rise:
        return times(unit.facts.rise_k, 1);
    }
    return std::nullopt;
}

namespace wording {

QString quantity(UnitQuantity quantity) {
    switch (quantity) {
    case UnitQuantity::capacity:
        return tr("capacity");
    case UnitQuantity::dc_resistance:
        return tr("DC resistance");
    case UnitQuantity::ac_resistance:
        return tr("AC resistance");
    case UnitQuantity::self_discharge:
        return tr("self-discharge");
    case UnitQuantity::rest_voltage:
        return tr("voltage at rest");
    case UnitQuantity::capacity_share:
        return tr("share of rated capacity");
    case UnitQuantity::resistance_multiple:
        return tr("times the new resistance");
    case UnitQuantity::age:
        return tr("age");
    case UnitQuantity::temperature_rise:
        return tr("temperature rise");
    }
    return {};
}

QString quantity_unit(UnitQuantity quantity) {
    switch (quantity) {
    case UnitQuantity::capacity:
        return tr("Ah");
    case UnitQuantity::dc_resistance:
    case UnitQuantity::ac_resistance:
        return QStringLiteral("m\u03A9");
    case UnitQuantity::self_discharge:
        return tr("mAh/day");
    case UnitQuantity::rest_voltage:
        return tr("V");
    case UnitQuantity::capacity_share:
        return QStringLiteral("%");
    case UnitQuantity::resistance_multiple:
        return QStringLiteral("\u00D7");
    case UnitQuantity::age:
        return tr("years");
    case UnitQuantity::temperature_rise:
        return tr("K");
    }
    return {};
}

} // namespace wording

} // namespace ingot
