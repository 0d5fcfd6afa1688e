// Several testers on one bench, one of them of another dialect: the worked example of docs/formats/tester.md, against
// the simulated tester behind an interpreter.
#include "bench/device_address.h"
#include "bench_process.h"
#include "bench_shop.h"
#include "docs/formats/second_tester/letter_tester.h"
#include "exchange/protocol_toml.h"
#include "sim/tester.h"
#include "workshop/bays.h"

#include <catch2/catch.hpp>

#include <QLocalServer>
#include <QLocalSocket>
#include <QTimer>

#include <sstream>

using namespace ingot;
using namespace ingot::tests;

namespace {

// Speaks letters in front, and asks the simulated tester behind.
class LetterCharger {
public:
    static constexpr double rate = 4000;
    explicit LetterCharger(const std::string& path) : tester_(sim::TesterMake{4, 9, rate, 20, 10}) {
        QLocalServer::removeServer(QString::fromStdString(path));
        REQUIRE(server_.listen(QString::fromStdString(path)));
        address_ = "socket:" + path;
        QObject::connect(&server_, &QLocalServer::newConnection, [this] {
            QLocalSocket* peer = server_.nextPendingConnection();
            QObject::connect(peer, &QLocalSocket::readyRead, peer, [this, peer] {
                while (peer->canReadLine()) {
                    const std::string answer = interpret(peer->readLine().trimmed().toStdString()) + "\n";
                    peer->write(answer.data(), static_cast<qint64>(answer.size()));
                }
            });
        });
        QObject::connect(&time_, &QTimer::timeout, [this] { tester_.pass(pass_ms / 1000.0); });
        time_.start(pass_ms);
    }
    [[nodiscard]] const std::string& address() const { return address_; }
    // A hand puts a cell in.
    void put(int place, double stands_v, const std::string& fault = {}) {
        REQUIRE(tester_.answer("SIM:LOAD " + std::to_string(place) + ",li,2.6,1,0.045,3,\"" + fault + "\"," +
                               std::to_string(stands_v) + ";SYST:ERR?") == "0,\"No error\"");
    }
    bool keeps_limits = true;

private:
    std::string interpret(const std::string& line) {
        std::istringstream in(line);
        char letter = 0;
        in >> letter;
        if (letter == 'W')
            return "w Lettered 1.0 4 20000 10000";
        if (letter == 'Z')
            return "z" + line.substr(1);
        if (letter == 'S')
            return states();
        if (letter == 'R') {
            std::uint64_t after = 0;
            in >> after;
            return rows(after);
        }
        int place = 0;
        in >> place;
        const std::string head = "BAY" + std::to_string(place) + ":";
        if (letter == 'V') {
            const auto volts = bench::read_measurement(*tester_.answer("MEAS:VOLT? " + std::to_string(place)));
            return "v " + std::to_string(place) + " " +
                   (volts && volts.value() ? std::to_string(std::lround(*volts.value() * 1000)) : "-");
        }
        if (letter == 'H')
            return told(head + "STOP", "h " + std::to_string(place));
        if (letter == 'L')
            return limits(in, place, line);
        return letter == 'G' ? go(in, place) : "! what";
    }
    std::string told(const std::string& line, const std::string& answer) {
        const std::string error = *tester_.answer("*CLS;" + line + ";SYST:ERR?");
        return error == "0,\"No error\"" ? answer : "! " + error;
    }
    std::string limits(std::istringstream& in, int place, const std::string& line) {
        double high = 0, low = 0, amperes = 0, ah = 0, hot = 0, cold = 0, seconds = 0;
        in >> high >> low >> amperes >> ah >> hot >> cold >> seconds;
        const BayLimits kept{high / 1000, low / 1000, amperes / 1000, ah / 1000, hot / 10, cold / 10, seconds / 3600};
        if (const auto wrong =
                told(bench::set_limits(place, kept).substr(0, bench::set_limits(place, kept).find(';')), "");
            !wrong.empty())
            return wrong;
        return keeps_limits ? "l" + line.substr(1) : "l 1 4200 2500 1000 3000 450 0 36000";
    }
    std::string go(std::istringstream& in, int place) {
        std::string tag;
        char kind = 0;
        double amperes = 0, volts = 0, tail = 0, dv = 0, ah = 0, seconds = 0, every = 1;
        in >> tag >> kind >> amperes >> volts >> tail >> dv >> ah >> seconds >> every;
        const auto some = [](double value, double factor) {
            return value > 0 ? std::optional(value / factor) : std::nullopt;
        };
        BayStep step;
        step.kind = kind == 'c'   ? ProtocolStepKind::charge
                    : kind == 'd' ? ProtocolStepKind::discharge
                                  : ProtocolStepKind::rest;
        step.current_a = (kind == 'd' ? -1 : 1) * amperes / 1000;
        step.volts = some(volts, 1000);
        step.tail_a = some(tail, 1000);
        step.minus_dv = some(dv, 1000);
        step.capacity_ah = some(ah, 1000);
        step.hours = some(seconds, 3600);
        std::string line = bench::ask_start(place, step, tag, every);
        return told(line.substr(0, line.rfind(';')), "g " + std::to_string(place));
    }
    static char letter_of(bench::StepEnd end) {
        using bench::StepEnd;
        switch (end) {
        case StepEnd::none:
            return '-';
        case StepEnd::tail:
            return 't';
        case StepEnd::cutoff:
            return 'v';
        case StepEnd::time:
            return 'w';
        case StepEnd::hot:
            return 'H';
        case StepEnd::stopped:
            return 'K';
        default:
            return 'm';
        }
    }
    std::string states() {
        std::string out = "s ";
        for (const auto& status : bench::read_statuses(*tester_.answer("BAY:STAT?")).value())
            out += std::to_string(status.bay) + " " + "irds"[static_cast<int>(status.state)] + " " +
                   letter_of(status.end) + " " + status.tag + "|";
        return out;
    }
    std::string rows(std::uint64_t after) {
        std::ostringstream out;
        out << "r ";
        for (const auto& s : bench::read_samples(*tester_.answer(bench::ask_samples(after))).value())
            out << s.sequence << ' ' << s.bay << ' ' << s.time_s << ' ' << std::lround(s.voltage_v * 1000) << ' '
                << std::lround(s.current_a * 1000) << ' ' << std::lround(s.temperature_c * 10) << ' '
                << s.moved_ah * 1000 << ' ' << letter_of(s.end) << '|';
        return out.str();
    }

