// What each lot gave: one bar a lot, its units by what became of them. Keyboard: up and down choose.
#pragma once

#include "app/parts/painted.h"

#include <vector>

namespace ingot::app {

struct YieldBar {
    QString name, below; // "MOW-05", "municipal robot mowers"
    int drive = 0, store = 0, light = 0, waiting = 0, lost = 0;
    QString yield; // "82 %"; a dash: none has a verdict
    QString kept;  // "1240 Wh"
    [[nodiscard]] int units() const { return drive + store + light + waiting + lost; }
};

class YieldBars : public Painted {
    Q_OBJECT
public:
    explicit YieldBars(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(std::vector<YieldBar> bars);
    [[nodiscard]] int chosen() const { return chosen_; } // -1: none
    void choose(int index);                              // one that is not there is left aside
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {scaled_width(), sizeHint().height()}; }

signals:
    void chosen_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] static int scaled_width();
    [[nodiscard]] QRectF row(int index) const;
    void paint_row(QPainter& painter, int index, int most) const;
    std::vector<YieldBar> bars_;
    int chosen_ = -1;
};

} // namespace ingot::app
