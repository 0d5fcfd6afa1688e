#include "app/parts/gauge.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

struct Shown {
    double factor;
    int digits;
};
Shown shown(const Evidence& evidence) {
    switch (evidence.kind) {
    case EvidenceKind::resistance:
        return {1000, 1};
    case EvidenceKind::self_discharge:
    case EvidenceKind::sibling_leak:
        return {1000, 2};
    case EvidenceKind::current:
    case EvidenceKind::age:
    case EvidenceKind::temperature_rise:
        return {1, 1};
    default:
        return {1, 2};
    }
}

QString value_text(const Evidence& e) {
    if (!e.measured)
        return QStringLiteral("\u2013");
    switch (e.kind) {
    case EvidenceKind::capacity:
        return figures::unit_capacity(*e.measured);
    case EvidenceKind::resistance:
        return figures::milliohms(*e.measured);
    case EvidenceKind::self_discharge:
    case EvidenceKind::sibling_leak:
        return figures::leak(*e.measured);
    case EvidenceKind::current:
        return Gauge::tr("%1 A").arg(figures::plain(*e.measured, 1));
    case EvidenceKind::age:
        return Gauge::tr("%1 years").arg(figures::plain(*e.measured, 1));
    case EvidenceKind::temperature_rise:
        return Gauge::tr("%1 K").arg(figures::plain(*e.measured, 1));
    default:
        return figures::volts(*e.measured);
    }
}

QColor zone_colour(Duty duty) {
    switch (duty) {
    case Duty::drive:
        return colours().duty_drive;
    case Duty::store:
        return colours().duty_store;
    case Duty::light:
        return colours().duty_light;
    case Duty::quarantine:
        return colours().plum_ground;
    default:
        return colours().surface;
    }
}

} // namespace

Gauge::Gauge(QWidget* parent) : QWidget(parent) {
    setFixedHeight(scaled(66));
}

QSize Gauge::sizeHint() const {
    return {scaled(280), scaled(66)};
}

void Gauge::set(const Evidence& evidence) {
    evidence_ = evidence;
    name_ = wording::evidence_name(evidence);
    value_ = value_text(evidence);
    setAccessibleName(wording::evidence(evidence));
    setToolTip(wording::evidence(evidence) + QLatin1Char('\n') + QString::fromStdString(evidence.source));
    update();
}

void Gauge::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    painter.setPen(c.ink);
    painter.setFont(type(14, evidence_.decides));
    const double value_w = QFontMetricsF(type(18, true)).horizontalAdvance(value_);
    painter.drawText(QRectF(0, 0, width(), scaled(24)), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(name_, Qt::ElideRight, width() - value_w - 6));
    painter.setFont(type(18, true));
    painter.drawText(QRectF(0, 0, width(), scaled(24)), Qt::AlignRight | Qt::AlignVCenter, value_);
    const QRectF bar(0.5, scaled(28) + 0.5, width() - 1, scaled(15));
    if (evidence_.limits.empty() || !evidence_.measured) {
        painter.setPen(QPen(c.hairline, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(bar);
        painter.setPen(c.muted);
        painter.setFont(type(12));
        painter.drawText(QRectF(0, scaled(46), width(), scaled(18)), Qt::AlignLeft, tr("not measured"));
        return;
    }
    const auto& limits = evidence_.limits;
    double low = limits.front().value;
    double high = low;
    for (const DutyLimit& limit : limits) {
        low = std::min(low, limit.value);
        high = std::max(high, limit.value);
    }
    const double room = std::max((high - low) * 0.45, high * 0.08);
    low = std::max(0.0, std::min(low - room, *evidence_.measured - room * 0.2));
    high = std::max(high + room, *evidence_.measured + room * 0.2);
    const auto x = [&](double v) { return bar.left() + (std::clamp(v, low, high) - low) / (high - low) * bar.width(); };
    // Zones from the best duty on; what no duty allows is hatched.
    painter.fillRect(bar, c.surface);
    painter.fillRect(bar, hatch(c.muted));
    for (std::size_t i = limits.size(); i-- > 0;) {
        const QRectF zone = evidence_.higher_is_better
                                ? QRectF(QPointF(x(limits[i].value), bar.top()), bar.bottomRight())
                                : QRectF(bar.topLeft(), QPointF(x(limits[i].value), bar.bottom()));
        painter.fillRect(zone, zone_colour(limits[i].duty));
    }
    painter.setPen(QPen(c.muted, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(bar);
    painter.setFont(type(12));
    const auto [factor, digits] = shown(evidence_);
    double last_right = -1e9;
    std::vector<DutyLimit> sorted(limits.begin(), limits.end());
    std::sort(sorted.begin(), sorted.end(), [](const DutyLimit& a, const DutyLimit& b) { return a.value < b.value; });
    for (std::size_t i = 0; i < sorted.size(); ++i) {
        const double at = x(sorted[i].value);
        painter.setPen(QPen(c.ink, 1.5));
        painter.drawLine(QPointF(at, bar.top()), QPointF(at, bar.bottom() + 3));
        const QString text = figures::plain(sorted[i].value * factor, digits);
        const double w = QFontMetricsF(painter.font()).horizontalAdvance(text);
        const double left = std::clamp(at - w / 2, 0.0, width() - w);
        if (left > last_right + 6) {
            painter.setPen(c.muted);
            painter.drawText(QRectF(left, bar.bottom() + 3, w + 2, scaled(18)), Qt::AlignLeft, text);
            last_right = left + w;
        }
        // The zone's mark, where there is room: a duty reaches from its own limit to the next better one's.
        const bool up = evidence_.higher_is_better;
        const double zone_from = up ? at : (i == 0 ? bar.left() : x(sorted[i - 1].value));
        const double zone_to = up ? (i + 1 < sorted.size() ? x(sorted[i + 1].value) : bar.right()) : at;
        if (zone_to - zone_from > 26)
            draw_duty(painter, {(zone_from + zone_to) / 2, bar.center().y()}, scaled(12), sorted[i].duty);
    }
    const double at = x(*evidence_.measured);
    if (evidence_.uncertainty) {
        const double from = x(*evidence_.measured - *evidence_.uncertainty);
        const double to = x(*evidence_.measured + *evidence_.uncertainty);
        painter.setPen(QPen(c.ink, 1.5));
        painter.drawLine(QPointF(from, bar.center().y()), QPointF(to, bar.center().y()));
        painter.drawLine(QPointF(from, bar.center().y() - 4), QPointF(from, bar.center().y() + 4));
        painter.drawLine(QPointF(to, bar.center().y() - 4), QPointF(to, bar.center().y() + 4));
    }
    painter.setPen(QPen(c.ink, 2));
    painter.drawLine(QPointF(at, bar.top() - 2), QPointF(at, bar.bottom() + 1));
    QPainterPath head;
    head.moveTo(at - 6, bar.top() - 7);
    head.lineTo(at + 6, bar.top() - 7);
    head.lineTo(at, bar.top());
    head.closeSubpath();
    painter.fillPath(head, c.ink);
}

} // namespace ingot::app
