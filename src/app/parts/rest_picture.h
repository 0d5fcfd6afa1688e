// Units at rest over each other, after what all share is taken out: days across, mV down; what falls below the fan of
// the limit leaks.
#pragma once

#include "app/parts/painted.h"
#include "workshop/rest.h"

namespace ingot::app {

class RestPicture : public Painted {
    Q_OBJECT
public:
    explicit RestPicture(QWidget* parent);
    // The siblings of one set; `chosen` stands out.
    void set(std::vector<RestingLine> lines, std::vector<QString> codes, Id chosen);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 140}; }

signals:
    void unit_chosen(ingot::Id unit);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] QRectF field() const;
    [[nodiscard]] QPointF place(double day, double millivolts) const;

    std::vector<RestingLine> lines_;
    std::vector<QString> codes_;
    Id chosen_ = 0;
    double begin_h_ = 0, days_ = 1, low_mv_ = -1, high_mv_ = 1;
};

} // namespace ingot::app
