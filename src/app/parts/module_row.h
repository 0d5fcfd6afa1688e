// A row of modules as they stand in their bay, clamped between end plates: each turned against the next, bars on the
// front and on the back, sense leads in order, where the leads leave. Keyboard: left and right walk the modules.
#pragma once

#include "app/parts/painted.h"

#include <string>
#include <vector>

namespace ingot::app {

enum class BarLook { waiting, now, done };

class ModuleRow : public Painted {
    Q_OBJECT
public:
    explicit ModuleRow(QWidget* parent = nullptr);
    // Codes from the pack's minus on. `bars`: between a module and the next, one less than modules; none: all wait.
    void set(std::vector<std::string> modules, std::vector<BarLook> bars);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void choose(int module); // from 0; -1: none
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

signals:
    void module_chosen(int module);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF module(int index) const;
    [[nodiscard]] QPointF pole(int index, bool plus) const;
    [[nodiscard]] static bool plus_in_front(int index) { return index % 2 == 0; }
    void draw_bars(QPainter& painter) const;
    std::vector<std::string> modules_;
    std::vector<BarLook> bars_;
    int chosen_ = -1;
};

} // namespace ingot::app
