// The routes for one pack side by side: cost per Wh and year, hours and chance as bars, what each gives and leaves. One
// is chosen: with the mouse, or up and down.
#pragma once

#include "app/parts/painted.h"
#include "app/theme/theme.h"
#include "core/worth/worth.h"

namespace ingot::app {

class RoutesView : public Painted {
    Q_OBJECT
public:
    explicit RoutesView(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(const WorthResult& result, WorthAim aim);
    [[nodiscard]] WorthRoute chosen() const { return chosen_; }
    void choose(WorthRoute route);
    // From the top: what is possible first, what is not wanted not at all.
    [[nodiscard]] const std::vector<RouteFigures>& rows() const { return rows_; }
    [[nodiscard]] QSize sizeHint() const override { return {scaled(520), scaled(400)}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {scaled(430), scaled(300)}; }

signals:
    void chosen_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    [[nodiscard]] std::vector<QRectF> places() const; // of the rows
    void paint_row(QPainter& painter, const RouteFigures& f, const QRectF& place) const;

    std::vector<RouteFigures> rows_;
    std::optional<WorthRoute> winner_;
    WorthAim aim_ = WorthAim::device;
    WorthRoute chosen_{};
    double dearest_ = 1, longest_ = 1;
};

} // namespace ingot::app
