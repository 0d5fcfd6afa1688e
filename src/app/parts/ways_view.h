// The four ways of matching side by side: usable capacity, the three spreads, what is stranded, how far from the bound.
#pragma once

#include "core/match/problem.h"

#include <QWidget>

#include <array>

namespace ingot::app {

struct WayRow {
    MatchWay way{};
    std::optional<MatchResult> result;
    QString problem; // why there is none
};

class WaysView : public QWidget {
    Q_OBJECT
public:
    explicit WaysView(QWidget* parent = nullptr);
    void set(std::vector<WayRow> rows);
    void set_chosen(int row);
    [[nodiscard]] QSize sizeHint() const override { return {600, 26 + 29 * 4}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {560, 26 + 29 * 4}; }

signals:
    void chosen(int row);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF row_rect(int row) const;
    std::vector<WayRow> rows_;
    int chosen_ = 3;
};

} // namespace ingot::app
