#include "app/parts/build_lanes.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

int lane_height() {
    return scaled(76);
}
int stock_height() {
    return scaled(92);
}
constexpr double words_share = 0.25; // of the width
constexpr double rack_share = 0.70;  // to here
constexpr double sums_share = 0.85;  // to here

// The sums are drawn from 97 to 106 % of what is wanted, all lanes alike.
constexpr double lowest_shown = 0.97;
constexpr double highest_shown = 1.06;

QString ah(double value) {
    return figures::plain(value, 2);
}

} // namespace

BuildLanes::BuildLanes(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Builds that want units, and who gets which"));
}

void BuildLanes::set(std::vector<double> capacities_ah, std::vector<BuildLane> lanes) {
    capacities_ah_ = std::move(capacities_ah);
    lanes_ = std::move(lanes);
    taken_.assign(capacities_ah_.size(), 0);
    for (const BuildLane& lane : lanes_)
        for (const std::size_t rank : lane.ranks)
            taken_.at(rank) = 1;
    if (chosen_ >= static_cast<int>(lanes_.size()))
        chosen_ = static_cast<int>(lanes_.size()) - 1;
    if (framed_ && *framed_ >= capacities_ah_.size())
        framed_.reset();
    updateGeometry();
    parts_changed();
    update();
}

void BuildLanes::choose(int lane) {
    if (lane == chosen_ || lane >= static_cast<int>(lanes_.size()))
        return;
    chosen_ = lane;
    parts_changed();
    update();
    emit chosen_changed();
}

void BuildLanes::frame(std::optional<std::size_t> rank) {
    framed_ = rank;
    update();
}

QSize BuildLanes::sizeHint() const {
    return {scaled(730), stock_height() + static_cast<int>(lanes_.size()) * lane_height()};
}

QSize BuildLanes::minimumSizeHint() const {
    return {scaled(480), sizeHint().height()};
}

QRectF BuildLanes::lane_at(int lane) const {
    return {0, static_cast<double>(stock_height() + lane * lane_height()), static_cast<double>(width()),
            static_cast<double>(lane_height())};
}

BuildLanes::Rack BuildLanes::rack_in(const QRectF& lane) const {
    Rack rack;
    rack.at = QRectF(lane.left() + width() * words_share, lane.top() + 7, width() * (rack_share - words_share) - 12,
                     lane.height() - 14);
    constexpr int rows = 6;
    const double narrowest = scaled(6);
    const auto units = static_cast<int>(capacities_ah_.size());
    const int widest = std::max(1, static_cast<int>(rack.at.width() / narrowest));
    constexpr int most_rows_of_marks = 9;
    rack.rows = std::max(rows, (units + widest - 1) / widest);
    rack.marks = rack.rows <= most_rows_of_marks;
    rack.columns = std::max(1, (units + rack.rows - 1) / rack.rows);
    return rack;
}

