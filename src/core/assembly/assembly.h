// Assemblies: a pack that came in, a pack that is built, one under repair or out in the field, a bought set. One noun:
// its layout, its claim, its state; and placements, which say what stood in which place from when to when, and why.
#pragma once

#include "core/cells/claim.h"
#include "core/cells/id.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class AssemblyState {
    // What came in.
    received,
    in_triage,
    to_open,      // waits at Open
    under_repair, // opened in part: groups came out or went in
    opened,       // nothing is left in it
    refused,
    // What is built.
    planned, // units are reserved, some may be taken
    taken,   // all units are at the bench
    given_up,
    // Both.
    joined,
    proved,
    in_service,
    returned,
    spent,
};
inline constexpr int assembly_state_count = 14;
[[nodiscard]] const char* code(AssemblyState state);
[[nodiscard]] std::optional<AssemblyState> assembly_state_from(const std::string& code);
// Whether a person may bring it from one state to the next. Opening, reserving and taking change states by themselves.
[[nodiscard]] bool may_follow(AssemblyState from, AssemblyState to);

struct Assembly {
    Id id = 0;
    std::string label;
    AssemblyState state = AssemblyState::received;
    std::string chemistry; // id
    PackLayout layout;
    std::string created_at;
    // Of one that came in.
    Id lot = 0; // 0: built here
    std::string model, format, shelf;
    PackClaim claim;
    std::string gate_passed_at; // empty: not passed
    // Of one that is built.
    std::string way, rule_set; // how it was matched, under which rules
    double give_up = 0;
    [[nodiscard]] bool came_in() const { return lot != 0; }
};

// What stands in a place of an assembly, from `since` until `until`. Append-only: a placement ends and another begins.
struct Placement {
    Id id = 0;
    Id assembly = 0;
    int group = 0; // from 1
    int place = 0; // from 1; 0: the whole group, its units without a code
    Id unit = 0;   // 0: content without a code
    // Where content without a code came from; measurements that were taken there speak of it. Itself, where it came in.
    Id content_assembly = 0;
    int content_group = 0;
    bool origin = false;                      // where the unit was taken out when it was given its code
    std::string since, until, why, ended_why; // until empty: it stands there now
    std::string from_tray;                    // where a reserved unit is fetched
    int from_well = 0;
    std::string taken_at; // empty: still in its tray
    [[nodiscard]] bool stands() const { return until.empty(); }
};

} // namespace ingot
