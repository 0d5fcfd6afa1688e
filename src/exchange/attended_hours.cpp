#include "exchange/attended_hours.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace ingot::exchange {

namespace {

constexpr std::array<std::string_view, 7> day_names{"mon", "tue", "wed", "thu", "fri", "sat", "sun"};

std::optional<double> time_of_day(std::string_view text) {
    const auto colon = text.find(':');
    const auto digits = [](std::string_view part) -> std::optional<int> {
        if (part.empty() || part.size() > 2)
            return std::nullopt;
        int value = 0;
        for (const char c : part) {
            if (c < '0' || c > '9')
                return std::nullopt;
            value = value * 10 + (c - '0');
        }
        return value;
    };
    const auto hour = digits(text.substr(0, colon));
    const auto minute = colon == std::string_view::npos ? std::optional<int>(0) : digits(text.substr(colon + 1));
    constexpr double minutes = 60;
    if (!hour || !minute || *minute > 59 || *hour > 24 || (*hour == 24 && *minute > 0))
        return std::nullopt;
    return *hour + *minute / minutes;
}

std::optional<std::size_t> day_of(std::string_view text) {
    std::string small(text.substr(0, 3));
    std::transform(small.begin(), small.end(), small.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
    const auto found = std::find(day_names.begin(), day_names.end(), small);
    if (found == day_names.end())
        return std::nullopt;
    return static_cast<std::size_t>(found - day_names.begin());
}

std::string clock(double hour) {
    constexpr double minutes = 60;
    const auto all = static_cast<int>(std::lround(hour * minutes));
    return fmt::format("{:02}:{:02}", all / 60, all % 60);
}

} // namespace

Result<AttendedHours> parse_shift(std::string_view text) {
    const auto dash = text.find('-');
    const double from = time_of_day(text.substr(0, dash)).value_or(-1);
    const double to = dash == std::string_view::npos ? -1 : time_of_day(text.substr(dash + 1)).value_or(-1);
    if (from < 0 || to <= from)
        return Problem{"", 0, said("shift \"{}\" is not understood. Write it as 08:00-18:00.", text)};
    AttendedHours hours;
    hours.open_h = from;
    hours.close_h = to;
    hours.begin_hour = from;
    return hours;
}

Result<bool> parse_days(std::string_view text, AttendedHours& hours) {
    const Problem problem{"", 0, said("days \"{}\" are not understood. Write them as mon-fri or mon,wed,sat.", text)};
    std::array<bool, 7> days{};
    std::string_view rest = text;
    while (!rest.empty()) {
        const auto comma = rest.find(',');
        const std::string_view part = rest.substr(0, comma);
        rest = comma == std::string_view::npos ? std::string_view() : rest.substr(comma + 1);
        const auto dash = part.find('-');
        const auto from = day_of(part.substr(0, dash));
        const auto to = dash == std::string_view::npos ? from : day_of(part.substr(dash + 1));
        if (!from || !to)
            return problem;
        for (std::size_t d = *from;; d = (d + 1) % days.size()) {
            days[d] = true;
            if (d == *to)
                break;
        }
    }
    if (std::none_of(days.begin(), days.end(), [](bool d) { return d; }))
        return problem;
    hours.days = days;
    return true;
}

std::string write_shift(const AttendedHours& hours) {
    return clock(hours.open_h) + "-" + clock(hours.close_h);
}

std::string write_days(const AttendedHours& hours) {
    std::string out;
    for (std::size_t d = 0; d < day_names.size(); ++d)
        if (hours.days[d])
            out += (out.empty() ? "" : ",") + std::string(day_names[d]);
    return out;
}

} // namespace ingot::exchange
