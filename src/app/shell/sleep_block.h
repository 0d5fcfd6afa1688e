// Keeps the computer awake while bays run: asks the desktop's session service (the inhibitor locks of logind, over
// D-Bus) not to sleep, and gives that back when the last run has ended. Where there is no such service nothing happens.
#pragma once

#include <QDBusUnixFileDescriptor>
#include <QObject>

namespace ingot::app {

class SleepBlock : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    // `why` is shown by the desktop.
    void hold(bool wanted, const QString& why);
    [[nodiscard]] bool held() const { return lock_.isValid(); }

signals:
    void refused(); // nobody took it: the computer may fall asleep

private:
    bool wanted_ = false;
    int turn_ = 0; // an answer to an older question does not count
    QDBusUnixFileDescriptor lock_;
};

} // namespace ingot::app
