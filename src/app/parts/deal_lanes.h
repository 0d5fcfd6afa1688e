// Three ways to group the same units, one under the other: every group with its units as bars of what they hold, and
// below it what is known of it. Of practice.
#pragma once

#include "app/parts/painted.h"
#include "core/practice/match_deal.h"

namespace ingot::app {

class DealLanes : public Painted {
    Q_OBJECT
public:
    explicit DealLanes(QWidget* parent = nullptr);
    // `told`: what each way gives is shown, the best one marked.
    void set(const MatchDeal& deal, bool resistances, bool leaks, bool told);
    [[nodiscard]] std::vector<PaintedPart> parts() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 180}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    [[nodiscard]] QRectF lane(int way) const;
    [[nodiscard]] QStringList known_of(const std::vector<std::size_t>& group) const;
    void draw_lane(QPainter& painter, int way) const;
    MatchDeal deal_{1, 0};
    bool resistances_ = false, leaks_ = false, told_ = false;
};

} // namespace ingot::app
