// The groups of all packs of a kind, as CSV: `Pack,Group,Voltage / V[,Capacity / Ah,Model]`.
#pragma once

#include "core/cells/problem.h"
#include "core/donors/donors.h"

#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

// Problems: a column is missing, a pack without a name, a group that is no number from 1, that stands twice, a voltage
// that is blank.
[[nodiscard]] Result<std::vector<DonorGroup>> read_donor_groups(std::string_view text, const std::string& file);

} // namespace ingot::exchange
