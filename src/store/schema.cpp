#include "store/schema.h"

#include <fmt/format.h>

#include <string>
#include <utility>

namespace ingot::store {

namespace {

const char* const version_1_sql = R"sql(
CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;

-- What the workshop was made with and edits: the texts of the library's files. A higher version replaces, nothing is lost.
CREATE TABLE library_text (
    kind TEXT NOT NULL, name TEXT NOT NULL, version INTEGER NOT NULL, text TEXT NOT NULL,
    PRIMARY KEY (kind, name, version)) WITHOUT ROWID;

CREATE TABLE lot (
    id INTEGER PRIMARY KEY, label TEXT NOT NULL UNIQUE, source TEXT NOT NULL DEFAULT '',
    received TEXT NOT NULL DEFAULT '', cost REAL, note TEXT NOT NULL DEFAULT '');

CREATE TABLE pack (
    id INTEGER PRIMARY KEY, lot_id INTEGER NOT NULL REFERENCES lot(id), label TEXT NOT NULL UNIQUE,
    chemistry TEXT NOT NULL, model TEXT NOT NULL DEFAULT '', format TEXT NOT NULL DEFAULT '',
    series INTEGER NOT NULL CHECK (series > 0), parallel INTEGER NOT NULL CHECK (parallel > 0),
    cells_per_unit INTEGER NOT NULL DEFAULT 1 CHECK (cells_per_unit > 0),
    claimed_ah REAL, claimed_v REAL, shelf TEXT NOT NULL DEFAULT '',
    stage TEXT NOT NULL CHECK (stage IN ('receive', 'triage', 'open', 'opened', 'refused')),
    gate_passed_at TEXT, created_at TEXT NOT NULL);

CREATE TABLE unit (
    id INTEGER PRIMARY KEY, roll TEXT NOT NULL, number INTEGER NOT NULL,
    pack_id INTEGER REFERENCES pack(id), group_no INTEGER NOT NULL DEFAULT 0, place_no INTEGER NOT NULL DEFAULT 0,
    model TEXT NOT NULL, tray TEXT NOT NULL DEFAULT '', well INTEGER NOT NULL DEFAULT 0,
    state TEXT NOT NULL DEFAULT 'stock' CHECK (state IN ('stock', 'reserved', 'built', 'recycled')),
    created_at TEXT NOT NULL, UNIQUE (roll, number));
CREATE UNIQUE INDEX unit_home ON unit (tray, well) WHERE tray <> '' AND well > 0 AND state IN ('stock', 'reserved');

-- A look finding on a pack or a unit. Struck out, never deleted.
CREATE TABLE look_finding (
    id INTEGER PRIMARY KEY, pack_id INTEGER REFERENCES pack(id), unit_id INTEGER REFERENCES unit(id),
    code TEXT NOT NULL, noted_at TEXT NOT NULL, struck_at TEXT, struck_reason TEXT,
    CHECK ((pack_id IS NULL) <> (unit_id IS NULL)));

CREATE TABLE quarantine (
    id INTEGER PRIMARY KEY, pack_id INTEGER REFERENCES pack(id), unit_id INTEGER REFERENCES unit(id),
    reason TEXT NOT NULL, opened_at TEXT NOT NULL, closed_at TEXT, closing_reason TEXT,
    CHECK ((pack_id IS NULL) <> (unit_id IS NULL)));

-- A run is a log of samples; its chunks hold the packed samples. Readings are what is concluded from it.
CREATE TABLE run (
    id INTEGER PRIMARY KEY, unit_id INTEGER REFERENCES unit(id), file TEXT NOT NULL, instrument TEXT NOT NULL DEFAULT '',
    protocol TEXT NOT NULL DEFAULT '', samples INTEGER NOT NULL, has_temperature INTEGER NOT NULL, imported_at TEXT NOT NULL);
CREATE TABLE run_chunk (
    run_id INTEGER NOT NULL REFERENCES run(id), sequence INTEGER NOT NULL, samples INTEGER NOT NULL, data BLOB NOT NULL,
    PRIMARY KEY (run_id, sequence)) WITHOUT ROWID;

-- A reading of a unit, or of a pack's group (group_no 0: the terminals). Immutable.
CREATE TABLE reading (
    id INTEGER PRIMARY KEY, unit_id INTEGER REFERENCES unit(id), pack_id INTEGER REFERENCES pack(id),
    group_no INTEGER NOT NULL DEFAULT 0, quantity TEXT NOT NULL, value REAL NOT NULL, uncertainty REAL,
    instrument TEXT NOT NULL DEFAULT '', protocol TEXT NOT NULL DEFAULT '', protocol_version INTEGER,
    condition TEXT NOT NULL DEFAULT 'rest', state_of_charge REAL, temperature_c REAL,
    charge_current_a REAL, discharge_current_a REAL, cutoff_v REAL, charged_to_v REAL, days_since_charge REAL,
    tray TEXT NOT NULL DEFAULT '', well INTEGER NOT NULL DEFAULT 0,
    model_version INTEGER, rule_set TEXT NOT NULL DEFAULT '', run_id INTEGER REFERENCES run(id),
    taken_at TEXT NOT NULL, recorded_at TEXT NOT NULL,
    CHECK ((pack_id IS NULL) <> (unit_id IS NULL)));
CREATE INDEX reading_of_unit ON reading (unit_id, quantity, id);
CREATE INDEX reading_of_pack ON reading (pack_id, id);
CREATE TABLE strike (
    reading_id INTEGER PRIMARY KEY REFERENCES reading(id), reason TEXT NOT NULL CHECK (reason <> ''), struck_at TEXT NOT NULL);

CREATE TABLE overrule (
    id INTEGER PRIMARY KEY, unit_id INTEGER NOT NULL REFERENCES unit(id), from_duty TEXT NOT NULL, duty TEXT NOT NULL,
    reason TEXT NOT NULL CHECK (reason <> ''), rule_set TEXT NOT NULL, made_at TEXT NOT NULL, withdrawn_at TEXT);

CREATE TABLE build (
    id INTEGER PRIMARY KEY, label TEXT NOT NULL UNIQUE, chemistry TEXT NOT NULL, series INTEGER NOT NULL,
    parallel INTEGER NOT NULL, way TEXT NOT NULL DEFAULT '', give_up REAL NOT NULL DEFAULT 0, rule_set TEXT NOT NULL DEFAULT '',
    state TEXT NOT NULL DEFAULT 'taking' CHECK (state IN ('taking', 'taken', 'given-up')), created_at TEXT NOT NULL);
CREATE TABLE build_unit (
    build_id INTEGER NOT NULL REFERENCES build(id), group_no INTEGER NOT NULL, place_no INTEGER NOT NULL,
    unit_id INTEGER NOT NULL REFERENCES unit(id), from_tray TEXT NOT NULL DEFAULT '', from_well INTEGER NOT NULL DEFAULT 0,
    taken_at TEXT, PRIMARY KEY (build_id, group_no, place_no), UNIQUE (build_id, unit_id)) WITHOUT ROWID;

-- What was done when, in order; never changed.
CREATE TABLE event (id INTEGER PRIMARY KEY, at TEXT NOT NULL, what TEXT NOT NULL, subject TEXT NOT NULL, detail TEXT NOT NULL DEFAULT '');

CREATE TRIGGER reading_is_immutable BEFORE UPDATE ON reading BEGIN SELECT RAISE(ABORT, 'a reading is never changed; strike it out'); END;
CREATE TRIGGER reading_stays BEFORE DELETE ON reading BEGIN SELECT RAISE(ABORT, 'a reading is never deleted; strike it out'); END;
CREATE TRIGGER strike_is_immutable BEFORE UPDATE ON strike BEGIN SELECT RAISE(ABORT, 'a strike-out is never changed'); END;
CREATE TRIGGER strike_stays BEFORE DELETE ON strike BEGIN SELECT RAISE(ABORT, 'a strike-out is never deleted'); END;
CREATE TRIGGER event_is_immutable BEFORE UPDATE ON event BEGIN SELECT RAISE(ABORT, 'an event is never changed'); END;
CREATE TRIGGER event_stays BEFORE DELETE ON event BEGIN SELECT RAISE(ABORT, 'an event is never deleted'); END;
)sql";

const char* const version_2_sql = R"sql(
-- What is said or done about a pack beside its readings: a symptom, a unit replaced, a lead swapped, a step of the
-- teardown plan ticked. Struck out, never deleted.
CREATE TABLE pack_note (
    id INTEGER PRIMARY KEY, pack_id INTEGER NOT NULL REFERENCES pack(id),
    kind TEXT NOT NULL CHECK (kind IN ('symptom', 'replaced', 'lead-swap', 'teardown')),
    group_no INTEGER NOT NULL DEFAULT 0, code TEXT NOT NULL DEFAULT '', noted_at TEXT NOT NULL, struck_at TEXT);
CREATE INDEX note_of_pack ON pack_note (pack_id, id);

-- How a pack's groups are joined, as it was found: JSON, see docs/formats/workshop.md.
CREATE TABLE strip_drawing (pack_id INTEGER PRIMARY KEY REFERENCES pack(id), drawing TEXT NOT NULL, drawn_at TEXT NOT NULL);

CREATE TABLE photo (
    id INTEGER PRIMARY KEY, pack_id INTEGER NOT NULL REFERENCES pack(id), name TEXT NOT NULL, media_type TEXT NOT NULL,
    data BLOB NOT NULL CHECK (length(data) <= 8388608), added_at TEXT NOT NULL);

CREATE TABLE tray (name TEXT PRIMARY KEY, columns INTEGER NOT NULL CHECK (columns > 0), rows INTEGER NOT NULL CHECK (rows > 0)) WITHOUT ROWID;
)sql";

