// The line and the tester over a real socket: answers that come late, never or wrong, and a device that goes and comes.
#include "bench/line_tester.h"
#include "bench/meter.h"

#include "bench_process.h"

#include <catch2/catch.hpp>

#include <QElapsedTimer>
#include <QLocalServer>
#include <QLocalSocket>
#include <QProcess>
#include <QTimer>

#include <chrono>
#include <thread>

using namespace ingot;
using namespace ingot::bench;
using namespace ingot::tests;

namespace {

// A device that answers as it is told to.
class OddDevice {
public:
    explicit OddDevice(const std::string& path) {
        QLocalServer::removeServer(QString::fromStdString(path));
        REQUIRE(server_.listen(QString::fromStdString(path)));
        QObject::connect(&server_, &QLocalServer::newConnection, [this] {
            peer_ = server_.nextPendingConnection();
            QObject::connect(peer_, &QLocalSocket::readyRead, [this] {
                while (peer_->canReadLine()) {
                    const std::string line = peer_->readLine().trimmed().toStdString();
                    asked.push_back(line);
                    if (answer)
                        answer(line);
                }
            });
        });
    }
    void say(const std::string& text) { peer_->write(text.data(), static_cast<qint64>(text.size())); }
    void hang_up() {
        REQUIRE(wait_until([&] { return peer_ != nullptr; }));
        peer_->abort();
    }
    std::function<void(const std::string&)> answer;
    std::vector<std::string> asked;

private:
    QLocalServer server_;
    QLocalSocket* peer_ = nullptr;
};

} // namespace

TEST_CASE("line: a late answer is not taken for the next one") {
    const Temporary folder;
    OddDevice device(folder.file("odd"));
    int asked = 0;
    device.answer = [&](const std::string& line) {
        if (line.rfind("SYST:ECHO? ", 0) == 0)
            device.say(line.substr(11) + "\n");
        else if (++asked == 1)
            QTimer::singleShot(250, [&] { device.say("late\n"); });
        else
            device.say("answer to " + line + "\n");
    };
    Line line;
    line.set_patience(100);
    line.open("socket:" + folder.file("odd"));
    REQUIRE(wait_until([&] { return line.is_open(); }));
    std::string first;
    std::string second;
    bool silent = false;
    QObject::connect(&line, &Line::silent, [&] { silent = true; });
    line.ask("FIRST?", [&](const auto& a) { first = a ? a.value() : "problem: " + a.problem().sentence.english(); });
    line.ask("SECOND?", [&](const auto& a) { second = a ? a.value() : "problem"; });
    REQUIRE(wait_until([&] { return !second.empty(); }));
    CHECK(first.find("does not answer") != std::string::npos);
    CHECK(silent);
    CHECK(second == "answer to SECOND?");
    wait_until([] { return false; }, 400); // the late one comes and is let go
    std::string third;
    line.ask("THIRD?", [&](const auto& a) { third = a ? a.value() : "problem"; });
    REQUIRE(wait_until([&] { return !third.empty(); }));
    CHECK(third == "answer to THIRD?");
}

TEST_CASE("line: a busy thread of our own is not the device's silence") {
    const Temporary folder;
    OddDevice device(folder.file("odd"));
    device.answer = [&](const std::string& line) { device.say(line + "\n"); };
    Line line;
    line.set_patience(200);
    int silences = 0;
    QObject::connect(&line, &Line::silent, [&] { ++silences; });
    line.open("socket:" + folder.file("odd"));
    REQUIRE(wait_until([&] { return line.is_open(); }));
    std::string answer;
    line.ask("1?", [&](const auto& a) { answer = a ? a.value() : a.problem().sentence.english(); });
    std::this_thread::sleep_for(std::chrono::milliseconds(600)); // longer than its patience, nothing can be read
    REQUIRE(wait_until([&] { return !answer.empty(); }));
    CHECK(answer == "1?");
    CHECK(silences == 0);
    // A device that really is silent is given up in about its time.
    device.answer = [](const std::string&) {};
    answer.clear();
    QElapsedTimer clock;
    clock.start();
    line.ask("2?", [&](const auto& a) { answer = a ? a.value() : a.problem().sentence.english(); });
    REQUIRE(wait_until([&] { return !answer.empty(); }));
    CHECK(silences == 1);
    CHECK(clock.elapsed() >= 150);
}

TEST_CASE("line: the device goes away and comes back; questions meanwhile are answered with a problem") {
    const Temporary folder;
    OddDevice device(folder.file("odd"));
    device.answer = [&](const std::string& text) { device.say(text + "\n"); };
    Line line;
    int opened = 0;
    int gone = 0;
    QObject::connect(&line, &Line::opened, [&] { ++opened; });
    QObject::connect(&line, &Line::gone, [&] { ++gone; });
    line.open("socket:" + folder.file("odd"));
    REQUIRE(wait_until([&] { return opened == 1; }));
    device.hang_up();
    REQUIRE(wait_until([&] { return gone == 1; }));
    std::string problem;
    line.ask("X?", [&](const auto& a) { problem = a ? "answer" : a.problem().sentence.english(); });
    CHECK(problem.empty()); // never from inside the call
    REQUIRE(wait_until([&] { return !problem.empty(); }));
    CHECK(problem.find("not there") != std::string::npos);
    REQUIRE(wait_until([&] { return opened == 2; }, 5000));
    line.open("nowhere");
    REQUIRE(wait_until([&] { return gone >= 2; }));
}

