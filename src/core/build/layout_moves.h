// What a person's hand changes in a proposed layout: a cell aside, a lead or a sense lead to another cell, a link that
// is added or left out. Kept as words, so that they can be read, typed and taken back one by one.
#pragma once

#include "core/build/layout.h"
#include "core/cells/problem.h"

#include <string>
#include <vector>

namespace ingot {

// A place of the layout, from 1: group, cell of the group. Written 3.2.
struct LayoutPlace {
    int group = 0, cell = 0;
    auto operator<=>(const LayoutPlace&) const = default;
};

struct LayoutMove {
    enum class Kind {
        cell,  // `at` by so much
        lead,  // of the pack's minus (number 0) or plus (number 1), to `at`
        sense, // lead of that number, minus first from 0, to `at`
        link,  // a link from `at` to `to`, in the next group
        cut,   // no link there
    };
    Kind kind{};
    LayoutPlace at, to;
    int number = 0;
    double x_m = 0, y_m = 0; // seen from the front
};

// "cell 3.2 0.5 -1" (mm), "lead plus 7.1", "sense 3 2.4", "link 1.1 2.3", "cut 1.2 2.2", parted by semicolons; before
// them may stand the arrangement that was moved: "square-4-along: cell ...". Objects to anything else, naming it.
[[nodiscard]] Result<std::vector<LayoutMove>> layout_moves_from(const std::string& words);
[[nodiscard]] std::string words_of(const std::vector<LayoutMove>& moves);
[[nodiscard]] std::string moved_arrangement(const std::string& words); // empty: it is not said

// The moves and one more: of one cell they add up, of a lead the last one counts, a link and its cut are none.
[[nodiscard]] std::vector<LayoutMove> and_move(std::vector<LayoutMove> moves, const LayoutMove& move);

// The layout after those moves. Objects, naming the move, to a place that it does not have, to a lead that leaves its
// group's end, to a link of groups that are no neighbours (it would short one), to a link that is there already or a
// cut where none is.
[[nodiscard]] Result<Layout> moved_by_hand(Layout layout, const std::vector<LayoutMove>& moves, double case_width_m,
                                           double case_height_m);

} // namespace ingot
