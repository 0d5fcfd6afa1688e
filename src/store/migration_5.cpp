// From version 4 to 5: what a person or an instrument said is a measurement, whatever it was said of; packs and builds
// are assemblies, with placements that say what stood where.
#include "core/measure/moment.h"
#include "store/schema.h"

#include <cstdlib>
#include <map>
#include <string>
#include <vector>

namespace ingot::store {

namespace {

const char* const new_tables_sql = R"sql(
-- What is known of an instrument; what is not known is not filled in.
CREATE TABLE instrument (
    id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, kind TEXT NOT NULL DEFAULT '',
    channels INTEGER NOT NULL DEFAULT 1 CHECK (channels > 0), volts_resolution REAL, amperes_resolution REAL,
    current_gain REAL, current_offset_a REAL, checked_at TEXT NOT NULL DEFAULT '');

-- A pack that came in (it has a lot), or one that is built here.
CREATE TABLE assembly (
    id INTEGER PRIMARY KEY, label TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('received', 'in-triage', 'to-open', 'under-repair', 'opened', 'refused',
        'planned', 'taken', 'given-up', 'joined', 'proved', 'in-service', 'returned', 'spent')),
    chemistry TEXT NOT NULL, series INTEGER NOT NULL CHECK (series > 0), parallel INTEGER NOT NULL CHECK (parallel > 0),
    cells_per_unit INTEGER NOT NULL DEFAULT 1 CHECK (cells_per_unit > 0),
    units_per_tap INTEGER NOT NULL DEFAULT 1 CHECK (units_per_tap > 0),
    lot_id INTEGER REFERENCES lot(id), model TEXT NOT NULL DEFAULT '', format TEXT NOT NULL DEFAULT '',
    shelf TEXT NOT NULL DEFAULT '', claimed_ah REAL, claimed_v REAL, gate_passed_at TEXT,
    way TEXT NOT NULL DEFAULT '', give_up REAL NOT NULL DEFAULT 0, rule_set TEXT NOT NULL DEFAULT '',
    created_at TEXT NOT NULL);
CREATE UNIQUE INDEX assembly_label ON assembly (label, lot_id IS NULL);

-- What stands in a place of an assembly, from when to when. place_no 0: the whole group, its units without a code.
CREATE TABLE placement (
    id INTEGER PRIMARY KEY, assembly_id INTEGER NOT NULL REFERENCES assembly(id), group_no INTEGER NOT NULL CHECK (group_no > 0),
    place_no INTEGER NOT NULL DEFAULT 0 CHECK (place_no >= 0), unit_id INTEGER REFERENCES unit(id),
    content_assembly_id INTEGER REFERENCES assembly(id), content_group_no INTEGER NOT NULL DEFAULT 0,
    is_origin INTEGER NOT NULL DEFAULT 0, since TEXT NOT NULL, until TEXT, why TEXT NOT NULL DEFAULT '',
    ended_why TEXT NOT NULL DEFAULT '', from_tray TEXT NOT NULL DEFAULT '', from_well INTEGER NOT NULL DEFAULT 0,
    taken_at TEXT, CHECK ((unit_id IS NULL) <> (content_assembly_id IS NULL)));
CREATE INDEX placement_of_assembly ON placement (assembly_id, group_no, place_no);
CREATE INDEX placement_of_unit ON placement (unit_id);
CREATE UNIQUE INDEX placement_origin ON placement (unit_id) WHERE is_origin = 1;
CREATE UNIQUE INDEX placement_stands ON placement (unit_id) WHERE until IS NULL AND unit_id IS NOT NULL;
CREATE UNIQUE INDEX place_taken ON placement (assembly_id, group_no, place_no) WHERE until IS NULL;

CREATE TABLE new_unit (
    id INTEGER PRIMARY KEY, roll TEXT NOT NULL, number INTEGER NOT NULL, model TEXT NOT NULL,
    tray TEXT NOT NULL DEFAULT '', well INTEGER NOT NULL DEFAULT 0, recycled_at TEXT, created_at TEXT NOT NULL,
    UNIQUE (roll, number));

-- Siblings that were read together.
CREATE TABLE round (
    id INTEGER PRIMARY KEY, assembly_id INTEGER REFERENCES assembly(id),
    condition TEXT NOT NULL CHECK (condition IN ('rest', 'end-of-charge', 'load', 'charge', 'stored')),
    room_c REAL, instrument_id INTEGER REFERENCES instrument(id), begun_at TEXT NOT NULL);

-- What an instrument or a person said of a unit, or of a place in an assembly (group_no 0: the terminals; place_no 0: the
-- whole group). Never changed.
CREATE TABLE measurement (
    id INTEGER PRIMARY KEY, unit_id INTEGER REFERENCES unit(id), assembly_id INTEGER REFERENCES assembly(id),
    group_no INTEGER NOT NULL DEFAULT 0, place_no INTEGER NOT NULL DEFAULT 0,
    quantity TEXT NOT NULL CHECK (quantity IN ('voltage', 'dc-resistance', 'ac-resistance', 'capacity', 'self-discharge',
        'temperature')),
    value REAL NOT NULL, resolution REAL, uncertainty REAL, instrument_id INTEGER REFERENCES instrument(id),
    protocol TEXT NOT NULL DEFAULT '',
    condition TEXT NOT NULL CHECK (condition IN ('rest', 'end-of-charge', 'load', 'charge', 'stored')),
    state_of_charge REAL, temperature_c REAL, charge_current_a REAL, discharge_current_a REAL, cutoff_v REAL,
    charged_to_v REAL, days_since_charge REAL, tray TEXT NOT NULL DEFAULT '', well INTEGER NOT NULL DEFAULT 0,
    model_version INTEGER, rule_set TEXT NOT NULL DEFAULT '', round_id INTEGER REFERENCES round(id),
    run_id INTEGER REFERENCES run(id), taken_at TEXT NOT NULL, recorded_at TEXT NOT NULL,
    CHECK ((assembly_id IS NULL) <> (unit_id IS NULL)));
CREATE TABLE new_strike (
    measurement_id INTEGER PRIMARY KEY REFERENCES measurement(id), reason TEXT NOT NULL CHECK (reason <> ''),
    struck_at TEXT NOT NULL);

CREATE TABLE new_look_finding (
    id INTEGER PRIMARY KEY, assembly_id INTEGER REFERENCES assembly(id), unit_id INTEGER REFERENCES unit(id),
    code TEXT NOT NULL, noted_at TEXT NOT NULL, struck_at TEXT, struck_reason TEXT,
    CHECK ((assembly_id IS NULL) <> (unit_id IS NULL)));
CREATE TABLE new_quarantine (
    id INTEGER PRIMARY KEY, assembly_id INTEGER REFERENCES assembly(id), unit_id INTEGER REFERENCES unit(id),
    reason TEXT NOT NULL, opened_at TEXT NOT NULL, closed_at TEXT, closing_reason TEXT,
    CHECK ((assembly_id IS NULL) <> (unit_id IS NULL)));
CREATE TABLE new_pack_note (
    id INTEGER PRIMARY KEY, assembly_id INTEGER NOT NULL REFERENCES assembly(id),
    kind TEXT NOT NULL CHECK (kind IN ('symptom', 'replaced', 'lead-swap', 'teardown')),
    group_no INTEGER NOT NULL DEFAULT 0, code TEXT NOT NULL DEFAULT '', noted_at TEXT NOT NULL, struck_at TEXT);
CREATE TABLE new_strip_drawing (
    assembly_id INTEGER PRIMARY KEY REFERENCES assembly(id), drawing TEXT NOT NULL, drawn_at TEXT NOT NULL);
CREATE TABLE new_photo (
    id INTEGER PRIMARY KEY, assembly_id INTEGER NOT NULL REFERENCES assembly(id), name TEXT NOT NULL,
    media_type TEXT NOT NULL, data BLOB NOT NULL CHECK (length(data) <= 8388608), added_at TEXT NOT NULL);

-- A run's steps, as the instrument said them. Times in s from its begin; unknown is NULL.
CREATE TABLE run_step (
    run_id INTEGER NOT NULL REFERENCES run(id), number INTEGER NOT NULL CHECK (number > 0),
    kind TEXT NOT NULL CHECK (kind IN ('charge', 'discharge', 'rest', 'pulse')), start_s REAL NOT NULL, end_s REAL NOT NULL,
    ended_by TEXT NOT NULL, as_meant INTEGER NOT NULL, charge_ah REAL, energy_wh REAL, start_v REAL, end_v REAL, mean_a REAL,
    hottest_c REAL, first_sample INTEGER NOT NULL DEFAULT 0, last_sample INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (run_id, number)) WITHOUT ROWID;
ALTER TABLE run ADD COLUMN began_at TEXT NOT NULL DEFAULT '';
ALTER TABLE run ADD COLUMN ended_at TEXT NOT NULL DEFAULT '';
)sql";

