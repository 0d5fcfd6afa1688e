// Code 128 (ISO/IEC 15417) of a text, by libzint.
#pragma once

#include <string>
#include <vector>

namespace ingot::app {

// One entry a module, true where it is dark, without the quiet zone (10 modules each side). Empty if the text cannot be
// encoded.
[[nodiscard]] std::vector<bool> code128(const std::string& text);

} // namespace ingot::app
