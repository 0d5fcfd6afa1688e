#include "app/parts/conditioning_view.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/bench_wording.h"
#include "workshop/figures.h"
#include "workshop/triage_wording.h"

#include <QKeyEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {

double list_w() {
    return scaled(318);
}
double row_h() {
    return scaled(34);
}

// Level, low band, high band: the verdict's own shapes, not only its colour.
void draw_verdict(QPainter& painter, const QPointF& centre, ConditioningVerdict verdict) {
    const Colours& c = colours();
    switch (verdict) {
    case ConditioningVerdict::fit:
        painter.fillPath(trapezoid(centre, scaled(16)), c.moss);
        break;
    case ConditioningVerdict::replace: {
        const QRectF square(centre.x() - 6, centre.y() - 6, 12, 12);
        painter.setPen(QPen(c.ink, 1.5));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(square);
        painter.drawLine(square.topLeft(), square.bottomRight());
        painter.drawLine(square.topRight(), square.bottomLeft());
        break;
    }
    case ConditioningVerdict::keep_cycling:
        painter.setPen(QPen(c.brass, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(trapezoid(centre, scaled(16)));
        painter.setBrush(c.brass);
        painter.drawEllipse(centre + QPointF(0, 1), 1.5, 1.5);
        break;
    }
}

} // namespace

ConditioningView::ConditioningView(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Conditioning, worst first"));
}

void ConditioningView::set(std::vector<ConditioningRow> rows) {
    const Id unit = chosen() == nullptr ? 0 : chosen()->unit;
    rows_ = std::move(rows);
    chosen_ = -1;
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].unit == unit)
            chosen_ = static_cast<int>(i);
    if (chosen_ < 0 && !rows_.empty())
        chosen_ = 0;
    first_ = std::clamp(first_, 0, std::max(0, static_cast<int>(rows_.size()) - visible()));
    update();
}

std::vector<PaintedPart> ConditioningView::parts() const {
    std::vector<PaintedPart> out;
    for (int i = first_; i < std::min(static_cast<int>(rows_.size()), first_ + visible()); ++i) {
        const ConditioningRow& row = rows_[static_cast<std::size_t>(i)];
        out.push_back({QString::fromStdString(row.code), wording::conditioning_verdict(row.result.verdict), row_at(i),
                       i == chosen_, QAccessible::ListItem});
    }
    return out;
}

void ConditioningView::choose(Id unit) {
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].unit == unit && static_cast<int>(i) != chosen_)
            choose_index(static_cast<int>(i));
}

void ConditioningView::choose_index(int index) {
    if (rows_.empty())
        return;
    chosen_ = std::clamp(index, 0, static_cast<int>(rows_.size()) - 1);
    first_ = std::clamp(first_, std::max(0, chosen_ - visible() + 1), chosen_);
    const ConditioningRow& row = rows_[static_cast<std::size_t>(chosen_)];
    setAccessibleDescription(QStringLiteral("%1: %2. %3")
                                 .arg(QString::fromStdString(row.code),
                                      wording::conditioning_verdict(row.result.verdict),
                                      wording::conditioning_reason(row.result, row.bar_ah)));
    emit chosen_changed(row.unit);
    update();
}

const ConditioningRow* ConditioningView::chosen() const {
    return chosen_ < 0 || chosen_ >= static_cast<int>(rows_.size()) ? nullptr
                                                                    : &rows_[static_cast<std::size_t>(chosen_)];
}

int ConditioningView::visible() const {
    return std::max(1, static_cast<int>(height() / row_h()));
}

QRectF ConditioningView::row_at(int index) const {
    return {0, (index - first_) * row_h(), list_w(), row_h() - 3};
}

void ConditioningView::paint_row(QPainter& painter, const ConditioningRow& row, const QRectF& at, bool here) const {
    const Colours& c = colours();
    painter.setPen(QPen(here ? c.steel : c.hairline, here ? 2.5 : 1));
    painter.setBrush(here ? c.steel_ground : c.surface);
    painter.drawPath(cut_top_left(at.adjusted(1, 1, -1, -1), 6));
    draw_verdict(painter, {at.left() + 18, at.center().y()}, row.result.verdict);
    painter.setFont(type(14, true));
    painter.setPen(c.ink);
    painter.drawText(QRectF(at.left() + scaled(34), at.top(), scaled(92), at.height()), Qt::AlignVCenter,
                     QString::fromStdString(row.code));
    // The cycles as small bars up to the bar.
    const QRectF bars(at.left() + 118, at.top() + 5, 64, at.height() - 10);
    const double top = std::max(row.bar_ah * 1.15, 0.1);
    const auto n = static_cast<int>(std::min<std::size_t>(row.cycles.size(), 10));
    for (int i = 0; i < n; ++i) {
        const ConditioningCycle& cycle = row.cycles[row.cycles.size() - static_cast<std::size_t>(n - i)];
        const double bar = bars.height() * std::min(1.0, cycle.capacity_ah / top);
        const QRectF column(bars.left() + i * 6, bars.bottom() - bar, 4.5, bar);
        if (cycle.full)
            painter.fillRect(column, c.steel);
        else
            painter.fillRect(column, hatch(c.muted));
    }
    painter.setPen(QPen(c.ink, 1));
    const double bar_y = bars.bottom() - bars.height() * row.bar_ah / top;
    painter.drawLine(QPointF(bars.left() - 2, bar_y), QPointF(bars.right(), bar_y));
    painter.setFont(type(12));
    painter.setPen(c.ink);
    painter.drawText(QRectF(at.left() + scaled(184), at.top(), list_w() - scaled(190), at.height()),
                     Qt::AlignVCenter | Qt::AlignRight,
                     row.result.verdict == ConditioningVerdict::keep_cycling
                         ? QStringLiteral("%1, %2").arg(wording::chance(row.result.pass_probability),
                                                        wording::conditioning_advice(row.result))
                         : wording::conditioning_advice(row.result));
}

