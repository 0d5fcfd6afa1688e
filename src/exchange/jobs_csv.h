// Jobs for the bays: `Unit ID,Duration / h[,Position,Charge Current / A]`, and the plan back as CSV and iCalendar.
#pragma once

#include "core/plan/bay_plan.h"

#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

// Problems: a column is missing, a blank or doubled unit, a duration that is not over 0, a position that is no whole
// number or stands twice, a negative current.
[[nodiscard]] Result<std::vector<PlanJob>> read_jobs(std::string_view text, const std::string& file);

// When somebody must be at the bench, one event for each visit with what to do there (iCalendar, RFC 5545). `begin` is
// the plan's beginning as local time YYYYMMDDTHHMMSS; moments are turned into local times by `at`.
struct BenchVisit {
    std::string begin, end; // local times, YYYYMMDDTHHMMSS
    std::string summary, description;
};
[[nodiscard]] std::string write_calendar(const std::vector<BenchVisit>& visits, const std::string& stamp_utc);

} // namespace ingot::exchange
