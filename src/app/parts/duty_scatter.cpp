#include "app/parts/duty_scatter.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {
double scatter_left() {
    return scaled(74);
}
double bottom_margin() {
    return scaled(58);
}
double top_margin() {
    return scaled(46);
}
double scatter_right() {
    return scaled(50);
}
constexpr std::array<Duty, 3> duties{Duty::drive, Duty::store, Duty::light};
} // namespace

DutyScatter::DutyScatter(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("Capacity against resistance"));
}

void DutyScatter::set(std::vector<ScatterPoint> points, const std::array<double, 3>& capacity_limits,
                      const std::array<double, 3>& resistance_limits) {
    points_ = std::move(points);
    capacity_ = capacity_limits;
    resistance_ = resistance_limits;
    if (!dragging_)
        fit_ranges();
    setAccessibleDescription(tr("%n units", nullptr, static_cast<int>(points_.size())));
    update();
}

void DutyScatter::fit_ranges() {
    low_c_ = capacity_[2];
    high_c_ = capacity_[0];
    low_r_ = resistance_[0];
    high_r_ = resistance_[2];
    for (const ScatterPoint& p : points_) {
        low_c_ = std::min(low_c_, p.capacity_ah);
        high_c_ = std::max(high_c_, p.capacity_ah);
        low_r_ = std::min(low_r_, p.resistance_ohm.value_or(low_r_));
        high_r_ = std::max(high_r_, p.resistance_ohm.value_or(high_r_));
    }
    // A limit far beyond every unit would squeeze them; its handle then stands at the edge.
    double most_r = resistance_[1];
    for (const ScatterPoint& p : points_)
        most_r = std::max(most_r, p.resistance_ohm.value_or(most_r));
    high_r_ = std::min(high_r_, most_r * 1.15);
    const double pad_c = std::max(0.01, (high_c_ - low_c_) * 0.06);
    const double pad_r = std::max(0.0005, (high_r_ - low_r_) * 0.06);
    low_c_ = std::max(0.0, low_c_ - pad_c);
    high_c_ += pad_c;
    low_r_ = std::max(0.0, low_r_ - pad_r);
    high_r_ += pad_r;
    if (zoom_ > 1) { // toward the good corner, where units crowd
        low_c_ = high_c_ - (high_c_ - low_c_) / zoom_;
        high_r_ = low_r_ + (high_r_ - low_r_) / zoom_;
    }
}

// The limits, and the unit that is selected: twenty thousand points are read in the Ledger.
std::vector<PaintedPart> DutyScatter::parts() const {
    std::vector<PaintedPart> out;
    constexpr std::array duties{Duty::drive, Duty::store, Duty::light};
    for (std::size_t d = 0; d < duties.size(); ++d) {
        out.push_back({tr("Least capacity for %1").arg(wording::duty(duties[d])), figures::unit_capacity(capacity_[d]),
                       handle(true, d), false, QAccessible::Slider});
        if (resistance_known())
            out.push_back({tr("Largest resistance for %1").arg(wording::duty(duties[d])),
                           figures::milliohms(resistance_[d]), handle(false, d), false, QAccessible::Slider});
    }
    for (const ScatterPoint& point : points_)
        if (point.unit == selected_) {
            QStringList values{figures::unit_capacity(point.capacity_ah)};
            if (point.resistance_ohm)
                values << figures::milliohms(*point.resistance_ohm);
            values << wording::duty(point.duty);
            const QPointF at = place_of(point);
            out.push_back({tr("Selected unit"), values.join(QStringLiteral(", ")),
                           QRectF(at.x() - 6, at.y() - 6, 12, 12), true, QAccessible::ListItem});
        }
    return out;
}

void DutyScatter::set_selected(Id unit) {
    selected_ = unit;
    parts_changed();
    update();
}

QRectF DutyScatter::plot() const {
    return {scatter_left(), top_margin(), width() - scatter_left() - scatter_right(),
            height() - top_margin() - bottom_margin()};
}
double DutyScatter::x_of(double ah) const {
    return plot().left() + (ah - low_c_) / (high_c_ - low_c_) * plot().width();
}
double DutyScatter::y_of(double ohm) const {
    return plot().bottom() - (ohm - low_r_) / (high_r_ - low_r_) * plot().height();
}

