// The shapes: marks of the duties, the pointed hand tag, cut corners. Every state has a shape and a word beside its
// colour.
#pragma once

#include "core/cells/evidence.h"

#include <QPainter>
#include <QPainterPath>
#include <QRectF>

namespace ingot::app {

// Something you read is cut at its top left, something you press at its bottom right.
QPainterPath cut_top_left(const QRectF& rect, double cut);
QPainterPath cut_bottom_right(const QRectF& rect, double cut);
// Top edge 0.58 of the base, height 0.72 of it, standing on the bottom of the square around `centre`.
QPainterPath trapezoid(const QPointF& centre, double base);
void draw_duty(QPainter& painter, const QPointF& centre, double size, Duty duty);
void draw_hazard(QPainter& painter, const QPointF& centre, double size);
// Something was not done, or is in doubt: a cut square with a stroke that does not reach its foot.
void draw_doubt(QPainter& painter, const QPointF& centre, double size);
// Pointed to the right, with words in it; returns its width.
double draw_hand_tag(QPainter& painter, const QPointF& top_left, const QString& words);
QColor duty_colour(Duty duty);
QBrush hatch(const QColor& colour);

} // namespace ingot::app