const char* const version_3_sql = R"sql(
-- A run on a bay of a tester: the protocol it follows (the text as it was), where it stands, how it ended. One row per
-- run that was begun from here; imported logs have none.
CREATE TABLE bay_run (
    run_id INTEGER PRIMARY KEY REFERENCES run(id), tester TEXT NOT NULL, bay INTEGER NOT NULL CHECK (bay > 0),
    protocol TEXT NOT NULL, protocol_version INTEGER NOT NULL, protocol_text TEXT NOT NULL,
    step INTEGER NOT NULL, loops TEXT NOT NULL DEFAULT '',
    state TEXT NOT NULL CHECK (state IN ('running', 'done', 'stopped', 'lifted')), stop TEXT NOT NULL DEFAULT '',
    last_sequence INTEGER NOT NULL DEFAULT 0, began_s REAL, holes INTEGER NOT NULL DEFAULT 0,
    started_at TEXT NOT NULL, ended_at TEXT, lifted_at TEXT);
CREATE INDEX bay_run_open ON bay_run (tester, bay) WHERE state <> 'lifted';

-- Discharges of a unit that is being cycled, in order; concluded from its runs.
CREATE TABLE cycle (
    run_id INTEGER NOT NULL REFERENCES run(id), number INTEGER NOT NULL, unit_id INTEGER NOT NULL REFERENCES unit(id),
    capacity_ah REAL NOT NULL, energy_wh REAL NOT NULL, charge_ah REAL, stop TEXT NOT NULL DEFAULT '',
    is_full INTEGER NOT NULL, taken_at TEXT NOT NULL, PRIMARY KEY (run_id, number)) WITHOUT ROWID;
