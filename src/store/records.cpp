#include "store/records.h"

#include "store/statement.h"

namespace ingot::store {

namespace {

// 0 means "none" in the records and NULL in the file.
void bind_id(SQLite::Statement& statement, int at, Id id) {
    if (id != 0)
        statement.bind(at, static_cast<std::int64_t>(id));
    else
        statement.bind(at);
}
std::optional<double> optional_number(const SQLite::Column& column) {
    return column.isNull() ? std::nullopt : std::optional<double>(column.getDouble());
}

ReadingRecord reading_at(SQLite::Statement& row) {
    ReadingRecord r;
    r.id = row.getColumn(0).getInt64();
    r.unit_id = row.getColumn(1).getInt64();
    r.pack_id = row.getColumn(2).getInt64();
    r.group = row.getColumn(3).getInt();
    r.reading.quantity = quantity_from(row.getColumn(4).getString()).value_or(Quantity::voltage);
    r.reading.value = row.getColumn(5).getDouble();
    r.reading.uncertainty = optional_number(row.getColumn(6));
    r.reading.instrument = row.getColumn(7).getString();
    r.reading.protocol = row.getColumn(8).getString();
    r.reading.conditions.condition = condition_from(row.getColumn(9).getString()).value_or(Condition::rest);
    r.reading.conditions.state_of_charge = optional_number(row.getColumn(10));
    r.reading.conditions.temperature_c = optional_number(row.getColumn(11));
    r.reading.conditions.charge_current_a = optional_number(row.getColumn(12));
    r.reading.conditions.discharge_current_a = optional_number(row.getColumn(13));
    r.reading.conditions.cutoff_v = optional_number(row.getColumn(14));
    r.reading.conditions.charged_to_v = optional_number(row.getColumn(15));
    r.reading.conditions.days_since_charge = optional_number(row.getColumn(16));
    r.tray = row.getColumn(17).getString();
    r.well = row.getColumn(18).getInt();
    r.run_id = row.getColumn(19).getInt64();
    r.taken_at = row.getColumn(20).getString();
    r.recorded_at = row.getColumn(21).getString();
    r.struck_reason = row.getColumn(22).getString();
    return r;
}

constexpr const char* reading_columns =
    "SELECT r.id, unit_id, pack_id, group_no, quantity, value, uncertainty, instrument, protocol, condition, "
    "state_of_charge, "
    "temperature_c, charge_current_a, discharge_current_a, cutoff_v, charged_to_v, days_since_charge, tray, well, "
    "run_id, "
    "taken_at, recorded_at, coalesce(s.reason, '') FROM reading r LEFT JOIN strike s ON s.reading_id = r.id ";

constexpr const char* unit_columns =
    "SELECT id, roll, number, coalesce(pack_id, 0), group_no, place_no, model, tray, state, well FROM unit";

UnitRecord unit_row(SQLite::Statement& s) {
    return {s.getColumn(0).getInt64(),
            {s.getColumn(1), s.getColumn(2).getInt()},
            s.getColumn(3).getInt64(),
            s.getColumn(4).getInt(),
            s.getColumn(5).getInt(),
            s.getColumn(6),
            s.getColumn(7),
            s.getColumn(8),
            s.getColumn(9).getInt()};
}

} // namespace

void Records::together(const std::function<void()>& work) {
    if (depth_ > 0) { // already inside one
        work();
        return;
    }
    SQLite::Transaction transaction(database_, SQLite::TransactionBehavior::IMMEDIATE);
    ++depth_;
    try {
        work();
    } catch (...) {
        --depth_;
        throw;
    }
    --depth_;
    transaction.commit();
}

void Records::set_meta(const std::string& key, const std::string& value) {
    run(database_, "INSERT INTO meta VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value", key, value);
}

std::string Records::meta(const std::string& key) {
    SQLite::Statement s(database_, "SELECT value FROM meta WHERE key = ?");
    s.bind(1, key);
    return s.executeStep() ? s.getColumn(0).getString() : std::string();
}

void Records::add_library_text(const std::string& kind, const std::string& name, int version, const std::string& text) {
    run(database_, "INSERT INTO library_text VALUES (?, ?, ?, ?)", kind, name, version, text);
}

std::vector<Records::LibraryRow> Records::library_texts() {
    SQLite::Statement s(
        database_, "SELECT kind, name, text, max(version) FROM library_text GROUP BY kind, name ORDER BY kind, name");
    std::vector<LibraryRow> rows;
    while (s.executeStep())
        rows.push_back({s.getColumn(0), s.getColumn(1), s.getColumn(2), s.getColumn(3).getInt()});
    return rows;
}

Id Records::add(const LotRecord& lot) {
    SQLite::Statement s(database_, "INSERT INTO lot (label, source, received, cost, note) VALUES (?, ?, ?, ?, ?)");
    s.bind(1, lot.label);
    s.bind(2, lot.source);
    s.bind(3, lot.received);
    bind_value(s, 4, lot.cost);
    s.bind(5, lot.note);
    s.exec();
    return database_.getLastInsertRowid();
}

Id Records::add(const PackRecord& pack) {
    SQLite::Statement s(
        database_,
        "INSERT INTO pack (lot_id, label, chemistry, model, format, series, parallel, cells_per_unit, claimed_ah, "
        "claimed_v, shelf, stage, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    bind_id(s, 1, pack.lot_id);
    s.bind(2, pack.label);
    s.bind(3, pack.chemistry);
    s.bind(4, pack.model);
    s.bind(5, pack.format);
    s.bind(6, pack.layout.series);
    s.bind(7, pack.layout.parallel);
    s.bind(8, pack.layout.cells_per_unit);
    bind_value(s, 9, pack.claim.capacity_ah);
    bind_value(s, 10, pack.claim.voltage_v);
    s.bind(11, pack.shelf);
    s.bind(12, pack.stage);
    s.bind(13, pack.created_at);
    s.exec();
    return database_.getLastInsertRowid();
}

Id Records::add(const UnitRecord& unit, const std::string& now) {
    SQLite::Statement s(
        database_, "INSERT INTO unit (roll, number, pack_id, group_no, place_no, model, tray, well, state, created_at) "
                   "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    s.bind(1, unit.code.roll);
    s.bind(2, unit.code.number);
    bind_id(s, 3, unit.pack_id);
    s.bind(4, unit.group);
    s.bind(5, unit.place);
    s.bind(6, unit.model);
    s.bind(7, unit.tray);
    s.bind(8, unit.well);
    s.bind(9, unit.state.empty() ? "stock" : unit.state);
    s.bind(10, now);
    s.exec();
    return database_.getLastInsertRowid();
}

Id Records::add(const ReadingRecord& r) {
    SQLite::Statement s(
        database_,
        "INSERT INTO reading (unit_id, pack_id, group_no, quantity, value, uncertainty, instrument, protocol, "
        "condition, state_of_charge, temperature_c, charge_current_a, discharge_current_a, cutoff_v, charged_to_v, "
        "days_since_charge, tray, well, model_version, rule_set, run_id, taken_at, recorded_at) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    const Conditions& c = r.reading.conditions;
    bind_id(s, 1, r.unit_id);
    bind_id(s, 2, r.pack_id);
    s.bind(3, r.group);
    s.bind(4, code(r.reading.quantity));
    s.bind(5, r.reading.value);
    bind_value(s, 6, r.reading.uncertainty);
    s.bind(7, r.reading.instrument);
    s.bind(8, r.reading.protocol);
    s.bind(9, code(c.condition));
    bind_value(s, 10, c.state_of_charge);
    bind_value(s, 11, c.temperature_c);
    bind_value(s, 12, c.charge_current_a);
    bind_value(s, 13, c.discharge_current_a);
    bind_value(s, 14, c.cutoff_v);
    bind_value(s, 15, c.charged_to_v);
    bind_value(s, 16, c.days_since_charge);
    s.bind(17, r.tray);
    s.bind(18, r.well);
    bind_value(s, 19, r.model_version);
    s.bind(20, r.rule_set);
    bind_id(s, 21, r.run_id);
    s.bind(22, r.taken_at);
    s.bind(23, r.recorded_at);
    s.exec();
    return database_.getLastInsertRowid();
}

Id Records::add(const BuildRecord& build) {
    Id id = 0;
    together([&] {
        SQLite::Statement s(
            database_, "INSERT INTO build (label, chemistry, series, parallel, way, give_up, rule_set, created_at) "
                       "VALUES (?, ?, ?, ?, ?, ?, ?, ?)");
        s.bind(1, build.label);
        s.bind(2, build.chemistry);
        s.bind(3, build.series);
        s.bind(4, build.parallel);
        s.bind(5, build.way);
        s.bind(6, build.give_up);
        s.bind(7, build.rule_set);
        s.bind(8, build.created_at);
        s.exec();
        id = database_.getLastInsertRowid();
        SQLite::Statement u(
            database_, "INSERT INTO build_unit (build_id, group_no, place_no, unit_id, from_tray, from_well) VALUES "
                       "(?, ?, ?, ?, ?, ?)");
        for (const BuildUnitRecord& unit : build.units) {
            u.reset();
            u.bind(1, static_cast<std::int64_t>(id));
            u.bind(2, unit.group);
            u.bind(3, unit.place);
            u.bind(4, static_cast<std::int64_t>(unit.unit_id));
            u.bind(5, unit.from_tray);
            u.bind(6, unit.from_well);
            u.exec();
            set_unit_state(unit.unit_id, "reserved");
        }
    });
    return id;
}

Id Records::add(const OverruleRecord& overrule) {
    Id id = 0;
    together([&] {
        SQLite::Statement old(database_,
                              "UPDATE overrule SET withdrawn_at = ? WHERE unit_id = ? AND withdrawn_at IS NULL");
        old.bind(1, overrule.made_at);
        old.bind(2, static_cast<std::int64_t>(overrule.unit_id));
        old.exec();
        SQLite::Statement s(
            database_,
            "INSERT INTO overrule (unit_id, from_duty, duty, reason, rule_set, made_at) VALUES (?, ?, ?, ?, ?, ?)");
        s.bind(1, static_cast<std::int64_t>(overrule.unit_id));
        s.bind(2, overrule.from_duty);
        s.bind(3, overrule.duty);
        s.bind(4, overrule.reason);
        s.bind(5, overrule.rule_set);
        s.bind(6, overrule.made_at);
        s.exec();
        id = database_.getLastInsertRowid();
    });
    return id;
}

void Records::add(const EventRecord& event) {
    SQLite::Statement s(database_, "INSERT INTO event (at, what, subject, detail) VALUES (?, ?, ?, ?)");
    s.bind(1, event.at);
    s.bind(2, event.what);
    s.bind(3, event.subject);
    s.bind(4, event.detail);
    s.exec();
}

Id Records::add_finding(Id pack, Id unit, const std::string& code, const std::string& now) {
    SQLite::Statement s(database_, "INSERT INTO look_finding (pack_id, unit_id, code, noted_at) VALUES (?, ?, ?, ?)");
    bind_id(s, 1, pack);
    bind_id(s, 2, unit);
    s.bind(3, code);
    s.bind(4, now);
    s.exec();
    return database_.getLastInsertRowid();
}

void Records::strike_finding(Id finding, const std::string& reason, const std::string& now) {
    run(database_, "UPDATE look_finding SET struck_at = ?, struck_reason = ? WHERE id = ?", now, reason, finding);
}

Id Records::open_quarantine(Id pack, Id unit, const std::string& reason, const std::string& now) {
    SQLite::Statement s(database_, "INSERT INTO quarantine (pack_id, unit_id, reason, opened_at) VALUES (?, ?, ?, ?)");
    bind_id(s, 1, pack);
    bind_id(s, 2, unit);
    s.bind(3, reason);
    s.bind(4, now);
    s.exec();
    return database_.getLastInsertRowid();
}

void Records::close_quarantine(Id quarantine, const std::string& reason, const std::string& now) {
    run(database_, "UPDATE quarantine SET closed_at = ?, closing_reason = ? WHERE id = ? AND closed_at IS NULL", now,
        reason, quarantine);
}

void Records::strike_reading(Id reading, const std::string& reason, const std::string& now) {
    run(database_, "INSERT INTO strike VALUES (?, ?, ?)", reading, reason, now);
}

void Records::withdraw_overrule(Id overrule, const std::string& now) {
    run(database_, "UPDATE overrule SET withdrawn_at = ? WHERE id = ?", now, overrule);
}

void Records::set_stage(Id pack, const std::string& stage) {
    run(database_, "UPDATE pack SET stage = ? WHERE id = ?", stage, pack);
}

void Records::pass_gate(Id pack, const std::string& now) {
    run(database_, "UPDATE pack SET gate_passed_at = ? WHERE id = ?", now, pack);
}

void Records::set_unit_state(Id unit, const std::string& state) {
    run(database_, "UPDATE unit SET state = ? WHERE id = ?", state, unit);
}

void Records::set_unit_model(Id unit, const std::string& model) {
    run(database_, "UPDATE unit SET model = ? WHERE id = ?", model, unit);
}

void Records::set_unit_home(Id unit, const std::string& tray, int well) {
    run(database_, "UPDATE unit SET tray = ?, well = ? WHERE id = ?", tray, well, unit);
}

void Records::set_taken(Id build, Id unit, const std::string& now) {
    run(database_, "UPDATE build_unit SET taken_at = nullif(?, '') WHERE build_id = ? AND unit_id = ?", now, build,
        unit);
}

void Records::set_build_state(Id build, const std::string& state) {
    run(database_, "UPDATE build SET state = ? WHERE id = ?", state, build);
}

std::vector<LotRecord> Records::lots() {
    SQLite::Statement s(database_, "SELECT id, label, source, received, note, cost FROM lot ORDER BY id");
    std::vector<LotRecord> rows;
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), s.getColumn(1), s.getColumn(2), s.getColumn(3), s.getColumn(4),
                        optional_number(s.getColumn(5))});
    return rows;
}

std::vector<PackRecord> Records::packs() {
    SQLite::Statement s(
        database_,
        "SELECT id, lot_id, label, chemistry, model, format, shelf, stage, series, parallel, cells_per_unit, "
        "claimed_ah, claimed_v, coalesce(gate_passed_at, ''), created_at FROM pack ORDER BY id");
    std::vector<PackRecord> rows;
    while (s.executeStep()) {
        PackRecord p;
        p.id = s.getColumn(0).getInt64();
        p.lot_id = s.getColumn(1).getInt64();
        p.label = s.getColumn(2).getString();
        p.chemistry = s.getColumn(3).getString();
        p.model = s.getColumn(4).getString();
        p.format = s.getColumn(5).getString();
        p.shelf = s.getColumn(6).getString();
        p.stage = s.getColumn(7).getString();
        p.layout = {s.getColumn(8).getInt(), s.getColumn(9).getInt(), s.getColumn(10).getInt()};
        p.claim = {optional_number(s.getColumn(11)), optional_number(s.getColumn(12))};
        p.gate_passed_at = s.getColumn(13).getString();
        p.created_at = s.getColumn(14).getString();
        rows.push_back(std::move(p));
    }
    return rows;
}

std::vector<UnitRecord> Records::units() {
    SQLite::Statement s(database_, std::string(unit_columns) + " ORDER BY id");
    std::vector<UnitRecord> rows;
    while (s.executeStep())
        rows.push_back(unit_row(s));
    return rows;
}

std::optional<UnitRecord> Records::unit(Id id) {
    SQLite::Statement s(database_, std::string(unit_columns) + " WHERE id = ?");
    s.bind(1, static_cast<std::int64_t>(id));
    if (!s.executeStep())
        return std::nullopt;
    return unit_row(s);
}

std::vector<FindingRecord> Records::findings() {
    SQLite::Statement s(database_,
                        "SELECT id, coalesce(pack_id, 0), coalesce(unit_id, 0), code, noted_at FROM look_finding WHERE "
                        "struck_at IS NULL ORDER BY id");
    std::vector<FindingRecord> rows;
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), s.getColumn(1).getInt64(), s.getColumn(2).getInt64(), s.getColumn(3),
                        s.getColumn(4), ""});
    return rows;
}

