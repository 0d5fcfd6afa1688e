// The question what a pack turned out to be, once it was opened or mended.
#pragma once

#include "core/assembly/assembly.h"
#include "core/triage/outcomes.h"
#include "workshop/workshop.h"

#include <optional>
#include <vector>

class QWidget;

namespace ingot::app {

// A line for the groups of each fault, filled with what was recorded already, else with what its units read, else with
// what was said of the pack before; nothing when cancelled.
[[nodiscard]] std::optional<std::vector<NamedFault>> ask_causes(QWidget* parent, const Workshop& workshop,
                                                                const Assembly& pack, const Explained& said);

} // namespace ingot::app
