#include "store/records.h"

#include "temporary.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace ingot;
using namespace ingot::store;
using tests::Temporary;

namespace {

struct Fixture {
    Temporary folder;
    std::unique_ptr<WorkshopFile> file = WorkshopFile::create(folder.file("w.ingot")).value();
    Records records{*file};
    Id lot = records.add(LotRecord{0, "MOW-07", "mowers", "2026-11-12", "", 12.5});
    Id pack = add_pack();
    Id unit = records.add(UnitRecord{0, {"K4", 193}, pack, 2, 3, "H26", "S1", "", 4}, "t0");

    Id add_pack() {
        PackRecord p;
        p.lot_id = lot;
        p.label = "MOW-07 pack 1";
        p.chemistry = "nmc";
        p.layout = {7, 4, 1};
        p.claim = {10.4, {}};
        p.stage = "receive";
        p.created_at = "t0";
        return records.add(p);
    }
    ReadingRecord reading(double value) const {
        ReadingRecord r;
        r.unit_id = unit;
        r.reading.quantity = Quantity::capacity;
        r.reading.value = value;
        r.reading.uncertainty = 0.01;
        r.reading.instrument = "bench tester";
        r.reading.protocol = "typed";
        r.reading.conditions = {Condition::stored, 0.5, 20.5, 1.0, 0.5, 3.0, 4.2, 14.0};
        r.tray = "S1";
        r.well = 4;
        r.model_version = 2;
        r.rule_set = "capacity-tested v1";
        r.taken_at = "t1";
        r.recorded_at = "t2";
        return r;
    }
};

} // namespace

TEST_CASE("Rows come back as they went in") {
    Fixture f;
    const Id id = f.records.add(f.reading(2.345));
    const auto readings = f.records.standing_readings();
    REQUIRE(readings.size() == 1);
    const ReadingRecord& r = readings[0];
    CHECK(r.id == id);
    CHECK(r.unit_id == f.unit);
    CHECK(r.reading.quantity == Quantity::capacity);
    CHECK(r.reading.value == 2.345);
    CHECK(*r.reading.uncertainty == 0.01);
    CHECK(r.reading.conditions == f.reading(0).reading.conditions);
    CHECK(r.tray == "S1");
    CHECK(r.well == 4);
    const auto packs = f.records.packs();
    CHECK(packs[0].layout == PackLayout{7, 4, 1});
    CHECK(*packs[0].claim.capacity_ah == 10.4);
    CHECK_FALSE(packs[0].claim.voltage_v.has_value());
    const auto units = f.records.units();
    CHECK(units[0].code == UnitCode{"K4", 193});
    CHECK(units[0].group == 2);
    CHECK(units[0].well == 4);
    CHECK(*f.records.lots()[0].cost == 12.5);
    CHECK(f.records.largest_unit_number("K4") == 193);
    CHECK(f.records.largest_unit_number("Z9") == 0);
}

TEST_CASE("A reading is never changed or deleted, only struck out with a reason") {
    Fixture f;
    const Id id = f.records.add(f.reading(2.3));
    auto& db = f.file->database();
    CHECK_THROWS_AS(db.exec("UPDATE reading SET value = 9"), SQLite::Exception);
    CHECK_THROWS_AS(db.exec("DELETE FROM reading"), SQLite::Exception);
    CHECK_THROWS_AS(f.records.strike_reading(id, "", "t"), SQLite::Exception); // no reason
    f.records.strike_reading(id, "wrong unit on the clip", "t3");
    CHECK(f.records.standing_readings().empty());
    const auto all = f.records.readings_of_unit(f.unit);
    REQUIRE(all.size() == 1);
    CHECK(all[0].struck_reason == "wrong unit on the clip");
    CHECK_THROWS_AS(db.exec("DELETE FROM strike"), SQLite::Exception);
    f.records.add(EventRecord{"t", "what", "who", ""});
    CHECK_THROWS_AS(db.exec("DELETE FROM event"), SQLite::Exception);
}

TEST_CASE("The file itself keeps records whole") {
    Fixture f;
    CHECK_THROWS_AS(f.records.add(UnitRecord{0, {"K4", 193}, 0, 0, 0, "H26", "", "", 0}, "t"),
                    SQLite::Exception); // code twice
    CHECK_THROWS_AS(f.records.add(UnitRecord{0, {"K4", 194}, 0, 0, 0, "H26", "S1", "", 4}, "t"),
                    SQLite::Exception); // well taken
    ReadingRecord orphan = f.reading(1);
    orphan.unit_id = 999;
    CHECK_THROWS_AS(f.records.add(orphan), SQLite::Exception);
    ReadingRecord both = f.reading(1);
    both.pack_id = f.pack;
    CHECK_THROWS_AS(f.records.add(both), SQLite::Exception);
    PackRecord p;
    p.lot_id = f.lot;
    p.label = "x";
    p.stage = "nowhere";
    CHECK_THROWS_AS(f.records.add(p), SQLite::Exception);
}

