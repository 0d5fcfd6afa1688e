// What keeps a strip off foreign metal: a ring on every plus end, a card where a piece passes over a can that is not
// its own, a clipped corner where the end of a piece reaches over the rim of a can.
#pragma once

#include "core/build/layout.h"
#include "core/build/pack_joints.h"

#include <span>
#include <vector>

namespace ingot {

struct LayoutCard {
    std::size_t piece = 0, cell = 0; // what passes over what
    double volts = 0;                // between the two, at the most
};
struct LayoutCorner {
    std::size_t piece = 0, cell = 0; // whose end there is to be clipped, both corners
};
struct LayoutCovers {
    int rings = 0; // plus ends of round cells: the rim around them is their minus
    std::vector<LayoutCard> cards;
    std::vector<LayoutCorner> corners;
};

// The rolled rim of a can, over which a corner of strip must not reach; common practice, no source.
inline constexpr double can_rim_m = 1.5e-3;

// `cells` as the layout's, for the volts between groups; none: no cards are asked for. `strip_m`: width of the strip, >
// 0. Flat cells have no rim: none. A lead goes straight to the nearest edge of the cells' outline.
[[nodiscard]] LayoutCovers covers_of(const Layout& layout, std::span<const JoinedCell> cells, double strip_m);

} // namespace ingot
