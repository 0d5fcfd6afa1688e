#include "app/parts/bench_clock.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QLocale>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {

constexpr double axis_from = 236;
constexpr double hours = 12;
constexpr int full_h = 62;
constexpr int slim_h = 22;
constexpr qint64 clock_ms_per_hour = 3'600'000;

} // namespace

BenchClock::BenchClock(QWidget* parent) : QWidget(parent) {
    set_slim(false);
    setAccessibleName(tr("Bench clock"));
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
    update();
}

QString BenchClock::headline() const {
    if (!come_back_)
        return tr("Nothing planned");
    const QDateTime now = QDateTime::currentDateTime();
    if (*come_back_ <= now.addSecs(60))
        return tr("You are wanted now");
    return come_back_->date() == now.date()
               ? tr("Come back at %1").arg(come_back_->toString(QStringLiteral("HH:mm")))
               : tr("Come back %1").arg(QLocale().toString(*come_back_, QStringLiteral("ddd HH:mm")));
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
        QStringList parts;
        constexpr int most = 4;
        for (const ClockEvent& event : events_)
            if (parts.size() < most && !event.hand)
                parts << tr("%1 at %2").arg(event.words, event.at.toString(QStringLiteral("HH:mm")));
        painter.setFont(type(13, true));
        painter.setPen(come_back_ && *come_back_ <= now.addSecs(60) ? c.ember_text : c.ink);
        painter.drawText(QRectF(16, 1, axis_from - 20, slim_h - 1), Qt::AlignVCenter, headline());
        painter.setFont(type(13));
        painter.setPen(c.muted);
        painter.drawText(QRectF(axis_from, 1, width() - axis_from - 12, slim_h - 1), Qt::AlignVCenter,
                         parts.join(QStringLiteral(",  ")));
        return;
    }
    painter.setFont(type(12));
    painter.setPen(c.muted);
    painter.drawText(QRectF(16, 6, 200, 18), Qt::AlignVCenter,
                     tr("Bench clock, %1").arg(now.toString(QStringLiteral("HH:mm"))));
    const bool wanted = come_back_ && *come_back_ <= now.addSecs(60);
    painter.setFont(type(16, true));
    painter.setPen(wanted ? c.ember_text : c.ink);
    painter.drawText(QRectF(16, 26, axis_from - 24, 26), Qt::AlignVCenter, headline());
    const auto x_of = [&](const QDateTime& at) {
        return axis_from + (width() - axis_from - 12) * static_cast<double>(now.msecsTo(at)) /
                               (hours * static_cast<double>(clock_ms_per_hour));
    };
    const QRectF axis(axis_from, 4, width() - axis_from - 12, 38);
    painter.fillRect(axis, c.well);
    painter.fillRect(axis, hatch(c.hairline));
    painter.setFont(type(12));
    for (const ClockSpan& span : attended_) {
        const double from = std::max(axis.left(), x_of(span.from));
        const double to = std::min(axis.right(), x_of(span.to));
        if (to > from)
            painter.fillRect(QRectF(from, axis.top(), to - from, axis.height()), c.steel_ground);
    }
    QDateTime tick(now.date(), QTime(now.time().hour(), 0));
    for (int i = 0; i <= static_cast<int>(hours); ++i) {
        tick = tick.addSecs(3600);
        const double x = x_of(tick);
        if (x > axis.right())
            break;
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(x, axis.top()), QPointF(x, axis.bottom()));
        painter.setPen(c.muted);
        painter.drawText(QRectF(x - 30, axis.bottom() + 1, 60, 16), Qt::AlignHCenter,
                         tick.toString(QStringLiteral("HH:mm")));
    }
    // Two rows, each label behind its own mark; one that finds no room is left to the plan.
    double taken[2] = {axis.left() - 1, axis.left() - 1};
    for (const ClockEvent& event : events_) {
        const double x = std::max(axis.left(), x_of(event.at));
        if (x > axis.right() || event.at < now.addSecs(-3600))
            continue;
        const double w = QFontMetricsF(painter.font()).horizontalAdvance(event.words);
        for (int row = 0; row < 2; ++row)
            if (x + 4 > taken[row] && x + 4 + w < axis.right()) {
                painter.setPen(QPen(event.hand ? c.ember : c.steel, 3));
                painter.drawLine(QPointF(x, axis.top() + row * 19 + 2), QPointF(x, axis.top() + row * 19 + 16));
                painter.setPen(event.hand ? c.ember_text : c.ink);
                painter.drawText(QRectF(x + 4, axis.top() + row * 19, w + 2, 18), Qt::AlignVCenter, event.words);
                taken[row] = x + 10 + w;
                break;
            }
    }
    painter.setPen(QPen(c.ember, 3));
    painter.drawLine(QPointF(axis.left(), axis.top()), QPointF(axis.left(), axis.bottom()));
}

void BenchClock::mousePressEvent(QMouseEvent* /*event*/) {
    emit pressed();
}

} // namespace ingot::app