// Builds get identities after those of the packs.
const char* const copy_sql = R"sql(
INSERT INTO instrument (name) SELECT DISTINCT instrument FROM (
    SELECT instrument FROM reading UNION SELECT instrument FROM run) WHERE instrument NOT IN ('', 'moved');

INSERT INTO assembly (id, label, state, chemistry, series, parallel, cells_per_unit, lot_id, model, format, shelf, claimed_ah,
    claimed_v, gate_passed_at, created_at)
SELECT id, label, CASE stage WHEN 'receive' THEN 'received' WHEN 'triage' THEN 'in-triage' WHEN 'open' THEN 'to-open' ELSE stage
    END, chemistry, series, parallel, cells_per_unit, lot_id, model, format, shelf, claimed_ah, claimed_v, gate_passed_at,
    created_at FROM pack;
INSERT INTO assembly (id, label, state, chemistry, series, parallel, way, give_up, rule_set, created_at)
SELECT id + (SELECT coalesce(max(id), 0) FROM pack), label, CASE state WHEN 'taking' THEN 'planned' ELSE state END, chemistry,
    series, parallel, way, give_up, rule_set, created_at FROM build;

-- The contents of packs, group by group; those of opened packs came to an end when their units got codes.
INSERT INTO placement (assembly_id, group_no, content_assembly_id, content_group_no, since, why)
WITH RECURSIVE number (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM number WHERE n < (SELECT coalesce(max(series), 1) FROM pack))
SELECT pack.id, n, pack.id, n, pack.created_at, 'received' FROM pack JOIN number ON n <= pack.series;
UPDATE placement SET ended_why = 'opened', until = coalesce(
        (SELECT min(u.created_at) FROM unit u WHERE u.pack_id = placement.assembly_id),
        (SELECT p.created_at FROM pack p WHERE p.id = placement.assembly_id))
    WHERE assembly_id IN (SELECT id FROM pack WHERE stage = 'opened');
