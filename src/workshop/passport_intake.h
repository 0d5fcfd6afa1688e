// A pack that comes in with its passport, from this bench or another: what it says need not be asked again.
#pragma once

#include "core/prove/passport.h"
#include "workshop/workshop.h"

namespace ingot {

// The build of this workshop that the passport is of; 0: it was built elsewhere.
[[nodiscard]] Id built_here(const Workshop& workshop, const Passport& passport);

// Takes it in as a pack of that lot: chemistry, layout, what it promises, its board, and where and when it was proved.
// Where its label is taken the bench's name is added to it. A pack whose particulars could not be kept stands all the
// same.
[[nodiscard]] Result<Id> take_in_passport(Workshop& workshop, Id lot, const Passport& passport);

} // namespace ingot
