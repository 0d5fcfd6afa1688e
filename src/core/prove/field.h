// A pack in the field: rounds of group voltages after rides, weeks and months. How far its groups stand apart in
// charge, how fast each goes its own way, and when they will want a balance. See docs/methods/field.md.
#pragma once

#include "core/cells/chemistry.h"

#include <optional>
#include <vector>

namespace ingot {

// One round, all of it read at one go.
struct FieldRound {
    double day = 0;                             // rising from round to round
    std::vector<std::optional<double>> group_v; // V, as many as the pack has groups
    std::optional<double> resolution;           // V, of the meter's last digit
};

// Shares of a group's charge. Usual ones; common practice, no source.
struct FieldLimits {
    double balance_share = 0.03;         // between highest and lowest: charge that can no longer be used
    double going_apart_per_month = 0.02; // one group against the middle one: it leaks
    double first_days = 7;               // until the first reading in service; then twice as long each time
    double longest_days = 90;
};

enum class FieldState {
    unread,
    first,       // one round: where they stand, not where they go
    steady,      // no balance is wanted within a year
    drifting,    // one will be
    balance_now, // the groups stand too far apart
    going_apart, // one group loses charge against the others
    not_told,    // on this curve voltage says too little of charge
};
[[nodiscard]] const char* code(FieldState state);

// A group against the middle one, in shares of its charge.
struct GroupDrift {
    std::optional<double> now;            // at the last round, by the line through all of them
    std::optional<double> per_day, error; // 95 %
    double now_error = 0;                 // 95 %
};

struct FieldPoint {
    double day = 0;
    std::optional<double> spread_v;                   // highest less lowest, V a cell
    std::optional<double> spread_share;               // of charge
    std::vector<std::optional<double>> from_middle_v; // V a group
};

struct FieldTrend {
    FieldState state = FieldState::unread;
    std::vector<FieldPoint> points;
    std::vector<GroupDrift> groups;
    std::optional<int> lowest;          // group (from 0) that goes down furthest; with a drift that is no chance
    std::optional<double> balance_day;  // when highest and lowest reach the limit; nothing: not within five years
    std::optional<double> earliest_day; // 95 %; nothing: not even then
    std::optional<double> latest_day;   // nothing: perhaps never
    double next_day = 0;                // when another round is worth the walk
};

// `since_day`: when it went into service, or was balanced; rounds before it must not be among them. Throws
// std::invalid_argument on rounds of unlike length, days that do not rise, or cells_per_group below 1.
[[nodiscard]] FieldTrend follow_field(const std::vector<FieldRound>& rounds, const Chemistry& chemistry,
                                      int cells_per_group, double since_day, const FieldLimits& limits = {});

} // namespace ingot
