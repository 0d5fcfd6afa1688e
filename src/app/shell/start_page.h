// First start, no workshop: what to do first.
#pragma once

#include <QWidget>

namespace ingot::app {

class StartPage : public QWidget {
    Q_OBJECT
public:
    explicit StartPage(QWidget* parent = nullptr);
    void set_recent(const QStringList& files);

signals:
    void new_wanted();
    void open_wanted();
    void demo_wanted();
    void file_wanted(const QString& path);

private:
    QWidget* recent_;
};

} // namespace ingot::app
