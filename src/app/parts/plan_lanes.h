// The bay plan as lanes over time: what runs when on which bay, when nobody is there, the bound. Drag a job to insist
// on it; with the keyboard: arrows choose a job, Shift and arrows move it.
#pragma once

#include "app/parts/painted.h"
#include "workshop/bay_schedule.h"

namespace ingot::app {

class PlanLanes : public Painted {
    Q_OBJECT
public:
    explicit PlanLanes(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(const std::optional<BaySchedule::Planned>& planned);
    [[nodiscard]] const std::optional<BaySchedule::Planned>& planned() const { return planned_; }
    [[nodiscard]] QRectF place_of(std::size_t placed) const; // of a job in the plan
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] QSize sizeHint() const override { return {720, 260}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {480, 120}; }

signals:
    void chosen_changed(qlonglong unit);
    void insisted(qlonglong unit, const QDateTime& at, int bay); // bay from 0

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] double label_w() const; // wider where chargers have names
    [[nodiscard]] double x_of(double hour) const;
    [[nodiscard]] double hour_at(double x) const;
    [[nodiscard]] double lane_height() const;
    void paint_nobody_there(QPainter& painter) const;
    void paint_hours(QPainter& painter) const;
    void paint_bays(QPainter& painter) const;
    void paint_job(QPainter& painter, std::size_t placed) const;
    void choose(int placed);
    [[nodiscard]] QString spoken(std::size_t placed) const;
    void insist(int placed, double hour, int bay);

    std::optional<BaySchedule::Planned> planned_;
    double hours_shown_ = 24;
    int chosen_ = -1;
    QPointF pressed_at_;
    QPointF dragged_to_;
    bool dragging_ = false;
};

} // namespace ingot::app
