// Both faces of a pack with its strips, to draw on: choose a group, then another one, and the strip between them
// appears or goes. Keys: arrows walk, Up and Down change the face, Space chooses, F says which face is free to slide.
#pragma once

#include "app/parts/painted.h"
#include "core/cells/strip_drawing.h"

namespace ingot::app {

class StripPicture : public Painted {
    Q_OBJECT
public:
    explicit StripPicture(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(const StripDrawing& drawing, int series);
    [[nodiscard]] int series() const { return series_; }
    [[nodiscard]] const StripDrawing& drawing() const { return drawing_; }
    [[nodiscard]] QSize sizeHint() const override { return {680, 300}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 180}; }

signals:
    void drawn();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    using Face = StripDrawing::Face;
    [[nodiscard]] QRectF group_at(Face face, int group) const;
    void press(Face face, int group);
    void say();

    StripDrawing drawing_;
    int series_ = 1;
    Face face_ = Face::front;
    int here_ = 1;
    int first_ = 0; // chosen, waits for the second
};

} // namespace ingot::app
