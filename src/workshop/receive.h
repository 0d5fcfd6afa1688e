// Receive: what came in, whether its claims can be true, whether it is safe to touch, whether it is worth the time.
#pragma once

#include "core/worth/worth.h"
#include "workshop/service.h"

#include <map>

namespace ingot {

class OpenService;
class TriageService;

// Cells or modules that come in without a pack: bought, or left over.
struct LooseUnits {
    Id lot = 0;
    std::string model, chemistry; // the library's model decides the chemistry where it knows it
    std::string format;           // may be empty
    int count = 0, cells_per_unit = 1;
    std::optional<double> claim_ah; // of one unit
    std::string price, state;       // what was paid for all, new or used, in the person's words
    std::string roll, tray;         // of their labels; their home, may be empty
    std::string matched_by = {};    // they are a matched set: by whom; empty: they are not
};

// What is noted of a charger or a board where there is none.
[[nodiscard]] bool says_none(const std::string& words);

class ReceiveService : public Service {
public:
    using Service::Service;

    Result<Id> add_lot(const Lot& lot);
    // With its groups' contents in place. Refused: a label that is taken, a chemistry or format that is not known.
    Result<Id> add_pack(Assembly pack);
    [[nodiscard]] std::vector<ClaimFinding> objections(const Assembly& pack) const;
    // They get codes, an origin that says what was claimed of them, and a home. All or none.
    Result<std::vector<Id>> take_in_loose(const LooseUnits& units, OpenService& open);
    // From now on its units are used one by one. Refused: what is no matched set, and no reason.
    Result<bool> break_set(Id assembly, const std::string& reason);
    // The inverse, where its units may still stay together.
    Result<bool> keep_as_set(Id assembly, const std::string& matched_by);

    // Packs above 60 V: nothing is read or opened before a person has passed the gate.
    [[nodiscard]] bool needs_gate(const Assembly& pack) const;
    [[nodiscard]] bool gate_closed(const Assembly& pack) const {
        return needs_gate(pack) && pack.gate_passed_at.empty();
    }
    Result<bool> pass_gate(Id pack);
    // Why nobody should touch this pack now: its gate, its quarantine. Nothing: it may be worked on.
    [[nodiscard]] std::optional<Problem> held(const Assembly& pack) const;

    // Findings of a pack or of a unit; one that asks for quarantine opens one.
    Result<bool> note_finding(Id pack, Id unit, const std::string& code);
    Result<bool> strike_finding(Id pack, Id unit, const std::string& code, const std::string& reason);
    [[nodiscard]] std::vector<std::string> findings_of_pack(Id pack) const;
    Result<bool> open_quarantine(Id unit, const std::string& reason);      // does nothing where one is open
    Result<bool> open_pack_quarantine(Id pack, const std::string& reason); // likewise; also of a build
    Result<bool> close_quarantine(Id quarantine, const std::string& reason);
    [[nodiscard]] std::vector<Quarantine> open_quarantines() const;
    [[nodiscard]] bool pack_quarantined(Id pack) const { return inventory_.pack_quarantined(pack); }
    [[nodiscard]] std::string subject_of(const Quarantine& quarantine) const;

    // What a person knows of it: the newest of each kind; an empty value takes one back.
    using Particulars = std::map<ParticularKind, std::string>;
    [[nodiscard]] Particulars particulars(Id pack, Id unit = 0) const;
    // Those that differ from what is known.
    Result<bool> note_particulars(Id pack, Id unit, const Particulars& now);
    // The groups and units inside were not what was thought. Refused once something that was read or taken out would
    // have no place any more.
    Result<bool> correct_layout(Id pack, const PackLayout& layout, const std::string& reason);

    // Moves a pack on, or back; says why when it may not.
    Result<bool> set_state(Id pack, AssemblyState state, const std::string& reason = {});

    // Packs of its lot, chemistry and layout, itself among them, that wait for what becomes of them and may be worked
    // on.
    [[nodiscard]] std::vector<Id> waiting_like(Id pack) const;
    // Several at once, all or none.
    Result<bool> set_states(const std::vector<std::pair<Id, AssemblyState>>& states);

    // Is it worth it? The pack's own facts with the shop's prices, hours, routes and weights, which are remembered. A
    // unit's energy is nothing where no label says it.
    [[nodiscard]] WorthCase worth_case(Id pack, const TriageService& triage) const;
    Result<bool> remember_worth(const WorthCase& worth);
    // What a job on a pack took beside what was reckoned; of all packs, oldest first.
    Result<bool> note_hours(Id pack, const JobDone& job);
    [[nodiscard]] std::vector<JobDone> jobs_done() const;
};

} // namespace ingot
