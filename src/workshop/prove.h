// Prove: rounds of readings on a joined pack, what they say, signing, the passport, and the way into service.
#pragma once

#include "core/prove/field.h"
#include "core/prove/passport.h"
#include "workshop/service.h"

#include <set>

namespace ingot {

// Everything that is known of one pack's proof.
struct PackProof {
    Assembly pack;
    ProvenPack readings;
    std::vector<std::string> read_at; // by round; empty: not begun
    std::vector<Id> last;             // by round: the measurement read last; 0: none
    Proof proof;
    std::string signed_by, signed_at;
};

// A pack in service, or back from it: what was read of it since it left, or since it was balanced last.
struct PackInField {
    Assembly pack;
    std::string since_at;  // into service, or balanced
    bool balanced = false; // the latter
    std::vector<FieldRound> rounds;
    std::vector<std::string> read_at; // by round: its last figure
    Id last = 0;                      // the measurement read last; 0: none
    bool open = false;                // the last round still takes figures: it was begun a short while ago
    std::set<int> newer;              // groups (from 1) that were put into an old pack
    FieldTrend trend;
    std::string next_at; // when another round is worth the walk; empty: it is not in service
};

class ProveService : public Service {
public:
    using Service::Service;

    // Readings that were taken before the pack was joined (or joined anew) do not count.
    [[nodiscard]] PackProof proof(Id build) const;
    // `group` 0: the terminals. `load_a`: what flows, in the round under load.
    Result<Id> record(Id build, ProofRound round, int group, double volts, std::optional<double> resolution,
                      std::optional<double> load_a = {});
    Result<bool> strike(Id measurement, const std::string& reason);
    // By whom: a short sign. Refused while a round is open or failed, with which.
    Result<bool> sign(Id build, const std::string& by);
    // Into service, returned, spent; as assemblies may follow.
    Result<bool> move_on(Id build, AssemblyState to);
    // Back to Build: the steps from the cover on are not done any more, the proof begins anew.
    Result<bool> send_back(Id build, const std::string& reason);
    [[nodiscard]] Passport passport(Id build) const;

    // --- In the field (prove_field.cpp): packs that were built here, and packs that came in and were repaired ---
    // Whether it is in service or came back from it.
    [[nodiscard]] bool in_field(const Assembly& pack) const;
    [[nodiscard]] PackInField field(Id pack) const;
    // One group at rest; a figure of a group that this round has already begins the next one.
    Result<Id> record_in_field(Id pack, int group, double volts, std::optional<double> resolution);
    // Its groups were brought level: what was read before says nothing of how they drift from here on.
    Result<bool> balanced(Id pack);
    // A repaired pack that came in: back into service, or it came back. Built ones move on by move_on.
    Result<bool> repaired_to(Id pack, AssemblyState to);
    // When which pack in service is to be read next; the earliest first.
    struct Visit {
        Id pack = 0;
        std::string label, at;
    };
    [[nodiscard]] std::vector<Visit> field_visits() const;
};

} // namespace ingot
