// What the window has to say. A note or an objection answers the act before it, so the next answer takes its place. An
// alarm (a bay that stopped by itself, a step that broke) is never overwritten: alarms wait in a queue, oldest first,
// until each was read.
#pragma once

#include <QStringList>
#include <QWidget>

class QLabel;

namespace ingot::app {

class PressButton;

enum class Severity { note, objection, alarm };

class MessageBar : public QWidget {
    Q_OBJECT
public:
    explicit MessageBar(QWidget* parent = nullptr);

    void add(Severity severity, const QString& sentence);
    void clear();
    // What can be read now: the alarm in front, then the answer; empty when nothing stands.
    [[nodiscard]] QString shown() const;
    [[nodiscard]] const QStringList& alarms() const { return alarms_; }

signals:
    void dismissed();
    void announced(const QString& sentence); // to whoever reads the screen aloud

private:
    struct Strip {
        QWidget* widget = nullptr;
        QWidget* mark = nullptr; // beside its words: what kind of message it is
        QLabel* words = nullptr;
    };
    Strip make_strip(const QString& name, const QString& button, const std::function<void()>& read);
    void show_alarm();
    void dress();

    Strip alarm_;
    Strip answer_;
    QStringList alarms_;
    bool objects_ = false; // the answer is an objection
};

} // namespace ingot::app
