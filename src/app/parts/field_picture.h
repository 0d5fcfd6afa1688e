// A pack in the field: every group against the middle one over days, in mV a cell, with what would want a balance.
#pragma once

#include "app/parts/painted.h"
#include "workshop/prove.h"

namespace ingot::app {

class FieldPicture : public Painted {
    Q_OBJECT
public:
    explicit FieldPicture(QWidget* parent);
    void set(const PackInField& pack, int chosen); // chosen: a group from 1; 0: none
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 140}; }

signals:
    void group_chosen(int group); // from 1

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    struct Mark {
        int group = 0; // from 1
        std::vector<QPointF> at;
    };
    [[nodiscard]] QRectF field() const;
    [[nodiscard]] QPointF place(double day, double millivolts) const;
    [[nodiscard]] std::vector<Mark> marks() const;
    void paint_axes(QPainter& painter) const;

    PackInField pack_;
    int chosen_ = 0;
    double days_ = 1, low_mv_ = -5, high_mv_ = 5;
};

} // namespace ingot::app
