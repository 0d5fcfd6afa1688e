#include "open_store.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace ingot;
using namespace ingot::store;
using tests::Temporary;

namespace {

struct Fixture : Temporary, tests::Store {
    Fixture() : tests::Store(WorkshopFile::create(file_path()).value()) {}
    std::string file_path() const { return Temporary::file("w.ingot"); }
    Id lot = catalogue.add(Lot{0, "MOW-07", "mowers", "2026-11-12", "", 12.5});
    Id pack = add_pack();
    Id unit = add_unit(193, 4);

    Id add_pack() {
        Assembly p;
        p.lot = lot;
        p.label = "MOW-07 pack 1";
        p.chemistry = "nmc";
        p.layout = {7, 4, 1};
        p.claim = {10.4, {}};
        p.created_at = "2026-11-12";
        return assemblies.add(p);
    }
    Id add_unit(int number, int well) {
        Unit u;
        u.code = {"K4", number};
        u.model = "H26";
        u.tray = "S1";
        u.well = well;
        const Id id = units.add(u, "2026-11-13");
        Placement origin;
        origin.assembly = pack;
        origin.group = 2;
        origin.place = number % 100;
        origin.unit = id;
        origin.origin = true;
        origin.since = "2026-11-12";
        origin.until = "2026-11-13";
        origin.ended_why = "opened";
        assemblies.add(origin);
        return id;
    }
    Measurement measured(double value) const {
        Measurement m;
        m.subject.unit = unit;
        m.quantity = Quantity::capacity;
        m.value = value;
        m.resolution = 0.001;
        m.uncertainty = 0.01;
        m.instrument = "bench tester";
        m.protocol = "typed";
        m.conditions = {Condition::stored, 0.5, 20.5, 1.0, 0.5, 3.0, 4.2, 14.0};
        m.tray = "S1";
        m.well = 4;
        m.model_version = 2;
        m.rule_set = "capacity-tested v1";
        m.taken_at = "2026-11-20";
        m.recorded_at = "2026-11-21";
        return m;
    }
};

} // namespace

TEST_CASE("Rows come back as they went in") {
    Fixture f;
    const Id id = f.measurements.add(f.measured(2.345));
    const auto found = f.measurements.of_unit(f.unit);
    REQUIRE(found.size() == 1);
    const Measurement& m = found[0];
    CHECK(m.id == id);
    CHECK(m.subject == Subject{f.unit, 0, 0, 0});
    CHECK(m.quantity == Quantity::capacity);
    CHECK(m.value == 2.345);
    CHECK(*m.resolution == 0.001);
    CHECK(*m.uncertainty == 0.01);
    CHECK(m.instrument == "bench tester");
    CHECK(m.conditions == f.measured(0).conditions);
    CHECK(m.tray == "S1");
    CHECK(m.well == 4);
    CHECK(*m.model_version == 2);
    CHECK(m.rule_set == "capacity-tested v1");
    Measurement inside = f.measured(3.61);
    inside.subject = {0, f.pack, 3, 2};
    inside.quantity = Quantity::voltage;
    inside.conditions = {};
    f.measurements.add(inside);
    REQUIRE(f.measurements.of_assembly(f.pack).size() == 1);
    CHECK(f.measurements.of_assembly(f.pack)[0].subject == Subject{0, f.pack, 3, 2});
    CHECK_FALSE(f.measurements.of_assembly(f.pack)[0].conditions.temperature_c); // unknown stays unknown
    const auto packs = f.assemblies.all();
    CHECK(packs[0].layout == PackLayout{7, 4, 1});
    CHECK(*packs[0].claim.capacity_ah == 10.4);
    CHECK_FALSE(packs[0].claim.voltage_v.has_value());
    CHECK(packs[0].came_in());
    const auto units = f.units.all();
    CHECK(units[0].code == UnitCode{"K4", 193});
    CHECK(units[0].pack == f.pack);
    CHECK(units[0].group == 2);
    CHECK(units[0].well == 4);
    CHECK(*f.catalogue.lots()[0].cost == 12.5);
    CHECK(f.units.largest_number("K4") == 193);
    CHECK(f.units.largest_number("Z9") == 0);
}

