#include "app/parts/window_bars.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <set>

namespace ingot::app {

namespace {

constexpr std::size_t most_designs = 6;

int row_height() {
    return scaled(33);
}
int head_height() {
    return scaled(34);
}
double axis_left() {
    return scaled(150);
}
double axis_width(const QWidget& widget) {
    return std::max<double>(120, widget.width() - scaled(150) - scaled(62) - scaled(232));
}

QColor verdict_colour(ConversionVerdict verdict) {
    switch (verdict) {
    case ConversionVerdict::keep:
    case ConversionVerdict::fits:
        return colours().moss_text;
    case ConversionVerdict::changes:
        return colours().brass_text;
    case ConversionVerdict::clash:
        break;
    }
    return colours().plum;
}

// A tick, an open square that asks for a change, the hazard's mark.
void draw_verdict(QPainter& painter, const QPointF& centre, ConversionVerdict verdict) {
    if (verdict == ConversionVerdict::clash) {
        draw_hazard(painter, centre, scaled(14));
        return;
    }
    painter.save();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(verdict_colour(verdict), 2));
    const double s = scaled(5);
    if (verdict == ConversionVerdict::changes)
        painter.drawRect(QRectF(centre.x() - s, centre.y() - s, 2 * s, 2 * s));
    else
        painter.drawPolyline(QPolygonF{{centre.x() - s, centre.y()},
                                       {centre.x() - s / 3, centre.y() + s * 0.8},
                                       {centre.x() + s, centre.y() - s}});
    painter.restore();
}

} // namespace

WindowBars::WindowBars(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Designs, their windows in volts"));
}

void WindowBars::set(const std::vector<ConversionDesign>& designs, const DeviceWindow& device,
                     const std::map<std::string, QString>& names, const std::string& own_chemistry, int own_series) {
    const ConversionDesign before = chosen() == nullptr ? ConversionDesign{} : *chosen();
    own_ = own_chemistry;
    own_series_ = own_series;
    device_ = device;
    names_ = names;
    designs_ = few(designs);
    low_v_ = 1e300;
    high_v_ = 0;
    for (const ConversionDesign& design : designs_) {
        low_v_ = std::min(low_v_, design.empty_v);
        high_v_ = std::max(high_v_, design.charge_v);
    }
    for (const auto& v : {device.off_v, device.bears_v, device.charger_v})
        if (v) {
            low_v_ = std::min(low_v_, *v);
            high_v_ = std::max(high_v_, *v);
        }
    if (designs_.empty()) {
        low_v_ = 0;
        high_v_ = 1;
    }
    const double margin = 0.06 * (high_v_ - low_v_);
    low_v_ = std::max(0.0, low_v_ - margin);
    high_v_ += margin;
    chosen_ = 0;
    for (int i = 0; i < rows(); ++i) {
        const ConversionDesign& design = designs_[static_cast<std::size_t>(i)];
        const bool wanted = before.chemistry.empty()
                                ? own(design)
                                : design.chemistry == before.chemistry && design.series == before.series;
        if (wanted)
            chosen_ = i;
    }
    updateGeometry();
    parts_changed();
    update();
}

// The old design, the build's own, the best of each chemistry, then the next best; in the order in which they came.
std::vector<ConversionDesign> WindowBars::few(const std::vector<ConversionDesign>& designs) const {
    std::set<std::size_t> taken;
    std::set<std::string> chemistries;
    for (std::size_t i = 0; i < designs.size(); ++i)
        if (designs[i].verdict == ConversionVerdict::keep || own(designs[i])) {
            taken.insert(i);
            chemistries.insert(designs[i].chemistry);
        }
    for (std::size_t i = 0; i < designs.size() && taken.size() < most_designs; ++i)
        if (chemistries.insert(designs[i].chemistry).second)
            taken.insert(i);
    for (std::size_t i = 0; i < designs.size() && taken.size() < most_designs; ++i)
        taken.insert(i);
    std::vector<ConversionDesign> out;
    out.reserve(taken.size());
    for (const std::size_t i : taken)
        out.push_back(designs[i]);
    return out;
}

const ConversionDesign* WindowBars::chosen() const {
    return chosen_ < rows() ? &designs_[static_cast<std::size_t>(chosen_)] : nullptr;
}

QString WindowBars::name(const ConversionDesign& design) const {
    const auto found = names_.find(design.chemistry);
    return tr("%1S %2")
        .arg(design.series)
        .arg(found == names_.end() ? QString::fromStdString(design.chemistry) : found->second);
}

QSize WindowBars::sizeHint() const {
    return {scaled(700), head_height() + std::max(1, rows()) * row_height() + scaled(22)};
}

QRectF WindowBars::row_at(int row) const {
    return {0, static_cast<double>(head_height() + row * row_height()), static_cast<double>(width()),
            static_cast<double>(row_height())};
}

