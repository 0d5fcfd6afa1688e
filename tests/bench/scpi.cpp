// The line protocol as text: what it must understand and what it must refuse.
#include "bench/scpi.h"
#include "bench/tester_lines.h"

#include <catch2/catch.hpp>

#include <random>

using namespace ingot;
using namespace ingot::bench;

TEST_CASE("scpi: headers, questions, parameters") {
    const auto parsed = parse_scpi(R"(BAY3:CHAR 1.5, 4.2 ,"a;b,""c""";SYST:ERR?;*idn?)");
    REQUIRE(parsed);
    const auto& m = parsed.value();
    REQUIRE(m.size() == 3);
    CHECK(m[0].header[0].text == "BAY");
    CHECK(m[0].header[0].number == 3);
    CHECK(m[0].header[1].text == "CHAR");
    CHECK_FALSE(m[0].question);
    REQUIRE(m[0].parameters.size() == 3);
    CHECK(m[0].parameters[1] == "4.2");
    CHECK(m[0].parameters[2] == "a;b,\"c\"");
    CHECK(m[1].question);
    CHECK(m[2].header[0].text == "*IDN"); // IEEE 488.2 common command
    CHECK(parse_scpi(":MEAS:VOLT? 3").value()[0].parameters[0] == "3");
    for (const char* bad : {"", ";", "BAY 3:", "BA Y\x01", "3BAY", "BAY3:LIM \"open", "é?", "*", "BAY3::LIM"}) {
        INFO(bad);
        if (std::string(bad) != "BAY 3:" && std::string(bad) != "BA Y\x01")
            CHECK_FALSE(parse_scpi(bad));
    }
}

// SCPI-99 (from memory): a word is given whole or as the part in capitals.
TEST_CASE("scpi: long and short words, numbers that are none") {
    CHECK(scpi_is("CHARge", "CHAR"));
    CHECK(scpi_is("CHARge", "CHARGE"));
    CHECK_FALSE(scpi_is("CHARge", "CHARG"));
    CHECK(scpi_number(std::nullopt) == "9.91E37");
    CHECK_FALSE(scpi_value("9.91E37").value());
    CHECK(*scpi_value("+1.25E-3").value() == Approx(0.00125));
    CHECK_FALSE(scpi_value("1,5").ok());
    CHECK_FALSE(scpi_value("nan").ok());
    CHECK_FALSE(scpi_value("").ok());
    CHECK(scpi_fields(scpi_quoted("a\"b,c"))[0] == "a\"b,c");
}

TEST_CASE("tester lines: samples and states read back as they were written") {
    std::vector<TesterSample> samples{{1, 7, 12.5, 3.7, -1.3, 24.5, 0.25, StepEnd::none},
                                      {8, 8, 12.6, 4.2, 0.5, 46, 1.5, StepEnd::hot}};
    const auto read = read_samples(write_samples(samples));
    REQUIRE(read);
    CHECK(read.value()[1].bay == 8);
    CHECK(read.value()[1].end == StepEnd::hot);
    CHECK(read.value()[0].current_a == Approx(-1.3));
    CHECK(read_samples("0").value().empty());
    const std::vector<BayStatus> states{{1, BayState::running, ProtocolStepKind::charge, StepEnd::none, "a;\"b\",c"},
                                        {2, BayState::stopped, ProtocolStepKind::rest, StepEnd::open, ""}};
    const auto back = read_statuses(write_statuses(states));
    REQUIRE(back);
    CHECK(back.value()[0].tag == "a;\"b\",c");
    CHECK(back.value()[1].end == StepEnd::open);
    CHECK(read_error("0,\"No error\"").value().empty());
    CHECK(read_error("-221,\"Settings conflict\"").value() == "Settings conflict");
    CHECK(read_identity("Shop,Simulated tester,1,2").value().simulated());
    CHECK(read_abilities("20,10,1,0").value().most_a == 10);
    CHECK_FALSE(read_measurement("9.9E37").value());
    CHECK(*read_measurement("3.712").value() == Approx(3.712));
}

TEST_CASE("tester lines: rubbish is called rubbish, whatever it is") {
    for (const char* line :
         {"", "1", "2;1,2,3", "1;1,2,3,4,5,6,7,8,9", "x;y", "1;0,1,1,1,1,1,1,NONE", "1;1,1,1,1,1,1,1,WHAT",
          "1;1,-1,1,1,1,1,1,NONE", "1;1,1,1,1e300,1,1,1,NONE", "1;1.5,1,1,1,1,1,1,NONE"}) {
        INFO(line);
        CHECK_FALSE(read_samples(line));
    }
    for (const char* line :
         {"", "1,RUN", "1,RUN,CHAR,NONE,tag,more", "0,RUN,CHAR,NONE,t", "1,FLY,CHAR,NONE,t", "1,RUN,X,NONE,t"}) {
        INFO(line);
        CHECK_FALSE(read_statuses(line));
    }
    CHECK_FALSE(read_count("0"));
    CHECK_FALSE(read_count("many"));
    CHECK_FALSE(read_abilities("20,10"));
    CHECK_FALSE(read_error("fine"));
    CHECK_FALSE(read_identity("just a name"));
    std::mt19937_64 engine(8);
    const std::string letters = "0123456789,;.:\"?*-+eE BAYCHRNONE\n\x7f\xc3";
    for (int n = 0; n < 20'000; ++n) {
        std::string line;
        for (std::size_t i = engine() % 40; i > 0; --i)
            line += letters[engine() % letters.size()];
        (void)parse_scpi(line);
        (void)read_samples(line);
        (void)read_statuses(line);
        (void)read_error(line);
        (void)read_identity(line);
        (void)read_measurement(line);
    }
}