// What has no resistance stands on the foot; where no limit of resistance is known, everything in one strip.
QPointF DutyScatter::place_of(const ScatterPoint& point) const {
    constexpr double foot_px = 11;
    if (!resistance_known())
        return {x_of(point.capacity_ah), plot().center().y()};
    return {x_of(point.capacity_ah), point.resistance_ohm ? y_of(*point.resistance_ohm) : plot().bottom() - foot_px};
}

QPointF DutyScatter::position_of(Id unit) const {
    for (const ScatterPoint& p : points_)
        if (p.unit == unit)
            return place_of(p);
    return {};
}

QRectF DutyScatter::handle(bool capacity, std::size_t duty) const {
    if (capacity) {
        // Neighbouring handles step down instead of covering each other.
        const double x = std::clamp(x_of(capacity_[duty]), plot().left(), plot().right());
        return QRectF(x - scaled(24), plot().bottom() + scaled(22) + (duty % 2 == 1 ? 6 : 0), scaled(48), scaled(26));
    }
    if (!resistance_known())
        return {};
    const double y = std::clamp(y_of(resistance_[duty]), plot().top(), plot().bottom());
    return QRectF(4, y - scaled(13), scaled(44), scaled(26));
}

void DutyScatter::paint_regions(QPainter& painter) const {
    const Colours& c = colours();
    painter.fillRect(plot(), c.surface);
    painter.fillRect(plot(), hatch(c.hairline));
    const QColor grounds[] = {c.duty_drive, c.duty_store, c.duty_light};
    std::array<int, duty_count> counts{};
    for (const ScatterPoint& p : points_)
        ++counts[static_cast<std::size_t>(p.duty)];
    painter.setClipRect(plot());
    for (std::size_t i = 3; i-- > 0;) {
        const double top = resistance_known() ? y_of(resistance_[i]) : plot().top();
        const QRectF region(QPointF(x_of(capacity_[i]), top), plot().bottomRight());
        painter.fillRect(region, grounds[i]);
        painter.setPen(QPen(c.moss, 1.5));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(region);
    }
    painter.setFont(type(14, true));
    for (std::size_t i = 0; i < 3 && resistance_known(); ++i) {
        const double top = std::max(plot().top(), y_of(resistance_[i]));
        const double below = i > 0 ? y_of(resistance_[i - 1]) : plot().bottom();
        if (below - top < 24)
            continue;
        const QString word =
            QStringLiteral("%1 %2").arg(wording::duty(duties[i])).arg(counts[static_cast<std::size_t>(duties[i])]);
        const double w = QFontMetricsF(painter.font()).horizontalAdvance(word);
        painter.setPen(c.moss_text);
        painter.drawText(QRectF(plot().right() - w - 10, top + 4, w + 4, 20), Qt::AlignVCenter, word);
        draw_duty(painter, {plot().right() - w - 24, top + 14}, 16, duties[i]);
    }
    painter.setClipping(false);
}

void DutyScatter::paint_points(QPainter& painter) const {
    const auto all = marks();
    paint_scatter_marks(painter, plot(), all, devicePixelRatioF());
    for (std::size_t i = 0; i < points_.size(); ++i)
        if (points_[i].unit == selected_)
            paint_selected_mark(painter, plot(), all[i]);
}

std::vector<ScatterMark> DutyScatter::marks() const {
    std::vector<ScatterMark> out;
    out.reserve(points_.size());
    for (const ScatterPoint& point : points_)
        out.push_back({place_of(point), point.duty});
    return out;
}

// Says what the units on the foot lack.
void DutyScatter::paint_foot_words(QPainter& painter) const {
    if (!resistance_known() ||
        std::all_of(points_.begin(), points_.end(), [](const ScatterPoint& p) { return p.resistance_ohm.has_value(); }))
        return;
    painter.setFont(type(12));
    painter.setPen(colours().muted);
    painter.drawText(QRectF(plot().left() + 6, plot().bottom() - 20, 140, 18), Qt::AlignVCenter,
                     tr("no resistance read"));
}

