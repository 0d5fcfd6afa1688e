// The question what a pack turned out to be, once it was opened or mended.
#pragma once

#include "core/assembly/assembly.h"
#include "core/triage/outcomes.h"

#include <optional>
#include <vector>

class QWidget;

namespace ingot::app {

// A line for the groups of each fault, filled with what its units read (empty: they tell nothing), else with what was
// said of the pack before; nothing when cancelled.
[[nodiscard]] std::optional<std::vector<NamedFault>>
ask_causes(QWidget* parent, const Assembly& pack, const Explained& said, const std::vector<NamedFault>& by_units);

} // namespace ingot::app
