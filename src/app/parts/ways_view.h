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
    QString name;    // of an answer that was kept; empty: its way's
};

class WaysView : public QWidget {
    Q_OBJECT
public:
    explicit WaysView(QWidget* parent = nullptr);
    void set(std::vector<WayRow> rows);
    void set_chosen(int row);
    [[nodiscard]] QRectF row_rect(int row) const;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

signals:
    void chosen(int row);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::vector<WayRow> rows_;
    int chosen_ = 3;
};

} // namespace ingot::app
