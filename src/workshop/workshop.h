// A shop's workshop: its library, packs, units, readings and builds, and everything a shop does with them. Window and
// command line use this and nothing below it. Readings are durable before a call returns; one signal tells the views.
#pragma once

#include "core/build/joining.h"
#include "core/cells/strip_drawing.h"
#include "core/donors/donors.h"
#include "core/match/problem.h"
#include "core/measure/resistance.h"
#include "core/sort/duty.h"
#include "core/triage/explain.h"
#include "core/triage/groups.h"
#include "core/triage/ways.h"
#include "core/worth/worth.h"
#include "exchange/library_toml.h"
#include "exchange/log_csv.h"
#include "exchange/records_csv.h"
#include "store/records.h"

#include <QDateTime>
#include <QObject>

#include <array>
#include <functional>
#include <map>
#include <memory>
#include <unordered_map>

namespace ingot {

using store::Id;

enum class Station { receive, triage, open, test, sort, match, build };
inline constexpr int station_count = 7;

// A unit with what is known and what was judged.
struct UnitState {
    store::UnitRecord record;
    UnitFacts facts;
    UnitReference reference;
    Verdict verdict;
    bool quarantined = false;
    std::vector<std::string> findings;
    [[nodiscard]] std::string code() const { return record.code.text(); }
    [[nodiscard]] bool in_stock() const { return record.state == "stock"; }
};

struct GroupReadings {
    std::map<int, double> by_group; // 1-based; 0 = terminals
};

// Under load the current (positive, A); after storage the days, else they are counted from the last reading at rest.
struct RoundConditions {
    std::optional<double> load_a;
    std::optional<double> days;
    bool reversed = false; // a minus is meant: it was typed twice
};

// One line of a build sheet.
struct BuildLine {
    int group = 0, place = 0;
    Id unit = 0;
    std::string code, model, tray;
    int well = 0;
    std::optional<double> capacity_ah, resistance_ohm, leak_ah_per_day, voltage_v;
    bool taken = false;
};
struct BuildSheet {
    store::BuildRecord build;
    std::vector<BuildLine> lines;
    std::vector<JoinCheck> joining; // per group, in order
    JoinCheck worst;                // the group with the largest difference
    std::vector<double> group_capacity_ah;
    int taken = 0;
};

// How much of what was opened is fit for use.
enum class YieldBy { lot, source, model };
struct Yield {
    std::string of;
    int units = 0, usable = 0, scrap = 0, undecided = 0; // usable: Drive, Store or Light
};

// What goes to recycling: by chemistry, the damaged apart.
struct ManifestLine {
    std::string chemistry; // as shown
    bool damaged = false;  // a finding that asks for quarantine stands on it
    int units = 0;
    double mass_kg = 0;
    int without_mass = 0; // units whose model has no mass in the library
};

struct PoolFilter {
    std::string chemistry;
    std::string model; // empty: any
    std::string tray;  // empty: any
    std::vector<Duty> duties;
};

class Workshop : public QObject {
    Q_OBJECT
public:
    using Clock = std::function<QDateTime()>;

    // Where the shipped data/ and demo/ folders are: INGOT_DATA_DIR, beside the program, or the source tree.
    [[nodiscard]] static std::string shipped_folder(const std::string& name);
    [[nodiscard]] static Result<std::unique_ptr<Workshop>> create(const std::string& path, const std::string& name);
    [[nodiscard]] static Result<std::unique_ptr<Workshop>> open(const std::string& path);

    void set_clock(Clock clock) { clock_ = std::move(clock); }
    [[nodiscard]] std::string now() const; // ISO 8601, UTC

    [[nodiscard]] const std::string& path() const { return file_->path(); }
    [[nodiscard]] std::string name() const { return name_; }
    [[nodiscard]] store::Access access() const { return file_->access(); }
    [[nodiscard]] bool writable() const { return access() == store::Access::writing; }
    [[nodiscard]] const exchange::Library& library() const { return library_; }
    // A protocol or a teardown plan as a shop wrote it, as the next version, in a file of its own. Refused with file
    // and line where it cannot be read, and with the reason where a protocol is dangerous. The text that was kept.
    Result<std::string> save_protocol(const std::string& text);
    Result<std::string> save_teardown_plan(const std::string& text);
    [[nodiscard]] store::Records& records() const { return records_; }

