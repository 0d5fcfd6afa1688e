// The few questions that need a box of their own.
#pragma once

#include "workshop/workshop.h"

#include <QString>

#include <optional>

class QWidget;

namespace ingot::app {

// A sentence of the person's own; nothing when cancelled. The reason may not be empty.
[[nodiscard]] std::optional<QString> ask_reason(QWidget* parent, const QString& title, const QString& question);

struct OverruleAnswer {
    Duty duty;
    QString reason;
};
[[nodiscard]] std::optional<OverruleAnswer> ask_overrule(QWidget* parent, const UnitState& unit);

} // namespace ingot::app
