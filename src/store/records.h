// Rows of the workshop file and the statements that write them. Each function that records something commits its own
// transaction before it returns; inside `together` several become one. Throws SQLite::Exception (full disk, lost file).
#pragma once

#include "core/cells/claim.h"
#include "core/cells/unit_code.h"
#include "core/measure/capacity.h"
#include "core/measure/measurement.h"
#include "store/workshop_file.h"

#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot::store {

using Id = std::int64_t;

struct LotRecord {
    Id id = 0;
    std::string label, source, received, note;
    std::optional<double> cost;
};
struct PackRecord {
    Id id = 0;
    Id lot_id = 0;
    std::string label, chemistry, model, format, shelf, stage;
    PackLayout layout;
    PackClaim claim;
    std::string gate_passed_at; // empty: not passed
    std::string created_at;
};
struct UnitRecord {
    Id id = 0;
    UnitCode code;
    Id pack_id = 0; // 0 = unknown origin
    int group = 0;
    int place = 0;
    std::string model, tray, state;
    int well = 0;
};
struct FindingRecord {
    Id id = 0;
    Id pack_id = 0, unit_id = 0;
    std::string code, noted_at, struck_at;
};
struct QuarantineRecord {
    Id id = 0;
    Id pack_id = 0, unit_id = 0;
    std::string reason, opened_at, closed_at, closing_reason;
};
struct ReadingRecord {
    Id id = 0;
    Id unit_id = 0, pack_id = 0;
    int group = 0;
    Measurement reading;
    std::string tray;
    int well = 0;
    std::optional<int> model_version;
    std::string rule_set;
    Id run_id = 0;
    std::string taken_at, recorded_at;
    std::string struck_reason; // empty: stands
};
// What a verdict needs of a reading: a few columns, so that thousands load at once.
struct ReadingFact {
    Id unit_id = 0, pack_id = 0;
    int group = 0;
    Quantity quantity = Quantity::voltage;
    Condition condition = Condition::rest;
    double value = 0;
    std::optional<double> uncertainty;
    std::optional<double> discharge_current_a, days; // days: of a stored reading, since the one at rest
    std::string taken_at;                            // of a pack's readings only
};
// A symptom, a replaced unit, a swapped lead or a ticked step of the teardown plan.
struct PackNoteRecord {
    Id id = 0;
    Id pack_id = 0;
    std::string kind; // symptom, replaced, lead-swap, teardown
    int group = 0;
    std::string code; // symptom's or step's id; moved or stayed
    std::string noted_at;
};
// A single unit's voltage inside a group, or the group's temperature or capacity (place 0).
struct InsideRecord {
    Id pack_id = 0;
    int group = 0, place = 0;
    Quantity quantity = Quantity::voltage;
    double value = 0;
    bool under_load = false;
    std::string taken_at;
};
struct PhotoRecord {
    Id id = 0;
    Id pack_id = 0;
    std::string name, media_type, added_at;
    std::string data; // empty in lists
};
struct TrayRecord {
    std::string name;
    int columns = 0, rows = 0;
};
struct OverruleRecord {
    Id id = 0;
    Id unit_id = 0;
    std::string from_duty, duty, reason, rule_set, made_at;
};
struct BuildUnitRecord {
    int group = 0, place = 0;
    Id unit_id = 0;
    std::string from_tray, taken_at;
    int from_well = 0;
};
struct BuildRecord {
    Id id = 0;
    std::string label, chemistry, way, rule_set, state, created_at;
    int series = 1, parallel = 1;
    double give_up = 0;
    std::vector<BuildUnitRecord> units;
};
struct EventRecord {
    std::string at, what, subject, detail;
};
struct RunRecord {
    Id id = 0;
    Id unit_id = 0;
    std::string file, instrument, protocol, imported_at;
    std::int64_t samples = 0;
};

// A run on a bay of a tester.
struct BayRunRecord {
    Id run_id = 0, unit_id = 0;
    std::string tester;
    int bay = 0;
    std::string protocol, protocol_text;
    int protocol_version = 1;
    int step = 0;
    std::string loops; // how often each loop was run, comma separated
    std::string state; // running, done, stopped, lifted
    std::string stop;  // the step end or limit that ended it
    std::uint64_t last_sequence = 0;
    std::optional<double> began_s; // of the tester's clock
    int holes = 0;
    std::string started_at, ended_at, lifted_at;
};
struct CycleRecord {
    Id run_id = 0, unit_id = 0;
    int number = 0; // within the run
    double capacity_ah = 0, energy_wh = 0;
    std::optional<double> charge_ah;
    std::string stop;
    bool full = true;
    std::string taken_at;
};
struct QueueRecord {
    Id unit_id = 0;
    std::string protocol, row;
    std::optional<int> position;
    std::string due_at, insisted_at; // empty: none
    std::optional<int> insisted_bay;
};

class Records {
public:
    explicit Records(WorkshopFile& file) : database_(file.database()) {}

    // All or nothing, in one transaction; an exception undoes everything.
    void together(const std::function<void()>& work);

