// Marks of many units in one picture: each duty's shape drawn once and stamped; where they would cover each other, how
// many stand in a spot.
#pragma once

#include "core/cells/evidence.h"

#include <QPainter>
#include <QPointF>
#include <QRectF>

#include <vector>

namespace ingot::app {

struct ScatterMark {
    QPointF at;
    Duty duty{};
};

// Hazards last, so that none hides under a good unit; they keep their marks where the rest is shown as density.
void paint_scatter_marks(QPainter& painter, const QRectF& plot, const std::vector<ScatterMark>& marks, double ratio);
// The one that is selected, with lines to both axes.
void paint_selected_mark(QPainter& painter, const QRectF& plot, const ScatterMark& mark);
// The mark that is nearest to a press, within reach; -1: none.
[[nodiscard]] int mark_near(const std::vector<ScatterMark>& marks, const QPointF& at);

} // namespace ingot::app