INSERT INTO placement (assembly_id, group_no, place_no, unit_id, is_origin, since, until, why, ended_why)
SELECT u.pack_id, max(1, u.group_no), u.place_no, u.id, 1, p.created_at, u.created_at, 'received', 'opened'
    FROM unit u JOIN pack p ON p.id = u.pack_id;
INSERT INTO placement (assembly_id, group_no, place_no, unit_id, since, until, why, ended_why, from_tray, from_well, taken_at)
SELECT b.id + (SELECT coalesce(max(id), 0) FROM pack), bu.group_no, bu.place_no, bu.unit_id, b.created_at,
    CASE WHEN b.state = 'given-up' THEN b.created_at END, 'reserved', CASE WHEN b.state = 'given-up' THEN 'given up' ELSE '' END,
    bu.from_tray, bu.from_well, bu.taken_at FROM build_unit bu JOIN build b ON b.id = bu.build_id;

INSERT INTO new_unit SELECT id, roll, number, model, tray, well, CASE WHEN state = 'recycled' THEN created_at END, created_at
    FROM unit;

INSERT INTO measurement (id, unit_id, assembly_id, group_no, quantity, value, uncertainty, instrument_id, protocol, condition,
    state_of_charge, temperature_c, charge_current_a, discharge_current_a, cutoff_v, charged_to_v, days_since_charge, tray, well,
    model_version, rule_set, run_id, taken_at, recorded_at)
