// What a pack gives at its terminals over time, one curve a variant; the device's limit and the run that is wanted as
// lines. The chosen one stands out.
#pragma once

#include "app/parts/painted.h"
#include "workshop/build_run.h"

namespace ingot::app {

class RunCurves : public Painted {
    Q_OBJECT
public:
    explicit RunCurves(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    void set(const BuildRun& run, std::optional<double> wanted_s, std::optional<double> off_v);
    // The two that are compared: one stands out in steel, one in ink.
    void choose(int left, int right);
    [[nodiscard]] QSize sizeHint() const override { return {700, 220}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 150}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    [[nodiscard]] QRectF field() const;
    [[nodiscard]] QPointF place(double time_s, double volts) const;
    BuildRun run_;
    std::optional<double> wanted_s_, off_v_;
    int left_ = 0, right_ = 0;
    double end_s_ = 1, low_v_ = 0, high_v_ = 1;
};

} // namespace ingot::app
