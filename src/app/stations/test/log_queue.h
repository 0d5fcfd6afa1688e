// Logs that wait to be looked at, one after the other: several that were chosen at once, and those that arrive in a
// folder where a tester leaves them.
#pragma once

#include <QFileSystemWatcher>
#include <QMap>
#include <QObject>
#include <QSet>
#include <QStringList>
#include <QTimer>

namespace ingot::app {

class LogQueue : public QObject {
    Q_OBJECT
public:
    explicit LogQueue(QObject* parent);
    void add(const QStringList& paths);
    // The next one; empty: none waits.
    [[nodiscard]] QString take();
    [[nodiscard]] int waiting() const { return static_cast<int>(paths_.size()); }
    // What is in it now is known already; what arrives later waits as soon as nobody writes to it any more. Empty: no
    // folder is watched. False: there is no such folder.
    bool watch(const QString& folder);
    // Goes on where an earlier watch ended: what was known then, by name, is; what arrived since waits.
    bool resume(const QString& folder, const QStringList& known_names);
    [[nodiscard]] QStringList known_names() const;
    [[nodiscard]] QString folder() const { return folder_; }
    // How long a file must stay as it is, ms; the tests wait for less.
    void set_patience(int ms) { look_.setInterval(ms); }

signals:
    void arrived();

private:
    bool follow(const QString& folder);
    void look();
    [[nodiscard]] QStringList logs_in_folder() const;

    QStringList paths_;
    QString folder_;
    QFileSystemWatcher watcher_;
    QTimer look_;
    QSet<QString> known_;
    QMap<QString, qint64> growing_; // size when it was looked at last
};

} // namespace ingot::app