    static constexpr int pass_ms = 20;
    std::string address_;
    sim::Tester tester_;
    QLocalServer server_;
    QTimer time_;
};

struct TwoTesters {
    BenchShop shop;
    LetterCharger letters{shop.folder.file("letters")};
    SimProcess sim{shop.folder, {QStringLiteral("--rate"), QStringLiteral("4000")}};
    Bays bays{*shop.workshop};
    QStringList told;

    TwoTesters() {
        bench::add_dialect("letters", [] { return std::make_unique<letters::LetterTester>(); });
        bays.set_rate(LetterCharger::rate);
        bays.set_sample_interval(20);
        bays.set_poll_interval(20);
        QObject::connect(&bays, &Bays::told, [this](const QString& sentence, bool) { told << sentence; });
    }
    void attach_both() {
        REQUIRE(bays.attach(TesterPlace{"north", letters.address(), "letters", 0}));
        REQUIRE(bays.attach(TesterPlace{"south", sim.address(), {}, 0}));
        REQUIRE(wait_until([&] { return bays.bays().size() == 12; }));
    }
    [[nodiscard]] bool said(const char* words) const { return !told.filter(QString::fromUtf8(words)).isEmpty(); }
};

} // namespace

TEST_CASE("Two testers of two dialects: bays numbered through both, each reading names the one that took it") {
    TwoTesters two;
    two.attach_both();
    Bays& bays = two.bays;
    CHECK(bays.bay(1)->tester == "north");
    CHECK(bays.bay(4)->tester == "north");
    CHECK(bays.bay(5)->tester == "south");
    CHECK(bays.bay(5)->of_tester == 1);
    CHECK(bays.bay(12)->of_tester == 8);
    CHECK(bays.bay(13) == nullptr);
    const Id one = two.shop.cells[0];
    const Id other = two.shop.cells[1];
    two.letters.put(2, 3.7);
    const Protocol* pulse = two.shop.workshop->library().protocol("li-capacity-quick");
    REQUIRE(pulse != nullptr);
    // The lettered one refuses what it cannot do, before current flows; the run says so.
    const bool pulses = std::any_of(pulse->steps.begin(), pulse->steps.end(),
                                    [](const ProtocolStep& step) { return step.kind == ProtocolStepKind::pulse; });
    CAPTURE(pulses);
    Protocol plain = *pulse; // a protocol of the shop's own for the lettered one
    std::erase_if(plain.steps, [](const ProtocolStep& step) { return step.kind == ProtocolStepKind::pulse; });
    plain.id = "plain-capacity";
    plain.name = "Capacity without a pulse";
    REQUIRE(two.shop.workshop->catalogue().save_protocol(exchange::write_protocol(plain)));
    REQUIRE(bays.put_in(one, 2, "plain-capacity"));
    REQUIRE(bays.put_in(other, 6, "li-capacity-quick"));
    REQUIRE(wait_until([&] { return bays.bay(2)->look == BayLook::running && bays.bay(6)->look == BayLook::running; }));
    REQUIRE(
        wait_until([&] { return bays.bay(2)->look == BayLook::lift_out && bays.bay(6)->look == BayLook::lift_out; }));
    for (const auto& [unit, name] : {std::pair(one, "north"), std::pair(other, "south")}) {
        const UnitFacts& facts = two.shop.workshop->unit(unit)->facts;
        REQUIRE(facts.capacity_ah);
        CHECK(facts.capacity_ah->value > 1.5);
        CHECK(facts.capacity_ah->value < 2.6);
        const auto runs = two.shop.workshop->test().runs(unit);
        REQUIRE(runs.size() == 1);
        CHECK(runs.front().instrument == name);
    }
    REQUIRE(bays.lift_out(2));
    REQUIRE(bays.lift_out(6));
}

