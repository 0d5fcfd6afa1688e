// The simulated tester as a program of its own, on a socket in the test's folder.
#pragma once

#include "sanitized.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QProcess>

#include <functional>

namespace ingot::tests {

// Lets events happen until `done` holds; false when that takes too long.
inline bool wait_until(const std::function<bool()>& done, int ms = 30'000) {
    QElapsedTimer clock;
    clock.start();
    const int longest = ms >= 30'000 ? (sanitized ? 3 : 1) * ms : ms; // the shorter are meant as they stand
    while (!done()) {
        if (clock.elapsed() > longest)
            return false;
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    }
    return true;
}

class SimProcess {
public:
    explicit SimProcess(const Temporary& folder, const QStringList& more = {}, const std::string& name = "tester")
        : path_(folder.file(name)) {
        start(more);
    }
    ~SimProcess() { kill(); }
    SimProcess(const SimProcess&) = delete;
    SimProcess& operator=(const SimProcess&) = delete;

    void start(const QStringList& more) {
        process_.setProcessChannelMode(QProcess::ForwardedErrorChannel);
        process_.start(QStringLiteral(INGOT_BINARY_DIR "/ingot-sim"),
                       QStringList{QStringLiteral("--socket"), QString::fromStdString(path_)} + more);
        REQUIRE(process_.waitForStarted());
        REQUIRE(process_.waitForReadyRead(10'000)); // it prints its address when it listens
    }
    void kill() {
        if (process_.state() != QProcess::NotRunning) {
            process_.kill();
            process_.waitForFinished();
        }
    }
    [[nodiscard]] std::string address() const { return "socket:" + path_; }
    [[nodiscard]] qint64 id() const { return process_.processId(); }

private:
    std::string path_;
    QProcess process_;
};

} // namespace ingot::tests
