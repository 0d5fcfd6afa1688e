// A row of the workshop file. 0: none.
#pragma once

#include <cstdint>

namespace ingot {

using Id = std::int64_t;

} // namespace ingot
