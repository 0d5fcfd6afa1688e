// Asks for a build that is wanted, in one line: what for, its groups, what it must give.
#pragma once

#include "workshop/wanted_builds.h"

#include <QString>

#include <optional>

class QWidget;

namespace ingot::app {

// Nothing when cancelled; a line that is no build is objected to beside the field.
[[nodiscard]] std::optional<WantedBuild> ask_wanted_build(QWidget* parent, const QString& title);

} // namespace ingot::app