    void set_meta(const std::string& key, const std::string& value);
    [[nodiscard]] std::string meta(const std::string& key);
    void add_library_text(const std::string& kind, const std::string& name, int version, const std::string& text);
    struct LibraryRow {
        std::string kind, name, text;
        int version = 1;
    };
    [[nodiscard]] std::vector<LibraryRow> library_texts(); // newest version of each

    Id add(const LotRecord& lot);
    Id add(const PackRecord& pack);
    Id add(const UnitRecord& unit, const std::string& now);
    Id add(const ReadingRecord& reading);
    Id add(const BuildRecord& build);
    Id add(const OverruleRecord& overrule);
    void add(const EventRecord& event);
    Id add(const PackNoteRecord& note);
    void strike_note(Id note, const std::string& now);
    void add(const InsideRecord& inside);
    [[nodiscard]] std::vector<InsideRecord> inside_groups(); // oldest first
    Id add(const PhotoRecord& photo);                        // at most largest_photo_bytes
    void set_tray(const TrayRecord& tray);
    void set_drawing(Id pack, const std::string& drawing, const std::string& now);
    Id add_finding(Id pack, Id unit, const std::string& code, const std::string& now);
    void strike_finding(Id finding, const std::string& reason, const std::string& now);
    Id open_quarantine(Id pack, Id unit, const std::string& reason, const std::string& now);
    void close_quarantine(Id quarantine, const std::string& reason, const std::string& now);
    void strike_reading(Id reading, const std::string& reason, const std::string& now);
    void withdraw_overrule(Id overrule, const std::string& now);
    void set_stage(Id pack, const std::string& stage);
    void pass_gate(Id pack, const std::string& now);
    void set_unit_state(Id unit, const std::string& state);
    void set_unit_model(Id unit, const std::string& model);
    void set_unit_home(Id unit, const std::string& tray, int well);
    void set_taken(Id build, Id unit, const std::string& now); // empty `now`: put back
    void set_build_state(Id build, const std::string& state);

    [[nodiscard]] std::vector<LotRecord> lots();
    [[nodiscard]] std::vector<PackRecord> packs();
    [[nodiscard]] std::vector<UnitRecord> units();
    [[nodiscard]] std::optional<UnitRecord> unit(Id id);
    [[nodiscard]] std::vector<FindingRecord> findings(); // that stand
    [[nodiscard]] std::vector<QuarantineRecord> quarantines();
    [[nodiscard]] std::vector<ReadingRecord> standing_readings();       // all that are not struck out, oldest first
    [[nodiscard]] std::vector<ReadingFact> standing_facts();            // the same, lean
    [[nodiscard]] std::vector<ReadingRecord> readings_of_unit(Id unit); // struck ones included, newest first
    // The newest capacity of each of so many other units of a model, with its conditions.
    [[nodiscard]] std::vector<Measurement> newest_capacities_of_model(const std::string& model, std::size_t most,
                                                                      Id but_unit);
    [[nodiscard]] std::vector<PackNoteRecord> pack_notes();         // that stand, oldest first
    [[nodiscard]] std::map<Id, int> photo_counts();                 // by pack
    [[nodiscard]] std::vector<PhotoRecord> photos_of_pack(Id pack); // without their data
    [[nodiscard]] std::string photo_data(Id photo);
    [[nodiscard]] std::vector<TrayRecord> trays();
    [[nodiscard]] std::map<Id, std::string> drawings();    // by pack
    [[nodiscard]] std::string drawing_of_pack(Id pack);    // empty: none
    [[nodiscard]] std::vector<OverruleRecord> overrules(); // that stand, oldest first
    [[nodiscard]] std::vector<BuildRecord> builds();
    [[nodiscard]] int largest_unit_number(const std::string& roll);
    [[nodiscard]] std::int64_t count(const std::string& table);

    // Samples, packed by columns and compressed, in chunks; see docs/formats/workshop.md.
    Id add_run(const RunRecord& run, const LogSamples& samples);
    [[nodiscard]] std::vector<RunRecord> runs_of_unit(Id unit);
    [[nodiscard]] LogSamples samples_of(Id run);
    // The newest runs of other units of a model, one each.
    [[nodiscard]] std::vector<Id> runs_of_model(const std::string& model, std::size_t most, Id but_unit);
    // Samples of a run that goes on, as another chunk. `last_sequence` is the tester's number of the last of them.
    void append_samples(Id run, const LogSamples& samples, std::uint64_t last_sequence);
    // Many small chunks become few.
    void pack_run(Id run);

    Id begin_bay_run(const RunRecord& run, const BayRunRecord& bay_run);
    void update(const BayRunRecord& bay_run);                // step, loops, state, stop, holes, times
    [[nodiscard]] std::vector<BayRunRecord> open_bay_runs(); // not lifted
    void add(const CycleRecord& cycle);
    [[nodiscard]] std::vector<CycleRecord> cycles(); // by unit, then run and number
    void set(const QueueRecord& waiting);
    void leave_queue(Id unit);
    [[nodiscard]] std::vector<QueueRecord> queue();

private:
    // A version 1 file that may not be written lacks the later tables.
    [[nodiscard]] bool has(const char* table);
    void add_chunks(Id run, int sequence, const LogSamples& samples);

    SQLite::Database& database_;
    int depth_ = 0;
};

} // namespace ingot::store
