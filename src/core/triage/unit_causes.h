// What the units that came out of a pack say was wrong with it, once they were tested: the first opinion when its true
// cause is recorded.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/claim.h"
#include "core/triage/outcomes.h"

#include <optional>
#include <span>
#include <vector>

namespace ingot {

struct TestedUnit {
    int group = 0; // from 1
    std::optional<double> capacity_ah, leak_ah_per_day;
};

// `group_v`: what each group read at rest last, before the pack was opened, V; as many as the layout has groups.
// Named are groups that were dead at rest (under the chemistry's floor, or a cell short of the others), else that hold
// a unit which leaks (three times the middle of the pack's units, and more than ordinary cells do), else that are weak
// (under 85 % of the middle of the others). Common practice, no source. Empty where nothing is told: joints, leads and
// the board show in no unit, so sound units do not make a sound pack.
[[nodiscard]] std::vector<NamedFault> causes_by_units(std::span<const std::optional<double>> group_v,
                                                      std::span<const TestedUnit> units, const PackLayout& layout,
                                                      const Chemistry& chemistry);

} // namespace ingot
