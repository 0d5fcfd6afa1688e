// Packs as assemblies: groups that move, packs that open in part, folders that come in by the same steps as by hand.
#include "workshop/workshop.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <fstream>

using namespace ingot;
using tests::Temporary;

namespace {

struct TwoPacks {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Two packs");
    Id lot = shop->receive().add_lot({0, "MOW-07", "", "", "", {}}).value();
    Id donor = pack("donor", 3.640);
    Id host = pack("host", 3.650);

    Id pack(const std::string& label, double volts) const {
        Assembly p;
        p.lot = lot;
        p.label = label;
        p.chemistry = "nmc";
        p.format = "18650";
        p.layout = {3, 2, 1};
        p.claim.capacity_ah = 5.2;
        const Id id = shop->receive().add_pack(p).value();
        REQUIRE(shop->receive().set_state(id, AssemblyState::in_triage));
        for (int g = 1; g <= 3; ++g)
            REQUIRE(shop->triage().record_group_reading(id, g, volts + 0.001 * g, Condition::rest, "bench meter"));
        return id;
    }
    [[nodiscard]] std::map<int, double> rest(Id pack) const {
        return shop->triage().group_readings(pack, Condition::rest);
    }
};

} // namespace

TEST_CASE("K7, N25: a group that moves is a placement that ends and one that begins; nobody's reading is invented") {
    TwoPacks two;
    REQUIRE(two.shop->triage().note_group_capacity(two.donor, 2, 4.9));
    const auto before = two.shop->ledger().counts().measurements;
    REQUIRE(two.shop->triage().move_group(two.donor, 2, two.host, 3));
    CHECK(two.shop->ledger().counts().measurements == before);
    // The donor's place is empty, not 0 V; what moved keeps what was read of it.
    CHECK(two.rest(two.donor).size() == 2);
    CHECK_FALSE(two.rest(two.donor).contains(2));
    CHECK(two.shop->triage().groups_taken_out(two.donor) == std::vector<int>{2});
    CHECK(two.rest(two.host).at(3) == 3.642);
    CHECK(two.shop->triage().group_capacities(two.host).at(3) == 4.9);
    CHECK(two.shop->triage().group_capacities(two.donor).empty());
    CHECK_FALSE(two.shop->triage().record_group_reading(two.donor, 2, 3.6, Condition::rest, "m").ok());
    // Read where it stands now, the new reading counts.
    REQUIRE(two.shop->triage().record_group_reading(two.host, 3, 3.655, Condition::rest, "m"));
    CHECK(two.rest(two.host).at(3) == 3.655);
    // And on it goes: back to the donor, with what was read meanwhile.
    REQUIRE(two.shop->triage().move_group(two.host, 3, two.donor, 2));
    CHECK(two.shop->triage().groups_taken_out(two.host) == std::vector<int>{3});
    CHECK(two.shop->triage().groups_taken_out(two.donor).empty());
    // A file tells the same after it was opened again.
    const auto again = Workshop::open(two.shop->path()).value();
    CHECK(again->triage().group_readings(two.donor, Condition::rest) == two.rest(two.donor));
    CHECK(again->triage().groups_taken_out(two.host) == std::vector<int>{3});
}

TEST_CASE("N25: opening an emptied donor makes units only of what is still in it") {
    TwoPacks two;
    REQUIRE(two.shop->triage().move_group(two.donor, 2, two.host, 3));
    REQUIRE(two.shop->receive().set_state(two.donor, AssemblyState::to_open));
    const auto units = two.shop->open().open_pack(two.donor, "K4", "H26", "A1");
    REQUIRE(units);
    CHECK(units.value().size() == 4);
    for (const Id id : units.value())
        CHECK(two.shop->unit(id)->record.group != 2);
    CHECK(two.shop->pack(two.donor)->state == AssemblyState::opened);
}