    [[nodiscard]] const std::vector<store::LotRecord>& lots() const { return lots_; }
    [[nodiscard]] const std::vector<store::PackRecord>& packs() const { return packs_; }
    [[nodiscard]] const std::vector<UnitState>& units() const { return units_; }
    [[nodiscard]] const std::vector<store::BuildRecord>& builds() const { return builds_; }
    [[nodiscard]] std::vector<store::QuarantineRecord> open_quarantines() const;
    [[nodiscard]] const store::PackRecord* pack(Id id) const;
    [[nodiscard]] const UnitState* unit(Id id) const;
    [[nodiscard]] const UnitState* unit_by_code(const UnitCode& code) const;
    // A whole code, or the last figures of one where they are unique among the units.
    [[nodiscard]] Result<Id> find_unit(const std::string& typed) const;
    [[nodiscard]] const store::BuildRecord* build(Id id) const;
    [[nodiscard]] std::array<int, station_count> waiting() const;
    [[nodiscard]] std::string subject_of(const store::QuarantineRecord& quarantine) const;

    // --- Receive ---
    Result<Id> add_lot(const store::LotRecord& lot);
    Result<Id> add_pack(store::PackRecord pack);
    [[nodiscard]] std::vector<ClaimFinding> objections(const store::PackRecord& pack) const;
    [[nodiscard]] bool needs_gate(const store::PackRecord& pack) const;
    [[nodiscard]] bool gate_closed(const store::PackRecord& pack) const {
        return needs_gate(pack) && pack.gate_passed_at.empty();
    }
    Result<bool> pass_gate(Id pack);
    Result<bool> note_finding(Id pack, Id unit, const std::string& code);
    Result<bool> strike_finding(Id pack, Id unit, const std::string& code, const std::string& reason);
    [[nodiscard]] std::vector<std::string> findings_of_pack(Id pack) const;
    Result<bool> close_quarantine(Id quarantine, const std::string& reason);
    [[nodiscard]] bool pack_quarantined(Id pack) const;
    // Moves a pack on; says why when it may not.
    Result<bool> set_stage(Id pack, const std::string& stage);

    // Is it worth it? The pack's own facts with the shop's prices, hours, outlook and weights, which are remembered.
    [[nodiscard]] WorthCase worth_case(Id pack) const;
    Result<bool> remember_worth(const WorthCase& worth);

    // --- Triage ---
    Result<Id> record_group_reading(Id pack, int group, double volts, Condition condition,
                                    const std::string& instrument, const RoundConditions& conditions = {});
    // Readings from a file (long form or snapshot), all or nothing; how many were recorded.
    Result<int> import_group_readings(Id pack, const std::string& text, const std::string& file);
    [[nodiscard]] std::vector<std::string> symptoms_of_pack(Id pack) const;
    Result<bool> note_symptom(Id pack, const std::string& id, bool present);
    Result<bool> note_replaced(Id pack, int group);
    Result<bool> note_lead_swap(Id pack, int group, bool moved);
    // Voltages of single units of a group whose links are cut, by place; a blank is not read. All or nothing.
    Result<bool> note_unit_voltages(Id pack, int group, const std::vector<std::optional<double>>& volts);
    Result<bool> note_temperature(Id pack, int group, double celsius, bool under_load);
    // What a full discharge of the group alone gave.
    Result<bool> note_group_capacity(Id pack, int group, double capacity_ah);
    [[nodiscard]] std::map<int, double> group_capacities(Id pack) const; // Ah, by group
    // A donor's group takes the place of a bad one: its last reading at rest and its capacity go with it, the
    // donor's place reads empty.
    Result<bool> move_group(Id from, int group, Id into, int place);
    [[nodiscard]] TriageCase triage_case(Id pack) const;
    // What explains the readings; kept until something new is known.
    [[nodiscard]] const Explained& explained(Id pack) const;
    // Whether explained() answers at once; else the case may be explained elsewhere and handed back, unless something
    // new became known meanwhile.
    [[nodiscard]] bool explained_at_hand(Id pack) const { return explained_.contains(pack); }
    [[nodiscard]] int known_revision(Id pack) const;
    void keep_explained(Id pack, int revision, Explained explained);
    [[nodiscard]] std::vector<Way> ways(Id pack) const;
    [[nodiscard]] std::optional<double> days_since_rest(Id pack) const;
    [[nodiscard]] GroupReadings group_readings(Id pack, Condition condition) const;
    [[nodiscard]] TriageResult triage(Id pack) const;
    [[nodiscard]] double largest_group_voltage(const store::PackRecord& pack) const;

