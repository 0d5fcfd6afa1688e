// Faults between Ingot and a tester, each against the simulated one with a wire that fails as it is told: no current
// beyond what was confirmed, nothing measured is lost, and the person is told in words.
#include "bench_process.h"
#include "bench_shop.h"
#include "wired_tester.h"
#include "workshop/bays.h"

#include <catch2/catch.hpp>

using namespace ingot;
using namespace ingot::tests;
using bench::BayState;

namespace {

struct Bench {
    BenchShop shop;
    WiredTester wired{shop.folder.file("wired")};
    Bays bays{*shop.workshop};
    QStringList told, alarms;
    Id cell = shop.cells[0];

    Bench() {
        bays.set_rate(WiredTester::rate);
        bays.set_sample_interval(20);
        bays.set_poll_interval(20);
        bays.set_patience(150);
        QObject::connect(&bays, &Bays::told, [this](const QString& sentence, bool) { told << sentence; });
        QObject::connect(&bays, &Bays::alarmed, [this](const QString& sentence) { alarms << sentence; });
        bays.attach(wired.address());
        REQUIRE(wait_until([&] { return bays.ready(); }));
    }
    [[nodiscard]] const BayView& bay() const { return bays.bays()[0]; }
    [[nodiscard]] bool said(const char* words) const { return !told.filter(QString::fromUtf8(words)).isEmpty(); }
    [[nodiscard]] bool cried(const char* words) const { return !alarms.filter(QString::fromUtf8(words)).isEmpty(); }
    void put_in() { REQUIRE(bays.put_in(cell, 1, "li-capacity-quick")); }
    void measured(double volts) {
        Measurement reading;
        reading.quantity = Quantity::voltage;
        reading.conditions.condition = Condition::rest;
        reading.value = volts;
        REQUIRE(shop.workshop->test().record_reading(cell, reading));
    }
    // Lines that hold these words fail so, the first `times` of them.
    void fail(const char* words, Wire how, int times = 1000) {
        wired.wire = [words = std::string(words), how, left = std::make_shared<int>(times)](const std::string& line) {
            return line.find(words) != std::string::npos && (*left)-- > 0 ? how : Wire::passes;
        };
    }
    void heal() {
        wired.wire = [](const std::string&) { return Wire::passes; };
    }
    static void let_pass(int ms) {
        wait_until([] { return false; }, ms);
    }
};

constexpr const char* start_words = ":TAG ";

} // namespace

TEST_CASE("K19: the tester reads what stands in the bay before current flows, and what does not fit is refused") {
    struct Case {
        const char* name;
        std::optional<double> known_v; // what was measured on the unit
        std::string reads;             // what the bay reads
        const char* words;             // empty: it starts
    };
    const std::vector<Case> cases{
        {"the unit itself", 3.70, "3.71", ""},
        {"never measured, and fit", {}, "3.42", ""},
        {"another unit", 3.70, "4.05", "last read at 3.700"},
        {"reversed", 3.70, "-3.70", "wrong way round"},
        {"nothing there", 3.70, "0.002", "nothing stands there"},
        {"nothing to read", 3.70, "9.91E37", "nothing stands there"},
        {"deep and never measured", {}, "1.80", "slow recovery"},
        {"overfull", {}, "4.31", "over the 4.250"},
        {"rubbish", 3.70, "#?!", "did not say"},
    };
    for (const Case& one : cases) {
        CAPTURE(one.name);
        Bench b;
        if (one.known_v)
            b.measured(*one.known_v);
        b.wired.twist = [&](const std::string& line, const std::string& answer) {
            return line.rfind("MEAS:VOLT?", 0) == 0 ? one.reads : answer;
        };
        b.put_in();
        CHECK(b.wired.starts() == 0); // not before it was read
        if (*one.words == '\0') {
            REQUIRE(wait_until([&] { return b.bay().look == BayLook::running; }));
            CHECK(b.bay().found_v);
            continue;
        }
        REQUIRE(wait_until([&] { return b.bay().look == BayLook::free; }));
        CHECK(b.said(one.words));
        CHECK(b.said("No current flowed"));
        Bench::let_pass(100);
        CHECK(b.wired.starts() == 0);
        CHECK(b.wired.state(1) == BayState::idle);
        CHECK_FALSE(b.bays.left_running());
        if (one.known_v) // what was known of it still holds
            CHECK(b.shop.workshop->unit(b.cell)->facts.fresh_voltage_v());
    }
}

TEST_CASE("K19: a charge ends where the voltage falls under the floor, never below zero") {
    const BenchShop shop;
    const auto& library = shop.workshop->library();
    for (const auto& [id, protocol] : library.protocols)
        for (const std::string& chemistry_id : protocol.chemistries) {
            const Chemistry& chemistry = *library.chemistry(chemistry_id);
            BayUnit unit;
            unit.rated_ah = 2;
            for (const ProtocolStep& step : protocol.steps) {
                CAPTURE(id, chemistry_id);
                const BayLimits limits = limits_for(protocol, step, unit, chemistry);
                CHECK(limits.low_v >= 0);
                if (chemistry.lithium && !protocol.recovers_deep)
                    CHECK(limits.low_v >= chemistry.floor_v - 1e-9);
            }
        }
}

TEST_CASE("K21: what a silent tester was not told is not told later") {
    const char* where = GENERATE("MEAS:VOLT?", ":LIM ", ":LIM?");
    CAPTURE(where);
    Bench b;
    b.fail(where, Wire::loses_the_line);
    b.put_in();
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::free || b.bay().look == BayLook::stopped; }));
    b.heal();
    Bench::let_pass(400);
    CHECK(b.wired.starts() == 0);
    CHECK(b.wired.state(1) == BayState::idle);
    CHECK((b.said("No current flowed") || b.said("was not started")));
}

