#include "app/parts/practice_cards.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
constexpr int cards_across = 4;
int card_height() {
    return scaled(46);
}
} // namespace

PracticeCards::PracticeCards(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Next measurement"));
}

void PracticeCards::set(std::vector<PracticeCard> cards) {
    cards_ = std::move(cards);
    chosen_ = std::clamp(chosen_, 0, std::max(0, static_cast<int>(cards_.size()) - 1));
    updateGeometry();
    parts_changed();
    update();
}

void PracticeCards::choose(int card) {
    chosen_ = std::clamp(card, 0, std::max(0, static_cast<int>(cards_.size()) - 1));
    parts_changed();
    update();
}

QSize PracticeCards::sizeHint() const {
    const int rows = (static_cast<int>(cards_.size()) + cards_across - 1) / cards_across;
    return {scaled(600), std::max(1, rows) * (card_height() + 6)};
}

QRectF PracticeCards::card_at(int card) const {
    const double w = static_cast<double>(width()) / cards_across;
    const int row = card / cards_across;
    const int column = card % cards_across;
    return {column * w + 2, static_cast<double>(row * (card_height() + 6) + 2), w - 6,
            static_cast<double>(card_height())};
}

std::vector<PaintedPart> PracticeCards::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(cards_.size()); ++i) {
        const PracticeCard& card = cards_[static_cast<std::size_t>(i)];
        QString value = tr("%1 min %2, risk %3").arg(figures::plain(card.minutes, 0), card.wait).arg(card.risk);
        if (card.taken)
            value += tr(", taken");
        if (!card.tells.isEmpty())
            value += tr(", tells %1").arg(card.tells);
        out.push_back({tr("%1 %2, %3").arg(i + 1).arg(card.name, card.below), value, card_at(i), i == chosen_,
                       QAccessible::ListItem});
    }
    return out;
}

void PracticeCards::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    for (int i = 0; i < static_cast<int>(cards_.size()); ++i) {
        const PracticeCard& card = cards_[static_cast<std::size_t>(i)];
        const QRectF at = card_at(i);
        painter.setPen(QPen(i == chosen_ ? c.steel : card.taken ? c.hairline : c.ink, i == chosen_ ? 3 : 1.5));
        painter.setBrush(card.taken ? c.well : i == chosen_ ? c.steel_ground : c.surface);
        painter.drawPath(cut_bottom_right(at, 9));
        const QRectF inner = at.adjusted(10, 5, -10, -4);
        painter.setPen(card.taken ? c.muted : c.ink);
        painter.setFont(type(14, true));
        painter.drawText(inner, Qt::AlignLeft | Qt::AlignTop, QStringLiteral("%1  %2").arg(i + 1).arg(card.name));
        const QRectF foot(inner.left(), inner.bottom() - scaled(22), inner.width(), scaled(22));
        painter.setPen(card.taken ? c.muted : c.ink);
        painter.setFont(type(16, true));
        const QString minutes = figures::plain(card.minutes, 0);
        painter.drawText(foot, Qt::AlignLeft | Qt::AlignVCenter, minutes);
        const double after = QFontMetricsF(painter.font()).horizontalAdvance(minutes) + 5;
        painter.setFont(type(12));
        painter.setPen(c.muted);
        painter.drawText(foot.adjusted(after, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                         card.wait.isEmpty() ? tr("min") : tr("min %1").arg(card.wait));
        if (!card.tells.isEmpty()) {
            painter.setPen(c.steel);
            painter.setFont(type(14, true));
            painter.drawText(foot, Qt::AlignRight | Qt::AlignVCenter, card.tells);
        } else if (card.taken) {
            painter.drawText(foot, Qt::AlignRight | Qt::AlignVCenter, tr("taken"));
        } else
            for (int r = 0; r < card.risk; ++r)
                draw_hazard(painter, {foot.right() - scaled(7) - r * scaled(17), foot.center().y()}, scaled(13));
    }
}

void PracticeCards::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(cards_.size()); ++i)
        if (card_at(i).contains(event->position()))
            choose(i);
}

