// What all printed sheets share: resolution, millimetres, sizes of type. Internals of print/.
#pragma once

#include "app/theme/theme.h"

#include <QCoreApplication>
#include <QFont>

namespace ingot::app {

inline constexpr int dots_per_inch = 300;
inline constexpr double dots_per_mm = dots_per_inch / 25.4;

inline QFont sized(double height_mm, bool bold = false) {
    QFont font = type(14, bold);
    font.setPixelSize(static_cast<int>(height_mm * dots_per_mm));
    return font;
}

// `n`: what is counted (%n), -1: nothing.
inline QString printed(const char* text, int n = -1) {
    return QCoreApplication::translate("ingot::app", text, nullptr, n);
}

} // namespace ingot::app