TEST_CASE("K21: nothing waits behind a silence") {
    Bench b;
    b.wired.wire = [](const std::string&) { return Wire::loses_the_line; };
    REQUIRE(wait_until([&] { return b.bays.tester(b.wired.address())->state() == bench::DeviceState::silent; }));
    b.put_in();
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::free; }));
    b.heal();
    Bench::let_pass(400);
    CHECK(b.wired.starts() == 0);
    CHECK(b.wired.state(1) == BayState::idle);
}

TEST_CASE("K21: a start that was obeyed and not confirmed is in doubt, cries, and is seen to run") {
    Bench b;
    b.fail(start_words, Wire::loses_the_answer, 1);
    b.put_in();
    REQUIRE(wait_until([&] { return !b.alarms.isEmpty(); }));
    CHECK(b.cried("current may flow"));
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::running; }));
    CHECK(b.wired.starts() == 1);
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::lift_out; }));
    CHECK(b.shop.workshop->unit(b.cell)->facts.capacity_ah);
}

TEST_CASE("K21: a start that was lost on the way is in doubt, then known never to have been") {
    Bench b;
    b.fail(start_words, Wire::loses_the_line, 1);
    b.put_in();
    REQUIRE(wait_until([&] { return b.cried("current may flow"); }));
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::stopped; }));
    CHECK(b.bay().stop_words.find("never started") != std::string::npos);
    CHECK(b.wired.state(1) == BayState::idle);
    REQUIRE(b.bays.lift_out(1));
}

TEST_CASE("K21: a bay in doubt is cleared by hand; had it started, it is stopped as soon as the tester answers") {
    Bench b;
    bool cut = false;
    b.wired.wire = [&](const std::string& line) {
        if (line.find(start_words) != std::string::npos) {
            cut = true;
            return Wire::loses_the_answer;
        }
        return cut ? Wire::loses_the_line : Wire::passes;
    };
    b.put_in();
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::in_doubt; }));
    REQUIRE(b.wired.state(1) == BayState::running);
    REQUIRE(b.bays.lift_out(1));
    CHECK(b.bay().look == BayLook::free);
    b.heal();
    REQUIRE(wait_until([&] { return b.wired.state(1) == BayState::stopped; }));
    CHECK(b.cried("had started after all"));
}

TEST_CASE("K21: a stop is confirmed or cries, and is said again until the tester obeys") {
    const Wire how = GENERATE(Wire::loses_the_line, Wire::loses_the_answer);
    Bench b;
    b.put_in();
    REQUIRE(wait_until([&] { return b.bay().trace.points().size() > 3; }));
    b.fail(":STOP", how, 2);
    REQUIRE(b.bays.stop(1));
    CHECK(b.bay().stop_asked);
    REQUIRE(wait_until([&] { return !b.alarms.isEmpty(); }));
    CHECK(b.cried("may still run"));
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::stopped; }));
    CHECK(b.wired.state(1) == BayState::stopped);
    CHECK(b.shop.workshop->test().samples(b.bay().run).size() > 3);
}

TEST_CASE("K21: a tester that keeps other limits than it was told starts nothing") {
    Bench b;
    b.wired.twist = [](const std::string& line, const std::string& answer) {
        return line == "BAY1:LIM?" ? "4.9" + answer.substr(answer.find(',')) : answer;
    };
    b.put_in();
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::stopped; }));
    CHECK(b.said("limits that it was told"));
    CHECK(b.wired.starts() == 0);
}

TEST_CASE("K21: late answers, rubbish and half lines between start and end: the run is measured all the same") {
    const int which = GENERATE(0, 1, 2, 3);
    CAPTURE(which);
    Bench b;
    b.put_in();
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::running; }));
    if (which == 0)
        b.wired.late_ms = 100; // within its patience
    else if (which == 1)
        b.fail("DATA?", Wire::garbles, 2);
    else if (which == 2)
        b.fail("DATA?", Wire::sends_half, 1);
    else
        b.fail("BAY:STAT?", Wire::loses_the_answer, 2);
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::lift_out; }, 60'000));
    CHECK(b.bay().gaps == 0);
    CHECK(b.shop.workshop->unit(b.cell)->facts.capacity_ah);
    const LogSamples log = b.shop.workshop->test().samples(b.bay().run);
    for (std::size_t i = 1; i < log.size(); ++i)
        REQUIRE(log.time_s[i] >= log.time_s[i - 1]);
}

TEST_CASE("The watchdog ends what runs when nobody speaks, and leaves it alone while somebody does") {
    Bench b;
    REQUIRE(b.bays.set_watchdog(0.5));
    CHECK(b.bays.watchdog_s() == Approx(0.5));
    b.put_in();
    REQUIRE(wait_until([&] { return b.bay().look == BayLook::running; }));
    Bench::let_pass(800);
    CHECK(b.bay().look != BayLook::stopped);
    if (b.bay().look == BayLook::running) {
        b.wired.hang_up();
        Bench::let_pass(900);
        b.wired.come_back();
        REQUIRE(wait_until([&] { return b.bay().look == BayLook::stopped; }));
        CHECK(b.bay().stop == bench::StepEnd::alone);
    }
}

TEST_CASE("A unit that only waits to be read is taken back, and nothing starts") {
    Bench b;
    b.fail("MEAS:VOLT?", Wire::loses_the_answer);
    b.put_in();
    CHECK(b.bay().look == BayLook::waiting_to_start);
    REQUIRE(b.bays.stop(1));
    CHECK(b.bay().look == BayLook::free);
    b.heal();
    Bench::let_pass(300);
    CHECK(b.wired.starts() == 0);
}