SELECT r.id, unit_id, pack_id, group_no, quantity, value, uncertainty, i.id, protocol, condition, state_of_charge, temperature_c,
    charge_current_a, discharge_current_a, cutoff_v, charged_to_v, days_since_charge, tray, well, model_version, rule_set, run_id,
    taken_at, recorded_at FROM reading r LEFT JOIN instrument i ON i.name = r.instrument;
INSERT INTO new_strike SELECT reading_id, reason, struck_at FROM strike;
-- Nobody took these: an older Ingot wrote them when a group was moved.
INSERT OR IGNORE INTO new_strike SELECT id, 'written by an older Ingot when a group was moved; nobody took it', recorded_at
    FROM reading WHERE protocol = 'moved';
INSERT INTO measurement (assembly_id, group_no, place_no, quantity, value, condition, protocol, taken_at, recorded_at)
SELECT pack_id, group_no, place_no, quantity, value, CASE under_load WHEN 1 THEN 'load' ELSE 'rest' END, 'typed', taken_at, taken_at
    FROM inside_group ORDER BY id;

INSERT INTO new_look_finding SELECT id, pack_id, unit_id, code, noted_at, struck_at, struck_reason FROM look_finding;
INSERT INTO new_quarantine SELECT id, pack_id, unit_id, reason, opened_at, closed_at, closing_reason FROM quarantine;
INSERT INTO new_pack_note SELECT id, pack_id, kind, group_no, code, noted_at, struck_at FROM pack_note;
INSERT INTO new_strip_drawing SELECT pack_id, drawing, drawn_at FROM strip_drawing;
INSERT INTO new_photo SELECT id, pack_id, name, media_type, data, added_at FROM photo;
UPDATE run SET began_at = coalesce((SELECT started_at FROM bay_run b WHERE b.run_id = run.id), imported_at),
    ended_at = coalesce((SELECT CASE WHEN b.ended_at IS NULL THEN '' ELSE b.ended_at END FROM bay_run b WHERE b.run_id = run.id),
        imported_at);

DROP TABLE strike;
DROP TABLE reading;
DROP TABLE inside_group;
DROP TABLE build_unit;
DROP TABLE build;
DROP TABLE look_finding;
DROP TABLE quarantine;
DROP TABLE pack_note;
DROP TABLE strip_drawing;
DROP TABLE photo;
DROP TABLE unit;
DROP TABLE pack;
ALTER TABLE new_unit RENAME TO unit;
ALTER TABLE new_strike RENAME TO strike;
ALTER TABLE new_look_finding RENAME TO look_finding;
ALTER TABLE new_quarantine RENAME TO quarantine;
ALTER TABLE new_pack_note RENAME TO pack_note;
ALTER TABLE new_strip_drawing RENAME TO strip_drawing;
ALTER TABLE new_photo RENAME TO photo;
)sql";

