// What is kept of a pack beside its readings: notes, photos, its strip drawing; and the trays.
#include "store/records.h"

#include "store/statement.h"

namespace ingot::store {

bool Records::has(const char* table) {
    return database_.tableExists(table);
}

Id Records::add(const PackNoteRecord& note) {
    run(database_, "INSERT INTO pack_note (pack_id, kind, group_no, code, noted_at) VALUES (?, ?, ?, ?, ?)",
        note.pack_id, note.kind, note.group, note.code, note.noted_at);
    return database_.getLastInsertRowid();
}

void Records::strike_note(Id note, const std::string& now) {
    run(database_, "UPDATE pack_note SET struck_at = ? WHERE id = ? AND struck_at IS NULL", now, note);
}

std::vector<PackNoteRecord> Records::pack_notes() {
    std::vector<PackNoteRecord> rows;
    if (!has("pack_note"))
        return rows;
    SQLite::Statement s(database_,
                        "SELECT id, pack_id, kind, group_no, code, noted_at FROM pack_note WHERE struck_at IS "
                        "NULL ORDER BY id");
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), s.getColumn(1).getInt64(), s.getColumn(2), s.getColumn(3).getInt(),
                        s.getColumn(4), s.getColumn(5)});
    return rows;
}

void Records::add(const InsideRecord& inside) {
    run(database_,
        "INSERT INTO inside_group (pack_id, group_no, place_no, quantity, value, under_load, taken_at) VALUES (?, ?, "
        "?, ?, "
        "?, ?, ?)",
        inside.pack_id, inside.group, inside.place, code(inside.quantity), inside.value, inside.under_load ? 1 : 0,
        inside.taken_at);
}

std::vector<InsideRecord> Records::inside_groups() {
    std::vector<InsideRecord> rows;
    if (!has("inside_group"))
        return rows;
    SQLite::Statement s(database_, "SELECT pack_id, group_no, place_no, quantity, value, under_load, taken_at FROM "
                                   "inside_group ORDER BY id");
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), s.getColumn(1).getInt(), s.getColumn(2).getInt(),
                        quantity_from(s.getColumn(3).getString()).value_or(Quantity::voltage),
                        s.getColumn(4).getDouble(), s.getColumn(5).getInt() != 0, s.getColumn(6).getString()});
    return rows;
}

Id Records::add(const PhotoRecord& photo) {
    SQLite::Statement s(database_,
                        "INSERT INTO photo (pack_id, name, media_type, data, added_at) VALUES (?, ?, ?, ?, ?)");
    s.bind(1, static_cast<std::int64_t>(photo.pack_id));
    s.bind(2, photo.name);
    s.bind(3, photo.media_type);
    s.bind(4, photo.data.data(), static_cast<int>(photo.data.size()));
    s.bind(5, photo.added_at);
    s.exec();
    return database_.getLastInsertRowid();
}

// Touches no column behind the pictures themselves: those are long.
std::map<Id, int> Records::photo_counts() {
    std::map<Id, int> rows;
    if (!has("photo"))
        return rows;
    SQLite::Statement s(database_, "SELECT pack_id, count(*) FROM photo GROUP BY pack_id");
    while (s.executeStep())
        rows[s.getColumn(0).getInt64()] = s.getColumn(1).getInt();
    return rows;
}

std::vector<PhotoRecord> Records::photos_of_pack(Id pack) {
    std::vector<PhotoRecord> rows;
    if (!has("photo"))
        return rows;
    SQLite::Statement s(database_, "SELECT id, name, media_type, added_at FROM photo WHERE pack_id = ? ORDER BY id");
    s.bind(1, static_cast<std::int64_t>(pack));
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), pack, s.getColumn(1), s.getColumn(2), s.getColumn(3), {}});
    return rows;
}

std::string Records::photo_data(Id photo) {
    SQLite::Statement s(database_, "SELECT data FROM photo WHERE id = ?");
    s.bind(1, static_cast<std::int64_t>(photo));
    if (!s.executeStep())
        return {};
    const SQLite::Column data = s.getColumn(0);
    return {static_cast<const char*>(data.getBlob()), static_cast<std::size_t>(data.getBytes())};
}

void Records::set_tray(const TrayRecord& tray) {
    run(database_,
        "INSERT INTO tray VALUES (?, ?, ?) ON CONFLICT (name) DO UPDATE SET columns = excluded.columns, rows = "
        "excluded.rows",
        tray.name, tray.columns, tray.rows);
}

std::vector<TrayRecord> Records::trays() {
    std::vector<TrayRecord> rows;
    if (!has("tray"))
        return rows;
    SQLite::Statement s(database_, "SELECT name, columns, rows FROM tray ORDER BY name");
    while (s.executeStep())
        rows.push_back({s.getColumn(0), s.getColumn(1).getInt(), s.getColumn(2).getInt()});
    return rows;
}

void Records::set_drawing(Id pack, const std::string& drawing, const std::string& now) {
    run(database_,
        "INSERT INTO strip_drawing VALUES (?, ?, ?) ON CONFLICT (pack_id) DO UPDATE SET drawing = excluded.drawing, "
        "drawn_at = excluded.drawn_at",
        pack, drawing, now);
}

std::map<Id, std::string> Records::drawings() {
    std::map<Id, std::string> rows;
    if (!has("strip_drawing"))
        return rows;
    SQLite::Statement s(database_, "SELECT pack_id, drawing FROM strip_drawing");
    while (s.executeStep())
        rows[s.getColumn(0).getInt64()] = s.getColumn(1).getString();
    return rows;
}

std::string Records::drawing_of_pack(Id pack) {
    const auto rows = drawings();
    const auto found = rows.find(pack);
    return found == rows.end() ? std::string() : found->second;
}

} // namespace ingot::store
