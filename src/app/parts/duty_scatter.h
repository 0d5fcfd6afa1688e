// Capacity against resistance of many units with the duty regions behind; limits that can be dragged, or tapped and
// typed.
#pragma once

#include "app/parts/painted.h"
#include "app/parts/scatter_marks.h"
#include "workshop/workshop.h"

namespace ingot::app {

struct ScatterPoint {
    Id unit = 0;
    double capacity_ah = 0;
    std::optional<double> resistance_ohm; // nothing: not measured; drawn along the foot
    Duty duty{};
};

class DutyScatter : public Painted {
    Q_OBJECT
public:
    explicit DutyScatter(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    // Limits: drive, store, light; Ah and ohm. Resistance limits of 0: none are known, all units stand in one strip.
    void set(std::vector<ScatterPoint> points, const std::array<double, 3>& capacity_limits,
             const std::array<double, 3>& resistance_limits);
    void set_selected(Id unit);
    [[nodiscard]] Id selected() const { return selected_; }
    [[nodiscard]] QRectF handle(bool capacity, std::size_t duty) const;
    [[nodiscard]] QPointF position_of(Id unit) const;
    [[nodiscard]] QSize minimumSizeHint() const override { return {360, 300}; }

signals:
    void chosen(ingot::Id unit);
    void limit_moved(bool capacity, int duty, double value);    // while dragging
    void limit_released(bool capacity, int duty, double value); // at the end of a drag
    void limit_tapped(bool capacity, int duty);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] double x_of(double ah) const;
    [[nodiscard]] double y_of(double ohm) const;
    [[nodiscard]] QPointF place_of(const ScatterPoint& point) const;
    [[nodiscard]] bool resistance_known() const { return resistance_[2] > 0; }
    [[nodiscard]] double limit_at(bool capacity, const QPointF& at) const;
    void fit_ranges();
    void paint_regions(QPainter& painter) const;
    void paint_points(QPainter& painter) const;
    [[nodiscard]] std::vector<ScatterMark> marks() const;
    void paint_foot_words(QPainter& painter) const;
    void paint_histograms(QPainter& painter) const;
    void paint_handles(QPainter& painter) const;

    std::vector<ScatterPoint> points_;
    std::array<double, 3> capacity_{};
    std::array<double, 3> resistance_{};
    double low_c_ = 0, high_c_ = 1, low_r_ = 0, high_r_ = 1;
    double zoom_ = 1;
    Id selected_ = 0;
    bool dragging_ = false;
    bool moved_ = false;
    bool drag_capacity_ = false;
    std::size_t drag_duty_ = 0;
    QPointF pressed_;
};

} // namespace ingot::app
