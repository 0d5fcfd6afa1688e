// Triage: rounds of readings, what else is known of a pack, what explains it, which way forward, which packs donate.
#pragma once

#include "core/donors/donors.h"
#include "core/triage/explain.h"
#include "core/triage/groups.h"
#include "core/triage/outcomes.h"
#include "core/triage/ways.h"
#include "workshop/service.h"

namespace ingot {

class Job;
class ReceiveService;

// Under load the current (positive, A); after storage the days, else they are counted from the last reading at rest.
struct RoundConditions {
    std::optional<double> load_a;
    std::optional<double> days;
    std::optional<double> resolution_v; // of the last digit that was typed
    bool reversed = false;              // a minus is meant: it was typed twice
};

// The groups of all packs that may exchange contents with one another.
struct DonorQuestion {
    std::vector<DonorGroup> groups;
    std::map<std::string, Id> ids; // of packs, by label
    int unread = 0;                // packs of this kind that are not read through
    std::set<std::string> unlike;  // of another layout: they give groups and are not rebuilt by this plan
};

// What is said of one group by its voltage at rest.
struct GroupVerdict {
    Duty mark = Duty::drive; // drive: in order; rest-again: look at it; quarantine: a hazard
    GroupState state = GroupState::working;
    bool outlier = false;
    bool never_charge = false; // lithium, deep-discharged
    Evidence evidence;         // its voltage against the chemistry's bands
    std::optional<double> from_median_v;
    std::optional<double> capacity_ah; // that it gave on its own
    std::optional<double> ohm;         // that was noted of it
};

class TriageService : public Service {
public:
    TriageService(Session& session, Inventory& inventory, const ReceiveService& receive)
        : Service(session, inventory), receive_(receive) {}

    Result<Id> record_group_reading(Id pack, int group, double volts, Condition condition,
                                    const std::string& instrument, const RoundConditions& conditions = {});
    // A whole measurement of a place in a pack, as another shop's file tells it. ISO 8601.
    Result<Id> record(Measurement reading, const std::string& taken_at);
    // Readings from a file (long form or snapshot), all or nothing; how many were recorded.
    // A device's own snapshot is taken before the gate, too.
    Result<int> import_group_readings(Id pack, const std::string& text, const std::string& file);
    // Voltages of single units of a group whose links are cut, by place; a blank is not read. All or nothing.
    Result<bool> note_unit_voltages(Id pack, int group, const std::vector<std::optional<double>>& volts);
    Result<bool> note_temperature(Id pack, int group, double celsius, bool under_load);
    // What a full discharge of the group alone gave.
    Result<bool> note_group_capacity(Id pack, int group, double capacity_ah);
    // As a charger with balance leads says it.
    Result<bool> note_group_resistance(Id pack, int group, double ohm);
    [[nodiscard]] double largest_group_voltage(const Assembly& pack) const;
    // Why a reading of a pack is not believed or not allowed.
    [[nodiscard]] std::optional<Problem> objection(const Assembly& pack, const Measurement& reading,
                                                   bool reversed) const;

    // Voltages of a group (0: the terminals; -1: any) that stand, the newest first.
    [[nodiscard]] std::vector<Measurement> standing_readings(Id pack, int group = -1) const;
    // What was read together last under a condition, in order.
    [[nodiscard]] std::vector<Measurement> last_round(Id pack, Condition condition) const;
    // That round was read on another pack (N23): there it stands with its moments, here it is struck out. All or
    // nothing; how many readings it has.
    Result<int> move_round(Id from, Condition condition, Id into);

    [[nodiscard]] std::vector<std::string> symptoms_of_pack(Id pack) const;
    Result<bool> note_symptom(Id pack, const std::string& id, bool present);
    Result<bool> note_replaced(Id pack, int group);
    Result<bool> note_lead_swap(Id pack, int group, bool moved);

