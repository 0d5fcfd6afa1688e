// When resting units are to be read next, for a calendar: one event a day, with the trays to walk.
#pragma once

#include "workshop/workshop.h"

#include <string>

namespace ingot {

// iCalendar (RFC 5545). Units that are decided, or whose voltage tells no leak, are not asked for.
[[nodiscard]] std::string reading_calendar(const Workshop& workshop, const RestShelf& shelf,
                                           const std::string& stamp_utc);

} // namespace ingot
