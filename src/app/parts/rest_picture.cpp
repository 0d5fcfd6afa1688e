#include "app/parts/rest_picture.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/rest_wording.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {
constexpr double millivolts = 1000;
constexpr double hours_in_day = 24;

QColor colour_of(LeakVerdict verdict) {
    switch (verdict) {
    case LeakVerdict::fit:
        return colours().moss;
    case LeakVerdict::leaking:
        return colours().plum;
    case LeakVerdict::undecided:
        break;
    }
    return colours().muted;
}
} // namespace

RestPicture::RestPicture(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Voltages of siblings at rest"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void RestPicture::set(std::vector<RestingLine> lines, std::vector<QString> codes, Id chosen) {
    lines_ = std::move(lines);
    codes_ = std::move(codes);
    chosen_ = chosen;
    begin_h_ = 1e300;
    double end_h = -1e300;
    low_mv_ = -1;
    high_mv_ = 1;
    for (const RestingLine& line : lines_)
        for (const RestReading& reading : line.leak.own) {
            begin_h_ = std::min(begin_h_, reading.time_h);
            end_h = std::max(end_h, reading.time_h);
            low_mv_ = std::min(low_mv_, reading.voltage_v * millivolts);
            high_mv_ = std::max(high_mv_, reading.voltage_v * millivolts);
        }
    days_ = std::max(1.0, (end_h - begin_h_) / hours_in_day);
    setAccessibleDescription(tr("%n units", nullptr, static_cast<int>(lines_.size())));
    parts_changed();
    update();
}

QRectF RestPicture::field() const {
    return {double(scaled(64)), double(scaled(10)), width() - double(scaled(76)), height() - double(scaled(38))};
}

QPointF RestPicture::place(double day, double mv) const {
    const QRectF at = field();
    return {at.left() + at.width() * day / days_, at.top() + at.height() * (high_mv_ - mv) / (high_mv_ - low_mv_)};
}

std::vector<PaintedPart> RestPicture::parts() const {
    std::vector<PaintedPart> out;
    for (std::size_t i = 0; i < lines_.size(); ++i) {
        const RestingLine& line = lines_[i];
        if (line.leak.own.empty())
            continue;
        const RestReading& last = line.leak.own.back();
        const QPointF end = place((last.time_h - begin_h_) / hours_in_day, last.voltage_v * millivolts);
        constexpr double reach = 6;
        out.push_back({codes_[i],
                       line.leak.v_per_day ? wording::leak_verdict(line.leak.verdict) + QStringLiteral(", ") +
                                                 wording::drift(*line.leak.v_per_day)
                                           : wording::leak_verdict(line.leak.verdict),
                       QRectF(end.x() - reach, end.y() - reach, 2 * reach, 2 * reach), line.row() == chosen_,
                       QAccessible::ListItem});
    }
    return out;
}

void RestPicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF at = field();
    painter.fillRect(at, colours().surface);
    painter.setPen(colours().hairline);
    painter.drawRect(at);
    painter.setFont(type(13));
    painter.setPen(colours().muted);
    const auto mv_label = [&](double mv) {
        painter.drawText(QRectF(0, place(0, mv).y() - scaled(10), scaled(58), scaled(20)),
                         Qt::AlignRight | Qt::AlignVCenter, tr("%1 mV").arg(figures::plain(mv, 1)));
    };
    mv_label(high_mv_);
    mv_label(low_mv_);
    painter.drawText(QRectF(at.left(), at.bottom() + 2, at.width(), scaled(24)), Qt::AlignLeft | Qt::AlignTop,
                     tr("first reading"));
    painter.drawText(QRectF(at.left(), at.bottom() + 2, at.width(), scaled(24)), Qt::AlignRight | Qt::AlignTop,
                     tr("%n days", nullptr, static_cast<int>(std::lround(days_))));
    painter.setClipRect(at);
    if (!lines_.empty()) { // below the limit's line a unit leaks
        const double limit_mv = lines_.front().limit_v_per_day * millivolts;
        QPainterPath fan;
        fan.moveTo(place(0, 0));
        fan.lineTo(place(days_, -limit_mv * days_));
        fan.lineTo(QPointF(at.right(), at.bottom() + at.height()));
        fan.lineTo(QPointF(at.left(), at.bottom() + at.height()));
        fan.closeSubpath();
        painter.fillPath(fan, colours().plum_ground);
        painter.setPen(QPen(colours().plum, 1.2, Qt::DashLine));
        painter.drawLine(place(0, 0), place(days_, -limit_mv * days_));
    }
    for (const bool on_top : {false, true})
        for (const RestingLine& line : lines_) {
            if ((line.row() == chosen_) != on_top || line.leak.own.empty())
                continue;
            QPainterPath path;
            for (const RestReading& reading : line.leak.own) {
                const QPointF p = place((reading.time_h - begin_h_) / hours_in_day, reading.voltage_v * millivolts);
                path.elementCount() == 0 ? path.moveTo(p) : path.lineTo(p);
            }
            const QColor colour = on_top ? colours().ink : colour_of(line.leak.verdict);
            painter.setPen(QPen(colour, on_top ? 2.6 : 1.2));
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(path);
            painter.setBrush(colour);
            painter.drawEllipse(path.currentPosition(), on_top ? 4.0 : 2.5, on_top ? 4.0 : 2.5);
        }
}

void RestPicture::mousePressEvent(QMouseEvent* event) {
    double nearest = 1e300;
    Id found = 0;
    for (const RestingLine& line : lines_)
        for (const RestReading& reading : line.leak.own) {
            const QPointF p = place((reading.time_h - begin_h_) / hours_in_day, reading.voltage_v * millivolts);
            const double away = std::hypot(p.x() - event->position().x(), p.y() - event->position().y());
            if (away < nearest) {
                nearest = away;
                found = line.row();
            }
        }
    constexpr double reach = 14;
    if (nearest < reach)
        emit unit_chosen(found);
}

} // namespace ingot::app
