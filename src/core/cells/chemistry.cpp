#include "core/cells/chemistry.h"

#include <algorithm>
#include <stdexcept>

namespace ingot {

const char* code(GroupState state) {
    switch (state) {
    case GroupState::dead:
        return "dead";
    case GroupState::deep:
        return "deep";
    case GroupState::low:
        return "low";
    case GroupState::working:
        return "working";
    case GroupState::over:
        return "over";
    }
    return "";
}

OcvCurve::OcvCurve(std::vector<double> soc, std::vector<double> ocv_v) : soc_(std::move(soc)), ocv_(std::move(ocv_v)) {
    const auto rises = [](const std::vector<double>& v) {
        return std::adjacent_find(v.begin(), v.end(), [](double a, double b) { return !(a < b); }) == v.end();
    };
    if (soc_.size() < 2 || soc_.size() != ocv_.size() || !rises(soc_) || !rises(ocv_))
        throw std::invalid_argument("an OCV curve needs two or more points that rise in both columns");
}

namespace {

// Linear interpolation of y at x; clamped to the ends.
double interpolate(const std::vector<double>& xs, const std::vector<double>& ys, double x) {
    if (x <= xs.front())
        return ys.front();
    if (x >= xs.back())
        return ys.back();
    const auto upper = std::upper_bound(xs.begin(), xs.end(), x);
    const auto i = static_cast<std::size_t>(upper - xs.begin());
    return ys[i - 1] + (ys[i] - ys[i - 1]) * (x - xs[i - 1]) / (xs[i] - xs[i - 1]);
}

} // namespace

double OcvCurve::soc_at(double ocv_v) const {
    return interpolate(ocv_, soc_, ocv_v);
}
double OcvCurve::ocv_at(double soc) const {
    return interpolate(soc_, ocv_, soc);
}

double OcvCurve::slope_at(double ocv_v) const {
    const auto segment = [&](std::size_t i) { return (ocv_[i + 1] - ocv_[i]) / (soc_[i + 1] - soc_[i]); };
    const auto at = std::lower_bound(ocv_.begin(), ocv_.end(), ocv_v);
    const auto i = static_cast<std::size_t>(at - ocv_.begin());
    const std::size_t last = ocv_.size() - 2;
    if (at == ocv_.end())
        return segment(last);
    if (*at == ocv_v && i > 0 && i < ocv_.size() - 1)
        return (segment(i - 1) + segment(i)) / 2;
    return segment(i == 0 ? 0 : i - 1);
}

GroupState state_of(const Chemistry& chemistry, double voltage_v, int cells_in_series) {
    const double v = voltage_v / cells_in_series;
    const auto& bands = chemistry.bands;
    if (v < bands.dead_below_v)
        return GroupState::dead;
    if (v < bands.deep_below_v)
        return GroupState::deep;
    if (v < bands.low_below_v)
        return GroupState::low;
    return v <= bands.over_above_v ? GroupState::working : GroupState::over;
}

} // namespace ingot
