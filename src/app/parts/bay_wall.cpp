#include "app/parts/bay_wall.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/bench_wording.h"
#include "workshop/figures.h"

#include <QDateTime>
#include <QKeyEvent>
#include <QLocale>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

constexpr int tall_most = 8;
double bay_gap() {
    return scaled(7);
}
constexpr double ms_per_hour = 3'600'000;

bool hazard(const BayView& bay) {
    return bay.stop == bench::StepEnd::hot || bay.stop == bench::StepEnd::high_voltage;
}

QString left(double hours, double rate) {
    const auto minutes = static_cast<int>(std::lround(hours * 60 / std::max(rate, 1e-6)));
    return QStringLiteral("%1:%2").arg(minutes / 60).arg(minutes % 60, 2, 10, QLatin1Char('0'));
}

QString ends(double hours, double rate) {
    const QDateTime end =
        QDateTime::currentDateTime().addMSecs(static_cast<qint64>(hours / std::max(rate, 1e-6) * ms_per_hour));
    return end.date() == QDate::currentDate() ? end.toString(QStringLiteral("HH:mm"))
                                              : QLocale().toString(end, QStringLiteral("ddd HH:mm"));
}

QString word_of(const BayView& bay) {
    if (bay.look == BayLook::free && bay.silent)
        return BayWall::tr("Away");
    switch (bay.look) {
    case BayLook::free:
        return BayWall::tr("Free");
    case BayLook::waiting_to_start:
        return BayWall::tr("Starting");
    case BayLook::running:
        return bay.stop_asked ? BayWall::tr("Stopping")
               : bay.silent
                   ? BayWall::tr("No answer")
                   : wording::protocol_step(bay.protocol.steps[static_cast<std::size_t>(bay.position.step)].kind);
    case BayLook::lift_out:
        return BayWall::tr("Done");
    case BayLook::stopped:
        return BayWall::tr("Stopped");
    case BayLook::in_doubt:
        return BayWall::tr("In doubt");
    }
    return {};
}

} // namespace

BayWall::Dress BayWall::dress_of(const BayView& bay) {
    const Colours& c = colours();
    if (bay.look == BayLook::stopped && hazard(bay))
        return {c.plum, c.on_strong, c.plum, c.plum, c.plum_ground};
    if (bay.look == BayLook::lift_out || bay.look == BayLook::stopped || bay.look == BayLook::in_doubt)
        return {c.ember, c.on_strong, c.ember, c.ember_text, c.ember_ground};
    if (bay.look == BayLook::free)
        return {c.well, c.muted, c.hairline, c.muted, c.surface};
    return {c.well, c.ink, c.hairline, bay.silent ? c.brass_text : c.steel, c.surface};
}

BayWall::BayWall(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Bays of the tester"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void BayWall::set(const std::vector<BayView>* bays, double rate) {
    const std::size_t before = bays_ == nullptr ? 0 : bays_->size();
    bays_ = bays;
    rate_ = rate;
    if (bays_ == nullptr || chosen_ > static_cast<int>(bays_->size()))
        chosen_ = 0;
    if (bays_ != nullptr && bays_->size() != before)
        updateGeometry();
    if (chosen_ > 0)
        setAccessibleDescription(spoken((*bays_)[static_cast<std::size_t>(chosen_) - 1], rate_));
    parts_changed();
    update();
}

std::vector<PaintedPart> BayWall::parts() const {
    std::vector<PaintedPart> out;
    if (bays_ != nullptr)
        for (const BayView& bay : *bays_)
            out.push_back({tr("Bay %1").arg(bay.bay), spoken(bay, rate_), place_of(bay.bay), bay.bay == chosen_,
                           QAccessible::ListItem});
    return out;
}

void BayWall::choose(int bay) {
    chosen_ = bays_ != nullptr && bay >= 0 && bay <= static_cast<int>(bays_->size()) ? bay : 0;
    set(bays_, rate_);
}

bool BayWall::many() const {
    return bays_ != nullptr && static_cast<int>(bays_->size()) > tall_most;
}

QString BayWall::time_left(const BayView& bay) const {
    return left(bay.hours_left, rate_);
}

