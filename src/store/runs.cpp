#include "store/runs.h"

#include "store/connection.h"

#include <algorithm>

namespace ingot::store {

namespace {

#define CYCLE_COLUMNS                                                                                                  \
    "SELECT c.run_id, r.unit_id, c.number, capacity_ah, energy_wh, charge_ah, stop, is_full, taken_at, EXISTS ("       \
    "SELECT 1 FROM run_step s WHERE s.run_id = c.run_id AND s.kind = 'charge' AND s.ended_by = 'CAP' AND "             \
    "s.charge_ah = c.charge_ah) FROM cycle c JOIN run r ON r.id = c.run_id "

std::vector<Cycle> cycles_in(Query row) {
    std::vector<Cycle> out;
    while (row.next())
        out.push_back({row.id(0), row.id(1), row.whole(2), row.number(3), row.number(4), row.number_if(5), row.text(6),
                       row.whole(7) != 0, row.text(8), row.whole(9) != 0});
    return out;
}

} // namespace

void Runs::add(Id run, const RunStep& s) {
    connection_.run(
        "INSERT INTO run_step (run_id, number, kind, start_s, end_s, ended_by, as_meant, charge_ah, energy_wh, "
        "start_v, end_v, mean_a, hottest_c, first_sample, last_sample) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, "
        "?, ?, ?)",
        run, s.number, code(s.kind), s.start_s, s.end_s, s.end, s.as_meant ? 1 : 0, s.charge_ah, s.energy_wh, s.start_v,
        s.end_v, s.mean_a, s.hottest_c, s.first_sample, s.last_sample);
}

std::vector<RunStep> Runs::steps_of(Id run) {
    std::vector<RunStep> out;
    Query row =
        connection_.query("SELECT number, kind, start_s, end_s, ended_by, as_meant, charge_ah, energy_wh, start_v, "
                          "end_v, mean_a, hottest_c, first_sample, last_sample FROM run_step WHERE run_id = ? ORDER "
                          "BY number",
                          run);
    while (row.next()) {
        const auto kind = run_step_kind_from(row.text(1));
        if (!kind)
            throw SQLite::Exception("a run's step is of an unknown kind: " + row.text(1));
        out.push_back({row.whole(0), *kind, row.number(2), row.number(3), row.text(4), row.whole(5) != 0,
                       row.number_if(6), row.number_if(7), row.number_if(8), row.number_if(9), row.number_if(10),
                       row.number_if(11), row.id(12), row.id(13)});
    }
    return out;
}

namespace {

#define RUN_COLUMNS                                                                                                    \
    "SELECT id, unit_id, assembly_id, file, instrument, protocol, began_at, ended_at, imported_at, samples FROM run "

std::vector<Run> runs_in(Query row) {
    std::vector<Run> out;
    while (row.next()) {
        Run& run = out.emplace_back();
        run.id = row.id(0);
        run.unit = row.id(1);
        run.assembly = row.id(2);
        run.file = row.text(3);
        run.instrument = row.text(4);
        run.protocol = row.text(5);
        run.began_at = row.text(6);
        run.ended_at = row.text(7);
        run.recorded_at = row.text(8);
        run.samples = row.id(9);
    }
    return out;
}

} // namespace

std::vector<Run> Runs::with_behind(std::vector<Run> runs) {
    if (runs.empty())
        return runs;
    const auto [first, last] =
        std::minmax_element(runs.begin(), runs.end(), [](const Run& a, const Run& b) { return a.id < b.id; });
    std::map<Id, std::vector<Id>> behind;
    Query row =
        connection_.query("SELECT run_id, unit_id FROM run_behind WHERE run_id BETWEEN ? AND ? ORDER BY run_id, "
                          "position",
                          first->id, last->id);
    while (row.next())
        behind[row.id(0)].push_back(row.id(1));
    for (Run& run : runs)
        if (const auto found = behind.find(run.id); found != behind.end())
            run.behind = found->second;
    return runs;
}

std::vector<Id> Runs::behind(Id run) {
    std::vector<Id> out;
    Query row = connection_.query("SELECT unit_id FROM run_behind WHERE run_id = ? ORDER BY position", run);
    while (row.next())
        out.push_back(row.id(0));
    return out;
}

std::vector<Run> Runs::of_unit(Id unit) {
    return with_behind(runs_in(connection_.query(
        RUN_COLUMNS "WHERE unit_id = ?1 OR id IN (SELECT run_id FROM run_behind WHERE unit_id = ?1) ORDER BY id DESC",
        unit)));
}

std::vector<Run> Runs::of_assembly(Id assembly) {
    return runs_in(connection_.query(RUN_COLUMNS "WHERE assembly_id = ? ORDER BY id DESC", assembly));
}

std::optional<Run> Runs::find(Id run) {
    auto found = with_behind(runs_in(connection_.query(RUN_COLUMNS "WHERE id = ?", run)));
    return found.empty() ? std::nullopt : std::optional(std::move(found.front()));
}

void Runs::give(Id run, Id unit) {
    connection_.run("UPDATE run SET unit_id = ? WHERE id = ?", unit, run);
}

std::vector<Run> Runs::page(Id before, std::size_t most) {
    return with_behind(runs_in(connection_.query(RUN_COLUMNS "WHERE ?1 = 0 OR id < ?1 ORDER BY id DESC LIMIT ?2",
                                                 before, static_cast<std::int64_t>(most))));
}

std::vector<Id> Runs::of_model(const std::string& model, std::size_t most, Id but_unit) {
    std::vector<Id> out;
    Query row =
        connection_.query("SELECT max(r.id) FROM run r JOIN unit u ON u.id = r.unit_id WHERE u.model = ? AND u.id <> ? "
                          "AND NOT EXISTS (SELECT 1 FROM run_behind b WHERE b.run_id = r.id) GROUP BY u.id ORDER BY 1 "
                          "DESC LIMIT ?",
                          model, but_unit, static_cast<std::int64_t>(most));
    while (row.next())
        out.push_back(row.id(0));
    return out;
}

std::vector<Id> Runs::discharged_like(const std::string& model, const std::string& protocol, std::size_t most,
                                      Id but_unit) {
    std::vector<Id> out;
    Query row =
        connection_.query("SELECT max(r.id) FROM run r JOIN unit u ON u.id = r.unit_id WHERE u.model = ? AND u.id <> ? "
                          "AND r.protocol = ? AND NOT EXISTS (SELECT 1 FROM run_behind b WHERE b.run_id = r.id) AND "
                          "EXISTS (SELECT 1 FROM run_step s WHERE s.run_id = r.id AND s.kind = "
                          "'discharge' AND s.as_meant = 1) GROUP BY u.id ORDER BY 1 DESC LIMIT ?",
                          model, but_unit, protocol, static_cast<std::int64_t>(most));
    while (row.next())
        out.push_back(row.id(0));
    return out;
}

// A run that still goes on moves charge now: its begin counts.
std::map<Id, std::string> Runs::last_run_at() {
    std::map<Id, std::string> out;
    const auto take = [&](Query row) {
        while (row.next())
            if (std::string at = row.text(1); at > out[row.id(0)])
                out[row.id(0)] = std::move(at);
    };
    take(connection_.query(
        "SELECT unit_id, max(max(began_at, ended_at)) FROM run WHERE unit_id IS NOT NULL GROUP BY unit_id"));
    take(connection_.query("SELECT b.unit_id, max(max(began_at, ended_at)) FROM run_behind b JOIN run r ON r.id = "
                           "b.run_id GROUP BY b.unit_id"));
    return out;
}

std::string Runs::last_run_at(Id unit) {
    Query row = connection_.query(
        "SELECT max(at) FROM (SELECT max(began_at, ended_at) AS at FROM run WHERE unit_id = ?1 UNION ALL SELECT "
        "max(began_at, ended_at) FROM run r JOIN run_behind b ON b.run_id = r.id WHERE b.unit_id = ?1)",
        unit);
    return row.next() ? row.text(0) : std::string();
}

std::string Runs::last_run_at_assembly(Id assembly) {
    Query row = connection_.query("SELECT max(max(began_at, ended_at)) FROM run WHERE assembly_id = ?", assembly);
    return row.next() ? row.text(0) : std::string();
}

std::int64_t Runs::count() {
    Query row = connection_.query("SELECT count(*) FROM run");
    return row.next() ? row.id(0) : 0;
}

Id Runs::begin(const Run& run, const BayRun& b) {
    Id id = 0;
    connection_.together([&] {
        LogSamples none;
        none.temperature_c.push_back(0); // a tester's log has temperatures; none is written yet
        id = add(run, none);
        connection_.run(
            "INSERT INTO bay_run (run_id, tester, bay, protocol, protocol_version, protocol_text, step, loops, state, "
            "started_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            id, b.tester, b.bay, b.protocol, b.protocol_version, b.protocol_text, b.step, b.loops, b.state,
            b.started_at);
    });
    return id;
}

void Runs::update(const BayRun& b) {
    connection_.run(
        "UPDATE bay_run SET step = ?, loops = ?, state = ?, stop = ?, began_s = ?, holes = ?, ended_at = ?, lifted_at "
        "= ? WHERE run_id = ?",
        b.step, b.loops, b.state, b.stop, b.began_s, b.gaps, or_null(b.ended_at), or_null(b.lifted_at), b.run);
    if (!b.ended_at.empty())
        connection_.run("UPDATE run SET ended_at = ? WHERE id = ?", b.ended_at, b.run);
}

std::vector<BayRun> Runs::open() {
    std::vector<BayRun> out;
    Query row =
        connection_.query("SELECT b.run_id, r.unit_id, tester, bay, b.protocol, protocol_text, protocol_version, step, "
                          "loops, state, stop, last_sequence, began_s, holes, started_at, b.ended_at, lifted_at, "
                          "r.assembly_id FROM bay_run b JOIN run r ON r.id = b.run_id WHERE state <> 'lifted' ORDER BY "
                          "b.run_id");
    while (row.next()) {
        BayRun& b = out.emplace_back();
        b.run = row.id(0);
        b.unit = row.id(1);
        b.tester = row.text(2);
        b.bay = row.whole(3);
        b.protocol = row.text(4);
        b.protocol_text = row.text(5);
        b.protocol_version = row.whole(6);
        b.step = row.whole(7);
        b.loops = row.text(8);
        b.state = row.text(9);
        b.stop = row.text(10);
        b.last_sequence = static_cast<std::uint64_t>(row.id(11));
        b.began_s = row.number_if(12);
        b.gaps = row.whole(13);
        b.started_at = row.text(14);
        b.ended_at = row.text(15);
        b.lifted_at = row.text(16);
        b.assembly = row.id(17);
    }
    for (BayRun& b : out)
        b.behind = behind(b.run);
    return out;
}

void Runs::add(const Cycle& c) {
    connection_.run(
        "INSERT INTO cycle (run_id, number, unit_id, capacity_ah, energy_wh, charge_ah, stop, is_full, taken_at) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
        c.run, c.number, c.unit, c.capacity_ah, c.energy_wh, c.charge_ah, c.stop, c.full ? 1 : 0, c.taken_at);
}

std::vector<Cycle> Runs::cycles() {
    return cycles_in(connection_.query(CYCLE_COLUMNS "ORDER BY r.unit_id, c.run_id, c.number"));
}

std::vector<Cycle> Runs::cycles_of(Id unit) {
    return cycles_in(connection_.query(CYCLE_COLUMNS "WHERE r.unit_id = ? ORDER BY c.run_id, c.number", unit));
}

void Runs::set(const Waiting& q) {
    connection_.run(
        "INSERT INTO bay_queue (unit_id, protocol, row_name, position, due_at, insisted_at, insisted_bay) VALUES (?, "
        "?, ?, ?, ?, ?, ?) ON CONFLICT (unit_id) DO UPDATE SET protocol = excluded.protocol, row_name = "
        "excluded.row_name, position = excluded.position, due_at = excluded.due_at, insisted_at = "
        "excluded.insisted_at, insisted_bay = excluded.insisted_bay",
        q.unit, q.protocol, q.row, q.position, or_null(q.due_at), or_null(q.insisted_at), q.insisted_bay);
}

void Runs::leave_queue(Id unit) {
    connection_.run("DELETE FROM bay_queue WHERE unit_id = ?", unit);
}

std::vector<Waiting> Runs::queue() {
    std::vector<Waiting> out;
    Query row = connection_.query(
        "SELECT unit_id, protocol, row_name, position, due_at, insisted_at, insisted_bay FROM bay_queue "
        "ORDER BY row_name, position, unit_id");
    while (row.next())
        out.push_back(
            {row.id(0), row.text(1), row.text(2), row.whole_if(3), row.text(4), row.text(5), row.whole_if(6)});
    return out;
}

} // namespace ingot::store
