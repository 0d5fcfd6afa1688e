// Voltages of resting units, as CSV: `Cell ID,Time / h,Voltage / V[,Capacity / Ah,Model]`.
#pragma once

#include "core/cells/problem.h"
#include "core/measure/self_discharge.h"

#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

struct RestFile {
    struct Unit {
        RestingUnit unit;
        std::string model;
    };
    std::vector<Unit> units; // in the order in which they first appear
    bool last_line_dropped = false;
};

// Problems: a column or a value is missing, a unit is read twice at one time, two capacities of one unit.
[[nodiscard]] Result<RestFile> read_rest(std::string_view text, const std::string& file);

} // namespace ingot::exchange