    // --- Open ---
    // Makes the units of a whole pack: codes on `roll` from the next free number, homes from the first free wells of
    // `tray`.
    Result<std::vector<Id>> open_pack(Id pack, const std::string& roll, const std::string& model,
                                      const std::string& tray);
    [[nodiscard]] int next_number(const std::string& roll) { return records_.largest_unit_number(roll) + 1; }
    Result<bool> set_home(Id unit, const std::string& tray, int well);
    // Into the first free well of a tray; the well.
    Result<int> put_in_tray(Id unit, const std::string& tray);
    [[nodiscard]] store::TrayRecord tray(const std::string& name) const; // 10 by 10 where nobody said otherwise
    [[nodiscard]] std::vector<std::string> tray_names() const;
    Result<bool> set_tray_size(const std::string& name, int columns, int rows);
    Result<bool> set_unit_model(Id unit, const std::string& model);
    // Straight to recycling, with the look findings that stand on it.
    Result<bool> recycle_unit(Id unit);
    [[nodiscard]] const exchange::TeardownPlan* teardown_plan(const store::PackRecord& pack) const;
    [[nodiscard]] bool step_done(Id pack, const std::string& step) const;
    Result<bool> tick_step(Id pack, const std::string& step, bool done);
    // As it was found; the usual one where nothing is drawn yet.
    [[nodiscard]] StripDrawing strip_drawing(Id pack) const;
    [[nodiscard]] bool strips_drawn(Id pack) const { return drawings_.contains(pack); }
    [[nodiscard]] int photo_count(Id pack) const;
    Result<bool> keep_strip_drawing(Id pack, const StripDrawing& drawing);
    Result<Id> attach_photo(Id pack, const std::string& file, const std::string& bytes);
    [[nodiscard]] std::vector<Yield> yields(YieldBy by) const;
    [[nodiscard]] std::vector<ManifestLine> recycling_manifest() const;
    [[nodiscard]] static std::string manifest_csv(const std::vector<ManifestLine>& manifest);

    // --- Test ---
    Result<Id> record_reading(Id unit, const Measurement& reading, const std::string& taken_at = {});
    Result<bool> strike_reading(Id reading, const std::string& reason);
    // Stores the run and, if the log holds them, the capacity of a complete discharge and the DC resistance as
    // readings. All or nothing.
    Result<Id> import_log(Id unit, const exchange::ImportedLog& log, const CapacityResult& result,
                          const std::string& file, const std::string& instrument,
                          const ResistanceResult& resistance = {});

    // What a run on a bay has shown: readings and cycles, all or nothing.
    Result<bool> record_concluded(Id unit, const std::vector<Measurement>& readings,
                                  const std::vector<store::CycleRecord>& cycles, Id run);
    // A step of the bench that touches nothing that is judged.
    Result<bool> record_step(const std::function<void()>& work) { return guarded_step(work, touched_nothing); }
    Result<bool> open_unit_quarantine(Id unit, const std::string& reason);

    // --- Sort ---
    [[nodiscard]] const RuleSet& rules() const { return rules_; }
    void try_rules(const RuleSet& rules); // takes effect at once, is not saved
    Result<bool> save_rules();            // as the next version
    [[nodiscard]] bool rules_changed() const { return rules_changed_; }
    [[nodiscard]] std::array<int, duty_count> duty_counts() const;
    Result<bool> overrule(Id unit, Duty duty, const std::string& reason);
    Result<bool> withdraw_overrule(Id unit);

    // --- Match ---
    [[nodiscard]] std::vector<Id> pool(const PoolFilter& filter) const;
    [[nodiscard]] MatchProblem problem_for(const std::vector<Id>& units) const;

