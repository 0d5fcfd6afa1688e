// What each group of a built pack shows beside the others, round by round, after what its own units explain; and how
// well a sound group would show the same. proof_causes.h says what that points at.
#pragma once

#include "core/prove/proof.h"

#include <optional>
#include <vector>

namespace ingot {

struct GroupSigns {
    struct One {
        std::optional<double> off; // V from what is expected of it; nothing: not read
        double sigma = 1;          // V
    };
    One rest, top, fall, sag; // at rest, at the end of charge, fall in days of rest, under load
    std::vector<One> units;   // against those of the group that carry; empty: fewer than two were read
};

struct ProofSigns {
    bool any = false; // a round of voltages is whole, or units were read
    std::vector<GroupSigns> groups;
    std::vector<std::optional<double>> capacity_ah, ohm; // of the groups, from their units; nothing: not known
    double gained = 0;                                   // share of charge that the first charge put in
    double slope = 0;                                    // V a unit of charge where it ended
    double load_a = 0, units_a = 0;                      // what flowed; 0: not known
    double usual_sag_v = 0;                              // of the middle group
};

[[nodiscard]] ProofSigns read_proof_signs(const ProvenPack& pack, const Proof& proof);

} // namespace ingot
