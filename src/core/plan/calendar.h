// When somebody is at the bench: the same hours on every day, or on some days of the week only.
//
// Hours count from the plan's beginning. A shift is open from its first hour up to, not including, its last.
#pragma once

#include <array>

namespace ingot {

struct AttendedHours {
    double open_h = 0;                                                  // hour of the day, 0 to 24
    double close_h = 24;                                                // after open_h
    std::array<bool, 7> days{true, true, true, true, true, true, true}; // Monday first; at least one
    double begin_hour = 0;                                              // hour of the day at which the plan begins
    int begin_day = 0;                                                  // its day of the week, Monday = 0

    // The first attended moment at or after `at_h`.
    [[nodiscard]] double next(double at_h) const;
    [[nodiscard]] bool attended(double at_h) const { return next(at_h) == at_h; }
    // How long somebody stays from an attended moment on.
    [[nodiscard]] double closes_after(double at_h) const;
    [[nodiscard]] bool always() const;
};

} // namespace ingot
