// The simulated tester behind a wire that fails as it is told, in the test's own process.
#pragma once

#include "bench/tester_lines.h"
#include "sim/tester.h"

#include <catch2/catch.hpp>

#include <QElapsedTimer>
#include <QLocalServer>
#include <QLocalSocket>
#include <QTimer>

#include <deque>
#include <functional>
#include <string>
#include <utility>

namespace ingot::tests {

// What the wire does with one line.
enum class Wire { passes, loses_the_line, loses_the_answer, garbles, sends_half };

// The simulated tester behind a wire.
class WiredTester {
public:
    static constexpr double rate = 2000;
    explicit WiredTester(const std::string& path, int bays = 4, double faster = rate)
        : path_(path), tester_(sim::TesterMake{bays, 4, faster, 20, 10}) {
        QLocalServer::removeServer(QString::fromStdString(path));
        REQUIRE(server_.listen(QString::fromStdString(path)));
        QObject::connect(&server_, &QLocalServer::newConnection, [this] {
            peer_ = server_.nextPendingConnection();
            QObject::connect(peer_, &QLocalSocket::readyRead, [this] { read(); });
        });
        QObject::connect(&time_, &QTimer::timeout, [this] { tester_.pass(pass_ms / 1000.0); });
        time_.start(pass_ms);
        clock_.start();
        QObject::connect(&send_, &QTimer::timeout, [this] { send(); });
        send_.start(1);
    }
    void hang_up() {
        server_.close();
        if (peer_ != nullptr)
            peer_->abort();
        out_.clear();
    }
    void come_back() { REQUIRE(server_.listen(QString::fromStdString(path_))); }
    [[nodiscard]] std::string address() const { return "socket:" + path_; }
    [[nodiscard]] bench::BayState state(int bay) {
        const auto statuses = bench::read_statuses(*tester_.answer("BAY:STAT?"));
        return statuses.value()[static_cast<std::size_t>(bay) - 1].state;
    }
    [[nodiscard]] int starts() const { return starts_; }
    // Switched off and on: it remembers nothing.
    void start_anew(int bays, double faster) { tester_ = sim::Tester(sim::TesterMake{bays, 4, faster, 20, 10}); }
    sim::Tester& tester() { return tester_; }

    std::function<Wire(const std::string& line)> wire = [](const std::string&) { return Wire::passes; };
    std::function<std::string(const std::string& line, const std::string& answer)> twist =
        [](const std::string&, const std::string& answer) { return answer; };
    int late_ms = 0;

private:
    void send() {
        for (; !out_.empty() && out_.front().first <= clock_.elapsed(); out_.pop_front()) {
            const std::string& said = out_.front().second;
            peer_->write(said.data(), static_cast<qint64>(said.size()));
        }
    }
    void read() {
        while (peer_->canReadLine()) {
            const std::string line = peer_->readLine().trimmed().toStdString();
            const Wire does = wire(line);
            if (does == Wire::loses_the_line)
                continue;
            starts_ += line.find(":TAG ") != std::string::npos;
            const auto answer = tester_.answer(line);
            if (!answer || does == Wire::loses_the_answer)
                continue;
            std::string said = twist(line, *answer) + "\n";
            if (does == Wire::garbles)
                said = "\x01\x7F#?" + said.substr(said.size() / 2);
            if (does == Wire::sends_half)
                said = said.substr(0, said.size() / 2);
            // Late, but in the order in which it was asked: a line does not overtake itself.
            out_.emplace_back(clock_.elapsed() + late_ms, said);
        }
    }

    static constexpr int pass_ms = 20;
    std::string path_;
    sim::Tester tester_;
    QLocalServer server_;
    QLocalSocket* peer_ = nullptr;
    QTimer time_;
    int starts_ = 0;
    QElapsedTimer clock_;
    std::deque<std::pair<qint64, std::string>> out_; // when it is due
    QTimer send_;
};

} // namespace ingot::tests
