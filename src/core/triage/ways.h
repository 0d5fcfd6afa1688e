// Ways forward once it is known what is wrong with a pack: each with its numbers, and whether it is advised.
// Schools differ on deep-discharged lithium. The cautious school (scrap below the limit) is the default; recovering
// slowly is named with its conditions and never advised by default. Figures: common practice, no source, unless said.
#pragma once

#include "core/triage/explain.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// Slow recovery of a lithium group between 2.0 and 2.5 V per cell (1.0 to 2.0 V only by the daring): current, and what
// must be reached when. Nickel: 0.05 It, over 1.0 V per cell within half an hour.
struct Recovery {
    double current_it = 0.05;
    double to_v = 3.0; // per cell
    double within_minutes = 60;
    double hold_days = 30; // at rest afterwards, before it may be used
    double hours_watched = 1;
};
[[nodiscard]] std::optional<Recovery> recovery_of(const Chemistry& chemistry);

// What a donor group or a unit from stock must look like. Volts over the group's cells.
struct DonorWindow {
    double from_v = 0, to_v = 0; // to join without an equalising current worth naming
    std::optional<double> from_ah, to_ah;
};

// What one group is apart from the others, Ah: bled from a high one through its own resistor, or put into a low one.
struct GroupBalance {
    int group = 0;
    double charge_ah = 0; // over 0: it holds too much
    std::optional<double> hours;
};

struct Way {
    WayForward way{};
    std::vector<int> groups;
    bool advised = true;
    Fault because{};
    double probability = 0; // of the explanations that call for it
    std::optional<Recovery> recovery;
    std::optional<double> recovery_a;
    std::optional<DonorWindow> donor;
    // rebalance: what the high groups hold too much, the hours to bleed it through a resistor, and the charge that
    // would lift all the others instead
    std::optional<double> bleed_ah, bleed_hours, lift_ah;
    std::vector<GroupBalance> balance; // by group
    std::optional<double> joint_ohm;
    std::optional<double> leak_share_per_day;
    std::vector<std::string> odd_units; // swap_unit: those that stand apart in the group
    std::optional<double> top_up_days;  // top_up: until the group is that far behind that the pack loses a tenth
};

struct WaysOptions {
    std::optional<double> bleed_ohm; // resistor at hand, one for each group
    std::optional<double> lift_a;    // what the supply at hand puts into one group
    bool recover_slowly = false;     // the shop's rule set allows it
    double least_probability = 0.05; // of an explanation that is looked at
    double least_together = 0.10;    // of all explanations that call for a way (N17)
};

// Best first. `none` alone when the pack is most probably healthy.
[[nodiscard]] std::vector<Way> ways_forward(const TriageCase& pack, const Explained& explained,
                                            const Chemistry& chemistry, const WaysOptions& options = {});

// Hours to take `charge_ah` out of a group at `volts` through `ohm`. All positive.
[[nodiscard]] double bleed_hours(double charge_ah, double volts, double ohm);

} // namespace ingot
