// The foot of the window while a tester is on the bench: the next twelve hours, who is there, which runs end when, and
// when to come back.
#pragma once

#include <QDateTime>
#include <QWidget>

#include <optional>
#include <vector>

namespace ingot::app {

struct ClockEvent {
    QDateTime at;
    QString words;
    bool hand = false; // something to do there
};
struct ClockSpan {
    QDateTime from, to; // somebody is there
};

class BenchClock : public QWidget {
    Q_OBJECT
public:
    explicit BenchClock(QWidget* parent = nullptr);
    void set(std::vector<ClockEvent> events, std::vector<ClockSpan> attended, std::optional<QDateTime> come_back);
    // One line of words, where a station needs the height.
    void set_slim(bool slim);
    [[nodiscard]] QString headline() const;

signals:
    void pressed(); // the plan is wanted

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    std::vector<ClockEvent> events_;
    std::vector<ClockSpan> attended_;
    std::optional<QDateTime> come_back_;
    bool slim_ = false;
};

} // namespace ingot::app