// Single units as marks; where they are too many, how much of each column is filled.
void BuildLanes::paint_units(QPainter& painter, const Rack& rack, const std::vector<char>& filled,
                             bool hollow_too) const {
    const Colours& c = colours();
    const double pitch = rack.at.width() / rack.columns;
    if (rack.marks) {
        const double row_height = rack.at.height() / rack.rows;
        const double base = std::min(pitch * 0.86, row_height * 1.2);
        for (std::size_t rank = 0; rank < filled.size(); ++rank) {
            if (filled[rank] == 0 && !hollow_too)
                continue;
            const std::size_t column = rank / static_cast<std::size_t>(rack.rows);
            const std::size_t row = rank % static_cast<std::size_t>(rack.rows);
            const QPointF centre(rack.at.left() + (static_cast<double>(column) + 0.5) * pitch,
                                 rack.at.bottom() - (static_cast<double>(row) + 0.5) * row_height);
            painter.setPen(QPen(c.steel, 1));
            painter.setBrush(filled[rank] != 0 ? QBrush(c.steel) : QBrush(Qt::NoBrush));
            painter.drawPath(trapezoid(centre, base));
            if (framed_ == rank) {
                painter.setPen(QPen(c.ink, 2));
                painter.setBrush(Qt::NoBrush);
                painter.drawRect(QRectF(centre.x() - pitch / 2, centre.y() - row_height / 2, pitch, row_height));
            }
        }
        return;
    }
    for (int column = 0; column < rack.columns; ++column) {
        const std::size_t from = static_cast<std::size_t>(column) * static_cast<std::size_t>(rack.rows);
        const std::size_t to = std::min(filled.size(), from + static_cast<std::size_t>(rack.rows));
        const auto taken = std::count(filled.begin() + static_cast<std::ptrdiff_t>(from),
                                      filled.begin() + static_cast<std::ptrdiff_t>(to), 1);
        const double share = static_cast<double>(taken) / rack.rows;
        const QRectF slot(rack.at.left() + column * pitch, rack.at.top(), pitch * 0.85, rack.at.height());
        if (hollow_too)
            painter.fillRect(slot, c.well);
        painter.fillRect(slot.adjusted(0, slot.height() * (1 - share), 0, 0), c.steel);
        if (framed_ && *framed_ >= from && *framed_ < to) {
            painter.setPen(QPen(c.ink, 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(slot);
        }
    }
}

void BuildLanes::paint_stock(QPainter& painter) const {
    const Colours& c = colours();
    const QRectF strip(0, 0, width(), stock_height() - scaled(20));
    painter.setPen(c.ink);
    painter.setFont(type(15, true));
    painter.drawText(strip.adjusted(0, 2, 0, 0), Qt::AlignLeft | Qt::AlignTop, tr("Stock"));
    painter.setFont(type(13));
    painter.drawText(strip.adjusted(0, scaled(23), 0, 0), Qt::AlignLeft | Qt::AlignTop,
                     tr("%n units, by capacity", nullptr, static_cast<int>(capacities_ah_.size())));
    painter.setPen(c.muted);
    const auto left = std::count(taken_.begin(), taken_.end(), 0);
    painter.drawText(strip.adjusted(0, scaled(41), 0, 0), Qt::AlignLeft | Qt::AlignTop,
                     tr("hollow: %1 left over").arg(left));
    const Rack rack = rack_in(strip);
    paint_units(painter, rack, taken_, true);
    painter.setFont(type(12));
    painter.setPen(c.muted);
    constexpr int ticks = 5;
    for (int i = 0; i < ticks && !capacities_ah_.empty(); ++i) {
        const auto rank = static_cast<std::size_t>(
            std::lround(static_cast<double>(capacities_ah_.size() - 1) * static_cast<double>(i) / (ticks - 1)));
        const std::size_t column = rank / static_cast<std::size_t>(rack.rows);
        const double x = rack.at.left() + (static_cast<double>(column) + 0.5) * rack.at.width() / rack.columns;
        const QString words = i == 0 ? tr("%1 Ah").arg(ah(capacities_ah_[rank])) : ah(capacities_ah_[rank]);
        const QRectF at(i == ticks - 1 ? x - 76 : x - 40, strip.bottom() - 4, 80, scaled(18));
        painter.drawText(at, (i == ticks - 1 ? Qt::AlignRight : Qt::AlignHCenter) | Qt::AlignTop, words);
    }
    const double sums = width() * rack_share;
    painter.drawText(QRectF(sums, strip.bottom() - 4, width() * (sums_share - rack_share), scaled(18)),
                     Qt::AlignLeft | Qt::AlignTop, tr("group sums"));
    painter.drawText(QRectF(0, strip.bottom() - 4, width() - 8, scaled(18)), Qt::AlignRight | Qt::AlignTop,
                     tr("usable Ah"));
    painter.setFont(type(12));
    painter.drawText(QRectF(sums, strip.top() + 4, width() - sums, strip.height()), Qt::AlignLeft | Qt::AlignTop,
                     tr("dashed: wanted\nline: at most\nhatch: what the builds above take"));
}

void BuildLanes::paint_sums(QPainter& painter, const BuildLane& lane, const QRectF& at) const {
    const Colours& c = colours();
    painter.fillRect(at, c.well);
    const double reference = lane.wanted_ah.value_or(lane.usable_ah);
    if (reference <= 0)
        return;
    const auto y_of = [&](double value) {
        const double share = (value / reference - lowest_shown) / (highest_shown - lowest_shown);
        return at.bottom() - std::clamp(share, 0.0, 1.0) * at.height();
    };
    if (lane.if_first_ah > lane.at_most_ah + 1e-9 && lane.at_most_ah > 0) {
        const double top = y_of(lane.if_first_ah);
        const double bottom = y_of(lane.at_most_ah);
        if (bottom - top > 1)
            painter.fillRect(QRectF(at.left(), top, at.width(), bottom - top), hatch(c.muted));
    }
    if (lane.wanted_ah) {
        painter.setPen(QPen(c.steel, 1.5, Qt::DashLine));
        painter.drawLine(QPointF(at.left(), y_of(*lane.wanted_ah)), QPointF(at.right(), y_of(*lane.wanted_ah)));
    }
    if (lane.at_most_ah > 0) {
        const double y = y_of(lane.at_most_ah);
        painter.setPen(QPen(c.ink, 2));
        painter.drawLine(QPointF(at.left(), y), QPointF(at.right(), y));
    }
    if (lane.sums_ah.empty())
        return;
    const double least = *std::min_element(lane.sums_ah.begin(), lane.sums_ah.end());
    const double pitch = at.width() / static_cast<double>(lane.sums_ah.size());
    const double base = std::clamp(pitch * 0.8, 2.0, static_cast<double>(scaled(12)));
    bool weakest_shown = false;
    for (std::size_t g = 0; g < lane.sums_ah.size(); ++g) {
        const bool weakest = !weakest_shown && lane.sums_ah[g] <= least + 1e-12;
        weakest_shown |= weakest;
        painter.setPen(Qt::NoPen);
        painter.setBrush(weakest ? c.brass : c.steel);
        painter.drawPath(trapezoid({at.left() + (static_cast<double>(g) + 0.5) * pitch, y_of(lane.sums_ah[g])}, base));
    }
}

void BuildLanes::paint_verdict(QPainter& painter, const BuildLane& lane, const QRectF& at) const {
    const Colours& c = colours();
    const double line = at.height() / 3;
    painter.setFont(type(13));
    painter.setPen(c.muted);
    if (lane.at_most_ah > 0)
        painter.drawText(QRectF(at.left(), at.top(), at.width(), line), Qt::AlignRight | Qt::AlignVCenter,
                         tr("at most %1").arg(ah(lane.at_most_ah)));
    painter.setPen(c.ink);
    painter.setFont(type(18, true));
    painter.drawText(QRectF(at.left(), at.top() + line, at.width(), line), Qt::AlignRight | Qt::AlignVCenter,
                     lane.usable_ah > 0 ? ah(lane.usable_ah) : QString(QChar(0x2013)));
    painter.setFont(type(13, true));
    const QRectF word(at.left(), at.top() + 2 * line, at.width(), line);
    const bool met = lane.state == BuildLane::State::met;
    painter.setPen(met ? c.moss_text : lane.state == BuildLane::State::searching ? c.muted : c.brass_text);
    painter.drawText(word, Qt::AlignRight | Qt::AlignVCenter, lane.verdict);
    const double s = scaled(11);
    const double x = word.right() - QFontMetricsF(painter.font()).horizontalAdvance(lane.verdict) - s - 5;
    const QRectF mark(x, word.center().y() - s / 2, s, s);
    painter.setBrush(Qt::NoBrush);
    if (met) {
        painter.setPen(QPen(c.moss, 2.5));
        painter.drawPolyline(QPolygonF{{mark.left(), mark.center().y()},
                                       {mark.left() + s * 0.35, mark.bottom() - 1},
                                       {mark.right(), mark.top() + 1}});
    } else if (lane.state != BuildLane::State::searching) {
        painter.setPen(QPen(c.brass, 1.5));
        painter.drawRect(mark);
    }
}

void BuildLanes::paint_lane(QPainter& painter, int index) const {
    const Colours& c = colours();
    const BuildLane& lane = lanes_[static_cast<std::size_t>(index)];
    const QRectF at = lane_at(index);
    if (index == chosen_) {
        painter.setPen(QPen(c.steel, hasFocus() ? 3 : 2));
        painter.setBrush(c.steel_ground);
        painter.drawRect(at.adjusted(1.5, 1.5, -1.5, -1.5));
    } else {
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(at.topLeft(), at.topRight());
    }
    const double number = scaled(26);
    const QRectF grip(at.left() + 8, at.top() + 10, number, number);
    painter.setPen(QPen(c.steel, 1.5));
    painter.setBrush(c.surface);
    painter.drawPath(cut_bottom_right(grip, 6));
    painter.setPen(c.steel);
    painter.setFont(type(15, true));
    painter.drawText(grip, Qt::AlignCenter, QString::number(index + 1));
    const double left = grip.right() + 8;
    const double room = at.left() + width() * words_share - left - 4;
    const auto line = [&](int row, const QString& words, const QFont& font, double shift) {
        painter.setFont(font);
        painter.drawText(QRectF(left + shift, at.top() + 8 + row * scaled(20), room - shift, scaled(20)),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(font).elidedText(words, Qt::ElideRight, room - shift));
    };
    painter.setPen(c.ink);
    line(0, lane.name, type(14, true), 0);
    line(1, lane.form, type(13), 0);
    line(2, lane.asks, type(13), scaled(20));
    draw_duty(painter, {left + scaled(8), at.top() + 8 + 2.5 * scaled(20)}, scaled(13), lane.duty);
    std::vector<char> own(capacities_ah_.size(), 0);
    for (const std::size_t rank : lane.ranks)
        own[rank] = 1;
    paint_units(painter, rack_in(at), own, false);
    paint_sums(painter, lane,
               QRectF(width() * rack_share, at.top() + 8, width() * (sums_share - rack_share), at.height() - 16));
    paint_verdict(painter, lane,
                  QRectF(width() * sums_share, at.top() + 6, width() * (1 - sums_share) - 8, at.height() - 12));
}

void BuildLanes::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    paint_stock(painter);
    for (int i = 0; i < static_cast<int>(lanes_.size()); ++i)
        paint_lane(painter, i);
}

std::vector<PaintedPart> BuildLanes::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(lanes_.size()); ++i) {
        const BuildLane& lane = lanes_[static_cast<std::size_t>(i)];
        QString value =
            tr("%1, %2, usable %3, %4")
                .arg(lane.form, lane.asks, lane.usable_ah > 0 ? tr("%1 Ah").arg(ah(lane.usable_ah)) : tr("nothing"),
                     lane.verdict);
        if (lane.at_most_ah > 0)
            value += tr(", at most %1 Ah").arg(ah(lane.at_most_ah));
        out.push_back({tr("%1: %2").arg(i + 1).arg(lane.name), value, lane_at(i), i == chosen_, QAccessible::ListItem});
    }
    return out;
}

void BuildLanes::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(lanes_.size()); ++i)
        if (lane_at(i).contains(event->position()))
            choose(i);
}

void BuildLanes::mouseDoubleClickEvent(QMouseEvent* event) {
    if (chosen_ >= 0 && lane_at(chosen_).contains(event->position()))
        emit entered();
}

void BuildLanes::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (event->modifiers() == Qt::NoModifier && step != 0 && !lanes_.empty()) {
        choose(std::clamp(chosen_ + step, 0, static_cast<int>(lanes_.size()) - 1));
        return;
    }
    if (chosen_ >= 0 && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)) {
        emit entered();
        return;
    }
    Painted::keyPressEvent(event);
}

} // namespace ingot::app
