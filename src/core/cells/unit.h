// A unit: a cell or a module with a code of its own.
#pragma once

#include "core/cells/id.h"
#include "core/cells/unit_code.h"

#include <optional>
#include <string>

namespace ingot {

// Where a unit is in the shop's keeping. Follows from its placements and from recycling; nobody sets it.
enum class Whereabouts { stock, reserved, built, recycled };
[[nodiscard]] const char* code(Whereabouts whereabouts);

struct Unit {
    Id id = 0;
    UnitCode code;
    Id pack = 0; // the assembly it was taken out of, with group and place there; 0: came in loose
    int group = 0;
    int place = 0;
    std::string model, tray;
    int well = 0;
    Whereabouts whereabouts = Whereabouts::stock;
};

} // namespace ingot
