// Prove: rounds of readings on a joined pack, what they say, signing, the passport, and the way into service.
#pragma once

#include "core/prove/passport.h"
#include "workshop/service.h"

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
};

} // namespace ingot
