// What the units of one group are together.
#pragma once

#include "core/prove/proof.h"

#include <optional>
#include <span>

namespace ingot {

// Ah of all of them; nothing as long as one was not measured, or where there are none.
[[nodiscard]] std::optional<double> group_capacity_ah(std::span<const ProvenUnit> units);

// The voltage, of units that were read under load, of those that carry: the middle of them. Of two the lower, for a
// joint's drop adds to the can; unless it stands so low that no sag explains it, then it missed the charge. Two at
// least.
[[nodiscard]] double carrying_v(std::span<const double> volts, int cells_per_unit);

} // namespace ingot