CREATE INDEX cycle_of_unit ON cycle (unit_id);

-- Read inside a group: the voltage of a single unit whose links are cut (place_no from 1), or the group's temperature
-- (place_no 0). Never changed; the newest counts.
CREATE TABLE inside_group (
    id INTEGER PRIMARY KEY, pack_id INTEGER NOT NULL REFERENCES pack(id), group_no INTEGER NOT NULL,
    place_no INTEGER NOT NULL, quantity TEXT NOT NULL CHECK (quantity IN ('voltage', 'temperature')), value REAL NOT NULL,
    under_load INTEGER NOT NULL DEFAULT 0, taken_at TEXT NOT NULL);
CREATE INDEX inside_group_of_pack ON inside_group (pack_id, id);

-- What waits for a bay, and what the person insisted on.
CREATE TABLE bay_queue (
    unit_id INTEGER PRIMARY KEY REFERENCES unit(id), protocol TEXT NOT NULL, row_name TEXT NOT NULL DEFAULT '',
    position INTEGER, due_at TEXT, insisted_at TEXT, insisted_bay INTEGER);
)sql";

const char* const version_4_sql = R"sql(
-- Inside a group also the group's own capacity is kept (place_no 0).
CREATE TABLE inside_group_widened (
    id INTEGER PRIMARY KEY, pack_id INTEGER NOT NULL REFERENCES pack(id), group_no INTEGER NOT NULL,
    place_no INTEGER NOT NULL, quantity TEXT NOT NULL CHECK (quantity IN ('voltage', 'temperature', 'capacity')),
    value REAL NOT NULL, under_load INTEGER NOT NULL DEFAULT 0, taken_at TEXT NOT NULL);
