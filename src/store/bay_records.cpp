// Runs on the bays of a tester, the cycles concluded from them, and what waits for a bay.
#include "store/records.h"

#include "store/statement.h"

namespace ingot::store {

namespace {

std::optional<std::string> or_null(const std::string& text) {
    return text.empty() ? std::nullopt : std::optional(text);
}

} // namespace

Id Records::begin_bay_run(const RunRecord& run_record, const BayRunRecord& bay_run) {
    Id id = 0;
    together([&] {
        LogSamples none;
        none.temperature_c.push_back(0); // a tester's log has temperatures; none is written yet
        id = add_run(run_record, none);
        run(database_,
            "INSERT INTO bay_run (run_id, tester, bay, protocol, protocol_version, protocol_text, step, loops, state, "
            "started_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            id, bay_run.tester, bay_run.bay, bay_run.protocol, bay_run.protocol_version, bay_run.protocol_text,
            bay_run.step, bay_run.loops, bay_run.state, bay_run.started_at);
    });
    return id;
}

void Records::update(const BayRunRecord& b) {
    run(database_,
        "UPDATE bay_run SET step = ?, loops = ?, state = ?, stop = ?, began_s = ?, holes = ?, ended_at = ?, lifted_at "
        "= ? WHERE run_id = ?",
        b.step, b.loops, b.state, b.stop, b.began_s, b.holes, or_null(b.ended_at), or_null(b.lifted_at), b.run_id);
}

std::vector<BayRunRecord> Records::open_bay_runs() {
    std::vector<BayRunRecord> rows;
    if (!has("bay_run"))
        return rows;
    SQLite::Statement s(database_,
                        "SELECT b.run_id, r.unit_id, tester, bay, b.protocol, protocol_text, protocol_version, step, "
                        "loops, state, stop, last_sequence, began_s, holes, started_at, coalesce(ended_at, ''), "
                        "coalesce(lifted_at, '') FROM bay_run b JOIN run r ON r.id = b.run_id WHERE state <> 'lifted' "
                        "ORDER BY b.run_id");
    while (s.executeStep()) {
        BayRunRecord b;
        b.run_id = s.getColumn(0).getInt64();
        b.unit_id = s.getColumn(1).getInt64();
        b.tester = s.getColumn(2).getString();
        b.bay = s.getColumn(3).getInt();
        b.protocol = s.getColumn(4).getString();
        b.protocol_text = s.getColumn(5).getString();
        b.protocol_version = s.getColumn(6).getInt();
        b.step = s.getColumn(7).getInt();
        b.loops = s.getColumn(8).getString();
        b.state = s.getColumn(9).getString();
        b.stop = s.getColumn(10).getString();
        b.last_sequence = static_cast<std::uint64_t>(s.getColumn(11).getInt64());
        if (!s.getColumn(12).isNull())
            b.began_s = s.getColumn(12).getDouble();
        b.holes = s.getColumn(13).getInt();
        b.started_at = s.getColumn(14).getString();
        b.ended_at = s.getColumn(15).getString();
        b.lifted_at = s.getColumn(16).getString();
        rows.push_back(std::move(b));
    }
    return rows;
}

void Records::add(const CycleRecord& c) {
    run(database_,
        "INSERT INTO cycle (run_id, number, unit_id, capacity_ah, energy_wh, charge_ah, stop, is_full, taken_at) "
        "VALUES "
        "(?, ?, ?, ?, ?, ?, ?, ?, ?)",
        c.run_id, c.number, c.unit_id, c.capacity_ah, c.energy_wh, c.charge_ah, c.stop, c.full ? 1 : 0, c.taken_at);
}

std::vector<CycleRecord> Records::cycles() {
    std::vector<CycleRecord> rows;
    if (!has("cycle"))
        return rows;
    SQLite::Statement s(database_, "SELECT run_id, unit_id, number, capacity_ah, energy_wh, charge_ah, stop, is_full, "
                                   "taken_at FROM cycle ORDER BY unit_id, run_id, number");
    while (s.executeStep()) {
        CycleRecord c;
        c.run_id = s.getColumn(0).getInt64();
        c.unit_id = s.getColumn(1).getInt64();
        c.number = s.getColumn(2).getInt();
        c.capacity_ah = s.getColumn(3).getDouble();
        c.energy_wh = s.getColumn(4).getDouble();
        if (!s.getColumn(5).isNull())
            c.charge_ah = s.getColumn(5).getDouble();
        c.stop = s.getColumn(6).getString();
        c.full = s.getColumn(7).getInt() != 0;
        c.taken_at = s.getColumn(8).getString();
        rows.push_back(std::move(c));
    }
    return rows;
}

void Records::set(const QueueRecord& q) {
    run(database_,
        "INSERT INTO bay_queue (unit_id, protocol, row_name, position, due_at, insisted_at, insisted_bay) VALUES (?, "
        "?, ?, "
        "?, ?, ?, ?) ON CONFLICT (unit_id) DO UPDATE SET protocol = excluded.protocol, row_name = excluded.row_name, "
        "position = excluded.position, due_at = excluded.due_at, insisted_at = excluded.insisted_at, insisted_bay = "
        "excluded.insisted_bay",
        q.unit_id, q.protocol, q.row, q.position, or_null(q.due_at), or_null(q.insisted_at), q.insisted_bay);
}

void Records::leave_queue(Id unit) {
    run(database_, "DELETE FROM bay_queue WHERE unit_id = ?", unit);
}

std::vector<QueueRecord> Records::queue() {
    std::vector<QueueRecord> rows;
    if (!has("bay_queue"))
        return rows;
    SQLite::Statement s(database_,
                        "SELECT unit_id, protocol, row_name, position, coalesce(due_at, ''), "
                        "coalesce(insisted_at, ''), insisted_bay FROM bay_queue ORDER BY row_name, position, "
                        "unit_id");
    while (s.executeStep()) {
        QueueRecord q;
        q.unit_id = s.getColumn(0).getInt64();
        q.protocol = s.getColumn(1).getString();
        q.row = s.getColumn(2).getString();
        if (!s.getColumn(3).isNull())
            q.position = s.getColumn(3).getInt();
        q.due_at = s.getColumn(4).getString();
        q.insisted_at = s.getColumn(5).getString();
        if (!s.getColumn(6).isNull())
            q.insisted_bay = s.getColumn(6).getInt();
        rows.push_back(std::move(q));
    }
    return rows;
}

} // namespace ingot::store