QSize BayWall::sizeHint() const {
    constexpr int tall = 262;
    return {720, many() ? columns_height() : tall};
}

QRectF BayWall::place_of(int bay) const {
    const int n = bays_ == nullptr ? 0 : static_cast<int>(bays_->size());
    if (bay < 1 || bay > n)
        return {};
    if (many())
        return column_place(bay);
    const double w = (width() - bay_gap() * (n - 1)) / n;
    return {(bay - 1) * (w + bay_gap()), 0, w, static_cast<double>(height())};
}

QString BayWall::spoken(const BayView& bay, double rate) {
    if (bay.look == BayLook::free)
        return bay.silent ? tr("Bay %1: its tester is away.").arg(bay.bay) : tr("Bay %1 is free.").arg(bay.bay);
    const QString code = QString::fromStdString(bay.code);
    if (bay.look == BayLook::lift_out)
        return tr("Bay %1, %2: done, lift it out.").arg(bay.bay).arg(code);
    if (bay.look == BayLook::stopped)
        return tr("Bay %1, %2: stopped, %3. %4")
            .arg(bay.bay)
            .arg(code, wording::step_end_word(bay.stop), wording::step_end(bay.stop));
    if (bay.look == BayLook::in_doubt)
        return tr("Bay %1, %2: in doubt. It was told to start and did not answer; current may flow.")
            .arg(bay.bay)
            .arg(code);
    return tr("Bay %1, %2: %3, %4, %5 left.")
        .arg(bay.bay)
        .arg(code, word_of(bay), figures::volts(bay.last.voltage_v), left(bay.hours_left, rate));
}

void BayWall::paintEvent(QPaintEvent* /*event*/) {
    if (bays_ == nullptr)
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (many()) {
        paint_columns(painter);
        return;
    }
    for (const BayView& bay : *bays_)
        paint_bay(painter, bay, place_of(bay.bay).adjusted(1.5, 1.5, -1.5, -1.5));
}

// One bay while it is painted: its place, its dress, and how far down it is written.
struct BayWall::Brush {
    QPainter& painter;
    const BayView& bay;
    QRectF at;
    Dress dress;
    double y = 0;
    [[nodiscard]] bool done() const { return bay.look == BayLook::lift_out; }
    [[nodiscard]] bool stopped() const { return bay.look == BayLook::stopped; }
    [[nodiscard]] bool free() const { return bay.look == BayLook::free; }
    [[nodiscard]] double x() const { return at.left() + 6; }
    [[nodiscard]] double width() const { return at.width() - 9; }

    void text(double top, double height, const QString& words, const QFont& font, const QColor& colour,
              Qt::Alignment side = Qt::AlignLeft) const {
        painter.setFont(font);
        painter.setPen(colour);
        painter.drawText(QRectF(x(), top, width(), height), side | Qt::AlignVCenter,
                         QFontMetricsF(font).elidedText(words, Qt::ElideRight, width()));
    }
    // A large figure with its unit, one line further down.
    void reading(const QString& value, const QString& unit, bool warned = false) {
        const QFont large = type(17, true);
        painter.setFont(large);
        painter.setPen(warned ? colours().plum : colours().ink);
        const double value_w = QFontMetricsF(large).horizontalAdvance(value);
        painter.drawText(QRectF(x(), y, width(), scaled(22)), Qt::AlignLeft | Qt::AlignVCenter, value);
        painter.setFont(type(12));
        painter.setPen(colours().muted);
        painter.drawText(QRectF(x() + value_w + 3, y + 2, width(), scaled(20)), Qt::AlignLeft | Qt::AlignVCenter, unit);
        y += 22;
    }
};