// Indices for every question that a view asks, and rules that keep each word as it was given.
const char* const rules_sql = R"sql(
CREATE UNIQUE INDEX unit_home ON unit (tray, well) WHERE tray <> '' AND well > 0 AND recycled_at IS NULL;
CREATE INDEX unit_of_model ON unit (model);
CREATE INDEX measurement_of_unit ON measurement (unit_id) WHERE unit_id IS NOT NULL;
CREATE INDEX measurement_of_assembly ON measurement (assembly_id) WHERE assembly_id IS NOT NULL;
CREATE INDEX measurement_of_run ON measurement (run_id) WHERE run_id IS NOT NULL;
CREATE INDEX run_of_unit ON run (unit_id);
CREATE INDEX photo_of_assembly ON photo (assembly_id);
CREATE INDEX note_of_assembly ON pack_note (assembly_id, id);
CREATE INDEX finding_of_unit ON look_finding (unit_id) WHERE unit_id IS NOT NULL;
CREATE INDEX finding_of_assembly ON look_finding (assembly_id) WHERE assembly_id IS NOT NULL;
CREATE INDEX quarantine_of_unit ON quarantine (unit_id) WHERE unit_id IS NOT NULL;
CREATE INDEX overrule_of_unit ON overrule (unit_id);
CREATE INDEX event_of_subject ON event (subject);

CREATE TRIGGER measurement_is_immutable BEFORE UPDATE ON measurement
    BEGIN SELECT RAISE(ABORT, 'a measurement is never changed; strike it out'); END;
CREATE TRIGGER measurement_stays BEFORE DELETE ON measurement
    BEGIN SELECT RAISE(ABORT, 'a measurement is never deleted; strike it out'); END;
CREATE TRIGGER strike_is_immutable BEFORE UPDATE ON strike BEGIN SELECT RAISE(ABORT, 'a strike-out is never changed'); END;
CREATE TRIGGER strike_stays BEFORE DELETE ON strike BEGIN SELECT RAISE(ABORT, 'a strike-out is never deleted'); END;
CREATE TRIGGER placement_only_ends BEFORE UPDATE OF id, assembly_id, group_no, place_no, unit_id, content_assembly_id,
    content_group_no, is_origin, since, why, from_tray, from_well ON placement
    BEGIN SELECT RAISE(ABORT, 'a placement ends; it is never changed'); END;
CREATE TRIGGER placement_ends_once BEFORE UPDATE OF until, ended_why ON placement WHEN OLD.until IS NOT NULL
    BEGIN SELECT RAISE(ABORT, 'a placement ends once'); END;
CREATE TRIGGER placement_stays BEFORE DELETE ON placement BEGIN SELECT RAISE(ABORT, 'a placement is never deleted'); END;
CREATE TRIGGER run_step_is_immutable BEFORE UPDATE ON run_step BEGIN SELECT RAISE(ABORT, 'a run''s step is never changed'); END;
CREATE TRIGGER run_step_stays BEFORE DELETE ON run_step BEGIN SELECT RAISE(ABORT, 'a run''s step is never deleted'); END;
CREATE TRIGGER run_stays BEFORE DELETE ON run BEGIN SELECT RAISE(ABORT, 'a run is never deleted'); END;
CREATE TRIGGER cycle_is_immutable BEFORE UPDATE ON cycle BEGIN SELECT RAISE(ABORT, 'a cycle is never changed'); END;
CREATE TRIGGER cycle_stays BEFORE DELETE ON cycle BEGIN SELECT RAISE(ABORT, 'a cycle is never deleted'); END;
CREATE TRIGGER finding_stays BEFORE DELETE ON look_finding
    BEGIN SELECT RAISE(ABORT, 'a finding is never deleted; strike it out'); END;
CREATE TRIGGER quarantine_stays BEFORE DELETE ON quarantine BEGIN SELECT RAISE(ABORT, 'a quarantine is never deleted'); END;
CREATE TRIGGER note_stays BEFORE DELETE ON pack_note BEGIN SELECT RAISE(ABORT, 'a note is never deleted; strike it out'); END;
CREATE TRIGGER overrule_stays BEFORE DELETE ON overrule BEGIN SELECT RAISE(ABORT, 'an overrule is never deleted'); END;
)sql";

