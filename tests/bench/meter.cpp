// K23: plain meters. What a meter must know: *IDN? of IEEE 488.2, MEASure of SCPI-99 (both from memory).
#include "bench/meter.h"
#include "bench_process.h"
#include "plain_meter.h"

#include <catch2/catch.hpp>

using namespace ingot;
using namespace ingot::bench;
using namespace ingot::tests;

namespace {

struct Attached {
    Temporary folder;
    PlainMeter plain{folder.file("meter")};
    Meter meter;
    std::vector<MeterReading> settled;
    QStringList seen;

    explicit Attached(int patience_ms = 150) {
        meter.line().set_patience(patience_ms);
        QObject::connect(&meter, &Meter::settled, [this](const MeterReading& r) { settled.push_back(r); });
        QObject::connect(&meter, &Meter::seen, [this](const QString& s) { seen << s; });
    }
    void open() { meter.open(plain.address()); }
    [[nodiscard]] bool becomes(DeviceState state) {
        return wait_until([&] { return meter.state() == state; }, 10'000);
    }
    // What a measurement comes to, as words.
    std::string measured(MeterQuantity quantity = MeterQuantity::voltage) {
        std::string out;
        meter.measure(quantity, 0, [&](const auto& r) { out = r ? r.value().shown : r.problem().sentence.english(); });
        REQUIRE(wait_until([&] { return !out.empty(); }, 10'000));
        return out;
    }
    static void let_pass(int ms) {
        wait_until([] { return false; }, ms);
    }
};

} // namespace

TEST_CASE("What a meter sends, as volts and with its own digits") {
    const auto shown = [](const char* line) { return read_meter(line).value()->shown; };
    CHECK(shown("+3.70123E+00") == "3.70123");
    CHECK(shown("+3.701234567E+00") == "3.70123"); // to 10 uV
    CHECK(shown("3.701") == "3.701");
    CHECK(shown("-1.2E-03") == "-0.0012");
    CHECK(shown("4.1E+01") == "41");
    CHECK(shown(" 3.701 V DC") == "3.701");
    CHECK(shown("412.3 mV") == "0.4123");
    CHECK(read_meter("+3.70123E+00").value()->resolution == Approx(1e-5));
    CHECK(read_meter("3.70").value()->resolution == Approx(0.01));
    CHECK(read_meter("3.701").value()->value == Approx(3.701));
    CHECK_FALSE(read_meter("+9.90000000E+37").value());
    CHECK_FALSE(read_meter("3.7 A"));
    CHECK_FALSE(read_meter("OL"));
    CHECK_FALSE(read_meter(""));
    CHECK_FALSE(read_meter("3.7,3.8"));
}

TEST_CASE("K23: a plain meter says who it is and measures; nothing of a tester's is asked of it") {
    Attached a;
    a.open();
    REQUIRE(a.becomes(DeviceState::ready));
    CHECK(a.meter.name() == "Bench meter 017");
    a.plain.volts = "+3.70120E+00";
    CHECK(a.measured() == "3.70120");
    a.plain.ohms = "+4.52E-02";
    CHECK(a.measured(MeterQuantity::resistance) == "0.0452");
    a.plain.volts = "+9.9E37";
    CHECK(a.measured().find("over range") != std::string::npos);
    a.plain.volts = "3.7 OHM";
    CHECK(a.measured().find("no voltage") != std::string::npos);
    for (const auto& [line, times] : a.plain.asked)
        CHECK((line == "*IDN?" || line == "MEAS:VOLT:DC?" || line == "MEAS:RES?"));
}

TEST_CASE("K23: after a time-out the meter is in step again by itself, and a late answer is nobody's") {
    Attached a;
    a.open();
    REQUIRE(a.becomes(DeviceState::ready));
    a.plain.volts = "+3.11100E+00";
    a.plain.late_ms = 400; // later than the patience
    CHECK(a.measured().find("does not answer") != std::string::npos);
    CHECK(a.meter.state() == DeviceState::silent);
    a.plain.late_ms = 0;
    REQUIRE(a.becomes(DeviceState::ready));
    a.plain.volts = "+3.70100E+00";
    CHECK(a.measured() == "3.70100");
    Attached::let_pass(600);
    CHECK(a.settled.empty()); // 3.111 V came, and is no reading
}

TEST_CASE("A meter that goes and comes back; one that is no meter; nobody there") {
    Attached a;
    a.open();
    REQUIRE(a.becomes(DeviceState::ready));
    a.plain.hang_up();
    REQUIRE(a.becomes(DeviceState::gone));
    CHECK_FALSE(a.meter.why().empty());
    CHECK(a.measured().find("not there") != std::string::npos);

    Attached printer;
    printer.plain.identity = "PRINTER READY";
    printer.open();
    REQUIRE(printer.becomes(DeviceState::strange));
    CHECK(printer.meter.why() == "PRINTER READY");

    Attached nobody;
    nobody.meter.open("socket:" + nobody.folder.file("none"));
    REQUIRE(nobody.becomes(DeviceState::gone));
}

TEST_CASE("A meter with a button alone: what it sends is a reading, and what is only late is not") {
    Attached a(100);
    a.plain.identity.clear();
    a.open();
    REQUIRE(a.becomes(DeviceState::listening));
    Attached::let_pass(5'600); // what was given up may come until then
    a.plain.say("3.702 V");
    REQUIRE(wait_until([&] { return a.settled.size() == 1; }, 5'000));
    CHECK(a.settled[0].shown == "3.702");
    CHECK(a.settled[0].way == MeterWay::by_its_button);
    a.plain.say("OL");
    a.plain.say("3.695 V");
    REQUIRE(wait_until([&] { return a.settled.size() == 2; }, 5'000));
    CHECK(a.settled[1].shown == "3.695");
}

TEST_CASE("A followed meter: each touch once, through a silence, until it is followed no more") {
    Attached a;
    a.open();
    REQUIRE(a.becomes(DeviceState::ready));
    a.meter.follow(true);
    a.plain.volts = "+3.70100E+00";
    REQUIRE(wait_until([&] { return a.settled.size() == 1; }, 10'000));
    CHECK(a.settled[0].way == MeterWay::followed);
    CHECK(a.seen.contains(QStringLiteral("3.70100")));
    Attached::let_pass(1000);
    CHECK(a.settled.size() == 1); // still touched
    a.plain.volts = "+0.00010E+00";
    Attached::let_pass(900);
    CHECK(a.seen.back().isEmpty());
    a.plain.mute = true;
    Attached::let_pass(500);
    a.plain.mute = false;
    a.plain.volts = "+3.70100E+00";
    REQUIRE(wait_until([&] { return a.settled.size() == 2; }, 20'000));
    a.meter.follow(false);
    a.plain.volts = "+0.00010E+00";
    Attached::let_pass(800);
    a.plain.volts = "+3.60000E+00";
    Attached::let_pass(1000);
    CHECK(a.settled.size() == 2);
}

TEST_CASE("The simulated tester is a meter too: its probes touch a bay, or nothing") {
    const Temporary folder;
    const SimProcess sim(folder);
    Meter meter;
    meter.open(sim.address());
    REQUIRE(wait_until([&] { return meter.state() == DeviceState::ready; }, 5000));
    CHECK(meter.name().rfind("Simulated tester", 0) == 0);
    bool loaded = false;
    meter.line().ask("SIM:LOAD 1,li,2.6,1,0.045,1,\"\";SYST:ERR?", [&](const auto& a) { loaded = a.ok(); });
    REQUIRE(wait_until([&] { return loaded; }));
    double volts = -1;
    std::string free, over;
    meter.measure(MeterQuantity::voltage, 0,
                  [&](const auto& r) { free = r ? r.value().shown : r.problem().sentence.english(); });
    meter.measure(MeterQuantity::voltage, 1, [&](const auto& r) { volts = r ? r.value().value : -1; });
    meter.measure(MeterQuantity::resistance, 2,
                  [&](const auto& r) { over = r ? "value" : r.problem().sentence.english(); });
    REQUIRE(wait_until([&] { return !over.empty(); }));
    CHECK(free.rfind("0", 0) == 0);
    CHECK(volts > 3.3);
    CHECK(volts < 4.2);
    CHECK(over.find("over range") != std::string::npos);
}