void DutyScatter::paint_histograms(QPainter& painter) const {
    constexpr int bins = 48;
    std::array<int, bins> across{};
    std::array<int, bins> up{};
    for (const ScatterPoint& p : points_) {
        const int i = static_cast<int>((p.capacity_ah - low_c_) / (high_c_ - low_c_) * bins);
        const int j =
            p.resistance_ohm ? static_cast<int>((*p.resistance_ohm - low_r_) / (high_r_ - low_r_) * bins) : -1;
        if (i >= 0 && i < bins)
            ++across[static_cast<std::size_t>(i)];
        if (j >= 0 && j < bins)
            ++up[static_cast<std::size_t>(j)];
    }
    const int most_across = std::max(1, *std::max_element(across.begin(), across.end()));
    const int most_up = std::max(1, *std::max_element(up.begin(), up.end()));
    const QColor colour = colours().steel;
    for (int i = 0; i < bins; ++i) {
        const double w = plot().width() / bins;
        const double h = (top_margin() - 8) * across[static_cast<std::size_t>(i)] / most_across;
        painter.fillRect(QRectF(plot().left() + i * w, plot().top() - 4 - h, w - 1, h), colour);
        const double step = plot().height() / bins;
        const double l = (scatter_right() - 8) * up[static_cast<std::size_t>(i)] / most_up;
        painter.fillRect(QRectF(plot().right() + 4, plot().bottom() - (i + 1) * step, l, step - 1), colour);
    }
}

void DutyScatter::paint_handles(QPainter& painter) const {
    const Colours& c = colours();
    painter.setFont(type(13, true));
    for (std::size_t i = 0; i < 3; ++i) {
        const QRectF below = handle(true, i);
        painter.setPen(QPen(c.steel, 1.5));
        painter.drawLine(QPointF(x_of(capacity_[i]), plot().bottom()), QPointF(x_of(capacity_[i]), below.top()));
        painter.setBrush(c.steel_ground);
        painter.drawRect(below);
        painter.setPen(c.steel);
        painter.drawText(below, Qt::AlignCenter, figures::plain(capacity_[i], 2));
        if (!resistance_known())
            continue;
        const QRectF beside = handle(false, i);
        painter.setPen(QPen(c.steel, 1.5));
        painter.drawLine(QPointF(beside.right(), y_of(resistance_[i])), QPointF(plot().left(), y_of(resistance_[i])));
        painter.drawRect(beside);
        painter.setPen(c.steel);
        painter.drawText(beside, Qt::AlignCenter, figures::plain(resistance_[i] * 1000, 1));
    }
    painter.setFont(type(12));
    painter.setPen(c.muted);
    if (resistance_known())
        painter.drawText(QRectF(0, plot().top() - scaled(36), scatter_left() - 8, scaled(18)), Qt::AlignRight,
                         QStringLiteral("m\u03A9"));
    else
        painter.drawText(QRectF(plot().left() + 10, plot().top() + 8, plot().width() - 20, scaled(18)), Qt::AlignLeft,
                         tr("No resistance is known of this model: capacity alone. Store at best."));
    painter.drawText(QRectF(plot().right() + 6, plot().bottom() + 2, scaled(40), scaled(18)), Qt::AlignLeft,
                     QStringLiteral("Ah"));
    // A few ticks of the plain axes.
    const double step = (high_c_ - low_c_) > 1.2 ? 0.5 : (high_c_ - low_c_) > 0.5 ? 0.2 : 0.1;
    for (double v = std::ceil(low_c_ / step) * step; v < high_c_; v += step)
        painter.drawText(QRectF(x_of(v) - scaled(24), plot().bottom() + 3, scaled(48), scaled(16)), Qt::AlignHCenter,
                         figures::plain(v, 1));
    if (!resistance_known())
        return;
    double step_r = 0.001;
    while ((high_r_ - low_r_) / step_r > 7)
        step_r *= 2;
    for (double v = std::ceil(low_r_ / step_r) * step_r; v < high_r_; v += step_r)
        painter.drawText(QRectF(scatter_left() - scaled(26), y_of(v) - scaled(8), scaled(22), scaled(16)),
                         Qt::AlignRight | Qt::AlignVCenter, figures::plain(v * 1000, 0));
}

