// What a shop has, in memory and judged: packs, units with facts and verdicts, builds, what was said of them. Read by
// services and views; brought up to date by the session after each step, no further than the step touched.
#pragma once

#include "core/assembly/assembly.h"
#include "core/build/build_steps.h"
#include "core/build/design.h"
#include "core/cells/unit.h"
#include "core/shop/shop_records.h"
#include "core/sort/duty.h"
#include "core/triage/pack_case.h"
#include "exchange/library_toml.h"
#include "workshop/change_set.h"

#include <array>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <unordered_map>
#include <vector>

namespace ingot {

// Setting of a workshop: the id of the rule set that judges; empty: the first that is shipped.
inline constexpr const char* rule_set_setting = "rule-set";

class Session;

enum class Station { receive, triage, open, test, rest, sort, match, build, prove };
inline constexpr int station_count = 9;

// A unit with what is known and what was judged.
struct UnitState {
    Unit record;
    UnitFacts facts;
    UnitReference reference;
    Verdict verdict;
    bool quarantined = false;
    std::vector<std::string> findings;
    [[nodiscard]] std::string code() const { return record.code.text(); }
    [[nodiscard]] bool in_stock() const { return record.whereabouts == Whereabouts::stock; }
};

class Inventory {
public:
    static constexpr std::size_t many_units = 2000;

    Inventory(Session& session, exchange::Library library);

    [[nodiscard]] const exchange::Library& library() const { return library_; }
    void set_library(exchange::Library library) { library_ = std::move(library); }
    [[nodiscard]] const RuleSet& rules() const { return rules_; }
    [[nodiscard]] bool rules_changed() const { return rules_changed_; }
    void set_rules(const RuleSet& rules, bool saved);
    // The shop's own prices, hours, routes and weights for "worth it?", of no pack; the shipped ones where it kept
    // none.
    [[nodiscard]] WorthCase shops_worth() const;
    // So many units that the window's thread does not gather what is asked of all of them; limits that nobody saved
    // yet are known to this one alone.
    [[nodiscard]] bool gathered_beside() const { return units_.size() > many_units && !rules_changed_; }

    // After a step. Everything: as if the workshop were opened anew.
    void apply(const ChangeSet& changes);

    [[nodiscard]] const std::vector<Lot>& lots() const { return lots_; }
    [[nodiscard]] const std::vector<Assembly>& packs() const { return packs_; }   // that came in
    [[nodiscard]] const std::vector<Assembly>& builds() const { return builds_; } // that are built here
    [[nodiscard]] const std::vector<UnitState>& units() const { return units_; }
    [[nodiscard]] const std::vector<Finding>& findings() const { return findings_; }
    [[nodiscard]] const std::vector<Quarantine>& quarantines() const { return quarantines_; }
    [[nodiscard]] const std::vector<PackNote>& notes() const { return notes_; }
    [[nodiscard]] const std::vector<Particular>& particulars() const { return particulars_; } // oldest first
    [[nodiscard]] const std::vector<Overrule>& overrules() const { return overrules_; }
    [[nodiscard]] const std::vector<Tray>& trays() const { return trays_; }
    [[nodiscard]] const std::map<Id, std::string>& drawings() const { return drawings_; }
    [[nodiscard]] const std::map<Id, int>& photo_counts() const { return photo_counts_; }
    [[nodiscard]] std::span<const Placement> placements(Id assembly) const;
    [[nodiscard]] const BuildDesign& design(Id build) const;
    // Planned, and no unit is reserved for it yet.
    [[nodiscard]] bool wants_units(const Assembly& build) const;
    // A pack that is proved here or was: joined or further on. Groups that go into an old pack are proved with it.
    [[nodiscard]] bool at_prove(const Assembly& build) const;
    // Builds that want units, in the order in which they are to be served.
    [[nodiscard]] std::vector<const Assembly*> wanting() const;
    [[nodiscard]] std::string next_build_label() const; // "B-021"
    [[nodiscard]] const BuildTicks& ticks(Id build) const;
    [[nodiscard]] std::span<const Measurement> measurements(Id assembly) const; // oldest first