void BayWall::paint_bay(QPainter& painter, const BayView& bay, const QRectF& at) const {
    const Colours& c = colours();
    Brush brush{painter, bay, at, dress_of(bay)};
    const bool here = bay.bay == chosen_;
    const QPainterPath outline = cut_top_left(at, 9);
    painter.fillPath(outline, c.surface);
    painter.save();
    painter.setClipPath(outline);
    paint_head(brush);
    if (brush.free()) {
        brush.text(brush.y + 2, 20, word_of(bay), type(14), bay.silent ? c.brass_text : c.muted);
        if (!bay.silent) {
            brush.text(brush.y + 22, 20, tr("scan a unit,"), type(12), c.muted);
            brush.text(brush.y + 38, 20, tr("then B%1").arg(bay.bay), type(12), c.muted);
        }
    } else {
        brush.text(brush.y, 19, QString::fromStdString(bay.code), type(13, true), c.ink);
        brush.text(brush.y + 18, 18, word_of(bay), type(14, true), brush.dress.word);
        brush.y += 37;
        paint_tall(brush);
    }
    painter.restore();
    painter.setBrush(Qt::NoBrush);
    const bool hand = brush.done() || brush.stopped();
    painter.setPen(QPen(here ? c.steel : brush.dress.edge, here ? 3 : hand ? 2 : 1));
    painter.drawPath(outline);
}

// The bay's number, and its steps: done, under way, to come; at most six squares stand for all.
void BayWall::paint_head(Brush& brush) const {
    const BayView& bay = brush.bay;
    const QRectF& at = brush.at;
    const double head_h = scaled(32);
    QPainter& painter = brush.painter;
    painter.fillRect(QRectF(at.left(), at.top(), at.width(), head_h), brush.dress.head);
    brush.text(at.top(), head_h, QString::number(bay.bay), type(20, true), brush.dress.head_text);
    brush.y = at.top() + head_h + 3;
    if (brush.free() || bay.steps <= 0)
        return;
    const double beside = scaled(34); // the bay's number
    const double side = scaled(8);
    const int squares = std::clamp(static_cast<int>((at.width() - beside) / 10), 1, std::min(bay.steps, 6));
    double sx = at.right() - 6 - squares * (side + 2);
    const double progress = static_cast<double>(bay.done) / bay.steps * squares;
    for (int i = 0; i < squares; ++i, sx += side + 2) {
        const QRectF square(sx, at.top() + head_h / 2 - side / 2, side, side);
        painter.setPen(QPen(brush.dress.head_text, 1));
        painter.setBrush(i + 1 <= progress + 1e-9 ? QBrush(brush.dress.head_text) : Qt::NoBrush);
        painter.drawRect(square);
        if (i == static_cast<int>(progress) && bay.look == BayLook::running) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(brush.dress.head_text);
            painter.drawPolygon(QPolygonF{square.bottomLeft(), square.bottomRight(), square.topLeft()});
        }
    }
}

void BayWall::paint_tall(Brush& brush) const {
    const Colours& c = colours();
    const BayView& bay = brush.bay;
    const bool stopped = brush.stopped();
    brush.reading(figures::plain(bay.last.voltage_v, 3), tr("V"));
    brush.reading(figures::plain(bay.last.current_a, 2), tr("A"));
    brush.reading(figures::plain(brush.done() && bay.capacity_ah ? *bay.capacity_ah : bay.last.moved_ah, 3), tr("Ah"));
    brush.reading(figures::plain(bay.last.temperature_c, 1), QStringLiteral("\u00B0C"), hazard(bay) && stopped);
    const double foot_h = scaled(46);
    const QRectF& at = brush.at;
    paint_trace(brush.painter, bay, QRectF(brush.x(), brush.y + 2, brush.width(), at.bottom() - foot_h - brush.y - 6));
    const double y = at.bottom() - foot_h;
    if (brush.done() || stopped)
        brush.painter.fillRect(QRectF(at.left(), y, at.width(), foot_h), brush.dress.foot);
    if (brush.done()) {
        brush.text(y + 3, 22, tr("Lift out"), type(17, true), brush.dress.word);
        brush.text(y + 24, 18,
                   bay.verdict       ? wording::conditioning_verdict(*bay.verdict)
                   : bay.capacity_ah ? figures::unit_capacity(*bay.capacity_ah)
                                     : QString(),
                   type(13), c.muted);
    } else if (stopped) {
        if (hazard(bay))
            draw_hazard(brush.painter, {brush.x() + 8, y + 14}, 15);
        brush.painter.setFont(type(15, true));
        brush.painter.setPen(brush.dress.word);
        brush.painter.drawText(QRectF(brush.x() + (hazard(bay) ? scaled(20) : 0), y + 3, brush.width(), scaled(22)),
                               Qt::AlignLeft | Qt::AlignVCenter, wording::step_end_word(bay.stop));
        brush.text(y + 24, 18, hazard(bay) ? tr("out of use") : tr("see Evidence"), type(12), c.muted);
    } else {
        brush.text(y + 3, 22, tr("%1 left").arg(left(bay.hours_left, rate_)), type(15, true), c.ink);
        brush.text(y + 24, 18, tr("ends %1").arg(ends(bay.hours_left, rate_)), type(12), c.muted);
    }
}

