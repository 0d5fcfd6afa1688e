// Keep cycling or stop: the row of cycled units at a glance, worst first, and the chosen one's cycles with the fitted
// climb, its band, the bar and where it settles.
#pragma once

#include "app/parts/painted.h"
#include "workshop/bays.h"

namespace ingot::app {

class ConditioningView : public Painted {
    Q_OBJECT
public:
    explicit ConditioningView(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(std::vector<ConditioningRow> rows);
    void choose(Id unit);
    [[nodiscard]] const ConditioningRow* chosen() const;
    [[nodiscard]] int rows() const { return static_cast<int>(rows_.size()); }
    [[nodiscard]] QRectF row_at(int index) const;
    [[nodiscard]] QSize sizeHint() const override { return {720, 280}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {480, 160}; }

signals:
    void chosen_changed(qlonglong unit);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void paint_row(QPainter& painter, const ConditioningRow& row, const QRectF& at, bool here) const;
    void paint_chart(QPainter& painter, const ConditioningRow& row, const QRectF& at) const;
    void paint_charges(QPainter& painter, const ConditioningRow& row, const QRectF& at, double last) const;
    void choose_index(int index);
    [[nodiscard]] int visible() const;

    std::vector<ConditioningRow> rows_;
    int chosen_ = -1;
    int first_ = 0; // scrolled to
};

} // namespace ingot::app
