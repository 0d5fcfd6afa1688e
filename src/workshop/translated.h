// Sentences of the wording tables, translated. Internals of the wording.
#pragma once

#include <QCoreApplication>

namespace ingot::wording {

inline QString tr(const char* text) {
    return QCoreApplication::translate("wording", text);
}

} // namespace ingot::wording
