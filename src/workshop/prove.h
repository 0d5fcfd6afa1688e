// Prove: rounds of readings on a joined pack, what they say, signing, the passport, and the way into service.
#pragma once

#include "core/build/joining.h"
#include "core/prove/board_log.h"
#include "core/prove/field.h"
#include "core/prove/passport.h"
#include "core/prove/proof_causes.h"
#include "core/prove/proof_note.h"
#include "core/triage/explain.h"
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
    std::vector<GroupCauses> causes; // what its groups point at; empty: nothing to go by yet
    struct Signature {
        std::string by, at;
    };
    std::vector<Signature> signatures;                           // by round; empty: nobody has signed it
    std::vector<std::vector<std::string>> unit_code;             // by group and place; empty: the place is
    [[nodiscard]] const GroupCauses* causes_of(int group) const; // nothing: nothing to go by
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

// The event that a signed proof leaves.
inline constexpr const char* pack_proved_event = "pack proved";
// When the last joint was covered; empty: it is not.
[[nodiscard]] std::string pack_joined_at(const BuildTicks& ticks);

class ProveService : public Service {
public:
    using Service::Service;

    // Readings that were taken before the pack was joined (or joined anew) do not count.
    [[nodiscard]] PackProof proof(Id build) const;
    // `group` 0: the terminals. `load_a`: what flows, in the round under load.
    // `place`: a unit of the group, in the round of units.
    Result<Id> record(Id build, ProofRound round, int group, double volts, std::optional<double> resolution,
                      std::optional<double> load_a = {}, int place = 0);
    // Rows of its board's log stand for rounds of the proof: before the load at rest, the end of the charge, under
    // load. All or nothing; how many figures were kept. Objects where the log has none of those rows.
    Result<int> record_log(Id build, const BoardLog& log, const BoardLogReading& reading);
    // A figure of another round, in the item's unit; a yes or no is answered.
    Result<Id> record_item(Id build, ProofItem item, double value, std::optional<double> resolution);
    enum class Answer { yes, no, none, unknown }; // none: it has no such thing; unknown takes an answer back
    Result<bool> answer(Id build, ProofItem item, Answer answer);
    // Signed without it; the reason stays on record, an empty one asks for it again. Objects where it must be done.
    Result<bool> leave_out(Id build, ProofRound round, const std::string& reason);
    // The short sign of whoever is at the bench: rounds are signed with it as they pass. Empty: they are not.
    [[nodiscard]] std::string bench_sign() const;
    Result<bool> set_bench_sign(const std::string& sign);
    Result<bool> strike(Id measurement, const std::string& reason);
    // By whom: a short sign. Refused while a round is open or failed, with which.
    Result<bool> sign(Id build, const std::string& by);
    // Into service, returned, spent; as assemblies may follow.
    Result<bool> move_on(Id build, AssemblyState to);
    // Back to Build: the steps from the cover on are not done any more, the proof begins anew.
    Result<bool> send_back(Id build, const std::string& reason);
    [[nodiscard]] Passport passport(Id build) const;
    // Packs side by side as strings, each with its own board and balance: what would flow if they were joined now.
    // Objects to packs of unlike make, and to one without a board of its own.
    struct Strings {
        std::vector<std::string> labels;
        std::vector<std::optional<double>> volts; // the newest at the terminals, without load
        JoinCheck check;
    };
    [[nodiscard]] Result<Strings> strings(const std::vector<Id>& builds) const;
    // On record; refused unless they stand level.
    Result<bool> join_strings(const std::vector<Id>& builds);

    // --- In the field (prove_field.cpp): packs that were built here, and packs that came in and were repaired ---
    // Whether it is in service or came back from it.
    [[nodiscard]] bool in_field(const Assembly& pack) const;
    [[nodiscard]] PackInField field(Id pack) const;
    // Of a built pack that came back: what was read of it since, as a case for the explanation engine, with what is
    // known of its design. Nothing: it did not come back, or is not read through since; the round before it left counts
    // not.
    struct ReturnedCase {
        TriageCase known;
        Chemistry chemistry;
        TriageKnowledge knowledge;
    };
    [[nodiscard]] std::optional<ReturnedCase> returned_case(Id pack) const;
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

private:
    void fill_units(PackProof& proof) const;
    void fill_measured(const std::string& since, PackProof& proof) const;
    void fill_notes(const std::string& since, PackProof& proof) const;
    void fill_promises(PackProof& proof) const;
    [[nodiscard]] double most_volts(const Assembly& build, int group) const;
    // Rounds that have just passed are signed.
    void sign_passed(Id build);
};

} // namespace ingot
