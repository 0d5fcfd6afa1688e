// Units by any two quantities, with the marks of their duties. Left and right walk them by the one across.
#pragma once

#include "app/parts/painted.h"
#include "app/parts/scatter_marks.h"
#include "core/cells/id.h"

#include <vector>

namespace ingot::app {

struct QuantityPoint {
    Id unit = 0;
    double x = 0, y = 0;
    Duty duty{};
};

class QuantityScatter : public Painted {
    Q_OBJECT
public:
    explicit QuantityScatter(QWidget* parent = nullptr);
    // `x` and `y` name what is shown, with its unit; `unplaced` units lack one of them.
    void set(std::vector<QuantityPoint> points, const QString& x, const QString& x_unit, const QString& y,
             const QString& y_unit, int unplaced);
    void set_selected(Id unit);
    [[nodiscard]] Id selected() const { return selected_; }
    [[nodiscard]] QPointF position_of(Id unit) const;
    [[nodiscard]] std::size_t count() const { return points_.size(); }
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {360, 300}; }

signals:
    void chosen(ingot::Id unit);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] QPointF place_of(const QuantityPoint& point) const;
    [[nodiscard]] std::vector<ScatterMark> marks() const;
    void paint_axes(QPainter& painter) const;

    std::vector<QuantityPoint> points_;
    QString x_, x_unit_, y_, y_unit_;
    int unplaced_ = 0;
    double low_x_ = 0, high_x_ = 1, low_y_ = 0, high_y_ = 1;
    Id selected_ = 0;
};

} // namespace ingot::app
