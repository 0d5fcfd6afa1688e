// The boxes of a reading round: one a group, the active one marked; what is being typed shows in it.
#pragma once

#include "app/parts/painted.h"

#include <optional>
#include <vector>

namespace ingot::app {

struct ReadingBox {
    QString title;
    QString value; // empty: not read
    QString below;
    bool warned = false;
};

class ReadingBoxes : public Painted {
    Q_OBJECT
public:
    explicit ReadingBoxes(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(std::vector<ReadingBox> boxes);
    void set_active(int index, const QString& typed); // -1: no round runs
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void chosen(int index);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] int rows() const;
    [[nodiscard]] QRectF box(int index) const;

    std::vector<ReadingBox> boxes_;
    int active_ = -1;
    QString typed_;
};

} // namespace ingot::app
