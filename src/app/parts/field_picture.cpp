#include "app/parts/field_picture.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {
constexpr double field_mv = 1000;
}

FieldPicture::FieldPicture(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Groups in the field"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void FieldPicture::set(const PackInField& pack, int chosen) {
    pack_ = pack;
    chosen_ = chosen;
    low_mv_ = -5;
    high_mv_ = 5;
    days_ = 1;
    const double cells = std::max(1, pack_.pack.layout.cells_per_tap());
    for (const FieldPoint& point : pack_.trend.points) {
        days_ = std::max(days_, point.day);
        for (const auto& v : point.from_middle_v)
            if (v) {
                low_mv_ = std::min(low_mv_, *v / cells * field_mv * 1.15);
                high_mv_ = std::max(high_mv_, *v / cells * field_mv * 1.15);
            }
    }
    // Where the road goes on: to the day of the next reading, or of the balance.
    days_ = std::max(days_ * 1.05, std::min(pack_.trend.balance_day.value_or(pack_.trend.next_day), days_ * 1.6));
    setAccessibleDescription(tr("%n rounds", nullptr, static_cast<int>(pack_.rounds.size())));
    parts_changed();
    update();
}

QRectF FieldPicture::field() const {
    return {double(scaled(64)), double(scaled(10)), width() - double(scaled(112)), height() - double(scaled(38))};
}

QPointF FieldPicture::place(double day, double mv) const {
    const QRectF at = field();
    return {at.left() + at.width() * day / days_, at.top() + at.height() * (high_mv_ - mv) / (high_mv_ - low_mv_)};
}

std::vector<FieldPicture::Mark> FieldPicture::marks() const {
    std::vector<Mark> out;
    const double cells = std::max(1, pack_.pack.layout.cells_per_tap());
    for (int g = 1; g <= pack_.pack.layout.series; ++g) {
        Mark mark;
        mark.group = g;
        for (const FieldPoint& point : pack_.trend.points)
            if (const auto& v = point.from_middle_v[static_cast<std::size_t>(g) - 1])
                mark.at.push_back(place(point.day, *v / cells * field_mv));
        if (!mark.at.empty())
            out.push_back(std::move(mark));
    }
    return out;
}

std::vector<PaintedPart> FieldPicture::parts() const {
    std::vector<PaintedPart> out;
    constexpr double reach = 6;
    for (const Mark& mark : marks()) {
        const auto& last = pack_.trend.points.back().from_middle_v[static_cast<std::size_t>(mark.group) - 1];
        const QPointF end = mark.at.back();
        out.push_back({tr("Group %1").arg(mark.group), last ? figures::millivolts_signed(*last) : tr("not read"),
                       QRectF(end.x() - reach, end.y() - reach, 2 * reach, 2 * reach), mark.group == chosen_,
                       QAccessible::ListItem});
    }
    return out;
}

void FieldPicture::paint_axes(QPainter& painter) const {
    const QRectF at = field();
    painter.fillRect(at, colours().surface);
    painter.setPen(colours().hairline);
    painter.drawRect(at);
    painter.setFont(type(13));
    painter.setPen(colours().muted);
    for (const double mv : {high_mv_, 0.0, low_mv_})
        painter.drawText(QRectF(0, place(0, mv).y() - scaled(10), scaled(58), scaled(20)),
                         Qt::AlignRight | Qt::AlignVCenter, tr("%1 mV").arg(figures::plain(mv, 0)));
    painter.drawText(QRectF(at.left(), at.bottom() + 2, at.width(), scaled(24)), Qt::AlignLeft | Qt::AlignTop,
                     pack_.balanced ? tr("balanced") : tr("into service"));
    painter.drawText(QRectF(at.left(), at.bottom() + 2, at.width(), scaled(24)), Qt::AlignRight | Qt::AlignTop,
                     tr("%1 days").arg(figures::plain(days_, 0)));
    painter.setPen(QPen(colours().hairline, 1));
    painter.drawLine(place(0, 0), place(days_, 0));
}

void FieldPicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paint_axes(painter);
    const QRectF at = field();
    if (pack_.trend.points.empty())
        return;
    if (pack_.trend.balance_day && *pack_.trend.balance_day <= days_) {
        const double x = place(*pack_.trend.balance_day, 0).x();
        painter.setPen(QPen(colours().plum, 1.2, Qt::DashLine));
        painter.drawLine(QPointF(x, at.top()), QPointF(x, at.bottom()));
    }
    const auto all = marks();
    double taken = -1e300; // labels at the right end, the lowest first, none over another
    std::vector<const Mark*> by_height;
    by_height.reserve(all.size());
    for (const Mark& mark : all)
        by_height.push_back(&mark);
    std::sort(by_height.begin(), by_height.end(),
              [](const Mark* a, const Mark* b) { return a->at.back().y() < b->at.back().y(); });
    for (const Mark* mark : by_height) {
        const bool low = pack_.trend.lowest && *pack_.trend.lowest + 1 == mark->group;
        const bool newer = pack_.newer.contains(mark->group);
        const bool chosen = mark->group == chosen_;
        const QColor colour = chosen ? colours().ink : low ? colours().plum : newer ? colours().brass : colours().steel;
        QPainterPath path;
        for (const QPointF& p : mark->at)
            path.elementCount() == 0 ? path.moveTo(p) : path.lineTo(p);
        painter.setPen(QPen(colour, chosen || low ? 2.6 : 1.2, newer ? Qt::DashLine : Qt::SolidLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
        painter.setPen(QPen(colour, 1.2));
        painter.setBrush(colour);
        for (const QPointF& p : mark->at)
            painter.drawEllipse(p, chosen || low ? 4.0 : 2.5, chosen || low ? 4.0 : 2.5);
        const double height = scaled(16);
        if (const double y = mark->at.back().y() - height / 2; y >= taken || chosen || low) {
            painter.drawText(QRectF(at.right() + 6, std::max(y, taken), scaled(44), height),
                             Qt::AlignLeft | Qt::AlignVCenter,
                             newer ? tr("%1 new").arg(mark->group) : QString::number(mark->group));
            taken = std::max(y, taken) + height;
        }
    }
}

void FieldPicture::mousePressEvent(QMouseEvent* event) {
    double nearest = 1e300;
    int found = 0;
    for (const Mark& mark : marks())
        for (const QPointF& p : mark.at)
            if (const double away = std::hypot(p.x() - event->position().x(), p.y() - event->position().y());
                away < nearest) {
                nearest = away;
                found = mark.group;
            }
    constexpr double reach = 14;
    if (nearest < reach)
        emit group_chosen(found);
}

} // namespace ingot::app
