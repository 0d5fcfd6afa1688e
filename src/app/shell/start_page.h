// First start, no workshop: what to do first.
#pragma once

#include <QLabel>
#include <QWidget>

namespace ingot::app {

class PressButton;

class StartPage : public QWidget {
    Q_OBJECT
public:
    explicit StartPage(QWidget* parent = nullptr);
    void set_recent(const QStringList& files);
    // While something is done with a workshop's file there is nothing to choose; empty: there is again.
    void set_busy(const QString& sentence, bool may_stop = false);

signals:
    void new_wanted();
    void open_wanted();
    void demo_wanted();
    void file_wanted(const QString& path);
    void stop_wanted();

private:
    QWidget* choices_;
    QLabel* busy_;
    PressButton* stop_;
    QWidget* recent_;
};

} // namespace ingot::app
