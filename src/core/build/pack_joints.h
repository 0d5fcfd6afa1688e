// The currents in the metal of a layout: every piece of strip as a resistor between the welds that it joins, every cell
// as a source with its own resistance. See docs/methods/strip.md.
#pragma once

#include "core/build/layout.h"
#include "core/build/strip_network.h"

#include <optional>
#include <span>
#include <vector>

namespace ingot {

// What the pieces are cut from. Lengths in m, resistivity in ohm m.
struct StripStock {
    double width_m = 0, thickness_m = 0;
    double resistivity_ohm_m = 0;
    int link_layers = 1;
    int end_layers = 1; // of the parallel pieces at both ends of the pack and of its leads
};

// A cell as the joints see it. V, ohm (> 0).
struct JoinedCell {
    double voltage_v = 0;
    double resistance_ohm = 0;
};

struct PieceLoad {
    double current_a = 0;        // the largest between two of its welds
    double density_a_per_m2 = 0; // there
    double warmer_k = 0;         // than the cells it is welded to, steadily
    double loss_w = 0;           // of the whole piece
    int layers = 1;
};

struct PackJoints {
    std::vector<PieceLoad> pieces; // as the layout's
    std::vector<double> cell_a;    // positive: discharging
    double loss_w = 0;
    double drop_v = 0; // loss / load: what the metal takes off the terminals
    double warmest_k = 0;
    std::size_t worst = 0; // piece of the highest density
};

// Layers of a piece: those of the ends where it carries the whole current, else those of the links.
[[nodiscard]] int layers_of(const Layout& layout, const LayoutPiece& piece, const StripStock& stock);

// Steady warming of a strip of that length whose ends are held at the cells' temperature and of which one face gives
// heat to still air: a fin, h = 10 W/m2K. Its heat conductivity from its resistivity (Wiedemann and Franz, 293 K).
// Source: handbooks of heat transfer, a rod with a uniform source between two held ends.
[[nodiscard]] double strip_warming_k(const StripSize& strip, double current_a);

// All cells of the layout, in its order. Objects to sizes or resistances that are not positive.
[[nodiscard]] Result<PackJoints> load_joints(const Layout& layout, std::span<const JoinedCell> cells,
                                             const StripStock& stock, double load_a);

} // namespace ingot