std::vector<QuarantineRecord> Records::quarantines() {
    SQLite::Statement s(
        database_, "SELECT id, coalesce(pack_id, 0), coalesce(unit_id, 0), reason, opened_at, coalesce(closed_at, ''), "
                   "coalesce(closing_reason, '') FROM quarantine ORDER BY id");
    std::vector<QuarantineRecord> rows;
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), s.getColumn(1).getInt64(), s.getColumn(2).getInt64(), s.getColumn(3),
                        s.getColumn(4), s.getColumn(5), s.getColumn(6)});
    return rows;
}

std::vector<ReadingRecord> Records::standing_readings() {
    SQLite::Statement s(database_, std::string(reading_columns) + "WHERE s.reading_id IS NULL ORDER BY r.id");
    std::vector<ReadingRecord> rows;
    while (s.executeStep())
        rows.push_back(reading_at(s));
    return rows;
}

std::vector<ReadingFact> Records::standing_facts() {
    std::vector<ReadingFact> rows;
    // Units have by far the most readings, and fewer columns of them count: this is read whenever a workshop is opened.
    // The plus keeps the order of the table, which is the order asked for.
    SQLite::Statement of_units(database_, "SELECT unit_id, quantity, condition, value, uncertainty FROM reading WHERE "
                                          "+unit_id IS NOT NULL AND id NOT IN (SELECT reading_id FROM strike) ORDER BY "
                                          "id");
    while (of_units.executeStep()) {
        ReadingFact& fact = rows.emplace_back();
        fact.unit_id = of_units.getColumn(0).getInt64();
        fact.quantity = quantity_from(of_units.getColumn(1).getText()).value_or(Quantity::voltage);
        fact.condition = condition_from(of_units.getColumn(2).getText()).value_or(Condition::rest);
        fact.value = of_units.getColumn(3).getDouble();
        fact.uncertainty = optional_number(of_units.getColumn(4));
    }
    SQLite::Statement of_packs(
        database_,
        "SELECT pack_id, group_no, quantity, condition, value, uncertainty, discharge_current_a, "
        "days_since_charge, taken_at FROM reading WHERE pack_id IS NOT NULL AND id NOT IN (SELECT reading_id "
        "FROM strike) ORDER BY id");
    while (of_packs.executeStep()) {
        ReadingFact& fact = rows.emplace_back();
        fact.pack_id = of_packs.getColumn(0).getInt64();
        fact.group = of_packs.getColumn(1).getInt();
        fact.quantity = quantity_from(of_packs.getColumn(2).getText()).value_or(Quantity::voltage);
        fact.condition = condition_from(of_packs.getColumn(3).getText()).value_or(Condition::rest);
        fact.value = of_packs.getColumn(4).getDouble();
        fact.uncertainty = optional_number(of_packs.getColumn(5));
        fact.discharge_current_a = optional_number(of_packs.getColumn(6));
        fact.days = optional_number(of_packs.getColumn(7));
        fact.taken_at = of_packs.getColumn(8).getString();
    }
    return rows;
}