    // --- Build ---
    // `groups` holds unit ids. Refuses more than one chemistry, quarantined or reserved units.
    Result<Id> reserve(int series, int parallel, const std::vector<std::vector<Id>>& groups, MatchWay way,
                       double give_up);
    [[nodiscard]] BuildSheet sheet(Id build) const;
    // The unit that was scanned while taking units for a build; a wrong one is refused with the reason.
    Result<BuildLine> take(Id build, Id unit);
    Result<bool> put_back(Id build, Id unit);
    Result<bool> give_up_build(Id build);
    [[nodiscard]] static std::string sheet_csv(const BuildSheet& sheet);

    // Brings in a folder of open files (lots, packs, units, readings, builds, logs). All or nothing.
    Result<bool> import_folder(const std::string& folder);

signals:
    void changed();

private:
    Workshop(std::unique_ptr<store::WorkshopFile> file, exchange::Library library);
    void load();
    void load_packs();
    void load_units();
    void load_readings();
    void apply_reading(const store::ReadingFact& reading);
    Result<bool> keep_library_text(const std::string& kind, const std::string& name, int version,
                                   const std::string& text);
    Result<bool> note_inside(const std::vector<store::InsideRecord>& read);
    [[nodiscard]] std::vector<store::InsideRecord> inside_of(Id pack) const;
    [[nodiscard]] std::optional<Problem> objection_to_capacity(const store::PackRecord& pack, double capacity_ah) const;
    void forget_explanation(Id pack);
    void judge(UnitState& unit);
    void judge_all();
    void prepare_references();
    Result<Id> note(Id pack, const std::string& kind, int group, const std::string& code);
    [[nodiscard]] std::optional<Problem> objection_to_group_reading(const store::PackRecord& pack, int group,
                                                                    double volts, Condition condition,
                                                                    bool reversed) const;
    // What a step changes, and so what is read again after it: everything, or what costs next to nothing (packs, lots,
    // findings, quarantines, notes, trays, builds) and single units. Nothing: the caller brings its own part up to date
    // and says so.
    struct Touched {
        bool everything = false, packs = false;
        std::vector<Id> units;
        [[nodiscard]] bool nothing() const { return !everything && !packs && units.empty(); }
    };
    static const Touched touched_nothing, touched_packs, touched_everything;
    [[nodiscard]] static Touched touched_unit(Id unit) { return {false, true, {unit}}; }
    void read_again(const Touched& touched);
    void mark(UnitState& unit); // with its findings and quarantines
    void set_model(UnitState& unit);
    Result<Id> guarded(const std::function<Id()>& work, const Touched& touched = touched_everything);
    Result<bool> guarded_step(const std::function<void()>& work, const Touched& touched = touched_everything);
    std::optional<Problem> read_only_problem() const;
    UnitState* unit_at(Id id);

    std::unique_ptr<store::WorkshopFile> file_;
    mutable store::Records records_;
    exchange::Library library_;
    RuleSet rules_;
    bool rules_changed_ = false;
    std::string name_;
    Clock clock_ = [] { return QDateTime::currentDateTimeUtc(); };
    std::vector<store::LotRecord> lots_;
    std::vector<store::PackRecord> packs_;
    std::vector<UnitState> units_;
    std::unordered_map<Id, std::size_t> unit_index_;
    std::vector<store::FindingRecord> findings_;
    std::vector<store::QuarantineRecord> quarantines_;
    std::vector<store::OverruleRecord> overrules_;
    std::vector<store::BuildRecord> builds_;
    std::map<std::string, UnitReference> references_; // for models that the library does not know
    std::map<Id, std::map<Condition, GroupReadings>> group_readings_;
    std::map<Id, std::vector<store::ReadingFact>> pack_readings_; // oldest first
    std::vector<store::PackNoteRecord> notes_;
    std::vector<store::TrayRecord> trays_;
    std::vector<store::InsideRecord> inside_;
    std::map<Id, std::string> drawings_; // of strips, by pack
    std::map<Id, int> photo_counts_;
    mutable std::map<Id, Explained> explained_;
    std::map<Id, int> revisions_; // raised whenever something new is known of a pack
    int load_count_ = 0;
    WorthCase worth_; // the shop's prices and hours; the pack's part is not used
};

} // namespace ingot
