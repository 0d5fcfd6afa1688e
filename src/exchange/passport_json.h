// A pack's passport as JSON; its keys are described in docs/formats/passport.md.
#pragma once

#include "core/cells/problem.h"
#include "core/prove/passport.h"

#include <string>

namespace ingot::exchange {

[[nodiscard]] std::string write_passport(const Passport& passport);
// What it says of the pack, its units and its design; its rounds are for the reader. Objects to what is none, to a
// version that is not known, and to one without label, chemistry or layout.
[[nodiscard]] Result<Passport> read_passport(const std::string& text, const std::string& file);

} // namespace ingot::exchange
