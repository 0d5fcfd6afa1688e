// How warm each cell of a pack becomes under a load, by its place: its own loss, what it passes to its neighbours
// through the air between them, what the outside of the block gives to the air. See docs/methods/simulate.md.
#pragma once

#include "core/cells/problem.h"

#include <array>
#include <cstddef>
#include <utility>
#include <vector>

namespace ingot {

// Pairs of cells (lower index first) that stand next to each other: within a pitch and a quarter.
[[nodiscard]] std::vector<std::pair<std::size_t, std::size_t>>
neighbours_of(const std::vector<std::array<double, 2>>& centres_m, double pitch_m);
// How many neighbours a cell inside the block has: 4 where they stand square, 6 staggered.
[[nodiscard]] int sides_of(const std::vector<int>& neighbours);

struct HeatedPack {
    std::vector<std::array<double, 2>> centres_m;
    double diameter_m = 0, height_m = 0; // of a cell, > 0
    double pitch_m = 0;                  // >= the diameter
    double cell_mass_kg = 0;             // > 0
    std::vector<double> heat_w;          // of each cell, steady, >= 0
    double duration_s = 0;               // of the load, > 0
};

// Over the air around the case, K, at the end of the load, when all began as warm as the air.
struct PackWarmth {
    std::vector<double> warmer_k; // of each cell
    std::size_t hottest = 0, coolest = 0;
    double steady_k = 0; // of the hottest, if the load went on for ever
};

// Specific heat 900 J/kgK (round cells measure 800 to 1,100; from memory). Between neighbours still air of 0.026 W/mK
// by the shape factor of two parallel cylinders; outside 5 W/m2K: two films of still air, about 10 each, one on either
// side of the case's wall (handbooks of heat transfer, from memory). Strips, holders and cards, which carry heat too,
// are not in it. Objects to values out of range.
[[nodiscard]] Result<PackWarmth> warm_pack(const HeatedPack& pack);
// What one cell gives to the air, and passes to a neighbour, W/K.
[[nodiscard]] double to_air_w_per_k(double diameter_m, double height_m, double free_share);
[[nodiscard]] double to_neighbour_w_per_k(double diameter_m, double height_m, double pitch_m);

} // namespace ingot
