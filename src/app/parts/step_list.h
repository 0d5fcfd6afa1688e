// The steps of a build in their order: done, in hand, to come, each with what it lays bare. Keyboard: up and down
// choose, Enter acts.
#pragma once

#include "app/parts/painted.h"

#include <vector>

namespace ingot::app {

struct StepLine {
    QString name;
    QString note; // when it was done, how much of it, the volts it brings
    enum class State { to_come, part, now, done } state = State::to_come;
    bool hazard = false; // the note is a hazard
};

class StepList : public Painted {
    Q_OBJECT
public:
    explicit StepList(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(std::vector<StepLine> lines, int chosen);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void chosen(int line);
    void entered(); // Enter, on the chosen one

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF row(int index) const;
    std::vector<StepLine> lines_;
    int chosen_ = -1;
};

} // namespace ingot::app
