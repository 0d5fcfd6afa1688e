#include "exchange/pool_csv.h"
#include "exchange/text_file.h"

#include <catch2/catch.hpp>

#include "temporary.h"

using namespace ingot;
using namespace ingot::exchange;

TEST_CASE("A pool reads with units, blanks and extra columns") {
    const auto r = read_pool("Cell ID;Capacity / mAh;DC Resistance / mOhm;Self-discharge / "
                             "mAh/day;Model;Note\nA;2450;45,5;0,6;M25;x\nB;;;;;\n",
                             "p.csv");
    REQUIRE(r.ok());
    const auto& rows = r.value().rows;
    REQUIRE(rows.size() == 2);
    CHECK(*rows[0].unit.capacity_ah == Approx(2.45));
    CHECK(*rows[0].unit.resistance_ohm == Approx(0.0455));
    CHECK(*rows[0].unit.self_discharge_ah_per_day == Approx(0.0006));
    CHECK_FALSE(rows[1].unit.capacity_ah.has_value());
    const auto again = read_pool(write_pool({rows[0].unit, rows[1].unit}), "q.csv").value();
    CHECK(*again.rows[0].unit.self_discharge_ah_per_day == Approx(0.0006));
}

TEST_CASE("Pools that cannot be used name line and remedy") {
    const auto problem = [](const char* text) { return read_pool(text, "p.csv").problem().text(); };
    CHECK(problem("Cell ID,Capacity / Ah\nA,2\nA,3\n").find("p.csv:3: A stands on line 2") != std::string::npos);
    CHECK(problem("Cell ID,Capacity / Ah\n,2\n").find("p.csv:2:") == 0);
    CHECK(problem("Cell ID,Capacity / Ah\nA,-2\n").find("p.csv:2:") == 0);
    CHECK(problem("Cell ID,Capacity / Ah\nA,2450000\n").find("p.csv:2:") == 0);
    CHECK(problem("Cell ID,DC Resistance / Ohm\nA,0\n").find("more than 0") != std::string::npos);
    CHECK(problem("Capacity / Ah\n2\n").find("\"Cell ID\" is missing") != std::string::npos);
    CHECK(problem("Cell ID\n").find("no units") != std::string::npos);
}

TEST_CASE("Files: missing, a folder, and writing without halves") {
    const tests::Temporary folder;
    CHECK(read_text(folder.file("none.csv")).problem().sentence.english().find("no such file") != std::string::npos);
    CHECK(read_text(folder.file("")).problem().sentence.english().find("folder") != std::string::npos);
    REQUIRE(write_text(folder.file("a.csv"), "x\n").ok());
    CHECK(read_text(folder.file("a.csv")).value() == "x\n");
    CHECK_FALSE(write_text(folder.file("no/such/a.csv"), "x").ok());
    CHECK_FALSE(std::filesystem::exists(folder.file("a.csv.part")));
}
