#include "app/shell/route.h"

#include "app/parts/marks.h"
#include "app/stations/station.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
int first_row() {
    return scaled(34);
}
// Rows of two lines, where there is room for them.
int tall_row() {
    return scaled(60);
}
int low_row() {
    return scaled(26);
}
int two_lines() {
    return scaled(54);
}
int line_x() {
    return scaled(26);
}

QString what_waits(Station station, int count) {
    switch (station) {
    case Station::receive:
    case Station::triage:
    case Station::open:
        return Route::tr("packs", nullptr, count);
    case Station::build:
        return Route::tr("builds", nullptr, count);
    case Station::prove:
        return Route::tr("packs", nullptr, count);
    default:
        return Route::tr("units", nullptr, count);
    }
}
} // namespace

QString room_name(Room room) {
    switch (room) {
    case Room::ledger:
        return Route::tr("Ledger");
    case Room::library:
        return Route::tr("Library");
    case Room::practice:
        return Route::tr("Practice");
    case Room::hazards:
        return Route::tr("Hazards");
    case Room::trays:
        return Route::tr("Trays");
    case Room::strips:
        return Route::tr("Strips");
    case Room::units:
        return Route::tr("Units of a pack");
    case Room::donors:
        return Route::tr("Donors");
    case Room::worth:
        return Route::tr("Worth it?");
    case Room::book:
        return Route::tr("The shop's book");
    case Room::hand:
        return Route::tr("Chargers by hand");
    case Room::limits:
        return Route::tr("Limits and rule sets");
    case Room::populations:
        return Route::tr("Populations");
    case Room::stock:
        return Route::tr("Stock");
    case Room::meter:
        return Route::tr("Bench meter");
    case Room::testers:
        return Route::tr("Testers");
    }
    return {};
}

Route::Route(QWidget* parent) : Painted(parent) {
    setFixedWidth(scaled(176));
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Route"));
}

QSize Route::sizeHint() const {
    return {scaled(176), first_row() + station_count * tall_row() + rooms_under_route * scaled(34) + scaled(24)};
}

int Route::room_height() const {
    return std::clamp((height() - first_row() - scaled(24)) / (station_count + rooms_under_route), low_row(),
                      scaled(34));
}

int Route::row_height() const {
    const int room = height() - first_row() - rooms_under_route * room_height() - scaled(24);
    return std::clamp(room / station_count, low_row(), tall_row());
}

void Route::set_waiting(const std::array<int, station_count>& waiting) {
    waiting_ = waiting;
    QStringList described;
    for (int i = 0; i < station_count; ++i)
        described << QStringLiteral("%1 %2")
                         .arg(station_name(static_cast<Station>(i)))
                         .arg(waiting[static_cast<std::size_t>(i)]);
    setAccessibleDescription(described.join(QStringLiteral(", ")));
    parts_changed();
    update();
}

std::vector<PaintedPart> Route::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < station_count; ++i) {
        const auto station = static_cast<Station>(i);
        const auto at = static_cast<std::size_t>(i);
        QString waits = QStringLiteral("%1 %2").arg(waiting_[at]).arg(what_waits(station, waiting_[at]));
        if (!hand_[at].isEmpty())
            waits += QStringLiteral(", ") + hand_[at];
        out.push_back(
            {station_name(station), waits, row_of(station), !room_ && station == current_, QAccessible::Link});
    }
    for (const Room room : {Room::ledger, Room::library, Room::practice})
        out.push_back({room_name(room), {}, row_of(room), room_ == room, QAccessible::Link});
    return out;
}

void Route::set_hand(Station station, const QString& words) {
    hand_[static_cast<std::size_t>(station)] = words;
    update();
}

void Route::set_current(Station station) {
    current_ = station;
    room_.reset();
    parts_changed();
    update();
}

void Route::set_current(Room room) {
    room_.reset(); // a room without a line of its own is shown where one went in from
    if (!row_of(room).isEmpty())
        room_ = room;
    parts_changed();
    update();
}

QRect Route::row_of(Station station) const {
    return {0, first_row() + static_cast<int>(station) * row_height(), width(), row_height()};
}

QRect Route::row_of(Room room) const {
    if (static_cast<int>(room) >= rooms_under_route)
        return {};
    const int first = row_of(Station::prove).bottom() + scaled(14);
    return {0, first + static_cast<int>(room) * room_height(), width(), room_height()};
}

