// What is said of units in store.
#pragma once

#include "workshop/stock.h"

#include <QString>

namespace ingot::wording {

[[nodiscard]] QString care(Care care);
// Why, and what to do.
[[nodiscard]] QString care_reason(const Workshop& workshop, const StockLine& line);

} // namespace ingot::wording
