// A pack's passport as JSON; its keys are described in docs/formats/passport.md.
#pragma once

#include "core/prove/passport.h"

#include <string>

namespace ingot::exchange {

[[nodiscard]] std::string write_passport(const Passport& passport);

} // namespace ingot::exchange
