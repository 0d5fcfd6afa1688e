#include "app/shell/bench_call.h"

#include <QApplication>
#include <QDBusMessage>
#include <QDBusPendingCallWatcher>
#include <QDBusPendingReply>
#include <QSettings>
#include <QTimer>
#include <QVariantMap>

namespace ingot::app {

namespace {

constexpr const char* service = "org.freedesktop.Notifications";
constexpr const char* path = "/org/freedesktop/Notifications";
constexpr const char* show_bench = "bench";
constexpr const char* pressed_itself = "default"; // the notice, not a button on it
constexpr const char* sound_key = "alarm_sound";
constexpr int sounds_again_ms = 20'000;

QDBusMessage call(const char* method) {
    return QDBusMessage::createMethodCall(QString::fromLatin1(service), QString::fromLatin1(path),
                                          QString::fromLatin1(service), QString::fromLatin1(method));
}

void close(const QDBusConnection& bus, uint id) {
    QDBusMessage message = call("CloseNotification");
    message << id;
    bus.asyncCall(message);
}

} // namespace

BenchCall::BenchCall(QObject* parent, std::optional<QDBusConnection> bus)
    : QObject(parent), bus_(std::move(bus)), again_(new QTimer(this)) {
    again_->setInterval(sounds_again_ms);
    connect(again_, &QTimer::timeout, this, &BenchCall::sound);
}

QDBusConnection& BenchCall::bus() {
    if (!bus_)
        bus_ = QDBusConnection::sessionBus();
    if (!hears_) {
        hears_ = true;
        const auto hear = [this](const char* signal, const char* slot) {
            bus_->connect(QString::fromLatin1(service), QString::fromLatin1(path), QString::fromLatin1(service),
                          QString::fromLatin1(signal), this, slot);
        };
        hear("ActionInvoked", SLOT(invoked(uint, QString)));
        hear("NotificationClosed", SLOT(closed(uint, uint)));
    }
    return *bus_;
}

bool BenchCall::sounds() {
    return QSettings().value(QLatin1String(sound_key), false).toBool();
}

void BenchCall::set_sounds(bool on) {
    QSettings().setValue(QLatin1String(sound_key), on);
}

void BenchCall::sound() {
    if (!sounds())
        return;
    QApplication::beep();
    emit sounded();
}

void BenchCall::alarm(const QString& words) {
    sound();
    again_->start();
    notify(tr("The bench needs you"), words, true);
}

void BenchCall::visit(const QString& words) {
    notify(tr("Ingot"), words, false);
}

void BenchCall::notify(const QString& head, const QString& words, bool urgent) {
    constexpr uchar critical = 2;
    constexpr uchar normal = 1;
    constexpr int as_the_desktop_does = -1;
    constexpr int until_closed = 0;
    QDBusMessage message = call("Notify");
    const QString go = tr("Go to the bench");
    message << tr("Ingot") << uint{0} << QStringLiteral("ingot") << head << words.toHtmlEscaped()
            << QStringList{QString::fromLatin1(pressed_itself), go, QString::fromLatin1(show_bench), go}
            << QVariantMap{{QStringLiteral("urgency"), QVariant::fromValue(urgent ? critical : normal)}}
            << (urgent ? until_closed : as_the_desktop_does);
    auto* answer = new QDBusPendingCallWatcher(bus().asyncCall(message), this);
    connect(answer, &QDBusPendingCallWatcher::finished, this, [this, answer, turn = turn_] {
        answer->deleteLater();
        const QDBusPendingReply<uint> reply = *answer;
        if (reply.isError())
            return;
        if (turn == turn_)
            ids_.insert(reply.value());
        else
            close(bus(), reply.value());
    });
}

void BenchCall::read() {
    ++turn_;
    again_->stop();
    for (const uint id : std::as_const(ids_))
        close(bus(), id);
    ids_.clear();
}

void BenchCall::invoked(uint id, const QString& action) {
    if (ids_.contains(id) && (action == QLatin1String(show_bench) || action == QLatin1String(pressed_itself)))
        emit followed();
}

void BenchCall::closed(uint id, uint /*reason*/) {
    ids_.remove(id);
}

} // namespace ingot::app
