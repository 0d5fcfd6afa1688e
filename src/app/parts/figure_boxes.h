// Figures that are typed one after the other: a caption over a box with its unit; what is being typed shows in the box
// that takes it. Keyboard: Tab reaches the row, left and right move.
#pragma once

#include "app/parts/painted.h"

#include <vector>

namespace ingot::app {

struct FigureBox {
    QString title, value, unit; // value empty: not known
};

class FigureBoxes : public Painted {
    Q_OBJECT
public:
    explicit FigureBoxes(const QString& name, QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(std::vector<FigureBox> boxes);
    [[nodiscard]] int active() const { return active_; }
    void set_active(int index, const QString& typed = {}); // -1: none takes the next figure
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {200, sizeHint().height()}; }

signals:
    void chosen(int index);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    [[nodiscard]] QRectF box(int index) const;
    void choose(int index);

    std::vector<FigureBox> boxes_;
    int active_ = -1;
    QString typed_;
};

} // namespace ingot::app
