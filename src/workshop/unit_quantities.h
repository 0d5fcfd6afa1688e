// The quantities by which units are looked at against each other.
#pragma once

#include "workshop/inventory.h"

#include <QString>

#include <optional>

namespace ingot {

enum class UnitQuantity {
    capacity,
    dc_resistance,
    ac_resistance,
    self_discharge,
    rest_voltage,
    capacity_share,
    resistance_multiple,
    age,
    temperature_rise
};
inline constexpr int unit_quantity_count = 9;

// In the unit in which it is shown: Ah, milliohm, mAh a day, V, % of rated, times new, years, K. Nothing where the unit
// does not know it.
[[nodiscard]] std::optional<double> value_of(const UnitState& unit, UnitQuantity quantity);

namespace wording {
[[nodiscard]] QString quantity(UnitQuantity quantity);
[[nodiscard]] QString quantity_unit(UnitQuantity quantity);
} // namespace wording

} // namespace ingot
