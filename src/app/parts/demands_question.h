// Asks what a match is to keep beside levelness.
#pragma once

#include "workshop/match.h"

#include <optional>

class QWidget;

namespace ingot::app {

// Nothing when cancelled. Without a name they hold for this session of matching alone; with one they are kept.
[[nodiscard]] std::optional<NamedDemands> ask_demands(QWidget* parent, const NamedDemands& first);

} // namespace ingot::app
