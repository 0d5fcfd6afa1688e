#include "app/parts/bench_clock.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {

constexpr double axis_from = 236;
constexpr int hours_shown = 12;
constexpr int days_shown = 14;
constexpr int full_h = 62;
constexpr int slim_h = 22;
constexpr qint64 clock_ms_per_hour = 3'600'000;
constexpr qint64 clock_hours_per_day = 24;
constexpr int soon_s = 60;

} // namespace

BenchClock::BenchClock(QWidget* parent) : Painted(parent) {
    set_slim(false);
    setAccessibleName(tr("Bench clock"));
    setFocusPolicy(Qt::TabFocus);
}

void BenchClock::set_slim(bool slim) {
    slim_ = slim;
    setFixedHeight(slim ? slim_h : full_h);
    update();
}

void BenchClock::set(std::vector<ClockEvent> events, std::vector<ClockSpan> attended,
                     std::optional<QDateTime> come_back) {
    events_ = std::move(events);
    attended_ = std::move(attended);
    come_back_ = std::move(come_back);
    std::sort(events_.begin(), events_.end(), [](const ClockEvent& a, const ClockEvent& b) { return a.at < b.at; });
    setAccessibleDescription(headline());
    parts_changed();
}

void BenchClock::set_shelf(std::vector<ClockEvent> readings) {
    shelf_ = std::move(readings);
    setAccessibleDescription(headline());
    parts_changed();
}

void BenchClock::set_days(bool days) {
    days_ = days;
    parts_changed();
}

bool BenchClock::wanted(const QDateTime& now) const {
    return come_back_ && *come_back_ <= now.addSecs(soon_s);
}

QString BenchClock::headline() const {
    const QDateTime now = QDateTime::currentDateTime();
    if (!come_back_ && shelf_.empty())
        return tr("Nothing planned");
    if (!come_back_ || (!wanted(now) && !shelf_.empty() && shelf_.front().at < *come_back_)) {
        const ClockEvent& next = shelf_.front();
        if (next.at <= now.addSecs(soon_s))
            return next.field ? tr("A pack is to be read") : tr("The shelf is to be read");
        const QString what = next.field ? tr("Read a pack") : tr("Read the shelf");
        return next.at.date() == now.date()
                   ? tr("%1 at %2").arg(what, next.at.toString(QStringLiteral("HH:mm")))
                   : tr("%1 %2").arg(what, QLocale().toString(next.at.date(), QStringLiteral("ddd d MMM")));
    }
    if (wanted(now))
        return tr("You are wanted now");
    return come_back_->date() == now.date()
               ? tr("Come back at %1").arg(come_back_->toString(QStringLiteral("HH:mm")))
               : tr("Come back %1").arg(QLocale().toString(*come_back_, QStringLiteral("ddd HH:mm")));
}

QRectF BenchClock::axis() const {
    return {axis_from, 4, width() - axis_from - 12, 38};
}

double BenchClock::x_of(const QDateTime& now, const QDateTime& at) const {
    const qint64 shown_h = days_ ? days_shown * clock_hours_per_day : hours_shown;
    return axis().left() +
           axis().width() * static_cast<double>(now.msecsTo(at)) / static_cast<double>(shown_h * clock_ms_per_hour);
}

// Two rows, each label behind its own mark; one that finds no room is left to the plan, or to the shelf.
std::vector<BenchClock::Placed> BenchClock::placed(const QDateTime& now) const {
    std::vector<Placed> all;
    all.reserve(events_.size() + shelf_.size());
    for (const ClockEvent& event : events_)
        if (event.at >= now.addSecs(-3600))
            all.push_back({event, false, {}});
    for (const ClockEvent& reading : shelf_)
        all.push_back({reading, true, {}});
    std::stable_sort(all.begin(), all.end(), [](const Placed& a, const Placed& b) { return a.event.at < b.event.at; });
    const QRectF room = axis();
    const QFontMetricsF metrics(type(12));
    double taken[2] = {room.left() - 1, room.left() - 1};
    std::vector<Placed> out;
    for (Placed& one : all) {
        const double x = std::max(room.left(), x_of(now, one.event.at));
        const double w = metrics.horizontalAdvance(one.event.words);
        for (int row = 0; row < 2; ++row)
            if (x <= room.right() && x + 4 > taken[row] && x + 4 + w < room.right()) {
                one.at = QRectF(x, room.top() + row * 19, w + 5, 18);
                taken[row] = x + 10 + w;
                out.push_back(std::move(one));
                break;
            }
    }
    return out;
}

std::vector<PaintedPart> BenchClock::parts() const {
    std::vector<PaintedPart> out;
    if (slim_)
        return out;
    for (const Placed& one : placed(QDateTime::currentDateTime()))
        out.push_back({one.event.words, QLocale().toString(one.event.at, QStringLiteral("ddd d MMM HH:mm")), one.at,
                       false, QAccessible::ListItem});
    return out;
}

