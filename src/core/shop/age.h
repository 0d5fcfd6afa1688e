// How old a pack or a unit is, by what a person wrote of it.
#pragma once

#include <optional>
#include <string>

namespace ingot {

// Years up to `now` (ISO 8601) from "2019", "2019-05", "2019-05-12" (a year alone counts from its middle, a month from
// its 15th day) or from "6 years", "6.5 y", "8 months". Nothing where it says neither, or a day that is to come: a date
// code that only its maker can read stays a word.
[[nodiscard]] std::optional<double> age_years(const std::string& words, const std::string& now);

} // namespace ingot
