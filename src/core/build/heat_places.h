// Where a pack grows warm, and who stands there: the strongest group at the warm middle, and of each group the units of
// the least ohms, which carry most and so warm most, at its coolest places (common practice, no source). See
// docs/methods/layout.md.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

namespace ingot {

// How much warmer each place becomes than the coolest one while every cell makes the same heat: 0 to 1 (all 0 where
// none differs). Cells within a pitch and a quarter share heat, free sides give it to the air. Throws
// std::invalid_argument unless the pitch is positive.
[[nodiscard]] std::vector<double> warmth_of_places(const std::vector<std::array<double, 2>>& centres_m, double pitch_m);

struct HeatUnit {
    double capacity_ah = 0;
    double conductance_s = 0; // 0 in one of a group: its units keep their order
};
struct Seat {
    std::size_t group = 0, unit = 0;
    friend bool operator==(const Seat&, const Seat&) = default;
};
// For every place, by group and place in it, who goes there; `warmth` of the same shape, all groups of one size. Groups
// that hold the same stay where they are as far as that can be: asked again of what it answered, it changes nothing.
// Throws std::invalid_argument where the shapes differ.
[[nodiscard]] std::vector<std::vector<Seat>> seats_by_heat(const std::vector<std::vector<HeatUnit>>& groups,
                                                           const std::vector<std::vector<double>>& warmth);

} // namespace ingot