    // V by group, 0: terminals; the newest of each.
    [[nodiscard]] const std::map<int, double>& group_readings(Id pack, Condition condition) const;
    [[nodiscard]] const std::map<int, double>& group_capacities(Id pack) const { // Ah
        return inventory_.pack_case(pack).capacity_ah;
    }
    [[nodiscard]] const std::vector<int>& groups_taken_out(Id pack) const {
        return inventory_.pack_case(pack).taken_out;
    }
    [[nodiscard]] std::optional<double> days_since_rest(Id pack) const;
    [[nodiscard]] const TriageCase& triage_case(Id pack) const { return inventory_.pack_case(pack).known; }
    // Nothing where the group was not read at rest.
    [[nodiscard]] std::optional<GroupVerdict> group_verdict(Id pack, int group) const;
    [[nodiscard]] TriageResult result(Id pack) const;

    // What explains the readings; kept until something new is known.
    [[nodiscard]] const Explained& explained(Id pack) const;
    // Whether explained() answers at once; else the case may be explained elsewhere and handed back, unless something
    // new became known meanwhile.
    [[nodiscard]] bool explained_at_hand(Id pack) const;
    // Explains on the job's thread, keeps it unless something new was said of the pack meanwhile, then calls `then`.
    void explain_beside(Job& job, Id pack, std::function<void()> then);
    [[nodiscard]] std::vector<Way> ways(Id pack) const;
    // What the shop balances groups with; unknown until somebody says it.
    struct BalanceGear {
        std::optional<double> resistor_ohm, supply_a;
    };
    [[nodiscard]] BalanceGear balance_gear() const;
    Result<bool> set_balance_gear(const BalanceGear& gear);

    // What was read of the pack while it was whole, opened or not, explained on the job's thread.
    void explain_as_it_came(Job& job, Id pack, std::function<void(const Explained&)> then) const;
    // What it turned out to be, once it was opened or mended, held against what was said of it.
    // Each fault that was found with its groups; none, or "healthy": nothing was wrong.
    Result<bool> record_outcome(Id pack, std::vector<NamedFault> causes, const Explained& said);
    // What the units that came out of it say it was, by what they measured so far; empty where they tell nothing.
    [[nodiscard]] std::vector<NamedFault> causes_by_units(Id pack) const;
    [[nodiscard]] std::optional<Outcome> outcome(Id pack) const;
    [[nodiscard]] std::vector<Outcome> outcomes() const;
    // Of packs of one kind (chemistry, groups in series, cells per unit), the pack itself left out.
    [[nodiscard]] std::vector<Outcome> outcomes_of_kind(const Assembly& kind) const;
    // Of the shop's others that are like it: lithium or not, cells or modules.
    [[nodiscard]] std::vector<Outcome> outcomes_like(const Assembly& kind) const;

    // --- Donors ---
    // Of one kind, not held, and still to be decided on.
    [[nodiscard]] bool may_donate(const Assembly& donor, const Assembly& host) const;
    // `unlike_too`: also packs of another layout whose groups are of the same chemistry, units and cells.
    [[nodiscard]] DonorQuestion donor_question(const Assembly& kind, bool unlike_too = false) const;
    // A donor's group takes the place of another one: a placement ends there and begins here. Its readings stay where
    // they were taken and speak of it still.
    Result<bool> move_group(Id from, int group, Id into, int place);

private:
    [[nodiscard]] std::optional<Problem> implausible(const Assembly& pack, const Measurement& reading,
                                                     bool reversed) const;
    Result<Id> note(Id pack, NoteKind kind, int group, const std::string& code);
    Result<bool> record_of_group(Id pack, const std::vector<Measurement>& read);
    [[nodiscard]] Measurement measurement_of(Id pack, int group, Quantity quantity, double value) const;

    [[nodiscard]] TriageCase as_it_came(const Assembly& pack) const;
    [[nodiscard]] std::size_t outcomes_noted() const;
    [[nodiscard]] std::vector<Outcome> outcomes_where(Id but, const std::function<bool(const Assembly&)>& wanted) const;
    [[nodiscard]] TriageKnowledge knowledge_for(const Assembly& pack) const;

    struct Kept {
        std::int64_t revision = -1;
        std::size_t outcomes = 0; // that were noted in the shop, corrected ones counted again
        Explained explained;
    };
    const ReceiveService& receive_;
    mutable std::map<Id, Kept> explained_;
};

} // namespace ingot
