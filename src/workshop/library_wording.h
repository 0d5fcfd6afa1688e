// The fields of the library's entries in words.
#pragma once

#include "exchange/library_entry.h"

#include <QString>

#include <string>

namespace ingot::wording {

// "charge limit, V"; empty: no such field.
[[nodiscard]] QString entry_field(exchange::EntryKind kind, const std::string& key);
[[nodiscard]] QString entry_choice(const std::string& choice);
// What one of the form's figures is in the entry's own unit: ohm are typed as milliohms, kg as g, shares as
// per cent.
[[nodiscard]] double entry_factor(const std::string& key);

} // namespace ingot::wording
