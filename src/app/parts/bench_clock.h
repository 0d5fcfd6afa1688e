// The foot of the window: the next twelve hours or fourteen days, who is there, which runs end when, which shelf is to
// be read, and when to come back.
#pragma once

#include "app/parts/painted.h"

#include <QDateTime>

#include <optional>
#include <vector>

namespace ingot::app {

struct ClockEvent {
    QDateTime at;
    QString words;
    bool hand = false;  // something to do there
    bool field = false; // a pack in service is to be read
};
struct ClockSpan {
    QDateTime from, to; // somebody is there
};

class BenchClock : public Painted {
    Q_OBJECT
public:
    explicit BenchClock(QWidget* parent = nullptr);
    // Of the bench.
    void set(std::vector<ClockEvent> events, std::vector<ClockSpan> attended, std::optional<QDateTime> come_back);
    // Readings on the shelf, the earliest first; what is overdue is due now.
    void set_shelf(std::vector<ClockEvent> readings);
    [[nodiscard]] const std::vector<ClockEvent>& shelf() const { return shelf_; }
    // Fourteen days instead of twelve hours.
    void set_days(bool days);
    [[nodiscard]] bool days() const { return days_; }
    // One line of words, where a station needs the height.
    void set_slim(bool slim);
    [[nodiscard]] QString headline() const;
    [[nodiscard]] std::vector<PaintedPart> parts() const override; // events in sight

signals:
    void pressed();       // the bench's plan is wanted
    void shelf_pressed(); // the shelf is wanted
    void field_pressed(); // packs in service

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override; // Space: the other scale; Enter: where it leads

private:
    // An event's mark and words in the picture.
    struct Placed {
        ClockEvent event;
        bool of_shelf = false;
        QRectF at;
    };
    [[nodiscard]] std::vector<Placed> placed(const QDateTime& now) const;
    [[nodiscard]] QRectF axis() const;
    [[nodiscard]] double x_of(const QDateTime& now, const QDateTime& at) const;
    [[nodiscard]] bool wanted(const QDateTime& now) const;
    void paint_slim(QPainter& painter, const QDateTime& now) const;
    void paint_axis(QPainter& painter, const QDateTime& now) const;
    void lead_on();
    void lead_to(const ClockEvent& event, bool of_shelf);

    std::vector<ClockEvent> events_, shelf_;
    std::vector<ClockSpan> attended_;
    std::optional<QDateTime> come_back_;
    bool slim_ = false;
    bool days_ = false;
};

} // namespace ingot::app
