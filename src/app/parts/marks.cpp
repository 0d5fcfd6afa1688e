#include "app/parts/marks.h"

#include "app/theme/theme.h"

#include <QFontMetricsF>

namespace ingot::app {

QPainterPath cut_top_left(const QRectF& r, double cut) {
    QPainterPath path;
    path.moveTo(r.left() + cut, r.top());
    path.lineTo(r.right(), r.top());
    path.lineTo(r.right(), r.bottom());
    path.lineTo(r.left(), r.bottom());
    path.lineTo(r.left(), r.top() + cut);
    path.closeSubpath();
    return path;
}

QPainterPath cut_bottom_right(const QRectF& r, double cut) {
    QPainterPath path;
    path.moveTo(r.left(), r.top());
    path.lineTo(r.right(), r.top());
    path.lineTo(r.right(), r.bottom() - cut);
    path.lineTo(r.right() - cut, r.bottom());
    path.lineTo(r.left(), r.bottom());
    path.closeSubpath();
    return path;
}

QPainterPath trapezoid(const QPointF& centre, double base) {
    constexpr double top_share = 0.58;
    constexpr double height_share = 0.72;
    const double h = base * height_share;
    QPainterPath path;
    path.moveTo(centre.x() - base * top_share / 2, centre.y() - h / 2);
    path.lineTo(centre.x() + base * top_share / 2, centre.y() - h / 2);
    path.lineTo(centre.x() + base / 2, centre.y() + h / 2);
    path.lineTo(centre.x() - base / 2, centre.y() + h / 2);
    path.closeSubpath();
    return path;
}

QColor duty_colour(Duty duty) {
    switch (duty) {
    case Duty::drive:
    case Duty::store:
    case Duty::light:
        return colours().moss;
    case Duty::rest_again:
    case Duty::undecided:
        return colours().brass;
    case Duty::scrap:
        return colours().muted;
    case Duty::quarantine:
        return colours().plum;
    }
    return colours().ink;
}

void draw_doubt(QPainter& painter, const QPointF& centre, double size) {
    const Colours& c = colours();
    const QRectF box(centre.x() - size / 2, centre.y() - size / 2, size, size);
    painter.setPen(QPen(c.brass, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(cut_top_left(box, size * 0.3));
    painter.setPen(QPen(c.brass, 2.5, Qt::SolidLine, Qt::FlatCap));
    painter.drawLine(QPointF(centre.x(), centre.y() - size * 0.28), QPointF(centre.x(), centre.y() + size * 0.06));
    painter.drawPoint(QPointF(centre.x(), centre.y() + size * 0.24));
}

void draw_hazard(QPainter& painter, const QPointF& centre, double size) {
    const double r = size / 2;
    const double k = r * 0.4142;
    QPainterPath octagon;
    octagon.addPolygon(QPolygonF({{centre.x() - k, centre.y() - r},
                                  {centre.x() + k, centre.y() - r},
                                  {centre.x() + r, centre.y() - k},
                                  {centre.x() + r, centre.y() + k},
                                  {centre.x() + k, centre.y() + r},
                                  {centre.x() - k, centre.y() + r},
                                  {centre.x() - r, centre.y() + k},
                                  {centre.x() - r, centre.y() - k}}));
    octagon.closeSubpath();
    painter.fillPath(octagon, colours().plum);
    painter.fillRect(QRectF(centre.x() - r * 0.55, centre.y() - r * 0.16, r * 1.1, r * 0.32), colours().surface);
}

void draw_duty(QPainter& painter, const QPointF& centre, double size, Duty duty) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, true);
    const QColor colour = duty_colour(duty);
    const QPen outline(colour, std::max(1.0, size / 10));
    const QPainterPath shape = trapezoid(centre, size);
    switch (duty) {
    case Duty::drive:
        painter.fillPath(shape, colour);
        break;
    case Duty::store:
        painter.fillPath(shape, colour);
        painter.setClipPath(shape);
        painter.fillRect(QRectF(centre.x() - size / 2, centre.y() - size * 0.05, size, size * 0.12), colours().surface);
        break;
    case Duty::light: {
        painter.setPen(outline);
        painter.setBrush(colours().surface);
        painter.drawPath(shape);
        painter.setClipPath(shape);
        painter.fillRect(QRectF(centre.x() - size / 2, centre.y(), size, size), colour);
        break;
    }
    case Duty::rest_again:
        painter.setPen(outline);
        painter.setBrush(colours().surface);
        painter.drawPath(shape);
        painter.setBrush(colour);
        painter.setPen(Qt::NoPen);
        painter.drawEllipse(QPointF(centre.x(), centre.y() + size * 0.04), size * 0.11, size * 0.11);
        break;
    case Duty::undecided: // hollow: nothing to hold it against
        painter.setPen(outline);
        painter.setBrush(colours().surface);
        painter.drawPath(shape);
        break;
    case Duty::scrap: {
        const double r = size * 0.36;
        const QRectF square(centre.x() - r, centre.y() - r, 2 * r, 2 * r);
        painter.setPen(outline);
        painter.setBrush(colours().surface);
        painter.drawRect(square);
        painter.drawLine(square.topLeft(), square.bottomRight());
        painter.drawLine(square.topRight(), square.bottomLeft());
        break;
    }
    case Duty::quarantine:
        draw_hazard(painter, centre, size * 0.86);
        break;
    }
    painter.restore();
}

double draw_hand_tag(QPainter& painter, const QPointF& at, const QString& words) {
    const double height = scaled(18);
    const double point = scaled(7);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setFont(type(12, true));
    const double width = QFontMetricsF(painter.font()).horizontalAdvance(words) + 12;
    QPainterPath path;
    path.moveTo(at);
    path.lineTo(at.x() + width, at.y());
    path.lineTo(at.x() + width + point, at.y() + height / 2);
    path.lineTo(at.x() + width, at.y() + height);
    path.lineTo(at.x(), at.y() + height);
    path.closeSubpath();
    painter.fillPath(path, colours().ember);
    painter.setPen(colours().on_strong);
    painter.drawText(QRectF(at.x() + 6, at.y(), width, height), Qt::AlignVCenter, words);
    painter.restore();
    return width + point;
}

QBrush hatch(const QColor& colour) {
    QBrush brush(colour, Qt::BDiagPattern);
    return brush;
}

} // namespace ingot::app
