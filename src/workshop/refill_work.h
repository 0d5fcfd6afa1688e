// What is opened, and what stays live, while new groups go into a pack that came in.
#pragma once

#include "core/build/refill_joints.h"
#include "workshop/workshop.h"

#include <QStringList>

#include <vector>

namespace ingot {

struct RefillWork {
    std::vector<RefillRun> runs;
    bool read = true;   // every group that stays was read at rest; else such a one counts as full
    double whole_v = 0; // of the pack, once the last joint is closed
};
// Of a build that refills a pack; otherwise no runs.
[[nodiscard]] RefillWork refill_work(const Workshop& workshop, Id build);

namespace wording {
// A line a run, and how the last joint is closed.
[[nodiscard]] QStringList refill_work(const RefillWork& work);
} // namespace wording

} // namespace ingot
