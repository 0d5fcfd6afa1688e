#include "core/build/layout_fit.h"

#include <algorithm>

namespace ingot {

CaseFit fit_in_case(const Layout& layout, double case_width_m, double case_height_m) {
    constexpr double hair = 1e-9;
    CaseFit out;
    out.apart = least_gap_m(layout).value_or(0) > -hair;
    out.over_width_m = std::max(0.0, layout.size_m[0] - case_width_m);
    out.over_height_m = std::max(0.0, layout.size_m[1] - case_height_m);
    return out;
}

DepthFit fit_along_cell(double height_m, double raised_top_m, double strips_m, bool ring, double room_m) {
    DepthFit out;
    out.long_m = height_m + raised_top_m + 2 * strips_m + (ring ? insulating_ring_m : 0);
    out.slack_m = room_m - out.long_m;
    return out;
}

SpringLoad load_springs(double spring_ohm, double load_a, int series, int parallel) {
    SpringLoad out;
    out.each_a = load_a / std::max(1, parallel);
    out.drop_v = 2 * spring_ohm * out.each_a * series;
    out.loss_w = out.drop_v * load_a;
    return out;
}

} // namespace ingot
