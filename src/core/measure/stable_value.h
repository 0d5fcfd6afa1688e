// When a voltage that a meter shows again and again belongs to the cell that its probes touch: it stands still, and it
// is taken once. The next one counts after the probes were lifted, or stand on something clearly different.
#pragma once

#include <deque>
#include <optional>

namespace ingot {

class StableValue {
public:
    // `resolution_v`: one step of the meter's last digit. Throws std::invalid_argument unless positive.
    explicit StableValue(double resolution_v = 0.001);

    // What the meter showed at that second (rising); nothing: over range or open. The value to take, where it is one.
    std::optional<double> take(std::optional<double> value_v, double at_s);

    // Under this the probes touch nothing.
    static constexpr double touching_v = 0.1;

private:
    double within_v_;
    std::deque<double> last_;
    std::optional<double> taken_v_;
    std::optional<double> lifted_at_s_; // since when they touch nothing
};

} // namespace ingot
