#include "core/plan/calendar.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double day_h = 24;
constexpr int week = 7;
constexpr double slack_h = 1e-9; // sums of hours that should meet a shift's edge do meet it

} // namespace

bool AttendedHours::always() const {
    return open_h <= 0 && close_h >= day_h && std::all_of(days.begin(), days.end(), [](bool d) { return d; });
}

double AttendedHours::next(double at_h) const {
    if (always())
        return at_h;
    const double clock = at_h + begin_hour;
    auto day = static_cast<long>(std::floor((clock + slack_h) / day_h));
    for (int tried = 0; tried <= week + 1; ++tried, ++day) {
        if (!days[static_cast<std::size_t>(((day + begin_day) % week + week) % week)])
            continue;
        const double open = static_cast<double>(day) * day_h + open_h;
        const double close = static_cast<double>(day) * day_h + close_h;
        if (clock < open)
            return open - begin_hour;
        if (clock < close - slack_h || (close_h >= day_h && clock < close))
            return at_h;
    }
    return at_h; // no day is attended: the caller has refused that
}

double AttendedHours::closes_after(double at_h) const {
    if (always())
        return 1e12;
    const double clock = at_h + begin_hour;
    const double day = std::floor((clock + slack_h) / day_h);
    double close = day * day_h + close_h;
    // Round the clock: the next day may follow on.
    if (open_h <= 0 && close_h >= day_h) {
        for (int n = 1; n <= week; ++n) {
            const auto index = (static_cast<long>(day) + n + begin_day) % week;
            if (!days[static_cast<std::size_t>((index + week) % week)])
                break;
            close += day_h;
        }
    }
    return close - begin_hour;
}

} // namespace ingot
