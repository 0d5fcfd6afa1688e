// Readings of a pack's groups as CSV: the long form, a board's snapshot, single units, and what is objected to.
#include "exchange/readings_csv.h"

#include <catch2/catch.hpp>

using namespace ingot;
using exchange::read_group_readings;
using exchange::read_unit_voltages;

namespace {
const PackLayout layout{4, 3, 1};

std::string objection(const std::string& text) {
    const auto read = read_group_readings(text, "r.csv", layout);
    REQUIRE_FALSE(read);
    return read.problem().text();
}
} // namespace

TEST_CASE("Group readings in the long form: conditions, current, days and capacity, in either decimal style") {
    const auto read = read_group_readings("Group,Voltage / V,Condition,Current / A,Days,Capacity / Ah\n"
                                          "1,3.702,rest,,,8.75\n"
                                          "2,3.699,,,,\n"
                                          "3,3.61,load,-2.5,,\n"
                                          "4,3.69,stored,,7,8.6\n",
                                          "r.csv", layout);
    REQUIRE(read);
    const auto& got = read.value();
    CHECK_FALSE(got.snapshot);
    REQUIRE(got.readings.size() == 4);
    CHECK(got.readings[0].voltage_v == 3.702);
    CHECK(got.readings[1].condition == Condition::rest); // blank
    CHECK(got.readings[2].condition == Condition::load);
    CHECK(*got.readings[2].current_a == -2.5);
    CHECK(*got.readings[3].days == 7);
    CHECK_FALSE(got.readings[0].days);
    REQUIRE(got.capacities.size() == 2);
    CHECK(got.capacities[0].group == 1);
    CHECK(got.capacities[0].capacity_ah == 8.75);
    CHECK(got.capacities[1].group == 4);

    const auto comma = read_group_readings("Group;Voltage / V;Capacity / mAh\n1;3,702;8750\n", "r.csv", layout);
    REQUIRE(comma);
    CHECK(comma.value().readings[0].voltage_v == Approx(3.702));
    CHECK(comma.value().capacities[0].capacity_ah == Approx(8.75));
}

TEST_CASE("Group readings that cannot be right name the line and the remedy") {
    CHECK(objection("Group,Voltage / V\n1,3.7\n9,3.7\n").find("r.csv:3") != std::string::npos);
    CHECK(objection("Group,Voltage / V\n0,3.7\n").find("r.csv:2") != std::string::npos);
    CHECK(objection("Group,Voltage / V\n1,three\n").find("r.csv:2") != std::string::npos);
    CHECK(
        objection("Group,Voltage / V,Condition\n1,3.7,asleep\n").find("rest, end-of-charge, load, charge or stored") !=
        std::string::npos);
    CHECK(objection("Group,Voltage / V,Condition,Current / A\n1,3.7,load,2\n").find("minus") != std::string::npos);
    CHECK(objection("Group,Voltage / V,Condition,Days\n1,3.7,stored,-2\n").find("negative") != std::string::npos);
    CHECK(objection("Group,Voltage / V,Capacity / Ah\n1,3.7,0\n").find("above 0") != std::string::npos);
    CHECK(objection("Group,Voltage / V\n").find("no reading") != std::string::npos);
    CHECK_FALSE(objection("Voltage / V\n3.7\n").empty());
    CHECK_FALSE(objection("").empty());
}

TEST_CASE("A snapshot: the last row counts, and its current tells whether it was under load") {
    const auto rest = read_group_readings("Time,Block 1 / mV,Block 2 / mV,Block 3 / mV,Block 4 / mV\n"
                                          "0,3700,3701,3702,3703\n"
                                          "1,3710,3711,3712,3713\n",
                                          "board.csv", layout);
    REQUIRE(rest);
    CHECK(rest.value().snapshot);
    CHECK(rest.value().rows == 2);
    REQUIRE(rest.value().readings.size() == 4);
    CHECK(rest.value().readings[0].voltage_v == Approx(3.710));
    CHECK(rest.value().readings[3].condition == Condition::rest);
    const auto load = read_group_readings("Cell 1 (V),Cell 2 (V),Cell 3 (V),Cell 4 (V),Current / A\n"
                                          "3.6,3.61,3.6,3.2,-3.5\n",
                                          "board.csv", layout);
    REQUIRE(load);
    CHECK(load.value().readings[3].condition == Condition::load);
    CHECK(*load.value().readings[3].current_a == -3.5);
    CHECK(load.value().capacities.empty());
}

TEST_CASE("Single units whose links are cut") {
    const auto read = read_unit_voltages("Group,Unit,Voltage / V\n2,a,3.61\n2,b,0.2\n", "u.csv", layout);
    REQUIRE(read);
    REQUIRE(read.value().size() == 2);
    CHECK(read.value()[1].group == 2);
    CHECK(read.value()[1].unit == "b");
    CHECK(read.value()[1].voltage_v == 0.2);
    CHECK_FALSE(read_unit_voltages("Group,Unit,Voltage / V\n5,a,3.61\n", "u.csv", layout));
    CHECK_FALSE(read_unit_voltages("Group,Voltage / V\n1,3.61\n", "u.csv", layout));
}