void PracticeCards::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        choose(chosen_ - 1);
        return;
    case Qt::Key_Right:
        choose(chosen_ + 1);
        return;
    case Qt::Key_Up:
        choose(chosen_ >= cards_across ? chosen_ - cards_across : chosen_);
        return;
    case Qt::Key_Down:
        choose(chosen_ + cards_across < static_cast<int>(cards_.size()) ? chosen_ + cards_across : chosen_);
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        emit wanted(chosen_);
        return;
    default:
        Painted::keyPressEvent(event);
    }
}

PracticeSeries::PracticeSeries(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Cycles of the module"));
}

void PracticeSeries::set(std::vector<double> values, double limit, const QString& axis, const QString& unit,
                         std::vector<double> later) {
    values_ = std::move(values);
    later_ = std::move(later);
    limit_ = limit;
    axis_ = axis;
    unit_ = unit;
    low_ = high_ = limit;
    for (const auto* some : {&values_, &later_})
        for (const double value : *some) {
            low_ = std::min(low_, value);
            high_ = std::max(high_, value);
        }
    const double room = std::max(1e-6, 0.12 * (high_ - low_));
    low_ -= room;
    high_ += room;
    parts_changed();
    update();
}

QRectF PracticeSeries::field() const {
    return {double(scaled(64)), double(scaled(10)), width() - double(scaled(170)), height() - double(scaled(40))};
}

QPointF PracticeSeries::spot(std::size_t index, double value) const {
    const QRectF at = field();
    const auto count = static_cast<double>(std::max<std::size_t>(8, values_.size() + later_.size()));
    return {at.left() + at.width() * (static_cast<double>(index) + 0.5) / count,
            at.bottom() - at.height() * (value - low_) / (high_ - low_)};
}

std::vector<PaintedPart> PracticeSeries::parts() const {
    std::vector<PaintedPart> out;
    constexpr double reach = 6;
    for (std::size_t i = 0; i < values_.size(); ++i) {
        const QPointF at = spot(i, values_[i]);
        out.push_back({QStringLiteral("%1 %2").arg(axis_).arg(i + 1),
                       QStringLiteral("%1 %2").arg(figures::plain(values_[i], 2), unit_),
                       QRectF(at.x() - reach, at.y() - reach, 2 * reach, 2 * reach), false, QAccessible::ListItem});
    }
    return out;
}

void PracticeSeries::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    const QRectF at = field();
    painter.fillRect(at, c.well);
    const double y = spot(0, limit_).y();
    painter.setPen(QPen(c.ink, 2));
    painter.drawLine(QPointF(at.left(), y), QPointF(at.right(), y));
    painter.setFont(type(13));
    painter.drawText(QRectF(at.right() + 6, y - scaled(10), scaled(100), scaled(20)), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("limit %1 %2").arg(figures::plain(limit_, 2), unit_));
    painter.setPen(c.muted);
    for (std::size_t i = 0; i < values_.size() + later_.size(); ++i) {
        const bool known = i < values_.size();
        const double value = known ? values_[i] : later_[i - values_.size()];
        const QPointF p = spot(i, value);
        painter.setPen(QPen(c.steel, 2));
        painter.setBrush(known ? QBrush(c.steel) : QBrush(c.surface));
        painter.drawEllipse(p, scaled(5), scaled(5));
        painter.setPen(c.muted);
        painter.drawText(QRectF(p.x() - scaled(20), at.bottom() + 2, scaled(40), scaled(18)), Qt::AlignCenter,
                         QString::number(i + 1));
        if (known) {
            painter.setPen(c.ink);
            painter.drawText(QRectF(p.x() - scaled(30), p.y() - scaled(24), scaled(60), scaled(18)), Qt::AlignCenter,
                             figures::plain(value, 2));
        }
    }
    painter.setPen(c.muted);
    painter.drawText(QRectF(at.right() + 6, at.bottom() + 2, scaled(90), scaled(18)), Qt::AlignLeft | Qt::AlignVCenter,
                     axis_);
}

} // namespace ingot::app
