#include "app/shell/sleep_block.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusPendingCallWatcher>
#include <QDBusPendingReply>

namespace ingot::app {

void SleepBlock::hold(bool wanted, const QString& why) {
    if (wanted == wanted_)
        return;
    wanted_ = wanted;
    ++turn_;
    if (!wanted) {
        lock_ = {}; // closed, the lock is given back
        return;
    }
    QDBusMessage ask = QDBusMessage::createMethodCall(
        QStringLiteral("org.freedesktop.login1"), QStringLiteral("/org/freedesktop/login1"),
        QStringLiteral("org.freedesktop.login1.Manager"), QStringLiteral("Inhibit"));
    ask << QStringLiteral("sleep:idle") << QStringLiteral("Ingot") << why << QStringLiteral("block");
    auto* answer = new QDBusPendingCallWatcher(QDBusConnection::systemBus().asyncCall(ask), this);
    connect(answer, &QDBusPendingCallWatcher::finished, this, [this, answer, turn = turn_] {
        answer->deleteLater();
        const QDBusPendingReply<QDBusUnixFileDescriptor> reply = *answer;
        if (turn != turn_)
            return;
        if (reply.isError())
            emit refused();
        else
            lock_ = reply.value();
    });
}

} // namespace ingot::app
