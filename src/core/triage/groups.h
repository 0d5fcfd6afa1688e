// A pack's groups against the chemistry's bands and against each other; their sum against the terminals.
// Plain rules: what stands out, by how much. What explains it is a later question.
#pragma once

#include "core/cells/chemistry.h"

#include <optional>
#include <vector>

namespace ingot {

struct GroupVoltages {
    std::vector<std::optional<double>> rest_v; // one per group, from the negative end; over the group's cells in series
    std::optional<double> terminal_v;
    int cells_per_unit = 1;
    double meter_error_v = 0.003; // k = 2 of one reading (common practice, no source)
};

struct GroupFinding {
    std::optional<GroupState> state;     // none while not read
    std::optional<double> from_median_v; // against the median of the other groups that were read
    bool outlier = false;
};

enum class PackTriage {
    not_read,
    incomplete,        // some groups still unread
    healthy,           // all working, none stands out, the sum meets the terminals
    group_out_of_band, // a group is dead, deep, low or over
    group_stands_out,  // all working, but one differs from the others
    sum_misses_terminals,
};
[[nodiscard]] const char* code(PackTriage triage);

struct TriageResult {
    std::vector<GroupFinding> groups;
    std::optional<double> sum_v;        // when every group was read
    std::optional<double> difference_v; // terminals minus sum
    std::optional<double> median_v;
    bool sum_agrees = true;
    std::optional<std::size_t> worst; // index of the group that leads the eye
    PackTriage summary = PackTriage::not_read;
    bool load_round_allowed = true; // never while a group is under its floor
};

// Whether a group in this state is held apart: deep-discharged lithium, or over its charge limit.
[[nodiscard]] bool is_hazard(GroupState state, const Chemistry& chemistry);

[[nodiscard]] TriageResult triage_groups(const GroupVoltages& voltages, const Chemistry& chemistry);

} // namespace ingot