void Route::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    painter.fillRect(rect(), c.paper);
    painter.setPen(c.muted);
    painter.setFont(type(13, true));
    painter.drawText(QRect(scaled(16), scaled(8), scaled(80), scaled(20)), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("Route"));
    painter.setFont(type(13));
    painter.drawText(QRect(scaled(80), scaled(8), scaled(84), scaled(20)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("waiting"));
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(width() - 1, 0, width() - 1, height());
    const QRect here = room_ ? row_of(*room_) : row_of(current_);
    painter.setPen(QPen(c.steel, 1.5));
    painter.setBrush(c.surface);
    if (!here.isEmpty())
        painter.drawPath(cut_top_left(QRectF(here).adjusted(6, 3, 4, -3), 10));
    const int top = row_of(Station::receive).center().y();
    const int bottom = row_of(Station::prove).center().y();
    painter.setPen(QPen(c.ink, 4));
    painter.drawLine(line_x(), top, line_x(), bottom);
    for (int i = 0; i < station_count; ++i)
        draw_stop(painter, static_cast<Station>(i));
    for (int room = 0; room < rooms_under_route; ++room)
        draw_room(painter, static_cast<Room>(room));
    if (hasFocus()) {
        painter.setPen(QPen(c.steel, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect((here.isEmpty() ? row_of(current_) : here).adjusted(2, 1, -2, -1));
    }
}

void Route::draw_stop(QPainter& painter, Station station) {
    const Colours& c = colours();
    const auto at = static_cast<std::size_t>(station);
    const QRect row = row_of(station);
    const bool is_current = !room_ && station == current_;
    const QPointF stop(line_x(), row.center().y());
    if (is_current) {
        painter.fillPath(trapezoid(stop, scaled(30)), c.steel);
    } else {
        painter.setPen(QPen(c.ink, 2));
        painter.setBrush(c.paper);
        painter.drawPath(trapezoid(stop, scaled(22)));
    }
    const bool hand = !hand_[at].isEmpty();
    const bool two = row.height() >= two_lines();
    painter.setPen(c.ink);
    painter.setFont(type(16, is_current));
    painter.drawText(QRect(scaled(50), row.top() + (hand && two ? scaled(4) : 0), scaled(80),
                           hand && two ? scaled(28) : row.height()),
                     Qt::AlignLeft | Qt::AlignVCenter, station_name(station));
    painter.setPen(waiting_[at] == 0 ? c.muted : c.ink);
    constexpr int many = 10'000; // five digits would touch the name
    painter.setFont(type(waiting_[at] < many ? 20 : 16, waiting_[at] > 0));
    if (two || !hand) // in one line the tag takes its place
        painter.drawText(
            QRect(scaled(100), row.top() + (two ? scaled(7) : 0), scaled(64), two ? scaled(26) : row.height()),
            Qt::AlignRight | Qt::AlignVCenter, QString::number(waiting_[at]));
    if (hand)
        draw_hand_tag(painter,
                      two ? QPointF(scaled(50), row.top() + scaled(33))
                          : QPointF(scaled(100), row.center().y() - scaled(9)),
                      hand_[at]);
    painter.setPen(c.muted);
    painter.setFont(type(13));
    if (!hand && two)
        painter.drawText(QRect(scaled(100), row.top() + scaled(33), scaled(64), scaled(18)),
                         Qt::AlignRight | Qt::AlignVCenter, what_waits(station, waiting_[at]));
}

// No stop: nothing waits there, and the line does not go through it.
void Route::draw_room(QPainter& painter, Room room) {
    const QRect row = row_of(room);
    const bool is_current = room_ == room;
    painter.setPen(colours().ink);
    painter.setFont(type(15, is_current));
    painter.drawText(row.adjusted(scaled(20), 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, room_name(room));
}

void Route::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < station_count; ++i)
        if (row_of(static_cast<Station>(i)).contains(event->pos()))
            emit chosen(static_cast<Station>(i));
    for (const Room room : {Room::ledger, Room::library, Room::practice})
        if (row_of(room).contains(event->pos()))
            emit room_chosen(room);
}

// Up and down along the line and on to the rooms under it.
void Route::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0) {
        QWidget::keyPressEvent(event);
        return;
    }
    const int at = (room_ ? station_count + static_cast<int>(*room_) : static_cast<int>(current_)) + step;
    if (at >= 0 && at < station_count)
        emit chosen(static_cast<Station>(at));
    else if (at >= station_count && at < station_count + rooms_under_route)
        emit room_chosen(static_cast<Room>(at - station_count));
    setFocus(); // the page may have taken it; the next arrow goes on here
}

} // namespace ingot::app
