#include "store/catalogue.h"

#include "store/connection.h"

namespace ingot::store {

void Catalogue::set(const std::string& key, const std::string& value) {
    connection_.run("INSERT INTO meta VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value", key,
                    value);
}

std::string Catalogue::value(const std::string& key) {
    Query row = connection_.query("SELECT value FROM meta WHERE key = ?", key);
    return row.next() ? row.text(0) : std::string();
}

void Catalogue::add(const LibraryRow& row) {
    connection_.run("INSERT INTO library_text VALUES (?, ?, ?, ?)", row.kind, row.name, row.version, row.text);
}

std::vector<LibraryRow> Catalogue::library() {
    std::vector<LibraryRow> out;
    Query row = connection_.query(
        "SELECT kind, name, text, max(version) FROM library_text GROUP BY kind, name ORDER BY kind, name");
    while (row.next())
        out.push_back({row.text(0), row.text(1), row.text(2), row.whole(3)});
    return out;
}

Id Catalogue::add(const Lot& lot) {
    connection_.run("INSERT INTO lot (label, source, received, cost, note) VALUES (?, ?, ?, ?, ?)", lot.label,
                    lot.source, lot.received, lot.cost, lot.note);
    return connection_.last_id();
}

std::vector<Lot> Catalogue::lots() {
    std::vector<Lot> out;
    Query row = connection_.query("SELECT id, label, source, received, note, cost FROM lot ORDER BY id");
    while (row.next())
        out.push_back({row.id(0), row.text(1), row.text(2), row.text(3), row.text(4), row.number_if(5)});
    return out;
}

void Catalogue::set(const Tray& tray) {
    connection_.run(
        "INSERT INTO tray VALUES (?, ?, ?) ON CONFLICT (name) DO UPDATE SET columns = excluded.columns, rows = "
        "excluded.rows",
        tray.name, tray.columns, tray.rows);
}

std::vector<Tray> Catalogue::trays() {
    std::vector<Tray> out;
    Query row = connection_.query("SELECT name, columns, rows FROM tray ORDER BY name");
    while (row.next())
        out.push_back({row.text(0), row.whole(1), row.whole(2)});
    return out;
}

} // namespace ingot::store
