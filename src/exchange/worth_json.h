// A case for "worth it?" as JSON. What it does not say is as usual. See docs/formats/worth.md.
#pragma once

#include "core/cells/problem.h"
#include "core/worth/worth.h"

#include <string>
#include <string_view>

namespace ingot::exchange {

// Problems name the key: one that is not known, one whose value is no number.
// What the text does not name stays as in `usual` (the library's, from data/worth).
[[nodiscard]] Result<WorthCase> read_worth_case(std::string_view text, const std::string& file, const WorthCase& usual);
// All of it, so that a shop's own prices can be kept and read again.
[[nodiscard]] std::string write_worth_case(const WorthCase& worth);

} // namespace ingot::exchange
