// Cycles of units that are being conditioned: `Unit ID,Cycle,Discharge Capacity / Ah[,Stop]`.
#pragma once

#include "core/cells/problem.h"
#include "core/measure/conditioning.h"

#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

struct CycledUnit {
    std::string unit;
    std::vector<ConditioningCycle> cycles; // in the file's order
};

// Units in the order in which they first appear. Stop: blank or `cutoff` is a full cycle, anything else names the limit
// that ended it early. Problems: a column is missing, a blank unit or capacity, a cycle that is no whole number from 0,
// a cycle that stands twice, a negative capacity.
[[nodiscard]] Result<std::vector<CycledUnit>> read_cycles(std::string_view text, const std::string& file);

} // namespace ingot::exchange
