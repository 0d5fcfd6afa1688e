// Designs over each other on one axis of volts: from empty to full, up to where the charge ends; the device's window
// around them, its charger across them, what clashes beside them. Keyboard: up and down choose.
#pragma once

#include "app/parts/painted.h"
#include "core/build/conversion.h"

#include <map>
#include <string>
#include <vector>

namespace ingot::app {

class WindowBars : public Painted {
    Q_OBJECT
public:
    explicit WindowBars(QWidget* parent = nullptr);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    // `names`: of chemistries. Six designs at most, those that are proposed first and the build's own.
    void set(const std::vector<ConversionDesign>& designs, const DeviceWindow& device,
             const std::map<std::string, QString>& names, const std::string& own_chemistry, int own_series);
    [[nodiscard]] const ConversionDesign* chosen() const;
    void choose(int row);
    [[nodiscard]] int rows() const { return static_cast<int>(designs_.size()); }
    [[nodiscard]] const std::vector<ConversionDesign>& designs() const { return designs_; }
    [[nodiscard]] bool own(const ConversionDesign& design) const {
        return design.chemistry == own_ && design.series == own_series_;
    }
    [[nodiscard]] QString name(const ConversionDesign& design) const;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {400, sizeHint().height()}; }

signals:
    void chosen_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] std::vector<ConversionDesign> few(const std::vector<ConversionDesign>& designs) const;
    [[nodiscard]] QRectF row_at(int row) const;
    [[nodiscard]] double x_of(double volts) const;
    void draw_axis(QPainter& painter) const;
    void draw_row(QPainter& painter, int row) const;

    std::vector<ConversionDesign> designs_;
    DeviceWindow device_;
    std::map<std::string, QString> names_;
    std::string own_;
    int own_series_ = 0;
    int chosen_ = 0;
    double low_v_ = 0, high_v_ = 1;
};

} // namespace ingot::app
