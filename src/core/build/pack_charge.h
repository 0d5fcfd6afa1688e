// A pack on its charger: constant current, then the charger's voltage held; a board that stops when a group is full,
// and levels the groups afterwards. And a pack on the shelf: how its leaks take it down and apart. See
// docs/methods/simulate.md.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/problem.h"

#include <optional>
#include <vector>

namespace ingot {

// A group as a whole: its cells share one voltage.
struct ChargeGroup {
    double capacity_ah = 0;    // > 0
    double resistance_ohm = 0; // of its units in parallel, > 0
    double soc = 0;            // 0..1, when the charge begins
    int cells = 1;             // in series in it
};

struct ChargeDesign {
    std::vector<ChargeGroup> groups;
    double charger_v = 0;   // held at the end, over the pack
    double charger_a = 0;   // until then
    double joint_ohm = 0;   // in series with the pack
    double end_share = 0.1; // of charger_a: there it ends (common practice, no source)
    std::optional<double>
        balance_a; // what the board can bleed from a group; nothing: it does not balance, or nobody knows
};

enum class ChargeEnd { full, group_full, never };
[[nodiscard]] const char* code(ChargeEnd end);

struct ChargeRun {
    ChargeEnd end = ChargeEnd::never;
    double hours = 0;
    double charged_ah = 0;
    std::size_t first_full = 0; // the group that stands highest at the end; it stops a board that watches groups
    double highest_v = 0, lowest_v = 0;  // of groups at the end, a cell, with the current still flowing
    std::vector<double> soc;             // of each group
    std::optional<double> balance_hours; // until all are as low as the lowest
    double unused_ah = 0;                // by which the lowest group is not full then
};

// Objects to values out of range, no groups, a chemistry without a charge limit (its charge ends otherwise) or curve.
[[nodiscard]] Result<ChargeRun> charge_pack(const ChargeDesign& design, const Chemistry& chemistry);

struct ShelfGroup {
    double capacity_ah = 0;     // > 0
    double leak_ah_per_day = 0; // >= 0
};
struct ShelfStay {
    struct Point {
        double days = 0;
        double highest_v = 0, lowest_v = 0; // of groups, a cell
    };
    std::vector<Point> points;        // month by month, two years or until the lowest is empty
    std::size_t lowest = 0;           // group that is down first
    std::optional<double> empty_days; // until it stands at the test cutoff; nothing: not within two years
    std::optional<double>
        balance_days; // until highest and lowest are 3 % of charge apart; nothing: not within two years
};
// From one state of charge in all groups; `standby_a` is drawn by board and device all the time.
[[nodiscard]] Result<ShelfStay> leave_on_shelf(const std::vector<ShelfGroup>& groups, const Chemistry& chemistry,
                                               double soc, double standby_a);

} // namespace ingot
