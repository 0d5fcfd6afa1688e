// The form of a unit model: what is printed on a cell or module and what its data sheet says, each figure with its
// unit.
#pragma once

#include "workshop/workshop.h"

class QWidget;

namespace ingot::app {

// `first`: what is known of it already; its chemistry may be empty. Nothing when cancelled.
[[nodiscard]] std::optional<UnitModel> ask_model(QWidget* parent, const exchange::Library& library,
                                                 const UnitModel& first = {});

} // namespace ingot::app
