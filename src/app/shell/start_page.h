// First start, no workshop: what to do first.
#pragma once

#include <QLabel>
#include <QWidget>

namespace ingot::app {

class StartPage : public QWidget {
    Q_OBJECT
public:
    explicit StartPage(QWidget* parent = nullptr);
    void set_recent(const QStringList& files);
    // While a workshop is being opened there is nothing to choose; empty: there is again.
    void set_opening(const QString& name);

signals:
    void new_wanted();
    void open_wanted();
    void demo_wanted();
    void file_wanted(const QString& path);

private:
    QWidget* choices_;
    QLabel* opening_;
    QWidget* recent_;
};

} // namespace ingot::app
