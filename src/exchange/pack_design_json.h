// A pack's design as JSON and the load it is put under as CSV: what the simulation of a pack in use starts from.
// See docs/formats/simulate.md.
#pragma once

#include "core/build/pack_in_use.h"
#include "core/cells/problem.h"

#include <string>
#include <string_view>

namespace ingot::exchange {

struct DesignFile {
    std::string chemistry; // id
    PackDesign design;
};
// Problems name the line of what is no JSON, else the key.
[[nodiscard]] Result<DesignFile> read_pack_design(std::string_view text, const std::string& file);

// `Time / s,Current / A` or `Time / s,Power / W`.
[[nodiscard]] Result<PackLoad> read_pack_load(std::string_view text, const std::string& file);

} // namespace ingot::exchange
