#include "core/measure/stable_value.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace ingot {

namespace {

constexpr std::size_t readings_alike = 3;
constexpr double at_least_within_v = 0.0005;
// A contact that bounces is shorter; hands that go to the next cell take longer. Common practice, no source.
constexpr double lifted_s = 0.5;
constexpr double another_v = 0.020; // farther than a cell moves while it is touched

} // namespace

StableValue::StableValue(double resolution_v) : within_v_(std::max(at_least_within_v, 2 * resolution_v)) {
    if (!(resolution_v > 0))
        throw std::invalid_argument("StableValue: the resolution must be positive");
}

std::optional<double> StableValue::take(std::optional<double> value_v, double at_s) {
    if (!value_v || std::fabs(*value_v) < touching_v) {
        last_.clear();
        if (!lifted_at_s_)
            lifted_at_s_ = at_s;
        if (at_s - *lifted_at_s_ >= lifted_s)
            taken_v_.reset();
        return std::nullopt;
    }
    if (lifted_at_s_ && at_s - *lifted_at_s_ >= lifted_s)
        taken_v_.reset();
    lifted_at_s_.reset();
    last_.push_back(*value_v);
    if (last_.size() > readings_alike)
        last_.pop_front();
    if (last_.size() < readings_alike)
        return std::nullopt;
    const auto [low, high] = std::minmax_element(last_.begin(), last_.end());
    if (*high - *low > within_v_ + 1e-9)
        return std::nullopt;
    if (taken_v_ && std::fabs(last_.back() - *taken_v_) < another_v)
        return std::nullopt;
    taken_v_ = last_.back();
    return taken_v_;
}

} // namespace ingot
