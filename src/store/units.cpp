#include "store/units.h"

#include "store/connection.h"

namespace ingot::store {

namespace {

// Built: it stands in an assembly that is joined or further.
#define UNIT_COLUMNS                                                                                                   \
    "SELECT u.id, u.roll, u.number, o.assembly_id, o.group_no, o.place_no, u.model, u.tray, u.well, u.recycled_at IS " \
    "NOT NULL, a.state FROM unit u LEFT JOIN placement o ON o.unit_id = u.id AND o.is_origin = 1 LEFT JOIN placement " \
    "p "                                                                                                               \
    "ON p.unit_id = u.id AND p.until IS NULL LEFT JOIN assembly a ON a.id = p.assembly_id "

Unit unit_at(const Query& row) {
    Unit u;
    u.id = row.id(0);
    u.code = {row.text(1), row.whole(2)};
    u.pack = row.id(3);
    u.group = row.whole(4);
    u.place = row.whole(5);
    u.model = row.text(6);
    u.tray = row.text(7);
    u.well = row.whole(8);
    if (row.whole(9) != 0) {
        u.whereabouts = Whereabouts::recycled;
    } else if (!row.is_null(10)) {
        const std::string state = row.text(10);
        u.whereabouts = state == "planned" || state == "taken" ? Whereabouts::reserved : Whereabouts::built;
    }
    return u;
}

} // namespace

Id Units::add(const Unit& u, const std::string& now) {
    connection_.run("INSERT INTO unit (roll, number, model, tray, well, created_at) VALUES (?, ?, ?, ?, ?, ?)",
                    u.code.roll, u.code.number, u.model, u.tray, u.well, now);
    return connection_.last_id();
}

void Units::set_model(Id unit, const std::string& model) {
    connection_.run("UPDATE unit SET model = ? WHERE id = ?", model, unit);
}

void Units::set_home(Id unit, const std::string& tray, int well) {
    connection_.run("UPDATE unit SET tray = ?, well = ? WHERE id = ?", tray, well, unit);
}

void Units::set_recycled(Id unit, const std::string& at) {
    connection_.run("UPDATE unit SET recycled_at = nullif(?, '') WHERE id = ?", at, unit);
}

std::vector<Unit> Units::all() {
    std::vector<Unit> out;
    Query row = connection_.query(UNIT_COLUMNS "ORDER BY u.id");
    while (row.next())
        out.push_back(unit_at(row));
    return out;
}

std::optional<Unit> Units::find(Id unit) {
    Query row = connection_.query(UNIT_COLUMNS "WHERE u.id = ?", unit);
    return row.next() ? std::optional(unit_at(row)) : std::nullopt;
}

int Units::largest_number(const std::string& roll) {
    Query row = connection_.query("SELECT coalesce(max(number), 0) FROM unit WHERE roll = ?", roll);
    return row.next() ? row.whole(0) : 0;
}

} // namespace ingot::store
