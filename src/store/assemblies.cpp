#include "store/assemblies.h"

#include "store/connection.h"

namespace ingot::store {

namespace {

#define ASSEMBLY_COLUMNS                                                                                               \
    "SELECT id, label, state, chemistry, series, parallel, cells_per_unit, created_at, lot_id, model, format, shelf, " \
    "claimed_ah, claimed_v, gate_passed_at, way, rule_set, give_up, units_per_tap FROM assembly "
#define PLACEMENT_COLUMNS                                                                                              \
    "SELECT id, assembly_id, group_no, place_no, unit_id, content_assembly_id, content_group_no, is_origin, since, "   \
    "until, why, ended_why, from_tray, from_well, taken_at FROM placement "

std::vector<Assembly> assemblies_in(Query row) {
    std::vector<Assembly> out;
    while (row.next()) {
        Assembly& a = out.emplace_back();
        a.id = row.id(0);
        a.label = row.text(1);
        const auto state = assembly_state_from(row.text(2));
        if (!state)
            throw SQLite::Exception("an assembly is in an unknown state: " + row.text(2));
        a.state = *state;
        a.chemistry = row.text(3);
        a.layout = {row.whole(4), row.whole(5), row.whole(6), row.whole(18)};
        a.created_at = row.text(7);
        a.lot = row.id(8);
        a.model = row.text(9);
        a.format = row.text(10);
        a.shelf = row.text(11);
        a.claim = {row.number_if(12), row.number_if(13)};
        a.gate_passed_at = row.text(14);
        a.way = row.text(15);
        a.rule_set = row.text(16);
        a.give_up = row.number(17);
    }
    return out;
}

Placement placement_at(const Query& row) {
    Placement p;
    p.id = row.id(0);
    p.assembly = row.id(1);
    p.group = row.whole(2);
    p.place = row.whole(3);
    p.unit = row.id(4);
    p.content_assembly = row.id(5);
    p.content_group = row.whole(6);
    p.origin = row.whole(7) != 0;
    p.since = row.text(8);
    p.until = row.text(9);
    p.why = row.text(10);
    p.ended_why = row.text(11);
    p.from_tray = row.text(12);
    p.from_well = row.whole(13);
    p.taken_at = row.text(14);
    return p;
}

std::map<Id, BuildDesign> designs_in(Query row) {
    std::map<Id, BuildDesign> out;
    while (row.next()) {
        const auto figure = design_figure_from(row.text(1));
        if (!figure || !out[row.id(0)].set(*figure, row.text(2)))
            throw SQLite::Exception("a build is designed with an unknown figure: " + row.text(1) + " " + row.text(2));
    }
    return out;
}

std::map<Id, BuildTicks> ticks_in(Query row) {
    std::map<Id, BuildTicks> out;
    while (row.next()) {
        const auto task = build_task_from(row.text(1));
        if (!task)
            throw SQLite::Exception("an unknown step of a build is ticked: " + row.text(1));
        const std::pair item(*task, row.whole(2));
        if (row.whole(3) != 0)
            out[row.id(0)][item] = row.text(4);
        else
            out[row.id(0)].erase(item);
    }
    return out;
}

} // namespace

Id Assemblies::add(const Assembly& a) {
    connection_.run(
        "INSERT INTO assembly (label, state, chemistry, series, parallel, cells_per_unit, units_per_tap, lot_id, "
        "model, "
        "format, shelf, claimed_ah, claimed_v, gate_passed_at, way, give_up, rule_set, created_at) VALUES (?, ?, ?, ?, "
        "?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        a.label, code(a.state), a.chemistry, a.layout.series, a.layout.parallel, a.layout.cells_per_unit,
        a.layout.units_per_tap, OrNull{a.lot}, a.model, a.format, a.shelf, a.claim.capacity_ah, a.claim.voltage_v,
        or_null(a.gate_passed_at), a.way, a.give_up, a.rule_set, a.created_at);
    return connection_.last_id();
}

void Assemblies::set_state(Id assembly, AssemblyState state) {
    connection_.run("UPDATE assembly SET state = ? WHERE id = ?", code(state), assembly);
}

void Assemblies::set_layout(Id assembly, const PackLayout& layout) {
    connection_.run("UPDATE assembly SET series = ?, parallel = ?, cells_per_unit = ?, units_per_tap = ? WHERE id = ?",
                    layout.series, layout.parallel, layout.cells_per_unit, layout.units_per_tap, assembly);
}

void Assemblies::set_matched(const Assembly& a) {
    connection_.run(
        "UPDATE assembly SET chemistry = ?, series = ?, parallel = ?, cells_per_unit = ?, way = ?, give_up = ?, "
        "rule_set = ? WHERE id = ?",
        a.chemistry, a.layout.series, a.layout.parallel, a.layout.cells_per_unit, a.way, a.give_up, a.rule_set, a.id);
}

void Assemblies::pass_gate(Id assembly, const std::string& now) {
    connection_.run("UPDATE assembly SET gate_passed_at = ? WHERE id = ?", now, assembly);
}

std::vector<Assembly> Assemblies::all() {
    return assemblies_in(connection_.query(ASSEMBLY_COLUMNS "ORDER BY id"));
}

std::optional<Assembly> Assemblies::find(Id assembly) {
    const auto found = assemblies_in(connection_.query(ASSEMBLY_COLUMNS "WHERE id = ?", assembly));
    return found.empty() ? std::nullopt : std::optional(found.front());
}

Id Assemblies::add(const Placement& p) {
    connection_.run(
        "INSERT INTO placement (assembly_id, group_no, place_no, unit_id, content_assembly_id, content_group_no, "
        "is_origin, since, until, why, ended_why, from_tray, from_well, taken_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, "
        "?, ?, ?, ?, ?, ?)",
        p.assembly, p.group, p.place, OrNull{p.unit}, OrNull{p.content_assembly}, p.content_group, p.origin ? 1 : 0,
        p.since, or_null(p.until), p.why, p.ended_why, p.from_tray, p.from_well, or_null(p.taken_at));
    return connection_.last_id();
}

void Assemblies::end(Id placement, const std::string& now, const std::string& why) {
    connection_.run("UPDATE placement SET until = ?, ended_why = ? WHERE id = ?", now, why, placement);
}

void Assemblies::set_taken(Id placement, const std::string& at) {
    connection_.run("UPDATE placement SET taken_at = ? WHERE id = ?", or_null(at), placement);
}

std::map<Id, std::vector<Placement>> Assemblies::placements() {
    std::map<Id, std::vector<Placement>> out;
    Query row = connection_.query(PLACEMENT_COLUMNS "ORDER BY id");
    while (row.next())
        out[row.id(1)].push_back(placement_at(row));
    return out;
}

namespace {

std::vector<Placement> placements_in(Query row) {
    std::vector<Placement> out;
    while (row.next())
        out.push_back(placement_at(row));
    return out;
}

} // namespace

std::vector<Placement> Assemblies::placements_of(Id assembly) {
    return placements_in(connection_.query(PLACEMENT_COLUMNS "WHERE assembly_id = ? ORDER BY id", assembly));
}

std::vector<Placement> Assemblies::placements_of_unit(Id unit) {
    return placements_in(connection_.query(PLACEMENT_COLUMNS "WHERE unit_id = ? ORDER BY id", unit));
}

void Assemblies::set_figure(Id assembly, DesignFigure figure, const std::string& value, const std::string& now) {
    connection_.run("INSERT INTO design_figure (assembly_id, figure, value, noted_at) VALUES (?, ?, ?, ?)", assembly,
                    code(figure), value, now);
}

std::map<Id, BuildDesign> Assemblies::designs() {
    return designs_in(connection_.query("SELECT assembly_id, figure, value FROM design_figure ORDER BY id"));
}

BuildDesign Assemblies::design_of(Id assembly) {
    return designs_in(connection_.query(
        "SELECT assembly_id, figure, value FROM design_figure WHERE assembly_id = ? ORDER BY id", assembly))[assembly];
}

void Assemblies::tick(Id assembly, BuildTask task, int item, bool done, const std::string& now) {
    connection_.run("INSERT INTO build_tick (assembly_id, task, item, done, noted_at) VALUES (?, ?, ?, ?, ?)", assembly,
                    code(task), item, done ? 1 : 0, now);
}

std::map<Id, BuildTicks> Assemblies::ticks() {
    return ticks_in(connection_.query("SELECT assembly_id, task, item, done, noted_at FROM build_tick ORDER BY id"));
}

BuildTicks Assemblies::ticks_of(Id assembly) {
    return ticks_in(connection_.query(
        "SELECT assembly_id, task, item, done, noted_at FROM build_tick WHERE assembly_id = ? ORDER BY id",
        assembly))[assembly];
}

} // namespace ingot::store
