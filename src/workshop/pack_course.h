// How a joined pack should run by what its units were measured as, and how it did run by its board's log. Answered
// beside the window.
#pragma once

#include "core/prove/board_log.h"
#include "workshop/build_run.h"

namespace ingot {

struct CourseQuestion {
    BuildQuestion question;
    std::optional<BoardLog> log;
};

// Where the log has a load: the pack simulated under the log's own current, from where its groups stood before.
struct LogCourse {
    std::vector<double> time_s;      // of the log
    std::vector<double> simulated_v; // over the pack, at those times
    double mean_v = 0;               // read less simulated, edges of the load left out
    double largest_v = 0;            // of all that, without its sign
};
struct PackCourse {
    Id build = 0;
    std::optional<PackRun> simulated; // under the load of its design, from full; nothing: why
    Sentence objection;
    BoardLogReading reading;       // of the log; empty: there is none
    std::optional<LogCourse> load; // nothing: why
    Sentence load_objection;
};
[[nodiscard]] PackCourse course_of(
    const CourseQuestion& question, const StillWanted& wanted = [] { return true; });

} // namespace ingot