INSERT INTO inside_group_widened SELECT id, pack_id, group_no, place_no, quantity, value, under_load, taken_at
    FROM inside_group;
DROP TABLE inside_group;
ALTER TABLE inside_group_widened RENAME TO inside_group;
CREATE INDEX inside_group_of_pack ON inside_group (pack_id, id);
)sql";

const char* const version_6_sql = R"sql(
-- What a person knows of a pack or a unit that no instrument says. The newest of a kind counts; an empty value takes it
-- back. Never changed.
CREATE TABLE particular (
    id INTEGER PRIMARY KEY, assembly_id INTEGER REFERENCES assembly(id), unit_id INTEGER REFERENCES unit(id),
    kind TEXT NOT NULL CHECK (kind IN ('device', 'charger', 'board', 'age', 'cycles', 'repairs', 'price', 'words', 'note',
        'true-cause', 'mass')),
    value TEXT NOT NULL, noted_at TEXT NOT NULL, CHECK ((assembly_id IS NULL) <> (unit_id IS NULL)));
CREATE INDEX particular_of_assembly ON particular (assembly_id, kind, id);
CREATE INDEX particular_of_unit ON particular (unit_id, kind, id);
CREATE TRIGGER particular_is_immutable BEFORE UPDATE ON particular
    BEGIN SELECT RAISE(ABORT, 'a particular is never changed; a newer one counts'); END;
CREATE TRIGGER particular_stays BEFORE DELETE ON particular
    BEGIN SELECT RAISE(ABORT, 'a particular is never deleted; a newer one counts'); END;
)sql";

const char* const version_7_sql = R"sql(
-- What a build is designed with, figure by figure. The newest of a figure counts; an empty value takes it back. Never
-- changed.
CREATE TABLE design_figure (
    id INTEGER PRIMARY KEY, assembly_id INTEGER NOT NULL REFERENCES assembly(id), figure TEXT NOT NULL,
    value TEXT NOT NULL, noted_at TEXT NOT NULL);
CREATE INDEX figure_of_design ON design_figure (assembly_id, figure, id);
CREATE TRIGGER design_figure_is_immutable BEFORE UPDATE ON design_figure
    BEGIN SELECT RAISE(ABORT, 'a figure of a design is never changed; a newer one counts'); END;
CREATE TRIGGER design_figure_stays BEFORE DELETE ON design_figure
    BEGIN SELECT RAISE(ABORT, 'a figure of a design is never deleted; a newer one counts'); END;

-- The steps of a build, ticked item by item (from 1). The newest of an item counts; not done takes it back.
CREATE TABLE build_tick (
    id INTEGER PRIMARY KEY, assembly_id INTEGER NOT NULL REFERENCES assembly(id), task TEXT NOT NULL,
    item INTEGER NOT NULL CHECK (item > 0), done INTEGER NOT NULL CHECK (done IN (0, 1)), noted_at TEXT NOT NULL);
CREATE INDEX tick_of_build ON build_tick (assembly_id, id);
CREATE TRIGGER build_tick_is_immutable BEFORE UPDATE ON build_tick
    BEGIN SELECT RAISE(ABORT, 'a tick is never changed; a newer one counts'); END;
