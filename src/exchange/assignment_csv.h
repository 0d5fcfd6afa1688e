// Which unit goes to which group, as CSV: `Cell ID,Group`, as `match --out` writes it.
#pragma once

#include "core/cells/problem.h"

#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

// The units of each group, groups from 1, in the order of the file. Problems: a group that is no number from 1 to
// `series`, a group with more or fewer than `parallel` units, a unit that stands twice.
[[nodiscard]] Result<std::vector<std::vector<std::string>>>
read_assignment(std::string_view text, const std::string& file, int series, int parallel);

} // namespace ingot::exchange
