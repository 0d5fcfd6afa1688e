// The bays of a tester side by side: what stands on each, where it is, how long it takes, and which one needs the hand.
// Tall strips up to eight bays, short ones up to sixteen, small tiles beyond. Walk with the arrow keys.
#pragma once

#include "app/parts/painted.h"
#include "workshop/bays.h"

namespace ingot::app {

class BayWall : public Painted {
    Q_OBJECT
public:
    explicit BayWall(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    // `rate`: how much faster than the clock the tester's time runs.
    void set(const std::vector<BayView>* bays, double rate);
    void choose(int bay); // from 1; 0: none
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] QRectF place_of(int bay) const;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {560, sizeHint().height()}; }
    // What a screen reader says of a bay.
    [[nodiscard]] static QString spoken(const BayView& bay, double rate);

signals:
    void chosen_changed(int bay);
    void pressed(int bay); // Enter or a double click

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    enum class Form { tall, low, tile };
    [[nodiscard]] Form form() const;
    [[nodiscard]] int columns() const;
    struct Dress;
    struct Brush;
    [[nodiscard]] static Dress dress_of(const BayView& bay);
    void paint_bay(QPainter& painter, const BayView& bay, const QRectF& at) const;
    void paint_tile(Brush& brush) const;
    void paint_head(Brush& brush) const;
    void paint_tall(Brush& brush) const;
    void paint_low(Brush& brush) const;
    void paint_trace(QPainter& painter, const BayView& bay, const QRectF& at) const;

    const std::vector<BayView>* bays_ = nullptr;
    double rate_ = 1;
    int chosen_ = 0;
};

} // namespace ingot::app
