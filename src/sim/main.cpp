// ingot-sim: a simulated multi-bay tester on a local socket or a pseudo-terminal, for trying Ingot without a device and
// for its tests. What it is told and answers: docs/formats/tester.md.
#include "sim/tester.h"

#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QLocalServer>
#include <QLocalSocket>
#include <QSocketNotifier>
#include <QTimer>

#include <cstdio>
#include <fcntl.h>
#include <iostream>
#include <pty.h>
#include <termios.h>
#include <unistd.h>

namespace {

// Lines out of bytes, with the troubles that a line may have when they are asked for.
struct Talk {
    sim::Tester& tester;
    std::string pending;

    template <class Send> void bytes(const char* data, std::size_t size, Send send) {
        pending.append(data, size);
        std::size_t end = 0;
        while ((end = pending.find('\n')) != std::string::npos) {
            const std::string line = pending.substr(0, end);
            pending.erase(0, end + 1);
            if (const auto answer = tester.answer(line))
                send(tester.through_the_line(*answer + "\n"));
        }
        constexpr std::size_t most = 1U << 20U;
        if (pending.size() > most)
            pending.clear();
    }
};

void add_make(CLI::App& app, sim::TesterMake& make) {
    app.add_option("--bays", make.bays, "Number of bays")->check(CLI::Range(1, 256))->capture_default_str();
    app.add_option("--most-v", make.most_v, "What a bay can do at most, V")
        ->check(CLI::Range(1, 100))
        ->capture_default_str();
    app.add_option("--most-a", make.most_a, "What a bay can do at most, A")
        ->check(CLI::Range(0.1, 100.0))
        ->capture_default_str();
    app.add_option("--seed", make.seed, "Same seed, same units")->capture_default_str();
    app.add_option("--rate", make.rate, "How much faster than the clock time runs")
        ->check(CLI::Range(0.0, 100000.0))
        ->capture_default_str();
    sim::Imperfections& imperfect = make.imperfect;
    app.add_option("--contact-ohm", imperfect.contact_ohm, "Resistance of clips and leads")
        ->check(CLI::Range(0.0, 1.0));
    app.add_option("--volts-gain", imperfect.volts_gain, "How far its volts are off, as a fraction")
        ->check(CLI::Range(-0.1, 0.1));
    app.add_option("--amperes-gain", imperfect.amperes_gain, "How far its amperes are off, as a fraction")
        ->check(CLI::Range(-0.1, 0.1));
    app.add_option("--neighbour-share", imperfect.neighbour_share,
                   "How much of the neighbours' warmth a unit stands in, 0 to 1")
        ->check(CLI::Range(0.0, 1.0));
    app.add_option("--supply-a", imperfect.supply_a, "Charge currents together; over it all get less")
        ->check(CLI::Range(0.0, 1000.0));
    app.add_option("--drop", imperfect.drop_rate, "Fraction of the bytes that it sends and that do not arrive")
        ->check(CLI::Range(0.0, 0.5));
}

} // namespace

int main(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    CLI::App app{"A simulated multi-bay tester that speaks Ingot's line protocol."};
    app.name("ingot-sim");
    sim::TesterMake make;
    std::string socket;
    bool pseudo_terminal = false;
    add_make(app, make);
    app.add_option("--socket", socket, "Path of the local socket to listen on");
    app.add_flag("--pty", pseudo_terminal, "Open a pseudo-terminal instead and print its path");
    CLI11_PARSE(app, argc, argv);
    if (socket.empty() && !pseudo_terminal) {
        std::cerr << "ingot-sim: give --socket PATH or --pty\n";
        return 2;
    }
    sim::Tester tester(make);
    QElapsedTimer clock;
    clock.start();
    qint64 told_ms = 0;
    const auto catch_up = [&] {
        const qint64 now = clock.elapsed();
        constexpr double per_second = 1000;
        constexpr double most_s = 0.2; // a machine that was busy does not leap
        tester.pass(std::min(most_s, static_cast<double>(now - told_ms) / per_second));
        told_ms = now;
    };
    QTimer beat;
    QObject::connect(&beat, &QTimer::timeout, catch_up);
    constexpr int beat_ms = 20;
    beat.start(beat_ms);

    QLocalServer server;
    int line = -1;
    Talk line_talk{tester, {}};
    std::unique_ptr<QSocketNotifier> notifier;
    if (pseudo_terminal) {
        int other = -1;
        char name[128];
        if (::openpty(&line, &other, name, nullptr, nullptr) != 0) {
            std::perror("ingot-sim: no pseudo-terminal");
            return 1;
        }
        termios raw{};
        ::tcgetattr(other, &raw);
        ::cfmakeraw(&raw);
        ::tcsetattr(other, TCSANOW, &raw);
        ::fcntl(line, F_SETFL, ::fcntl(line, F_GETFL) | O_NONBLOCK);
        notifier = std::make_unique<QSocketNotifier>(line, QSocketNotifier::Read);
        QObject::connect(notifier.get(), &QSocketNotifier::activated, [&] {
            char buffer[4096];
            ssize_t got = 0;
            while ((got = ::read(line, buffer, sizeof buffer)) > 0)
                line_talk.bytes(buffer, static_cast<std::size_t>(got), [&](const std::string& text) {
                    std::size_t sent = 0;
                    while (sent < text.size()) {
                        const ssize_t n = ::write(line, text.data() + sent, text.size() - sent);
                        if (n > 0)
                            sent += static_cast<std::size_t>(n);
                        else
                            ::usleep(1000); // the reader is slow
                    }
                });
        });
        std::cout << name << std::endl;
    } else {
        QLocalServer::removeServer(QString::fromStdString(socket));
        server.setSocketOptions(QLocalServer::UserAccessOption);
        if (!server.listen(QString::fromStdString(socket))) {
            std::cerr << "ingot-sim: cannot listen on " << socket << ": " << server.errorString().toStdString() << "\n";
            return 1;
        }
        QObject::connect(&server, &QLocalServer::newConnection, [&] {
            QLocalSocket* peer = server.nextPendingConnection();
            auto talk = std::make_shared<Talk>(Talk{tester, {}});
            QObject::connect(peer, &QLocalSocket::readyRead, [peer, talk] {
                const QByteArray bytes = peer->readAll();
                talk->bytes(bytes.constData(), static_cast<std::size_t>(bytes.size()), [peer](const std::string& text) {
                    peer->write(text.data(), static_cast<qint64>(text.size()));
                });
            });
            QObject::connect(peer, &QLocalSocket::disconnected, peer, &QObject::deleteLater);
        });
        std::cout << socket << std::endl;
    }
    return QCoreApplication::exec();
}
