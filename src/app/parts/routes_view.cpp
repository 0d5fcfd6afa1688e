#include "app/parts/routes_view.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/triage_wording.h"

#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {

struct Lane {
    double from, to; // shares of the width
};
constexpr Lane name_lane{0.0, 0.35};
constexpr Lane money_lane{0.36, 0.50};
constexpr Lane hours_lane{0.53, 0.61};
constexpr Lane chance_lane{0.64, 0.73};
constexpr Lane gives_lane{0.76, 1.0};

} // namespace

RoutesView::RoutesView(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Routes side by side"));
}

void RoutesView::set(const WorthResult& result) {
    result_ = result;
    QStringList words;
    for (const RouteFigures& f : result_.routes)
        words << (f.possible
                      ? tr("%1: cost %2, %3 h, %4 Wh, %5 years, works %6")
                            .arg(wording::route(f.route), figures::plain(f.cost, 0), figures::plain(f.hours, 1),
                                 figures::plain(f.wh, 0), figures::plain(f.years, 1), figures::percent(f.chance, 0))
                      : tr("%1: %2").arg(wording::route(f.route), wording::obstacle(f.obstacle)));
    setAccessibleDescription(words.join(QLatin1Char('\n')));
    update();
}

void RoutesView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    if (result_.routes.empty())
        return;
    double dearest = 1e-9;
    double longest = 1e-9;
    for (const RouteFigures& f : result_.routes)
        if (f.possible) {
            dearest = std::max(dearest, f.cost_per_wh_year);
            longest = std::max(longest, f.hours);
        }
    constexpr double head = 26;
    const double row = (height() - head) / static_cast<double>(result_.routes.size());
    const auto lane = [&](const Lane& l, double top, double high) {
        return QRectF(l.from * width(), top, (l.to - l.from) * width(), high);
    };
    painter.setPen(c.muted);
    painter.setFont(type(11));
    painter.drawText(lane(money_lane, 0, head), Qt::AlignVCenter, tr("a Wh and year"));
    painter.drawText(lane(hours_lane, 0, head), Qt::AlignVCenter, tr("hours"));
    painter.drawText(lane(chance_lane, 0, head), Qt::AlignVCenter, tr("it works"));
    painter.drawText(lane(gives_lane, 0, head), Qt::AlignVCenter, tr("what it gives"));
    double top = head;
    for (const RouteFigures& f : result_.routes) {
        const bool winner = result_.winner == f.route;
        if (winner) {
            painter.fillRect(QRectF(0, top, width(), row), c.steel_ground);
            painter.fillRect(QRectF(0, top, 4, row), c.steel);
        }
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(0, top + row), QPointF(width(), top + row));
        painter.setPen(f.possible ? c.ink : c.muted);
        painter.setFont(type(14, winner));
        painter.drawText(lane(name_lane, top, row / 2 + 4).adjusted(10, 0, 0, 0), Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(wording::route(f.route), Qt::ElideRight,
                                                          static_cast<int>(lane(name_lane, top, row).width()) - 14));
        painter.setFont(type(12));
        painter.setPen(c.muted);
        painter.drawText(lane(name_lane, top + row / 2, row / 2).adjusted(10, 0, 0, 0), Qt::AlignTop,
                         f.possible
                             ? tr("parts %1, in all %2").arg(figures::plain(f.parts, 0), figures::plain(f.cost, 0))
                             : wording::obstacle(f.obstacle));
        if (f.possible) {
            const auto bar = [&](const Lane& l, double share, const QString& figure) {
                const QRectF at = lane(l, top, row);
                painter.fillRect(QRectF(at.left(), at.center().y() + 4, at.width(), 7), c.hairline);
                painter.fillRect(QRectF(at.left(), at.center().y() + 4, at.width() * std::clamp(share, 0.0, 1.0), 7),
                                 winner ? c.steel : c.muted);
                painter.setPen(c.ink);
                painter.setFont(type(14, winner));
                painter.drawText(QRectF(at.left(), at.top(), at.width(), row / 2 + 2), Qt::AlignBottom, figure);
            };
            bar(money_lane, f.cost_per_wh_year / dearest, figures::plain(f.cost_per_wh_year, 3));
            bar(hours_lane, f.hours / longest, figures::plain(f.hours, 1));
            bar(chance_lane, f.chance, figures::percent(f.chance, 0));
            painter.setPen(c.ink);
            painter.setFont(type(13));
            painter.drawText(lane(gives_lane, top, row / 2 + 2), Qt::AlignBottom,
                             tr("%1 Wh, %2 years").arg(figures::plain(f.wh, 0), figures::plain(f.years, 1)));
            painter.setPen(c.muted);
            painter.setFont(type(11));
            QString more =
                f.warranty_years > 0 ? tr("warranty %1 y").arg(figures::plain(f.warranty_years, 1)) : tr("no warranty");
            if (f.left_over > 0)
                more += tr(", leaves %1").arg(figures::plain(f.left_over, 0));
            painter.drawText(lane(gives_lane, top + row / 2 + 2, row / 2), Qt::AlignTop | Qt::TextWordWrap, more);
        }
        top += row;
    }
}

} // namespace ingot::app