TEST_CASE("A measurement is never changed or deleted, only struck out with a reason") {
    Fixture f;
    const Id id = f.measurements.add(f.measured(2.3));
    auto& db = f.connection.database();
    CHECK_THROWS_AS(db.exec("UPDATE measurement SET value = 9"), SQLite::Exception);
    CHECK_THROWS_AS(db.exec("DELETE FROM measurement"), SQLite::Exception);
    CHECK_THROWS_AS(f.measurements.strike(id, "", "t"), SQLite::Exception); // no reason
    f.measurements.strike(id, "wrong unit on the clip", "2026-11-22");
    CHECK(f.measurements.of_unit(f.unit).empty());
    const auto all = f.measurements.history_of_unit(f.unit);
    REQUIRE(all.size() == 1);
    CHECK(all[0].struck_reason == "wrong unit on the clip");
    CHECK_THROWS_AS(db.exec("DELETE FROM strike"), SQLite::Exception);
    f.remarks.add(Event{"t", "what", "who", ""});
    CHECK_THROWS_AS(db.exec("DELETE FROM event"), SQLite::Exception);
    CHECK(f.remarks.events_of("who").size() == 1);
}

TEST_CASE("Quantities, conditions and states are closed sets: an unknown one is an objection, not a voltage") {
    Fixture f;
    auto& db = f.connection.database();
    CHECK_THROWS_AS(
        db.exec("INSERT INTO measurement (unit_id, quantity, value, condition, taken_at, recorded_at) VALUES "
                "(1, 'colour', 1, 'rest', '', '')"),
        SQLite::Exception);
    CHECK_THROWS_AS(
        db.exec("INSERT INTO measurement (unit_id, quantity, value, condition, taken_at, recorded_at) VALUES "
                "(1, 'voltage', 1, 'nowhere', '', '')"),
        SQLite::Exception);
    CHECK_THROWS_AS(db.exec("UPDATE assembly SET state = 'nowhere'"), SQLite::Exception);
    CHECK_FALSE(quantity_from("colour"));
    CHECK_FALSE(assembly_state_from("nowhere"));
}

TEST_CASE("The file itself keeps records whole") {
    Fixture f;
    Unit twice;
    twice.code = {"K4", 193};
    twice.model = "H26";
    CHECK_THROWS_AS(f.units.add(twice, "t"), SQLite::Exception); // code twice
    twice.code = {"K4", 194};
    twice.tray = "S1";
    twice.well = 4;
    CHECK_THROWS_AS(f.units.add(twice, "t"), SQLite::Exception); // well taken
    Measurement orphan = f.measured(1);
    orphan.subject.unit = 999;
    CHECK_THROWS_AS(f.measurements.add(orphan), SQLite::Exception);
    Measurement both = f.measured(1);
    both.subject.assembly = f.pack;
    CHECK_THROWS_AS(f.measurements.add(both), SQLite::Exception);
}

TEST_CASE("A placement ends, once, and is never changed or taken away") {
    Fixture f;
    Placement content;
    content.assembly = content.content_assembly = f.pack;
    content.group = content.content_group = 1;
    content.since = "2026-11-12";
    content.why = "received";
    const Id id = f.assemblies.add(content);
    CHECK_THROWS_AS(f.assemblies.add(content), SQLite::Exception); // its place is taken
    auto& db = f.connection.database();
    CHECK_THROWS_AS(db.exec("UPDATE placement SET group_no = 2"), SQLite::Exception);
    CHECK_THROWS_AS(db.exec("DELETE FROM placement"), SQLite::Exception);
    f.assemblies.end(id, "2026-11-15", "moved");
    CHECK_THROWS_AS(f.assemblies.end(id, "2026-11-16", "again"), SQLite::Exception);
    CHECK_NOTHROW(f.assemblies.add(content)); // and another begins there
    CHECK(f.assemblies.placements_of(f.pack).size() == 3);
}