// One form for all moments, so that their texts sort as they do. What cannot be read as a moment was taken, at the
// latest, when it was recorded.
void normalise_moments(SQLite::Database& database) {
    std::vector<std::pair<std::int64_t, std::string>> wrong;
    SQLite::Statement all(database, "SELECT id, taken_at, recorded_at FROM measurement");
    while (all.executeStep()) {
        const std::string taken = all.getColumn(1).getString();
        const std::string right =
            normal_moment(taken).value_or(normal_moment(all.getColumn(2).getString()).value_or(taken));
        if (right != taken)
            wrong.emplace_back(all.getColumn(0).getInt64(), right);
    }
    SQLite::Statement mend(database, "UPDATE measurement SET taken_at = ? WHERE id = ?");
    for (const auto& [id, moment] : wrong) {
        mend.reset();
        mend.bind(1, moment);
        mend.bind(2, id);
        mend.exec();
    }
}

// "group 3 of MOW-07 pack 1 to place 2": a donor's group that was moved is a placement that ends there and begins here.
void place_moved_groups(SQLite::Database& database) {
    struct Move {
        std::string at, from, into;
        int group = 0, place = 0;
    };
    std::vector<Move> moves;
    SQLite::Statement events(database, "SELECT at, subject, detail FROM event WHERE what = 'group moved' ORDER BY id");
    while (events.executeStep()) {
        const std::string detail = events.getColumn(2).getString();
        const auto of = detail.find(" of ");
        const auto to = detail.rfind(" to place ");
        constexpr std::size_t before_number = 6; // "group "
        if (detail.rfind("group ", 0) != 0 || of == std::string::npos || to == std::string::npos || to < of)
            continue;
        Move move;
        move.at = events.getColumn(0).getString();
        move.into = events.getColumn(1).getString();
        move.from = detail.substr(of + 4, to - of - 4);
        move.group = std::atoi(detail.c_str() + before_number);
        move.place = std::atoi(detail.c_str() + to + 10);
        moves.push_back(std::move(move));
    }
    const auto pack_of = [&](const std::string& label) {
        SQLite::Statement s(database, "SELECT id FROM assembly WHERE label = ? AND lot_id IS NOT NULL");
        s.bind(1, label);
        return s.executeStep() ? s.getColumn(0).getInt64() : 0;
    };
    for (const Move& move : moves) {
        const auto from = pack_of(move.from);
        const auto into = pack_of(move.into);
        SQLite::Statement stands(
            database, "SELECT content_assembly_id, content_group_no FROM placement WHERE assembly_id = ? AND "
                      "group_no = ? AND place_no = 0 AND until IS NULL");
        stands.bind(1, from);
        stands.bind(2, move.group);
        if (from == 0 || into == 0 || !stands.executeStep())
            continue;
        const auto content = stands.getColumn(0).getInt64();
        const int content_group = stands.getColumn(1).getInt();
        SQLite::Statement end(
            database, "UPDATE placement SET until = ?, ended_why = ? WHERE assembly_id = ? AND group_no = ? AND "
                      "place_no = 0 AND until IS NULL");
        for (const auto& [assembly, group, why] :
             {std::tuple{from, move.group, "moved to another pack"}, std::tuple{into, move.place, "replaced"}}) {
            end.reset();
            end.bind(1, move.at);
            end.bind(2, why);
            end.bind(3, assembly);
            end.bind(4, group);
            end.exec();
        }
        SQLite::Statement begin(database,
                                "INSERT INTO placement (assembly_id, group_no, content_assembly_id, content_group_no, "
                                "since, why) VALUES (?, ?, ?, ?, ?, 'moved from another pack')");
        begin.bind(1, into);
        begin.bind(2, move.place);
        begin.bind(3, content);
        begin.bind(4, content_group);
        begin.bind(5, move.at);
        begin.exec();
    }
}

} // namespace

void migrate_to_5(SQLite::Database& database) {
    database.exec(new_tables_sql);
    database.exec(copy_sql);
    normalise_moments(database);
    place_moved_groups(database);
    database.exec(rules_sql);
}

} // namespace ingot::store
