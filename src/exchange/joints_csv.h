// What is joined, as CSV: units about to be joined in groups, and the pieces of strip and cells of a pack's network.
#pragma once

#include "core/build/strip_network.h"
#include "core/cells/problem.h"
#include "exchange/library_toml.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

// `Cell ID,Group,Voltage / V,DC Resistance / Ohm[,Capacity / Ah]`. A negative voltage is a unit read the wrong way
// round.
struct JoiningUnit {
    std::string id, group;
    double voltage_v = 0, resistance_ohm = 0;
    std::optional<double> capacity_ah;
    int line = 0;
};
struct JoiningUnits {
    std::vector<JoiningUnit> units;
    bool last_line_dropped = false;
};
[[nodiscard]] Result<JoiningUnits> read_joining_units(std::string_view text, const std::string& file);

// `Piece,From,To,Length / mm,Width / mm,Thickness / mm[,Layers,Material]`, or `Resistance / Ohm` instead of the sizes.
// Without a material: the first.
[[nodiscard]] Result<std::vector<StripPiece>> read_strip_pieces(std::string_view text, const std::string& file,
                                                                const std::vector<StripMaterial>& materials);
// `Cell ID,Plus,Minus,Voltage / V,DC Resistance / Ohm`.
[[nodiscard]] Result<std::vector<StripCell>> read_strip_cells(std::string_view text, const std::string& file);

} // namespace ingot::exchange