TEST_CASE("Together is all or nothing") {
    Fixture f;
    const auto before = f.records.count("reading");
    CHECK_THROWS_AS(f.records.together([&] {
        f.records.add(f.reading(1));
        f.records.add(f.reading(2));
        throw std::runtime_error("stop");
    }),
                    std::runtime_error);
    CHECK(f.records.count("reading") == before);
    f.records.together([&] {
        f.records.add(f.reading(1));
        f.records.together([&] { f.records.add(f.reading(2)); });
    });
    CHECK(f.records.count("reading") == before + 2);
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
    const Id run = f.records.add_run(RunRecord{0, f.unit, "a.csv", "", "", "t", 0}, s);
    const LogSamples back = f.records.samples_of(run);
    CHECK(back.time_s == s.time_s);
    CHECK(back.voltage_v == s.voltage_v);
    CHECK(back.current_a == s.current_a);
    REQUIRE(back.temperature_c.size() == s.temperature_c.size());
    CHECK(std::isnan(back.temperature_c[0]));
    CHECK(back.temperature_c[1] == s.temperature_c[1]);
    CHECK(f.records.count("run_chunk") == 3);
    CHECK(f.records.runs_of_unit(f.unit)[0].samples == 150'000);
}

TEST_CASE("Builds reserve their units; quarantines and overrules keep their history") {
    Fixture f;
    BuildRecord b;
    b.label = "B-001";
    b.chemistry = "nmc";
    b.units = {{1, 1, f.unit, "S1", "", 4}};
    const Id build = f.records.add(b);
    CHECK(f.records.units()[0].state == "reserved");
    f.records.set_taken(build, f.unit, "t5");
    CHECK(f.records.builds()[0].units[0].taken_at == "t5");
    f.records.set_taken(build, f.unit, "");
    CHECK(f.records.builds()[0].units[0].taken_at.empty());
    const Id q = f.records.open_quarantine(f.pack, 0, "swollen", "t");
    f.records.close_quarantine(q, "was a label", "t2");
    CHECK(f.records.quarantines()[0].closing_reason == "was a label");
    f.records.add(OverruleRecord{0, f.unit, "store", "drive", "retested", "r", "t"});
    f.records.add(OverruleRecord{0, f.unit, "store", "light", "again", "r", "t2"});
    REQUIRE(f.records.overrules().size() == 1);
    CHECK(f.records.overrules()[0].duty == "light");
    CHECK(f.records.count("overrule") == 2);
    const Id finding = f.records.add_finding(0, f.unit, "rusted", "t");
    f.records.strike_finding(finding, "dust", "t2");
    CHECK(f.records.findings().empty());
    CHECK(f.records.count("look_finding") == 1);
}

TEST_CASE("A run on a bay grows chunk by chunk, is packed, and what waits is kept") {
    Fixture f;
    RunRecord run;
    run.unit_id = f.unit;
    run.protocol = "li-capacity v1";
    run.imported_at = "t0";
    BayRunRecord bay;
    bay.unit_id = f.unit;
    bay.tester = "socket:t";
    bay.bay = 3;
    bay.protocol = "li-capacity";
    bay.protocol_text = "[[protocol]]";
    bay.state = "running";
    bay.started_at = "t0";
    bay.loops = "0,1";
    bay.run_id = f.records.begin_bay_run(run, bay);
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
        f.records.append_samples(bay.run_id, samples, static_cast<std::uint64_t>(chunk * 10 + 10));
    }
    CHECK(f.records.samples_of(bay.run_id).time_s == all);
    CHECK(f.records.count("run_chunk") == 7);
    f.records.pack_run(bay.run_id);
    CHECK(f.records.count("run_chunk") == 1);
    CHECK(f.records.samples_of(bay.run_id).time_s == all);
    CHECK(f.records.samples_of(bay.run_id).temperature_c.size() == all.size());
    auto open = f.records.open_bay_runs();
    REQUIRE(open.size() == 1);
    CHECK(open[0].last_sequence == 70);
    CHECK(open[0].unit_id == f.unit);
    CHECK(open[0].loops == "0,1");
    CHECK_FALSE(open[0].began_s);
    open[0].state = "done";
    open[0].stop = "TIME";
    open[0].began_s = 12.5;
    f.records.update(open[0]);
    CHECK(f.records.open_bay_runs()[0].stop == "TIME");
    CHECK(*f.records.open_bay_runs()[0].began_s == 12.5);
    open[0].state = "lifted";
    f.records.update(open[0]);
    CHECK(f.records.open_bay_runs().empty());
    open[0].state = "flying";
    CHECK_THROWS(f.records.update(open[0]));

    CycleRecord cycle;
    cycle.run_id = bay.run_id;
    cycle.unit_id = f.unit;
    cycle.number = 1;
    cycle.capacity_ah = 4.5;
    cycle.full = false;
    cycle.stop = "HOT";
    cycle.taken_at = "t1";
    f.records.add(cycle);
    CHECK_THROWS(f.records.add(cycle)); // once
    REQUIRE(f.records.cycles().size() == 1);
    CHECK_FALSE(f.records.cycles()[0].full);
    CHECK_FALSE(f.records.cycles()[0].charge_ah);

    f.records.set(QueueRecord{f.unit, "li-capacity", "row", 4, "", "2026-01-05T08:00:00", 2});
    f.records.set(QueueRecord{f.unit, "li-pulse", "row", 5, "2026-01-07", "", {}});
    REQUIRE(f.records.queue().size() == 1);
    CHECK(f.records.queue()[0].protocol == "li-pulse");
    CHECK(*f.records.queue()[0].position == 5);
    CHECK(f.records.queue()[0].due_at == "2026-01-07");
    CHECK_FALSE(f.records.queue()[0].insisted_bay);
    f.records.leave_queue(f.unit);
    CHECK(f.records.queue().empty());
    CHECK(f.records.runs_of_model("H26", 5, 0) == std::vector<Id>{bay.run_id});
    CHECK(f.records.runs_of_model("H26", 5, f.unit).empty());
}
