#include "app/parts/voltage_ladder.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ingot::app {

namespace {
double strip_height() {
    return scaled(44);
}
double left_margin() {
    return scaled(46);
}
double right_margin() {
    return scaled(150);
}
double foot() {
    return scaled(30);
}
} // namespace

VoltageLadder::VoltageLadder(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("Voltage ladder"));
}

void VoltageLadder::set(const Chemistry& chemistry, int cells_per_unit, std::vector<LadderGroup> groups,
                        TriageResult triage) {
    chemistry_ = chemistry;
    cells_ = cells_per_unit;
    groups_ = std::move(groups);
    triage_ = std::move(triage);
    QStringList described;
    for (std::size_t i = 0; i < groups_.size(); ++i)
        if (groups_[i].rest_v)
            described << tr("group %1: %2, %3")
                             .arg(i + 1)
                             .arg(figures::volts(*groups_[i].rest_v),
                                  wording::state(triage_.groups[i].state.value_or(GroupState::working)));
    setAccessibleDescription(described.join(QStringLiteral("; ")));
    parts_changed();
    update();
}

std::vector<PaintedPart> VoltageLadder::parts() const {
    std::vector<PaintedPart> out;
    for (std::size_t i = 0; i < groups_.size(); ++i) {
        QStringList values;
        const auto say = [&](const std::optional<double>& volts, const QString& when) {
            if (volts)
                values << tr("%1 %2").arg(figures::volts(*volts), when);
        };
        say(groups_[i].rest_v, wording::condition(Condition::rest));
        say(groups_[i].end_of_charge_v, wording::condition(Condition::end_of_charge));
        say(groups_[i].load_v, wording::condition(Condition::load));
        say(groups_[i].stored_v, wording::condition(Condition::stored));
        if (!groups_[i].units_v.empty())
            values << tr("%n units read by themselves", nullptr, static_cast<int>(groups_[i].units_v.size()));
        if (i < triage_.groups.size() && triage_.groups[i].state)
            values << wording::state(*triage_.groups[i].state);
        const int group = static_cast<int>(i) + 1;
        out.push_back({tr("Group %1").arg(group), values.isEmpty() ? tr("not read") : values.join(QStringLiteral(", ")),
                       column(group), group == selected_, QAccessible::ListItem});
    }
    return out;
}

void VoltageLadder::set_active(int group) {
    active_ = group;
    update();
}

void VoltageLadder::set_selected(int group) {
    selected_ = group;
    parts_changed();
    update();
}

QRectF VoltageLadder::plot() const {
    return {left_margin(), strip_height() + 8, width() - left_margin() - right_margin(),
            height() - strip_height() - 8 - foot()};
}

double VoltageLadder::y_of(double volts) const {
    const double top_v = chemistry_.bands.over_above_v * 1.11 * cells_;
    return plot().bottom() - std::clamp(volts, 0.0, top_v) / top_v * plot().height();
}

QRectF VoltageLadder::column(int group) const {
    const double w = plot().width() / static_cast<double>(std::max<std::size_t>(1, groups_.size()));
    return {plot().left() + (group - 1) * w, plot().top(), w, plot().height()};
}

