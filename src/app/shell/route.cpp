#include "app/shell/route.h"

#include "app/parts/marks.h"
#include "app/stations/station.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace ingot::app {

namespace {
constexpr int first_row = 34;
constexpr int row_height = 60;
constexpr int line_x = 26;

QString what_waits(Station station, int count) {
    switch (station) {
    case Station::receive:
    case Station::triage:
    case Station::open:
        return Route::tr("packs", nullptr, count);
    case Station::build:
        return Route::tr("builds", nullptr, count);
    default:
        return Route::tr("units", nullptr, count);
    }
}
} // namespace

Route::Route(QWidget* parent) : QWidget(parent) {
    setFixedWidth(176);
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Route"));
}

void Route::set_waiting(const std::array<int, station_count>& waiting) {
    waiting_ = waiting;
    QStringList described;
    for (int i = 0; i < station_count; ++i)
        described << QStringLiteral("%1 %2")
                         .arg(station_name(static_cast<Station>(i)))
                         .arg(waiting[static_cast<std::size_t>(i)]);
    setAccessibleDescription(described.join(QStringLiteral(", ")));
    update();
}

void Route::set_hand(Station station, const QString& words) {
    hand_[static_cast<std::size_t>(station)] = words;
    update();
}

void Route::set_current(Station station) {
    current_ = station;
    update();
}

QRect Route::row_of(Station station) const {
    return {0, first_row + static_cast<int>(station) * row_height, width(), row_height};
}

void Route::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    painter.fillRect(rect(), c.paper);
    painter.setPen(c.muted);
    painter.setFont(type(13, true));
    painter.drawText(QRect(16, 8, 80, 20), Qt::AlignLeft | Qt::AlignVCenter, tr("Route"));
    painter.setFont(type(13));
    painter.drawText(QRect(80, 8, 84, 20), Qt::AlignRight | Qt::AlignVCenter, tr("waiting"));
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(width() - 1, 0, width() - 1, height());
    const QRect here = row_of(current_);
    painter.setPen(QPen(c.steel, 1.5));
    painter.setBrush(c.surface);
    painter.drawPath(cut_top_left(QRectF(here).adjusted(6, 3, 4, -3), 10));
    const int top = row_of(Station::receive).center().y();
    const int bottom = row_of(Station::build).center().y();
    painter.setPen(QPen(c.ink, 4));
    painter.drawLine(line_x, top, line_x, bottom);
    for (int i = 0; i < station_count; ++i) {
        const auto station = static_cast<Station>(i);
        const auto at = static_cast<std::size_t>(i);
        const QRect row = row_of(station);
        const bool is_current = station == current_;
        const QPointF stop(line_x, row.center().y());
        if (is_current) {
            painter.fillPath(trapezoid(stop, 30), c.steel);
        } else {
            painter.setPen(QPen(c.ink, 2));
            painter.setBrush(c.paper);
            painter.drawPath(trapezoid(stop, 22));
        }
        const bool hand = !hand_[at].isEmpty();
        painter.setPen(c.ink);
        painter.setFont(type(16, is_current));
        painter.drawText(QRect(50, row.top() + (hand ? 4 : 0), 80, hand ? 28 : row.height()),
                         Qt::AlignLeft | Qt::AlignVCenter, station_name(station));
        if (hand)
            draw_hand_tag(painter, QPointF(50, row.top() + 33), hand_[at]);
        painter.setPen(waiting_[at] == 0 ? c.muted : c.ink);
        painter.setFont(type(20, waiting_[at] > 0));
        painter.drawText(QRect(100, row.top() + 7, 64, 26), Qt::AlignRight | Qt::AlignVCenter,
                         QString::number(waiting_[at]));
        painter.setPen(c.muted);
        painter.setFont(type(13));
        if (!hand) // the tag takes its place
            painter.drawText(QRect(100, row.top() + 33, 64, 18), Qt::AlignRight | Qt::AlignVCenter,
                             what_waits(station, waiting_[at]));
    }
    if (hasFocus()) {
        painter.setPen(QPen(c.steel, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(here.adjusted(2, 1, -2, -1));
    }
}

void Route::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < station_count; ++i)
        if (row_of(static_cast<Station>(i)).contains(event->pos()))
            emit chosen(static_cast<Station>(i));
}

void Route::keyPressEvent(QKeyEvent* event) {
    const int at = static_cast<int>(current_);
    if (event->key() == Qt::Key_Down && at + 1 < station_count)
        emit chosen(static_cast<Station>(at + 1));
    else if (event->key() == Qt::Key_Up && at > 0)
        emit chosen(static_cast<Station>(at - 1));
    else
        QWidget::keyPressEvent(event);
}

} // namespace ingot::app
