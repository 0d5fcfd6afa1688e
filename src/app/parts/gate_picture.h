// The gate before joining, group by group: each unit's voltage as a rung around the one at which they would meet, the
// volts, the amperes that would flow, whether the group may be joined. Keyboard: left and right choose a group.
#pragma once

#include "app/parts/painted.h"
#include "workshop/build.h"

namespace ingot::app {

class GatePicture : public Painted {
    Q_OBJECT
public:
    explicit GatePicture(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(std::vector<BuildService::GateGroup> groups);
    void choose(int group); // from 1; 0: none
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, sizeHint().height()}; }

signals:
    void chosen(int group);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF column(int index) const;
    void draw_group(QPainter& painter, int index) const;
    [[nodiscard]] static double group_mv(const BuildService::GateGroup& group, std::size_t member);
    std::vector<BuildService::GateGroup> groups_;
    int chosen_ = 0;
};

} // namespace ingot::app
