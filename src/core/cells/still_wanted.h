// Asked between the pieces of long work; false: nobody waits for it any more. What is there by then is handed out, or,
// where a half is worth nothing, nothing is kept.
#pragma once

#include <functional>

namespace ingot {

using StillWanted = std::function<bool()>;

} // namespace ingot
