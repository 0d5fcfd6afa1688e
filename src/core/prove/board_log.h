// What a board wrote down while a pack was charged or worked, many rows of all its groups: which stretches it has, how
// far the groups stand apart in them, where one of them jumped, which of them goes its own way. See
// docs/methods/prove.md.
#pragma once

#include "core/prove/proof.h"

#include <cstddef>
#include <optional>
#include <vector>

namespace ingot {

struct BoardLog {
    std::vector<double> time_s;               // rising
    std::vector<double> charging_a;           // positive charges; empty: it has no column of current
    std::vector<std::vector<double>> group_v; // by row and group; not a number: blank
    std::vector<double> terminals_v;          // empty: none
    std::optional<double> resolution_v;       // of the last digit
    [[nodiscard]] std::size_t rows() const { return time_s.size(); }
    [[nodiscard]] std::size_t groups() const { return group_v.empty() ? 0 : group_v.front().size(); }
};

enum class LogStretchKind { rest, charge, load };
// Rows `from` to `to`, the latter not in it. Spreads are V a cell.
struct LogStretch {
    LogStretchKind kind{};
    std::size_t from = 0, to = 0;
    double mean_a = 0; // positive charges
    std::optional<double> first_spread_v, last_spread_v, widest_spread_v;
    std::size_t widest_row = 0, highest = 0, lowest = 0; // groups, from 0, where it is widest
};
// One group against the others from one row to the next, with no step of the current, and it stays: a loose sense lead,
// a joint that moved, a wrong reading. V a cell.
struct LogJump {
    double time_s = 0;
    std::size_t group = 0; // from 0
    double by_v = 0;
};
// How a group goes against the middle one while nothing flows, V a cell and hour; at least an hour of rest in one
// stretch, and more than the meter's digit over it.
struct LogDrift {
    std::size_t group = 0;
    double per_hour_v = 0, error_v = 0; // 95 %
};
struct BoardLogReading {
    bool turned = false;            // its current counted the other way round: drawn is positive. It is turned here.
    std::vector<double> charging_a; // as it is meant; 0 where none is known
    std::vector<double> spread_v;   // by row, a cell; not a number where a group is blank
    std::vector<LogStretch> stretches;
    std::vector<LogJump> jumps;
    std::vector<LogDrift> drifts; // of groups whose drift is no chance
    // Rows that a proof may take figures from; nothing: the log has no such row.
    std::optional<std::size_t> end_of_charge; // the last of the last charge
    std::optional<std::size_t> before_load;   // at rest, the last before the load
    std::optional<std::size_t> under_load;    // a minute into the heaviest lasting load, or its last row
};

// Throws std::invalid_argument on rows of unlike length or cells_per_group below 1.
[[nodiscard]] BoardLogReading read_board_log(const BoardLog& log, int cells_per_group);

} // namespace ingot
