// Attended hours as people write them: a shift "08:00-18:00", days "mon-fri" or "mon,wed,sat".
#pragma once

#include "core/cells/problem.h"
#include "core/plan/calendar.h"

#include <string>
#include <string_view>

namespace ingot::exchange {

// Hours of the day; the end may be 24:00. Problem: not two times, or the end is not after the beginning.
[[nodiscard]] Result<AttendedHours> parse_shift(std::string_view text);
// Into `hours.days`; ranges may run over the weekend ("sat-mon"). Problem: a day that is none.
[[nodiscard]] Result<bool> parse_days(std::string_view text, AttendedHours& hours);
[[nodiscard]] std::string write_shift(const AttendedHours& hours);
[[nodiscard]] std::string write_days(const AttendedHours& hours);

} // namespace ingot::exchange
