// A pack that was built here and came back: what explains the figures that were read of it since.
#pragma once

#include "workshop/prove.h"

namespace ingot {

// On a job's thread: it holds all it needs.
[[nodiscard]] inline Explained why_it_came_back(const ProveService::ReturnedCase& returned) {
    return explain(returned.known, returned.chemistry, returned.knowledge);
}

} // namespace ingot
