// A tray as a grid of wells: what stands where, to tap or to walk with the arrow keys. Letters act on the chosen unit.
#pragma once

#include "app/parts/painted.h"
#include "core/sort/duty.h"

#include <optional>
#include <vector>

namespace ingot::app {

struct Well {
    QString text;   // last figures of the unit's code; empty: free
    QString spoken; // for the accessible description
    std::optional<Duty> mark;
    bool warned = false;
    bool gone = false; // was here; its place is known
};

class TrayPicture : public Painted {
    Q_OBJECT
public:
    explicit TrayPicture(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(int columns, std::vector<Well> wells);
    void choose(int well); // 0-based; -1: none
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] QSize sizeHint() const override { return {420, 360}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {260, 200}; }

signals:
    void chosen_changed(int well);
    void key_pressed(QChar letter); // on the chosen well

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF well_at(int index) const;
    int columns_ = 1;
    std::vector<Well> wells_;
    int chosen_ = -1;
};

} // namespace ingot::app