void BayWall::paint_trace(QPainter& painter, const BayView& bay, const QRectF& at) const {
    const Colours& c = colours();
    const auto& points = bay.trace.points();
    if (at.height() < 16)
        return;
    painter.setPen(QPen(c.hairline, 1));
    painter.setBrush(c.well);
    painter.drawRect(at);
    if (points.size() < 2)
        return;
    double low = points.front().voltage_v;
    double high = low;
    for (const auto& p : points) {
        low = std::min(low, p.voltage_v);
        high = std::max(high, p.voltage_v);
    }
    if (bay.cutoff_v > 0)
        low = std::min(low, bay.cutoff_v);
    const double span = std::max(high - low, 0.05);
    const double t0 = points.front().time_s;
    const double t1 = std::max(points.back().time_s, t0 + 1);
    const auto spot = [&](const Trace::Point& p) {
        return QPointF(at.left() + 3 + (at.width() - 6) * (p.time_s - t0) / (t1 - t0),
                       at.bottom() - 4 - (at.height() - 8) * (p.voltage_v - low) / span);
    };
    if (bay.cutoff_v > 0) {
        const double y = at.bottom() - 4 - (at.height() - 8) * (bay.cutoff_v - low) / span;
        painter.setPen(QPen(c.muted, 1, Qt::DashLine));
        painter.drawLine(QPointF(at.left() + 2, y), QPointF(at.right() - 2, y));
    }
    QPainterPath path(spot(points.front()));
    for (const auto& p : points)
        path.lineTo(spot(p));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.steel, 1.5));
    painter.drawPath(path);
    const QPointF last = spot(points.back());
    painter.setPen(Qt::NoPen);
    painter.setBrush(bay.look == BayLook::stopped ? c.plum : c.ink);
    painter.drawRect(QRectF(last.x() - 2.5, last.y() - 2.5, 5, 5));
}

void BayWall::mousePressEvent(QMouseEvent* event) {
    if (bays_ == nullptr)
        return;
    for (const BayView& bay : *bays_)
        if (place_of(bay.bay).contains(event->position())) {
            choose(bay.bay);
            emit chosen_changed(bay.bay);
        }
}

void BayWall::mouseDoubleClickEvent(QMouseEvent* event) {
    mousePressEvent(event);
    if (chosen_ > 0)
        emit pressed(chosen_);
}

int BayWall::in_next_row(int bay, int step) const {
    if (!many())
        return bay + step * tall_most; // there is none
    const auto rows = tester_rows();
    for (std::size_t r = 0; r < rows.size(); ++r) {
        const bool here = bay >= rows[r].first && bay < rows[r].first + rows[r].count;
        const bool there = step > 0 ? r + 1 < rows.size() : r > 0;
        if (!here || !there)
            continue;
        const TesterRow& next = rows[step > 0 ? r + 1 : r - 1];
        return next.first + std::min(bay - rows[r].first, next.count - 1);
    }
    return bay;
}

void BayWall::keyPressEvent(QKeyEvent* event) {
    const int n = bays_ == nullptr ? 0 : static_cast<int>(bays_->size());
    int to = chosen_;
    switch (event->key()) {
    case Qt::Key_Left:
        --to;
        break;
    case Qt::Key_Right:
        ++to;
        break;
    case Qt::Key_Up:
        to = in_next_row(to, -1);
        break;
    case Qt::Key_Down:
        to = in_next_row(to, 1);
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_Space:
        if (chosen_ > 0)
            emit pressed(chosen_);
        return;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    if (to >= 1 && to <= n) {
        choose(to);
        emit chosen_changed(to);
    }
}

} // namespace ingot::app