CREATE TRIGGER build_tick_stays BEFORE DELETE ON build_tick
    BEGIN SELECT RAISE(ABORT, 'a tick is never deleted; a newer one counts'); END;
)sql";

const char* const version_8_sql = R"sql(
-- A run on the terminals of an assembly, or on several units in series: unit_id is the first of these, the others follow
-- from position 2 on.
ALTER TABLE run ADD COLUMN assembly_id INTEGER REFERENCES assembly(id);
CREATE INDEX run_of_assembly ON run (assembly_id) WHERE assembly_id IS NOT NULL;
CREATE TABLE run_behind (
    run_id INTEGER NOT NULL REFERENCES run(id), position INTEGER NOT NULL CHECK (position > 1),
    unit_id INTEGER NOT NULL REFERENCES unit(id), PRIMARY KEY (run_id, position)) WITHOUT ROWID;
CREATE INDEX run_behind_unit ON run_behind (unit_id);
CREATE TRIGGER run_behind_is_immutable BEFORE UPDATE ON run_behind
    BEGIN SELECT RAISE(ABORT, 'what stood in a run is never changed'); END;
CREATE TRIGGER run_behind_stays BEFORE DELETE ON run_behind
    BEGIN SELECT RAISE(ABORT, 'what stood in a run is never deleted'); END;
)sql";

const char* const version_9_sql = R"sql(
-- What a person says in the proof of a joined pack: an answer, a round that is left out with its reason, a round that is
-- signed. The newest about a thing counts; an empty value takes it back. Never changed.
CREATE TABLE proof_note (
    id INTEGER PRIMARY KEY, assembly_id INTEGER NOT NULL REFERENCES assembly(id),
    kind TEXT NOT NULL CHECK (kind IN ('answer', 'left-out', 'signed')), about TEXT NOT NULL, value TEXT NOT NULL,
    noted_at TEXT NOT NULL);
CREATE INDEX proof_note_of_assembly ON proof_note (assembly_id, id);
CREATE TRIGGER proof_note_is_immutable BEFORE UPDATE ON proof_note
    BEGIN SELECT RAISE(ABORT, 'a note of a proof is never changed; a newer one counts'); END;
CREATE TRIGGER proof_note_stays BEFORE DELETE ON proof_note
    BEGIN SELECT RAISE(ABORT, 'a note of a proof is never deleted; a newer one counts'); END;
)sql";

// Makes the table of particulars anew with what `kind` may hold, and everything that is in it.
std::string particulars_of(const std::string& kinds) {
    return fmt::format(R"sql(
CREATE TABLE particular_widened (
    id INTEGER PRIMARY KEY, assembly_id INTEGER REFERENCES assembly(id), unit_id INTEGER REFERENCES unit(id),
    kind TEXT NOT NULL CHECK (kind IN ({})),
    value TEXT NOT NULL, noted_at TEXT NOT NULL, CHECK ((assembly_id IS NULL) <> (unit_id IS NULL)));
INSERT INTO particular_widened SELECT id, assembly_id, unit_id, kind, value, noted_at FROM particular;
DROP TRIGGER particular_is_immutable;
DROP TRIGGER particular_stays;
DROP TABLE particular;
ALTER TABLE particular_widened RENAME TO particular;
CREATE INDEX particular_of_assembly ON particular (assembly_id, kind, id);
CREATE INDEX particular_of_unit ON particular (unit_id, kind, id);
CREATE TRIGGER particular_is_immutable BEFORE UPDATE ON particular
    BEGIN SELECT RAISE(ABORT, 'a particular is never changed; a newer one counts'); END;
CREATE TRIGGER particular_stays BEFORE DELETE ON particular
    BEGIN SELECT RAISE(ABORT, 'a particular is never deleted; a newer one counts'); END;
)sql",
                       kinds);
}