TEST_CASE(
    "One of two testers goes: its bays are silent, the other goes on, and the shop knows both when it opens again") {
    TwoTesters two;
    two.attach_both();
    Bays& bays = two.bays;
    REQUIRE(bays.put_in(two.shop.cells[0], 7, "li-capacity"));
    REQUIRE(wait_until([&] { return bays.bay(7)->look == BayLook::running; }));
    two.sim.kill();
    REQUIRE(wait_until([&] { return two.said("south is gone"); }));
    CHECK(bays.bay(7)->silent);
    CHECK_FALSE(bays.bay(1)->silent);
    CHECK_FALSE(bays.put_in(two.shop.cells[1], 8, "li-capacity"));
    two.letters.put(1, 3.7);
    CHECK(bays.put_in(two.shop.cells[2], 1, "li-capacity"));
    REQUIRE(wait_until([&] { return bays.bay(1)->look == BayLook::running; }));
    CHECK_FALSE(bays.forget(two.sim.address())); // a unit stands in it
    // Another Ingot on the same file: what stands in the bays of the one that is away is not lost and not free.
    bays.detach();
    Bays again(*two.shop.workshop);
    again.set_poll_interval(20);
    again.attach_known();
    REQUIRE(wait_until([&] { return again.ready(); }));
    REQUIRE(again.bays().size() == 12);
    CHECK(again.bay(7)->look == BayLook::running);
    CHECK(again.bay(7)->silent);
    CHECK_FALSE(again.lift_out(7)); // it may run
    REQUIRE(wait_until([&] { return !again.bay(1)->silent; }));
    REQUIRE(again.stop(1));
    REQUIRE(wait_until([&] { return again.bay(1)->look == BayLook::stopped; }));
    REQUIRE(again.lift_out(1));
    REQUIRE(again.forget(two.letters.address()));
    CHECK(again.bays().size() == 8);
    CHECK(again.bay(3)->look == BayLook::running); // it was 7
    // It never comes back: told to stop, then cleared by hand, and the shop has it no longer.
    CHECK_FALSE(again.forget(two.sim.address()));
    REQUIRE(again.stop(3));
    REQUIRE(again.lift_out(3));
    CHECK(again.bay(3)->look == BayLook::free);
    CHECK_FALSE(again.left_running());
    REQUIRE(again.forget(two.sim.address()));
    CHECK(again.bays().empty());
    CHECK(testers_of(*two.shop.workshop).empty());
}

TEST_CASE("A tester that keeps other limits starts nothing, in any dialect") {
    TwoTesters two;
    two.attach_both();
    two.letters.keeps_limits = false;
    two.letters.put(3, 3.7);
    REQUIRE(two.bays.put_in(two.shop.cells[0], 3, "li-capacity"));
    REQUIRE(wait_until([&] { return two.bays.bay(3)->look == BayLook::stopped; }));
    CHECK(two.said("does not keep the limits"));
}