    [[nodiscard]] const Assembly* pack(Id id) const;
    [[nodiscard]] const Assembly* build(Id id) const;
    [[nodiscard]] const Assembly* assembly(Id id) const; // a pack or a build
    [[nodiscard]] const UnitState* unit(Id id) const;
    [[nodiscard]] const UnitState* unit_by_code(const UnitCode& code) const;
    // A whole code, or the last figures of one where they are unique among the units.
    [[nodiscard]] Result<Id> find_unit(const std::string& typed) const;
    [[nodiscard]] const Chemistry* chemistry_of(const UnitState& unit) const {
        return library_.chemistry(unit.facts.chemistry);
    }
    [[nodiscard]] const Chemistry* chemistry_of(const Assembly& assembly) const {
        return library_.chemistry(assembly.chemistry);
    }
    [[nodiscard]] bool pack_quarantined(Id pack) const;
    // The matched set that it belongs to and that nobody broke; 0: it is used by itself.
    [[nodiscard]] Id set_of(const UnitState& unit) const {
        return sets_.contains(unit.record.pack) ? unit.record.pack : 0;
    }
    // Matched sets with units in stock: those units.
    [[nodiscard]] std::map<Id, std::vector<Id>> sets_in_stock() const;
    // What speaks against using these units of the stock and no others: a matched set is used whole.
    [[nodiscard]] std::optional<Problem> breaks_a_set(const std::vector<Id>& units) const;
    // How much waits at each station.
    [[nodiscard]] std::array<int, station_count> waiting() const;
    [[nodiscard]] std::array<int, duty_count> duty_counts() const;

    // What is known of a pack now; kept until something is said of it or of what it exchanged contents with.
    [[nodiscard]] const PackCase& pack_case(Id pack) const;
    // Raised whenever something new is known of a pack.
    [[nodiscard]] std::int64_t revision(Id pack) const;

private:
    void load();
    void load_small();
    void load_assemblies();
    void load_units();
    void refresh_assembly(Id id);
    bool refresh_unit(Id id); // true: its model's siblings may be judged otherwise now
    void set_chemistry(UnitState& unit) const;
    void mark(UnitState& unit) const;
    void weigh_findings(UnitState& unit) const;
    bool set_age(UnitState& unit) const;
    static void hold_apart(UnitState& unit, const Quarantine& quarantine);
    void judge(UnitState& unit) const;
    void judge_model(const std::string& model);
    void judge_all();
    [[nodiscard]] UnitReference reference_for_unit(const UnitState& unit) const;
    UnitState* unit_at(Id id);
    [[nodiscard]] static const Assembly* assembly_in(const std::vector<Assembly>& rows, Id id);

    Session& session_;
    exchange::Library library_;
    RuleSet rules_;
    bool rules_changed_ = false;
    std::vector<Lot> lots_;
    std::vector<Assembly> packs_, builds_;
    std::map<Id, std::vector<Placement>> placements_;
    std::map<Id, BuildDesign> designs_;
    std::map<Id, BuildTicks> ticks_;
    std::map<Id, std::vector<Measurement>> measurements_; // of assemblies
    std::vector<UnitState> units_;
    std::unordered_map<Id, std::size_t> unit_index_;
    std::unordered_map<std::string, std::vector<std::size_t>> by_model_;
    std::map<std::string, UnitReference> siblings_;
    std::vector<Finding> findings_;
    std::vector<Quarantine> quarantines_;
    std::vector<PackNote> notes_;
    std::vector<Particular> particulars_;
    std::map<std::pair<Id, Id>, double> ages_; // by pack and unit, one of them 0: years, where it was said
    std::set<Id> sets_;                        // assemblies whose units are a matched set
    std::vector<Overrule> overrules_;
    std::unordered_map<Id, std::size_t> overrule_of_; // of a unit
    std::vector<Tray> trays_;
    std::map<Id, std::string> drawings_; // of strips
    std::map<Id, int> photo_counts_;
    mutable std::map<Id, PackCase> cases_;
    std::map<Id, std::int64_t> revisions_;
    std::int64_t loads_ = 0;
};

} // namespace ingot
