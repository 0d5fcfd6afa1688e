// A board's log from a file, in the dialects that boards write.
#include "exchange/board_log_csv.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <string>

using namespace ingot;

TEST_CASE("A board's log is read with seconds, clock times or moments, volts or millivolts, blanks left blank") {
    const auto plain = exchange::read_board_log_csv("Time / s,Cell 1 / V,Cell 2 / V,Current / A,Voltage / V\n"
                                                    "0,3.651,3.652,0.0,7.30\n10,3.700,,2.0,7.41\n",
                                                    "a.csv", 2);
    REQUIRE(plain);
    CHECK(plain.value().time_s == std::vector<double>{0, 10});
    CHECK(plain.value().group_v[0] == std::vector<double>{3.651, 3.652});
    CHECK(std::isnan(plain.value().group_v[1][1]));
    CHECK(plain.value().charging_a == std::vector<double>{0, 2});
    CHECK(plain.value().terminals_v[1] == Approx(7.41));
    CHECK(*plain.value().resolution_v == Approx(0.001));
    // The same with semicolons, decimal commas, clock times, millivolts, another order; and no current.
    const auto other = exchange::read_board_log_csv("Time;block 2 (mV);block 1 (mV)\r\n"
                                                    "23:59:50;3652;3651\r\n24:00:00;3701;3700\r\n",
                                                    "b.csv", 2);
    REQUIRE(other);
    CHECK(other.value().time_s == std::vector<double>{0, 10});
    CHECK(other.value().group_v[1] == std::vector<double>{3.700, 3.701});
    CHECK(other.value().charging_a.empty());
    const auto moments = exchange::read_board_log_csv("timestamp,Group 1 / V\n2026-11-29 10:00:00,3.65\n"
                                                      "2026-11-29T10:00:30,3.66\n",
                                                      "c.csv", 1);
    REQUIRE(moments);
    CHECK(moments.value().time_s == std::vector<double>{0, 30});
}

TEST_CASE("A board's log that cannot be read is objected to with its place and the remedy") {
    const auto why = [](const std::string& text, int series) {
        const auto read = exchange::read_board_log_csv(text, "x.csv", series);
        return read ? std::string() : std::to_string(read.problem().line) + " " + read.problem().sentence.english();
    };
    CHECK(why("Time / s,Cell 1 / V\n0,3.6\n", 2).find("group 2 of 2 has no column") != std::string::npos);
    CHECK(why("Time / s,Cell 1 / V,Cell 2 / V\n0,3.6,3.6\n", 1).find("the pack has groups 1 to 1") !=
          std::string::npos);
    CHECK(why("Time / s,Cell 1 / V\n5,3.6\n4,3.6\n", 1).find("3 time runs backwards") == 0);
    CHECK(why("Time / s,Cell 1 / V\n0,3652\n", 1).find("in mV") != std::string::npos);
    CHECK(why("Time / s,Cell 1 / V\n0,often\n", 1).rfind("2 ", 0) == 0);
    CHECK(why("Time,Cell 1 / V\n12:00,3.6\n", 1).find("holds no time") != std::string::npos);
    CHECK(why("Time / s,Cell 1 / V\n", 1).find("no row") != std::string::npos);
    std::string many = "Time / s,Cell 1 / V\n";
    for (int r = 0; r < 5000; ++r)
        many += std::to_string(r) + ",3.6\n";
    const auto stopped = exchange::read_board_log_csv(many, "x.csv", 1, [](double) { return false; });
    REQUIRE_FALSE(stopped);
    CHECK(stopped.problem().sentence.english().find("stopped") != std::string::npos);
}
