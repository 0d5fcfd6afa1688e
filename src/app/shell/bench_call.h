// Calls the person back to the bench when nobody looks at the window: a desktop notice with an action that leads there
// and, where that is switched on, a sound. An alarm stands, and sounds again, until it was read; a visit that is due is
// said once. Over D-Bus, as the Desktop Notifications Specification (freedesktop.org, 1.2) has it; where no desktop
// serves it only the sound remains.
#pragma once

#include <QDBusConnection>
#include <QObject>
#include <QSet>

#include <optional>

class QTimer;

namespace ingot::app {

class BenchCall : public QObject {
    Q_OBJECT
public:
    // `bus`: the session's, where none is given; looked for when something is to be said, not at the start.
    explicit BenchCall(QObject* parent = nullptr, std::optional<QDBusConnection> bus = {});
    void alarm(const QString& words);
    void visit(const QString& words);
    // The alarms were read.
    void read();

    [[nodiscard]] static bool sounds(); // kept between starts; off at first
    static void set_sounds(bool on);

signals:
    void followed(); // its action was pressed
    void sounded();

private slots:
    void invoked(uint id, const QString& action);
    void closed(uint id, uint reason);

private:
    void notify(const QString& head, const QString& words, bool urgent);
    void sound();
    [[nodiscard]] QDBusConnection& bus();

    std::optional<QDBusConnection> bus_;
    bool hears_ = false; // what becomes of the notices
    QSet<uint> ids_;     // of the notices that stand
    int turn_ = 0;       // a notice that is put up after it was read is taken down again
    QTimer* again_;
};

} // namespace ingot::app