TEST_CASE("N27: a pack opens in part, stays a pack under repair, and comes back") {
    TwoPacks two;
    REQUIRE(two.shop->receive().set_state(two.host, AssemblyState::to_open));
    const auto units = two.shop->open().open_pack(two.host, "K4", "H26", "A1", {1, 3});
    REQUIRE(units);
    CHECK(units.value().size() == 4);
    CHECK(two.shop->pack(two.host)->state == AssemblyState::under_repair);
    CHECK(two.shop->triage().groups_taken_out(two.host) == std::vector<int>{1, 3});
    CHECK(two.rest(two.host).size() == 1);
    // A donor's group goes in; the rest is opened later.
    REQUIRE(two.shop->triage().move_group(two.donor, 1, two.host, 1));
    CHECK(two.shop->triage().groups_taken_out(two.host) == std::vector<int>{3});
    for (const auto state : {AssemblyState::joined, AssemblyState::proved, AssemblyState::in_service,
                             AssemblyState::returned, AssemblyState::in_triage})
        REQUIRE(two.shop->receive().set_state(two.host, state));
    CHECK_FALSE(two.shop->receive().set_state(two.host, AssemblyState::spent)); // not from Triage
    REQUIRE(two.shop->receive().set_state(two.host, AssemblyState::to_open));
    CHECK(two.shop->open().open_pack(two.host, "K4", "H26", "A1").value().size() == 4);
    CHECK(two.shop->pack(two.host)->state == AssemblyState::opened);
    // Every step is on record.
    CHECK(two.shop->ledger().events_of("host").size() >= 9);
}

TEST_CASE("Home, model and state changes leave events; recycling can be taken back with a reason") {
    TwoPacks two;
    REQUIRE(two.shop->receive().set_state(two.donor, AssemblyState::to_open));
    const Id unit = two.shop->open().open_pack(two.donor, "K4", "H26", "A1").value()[0];
    const std::string code = two.shop->unit(unit)->code();
    REQUIRE(two.shop->open().set_home(unit, "B7", 2));
    REQUIRE(two.shop->open().set_unit_model(unit, "no name"));
    REQUIRE(two.shop->open().recycle_unit(unit));
    CHECK_FALSE(two.shop->unit(unit)->in_stock());
    CHECK_FALSE(two.shop->open().take_out_of_recycling(unit, ""));
    REQUIRE(two.shop->open().take_out_of_recycling(unit, "the wrong one"));
    CHECK(two.shop->unit(unit)->in_stock());
    const auto events = two.shop->ledger().events_of(code);
    REQUIRE(events.size() == 4);
    CHECK(events[0].detail == "from A1 1");
    CHECK(events[1].detail == "was H26");
    CHECK(events[3].detail == "the wrong one");
}

