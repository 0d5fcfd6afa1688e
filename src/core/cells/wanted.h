// Long work asks this often: false once nobody waits for its answer any more, and from then on. Empty: always wanted.
#pragma once

#include <functional>

namespace ingot {

using Wanted = std::function<bool()>;

[[nodiscard]] inline bool still(const Wanted& wanted) {
    return !wanted || wanted();
}

} // namespace ingot