TEST_CASE("Together is all or nothing") {
    Fixture f;
    const auto before = f.measurements.count();
    CHECK_THROWS_AS(f.connection.together([&] {
        f.measurements.add(f.measured(1));
        f.measurements.add(f.measured(2));
        throw std::runtime_error("stop");
    }),
                    std::runtime_error);
    CHECK(f.measurements.count() == before);
    CHECK_FALSE(f.measurements.instrument("bench tester")); // undone with them
    f.connection.together([&] {
        f.measurements.add(f.measured(1));
        f.connection.together([&] { f.measurements.add(f.measured(2)); });
    });
    CHECK(f.measurements.count() == before + 2);
    CHECK(f.measurements.instrument("bench tester"));
}

TEST_CASE("K12: an instrument is a record, known by its name; what is not known of it is not filled in") {
    Fixture f;
    f.measurements.add(f.measured(2.3));
    CHECK_FALSE(f.measurements.instrument("bench tester")->current_gain);
    Instrument known;
    known.name = "bench tester";
    known.kind = "tester";
    known.channels = 8;
    known.current_gain = 0.002;
    known.current_offset_a = 0.001;
    f.measurements.set(known);
    CHECK(*f.measurements.instrument("bench tester")->current_gain == 0.002);
    CHECK(f.measurements.instruments().size() == 1);
    CHECK(f.measurements.of_unit(f.unit).front().instrument == "bench tester");
}

