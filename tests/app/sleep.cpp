// The computer stays awake while bays run: against a bus of the test's own with a stand-in for the session service.
#include "app/shell/sleep_block.h"

#include <catch2/catch.hpp>

#include <QApplication>
#include <QDBusConnection>
#include <QDBusUnixFileDescriptor>
#include <QElapsedTimer>
#include <QProcess>

#include <sys/stat.h>
#include <unistd.h>

using namespace ingot;

namespace {

// Stands in for logind: gives one end of a pipe, and sees when the other one is closed.
class SessionService : public QObject {
    Q_OBJECT
    Q_CLASSINFO("D-Bus Interface", "org.freedesktop.login1.Manager")
public:
    ~SessionService() override {
        if (end_ >= 0)
            ::close(end_);
    }
    QStringList asked;
    [[nodiscard]] bool lock_is_open() const {
        char byte = 0;
        return end_ >= 0 && ::read(end_, &byte, 1) < 0; // nothing to read, but somebody could write
    }

public slots:
    QDBusUnixFileDescriptor Inhibit(const QString& what, const QString& who, const QString& why, const QString& mode) {
        asked << what << who << why << mode;
        int ends[2];
        if (::pipe2(ends, 04000 /* O_NONBLOCK */) != 0)
            return {};
        end_ = ends[0];
        QDBusUnixFileDescriptor given(ends[1]); // a copy
        ::close(ends[1]);
        return given;
    }

private:
    int end_ = -1;
};

bool wait_for(const std::function<bool()>& done) {
    constexpr int longest_ms = 5000;
    QElapsedTimer clock;
    clock.start();
    while (!done() && clock.elapsed() < longest_ms)
        QApplication::processEvents(QEventLoop::AllEvents, 10);
    return done();
}

} // namespace

TEST_CASE("While bays run the computer is asked to stay awake, and given back afterwards") {
    QProcess bus;
    bus.start(QStringLiteral("dbus-daemon"),
              {QStringLiteral("--session"), QStringLiteral("--nofork"), QStringLiteral("--print-address")});
    REQUIRE(bus.waitForReadyRead(5000));
    const QByteArray address = bus.readAllStandardOutput().trimmed();
    qputenv("DBUS_SYSTEM_BUS_ADDRESS", address);
    app::SleepBlock block;
    int refused = 0;
    QObject::connect(&block, &app::SleepBlock::refused, &block, [&] { ++refused; });
    // Nobody serves it yet.
    block.hold(true, QStringLiteral("8 bays are running"));
    REQUIRE(wait_for([&] { return refused == 1; }));
    CHECK_FALSE(block.held());
    block.hold(false, {});

    SessionService service;
    auto serving = QDBusConnection::connectToBus(QString::fromLatin1(address), QStringLiteral("service"));
    REQUIRE(
        serving.registerObject(QStringLiteral("/org/freedesktop/login1"), &service, QDBusConnection::ExportAllSlots));
    REQUIRE(serving.registerService(QStringLiteral("org.freedesktop.login1")));
    block.hold(true, QStringLiteral("8 bays are running"));
    REQUIRE(wait_for([&] { return block.held(); }));
    CHECK(service.asked == QStringList{QStringLiteral("sleep:idle"), QStringLiteral("Ingot"),
                                       QStringLiteral("8 bays are running"), QStringLiteral("block")});
    CHECK(wait_for([&] { return service.lock_is_open(); }));
    block.hold(true, QStringLiteral("7 bays are running")); // asked once
    CHECK(service.asked.size() == 4);
    block.hold(false, {});
    CHECK_FALSE(block.held());
    CHECK(wait_for([&] { return !service.lock_is_open(); }));
    QDBusConnection::disconnectFromBus(QStringLiteral("service"));
    bus.kill();
    bus.waitForFinished();
}

#include "sleep.moc"
