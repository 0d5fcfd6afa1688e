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

TEST_CASE("N10: a file of several channels falls into their runs; one log that holds more than one is refused") {
    const std::string text = "Channel,Test Time / s,Voltage / V,Current / A\n"
                             "1,0,4.1,-0.5\n2,0,3.9,-1\n1,60,4.0,-0.5\n2,60,3.8,-1\n2,120,3.7,-1\n"
                             "1,0,4.2,-0.2\n1,60,4.1,-0.2\n";
    CHECK(problem_of(text).find("one file a channel") != std::string::npos);
    const auto parts = read_log_parts(text, "all.csv").value();
    REQUIRE(parts.size() == 3);
    CHECK(parts[0].channel == "1");
    CHECK(parts[0].run == 1);
    CHECK(parts[0].log.samples.voltage_v == std::vector<double>{4.1, 4.0});
    CHECK(parts[1].channel == "2");
    CHECK(parts[1].log.samples.time_s == std::vector<double>{0, 60, 120});
    CHECK(parts[2].channel == "1");
    CHECK(parts[2].run == 2); // its time fell back
    CHECK(parts[2].log.samples.current_a == std::vector<double>{-0.2, -0.2});
    // Runs one after the other, without a channel.
    const auto two = read_log_parts("time (s),voltage (V),current (A),step\n0,4,0,1\n9,4,0,2\n0,3,0,1\n", "b").value();
    REQUIRE(two.size() == 2);
    CHECK(two[1].run == 2);
    CHECK(two[0].log.samples.step == std::vector<int>{1, 2});
    CHECK(two[1].log.samples.step == std::vector<int>{1});
    // One channel alone is a log as any other; each sample of every file lands in one part.
    const std::string one = "Channel,Test Time / s,Voltage / V,Current / A\n7,0,4.1,-0.5\n7,60,4.0,-0.5\n";
    CHECK(read_log(one, "one").value().samples.size() == 2);
    CHECK(read_log_parts(one, "one").value().size() == 1);
    CHECK_FALSE(read_log_parts("Channel,Test Time / s,Voltage / V,Current / A\n", "empty").ok());
    std::string saw = "Test Time / s,Voltage / V,Current / A\n";
    for (int i = 0; i < 1200; ++i)
        saw += std::to_string(1200 - i) + ",3.7,0\n";
    const auto none = read_log_parts(saw, "saw");
    REQUIRE_FALSE(none.ok());
    CHECK(none.problem().text().find("is this column a time") != std::string::npos);
}

TEST_CASE("N10: columns that are not understood are said once, with units, and read so in every file of them") {
    const std::string text = "Zeit,U1,I1,Kanal\n0,4100,500,A\n1,4000,500,A\n0,3900,1000,B\n";
    CHECK_FALSE(read_log_parts(text, "z").ok());
    const auto head = read_log_head(text, "z").value();
    CHECK(head.header == std::vector<std::string>{"Zeit", "U1", "I1", "Kanal"});
    REQUIRE(head.rows.size() == 3);
    CHECK(head.rows[2][1] == "3900");
    const LogShape shape{{{"Zeit", LogQuantity::time, "min"},
                          {"U1", LogQuantity::voltage, "mV"},
                          {"I1", LogQuantity::current, "mA"},
                          {"Kanal", LogQuantity::channel, ""}}};
    const auto kept = read_log_shape(write_log_shape(shape));
    REQUIRE(kept.ok());
    const auto parts = read_log_parts(text, "z", &kept.value()).value();
    REQUIRE(parts.size() == 2);
    CHECK(parts[0].channel == "A");
    CHECK(parts[0].log.samples.time_s[1] == Approx(60));
    CHECK(parts[0].log.samples.voltage_v[0] == Approx(4.1));
    CHECK(parts[1].log.samples.current_a[0] == Approx(1.0));
    CHECK(shape_key(head.header) == shape_key(read_log_head("Zeit,U1,I1,Kanal\n5,1,1,C\n", "y").value().header));
    // Another file's columns, a missing quantity, a unit of something else, one that stands twice.
    const auto other = read_log_parts("Zeit,U2,I1,Kanal\n0,1,1,A\n", "o", &kept.value());
    REQUIRE_FALSE(other.ok());
    CHECK(other.problem().text().find("\"U1\" is missing") != std::string::npos);
    const auto wrong = [](std::vector<LogColumn> columns) {
        const auto read = read_log_shape(write_log_shape({std::move(columns)}));
        return read.ok() ? std::string() : read.problem().text();
    };
    CHECK(wrong({{"a", LogQuantity::time, "s"}, {"b", LogQuantity::voltage, "V"}}).find("current") !=
          std::string::npos);
    CHECK(wrong({{"a", LogQuantity::time, "V"}}).find("unit \"V\"") != std::string::npos);
    CHECK(wrong({{"a", LogQuantity::time, "s"}, {"b", LogQuantity::time, "s"}}).find("twice") != std::string::npos);
}
