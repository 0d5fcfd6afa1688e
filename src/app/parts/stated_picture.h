// How sure Ingot was, and how often it was right: a column a range of what was stated, the share that was right with
// what so few packs allow, and the line on which both are the same.
#pragma once

#include "app/parts/painted.h"
#include "core/triage/stated_bins.h"

namespace ingot::app {

class StatedPicture : public Painted {
    Q_OBJECT
public:
    explicit StatedPicture(QWidget* parent);
    void set(const std::array<StatedBin, stated_bin_count>& bins);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    [[nodiscard]] QRectF field() const;
    [[nodiscard]] QRectF column(std::size_t bin) const;

    std::array<StatedBin, stated_bin_count> bins_{};
};

} // namespace ingot::app
