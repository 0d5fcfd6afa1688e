// Where a reading round of a pack begins: at the first group that has no such reading, so that one that was left goes
// on; at the first of all where its contents changed since, as after a refill: what was read before speaks of another
// pack.
#pragma once

#include "core/cells/id.h"
#include "core/measure/measurement.h"

namespace ingot {

class Workshop;

// A group, from 1.
[[nodiscard]] int first_to_read(const Workshop& workshop, Id pack, Condition condition);

} // namespace ingot
