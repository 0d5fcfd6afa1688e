// Groups taken out of the middle of a pack and put back: which joints are opened, on which face, what stands live on
// either side meanwhile.
#pragma once

#include "core/cells/strip_drawing.h"

#include <optional>
#include <vector>

namespace ingot {

// Air that stays between two opened ends of strip, each taped besides; common practice, no source.
inline constexpr double least_air_m = 0.005;

struct OpenedJoint {
    int below = 0;                         // joins this group (from 1) to the next
    std::vector<StripDrawing::Face> faces; // where the drawing has a strip for it; empty: not drawn
};
// Neighbouring groups that go out and come in together.
struct RefillRun {
    int first = 0, last = 0;                    // from 1
    std::optional<OpenedJoint> below, above;    // nothing: there the pack's lead comes off
    int standing_below = 0, standing_above = 0; // groups that stand on between it and the next run or the pack's end
    double below_v = 0, above_v = 0;            // over those, end to end
};

// `groups` rising, from 1 to the size of `volts`, which holds each group's volts, or the most that it may have.
[[nodiscard]] std::vector<RefillRun> refill_runs(const std::vector<int>& groups, const std::vector<double>& volts,
                                                 const StripDrawing& drawing);

} // namespace ingot
