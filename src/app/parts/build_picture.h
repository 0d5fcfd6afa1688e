// A build's groups as columns with their units: which one from which tray and well, taken or still to take.
#pragma once

#include "app/parts/painted.h"
#include "workshop/workshop.h"

namespace ingot::app {

class BuildPicture : public Painted {
    Q_OBJECT
public:
    explicit BuildPicture(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(const BuildSheet& sheet);
    void set_last(Id unit); // the one just taken
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void chosen(ingot::Id unit);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] QRectF box(const BuildLine& line) const;
    BuildSheet sheet_;
    Id last_ = 0;
};

} // namespace ingot::app
