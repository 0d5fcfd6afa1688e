#include "exchange/records_csv.h"
#include "exchange/text_file.h"

#include <catch2/catch.hpp>

using namespace ingot;
using namespace ingot::exchange;

TEST_CASE("The demo's open files read") {
    const std::string demo = std::string(INGOT_SOURCE_DIR) + "/demo/";
    const auto text = [&](const char* name) { return read_text(demo + name).value(); };
    const auto packs = read_packs(text("packs.csv"), "packs.csv").value();
    CHECK(packs.size() >= 12);
    CHECK(read_units(text("units.csv"), "units.csv").value().size() >= 420);
    CHECK(read_lots(text("lots.csv"), "lots.csv").value().size() >= 5);
    CHECK(read_readings(text("readings.csv"), "readings.csv").value().size() > 1000);
    CHECK(read_builds(text("builds.csv"), "builds.csv").value().size() == 16);
}

TEST_CASE("Records that do not fit name their line") {
    const std::string head = "Unit ID,Pack,Group,Quantity,Value,Unit,Condition\n";
    const auto problem = [&](const std::string& row) { return read_readings(head + row, "r.csv").problem().text(); };
    CHECK(problem("A,,,voltage,3.7,A,rest\n").find("r.csv:2: unit \"A\" does not fit") == 0);
    CHECK(problem("A,P,,voltage,3.7,V,rest\n").find("exactly one") != std::string::npos);
    CHECK(problem("A,,,volts,3.7,V,rest\n").find("not a quantity") != std::string::npos);
    CHECK(problem("A,,,voltage,,V,rest\n").find("blank") != std::string::npos);
    CHECK(problem("A,,,voltage,3.7,V,sleeping\n").find("not a condition") != std::string::npos);
    CHECK(problem(",P,1.5,voltage,3.7,V,rest\n").find("whole number") != std::string::npos);
    const auto good = read_readings(head + "A,,,dc-resistance,45.5,mOhm,rest\n", "r.csv").value();
    CHECK(good[0].reading.value == Approx(0.0455));
    CHECK_FALSE(read_packs("Lot,Pack,Chemistry,Series,Parallel\nL,P,nmc,0,4\n", "p.csv").ok());
    CHECK_FALSE(read_packs("Lot,Pack,Chemistry,Series,Parallel\nL,,nmc,7,4\n", "p.csv").ok());
}

TEST_CASE("Every column of lots, packs, units and builds arrives where it belongs") {
    const auto lots =
        read_lots("Lot,Source,Received,Note,Cost\nA,depot,2026-11-01,\"old, wet\",12.5\nB,,,,\n", "l").value();
    REQUIRE(lots.size() == 2);
    CHECK(lots[0].source == "depot");
    CHECK(lots[0].note == "old, wet");
    CHECK(*lots[0].cost == 12.5);
    CHECK_FALSE(lots[1].cost.has_value());
    CHECK(lots[1].line == 3);
    const auto packs =
        read_packs(
            "Lot;Pack;Chemistry;Series;Parallel;Cells per Unit;Format;Model;Claimed Capacity / mAh;Claimed Voltage / "
            "V;Stage;Findings;Shelf\nA;P1;nimh;14;1;6;;G65M;6500;100,8;triage;rusted dented;Q3\n",
            "p")
            .value();
    REQUIRE(packs.size() == 1);
    CHECK(packs[0].layout == PackLayout{14, 1, 6});
    CHECK(*packs[0].claim.capacity_ah == Approx(6.5));
    CHECK(*packs[0].claim.voltage_v == Approx(100.8));
    CHECK(packs[0].findings == std::vector<std::string>{"rusted", "dented"});
    CHECK(packs[0].stage == "triage");
    CHECK(packs[0].shelf == "Q3");
    const auto units = read_units("Unit "
                                  "ID,Pack,Group,Place,Model,Tray,Well,Findings\nK4-0001-5,P1,2,3,H26,S1,14,torn-"
                                  "sleeve\nK4-0002-3,,,,H26,,,\n",
                                  "u")
                           .value();
    CHECK(units[0].group == 2);
    CHECK(units[0].place == 3);
    CHECK(units[0].well == 14);
    CHECK(units[0].findings == std::vector<std::string>{"torn-sleeve"});
    CHECK(units[1].well == 0);
    CHECK(units[1].pack.empty());
    const auto builds = read_builds("Build,Unit ID,Group,Taken\nB-1,x,1,yes\nB-1,y,2,\n", "b").value();
    CHECK(builds[0].taken);
    CHECK_FALSE(builds[1].taken);
    CHECK(builds[1].group == 2);
    CHECK_FALSE(read_builds("Build,Unit ID,Group\nB-1,x,0\n", "b").ok());
    CHECK_FALSE(read_lots("Source\nx\n", "l").ok());
}

TEST_CASE("Conditions of a reading are kept, in base units") {
    const auto rows =
        read_readings(
            "Unit ID,Pack,Group,Quantity,Value,Unit,Condition,Instrument,Taken,Temperature / degC,Days since Charge\n"
            ",P1,3,voltage,3842,mV,end-of-charge,bench meter,2026-11-10T10:00:00Z,19.5,\n"
            "K4-0001-5,,,self-discharge,0.9,mAh/day,stored,bench meter,,20,14\n",
            "r")
            .value();
    REQUIRE(rows.size() == 2);
    CHECK(rows[0].pack == "P1");
    CHECK(rows[0].group == 3);
    CHECK(rows[0].reading.value == Approx(3.842));
    CHECK(rows[0].reading.conditions.condition == Condition::end_of_charge);
    CHECK(*rows[0].reading.conditions.temperature_c == 19.5);
    CHECK_FALSE(rows[0].reading.conditions.days_since_charge.has_value());
    CHECK(rows[0].taken == "2026-11-10T10:00:00Z");
    CHECK(rows[1].reading.value == Approx(0.0009));
    CHECK(*rows[1].reading.conditions.days_since_charge == 14);
    CHECK(rows[1].reading.protocol == "typed");
}

TEST_CASE("Instruments of a shop: chargers with their channels") {
    const auto rows = read_instruments("Name;Kind;Channels\nFour-way;charger;4\nBench meter;meter;\n", "i").value();
    REQUIRE(rows.size() == 2);
    CHECK(rows[0].name == "Four-way");
    CHECK(rows[0].channels == 4);
    CHECK(rows[1].channels == 1);
    CHECK(read_instruments("Name,Kind,Channels\na,charger,2.5\n", "i").problem().text().find("i:2: ") == 0);
    CHECK_FALSE(read_instruments("Name,Channels\na,2\n", "i").ok());
}