double WindowBars::x_of(double volts) const {
    return axis_left() + axis_width(*this) * (volts - low_v_) / (high_v_ - low_v_);
}

std::vector<PaintedPart> WindowBars::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < rows(); ++i) {
        const ConversionDesign& design = designs_[static_cast<std::size_t>(i)];
        QStringList words{wording::conversion_verdict(design.verdict),
                          tr("%1 to %2").arg(figures::volts(design.empty_v, 1), figures::volts(design.full_v, 1))};
        for (const Clash& clash : design.clashes)
            words << wording::clash(clash, design, device_);
        out.push_back({name(design), words.join(QStringLiteral(", ")), row_at(i), i == chosen_, QAccessible::ListItem});
    }
    return out;
}

void WindowBars::draw_axis(QPainter& painter) const {
    const Colours& c = colours();
    const double top = head_height() - scaled(4);
    const double bottom = head_height() + rows() * row_height();
    painter.setFont(type(13));
    // Out of the device's reach.
    const double from = x_of(low_v_);
    const double to = x_of(high_v_);
    if (device_.off_v)
        painter.fillRect(QRectF(from, top, x_of(*device_.off_v) - from, bottom - top), hatch(c.hairline));
    if (device_.bears_v)
        painter.fillRect(QRectF(x_of(*device_.bears_v), top, to - x_of(*device_.bears_v), bottom - top),
                         hatch(c.hairline));
    painter.setPen(c.hairline);
    painter.drawLine(QPointF(from, bottom), QPointF(to, bottom));
    const double span = high_v_ - low_v_;
    double step = std::pow(10.0, std::floor(std::log10(span / 4)));
    constexpr double most_steps = 9;
    for (const double times : {1.0, 2.0, 5.0, 10.0})
        if (span / (step * times) <= most_steps) {
            step *= times;
            break;
        }
    painter.setPen(c.muted);
    for (double v = std::ceil(low_v_ / step) * step; v <= high_v_; v += step)
        painter.drawText(QRectF(x_of(v) - scaled(24), bottom + 2, scaled(48), scaled(18)), Qt::AlignHCenter,
                         figures::plain(v, step < 1 ? 1 : 0));
    painter.drawText(QRectF(to + 6, bottom + 2, scaled(20), scaled(18)), Qt::AlignLeft, tr("V"));
    const auto across = [&](double v, const QString& word, const QColor& colour, Qt::PenStyle style,
                            Qt::Alignment side) {
        painter.setPen(QPen(colour, style == Qt::SolidLine ? 2 : 1.5, style));
        painter.drawLine(QPointF(x_of(v), top), QPointF(x_of(v), bottom));
        painter.setPen(colour);
        painter.setFont(type(12, true));
        const double w = scaled(120);
        if (word.isEmpty()) // there is no room for it
            return;
        const QString text = tr("%1 %2").arg(word, figures::plain(v, 1));
        if (side == Qt::AlignRight)
            painter.drawText(QRectF(x_of(v) - w + 4, scaled(12), w, scaled(16)), Qt::AlignRight, text);
        else if (side == Qt::AlignHCenter) // no further right than where the next column begins
            painter.drawText(QRectF(std::min(x_of(v) - w / 2, to - w + scaled(16)), -1, w, scaled(16)),
                             x_of(v) - w / 2 > to - w + scaled(16) ? Qt::AlignRight : Qt::AlignHCenter, text);
        else
            painter.drawText(QRectF(x_of(v) - 4, scaled(12), w, scaled(16)), Qt::AlignLeft, text);
    };
    if (device_.off_v)
        across(*device_.off_v, tr("off"), c.ink, Qt::SolidLine, Qt::AlignRight);
    if (device_.bears_v)
        across(*device_.bears_v, tr("bears"), c.ink, Qt::SolidLine,
               x_of(*device_.bears_v) > (from + 2 * to) / 3 ? Qt::AlignRight : Qt::AlignLeft);
    const bool apart = !device_.charger_v || x_of(*device_.charger_v) - x_of(device_.nominal_v) > scaled(110);
    across(device_.nominal_v, apart ? tr("nominal") : QString(), c.muted, Qt::DashLine, Qt::AlignHCenter);
    if (device_.charger_v)
        across(*device_.charger_v, tr("charger"), c.plum, Qt::DashLine, Qt::AlignHCenter);
}