TEST_CASE("Samples of a run come back bit for bit, over several chunks") {
    Fixture f;
    LogSamples s;
    for (int i = 0; i < 150'000; ++i) {
        s.time_s.push_back(i * 0.5);
        s.voltage_v.push_back(4.2 - i * 1e-6 + std::sin(i) * 1e-4);
        s.current_a.push_back(i % 7 == 0 ? 0.0 : -0.5);
        s.temperature_c.push_back(i % 5 == 0 ? std::nan("") : 20 + i * 1e-5);
    }
    Run header;
    header.unit = f.unit;
    header.file = "a.csv";
    header.recorded_at = "t";
    const Id run = f.runs.add(header, s);
    const LogSamples back = f.runs.samples_of(run);
    CHECK(back.time_s == s.time_s);
    CHECK(back.voltage_v == s.voltage_v);
    CHECK(back.current_a == s.current_a);
    REQUIRE(back.temperature_c.size() == s.temperature_c.size());
    CHECK(std::isnan(back.temperature_c[0]));
    CHECK(back.temperature_c[1] == s.temperature_c[1]);
    CHECK(f.count("run_chunk") == 3);
    CHECK(f.runs.of_unit(f.unit)[0].samples == 150'000);
}

TEST_CASE("A unit's whereabouts follow from its placements; quarantines and overrules keep their history") {
    Fixture f;
    Assembly b;
    b.label = "B-001";
    b.state = AssemblyState::planned;
    b.chemistry = "nmc";
    b.created_at = "2026-11-20";
    const Id build = f.assemblies.add(b);
    Placement reserved;
    reserved.assembly = build;
    reserved.group = reserved.place = 1;
    reserved.unit = f.unit;
    reserved.since = "2026-11-20";
    reserved.from_tray = "S1";
    const Id placed = f.assemblies.add(reserved);
    CHECK(f.units.find(f.unit)->whereabouts == Whereabouts::reserved);
    CHECK(f.units.find(f.unit)->pack == f.pack); // where it came from stays known
    reserved.place = 2;
    CHECK_THROWS_AS(f.assemblies.add(reserved), SQLite::Exception); // it stands in one place
    f.assemblies.set_taken(placed, "t5");
    CHECK(f.assemblies.placements_of(build)[0].taken_at == "t5");
    f.assemblies.set_taken(placed, "");
    CHECK(f.assemblies.placements_of(build)[0].taken_at.empty());
    f.assemblies.set_state(build, AssemblyState::joined);
    CHECK(f.units.find(f.unit)->whereabouts == Whereabouts::built);
    f.assemblies.end(placed, "t6", "given up");
    CHECK(f.units.find(f.unit)->whereabouts == Whereabouts::stock);
    f.units.set_recycled(f.unit, "t7");
    CHECK(f.units.find(f.unit)->whereabouts == Whereabouts::recycled);
    const Id q = f.remarks.add(Quarantine{0, f.pack, 0, "swollen", "t", "", ""});
    f.remarks.close_quarantine(q, "was a label", "t2");
    CHECK(f.remarks.quarantines()[0].closing_reason == "was a label");
    f.remarks.add(Overrule{0, f.unit, "store", "drive", "retested", "r", "t"});
    f.remarks.add(Overrule{0, f.unit, "store", "light", "again", "r", "t2"});
    REQUIRE(f.remarks.overrules().size() == 1);
    CHECK(f.remarks.overrules()[0].duty == "light");
    CHECK(f.count("overrule") == 2);
    const Id finding = f.remarks.add(Finding{0, 0, f.unit, "rusted", "t"});
    CHECK(f.remarks.findings_of_unit(f.unit).size() == 1);
    f.remarks.strike_finding(finding, "dust", "t2");
    CHECK(f.remarks.findings().empty());
    CHECK(f.count("look_finding") == 1);
}

TEST_CASE("K1: a run keeps its steps as the instrument said them") {
    Fixture f;
    Run header;
    header.unit = f.unit;
    header.instrument = "tester";
    header.protocol = "p v1";
    header.began_at = header.recorded_at = "2026-11-20";
    const Id run = f.runs.add(header, {});
    RunStep step;
    step.number = 1;
    step.kind = RunStepKind::discharge;
    step.end_s = 18000;
    step.end = "CUTO";
    step.charge_ah = 2.31;
    step.end_v = 3.0;
    step.last_sample = 300;
    f.runs.add(run, step);
    const auto back = f.runs.steps_of(run);
    REQUIRE(back.size() == 1);
    CHECK(back[0].kind == RunStepKind::discharge);
    CHECK(back[0].end == "CUTO");
    CHECK(back[0].as_meant);
    CHECK(*back[0].charge_ah == 2.31);
    CHECK_FALSE(back[0].energy_wh);
    CHECK_THROWS_AS(f.connection.database().exec("UPDATE run_step SET charge_ah = 9"), SQLite::Exception);
    CHECK_THROWS_AS(f.runs.add(run, step), SQLite::Exception); // once
    CHECK(f.runs.last_run_at(f.unit) == "2026-11-20");
    CHECK(f.runs.last_run_at().at(f.unit) == "2026-11-20");
}

TEST_CASE("N28: a run holds the units in series behind its first, or an assembly; both are its history") {
    Fixture f;
    Unit other;
    other.code = {"K4", 77};
    other.model = "H26";
    const Id second = f.units.add(other, "t");
    Run header;
    static_cast<OnChannel&>(header) = OnChannel::in_series({f.unit, second});
    header.began_at = header.recorded_at = "2026-11-20";
    const Id run = f.runs.add(header, {});
    for (const Id unit : {f.unit, second}) {
        const auto runs = f.runs.of_unit(unit);
        REQUIRE(runs.size() == 1);
        CHECK(runs[0].id == run);
        CHECK(runs[0].units() == std::vector<Id>{f.unit, second});
        CHECK(f.runs.last_run_at(unit) == "2026-11-20");
        CHECK(f.runs.last_run_at().at(unit) == "2026-11-20");
    }
    CHECK(f.runs.of_model("H26", 5, 0).empty()); // no unit's own curve
    CHECK_THROWS_AS(f.connection.database().exec("DELETE FROM run_behind"), SQLite::Exception);
    Run terminals;
    terminals.assembly = f.pack;
    terminals.began_at = terminals.recorded_at = "2026-11-21";
    const Id of_pack = f.runs.add(terminals, {});
    REQUIRE(f.runs.of_assembly(f.pack).size() == 1);
    CHECK(f.runs.of_assembly(f.pack)[0].id == of_pack);
    CHECK(f.runs.last_run_at_assembly(f.pack) == "2026-11-21");
    CHECK(f.runs.find(of_pack)->unit == 0);
    Measurement unsaid;
    unsaid.subject.unit = second;
    unsaid.quantity = Quantity::resistance;
    unsaid.value = 0.06;
    unsaid.taken_at = unsaid.recorded_at = "t";
    f.measurements.add(unsaid);
    CHECK(f.measurements.of_unit(second)[0].quantity == Quantity::resistance);
}

TEST_CASE("A run on a bay grows chunk by chunk, is packed, and what waits is kept") {
    Fixture f;
    Run run;
    run.unit = f.unit;
    run.protocol = "li-capacity v1";
    run.recorded_at = "t0";
    BayRun bay;
    bay.unit = f.unit;
    bay.tester = "socket:t";
    bay.bay = 3;
    bay.protocol = "li-capacity";
    bay.protocol_text = "[[protocol]]";
    bay.state = "running";
    bay.started_at = "t0";
    bay.loops = "0,1";
    bay.run = f.runs.begin(run, bay);
    std::vector<double> all;
    for (int chunk = 0; chunk < 7; ++chunk) {
        LogSamples samples;
        for (int i = 0; i < 10; ++i) {
            samples.time_s.push_back(chunk * 10 + i);
            samples.voltage_v.push_back(4.2 - 0.001 * i);
            samples.current_a.push_back(-1);
            samples.temperature_c.push_back(21);
            all.push_back(samples.time_s.back());
        }
        f.runs.append(bay.run, samples, static_cast<std::uint64_t>(chunk * 10 + 10));
    }
    CHECK(f.runs.samples_of(bay.run).time_s == all);
    CHECK(f.count("run_chunk") == 7);
    f.runs.pack(bay.run);
    CHECK(f.count("run_chunk") == 1);
    CHECK(f.runs.samples_of(bay.run).time_s == all);
    CHECK(f.runs.samples_of(bay.run).temperature_c.size() == all.size());
    auto open = f.runs.open();
    REQUIRE(open.size() == 1);
    CHECK(open[0].last_sequence == 70);
    CHECK(open[0].unit == f.unit);
    CHECK(open[0].loops == "0,1");
    CHECK_FALSE(open[0].began_s);
    open[0].state = "done";
    open[0].stop = "TIME";
    open[0].began_s = 12.5;
    f.runs.update(open[0]);
    CHECK(f.runs.open()[0].stop == "TIME");
    CHECK(*f.runs.open()[0].began_s == 12.5);
    open[0].state = "lifted";
    f.runs.update(open[0]);
    CHECK(f.runs.open().empty());
    open[0].state = "flying";
    CHECK_THROWS(f.runs.update(open[0]));

    Cycle cycle;
    cycle.run = bay.run;
    cycle.unit = f.unit;
    cycle.number = 1;
    cycle.capacity_ah = 4.5;
    cycle.full = false;
    cycle.stop = "HOT";
    cycle.taken_at = "t1";
    f.runs.add(cycle);
    CHECK_THROWS(f.runs.add(cycle)); // once
    REQUIRE(f.runs.cycles().size() == 1);
    CHECK_FALSE(f.runs.cycles()[0].full);
    CHECK_FALSE(f.runs.cycles()[0].charge_ah);

    f.runs.set(Waiting{f.unit, "li-capacity", "row", 4, "", "2026-01-05T08:00:00", 2});
    f.runs.set(Waiting{f.unit, "li-pulse", "row", 5, "2026-01-07", "", {}});
    REQUIRE(f.runs.queue().size() == 1);
    CHECK(f.runs.queue()[0].protocol == "li-pulse");
    CHECK(*f.runs.queue()[0].position == 5);
    CHECK(f.runs.queue()[0].due_at == "2026-01-07");
    CHECK_FALSE(f.runs.queue()[0].insisted_bay);
    f.runs.leave_queue(f.unit);
    CHECK(f.runs.queue().empty());
    CHECK(f.runs.of_model("H26", 5, 0) == std::vector<Id>{bay.run});
    CHECK(f.runs.of_model("H26", 5, f.unit).empty());
}
