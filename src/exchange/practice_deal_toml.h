// A practice case of an instructor's own as TOML. See docs/formats/practice.md.
#pragma once

#include "core/practice/deal.h"

#include <string>

namespace ingot::exchange {

// title, series, parallel, capacity_ah, weeks, meter_v, seed, misread_group; [[fault]] kind (a fault's code), group,
// size. Problems name the line: a key that is missing or of another kind, a fault that is not known, what cannot be
// dealt.
[[nodiscard]] Result<OwnDeal> read_practice_deal(const std::string& text, const std::string& file);

} // namespace ingot::exchange