TEST_CASE("What is the matter with a tester is said within three seconds: nobody there, wrong dialect, no such one") {
    TwoTesters two;
    const auto words = [&](const std::string& address) {
        for (const TesterView& tester : two.bays.testers())
            if (tester.place.address == address)
                return tester.words;
        return QString();
    };
    constexpr int within_ms = 3000;
    const std::string nowhere = "socket:" + two.shop.folder.file("nothing");
    REQUIRE(two.bays.attach(nowhere));
    CHECK(wait_until([&] { return words(nowhere).startsWith(QStringLiteral("There is nothing at")); }, within_ms));
    // The lettered one, spoken to as SCPI: it answers "! what".
    REQUIRE(two.bays.attach(two.letters.address()));
    CHECK(wait_until(
        [&] { return words(two.letters.address()).contains(QStringLiteral("no tester that is understood")); },
        within_ms));
    CHECK(two.said("! what"));
    // And the simulated one, spoken to in letters.
    REQUIRE(two.bays.attach(TesterPlace{{}, two.sim.address(), "letters", 0}));
    CHECK(wait_until([&] { return !words(two.sim.address()).contains(QStringLiteral("Looking")); }, within_ms));
    CHECK_FALSE(two.bays.attach(TesterPlace{{}, "socket:/x", "runes", 0}));
    CHECK_FALSE(two.bays.attach("COM7"));
    CHECK_FALSE(two.bays.ready());
    CHECK(two.bays.bays().empty());
    REQUIRE(two.bays.forget(nowhere));
    CHECK(words(nowhere).isEmpty());
}

TEST_CASE("Two testers of one make get names of their own, and a name is not given twice") {
    TwoTesters two;
    SimProcess second(two.shop.folder, {QStringLiteral("--bays"), QStringLiteral("2")}, "second");
    REQUIRE(two.bays.attach(two.sim.address()));
    REQUIRE(wait_until([&] { return two.bays.bays().size() == 8; }));
    REQUIRE(two.bays.attach(second.address()));
    REQUIRE(wait_until([&] { return two.bays.bays().size() == 10; }));
    CHECK(two.bays.bay(1)->tester == "Simulated tester");
    CHECK(two.bays.bay(9)->tester == "Simulated tester 2");
    CHECK_FALSE(two.bays.rename(second.address(), "Simulated tester"));
    CHECK_FALSE(two.bays.rename(second.address(), ""));
    REQUIRE(two.bays.rename(second.address(), "by the window"));
    CHECK(two.bays.bay(10)->tester == "by the window");
    CHECK(two.shop.workshop->test().errors_of("by the window"));
}

TEST_CASE("The one tester of an older workshop is known, and once forgotten does not come back") {
    const BenchShop shop;
    REQUIRE(shop.workshop->catalogue().set_setting("tester_address", "serial:/dev/ttyUSB0"));
    REQUIRE(testers_of(*shop.workshop).size() == 1);
    CHECK(testers_of(*shop.workshop).front().address == "serial:/dev/ttyUSB0");
    Bays bays(*shop.workshop);
    REQUIRE(bays.forget("serial:/dev/ttyUSB0"));
    CHECK(testers_of(*shop.workshop).empty());
}

TEST_CASE("Addresses: ports with their speed and frame, sockets, and what is wrong with others") {
    using bench::DeviceAddress;
    using bench::parse_address;
    const auto full = parse_address("serial:/dev/ttyUSB0,9600,7E2,rts").value();
    CHECK(full.kind == DeviceAddress::Kind::serial);
    CHECK(full.place == "/dev/ttyUSB0");
    CHECK(full.speed == 9600);
    CHECK(full.data_bits == 7);
    CHECK(full.parity == DeviceAddress::Parity::even);
    CHECK(full.stop_bits == 2);
    CHECK(full.flow == DeviceAddress::Flow::rts);
    const auto usual = parse_address("serial:ttyACM1").value();
    CHECK(usual.speed == 115200);
    CHECK(usual.data_bits == 8);
    CHECK(usual.parity == DeviceAddress::Parity::none);
    CHECK(parse_address("socket:/run/x,y").value().place == "/run/x,y");
    for (const char* wrong :
         {"", "serial:", "socket:", "ttyUSB0", "serial:p,fast", "serial:p,9600baud", "serial:p,1", "serial:p,9600,9N1",
          "serial:p,9600,8N3", "serial:p,9600,8N1,dtr", "serial:p,9600,8N1,rts,more"}) {
        CAPTURE(wrong);
        const auto read = parse_address(wrong);
        REQUIRE_FALSE(read);
        CHECK(read.problem().sentence.english().find("serial:PORT") != std::string::npos);
    }
}