std::vector<ReadingRecord> Records::readings_of_unit(Id unit) {
    SQLite::Statement s(database_, std::string(reading_columns) + "WHERE unit_id = ? ORDER BY r.id DESC");
    s.bind(1, static_cast<std::int64_t>(unit));
    std::vector<ReadingRecord> rows;
    while (s.executeStep())
        rows.push_back(reading_at(s));
    return rows;
}

std::vector<Measurement> Records::newest_capacities_of_model(const std::string& model, std::size_t most, Id but_unit) {
    SQLite::Statement s(
        database_,
        std::string(reading_columns) +
            "WHERE r.id IN (SELECT max(c.id) FROM reading c JOIN unit u ON u.id = c.unit_id LEFT JOIN "
            "strike k ON k.reading_id = c.id WHERE u.model = ? AND u.id <> ? AND c.quantity = 'capacity' AND "
            "k.reading_id IS NULL GROUP BY u.id) ORDER BY r.id DESC LIMIT ?");
    s.bind(1, model);
    s.bind(2, static_cast<std::int64_t>(but_unit));
    s.bind(3, static_cast<std::int64_t>(most));
    std::vector<Measurement> out;
    while (s.executeStep())
        out.push_back(reading_at(s).reading);
    return out;
}

std::vector<OverruleRecord> Records::overrules() {
    SQLite::Statement s(database_, "SELECT id, unit_id, from_duty, duty, reason, rule_set, made_at FROM overrule WHERE "
                                   "withdrawn_at IS NULL ORDER BY id");
    std::vector<OverruleRecord> rows;
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), s.getColumn(1).getInt64(), s.getColumn(2), s.getColumn(3),
                        s.getColumn(4), s.getColumn(5), s.getColumn(6)});
    return rows;
}

