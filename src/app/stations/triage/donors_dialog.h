// The plan of moves over all packs of a kind, and carrying it out step by step.
#pragma once

#include "workshop/workshop.h"

class QWidget;

namespace ingot::app {

// For packs at Triage or Open of the same chemistry and layout as `pack`.
void show_donors(QWidget* parent, Workshop& workshop, Id pack);

} // namespace ingot::app
