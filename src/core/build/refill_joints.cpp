#include "core/build/refill_joints.h"

#include <algorithm>

namespace ingot {

namespace {

OpenedJoint joint_above(int group, const StripDrawing& drawing) {
    OpenedJoint out{group, {}};
    for (const auto face : {StripDrawing::Face::front, StripDrawing::Face::back}) {
        const auto& strips = drawing.strips(face);
        if (std::find(strips.begin(), strips.end(), std::pair(group, group + 1)) != strips.end())
            out.faces.push_back(face);
    }
    return out;
}

} // namespace

std::vector<RefillRun> refill_runs(const std::vector<int>& groups, const std::vector<double>& volts,
                                   const StripDrawing& drawing) {
    std::vector<RefillRun> out;
    const int series = static_cast<int>(volts.size());
    for (const int group : groups) {
        if (!out.empty() && out.back().last + 1 == group) {
            out.back().last = group;
            continue;
        }
        RefillRun run;
        run.first = run.last = group;
        out.push_back(run);
    }
    for (std::size_t i = 0; i < out.size(); ++i) {
        RefillRun& run = out[i];
        const int from = i == 0 ? 1 : out[i - 1].last + 1;
        const int to = i + 1 == out.size() ? series : out[i + 1].first - 1;
        if (run.first > 1)
            run.below = joint_above(run.first - 1, drawing);
        if (run.last < series)
            run.above = joint_above(run.last, drawing);
        for (int g = from; g < run.first; ++g) {
            ++run.standing_below;
            run.below_v += volts[static_cast<std::size_t>(g - 1)];
        }
        for (int g = run.last + 1; g <= to; ++g) {
            ++run.standing_above;
            run.above_v += volts[static_cast<std::size_t>(g - 1)];
        }
    }
    return out;
}

} // namespace ingot
