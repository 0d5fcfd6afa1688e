#include "exchange/log_csv.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace ingot::exchange;

namespace {
std::string problem_of(const std::string& text) {
    const auto r = read_log(text, "log.csv");
    REQUIRE_FALSE(r.ok());
    return r.problem().text();
}
} // namespace

TEST_CASE("One log in every dialect reads the same") {
    const std::string plain =
        "Test Time / s,Voltage / V,Current / A,Temperature / degC\n0,4.1,-0.5,20\n60,3.9,-0.5,21\n";
    const auto expected = read_log(plain, "a").value().samples;
    for (const std::string& text :
         {std::string("\xEF\xBB\xBFTest Time / s;Voltage / V;Current / A;Temperature / "
                      "degC\r\n0;4,1;-0,5;20\r\n60;3,9;-0,5;21\r\n"),
          std::string(
              "time (min)\tVoltage (mV)\tCurrent (mA)\tTemperature (C)\n0\t4100\t-500\t20\n1\t3900\t-500\t21\n"),
          std::string("Cycle,Current [mA],Voltage [V],Temperature [\xC2\xB0"
                      "C],Test Time_s\n1,-500,4.1,20,0\n1,-500,3.9,21,60\n"),
          std::string("Test Time / s,Voltage / V,Current / A,Temperature / degC\n0,4.1,-0.5,20\n60,3.9,-0.5,21"),
          std::string("\"Test Time / s\",\"Voltage / V\",\"Current / A\",\"Temperature / "
                      "degC\"\n\"0\",\"4,1\",\"-0,5\",20\n60,3.9,-0.5,21\n")}) {
        const auto r = read_log(text, "b");
        REQUIRE(r.ok());
        CHECK(r.value().samples.time_s == expected.time_s);
        for (std::size_t i = 0; i < 2; ++i) {
            CHECK(r.value().samples.voltage_v[i] == Approx(expected.voltage_v[i]));
            CHECK(r.value().samples.current_a[i] == Approx(expected.current_a[i]));
            CHECK(r.value().samples.temperature_c[i] == Approx(expected.temperature_c[i]));
        }
    }
}

TEST_CASE("Broken logs give FILE:LINE and the remedy") {
    const std::string head = "Test Time / s,Voltage / V,Current / A\n";
    CHECK(problem_of("").substr(0, 10) == "log.csv:1:");
    CHECK(problem_of(head).find("no samples") != std::string::npos);
    CHECK(problem_of("Test Time / s,Voltage / V\n1,2\n").find("\"Current / A\" is missing") != std::string::npos);
    CHECK(problem_of("Test Time / s,Voltage / V,Current / V\n1,2,3\n").find("unit \"V\"") != std::string::npos);
    CHECK(problem_of("Test Time / s,Voltage / V,Voltage / mV,Current / A\n1,2,3,4\n").find("stands twice") !=
          std::string::npos);
    CHECK(problem_of(head + "0,3.7,0\n1,abc,0\n").substr(0, 10) == "log.csv:3:");
    CHECK(problem_of(head + "0,3.7,0\n1,,0\n").find("blank") != std::string::npos);
    CHECK(problem_of(head + "5,3.7,0\n4,3.7,0\n").find("backwards") != std::string::npos);
    CHECK(problem_of(head + "0,3.7\n1,3.7,0\n").substr(0, 10) == "log.csv:2:");
    CHECK(problem_of(head + "0,3.7,0,9,9\n").substr(0, 10) == "log.csv:2:");
    CHECK(problem_of(head + "0,nan,0\n").find("not a number") != std::string::npos);
    CHECK(problem_of(std::string("\x7f\x45\x4c\x46\0\0", 6)).find("not text") != std::string::npos);
}

TEST_CASE("A cut last line is dropped, unknown temperatures stay unknown") {
    const auto r =
        read_log("Test Time / s,Voltage / V,Current / A,Temperature / degC\n0,3.7,0,\n1,3.7,0,20\n2,3.", "a").value();
    CHECK(r.samples.size() == 2);
    CHECK(r.dialect.last_line_dropped);
    CHECK(std::isnan(r.samples.temperature_c[0]));
}

TEST_CASE("An import can be stopped, and a written log reads back") {
    std::string text = "Test Time / s,Voltage / V,Current / A\n";
    for (int i = 0; i < 50'000; ++i)
        text += std::to_string(i) + ",3.7,-0.25\n";
    const auto stopped = read_log(text, "a", [](double) { return false; });
    CHECK_FALSE(stopped.ok());
    const auto full = read_log(text, "a").value();
    CHECK(full.samples.size() == 50'000);
    CHECK(read_log(write_log(full.samples), "b").value().samples.voltage_v == full.samples.voltage_v);
}