void VoltageLadder::paint_bands(QPainter& painter) const {
    const Colours& c = colours();
    const auto& b = chemistry_.bands;
    struct Band {
        double low, high;
        GroupState state;
        QColor ground, text;
    };
    const double top_v = b.over_above_v * 1.11;
    QColor plum_ground = c.plum_ground;
    const Band bands[] = {{0, b.dead_below_v, GroupState::dead, c.surface, c.plum},
                          {b.dead_below_v, b.deep_below_v, GroupState::deep, plum_ground, c.plum},
                          {b.deep_below_v, b.low_below_v, GroupState::low, c.brass_ground, c.brass_text},
                          {b.low_below_v, b.working_up_to_v, GroupState::working, c.duty_store, c.moss_text},
                          {b.over_above_v, top_v, GroupState::over, c.surface, c.plum}};
    double last_label = 1e9;
    for (const Band& band : bands) {
        const double y0 = y_of(band.high * cells_);
        const double y1 = y_of(band.low * cells_);
        const QRectF area(plot().left(), y0, plot().width(), y1 - y0);
        painter.fillRect(area, band.ground);
        if (band.state == GroupState::dead || band.state == GroupState::over)
            painter.fillRect(area, hatch(c.hairline));
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(plot().left(), y1), QPointF(plot().right(), y1));
        painter.fillRect(QRectF(plot().right(), y0, scaled(8), y1 - y0), band.text);
        const double middle =
            std::min(last_label - 20, std::clamp((y0 + y1) / 2, plot().top() + 8, plot().bottom() - 8));
        last_label = middle;
        painter.setFont(type(14, true));
        painter.setPen(band.text);
        const QString word = wording::state(band.state);
        painter.drawText(QRectF(plot().right() + scaled(16), middle - scaled(11), scaled(70), scaled(22)),
                         Qt::AlignVCenter | Qt::AlignLeft, word);
        painter.setFont(type(12));
        painter.setPen(c.muted);
        const double word_width = QFontMetricsF(type(14, true)).horizontalAdvance(word) + 8;
        const QString range = band.state == GroupState::over ? tr("from %1").arg(figures::plain(band.low * cells_, 2))
                              : band.state == GroupState::dead
                                  ? tr("under %1").arg(figures::plain(band.high * cells_, 1))
                                  : QStringLiteral("%1 – %2").arg(figures::plain(band.low * cells_, 1),
                                                                  figures::plain(band.high * cells_, 1));
        painter.drawText(QRectF(plot().right() + scaled(16) + word_width, middle - scaled(11),
                                right_margin() - scaled(16) - word_width, scaled(22)),
                         Qt::AlignVCenter | Qt::AlignLeft, range);
    }
    painter.setFont(type(12));
    painter.setPen(c.muted);
    const double step = cells_ > 3 ? 2.0 : (chemistry_.bands.over_above_v < 2 ? 0.5 : 1.0);
    for (double v = 0; v <= top_v * cells_; v += step) {
        painter.drawText(QRectF(0, y_of(v) - scaled(9), left_margin() - scaled(10), scaled(18)),
                         Qt::AlignRight | Qt::AlignVCenter, figures::plain(v, step < 1 ? 1 : 0));
        painter.drawLine(QPointF(plot().left() - 6, y_of(v)), QPointF(plot().left(), y_of(v)));
    }
}

// The millivolts of a healthy pack, which the true axis hides.
void VoltageLadder::paint_strip(QPainter& painter) const {
    const Colours& c = colours();
    const QRectF strip(plot().left(), 2, plot().width(), strip_height() - 6);
    painter.fillRect(strip, c.well);
    painter.setPen(c.muted);
    painter.setFont(type(12));
    painter.drawText(QRectF(0, strip.top(), left_margin() - 6, strip.height()), Qt::AlignRight | Qt::AlignVCenter,
                     QStringLiteral("mV"));
    painter.setPen(QPen(c.steel, 1.5));
    painter.drawLine(QPointF(strip.left(), strip.center().y()), QPointF(strip.right(), strip.center().y()));
    painter.setPen(c.muted);
    painter.drawText(QRectF(strip.right() + scaled(16), strip.top(), right_margin() - scaled(16), strip.height()),
                     Qt::AlignVCenter | Qt::AlignLeft, tr("around the middle"));
    if (!triage_.median_v)
        return;
    constexpr double full_scale_mv = 40;
    for (std::size_t i = 0; i < groups_.size(); ++i) {
        if (!groups_[i].rest_v)
            continue;
        const double mv = (*groups_[i].rest_v - *triage_.median_v) * 1000 / cells_;
        const double y = strip.center().y() - std::clamp(mv / full_scale_mv, -1.0, 1.0) * (strip.height() / 2 - 6);
        const QRectF col = column(static_cast<int>(i) + 1);
        const QColor colour = triage_.groups[i].outlier ? c.plum : c.ink;
        if (std::fabs(mv) > full_scale_mv) { // off the strip: an arrow head on its edge
            QPainterPath head;
            const double d = mv > 0 ? -1 : 1;
            head.moveTo(col.center().x() - 7, y - d * 4);
            head.lineTo(col.center().x() + 7, y - d * 4);
            head.lineTo(col.center().x(), y + d * 5);
            head.closeSubpath();
            painter.fillPath(head, colour);
        } else {
            painter.fillRect(QRectF(col.center().x() - scaled(11), y - 3, scaled(22), 6), colour);
        }
    }
}

