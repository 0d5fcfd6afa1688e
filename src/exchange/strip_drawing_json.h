// A strip drawing as JSON: {"front": [[1, 2]], "back": [[2, 3]], "free_to_slide": "front"}.
#pragma once

#include "core/cells/problem.h"
#include "core/cells/strip_drawing.h"

#include <string>

namespace ingot::exchange {

[[nodiscard]] std::string write_strip_drawing(const StripDrawing& drawing);
// Problems: no such object, a group outside 1..series.
[[nodiscard]] Result<StripDrawing> read_strip_drawing(const std::string& text, int series);

} // namespace ingot::exchange
