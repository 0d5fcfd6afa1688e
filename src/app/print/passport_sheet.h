// The passport of a proved pack: what is in it, what was measured, what it may be asked.
#pragma once

#include "core/prove/passport.h"

#include <QString>

namespace ingot::app {

// False if the file cannot be written.
[[nodiscard]] bool write_passport_sheet(const QString& path, const Passport& passport);

} // namespace ingot::app