void DutyScatter::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (points_.empty()) {
        painter.setPen(colours().muted);
        painter.setFont(type(15));
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("No unit of this model has a capacity yet.\nMeasure some at Test."));
        return;
    }
    paint_regions(painter);
    paint_histograms(painter);
    paint_points(painter);
    paint_foot_words(painter);
    paint_handles(painter);
    painter.setPen(QPen(hasFocus() ? colours().steel : colours().ink, hasFocus() ? 2 : 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(plot());
}

double DutyScatter::limit_at(bool capacity, const QPointF& at) const {
    const double value = capacity ? low_c_ + (at.x() - plot().left()) / plot().width() * (high_c_ - low_c_)
                                  : low_r_ + (plot().bottom() - at.y()) / plot().height() * (high_r_ - low_r_);
    const auto& limits = capacity ? capacity_ : resistance_;
    // Limits keep their order: drive is never easier than store, store never easier than light.
    double low = capacity ? low_c_ : low_r_;
    double high = capacity ? high_c_ : high_r_;
    if (capacity) {
        if (drag_duty_ > 0)
            high = limits[drag_duty_ - 1];
        if (drag_duty_ < 2)
            low = limits[drag_duty_ + 1];
    } else {
        if (drag_duty_ > 0)
            low = limits[drag_duty_ - 1];
        if (drag_duty_ < 2)
            high = limits[drag_duty_ + 1];
    }
    return std::clamp(value, std::min(low, high), std::max(low, high));
}

void DutyScatter::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    for (const bool capacity : {true, false})
        for (std::size_t i = 0; i < 3; ++i)
            if (handle(capacity, i).contains(pressed_)) {
                dragging_ = true;
                moved_ = false;
                drag_capacity_ = capacity;
                drag_duty_ = i;
                return;
            }
    if (const int near = mark_near(marks(), pressed_); near >= 0) {
        const Id found = points_[static_cast<std::size_t>(near)].unit;
        set_selected(found);
        emit chosen(found);
    }
}

void DutyScatter::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_)
        return;
    if (!moved_ && (event->position() - pressed_).manhattanLength() < 4)
        return;
    moved_ = true;
    const double value = limit_at(drag_capacity_, event->position());
    (drag_capacity_ ? capacity_ : resistance_)[drag_duty_] = value;
    update();
    emit limit_moved(drag_capacity_, static_cast<int>(drag_duty_), value);
}

void DutyScatter::mouseReleaseEvent(QMouseEvent* event) {
    if (!dragging_)
        return;
    dragging_ = false;
    if (moved_)
        emit limit_released(drag_capacity_, static_cast<int>(drag_duty_), limit_at(drag_capacity_, event->position()));
    else
        emit limit_tapped(drag_capacity_, static_cast<int>(drag_duty_));
}

void DutyScatter::wheelEvent(QWheelEvent* event) {
    constexpr double step = 1.25;
    constexpr double most = 6;
    zoom_ = std::clamp(event->angleDelta().y() > 0 ? zoom_ * step : zoom_ / step, 1.0, most);
    fit_ranges();
    update();
}

void DutyScatter::keyPressEvent(QKeyEvent* event) {
    // Left and right walk the units by capacity.
    const int step = event->key() == Qt::Key_Right ? 1 : (event->key() == Qt::Key_Left ? -1 : 0);
    if (step == 0 || points_.empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    std::vector<const ScatterPoint*> order;
    for (const ScatterPoint& p : points_)
        order.push_back(&p);
    std::stable_sort(order.begin(), order.end(),
                     [](const auto* a, const auto* b) { return a->capacity_ah < b->capacity_ah; });
    const auto at = std::find_if(order.begin(), order.end(), [&](const auto* p) { return p->unit == selected_; });
    const auto index = at == order.end() ? 0
                                         : std::clamp<std::ptrdiff_t>(at - order.begin() + step, 0,
                                                                      static_cast<std::ptrdiff_t>(order.size()) - 1);
    set_selected(order[static_cast<std::size_t>(index)]->unit);
    emit chosen(selected_);
}

} // namespace ingot::app
