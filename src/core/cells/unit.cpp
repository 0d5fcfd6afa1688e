#include "core/cells/unit.h"

#include <array>
#include <cstddef>

namespace ingot {

const char* code(Whereabouts whereabouts) {
    static constexpr std::array<const char*, 4> codes{"stock", "reserved", "built", "recycled"};
    return codes[static_cast<std::size_t>(whereabouts)];
}

} // namespace ingot