TEST_CASE("tester: rubbish is told, and the talk goes on") {
    const Temporary folder;
    OddDevice device(folder.file("odd"));
    int polls = 0;
    device.answer = [&](const std::string& line) {
        if (line == "*IDN?")
            device.say("Shop,Odd tester,1,1\n");
        else if (line == "SYST:BAYS?")
            device.say("2\n");
        else if (line == "SYST:ABIL?")
            device.say("5,2,1,1\n");
        else if (line.rfind("DATA?", 0) == 0)
            device.say(++polls == 2 ? "1;\x01garbage\n" : polls == 3 ? "1;1,5,1,3.7,0,20,0,NONE\n" : "0\n");
        else if (line == "BAY:STAT?")
            device.say("1,IDLE,REST,NONE,\"\";2,IDLE,REST,NONE,\"\"\n");
    };
    LineTester tester;
    tester.set_poll_interval(20);
    int rubbish = 0;
    std::vector<TesterSample> got;
    QObject::connect(&tester, &Tester::rubbish, [&] { ++rubbish; });
    QObject::connect(&tester, &Tester::sampled, [&](const auto& s) { got.insert(got.end(), s.begin(), s.end()); });
    tester.open("socket:" + folder.file("odd"));
    REQUIRE(wait_until([&] { return !got.empty(); }));
    CHECK(rubbish == 1);
    CHECK(tester.bays() == 2);
    CHECK(tester.abilities().most_a == 2);
    CHECK(got[0].sequence == 5);
}

TEST_CASE("meter: a voltage and a resistance of what stands in a bay, over a pseudo-terminal") {
    QProcess process;
    process.start(QStringLiteral(INGOT_BINARY_DIR "/ingot-sim"), {QStringLiteral("--pty")});
    REQUIRE(process.waitForReadyRead(10'000));
    const std::string port = process.readLine().trimmed().toStdString();
    Meter meter;
    meter.open("serial:" + port);
    REQUIRE(wait_until([&] { return meter.state() == DeviceState::ready; }, 5000));
    bool loaded = false;
    meter.line().ask("SIM:LOAD 1,li,2.6,1,0.045,1,\"\";SYST:ERR?", [&](const auto& a) { loaded = a.ok(); });
    REQUIRE(wait_until([&] { return loaded; }));
    double volts = 0;
    double ohms = 0;
    std::string over;
    meter.measure(MeterQuantity::voltage, 1, [&](const auto& v) { volts = v ? v.value().value : -1; });
    meter.measure(MeterQuantity::resistance, 1, [&](const auto& v) { ohms = v ? v.value().value : -1; });
    meter.measure(MeterQuantity::resistance, 2,
                  [&](const auto& v) { over = v ? "value" : v.problem().sentence.english(); });
    REQUIRE(wait_until([&] { return !over.empty(); }));
    CHECK(volts > 3.3);
    CHECK(volts < 4.2);
    CHECK(ohms > 0.005);
    CHECK(ohms < 0.2);
    CHECK(over.find("over range") != std::string::npos);
    process.kill();
    process.waitForFinished();
}

TEST_CASE("tester: 64 bays at ten readings a second, none dropped") {
    const Temporary folder;
    const SimProcess sim(folder, {QStringLiteral("--bays"), QStringLiteral("64")});
    LineTester tester;
    tester.set_poll_interval(100);
    std::map<int, std::vector<std::uint64_t>> by_bay;
    std::uint64_t last = 0;
    bool in_order = true;
    QObject::connect(&tester, &Tester::sampled, [&](const auto& samples) {
        for (const auto& s : samples) {
            in_order = in_order && s.sequence == last + 1;
            last = s.sequence;
            by_bay[s.bay].push_back(s.sequence);
        }
    });
    tester.open(sim.address());
    REQUIRE(wait_until([&] { return tester.ready(); }));
    int started = 0;
    for (int bay = 1; bay <= 64; ++bay) {
        tester.tell("*CLS;SIM:LOAD " + std::to_string(bay) + ",li,2.6,1,0.045,1,\"\";SYST:ERR?", [](const auto&) {});
        BayStep rest;
        rest.hours = 1;
        tester.start(bay, {4.25, 2.5, 2, 4, 45, 0, 2}, rest, "t", 0.1, [&](const Tester::Reply& reply) {
            CHECK(reply.confirmed());
            ++started;
        });
    }
    REQUIRE(wait_until([&] { return started == 64; }));
    wait_until([] { return false; }, 3000);
    CHECK(in_order);
    CHECK(by_bay.size() == 64);
    for (const auto& [bay, sequence] : by_bay)
        CHECK(sequence.size() >= 20);
}