void ConditioningView::paint_chart(QPainter& painter, const ConditioningRow& row, const QRectF& at) const {
    const Colours& c = colours();
    const ConditioningResult& r = row.result;
    const bool charges_known = std::any_of(row.charged_ah.begin(), row.charged_ah.end(),
                                           [](const std::optional<double>& ah) { return ah.has_value(); });
    const QRectF plot = at.adjusted(scaled(40), 4, -scaled(70), charges_known ? -scaled(38) : -scaled(22));
    double low = row.bar_ah;
    double high = row.bar_ah;
    for (const ConditioningCycle& cycle : row.cycles)
        if (cycle.full) {
            low = std::min(low, cycle.capacity_ah);
            high = std::max(high, cycle.capacity_ah);
        }
    for (const FittedPoint& p : r.curve) {
        low = std::min(low, p.capacity_ah);
        high = std::max(high, p.capacity_ah);
    }
    low = std::max(0.0, low - 0.12 * (high - low) - 0.05 * row.bar_ah);
    high += 0.15 * (high - low);
    const double last = r.curve.empty() ? static_cast<double>(row.cycles.size()) + 3 : r.curve.back().cycle;
    const auto x_of = [&](double n) { return plot.left() + plot.width() * (n - 0.5) / last; };
    const auto y_of = [&](double ah) {
        return plot.bottom() - plot.height() * (std::clamp(ah, low, high) - low) / (high - low);
    };
    painter.fillRect(plot, c.well);
    // The band of the climb, then the climb.
    if (r.curve.size() >= 2) {
        QPolygonF band;
        QPolygonF line;
        for (const FittedPoint& p : r.curve) {
            band << QPointF(x_of(p.cycle), y_of(p.high_ah));
            line << QPointF(x_of(p.cycle), y_of(p.capacity_ah));
        }
        for (auto p = r.curve.rbegin(); p != r.curve.rend(); ++p)
            band << QPointF(x_of(p->cycle), y_of(p->low_ah));
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.steel_ground);
        painter.drawPolygon(band);
        painter.setPen(QPen(c.steel, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(line);
    }
    const auto level_line = [&](double ah, const QPen& pen, const QString& words, const QColor& colour) {
        painter.setPen(pen);
        painter.drawLine(QPointF(plot.left(), y_of(ah)), QPointF(plot.right(), y_of(ah)));
        painter.setPen(colour);
        painter.setFont(type(12));
        painter.drawText(QRectF(plot.right() + 4, y_of(ah) - scaled(9), scaled(68), scaled(18)),
                         Qt::AlignLeft | Qt::AlignVCenter, words);
    };
    level_line(row.bar_ah, QPen(c.ink, 2), tr("limit %1").arg(figures::plain(row.bar_ah, 2)), c.ink);
    if (r.level_ah && std::fabs(y_of(*r.level_ah) - y_of(row.bar_ah)) > 15)
        level_line(*r.level_ah, QPen(c.brass, 1.5, Qt::DashLine), tr("plateau %1").arg(figures::plain(*r.level_ah, 2)),
                   c.brass_text);
    for (std::size_t i = 0; i < row.cycles.size(); ++i) {
        const ConditioningCycle& cycle = row.cycles[i];
        const QPointF spot(x_of(cycle.number), y_of(cycle.capacity_ah));
        const double weight = i < r.weight.size() ? r.weight[i] : 1;
        painter.setPen(QPen(c.ink, 1.5));
        painter.setBrush(weight > 0.5 ? QBrush(c.ink) : QBrush(c.surface));
        painter.drawEllipse(spot, 4, 4);
        if (!cycle.full) { // cut short: a tick above
            painter.drawLine(spot + QPointF(-5, -8), spot + QPointF(5, -8));
        }
    }
    painter.setFont(type(12));
    painter.setPen(c.muted);
    for (int n = 1; n <= static_cast<int>(last); n += last > 16 ? 2 : 1)
        painter.drawText(QRectF(x_of(n) - scaled(14), plot.bottom() + 3, scaled(28), scaled(16)), Qt::AlignHCenter,
                         QString::number(n));
    painter.drawText(QRectF(plot.right() + 4, plot.bottom() + 3, scaled(60), scaled(16)), Qt::AlignLeft, tr("cycle"));
    if (charges_known)
        paint_charges(painter, row, QRectF(plot.left(), plot.bottom() + scaled(19), plot.width(), scaled(16)), last);
    for (const double ah : {low, (low + high) / 2, high})
        painter.drawText(QRectF(at.left(), y_of(ah) - scaled(9), scaled(36), scaled(18)),
                         Qt::AlignRight | Qt::AlignVCenter, figures::plain(ah, 1));
}

// What went in before each cycle, under its number; what took all that was offered stands under a lid.
void ConditioningView::paint_charges(QPainter& painter, const ConditioningRow& row, const QRectF& at,
                                     double last) const {
    const double each = at.width() / last;
    const double figure_w = scaled(30);
    const int stride = std::max(1, static_cast<int>(std::ceil(figure_w / each)));
    for (std::size_t i = 0; i < row.charged_ah.size() && i < row.cycles.size(); ++i) {
        if (!row.charged_ah[i] || (row.cycles[i].number - 1) % stride != 0)
            continue;
        const double x = at.left() + each * (row.cycles[i].number - 0.5);
        const QRectF figure(x - figure_w / 2, at.top(), figure_w, at.height());
        painter.setPen(row.took_all[i] ? colours().ink : colours().muted);
        painter.drawText(figure, Qt::AlignHCenter, figures::plain(*row.charged_ah[i], 2));
        if (row.took_all[i])
            painter.drawLine(figure.topLeft() + QPointF(2, 1), figure.topRight() + QPointF(-2, 1));
    }
    painter.setPen(colours().muted);
    painter.drawText(QRectF(at.right() + 4, at.top(), scaled(66), at.height()), Qt::AlignLeft, tr("Ah put in"));
}

void ConditioningView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    if (rows_.empty()) {
        painter.setFont(type(15));
        painter.setPen(c.muted);
        painter.drawText(
            rect().adjusted(scaled(8), scaled(8), -scaled(8), -scaled(8)),
            Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
            tr("No unit is being cycled yet. Put a nickel module in a bay: its cycles appear here, with what "
               "they say about going on."));
        return;
    }
    for (int i = first_; i < std::min(static_cast<int>(rows_.size()), first_ + visible()); ++i)
        paint_row(painter, rows_[static_cast<std::size_t>(i)], row_at(i), i == chosen_);
    const ConditioningRow* row = chosen();
    if (row == nullptr)
        return;
    const QRectF side(list_w() + 14, 0, width() - list_w() - 14, height());
    painter.setFont(type(16, true));
    painter.setPen(c.ink);
    painter.drawText(
        QRectF(side.left(), side.top(), side.width(), scaled(24)), Qt::AlignLeft | Qt::AlignVCenter,
        tr("%1: %2").arg(QString::fromStdString(row->code), wording::conditioning_verdict(row->result.verdict)));
    painter.setFont(type(13));
    painter.setPen(c.muted);
    const auto known = std::count_if(row->charged_ah.begin(), row->charged_ah.end(),
                                     [](const std::optional<double>& ah) { return ah.has_value(); });
    const auto all = std::count(row->took_all.begin(), row->took_all.end(), true);
    const QString why =
        QStringList{wording::conditioning_reason(row->result, row->bar_ah), wording::rule_of_thumb(row->result),
                    wording::took_all(static_cast<int>(all), static_cast<int>(known))}
            .join(QLatin1Char(' '));
    const QRectF words(side.left(), side.top() + 24, side.width(), 52);
    painter.drawText(words, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, why);
    paint_chart(painter, *row, {side.left(), side.top() + 80, side.width(), side.height() - 80});
}

void ConditioningView::mousePressEvent(QMouseEvent* event) {
    for (int i = first_; i < static_cast<int>(rows_.size()); ++i)
        if (row_at(i).contains(event->position()))
            choose_index(i);
}

void ConditioningView::wheelEvent(QWheelEvent* event) {
    first_ = std::clamp(first_ - (event->angleDelta().y() > 0 ? 1 : -1), 0,
                        std::max(0, static_cast<int>(rows_.size()) - visible()));
    update();
}

void ConditioningView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Down)
        choose_index(chosen_ + 1);
    else if (event->key() == Qt::Key_Up)
        choose_index(chosen_ - 1);
    else
        QWidget::keyPressEvent(event);
}

} // namespace ingot::app
