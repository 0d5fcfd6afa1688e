// The computer stays awake while bays run: against a bus of the test's own with a stand-in for the session service.
#include "app/shell/bench_call.h"
#include "app/shell/sleep_block.h"

#include <catch2/catch.hpp>

#include <QApplication>
#include <QDBusConnection>
#include <QDBusUnixFileDescriptor>
#include <QElapsedTimer>
#include <QProcess>
#include <QSettings>
#include <QVariantMap>

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

// Stands in for the desktop's notices.
class Desktop : public QObject {
    Q_OBJECT
    Q_CLASSINFO("D-Bus Interface", "org.freedesktop.Notifications")
public:
    struct Notice {
        QString body;
        QStringList actions;
        int urgency = -1, timeout = 0;
    };
    QList<Notice> shown;
    QList<uint> taken_down;

public slots:
    uint Notify(const QString&, uint, const QString&, const QString&, const QString& body, const QStringList& actions,
                const QVariantMap& hints, int timeout) {
        shown.push_back({body, actions, hints.value(QStringLiteral("urgency")).toInt(), timeout});
        return static_cast<uint>(shown.size());
    }
    void CloseNotification(uint id) {
        taken_down << id;
        emit NotificationClosed(id, 3);
    }

signals:
    void ActionInvoked(uint id, const QString& action);
    void NotificationClosed(uint id, uint reason);
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

TEST_CASE("K22: an alarm stands on the desktop until it is read, with an action that leads to the bench") {
    QProcess bus;
    bus.start(QStringLiteral("dbus-daemon"),
              {QStringLiteral("--session"), QStringLiteral("--nofork"), QStringLiteral("--print-address")});
    REQUIRE(bus.waitForReadyRead(5000));
    const QString address = QString::fromLatin1(bus.readAllStandardOutput().trimmed());
    {
        auto serving = QDBusConnection::connectToBus(address, QStringLiteral("desktop"));
        Desktop desktop;
        app::BenchCall call(nullptr, QDBusConnection::connectToBus(address, QStringLiteral("ingot")));
        int followed = 0;
        int sounded = 0;
        QObject::connect(&call, &app::BenchCall::followed, &call, [&] { ++followed; });
        QObject::connect(&call, &app::BenchCall::sounded, &call, [&] { ++sounded; });
        app::BenchCall::set_sounds(false);
        call.alarm(QStringLiteral("nobody serves it yet"));
        CHECK(sounded == 0); // off until somebody switches it on
        call.read();
        REQUIRE(serving.registerObject(QStringLiteral("/org/freedesktop/Notifications"), &desktop,
                                       QDBusConnection::ExportAllSlots | QDBusConnection::ExportAllSignals));
        REQUIRE(serving.registerService(QStringLiteral("org.freedesktop.Notifications")));
        app::BenchCall::set_sounds(true);
        call.alarm(QStringLiteral("Bay 3 <hot>"));
        call.visit(QStringLiteral("Bay 5 is done"));
        REQUIRE(wait_for([&] { return desktop.shown.size() == 2; }));
        CHECK(sounded == 1);
        CHECK(desktop.shown[0].body == QStringLiteral("Bay 3 &lt;hot&gt;")); // bodies are markup
        CHECK(desktop.shown[0].urgency == 2);
        CHECK(desktop.shown[0].timeout == 0);
        CHECK(desktop.shown[1].urgency == 1);
        CHECK(desktop.shown[1].timeout == -1);
        CHECK(desktop.shown[0].actions.contains(QStringLiteral("bench")));
        QApplication::processEvents();
        emit desktop.ActionInvoked(77, QStringLiteral("bench")); // another program's
        emit desktop.ActionInvoked(1, QStringLiteral("bench"));
        emit desktop.ActionInvoked(2, QStringLiteral("default"));
        CHECK(wait_for([&] { return followed == 2; }));
        call.read();
        CHECK(wait_for([&] { return desktop.taken_down.size() == 2; }));
        emit desktop.ActionInvoked(1, QStringLiteral("bench"));
        QApplication::processEvents(QEventLoop::AllEvents, 100);
        CHECK(followed == 2);
        app::BenchCall::set_sounds(false);
    }
    QDBusConnection::disconnectFromBus(QStringLiteral("ingot"));
    QDBusConnection::disconnectFromBus(QStringLiteral("desktop"));
    bus.kill();
    bus.waitForFinished();
}

#include "sleep.moc"