std::vector<BuildRecord> Records::builds() {
    SQLite::Statement s(database_, "SELECT id, label, chemistry, way, rule_set, state, created_at, series, parallel, "
                                   "give_up FROM build ORDER BY id");
    std::vector<BuildRecord> rows;
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(),
                        s.getColumn(1),
                        s.getColumn(2),
                        s.getColumn(3),
                        s.getColumn(4),
                        s.getColumn(5),
                        s.getColumn(6),
                        s.getColumn(7).getInt(),
                        s.getColumn(8).getInt(),
                        s.getColumn(9).getDouble(),
                        {}});
    for (BuildRecord& build : rows) {
        SQLite::Statement u(
            database_,
            "SELECT group_no, place_no, unit_id, from_tray, coalesce(taken_at, ''), from_well FROM build_unit "
            "WHERE build_id = ? ORDER BY group_no, place_no");
        u.bind(1, static_cast<std::int64_t>(build.id));
        while (u.executeStep())
            build.units.push_back({u.getColumn(0).getInt(), u.getColumn(1).getInt(), u.getColumn(2).getInt64(),
                                   u.getColumn(3), u.getColumn(4), u.getColumn(5).getInt()});
    }
    return rows;
}

int Records::largest_unit_number(const std::string& roll) {
    SQLite::Statement s(database_, "SELECT coalesce(max(number), 0) FROM unit WHERE roll = ?");
    s.bind(1, roll);
    return s.executeStep() ? s.getColumn(0).getInt() : 0;
}

std::int64_t Records::count(const std::string& table) {
    SQLite::Statement s(database_, "SELECT count(*) FROM \"" + table + "\"");
    return s.executeStep() ? s.getColumn(0).getInt64() : 0;
}

} // namespace ingot::store
