// How a pack's groups are joined, as it was found: strips on the front and on the back, each joining two groups, and
// the face that is free to slide off.
#pragma once

#include <utility>
#include <vector>

namespace ingot {

struct StripDrawing {
    enum class Face { front, back };
    std::vector<std::pair<int, int>> front, back; // groups from 1, the smaller first, in order
    Face free_to_slide = Face::front;

    [[nodiscard]] std::vector<std::pair<int, int>>& strips(Face face) { return face == Face::front ? front : back; }
    [[nodiscard]] const std::vector<std::pair<int, int>>& strips(Face face) const {
        return face == Face::front ? front : back;
    }
    // Draws the strip, or takes it away. The same group twice is nothing.
    void toggle(Face face, int a, int b);
    // A series path joins group 1 to 2 to 3 ...: which neighbours have no strip yet, as the lower group.
    [[nodiscard]] std::vector<int> gaps(int series) const;
    // The usual way: front and back in turn.
    [[nodiscard]] static StripDrawing usual(int series);
    friend bool operator==(const StripDrawing&, const StripDrawing&) = default;
};

} // namespace ingot
