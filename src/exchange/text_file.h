// Whole files in and out.
#pragma once

#include "core/cells/problem.h"

#include <string>

namespace ingot::exchange {

// The file as it is, whatever is in it. "-" reads standard input. Problems: missing, unreadable, a folder.
[[nodiscard]] Result<std::string> read_text(const std::string& path);
// Writes beside the target and renames, so that a full disk never leaves half a file. Returns the path.
[[nodiscard]] Result<std::string> write_text(const std::string& path, const std::string& text);

} // namespace ingot::exchange
