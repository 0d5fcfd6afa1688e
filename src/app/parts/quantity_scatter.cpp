#include "app/parts/quantity_scatter.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QKeyEvent>
#include <QMouseEvent>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

// Round steps: about six over the range.
double axis_step(double range) {
    const double rough = std::max(range, 1e-12) / 6;
    const double power = std::pow(10, std::floor(std::log10(rough)));
    for (const double times : {1.0, 2.0, 5.0})
        if (times * power >= rough)
            return times * power;
    return 10 * power;
}

int digits_for(double step) {
    return std::max(0, static_cast<int>(std::ceil(-std::log10(step) - 1e-9)));
}

} // namespace

QuantityScatter::QuantityScatter(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("Units by two quantities"));
}

void QuantityScatter::set(std::vector<QuantityPoint> points, const QString& x, const QString& x_unit, const QString& y,
                          const QString& y_unit, int unplaced) {
    points_ = std::move(points);
    x_ = x;
    x_unit_ = x_unit;
    y_ = y;
    y_unit_ = y_unit;
    unplaced_ = unplaced;
    std::stable_sort(points_.begin(), points_.end(),
                     [](const QuantityPoint& a, const QuantityPoint& b) { return a.x < b.x; });
    const auto fit = [&](double QuantityPoint::*value, double& low, double& high) {
        low = points_.empty() ? 0 : points_.front().*value;
        high = low;
        for (const QuantityPoint& point : points_) {
            low = std::min(low, point.*value);
            high = std::max(high, point.*value);
        }
        constexpr double margin = 0.06;
        const double pad = std::max((high - low) * margin, std::max(1e-6, std::fabs(high) * 1e-3));
        low -= pad;
        high += pad;
    };
    fit(&QuantityPoint::x, low_x_, high_x_);
    fit(&QuantityPoint::y, low_y_, high_y_);
    setAccessibleDescription(tr("%1 against %2, %n units", nullptr, static_cast<int>(points_.size())).arg(x_, y_));
    parts_changed();
    update();
}

void QuantityScatter::set_selected(Id unit) {
    selected_ = unit;
    parts_changed();
    update();
}

QRectF QuantityScatter::plot() const {
    return {double(scaled(74)), double(scaled(26)), width() - double(scaled(94)), height() - double(scaled(74))};
}

QPointF QuantityScatter::place_of(const QuantityPoint& point) const {
    const QRectF at = plot();
    return {at.left() + (point.x - low_x_) / (high_x_ - low_x_) * at.width(),
            at.bottom() - (point.y - low_y_) / (high_y_ - low_y_) * at.height()};
}

QPointF QuantityScatter::position_of(Id unit) const {
    for (const QuantityPoint& point : points_)
        if (point.unit == unit)
            return place_of(point);
    return {};
}

std::vector<ScatterMark> QuantityScatter::marks() const {
    std::vector<ScatterMark> out;
    out.reserve(points_.size());
    for (const QuantityPoint& point : points_)
        out.push_back({place_of(point), point.duty});
    return out;
}

// The axes, and the unit that is selected: the others are read in the list.
std::vector<PaintedPart> QuantityScatter::parts() const {
    std::vector<PaintedPart> out;
    for (const QuantityPoint& point : points_)
        if (point.unit == selected_) {
            const QPointF at = place_of(point);
            out.push_back({tr("Selected unit"),
                           tr("%1 %2, %3 %4, %5")
                               .arg(figures::plain(point.x, 3), x_unit_, figures::plain(point.y, 3), y_unit_,
                                    wording::duty(point.duty)),
                           QRectF(at.x() - 6, at.y() - 6, 12, 12), true, QAccessible::ListItem});
        }
    return out;
}

void QuantityScatter::paint_axes(QPainter& painter) const {
    const Colours& c = colours();
    const QRectF at = plot();
    painter.setFont(type(12));
    const double step_x = axis_step(high_x_ - low_x_);
    const double step_y = axis_step(high_y_ - low_y_);
    for (double v = std::ceil(low_x_ / step_x) * step_x; v < high_x_; v += step_x) {
        const double x = place_of({0, v, low_y_, Duty::drive}).x();
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(x, at.top()), QPointF(x, at.bottom()));
        painter.setPen(c.muted);
        painter.drawText(QRectF(x - 40, at.bottom() + 3, 80, scaled(18)), Qt::AlignHCenter,
                         figures::plain(v, digits_for(step_x)));
    }
    for (double v = std::ceil(low_y_ / step_y) * step_y; v < high_y_; v += step_y) {
        const double y = place_of({0, low_x_, v, Duty::drive}).y();
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(at.left(), y), QPointF(at.right(), y));
        painter.setPen(c.muted);
        painter.drawText(QRectF(0, y - scaled(9), at.left() - 6, scaled(18)), Qt::AlignRight | Qt::AlignVCenter,
                         figures::plain(v, digits_for(step_y)));
    }
    painter.setPen(c.ink);
    painter.setFont(type(13));
    painter.drawText(QRectF(4, 2, at.width(), scaled(20)), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("%1, %2").arg(y_, y_unit_));
    painter.drawText(QRectF(at.left(), at.bottom() + scaled(22), at.width(), scaled(20)),
                     Qt::AlignRight | Qt::AlignVCenter, tr("%1, %2").arg(x_, x_unit_));
    if (unplaced_ > 0) {
        painter.setPen(c.muted);
        painter.drawText(QRectF(4, at.bottom() + scaled(22), at.width() * 0.6, scaled(20)),
                         Qt::AlignLeft | Qt::AlignVCenter, tr("not known of %1").arg(unplaced_));
    }
}

void QuantityScatter::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (points_.empty()) {
        painter.setPen(colours().muted);
        painter.setFont(type(15));
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("No unit of this model knows both of them.\nChoose other quantities, or measure some."));
        return;
    }
    painter.fillRect(plot(), colours().surface);
    paint_axes(painter);
    const auto all = marks();
    paint_scatter_marks(painter, plot(), all, devicePixelRatioF());
    for (std::size_t i = 0; i < points_.size(); ++i)
        if (points_[i].unit == selected_)
            paint_selected_mark(painter, plot(), all[i]);
    painter.setPen(QPen(hasFocus() ? colours().steel : colours().ink, hasFocus() ? 2 : 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(plot());
}

void QuantityScatter::mousePressEvent(QMouseEvent* event) {
    if (const int near = mark_near(marks(), event->position()); near >= 0) {
        set_selected(points_[static_cast<std::size_t>(near)].unit);
        emit chosen(selected_);
    }
}

void QuantityScatter::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Right ? 1 : (event->key() == Qt::Key_Left ? -1 : 0);
    if (step == 0 || points_.empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    int at = -1;
    for (std::size_t i = 0; i < points_.size(); ++i)
        if (points_[i].unit == selected_)
            at = static_cast<int>(i);
    const int next = at < 0 ? 0 : std::clamp(at + step, 0, static_cast<int>(points_.size()) - 1);
    set_selected(points_[static_cast<std::size_t>(next)].unit);
    emit chosen(selected_);
}

} // namespace ingot::app
