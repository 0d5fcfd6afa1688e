// Moments as ISO 8601 texts (proleptic Gregorian, UTC unless an offset is written), so that core needs no clock.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ingot {

inline constexpr double seconds_per_hour = 3600;
inline constexpr double seconds_per_day = 86400;

// Seconds since 1970-01-01T00:00Z of "2026-11-27", "2026-11-27T10:39", "…:22", "…:22.512", each with "Z" or "+01:00" at
// its end. Nothing for anything else: "01/02/2026" is not told apart from the second of January.
[[nodiscard]] std::optional<double> seconds_of(std::string_view moment);
// The same moment in the one form that the workshop file keeps, so that texts sort as the moments do:
// 2026-11-27T10:39:22.512Z. A day alone stays a day ("2026-11-27"), which sorts before its hours. Nothing as above.
[[nodiscard]] std::optional<std::string> normal_moment(std::string_view moment);
// Days from one moment to another; nothing where either cannot be read.
[[nodiscard]] std::optional<double> days_between(std::string_view from, std::string_view to);

} // namespace ingot
