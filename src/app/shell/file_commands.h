// The File menu: workshops are made, opened, backed up; folders are brought in, the pool goes out.
#pragma once

#include <QObject>

class QAction;
class QMenu;
class QWidget;

namespace ingot {
class Job;
class Workshop;
} // namespace ingot

namespace ingot::app {

class MainWindow;

class FileCommands : public QObject {
    Q_OBJECT
public:
    FileCommands(MainWindow& window, QMenu* menu);
    void ask_new();
    void ask_open();
    void open_demo();
    void remember(const QString& path);
    [[nodiscard]] QStringList recent() const; // that are still there, newest first

signals:
    void told(const QString& sentence, bool objection);
    void recent_changed(const QStringList& paths);

private:
    void ask_folder();
    void export_pool();
    void back_up();
    void show_copying();
    void fill_recent();
    [[nodiscard]] Workshop* workshop(); // says so when none is open

    MainWindow& window_;
    QMenu* recent_menu_ = nullptr;
    QAction* back_up_ = nullptr; // or, while it is under way, stops it
    Job* copying_ = nullptr;
};

} // namespace ingot::app