void BenchClock::paint_slim(QPainter& painter, const QDateTime& now) const {
    const Colours& c = colours();
    QStringList said;
    constexpr int most = 4;
    for (const ClockEvent& event : events_)
        if (said.size() < most && !event.hand)
            said << tr("%1 at %2").arg(event.words, event.at.toString(QStringLiteral("HH:mm")));
    for (const ClockEvent& reading : shelf_)
        if (said.size() < most && reading.at <= now.addDays(1))
            said << reading.words;
    painter.setFont(type(13, true));
    painter.setPen(wanted(now) ? c.ember_text : c.ink);
    painter.drawText(QRectF(16, 1, axis_from - 20, slim_h - 1), Qt::AlignVCenter, headline());
    painter.setFont(type(13));
    painter.setPen(c.muted);
    painter.drawText(QRectF(axis_from, 1, width() - axis_from - 12, slim_h - 1), Qt::AlignVCenter,
                     said.join(QStringLiteral(",  ")));
}

void BenchClock::paint_axis(QPainter& painter, const QDateTime& now) const {
    const Colours& c = colours();
    const QRectF room = axis();
    painter.fillRect(room, days_ ? c.steel_ground : c.well);
    if (!days_) { // nobody is there but in the attended hours
        painter.fillRect(room, hatch(c.hairline));
        for (const ClockSpan& span : attended_) {
            const double from = std::max(room.left(), x_of(now, span.from));
            const double to = std::min(room.right(), x_of(now, span.to));
            if (to > from)
                painter.fillRect(QRectF(from, room.top(), to - from, room.height()), c.steel_ground);
        }
    }
    painter.setFont(type(12));
    QDateTime tick = days_ ? QDateTime(now.date(), QTime(0, 0)) : QDateTime(now.date(), QTime(now.time().hour(), 0));
    for (int i = 0; i <= (days_ ? days_shown : hours_shown); ++i) {
        tick = days_ ? tick.addDays(1) : tick.addSecs(3600);
        const double x = x_of(now, tick);
        if (x > room.right())
            break;
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(x, room.top()), QPointF(x, room.bottom()));
        painter.setPen(c.muted);
        painter.drawText(QRectF(x - 30, room.bottom() + 1, 60, 16), Qt::AlignHCenter,
                         days_ ? QLocale().toString(tick.date(), QStringLiteral("ddd d"))
                               : tick.toString(QStringLiteral("HH:mm")));
    }
}

void BenchClock::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    painter.fillRect(rect(), c.surface);
    painter.setPen(QPen(c.ink, 2));
    painter.drawLine(0, 1, width(), 1);
    const QDateTime now = QDateTime::currentDateTime();
    if (slim_) {
        paint_slim(painter, now);
    } else {
        painter.setFont(type(12));
        painter.setPen(c.muted);
        painter.drawText(QRectF(16, 6, axis_from - 24, 18), Qt::AlignVCenter,
                         days_ ? tr("Bench clock, 14 days")
                               : tr("Bench clock, %1").arg(now.toString(QStringLiteral("HH:mm"))));
        painter.setFont(type(16, true));
        painter.setPen(wanted(now) ? c.ember_text : c.ink);
        painter.drawText(QRectF(16, 26, axis_from - 24, 26), Qt::AlignVCenter, headline());
        paint_axis(painter, now);
        for (const Placed& one : placed(now)) {
            painter.setPen(QPen(one.event.hand ? c.ember : c.steel, 3));
            painter.drawLine(one.at.topLeft() + QPointF(0, 2), one.at.bottomLeft() - QPointF(0, 2));
            painter.setPen(one.event.hand ? c.ember_text : c.ink);
            painter.drawText(one.at.adjusted(4, 0, 0, 0), Qt::AlignVCenter, one.event.words);
        }
        painter.setPen(QPen(c.ember, 3));
        painter.drawLine(axis().topLeft(), axis().bottomLeft());
    }
    if (hasFocus()) {
        painter.setPen(QPen(c.ember, 2));
        painter.drawRect(rect().adjusted(1, 2, -2, -2));
    }
}

// To what is next: the bench, else the shelf.
void BenchClock::lead_on() {
    const QDateTime now = QDateTime::currentDateTime();
    if (come_back_ && (wanted(now) || shelf_.empty() || *come_back_ <= shelf_.front().at))
        emit pressed();
    else if (!shelf_.empty())
        lead_to(shelf_.front(), true);
    else
        emit pressed();
}

void BenchClock::lead_to(const ClockEvent& event, bool of_shelf) {
    if (event.field)
        emit field_pressed();
    else if (of_shelf)
        emit shelf_pressed();
    else
        emit pressed();
}

void BenchClock::mousePressEvent(QMouseEvent* event) {
    if (slim_) {
        lead_on();
        return;
    }
    if (event->position().x() < axis_from) {
        set_days(!days_);
        return;
    }
    for (const Placed& one : placed(QDateTime::currentDateTime()))
        if (one.at.contains(event->position())) {
            lead_to(one.event, one.of_shelf);
            return;
        }
    lead_on();
}

void BenchClock::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Space)
        set_days(!days_);
    else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        lead_on();
    else
        Painted::keyPressEvent(event);
}

} // namespace ingot::app
