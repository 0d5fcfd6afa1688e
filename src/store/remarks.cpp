#include "store/remarks.h"

#include "store/connection.h"

namespace ingot::store {

namespace {

std::vector<Finding> findings_in(Query row) {
    std::vector<Finding> out;
    while (row.next())
        out.push_back({row.id(0), row.id(1), row.id(2), row.text(3), row.text(4)});
    return out;
}

} // namespace

Id Remarks::add(const Finding& f) {
    connection_.run("INSERT INTO look_finding (assembly_id, unit_id, code, noted_at) VALUES (?, ?, ?, ?)",
                    OrNull{f.assembly}, OrNull{f.unit}, f.code, f.noted_at);
    return connection_.last_id();
}

void Remarks::strike_finding(Id finding, const std::string& reason, const std::string& now) {
    connection_.run("UPDATE look_finding SET struck_at = ?, struck_reason = ? WHERE id = ? AND struck_at IS NULL", now,
                    reason, finding);
}

std::vector<Finding> Remarks::findings() {
    return findings_in(
        connection_.query("SELECT id, assembly_id, unit_id, code, noted_at FROM look_finding WHERE struck_at "
                          "IS NULL ORDER BY id"));
}

std::vector<Finding> Remarks::findings_of_unit(Id unit) {
    return findings_in(
        connection_.query("SELECT id, assembly_id, unit_id, code, noted_at FROM look_finding WHERE unit_id = ? "
                          "AND struck_at IS NULL ORDER BY id",
                          unit));
}

Id Remarks::add(const Quarantine& q) {
    connection_.run("INSERT INTO quarantine (assembly_id, unit_id, reason, opened_at) VALUES (?, ?, ?, ?)",
                    OrNull{q.assembly}, OrNull{q.unit}, q.reason, q.opened_at);
    return connection_.last_id();
}

void Remarks::close_quarantine(Id quarantine, const std::string& reason, const std::string& now) {
    connection_.run("UPDATE quarantine SET closed_at = ?, closing_reason = ? WHERE id = ? AND closed_at IS NULL", now,
                    reason, quarantine);
}

std::vector<Quarantine> Remarks::quarantines() {
    std::vector<Quarantine> out;
    Query row = connection_.query(
        "SELECT id, assembly_id, unit_id, reason, opened_at, closed_at, closing_reason FROM quarantine "
        "ORDER BY id");
    while (row.next())
        out.push_back({row.id(0), row.id(1), row.id(2), row.text(3), row.text(4), row.text(5), row.text(6)});
    return out;
}

Id Remarks::add(const PackNote& n) {
    connection_.run("INSERT INTO pack_note (assembly_id, kind, group_no, code, noted_at) VALUES (?, ?, ?, ?, ?)",
                    n.assembly, code(n.kind), n.group, n.code, n.noted_at);
    return connection_.last_id();
}

void Remarks::strike_note(Id note, const std::string& now) {
    connection_.run("UPDATE pack_note SET struck_at = ? WHERE id = ? AND struck_at IS NULL", now, note);
}

std::vector<PackNote> Remarks::notes() {
    std::vector<PackNote> out;
    Query row = connection_.query(
        "SELECT id, assembly_id, kind, group_no, code, noted_at FROM pack_note WHERE struck_at IS NULL "
        "ORDER BY id");
    while (row.next()) {
        const auto kind = note_kind_from(row.text(2));
        if (!kind)
            throw SQLite::Exception("a note is of an unknown kind: " + row.text(2));
        out.push_back({row.id(0), row.id(1), *kind, row.whole(3), row.text(4), row.text(5)});
    }
    return out;
}

Id Remarks::add(const Particular& p) {
    connection_.run("INSERT INTO particular (assembly_id, unit_id, kind, value, noted_at) VALUES (?, ?, ?, ?, ?)",
                    OrNull{p.assembly}, OrNull{p.unit}, code(p.kind), p.value, p.noted_at);
    return connection_.last_id();
}

std::vector<Particular> Remarks::particulars() {
    std::vector<Particular> out;
    Query row = connection_.query("SELECT id, assembly_id, unit_id, kind, value, noted_at FROM particular ORDER BY id");
    while (row.next()) {
        const auto kind = particular_kind_from(row.text(3));
        if (!kind)
            throw SQLite::Exception("a particular is of an unknown kind: " + row.text(3));
        out.push_back({row.id(0), row.id(1), row.id(2), *kind, row.text(4), row.text(5)});
    }
    return out;
}

Id Remarks::add(const ProofNote& n) {
    connection_.run("INSERT INTO proof_note (assembly_id, kind, about, value, noted_at) VALUES (?, ?, ?, ?, ?)",
                    n.assembly, code(n.kind), n.about, n.value, n.noted_at);
    return connection_.last_id();
}

std::vector<ProofNote> Remarks::proof_notes(Id assembly) {
    std::vector<ProofNote> out;
    Query row = connection_.query(
        "SELECT id, assembly_id, kind, about, value, noted_at FROM proof_note WHERE assembly_id = ? ORDER BY id",
        assembly);
    while (row.next()) {
        const auto kind = proof_note_kind_from(row.text(2));
        if (!kind)
            throw SQLite::Exception("a note of a proof is of an unknown kind: " + row.text(2));
        out.push_back({row.id(0), row.id(1), *kind, row.text(3), row.text(4), row.text(5)});
    }
    return out;
}

Id Remarks::add(const Overrule& o) {
    Id id = 0;
    connection_.together([&] {
        connection_.run("UPDATE overrule SET withdrawn_at = ? WHERE unit_id = ? AND withdrawn_at IS NULL", o.made_at,
                        o.unit);
        connection_.run(
            "INSERT INTO overrule (unit_id, from_duty, duty, reason, rule_set, made_at) VALUES (?, ?, ?, ?, ?, ?)",
            o.unit, o.from_duty, o.duty, o.reason, o.rule_set, o.made_at);
        id = connection_.last_id();
    });
    return id;
}

void Remarks::withdraw_overrule(Id overrule, const std::string& now) {
    connection_.run("UPDATE overrule SET withdrawn_at = ? WHERE id = ?", now, overrule);
}

std::vector<Overrule> Remarks::overrules() {
    std::vector<Overrule> out;
    Query row = connection_.query(
        "SELECT id, unit_id, from_duty, duty, reason, rule_set, made_at FROM overrule WHERE withdrawn_at "
        "IS NULL ORDER BY id");
    while (row.next())
        out.push_back({row.id(0), row.id(1), row.text(2), row.text(3), row.text(4), row.text(5), row.text(6)});
    return out;
}

void Remarks::set_drawing(Id assembly, const std::string& drawing, const std::string& now) {
    connection_.run("INSERT INTO strip_drawing VALUES (?, ?, ?) ON CONFLICT (assembly_id) DO UPDATE SET drawing = "
                    "excluded.drawing, drawn_at = excluded.drawn_at",
                    assembly, drawing, now);
}

std::map<Id, std::string> Remarks::drawings() {
    std::map<Id, std::string> out;
    Query row = connection_.query("SELECT assembly_id, drawing FROM strip_drawing");
    while (row.next())
        out[row.id(0)] = row.text(1);
    return out;
}

Id Remarks::add(const Photo& p) {
    connection_.run("INSERT INTO photo (assembly_id, name, media_type, data, added_at) VALUES (?, ?, ?, ?, ?)",
                    p.assembly, p.name, p.media_type, Blob{p.data.data(), p.data.size()}, p.added_at);
    return connection_.last_id();
}

// Touches no column behind the pictures themselves: those are long.
std::map<Id, int> Remarks::photo_counts() {
    std::map<Id, int> out;
    Query row = connection_.query("SELECT assembly_id, count(*) FROM photo GROUP BY assembly_id");
    while (row.next())
        out[row.id(0)] = row.whole(1);
    return out;
}

std::vector<Photo> Remarks::photos_of(Id assembly) {
    std::vector<Photo> out;
    Query row = connection_.query("SELECT id, name, media_type, added_at FROM photo WHERE assembly_id = ? ORDER BY id",
                                  assembly);
    while (row.next())
        out.push_back({row.id(0), assembly, row.text(1), row.text(2), row.text(3), {}});
    return out;
}

std::string Remarks::photo_data(Id photo) {
    Query row = connection_.query("SELECT data FROM photo WHERE id = ?", photo);
    return row.next() ? row.blob(0) : std::string();
}

void Remarks::add(const Event& e) {
    connection_.run("INSERT INTO event (at, what, subject, detail) VALUES (?, ?, ?, ?)", e.at, e.what, e.subject,
                    e.detail);
}

namespace {

std::vector<Event> events_in(Query row) {
    std::vector<Event> out;
    while (row.next())
        out.push_back({row.text(0), row.text(1), row.text(2), row.text(3), row.id(4)});
    return out;
}

} // namespace

std::vector<Event> Remarks::events_of(const std::string& subject) {
    return events_in(
        connection_.query("SELECT at, what, subject, detail, id FROM event WHERE subject = ? ORDER BY id", subject));
}

std::vector<Event> Remarks::page(Id before, std::size_t most) {
    return events_in(
        connection_.query("SELECT at, what, subject, detail, id FROM event WHERE ?1 = 0 OR id < ?1 ORDER BY "
                          "id DESC LIMIT ?2",
                          before, static_cast<std::int64_t>(most)));
}

} // namespace ingot::store
