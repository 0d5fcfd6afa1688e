// What a group of a built pack that is out of line points at: what is known of the pack (its units' capacities and
// resistances, what was read in each round) against each thing that could be wrong with a group, and which reading
// would tell. Judgement beside the limits of proof.h, not instead of them. See docs/methods/prove.md.
#pragma once

#include "core/prove/proof.h"

#include <optional>
#include <vector>

namespace ingot {

enum class ProofCause {
    sound,
    loose_unit,     // a cold joint, a blown link: one unit carries less than its share, or nothing
    strip_joint,    // resistance that all its units share: a strip, a link between groups
    weak_unit,      // a unit holds less than was measured
    other_unit,     // a unit is not the one that was measured: another model, another place
    leaking_unit,   // loses charge while nobody looks
    out_of_balance, // joined at another charge than the others
    dead_cell,      // of a unit of several cells: one is dead or the wrong way round
    misread,        // one figure alone, of the measuring side
};
inline constexpr int proof_cause_count = 9;
[[nodiscard]] const char* code(ProofCause cause);

// A reading that would tell, with the minutes of hands that it costs.
enum class ProofCheck {
    read_again,        // the measuring side first: the figure once more, on the strip instead of the sense plug
    joints_under_load, // every unit of the group, can to can, while current flows
    rest_again,        // after days more
    run,               // a full discharge
};
inline constexpr int proof_check_count = 4;
[[nodiscard]] const char* code(ProofCheck check);

struct ProofExplanation {
    ProofCause cause{};
    double probability = 0;
    int place = 0;   // of the unit, from 1, where the readings say which; 0: they do not
    double size = 0; // ohm (loose_unit: 0 stands for open), share of a unit's capacity, V, by cause
};

struct GroupCauses {
    int group = 0;                              // from 1
    double sound = 1;                           // chance that nothing is wrong with it
    std::vector<ProofExplanation> explanations; // without `sound`, the likeliest first; with it they add up to 1
    std::optional<ProofCheck> settle_by;        // nothing: nothing that would tell more
    double minutes = 0;
};

// Of every group that was read, in order. Empty as long as no round of voltages is whole.
[[nodiscard]] std::vector<GroupCauses> explain_proof(const ProvenPack& pack, const Proof& proof);

} // namespace ingot