void VoltageLadder::paint_group(QPainter& painter, int group) const {
    const Colours& c = colours();
    const auto at = static_cast<std::size_t>(group - 1);
    const LadderGroup& g = groups_[at];
    const QRectF col = column(group);
    const bool narrow = col.width() < scaled(62);
    const double rung = scaled(narrow ? 12 : 20);
    const double x0 = col.center().x() - rung * 1.6;
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(QPointF(col.right(), col.top()), QPointF(col.right(), col.bottom()));
    const GroupFinding* finding = at < triage_.groups.size() ? &triage_.groups[at] : nullptr;
    const bool bad =
        finding != nullptr && (finding->outlier || (finding->state && *finding->state != GroupState::working));
    if (g.end_of_charge_v) {
        painter.setPen(QPen(c.ink, 1.5));
        painter.setBrush(c.surface);
        painter.drawRect(QRectF(x0, y_of(*g.end_of_charge_v) - 5, rung, scaled(10)));
    }
    if (g.rest_v)
        painter.fillRect(QRectF(x0 + rung * 1.1, y_of(*g.rest_v) - 5, rung, scaled(10)), bad ? c.plum : c.ink);
    else {
        painter.setPen(QPen(group == active_ ? c.ember : c.muted, 1.5, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(x0 + rung * 1.1, y_of(chemistry_.nominal_v() * cells_) - 5, rung, scaled(10)));
    }
    if (g.load_v) {
        painter.fillRect(QRectF(x0 + rung * 2.2, y_of(*g.load_v) - 5, rung * 0.42, scaled(10)), bad ? c.plum : c.ink);
        painter.fillRect(QRectF(x0 + rung * 2.78, y_of(*g.load_v) - 5, rung * 0.42, scaled(10)), bad ? c.plum : c.ink);
    }
    if (g.stored_v) { // a thin line across the column, where it stood after storage
        painter.setPen(QPen(bad ? c.plum : c.steel, 2));
        painter.drawLine(QPointF(x0, y_of(*g.stored_v)), QPointF(x0 + rung * 3.2, y_of(*g.stored_v)));
    }
    painter.setPen(QPen(c.steel, 2)); // its units, left of it
    for (const double volts : g.units_v)
        painter.drawLine(QPointF(x0 - rung * 0.5, y_of(volts)), QPointF(x0 + rung * 0.5, y_of(volts)));
    if (g.rest_v) {
        const bool under = y_of(*g.rest_v) + scaled(62) < plot().bottom();
        const double y = under ? y_of(*g.rest_v) + 8 : y_of(*g.rest_v) - scaled(66);
        painter.setPen(bad ? c.plum : c.ink);
        painter.setFont(type(narrow ? 13 : 19, true));
        const QString figure = figures::plain(*g.rest_v, cells_ > 3 ? 2 : 3);
        // Where columns are narrower than a figure, those stand there that are asked for or stand out.
        if (painter.fontMetrics().horizontalAdvance(figure) <= col.width() || bad || group == selected_)
            painter.drawText(QRectF(col.left() - scaled(8), y, col.width() + scaled(16), scaled(22)), Qt::AlignCenter,
                             figure);
        if (finding != nullptr && finding->from_median_v && !narrow) {
            painter.setPen(bad ? c.plum : c.muted);
            painter.setFont(type(13, bad));
            const double away = *finding->from_median_v;
            const QString text =
                std::fabs(away) >= 0.1
                    ? (away < 0 ? tr("%1\nbelow") : tr("%1\nabove")).arg(figures::volts(std::fabs(away)))
                    : figures::millivolts_signed(away);
            painter.drawText(QRectF(col.left() - scaled(8), y + scaled(22), col.width() + scaled(16), scaled(36)),
                             Qt::AlignHCenter | Qt::AlignTop, text);
            // How far it lies from the middle of the others.
            if (std::fabs(away) > 0.25 && triage_.median_v) {
                const double from = y_of(*g.rest_v - away);
                const double to = y_of(*g.rest_v) + (away < 0 ? -8 : 8);
                painter.setPen(QPen(c.plum, 1.5, Qt::DashLine));
                painter.drawLine(QPointF(col.left() + 6, from), QPointF(col.right() - 6, from));
                painter.setPen(QPen(c.plum, 2));
                const double x = col.right() - 14;
                painter.drawLine(QPointF(x, from), QPointF(x, to));
                QPainterPath head;
                const double d = away < 0 ? 1 : -1;
                head.moveTo(x - 5, to - d * 6);
                head.lineTo(x + 5, to - d * 6);
                head.lineTo(x, to + d * 2);
                head.closeSubpath();
                painter.fillPath(head, c.plum);
            }
        }
    }
    painter.setFont(type(17, true));
    const QRectF number(col.left(), plot().bottom() + 3, col.width(), foot() - 4);
    if (group == active_) {
        const QRectF tag(number.center().x() - 17, number.top(), 34, number.height());
        painter.fillPath(cut_bottom_right(tag, 7), c.ember);
        painter.setPen(c.on_strong);
    } else {
        painter.setPen(group == selected_ ? c.steel : c.ink);
    }
    painter.drawText(number, Qt::AlignCenter, QString::number(group));
}

void VoltageLadder::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (groups_.empty()) {
        painter.setPen(colours().muted);
        painter.setFont(type(15));
        painter.drawText(rect(), Qt::AlignCenter, tr("No pack is chosen."));
        return;
    }
    paint_bands(painter);
    paint_strip(painter);
    for (int g = 1; g <= static_cast<int>(groups_.size()); ++g)
        paint_group(painter, g);
    painter.setPen(colours().muted);
    painter.setFont(type(12));
    painter.drawText(QRectF(0, plot().bottom() + 4, left_margin() - 4, foot() - 6), Qt::AlignRight | Qt::AlignVCenter,
                     tr("– end"));
    painter.drawText(QRectF(plot().right() + scaled(16), plot().bottom() + 4, scaled(60), foot() - 6),
                     Qt::AlignLeft | Qt::AlignVCenter, tr("+ end"));
    if (selected_ > 0 && selected_ <= static_cast<int>(groups_.size())) {
        painter.setPen(QPen(colours().steel, 2));
        painter.setBrush(Qt::NoBrush);
        const QRectF col = column(selected_);
        painter.drawRect(QRectF(col.left(), 1, col.width(), height() - 2));
    }
}

void VoltageLadder::mousePressEvent(QMouseEvent* event) {
    for (int g = 1; g <= static_cast<int>(groups_.size()); ++g) {
        const QRectF col = column(g);
        if (event->position().x() >= col.left() && event->position().x() < col.right()) {
            set_selected(g);
            emit chosen(g);
        }
    }
}

void VoltageLadder::keyPressEvent(QKeyEvent* event) {
    const int count = static_cast<int>(groups_.size());
    const int step = event->key() == Qt::Key_Right ? 1 : (event->key() == Qt::Key_Left ? -1 : 0);
    if (step == 0 || count == 0) {
        QWidget::keyPressEvent(event);
        return;
    }
    set_selected(std::clamp(selected_ + step, 1, count));
    emit chosen(selected_);
}

} // namespace ingot::app