// Makes the table of measurements anew with what `quantity` may hold, and everything that is in it.
std::string measurements_of(const std::string& quantities) {
    return fmt::format(R"sql(
CREATE TABLE measurement_widened (
    id INTEGER PRIMARY KEY, unit_id INTEGER REFERENCES unit(id), assembly_id INTEGER REFERENCES assembly(id),
    group_no INTEGER NOT NULL DEFAULT 0, place_no INTEGER NOT NULL DEFAULT 0,
    quantity TEXT NOT NULL CHECK (quantity IN ({})),
    value REAL NOT NULL, resolution REAL, uncertainty REAL, instrument_id INTEGER REFERENCES instrument(id),
    protocol TEXT NOT NULL DEFAULT '',
    condition TEXT NOT NULL CHECK (condition IN ('rest', 'end-of-charge', 'load', 'charge', 'stored')),
    state_of_charge REAL, temperature_c REAL, charge_current_a REAL, discharge_current_a REAL, cutoff_v REAL,
    charged_to_v REAL, days_since_charge REAL, tray TEXT NOT NULL DEFAULT '', well INTEGER NOT NULL DEFAULT 0,
    model_version INTEGER, rule_set TEXT NOT NULL DEFAULT '', round_id INTEGER REFERENCES round(id),
    run_id INTEGER REFERENCES run(id), taken_at TEXT NOT NULL, recorded_at TEXT NOT NULL,
    CHECK ((assembly_id IS NULL) <> (unit_id IS NULL)));
INSERT INTO measurement_widened SELECT id, unit_id, assembly_id, group_no, place_no, quantity, value, resolution, uncertainty,
    instrument_id, protocol, condition, state_of_charge, temperature_c, charge_current_a, discharge_current_a, cutoff_v,
    charged_to_v, days_since_charge, tray, well, model_version, rule_set, round_id, run_id, taken_at, recorded_at
    FROM measurement;
DROP TRIGGER measurement_is_immutable;
DROP TRIGGER measurement_stays;
DROP TABLE measurement;
ALTER TABLE measurement_widened RENAME TO measurement;
CREATE INDEX measurement_of_unit ON measurement (unit_id) WHERE unit_id IS NOT NULL;
CREATE INDEX measurement_of_assembly ON measurement (assembly_id) WHERE assembly_id IS NOT NULL;
CREATE INDEX measurement_of_run ON measurement (run_id) WHERE run_id IS NOT NULL;
CREATE TRIGGER measurement_is_immutable BEFORE UPDATE ON measurement
    BEGIN SELECT RAISE(ABORT, 'a measurement is never changed; strike it out'); END;
CREATE TRIGGER measurement_stays BEFORE DELETE ON measurement
    BEGIN SELECT RAISE(ABORT, 'a measurement is never deleted; strike it out'); END;
)sql",
                       quantities);
}

// What a job on a pack took is known of it too.
constexpr const char* particulars_8 = "'device', 'charger', 'board', 'age', 'cycles', 'repairs', 'price', 'words', "
                                      "'note', 'true-cause', 'mass', 'hours'";
// Units may be a matched set, and a pack holds more than units.
constexpr const char* particulars_10 = "'device', 'charger', 'board', 'age', 'cycles', 'repairs', 'price', 'words', "
                                       "'note', 'true-cause', 'mass', 'hours', 'matched-set', 'parts-found'";
// A resistance may be of a method that the instrument does not say.
constexpr const char* quantities_8 = "'voltage', 'dc-resistance', 'ac-resistance', 'resistance', 'capacity', "
                                     "'self-discharge', 'temperature'";
// What a finished pack is proved by besides.
constexpr const char* quantities_9 = "'voltage', 'dc-resistance', 'ac-resistance', 'resistance', 'capacity', "
                                     "'self-discharge', 'temperature', 'insulation', 'sensor', 'duration'";

Migration text(std::string sql) {
    return [sql = std::move(sql)](SQLite::Database& database) { database.exec(sql); };
}

} // namespace

const std::array<Migration, schema_version>& migrations() {
    static const std::array<Migration, schema_version> all{
        text(version_1_sql),
        text(version_2_sql),
        text(version_3_sql),
        text(version_4_sql),
        migrate_to_5,
        text(version_6_sql),
        text(version_7_sql),
        text(version_8_sql + particulars_of(particulars_8) + measurements_of(quantities_8)),
        text(version_9_sql + measurements_of(quantities_9)),
        text(particulars_of(particulars_10))};
    return all;
}

} // namespace ingot::store
