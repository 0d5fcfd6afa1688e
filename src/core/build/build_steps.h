// The steps from loose units to a joined pack, in the order that keeps the largest bare hazard smallest, each with what
// a slipped strip or a tool bridges when the step is done: how many volts, what would flow.
#pragma once

#include "core/build/layout.h"
#include "core/build/pack_joints.h"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace ingot {

enum class BuildTask {
    rings,          // an insulating ring on every plus end
    holder,         // units in their places
    polarity,       // each unit read at its place
    gate,           // volts of the units of each group, held against each other
    parallel_front, // bars that join the units of a group
    parallel_back,
    links_front, // joints between groups
    cover_front, // turned over, the finished face covered
    links_back,
    sense_leads, // minus first
    fuse,
    board, // last of all that is joined
    cover, // card, wrap, label
};
inline constexpr int build_task_count = 13;
[[nodiscard]] const char* code(BuildTask task);
[[nodiscard]] std::optional<BuildTask> build_task_from(const std::string& code);

// The last step of a build: of a whole pack its cover, of groups that go into an old pack their own bars. That pack's
// links and leads are its own.
[[nodiscard]] constexpr BuildTask last_task(bool refill) {
    return refill ? BuildTask::parallel_back : BuildTask::cover;
}

// What was done, item by item (from 1): when.
using BuildTicks = std::map<std::pair<BuildTask, int>, std::string>;

// Which groups (from 1) each item of a step is about; none: about the whole pack. A step without items is not needed.
// Sense leads: one item each, minus first.
[[nodiscard]] std::vector<std::vector<int>> build_items(BuildTask task, int series, int parallel);
// What has to be done before an item is: the first thing that is missing. `gate`: for each group whether its units may
// be joined now.
[[nodiscard]] std::optional<std::pair<BuildTask, int>> missing_before(std::pair<BuildTask, int> item,
                                                                      const BuildTicks& done,
                                                                      const std::vector<bool>& gate, int series,
                                                                      int parallel);

// Between two conductors that lie bare. The can of a cylindrical cell is its minus: its rim lies around the plus end.
struct BareHazard {
    double volts = 0;
    double amperes = 0;           // through a tool that makes contact with contact_ohm
    std::size_t from = 0, to = 0; // cells
    bool rim = false;             // one of them is the rim of a can
    StripDrawing::Face face{};    // once the sense leads are on: either
};

struct BuildStep {
    struct Item {
        std::vector<int> groups;         // from 1
        std::vector<std::size_t> pieces; // of the layout, that are welded; none: done by hand
    };
    BuildTask task{};
    std::vector<Item> items;
    std::optional<BareHazard> here;    // on the face that is worked on
    std::optional<BareHazard> covered; // on the other one, under its card
};

inline constexpr double contact_ohm = 0.5e-3; // of a tool that bridges two conductors; common practice, no source

// Steps that have nothing to do in this layout are left out. `cans`: units are round cells whose can is their minus.
// What comes after `last` is left out.
[[nodiscard]] std::vector<BuildStep> build_steps(const Layout& layout, std::span<const JoinedCell> cells,
                                                 bool cans = true, BuildTask last = BuildTask::cover);

} // namespace ingot
