// Whether what is laid out fits: cells beside each other and inside the case, a cell with what lies on it along its
// room, the current through a holder's springs.
#pragma once

#include "core/build/layout.h"

#include <optional>

namespace ingot {

// All common practice, no source. m.
inline constexpr double least_clearance_m = 0.002; // between strips that are not joined
inline constexpr double insulating_ring_m = 0.0002;
inline constexpr double most_slack_m = 0.002; // beyond, a cell rattles and rubs

struct CaseFit {
    bool apart = true;                          // no two cells overlap
    double over_width_m = 0, over_height_m = 0; // that the case lacks; both 0 and not inside: it stands over an edge
};
// In a case of known size.
[[nodiscard]] CaseFit fit_in_case(const Layout& layout, double case_width_m, double case_height_m);

struct DepthFit {
    double long_m = 0;  // a cell with what lies on it
    double slack_m = 0; // under 0: too long
    [[nodiscard]] bool fits() const { return slack_m >= 0; }
    [[nodiscard]] bool rattles() const { return slack_m > most_slack_m; }
};
// `strips_m`: thickness of the strips at one end; a cell has two.
[[nodiscard]] DepthFit fit_along_cell(double height_m, double raised_top_m, double strips_m, bool ring, double room_m);

// Each unit stands between two springs. Over the whole pack.
struct SpringLoad {
    double each_a = 0;
    double drop_v = 0, loss_w = 0;
};
[[nodiscard]] SpringLoad load_springs(double spring_ohm, double load_a, int series, int parallel);

} // namespace ingot
