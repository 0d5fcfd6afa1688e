#include "app/parts/yield_bars.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/wording.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <array>

namespace ingot::app {

namespace {
int yield_row_height() {
    return scaled(44);
}
constexpr double yield_words = 0.30; // of the width
constexpr double yield_bar = 0.76;   // to here
} // namespace

YieldBars::YieldBars(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Yield of each lot"));
}

int YieldBars::scaled_width() {
    return scaled(420);
}

void YieldBars::set(std::vector<YieldBar> bars) {
    bars_ = std::move(bars);
    chosen_ = bars_.empty() ? -1 : std::clamp(chosen_, 0, static_cast<int>(bars_.size()) - 1);
    updateGeometry();
    parts_changed();
    update();
}

QSize YieldBars::sizeHint() const {
    return {scaled(700), std::max(1, static_cast<int>(bars_.size())) * yield_row_height() + 4};
}

QRectF YieldBars::row(int index) const {
    return {0, static_cast<double>(index * yield_row_height()), static_cast<double>(width()),
            static_cast<double>(yield_row_height())};
}

std::vector<PaintedPart> YieldBars::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(bars_.size()); ++i) {
        const YieldBar& bar = bars_[static_cast<std::size_t>(i)];
        out.push_back({bar.name,
                       tr("%1 units: Drive %2, Store %3, Light %4, waiting %5, lost %6; yield %7, %8 kept")
                           .arg(bar.units())
                           .arg(bar.drive)
                           .arg(bar.store)
                           .arg(bar.light)
                           .arg(bar.waiting)
                           .arg(bar.lost)
                           .arg(bar.yield, bar.kept),
                       row(i), i == chosen_, QAccessible::ListItem});
    }
    return out;
}

void YieldBars::paint_row(QPainter& painter, int index, int most) const {
    const Colours& c = colours();
    const YieldBar& bar = bars_[static_cast<std::size_t>(index)];
    const QRectF at = row(index);
    if (index == chosen_) {
        painter.setPen(QPen(c.steel, hasFocus() ? 3 : 1.5));
        painter.setBrush(c.steel_ground);
        painter.drawRect(at.adjusted(1.5, 1.5, -1.5, -1.5));
    }
    const double left = at.left() + 8;
    const double room = width() * yield_words - 14;
    painter.setPen(c.ink);
    painter.setFont(type(14, true));
    painter.drawText(QRectF(left, at.top() + 3, room, at.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(bar.name, Qt::ElideRight, room));
    painter.setFont(type(12));
    painter.setPen(c.muted);
    painter.drawText(QRectF(left, at.center().y() - 2, room, at.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(bar.below, Qt::ElideRight, room));
    const double full = width() * (yield_bar - yield_words) * bar.units() / std::max(1, most);
    double x = width() * yield_words;
    const QRectF strip(x, at.top() + 9, full, at.height() - 18);
    struct Piece {
        int units;
        QBrush fill;
        QColor line;
        Duty duty;
        bool marked;
    };
    const std::array<Piece, 5> pieces{{{bar.drive, c.duty_drive, c.moss, Duty::drive, true},
                                       {bar.store, c.duty_store, c.moss, Duty::store, true},
                                       {bar.light, c.duty_light, c.moss, Duty::light, true},
                                       {bar.waiting, c.brass_ground, c.brass, Duty::rest_again, true},
                                       {bar.lost, hatch(c.muted), c.muted, Duty::scrap, true}}};
    for (const Piece& piece : pieces) {
        if (piece.units == 0)
            continue;
        const QRectF part(x, strip.top(), full * piece.units / std::max(1, bar.units()), strip.height());
        painter.setPen(QPen(piece.line, 1));
        painter.setBrush(piece.fill);
        painter.drawRect(part);
        const QString count = QString::number(piece.units);
        painter.setFont(type(12, true));
        const double mark = scaled(12);
        const double needs = mark + QFontMetricsF(painter.font()).horizontalAdvance(count) + 10;
        if (part.width() > needs) {
            draw_duty(painter, {part.left() + 3 + mark / 2, part.center().y()}, mark, piece.duty);
            painter.setPen(c.ink);
            painter.drawText(part.adjusted(mark + 6, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, count);
        }
        x += part.width();
    }
    painter.setPen(c.ink);
    painter.setFont(type(16, true));
    const QRectF figures(width() * yield_bar, at.top(), width() * (1 - yield_bar) - 8, at.height());
    painter.drawText(figures.adjusted(0, 2, 0, -at.height() / 2 + 2), Qt::AlignRight | Qt::AlignVCenter, bar.yield);
    painter.setFont(type(12));
    painter.setPen(c.muted);
    painter.drawText(figures.adjusted(0, at.height() / 2 - 2, 0, -2), Qt::AlignRight | Qt::AlignVCenter, bar.kept);
}

void YieldBars::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    int most = 1;
    for (const YieldBar& bar : bars_)
        most = std::max(most, bar.units());
    for (int i = 0; i < static_cast<int>(bars_.size()); ++i)
        paint_row(painter, i, most);
}

void YieldBars::choose(int index) {
    if (index == chosen_ || index < 0 || index >= static_cast<int>(bars_.size()))
        return;
    chosen_ = index;
    parts_changed();
    update();
    emit chosen_changed();
}

void YieldBars::mousePressEvent(QMouseEvent* event) {
    choose(static_cast<int>(event->position().y()) / yield_row_height());
}

void YieldBars::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0)
        Painted::keyPressEvent(event);
    else
        choose(chosen_ + step);
}

} // namespace ingot::app
