// Sentences of the wording tables, translated. Internals of the wording.
#pragma once

#include <QCoreApplication>

namespace ingot::wording {

// `n`: what is counted (%n), -1: nothing.
inline QString tr(const char* text, int n = -1) {
    return QCoreApplication::translate("ingot::wording", text, nullptr, n);
}

} // namespace ingot::wording