void WindowBars::draw_row(QPainter& painter, int row) const {
    const Colours& c = colours();
    const ConversionDesign& design = designs_[static_cast<std::size_t>(row)];
    const QRectF r = row_at(row).adjusted(0.5, 1, -0.5, -1);
    const bool is_chosen = row == chosen_;
    if (is_chosen) {
        painter.setPen(QPen(c.steel, hasFocus() ? 3 : 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(cut_bottom_right(r.adjusted(1, 0, -1, 0), 8));
    } else if (row > 0) {
        painter.setPen(c.hairline);
        painter.drawLine(r.topLeft(), r.topRight());
    }
    painter.setPen(c.ink);
    painter.setFont(type(14, true));
    painter.drawText(QRectF(6, r.top() + 2, axis_left() - 10, r.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(name(design), Qt::ElideRight, axis_left() - 12));
    painter.setFont(type(12));
    painter.setPen(c.muted);
    painter.drawText(QRectF(6, r.center().y(), axis_left() - 10, r.height() / 2 - 2), Qt::AlignLeft | Qt::AlignVCenter,
                     own(design)                                 ? tr("this build")
                     : design.verdict == ConversionVerdict::keep ? tr("what was in it")
                                                                 : tr("%1 full").arg(figures::volts(design.full_v, 1)));
    const double mid = r.top() + r.height() * 0.36;
    const double h = scaled(13);
    const QRectF rested(x_of(design.empty_v), mid - h / 2, x_of(design.full_v) - x_of(design.empty_v), h);
    painter.setPen(QPen(c.steel, 1.5));
    painter.setBrush(is_chosen ? c.steel : c.steel_mid);
    painter.drawRect(rested);
    if (design.charge_v > design.full_v) {
        painter.setBrush(c.surface);
        painter.drawRect(QRectF(rested.right(), rested.top(), x_of(design.charge_v) - rested.right(), h));
    }
    painter.setPen(QPen(is_chosen ? c.surface : c.ink, 2));
    painter.drawLine(QPointF(x_of(design.nominal_v), rested.top()), QPointF(x_of(design.nominal_v), rested.bottom()));
    if (device_.bears_v && design.charge_v > *device_.bears_v) {
        const double edge = std::max(x_of(*device_.bears_v), rested.left());
        painter.fillRect(QRectF(edge, rested.top(), x_of(design.charge_v) - edge, h), hatch(c.plum));
    }
    painter.setFont(type(12));
    painter.setPen(c.muted);
    const double below = rested.bottom() + 1;
    const auto number = [&](double v) {
        const double half = QFontMetricsF(painter.font()).horizontalAdvance(figures::plain(v, 1)) / 2 + 1;
        painter.fillRect(QRectF(x_of(v) - half, below + 2, 2 * half, scaled(12)), c.surface); // over the lines
        painter.drawText(QRectF(x_of(v) - scaled(22), below, scaled(44), scaled(15)), Qt::AlignHCenter,
                         figures::plain(v, 1));
    };
    number(design.empty_v);
    if (x_of(design.charge_v) - x_of(design.empty_v) > scaled(50))
        number(design.charge_v);
    // Each cell under the old charger.
    const double per_cell_left = axis_left() + axis_width(*this);
    if (design.charger_per_cell_v) {
        painter.setPen(c.ink);
        painter.setFont(type(16, true));
        painter.drawText(QRectF(per_cell_left, r.top(), scaled(56), r.height()), Qt::AlignRight | Qt::AlignVCenter,
                         figures::plain(*design.charger_per_cell_v, 2));
    }
    const double words = per_cell_left + scaled(80);
    draw_verdict(painter, {per_cell_left + scaled(69), r.top() + r.height() * 0.3}, design.verdict);
    painter.setPen(verdict_colour(design.verdict));
    painter.setFont(type(13, true));
    const double room = width() - words - 4;
    painter.drawText(
        QRectF(words, r.top() + 1, room, r.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
        QFontMetricsF(painter.font()).elidedText(wording::conversion_verdict(design.verdict), Qt::ElideRight, room));
    painter.setFont(type(12));
    painter.setPen(c.ink);
    const QString why =
        design.clashes.empty() ? tr("no clash") : wording::clash_in_short(design.clashes.front(), design);
    painter.drawText(QRectF(words, r.center().y() - 1, room, r.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(why, Qt::ElideRight, room));
}

void WindowBars::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (designs_.empty())
        return;
    draw_axis(painter);
    for (int i = 0; i < rows(); ++i)
        draw_row(painter, i);
    if (device_.charger_v) {
        painter.setPen(colours().muted);
        painter.setFont(type(12));
        painter.drawText(QRectF(axis_left() + axis_width(*this) - scaled(4), 0, scaled(62), head_height()),
                         Qt::AlignRight | Qt::AlignVCenter,
                         tr("a cell\nat %1").arg(figures::plain(*device_.charger_v, 1)));
    }
}

void WindowBars::choose(int row) {
    if (row < 0 || row >= rows() || row == chosen_)
        return;
    chosen_ = row;
    parts_changed();
    update();
    emit chosen_changed();
}

void WindowBars::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < rows(); ++i)
        if (row_at(i).contains(event->position()))
            choose(i);
}

void WindowBars::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Up)
        choose(chosen_ - 1);
    else if (event->key() == Qt::Key_Down)
        choose(chosen_ + 1);
    else
        Painted::keyPressEvent(event);
}

} // namespace ingot::app
