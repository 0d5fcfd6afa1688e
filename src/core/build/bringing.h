// Before a group is joined: what would flow now, whether that may be, and which units to bring to what voltage first.
#pragma once

#include "core/build/joining.h"
#include "core/cells/chemistry.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct GroupToJoin {
    struct Member {
        double voltage_v = 0;      // of the unit; negative: it stands the wrong way round
        double resistance_ohm = 0; // of the unit with its lead, > 0
        std::optional<double> capacity_ah;
    };
    std::vector<Member> members; // at least one
    int cells_per_unit = 1;      // in series inside one unit
};

struct Bringing {
    std::size_t member = 0;
    double to_v = 0;                 // of the unit
    std::optional<double> charge_ah; // positive: put in; nothing where capacity is unknown or voltage tells no charge
};

struct JoinPlan {
    double common_v = 0;  // if joined now
    double spread_v = 0;  // highest minus lowest, per cell in series
    double largest_a = 0; // largest magnitude
    std::size_t worst = 0;
    std::vector<double> current_a;     // per member, positive: out of the unit
    JoinAdvice advice{};               // join, through_resistor or bring_to_voltage
    std::vector<Bringing> bring;       // only the units that must move
    std::vector<std::size_t> reversed; // to be turned round, not joined
    std::vector<std::size_t> deep;     // under the chemistry's usual range: not to be lifted by joining
};

// The voltage to meet at is one of the units' own, inside the chemistry's usual range: the one from which the least
// charge has to be moved (a median of the units' states of charge, weighed by capacity; of their voltages where charge
// cannot be told). Units stay where they are as long as those that stay lie within the limit of each other and no more
// than largest_share of a unit's capacity per hour would flow.
[[nodiscard]] JoinPlan plan_joining(const GroupToJoin& group, const Chemistry& chemistry, const JoinLimits& limits);

} // namespace ingot