TEST_CASE("K6: a folder comes in by the same rules as by hand, with file and line, and nothing stays half in") {
    const auto refused = [](const std::string& file, const std::string& text) {
        const Temporary folder;
        auto shop = tests::new_shop(folder.file("w.ingot"), "x");
        const std::string in = folder.file("in");
        std::filesystem::create_directories(in);
        std::ofstream(in + "/lots.csv") << "Lot\nL\n";
        std::ofstream(in + "/packs.csv") << "Lot,Pack,Chemistry,Series,Parallel,Cells per Unit,Stage\n"
                                            "L,P,nmc,4,1,1,opened\nL,Q,lfp,4,1,1,triage\n";
        std::ofstream(in + "/units.csv") << "Unit ID,Pack,Group,Place,Model,Findings\nK4-0001-5,P,1,1,H26,\n"
                                            "K4-0002-Y,P,2,1,H26,swollen\nF2-0001-K,Q,1,1,F32,\n";
        std::ofstream(in + "/" + file) << text;
        const auto done = shop->import_folder(in);
        REQUIRE_FALSE(done);
        CHECK(done.problem().where.find(file) != std::string::npos);
        CHECK(shop->lots().empty());
        CHECK(shop->packs().empty());
        CHECK(shop->units().empty());
        CHECK(shop->ledger().counts().measurements == 0);
        return done.problem();
    };
    const std::string header = "Unit ID,Pack,Group,Quantity,Value,Unit,Taken\n";
    CHECK(refused("readings.csv", header + "K4-0001-5,,,capacity,6500,Ah,\n").line == 2); // mAh for Ah
    CHECK(refused("readings.csv", header + "K4-0001-5,,,voltage,3.6,V,01/02/2026\n")
              .sentence.english()
              .find("2026-11-27") != std::string::npos);
    CHECK(refused("readings.csv", header + ",P,9,voltage,3.6,V,\n").line == 2); // no such group
    CHECK(refused("builds.csv", "Build,Unit ID,Group\nB-1,K4-0001-5,1\nB-1,F2-0001-K,2\n")
              .sentence.english()
              .find("one chemistry") != std::string::npos);
    CHECK(refused("builds.csv", "Build,Unit ID,Group\nB-1,K4-0002-Y,1\n").sentence.english().find("quarantine") !=
          std::string::npos);
    CHECK(refused("packs.csv", "Lot,Pack,Chemistry,Series,Parallel,Cells per Unit,Stage\nL,High,nmc,20,1,1,triage\n")
              .sentence.english()
              .find("Gate Passed") != std::string::npos);
    CHECK(refused("packs.csv", "Lot,Pack,Chemistry,Series,Parallel,Cells per Unit,Stage\nL,Odd,nmc,4,1,1,somewhere\n")
              .sentence.english()
              .find("no state") != std::string::npos);
}

TEST_CASE("K2: a log that is brought in late replaces no newer capacity") {
    const Temporary folder;
    auto shop = tests::new_shop(folder.file("w.ingot"), "x");
    Unit loose;
    loose.code = {"K4", 1};
    loose.model = "H26";
    const Id unit = shop->open().add_unit(loose).value();
    Measurement capacity;
    capacity.quantity = Quantity::capacity;
    capacity.value = 2.31;
    REQUIRE(shop->test().record_reading(unit, capacity, "2026-11-20"));
    exchange::ImportedLog log;
    for (int i = 0; i <= 500; ++i) {
        log.samples.time_s.push_back(i * 36.0);
        log.samples.voltage_v.push_back(4.1 - 1.1 * i / 500);
        log.samples.current_a.push_back(-0.5);
    }
    const CapacityResult result = measure_capacity(log.samples);
    REQUIRE(result.discharge_capacity_ah);
    REQUIRE(shop->test().import_log(unit, log, result, "old.csv", "bench tester", {}, "2025-03-01T08:00:00Z"));
    CHECK(*shop->unit(unit)->facts.capacity_ah == 2.31);
    CHECK(shop->test().history(unit).size() == 2);
    CHECK_FALSE(shop->test().import_log(unit, log, result, "old.csv", "bench tester", {}, "01/03/2025"));
}

TEST_CASE("K5: modules of a model that nobody entered are judged by their pack's cells per unit") {
    const Temporary folder;
    auto shop = tests::new_shop(folder.file("w.ingot"), "x");
    Assembly row;
    row.lot = shop->receive().add_lot({0, "BUO-01", "", "", "", {}}).value();
    row.label = "row";
    row.chemistry = "nimh";
    row.layout = {4, 1, 6};
    const Id pack = shop->receive().add_pack(row).value();
    REQUIRE(shop->receive().set_state(pack, AssemblyState::to_open));
    const Id module = shop->open().open_pack(pack, "G3", "grey module", "").value()[0];
    Measurement volts;
    volts.value = 7.8;
    REQUIRE(shop->test().record_reading(module, volts));
    CHECK(shop->unit(module)->reference.cells_in_series == 6);
    CHECK(shop->unit(module)->verdict.duty != Duty::quarantine);
    volts.value = 78;
    CHECK_FALSE(shop->test().record_reading(module, volts));
}
