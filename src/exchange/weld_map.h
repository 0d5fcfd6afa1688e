// What goes to the welder: each face of a layout as SVG at 1:1 (a user unit is a millimetre), the back mirrored as the
// eye sees it; the strips to cut as CSV; the wiring of the pack as SVG. See docs/formats/weld_map.md.
#pragma once

#include "core/build/design.h"
#include "core/build/layout.h"
#include "core/build/pack_joints.h"

#include <array>
#include <string>

namespace ingot::exchange {

struct WeldMap {
    const Layout& layout;
    std::string label;                          // of the build
    double case_width_m = 0, case_height_m = 0; // 0: the outline of the cells
    StripStock stock;                           // width 0: not known, drawn as four tenths of a cell
};

// Cells as circles with their number, a ring on each plus end, strips in their width, welds numbered piece by piece,
// sense taps, and a bar of 50 mm to be measured before anything is cut.
[[nodiscard]] std::string write_weld_map(const WeldMap& map, StripDrawing::Face face);
// Size of that drawing, mm: width, height.
[[nodiscard]] std::array<double, 2> weld_map_size_mm(const WeldMap& map);

// One line a shape: how many, of what length, width, thickness, in how many layers, for what, and at how many of its
// ends the corners are clipped (layout_covers.h).
[[nodiscard]] std::string write_cut_list(const WeldMap& map);

// Groups in series from the pack's minus, sense leads in the order of the plug, fuse, board, connector: what is written
// in the design, nothing else.
[[nodiscard]] std::string write_wiring(const std::string& label, int series, int parallel, const BuildDesign& design);

} // namespace ingot::exchange
