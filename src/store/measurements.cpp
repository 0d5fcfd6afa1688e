#include "store/measurements.h"

#include "store/connection.h"

#include <limits>

namespace ingot::store {

namespace {

// A closed set: what an Ingot that knows more has written is an objection, not a voltage.
Quantity quantity_at(const Query& row, int column) {
    const auto known = quantity_from(row.chars(column));
    if (!known)
        throw SQLite::Exception("a measurement is of an unknown quantity: " + row.text(column));
    return *known;
}
Condition condition_at(const Query& row, int column) {
    const auto known = condition_from(row.chars(column));
    if (!known)
        throw SQLite::Exception("a measurement is of an unknown condition: " + row.text(column));
    return *known;
}

#define MEASUREMENT_COLUMNS                                                                                            \
    "SELECT m.id, m.unit_id, m.assembly_id, m.group_no, m.place_no, m.quantity, m.value, m.resolution, "               \
    "m.uncertainty, i.name, m.protocol, m.condition, m.state_of_charge, m.temperature_c, m.charge_current_a, "         \
    "m.discharge_current_a, m.cutoff_v, m.charged_to_v, m.days_since_charge, m.tray, m.well, m.model_version, "        \
    "m.rule_set, m.round_id, m.run_id, m.taken_at, m.recorded_at, s.reason FROM measurement m LEFT JOIN instrument i " \
    "ON i.id = m.instrument_id LEFT JOIN strike s ON s.measurement_id = m.id "

Measurement measurement_at(const Query& row) {
    Measurement m;
    m.id = row.id(0);
    m.subject = {row.id(1), row.id(2), row.whole(3), row.whole(4)};
    m.quantity = quantity_at(row, 5);
    m.value = row.number(6);
    m.resolution = row.number_if(7);
    m.uncertainty = row.number_if(8);
    m.instrument = row.text(9);
    m.protocol = row.text(10);
    m.conditions.condition = condition_at(row, 11);
    m.conditions.state_of_charge = row.number_if(12);
    m.conditions.temperature_c = row.number_if(13);
    m.conditions.charge_current_a = row.number_if(14);
    m.conditions.discharge_current_a = row.number_if(15);
    m.conditions.cutoff_v = row.number_if(16);
    m.conditions.charged_to_v = row.number_if(17);
    m.conditions.days_since_charge = row.number_if(18);
    m.tray = row.text(19);
    m.well = row.whole(20);
    m.model_version = row.whole_if(21);
    m.rule_set = row.text(22);
    m.round = row.id(23);
    m.run = row.id(24);
    m.taken_at = row.text(25);
    m.recorded_at = row.text(26);
    m.struck_reason = row.text(27);
    return m;
}

std::vector<Measurement> all_of(Query rows) {
    std::vector<Measurement> out;
    while (rows.next())
        out.push_back(measurement_at(rows));
    return out;
}

} // namespace

Id Measurements::add(const Measurement& m) {
    const Conditions& c = m.conditions;
    connection_.run(
        "INSERT INTO measurement (unit_id, assembly_id, group_no, place_no, quantity, value, resolution, uncertainty, "
        "instrument_id, protocol, condition, state_of_charge, temperature_c, charge_current_a, discharge_current_a, "
        "cutoff_v, charged_to_v, days_since_charge, tray, well, model_version, rule_set, round_id, run_id, taken_at, "
        "recorded_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        OrNull{m.subject.unit}, OrNull{m.subject.assembly}, m.subject.group, m.subject.place, code(m.quantity), m.value,
        m.resolution, m.uncertainty, OrNull{instrument_named(m.instrument)}, m.protocol, code(c.condition),
        c.state_of_charge, c.temperature_c, c.charge_current_a, c.discharge_current_a, c.cutoff_v, c.charged_to_v,
        c.days_since_charge, m.tray, m.well, m.model_version, m.rule_set, OrNull{m.round}, OrNull{m.run}, m.taken_at,
        m.recorded_at);
    return connection_.last_id();
}

void Measurements::strike(Id measurement, const std::string& reason, const std::string& now) {
    connection_.run("INSERT INTO strike VALUES (?, ?, ?)", measurement, reason, now);
}

Id Measurements::add(const Round& round) {
    connection_.run(
        "INSERT INTO round (assembly_id, condition, room_c, instrument_id, begun_at) VALUES (?, ?, ?, ?, ?)",
        OrNull{round.assembly}, code(round.condition), round.room_c, OrNull{instrument_named(round.instrument)},
        round.begun_at);
    return connection_.last_id();
}

std::vector<Measurement> Measurements::of_unit(Id unit) {
    return all_of(connection_.query(MEASUREMENT_COLUMNS "WHERE m.unit_id = ? AND s.measurement_id IS NULL", unit));
}

std::vector<Measurement> Measurements::of_assembly(Id assembly) {
    return all_of(connection_.query(MEASUREMENT_COLUMNS
                                    "WHERE m.assembly_id = ? AND s.measurement_id IS NULL ORDER BY m.taken_at, m.id",
                                    assembly));
}

std::vector<Measurement> Measurements::history_of_unit(Id unit) {
    return all_of(
        connection_.query(MEASUREMENT_COLUMNS "WHERE m.unit_id = ? ORDER BY m.taken_at DESC, m.id DESC", unit));
}

std::vector<Measurement> Measurements::history_of_assembly(Id assembly) {
    return all_of(
        connection_.query(MEASUREMENT_COLUMNS "WHERE m.assembly_id = ? ORDER BY m.taken_at DESC, m.id DESC", assembly));
}

std::vector<Measurement> Measurements::page(Id before, std::size_t most) {
    return all_of(connection_.query(MEASUREMENT_COLUMNS "WHERE m.id < ? ORDER BY m.id DESC LIMIT ?",
                                    before == 0 ? std::numeric_limits<std::int64_t>::max() : before,
                                    static_cast<std::int64_t>(most)));
}

std::optional<Measurement> Measurements::find(Id measurement) {
    const auto found = all_of(connection_.query(MEASUREMENT_COLUMNS "WHERE m.id = ?", measurement));
    return found.empty() ? std::nullopt : std::optional(found.front());
}

// Only what facts need, so that hundreds of thousands are read within a second.
void Measurements::each_unit(const std::function<void(Id, const std::vector<Measurement>&)>& take) {
    std::vector<Measurement> history;
    Id unit = 0;
    Query rows = connection_.query(
        "SELECT unit_id, quantity, value, resolution, uncertainty, condition, taken_at, discharge_current_a, cutoff_v, "
        "charged_to_v, temperature_c, days_since_charge, id FROM measurement WHERE unit_id IS NOT NULL AND id NOT IN "
        "(SELECT measurement_id FROM strike) ORDER BY unit_id");
    while (rows.next()) {
        if (rows.id(0) != unit && unit != 0) {
            take(unit, history);
            history.clear();
        }
        unit = rows.id(0);
        Measurement& m = history.emplace_back();
        m.subject.unit = unit;
        m.quantity = quantity_at(rows, 1);
        m.value = rows.number(2);
        m.resolution = rows.number_if(3);
        m.uncertainty = rows.number_if(4);
        m.conditions.condition = condition_at(rows, 5);
        m.taken_at = rows.text(6);
        m.conditions.discharge_current_a = rows.number_if(7);
        m.conditions.cutoff_v = rows.number_if(8);
        m.conditions.charged_to_v = rows.number_if(9);
        m.conditions.temperature_c = rows.number_if(10);
        m.conditions.days_since_charge = rows.number_if(11);
        m.id = rows.id(12);
    }
    if (unit != 0)
        take(unit, history);
}

std::vector<Measurement> Measurements::rest_voltages() {
    std::vector<Measurement> out;
    Query rows = connection_.query(
        "SELECT unit_id, value, resolution, condition, taken_at, id, days_since_charge FROM measurement WHERE unit_id "
        "IS "
        "NOT NULL AND "
        "quantity = ? AND condition IN (?, ?) AND id NOT IN (SELECT measurement_id FROM strike) ORDER BY unit_id, "
        "taken_at, id",
        code(Quantity::voltage), code(Condition::rest), code(Condition::stored));
    while (rows.next()) {
        Measurement& m = out.emplace_back();
        m.subject.unit = rows.id(0);
        m.quantity = Quantity::voltage;
        m.value = rows.number(1);
        m.resolution = rows.number_if(2);
        m.conditions.condition = condition_at(rows, 3);
        m.taken_at = rows.text(4);
        m.id = rows.id(5);
        m.conditions.days_since_charge = rows.number_if(6);
    }
    return out;
}

std::vector<Measurement> Measurements::retention_histories() {
    std::vector<Measurement> out;
    Query rows = connection_.query(
        "SELECT unit_id, quantity, value, resolution, uncertainty, condition, days_since_charge, taken_at, id FROM "
        "measurement WHERE unit_id IN (SELECT unit_id FROM measurement WHERE quantity = ? AND condition = ? AND "
        "unit_id IS NOT NULL) AND (quantity = ? OR (quantity = ? AND condition = ?)) AND id NOT IN (SELECT "
        "measurement_id FROM strike) ORDER BY unit_id, taken_at, id",
        code(Quantity::voltage), code(Condition::end_of_charge), code(Quantity::capacity), code(Quantity::voltage),
        code(Condition::end_of_charge));
    while (rows.next()) {
        Measurement& m = out.emplace_back();
        m.subject.unit = rows.id(0);
        m.quantity = quantity_at(rows, 1);
        m.value = rows.number(2);
        m.resolution = rows.number_if(3);
        m.uncertainty = rows.number_if(4);
        m.conditions.condition = condition_at(rows, 5);
        m.conditions.days_since_charge = rows.number_if(6);
        m.taken_at = rows.text(7);
        m.id = rows.id(8);
    }
    return out;
}

std::vector<Measurement> Measurements::read_by_several(Quantity quantity) {
    std::vector<Measurement> out;
    Query rows = connection_.query(
        "SELECT m.unit_id, m.value, i.name, m.id FROM measurement m JOIN instrument i ON i.id = m.instrument_id WHERE "
        "m.quantity = ? AND m.unit_id IN (SELECT unit_id FROM measurement WHERE quantity = ? AND instrument_id IS NOT "
        "NULL AND unit_id IS NOT NULL GROUP BY unit_id HAVING COUNT(DISTINCT instrument_id) > 1) AND m.id NOT IN "
        "(SELECT measurement_id FROM strike) ORDER BY m.taken_at, m.id",
        code(quantity), code(quantity));
    while (rows.next()) {
        Measurement& m = out.emplace_back();
        m.subject.unit = rows.id(0);
        m.quantity = quantity;
        m.value = rows.number(1);
        m.instrument = rows.text(2);
        m.id = rows.id(3);
    }
    return out;
}

std::map<Id, std::vector<Measurement>> Measurements::of_assemblies() {
    std::map<Id, std::vector<Measurement>> out;
    Query rows = connection_.query(MEASUREMENT_COLUMNS "WHERE m.assembly_id IS NOT NULL AND s.measurement_id IS NULL "
                                                       "ORDER BY m.assembly_id, m.taken_at, m.id");
    while (rows.next())
        out[rows.id(2)].push_back(measurement_at(rows));
    return out;
}

std::int64_t Measurements::count() {
    Query row = connection_.query("SELECT count(*) FROM measurement");
    return row.next() ? row.id(0) : 0;
}

Id Measurements::instrument_named(const std::string& name) {
    if (name.empty())
        return 0;
    connection_.run("INSERT OR IGNORE INTO instrument (name) VALUES (?)", name);
    Query row = connection_.query("SELECT id FROM instrument WHERE name = ?", name);
    if (!row.next())
        throw SQLite::Exception("an instrument could not be kept");
    return row.id(0);
}

std::optional<Instrument> Measurements::instrument(const std::string& name) {
    for (Instrument& known : instruments())
        if (known.name == name)
            return std::move(known);
    return std::nullopt;
}

std::vector<Instrument> Measurements::instruments() {
    std::vector<Instrument> out;
    Query row =
        connection_.query("SELECT id, name, kind, channels, volts_resolution, amperes_resolution, current_gain, "
                          "current_offset_a, checked_at FROM instrument ORDER BY name");
    while (row.next())
        out.push_back({row.id(0), row.text(1), row.text(2), row.whole(3), row.number_if(4), row.number_if(5),
                       row.number_if(6), row.number_if(7), row.text(8)});
    return out;
}

void Measurements::set(const Instrument& i) {
    connection_.run(
        "INSERT INTO instrument (name, kind, channels, volts_resolution, amperes_resolution, current_gain, "
        "current_offset_a, checked_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (name) DO UPDATE SET kind = "
        "excluded.kind, channels = excluded.channels, volts_resolution = excluded.volts_resolution, "
        "amperes_resolution = excluded.amperes_resolution, current_gain = excluded.current_gain, "
        "current_offset_a = excluded.current_offset_a, checked_at = excluded.checked_at",
        i.name, i.kind, i.channels, i.volts_resolution, i.amperes_resolution, i.current_gain, i.current_offset_a,
        i.checked_at);
}

} // namespace ingot::store
