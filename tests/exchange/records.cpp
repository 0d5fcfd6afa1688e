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
