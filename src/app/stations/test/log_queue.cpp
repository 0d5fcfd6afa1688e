#include "app/stations/test/log_queue.h"

#include <QDir>
#include <QFileInfo>

namespace ingot::app {

LogQueue::LogQueue(QObject* parent) : QObject(parent) {
    constexpr int patience_ms = 1500;
    look_.setInterval(patience_ms);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { look_.start(); });
    connect(&look_, &QTimer::timeout, this, &LogQueue::look);
}

void LogQueue::add(const QStringList& paths) {
    for (const QString& path : paths)
        if (!paths_.contains(path))
            paths_ << path;
}

QString LogQueue::take() {
    return paths_.isEmpty() ? QString() : paths_.takeFirst();
}

QStringList LogQueue::logs_in_folder() const {
    QStringList out;
    for (const QFileInfo& file : QDir(folder_).entryInfoList({QStringLiteral("*.csv"), QStringLiteral("*.txt")},
                                                             QDir::Files, QDir::Time | QDir::Reversed))
        out << file.absoluteFilePath();
    return out;
}

bool LogQueue::follow(const QString& folder) {
    if (!watcher_.directories().isEmpty())
        watcher_.removePaths(watcher_.directories());
    look_.stop();
    growing_.clear();
    known_.clear();
    folder_.clear();
    if (folder.isEmpty())
        return true;
    if (!QFileInfo(folder).isDir())
        return false;
    folder_ = folder;
    watcher_.addPath(folder);
    return true;
}

bool LogQueue::watch(const QString& folder) {
    if (!follow(folder))
        return false;
    if (!folder.isEmpty())
        for (const QString& path : logs_in_folder())
            known_.insert(path);
    return true;
}

bool LogQueue::resume(const QString& folder, const QStringList& known_names) {
    if (folder.isEmpty() || !follow(folder))
        return false;
    for (const QString& name : known_names)
        known_.insert(QDir(folder).absoluteFilePath(name));
    look_.start();
    return true;
}

QStringList LogQueue::known_names() const {
    QStringList out;
    for (const QString& path : known_)
        out << QFileInfo(path).fileName();
    out.sort();
    return out;
}

// A file counts once two looks found it at one size.
void LogQueue::look() {
    bool some_grow = false;
    bool some_arrived = false;
    for (const QString& path : logs_in_folder()) {
        if (known_.contains(path))
            continue;
        const qint64 size = QFileInfo(path).size();
        const auto before = growing_.constFind(path);
        if (before == growing_.constEnd() || *before != size || size == 0) {
            growing_[path] = size;
            some_grow = true;
            continue;
        }
        growing_.remove(path);
        known_.insert(path);
        add({path});
        some_arrived = true;
    }
    if (!some_grow)
        look_.stop();
    if (some_arrived)
        emit arrived();
}

} // namespace ingot::app
