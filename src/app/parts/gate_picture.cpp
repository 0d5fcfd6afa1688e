#include "app/parts/gate_picture.h"

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
constexpr double shown_mv = 25; // up and down from where they would meet
constexpr double to_mv = 1000;
double label_width() {
    return scaled(76);
}
} // namespace

GatePicture::GatePicture(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Gate before joining"));
}

void GatePicture::set(std::vector<BuildService::GateGroup> groups) {
    groups_ = std::move(groups);
    parts_changed();
    update();
}

void GatePicture::choose(int group) {
    chosen_ = group;
    parts_changed();
    update();
}

QSize GatePicture::sizeHint() const {
    return {scaled(700), scaled(128)};
}

QRectF GatePicture::column(int index) const {
    const double w = (width() - label_width()) / std::max<double>(1, static_cast<double>(groups_.size()));
    const double narrow = std::min<double>(w, scaled(92));
    return {label_width() + index * narrow, 0, narrow, static_cast<double>(height())};
}

std::vector<PaintedPart> GatePicture::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(groups_.size()); ++i) {
        const auto& group = groups_[static_cast<std::size_t>(i)];
        QStringList words{group.passes ? tr("may be joined") : tr("not yet")};
        if (group.plan)
            words << figures::volts(group.plan->common_v) << figures::amperes(group.plan->largest_a);
        if (!group.unread.empty())
            words << tr("%n units not read", nullptr, static_cast<int>(group.unread.size()));
        out.push_back({tr("Group %1").arg(i + 1), words.join(QStringLiteral(", ")), column(i), i + 1 == chosen_,
                       QAccessible::ListItem});
    }
    return out;
}

void GatePicture::draw_group(QPainter& painter, int index) const {
    const Colours& c = colours();
    const auto& group = groups_[static_cast<std::size_t>(index)];
    const QRectF at = column(index);
    const double head = scaled(24);
    const double band_height = scaled(46);
    const QRectF band(at.left(), head + 2, at.width(), band_height);
    if (index + 1 == chosen_) {
        painter.setPen(QPen(c.steel, hasFocus() ? 3 : 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(at.adjusted(1, 1, -1, -1));
    }
    painter.setFont(type(16, true));
    painter.setPen(c.ink);
    painter.drawText(QRectF(at.left(), 0, at.width() / 2, head), Qt::AlignRight | Qt::AlignVCenter,
                     QString::number(index + 1));
    const QPointF mark(at.center().x() + scaled(14), head / 2);
    if (group.passes) {
        painter.setPen(QPen(c.moss, 2));
        const double s = scaled(5);
        painter.drawPolyline(
            QPolygonF{{mark.x() - s, mark.y()}, {mark.x() - s / 3, mark.y() + s * 0.8}, {mark.x() + s, mark.y() - s}});
    } else if (group.unread.empty()) {
        draw_hazard(painter, mark, scaled(14));
    } else {
        draw_duty(painter, mark, scaled(16), Duty::rest_again);
    }
    painter.fillRect(band, c.well);
    if (group.plan && !group.plan->current_a.empty()) {
        painter.setPen(QPen(c.steel, 1));
        painter.drawLine(QPointF(band.left(), band.center().y()), QPointF(band.right(), band.center().y()));
        const auto& bring = group.plan->bring;
        const std::size_t n = group.plan->current_a.size();
        const double slot = (band.width() - 8) / static_cast<double>(n);
        for (std::size_t k = 0; k < n; ++k) {
            // What flows out of a unit tells how far above the others it stands.
            const double mv = group_mv(group, k);
            const double y = band.center().y() - std::clamp(mv / shown_mv, -1.0, 1.0) * (band_height / 2 - 3);
            const bool moves =
                std::any_of(bring.begin(), bring.end(), [&](const Bringing& b) { return b.member == k; });
            const double x = band.left() + 4 + slot * static_cast<double>(k);
            const double w = std::max(2.0, std::min<double>(slot - 2, scaled(12)));
            painter.fillRect(QRectF(x, y - 2, w, 4), moves ? c.plum : c.ink);
            if (std::fabs(mv) > shown_mv) { // off the scale
                painter.setPen(c.plum);
                painter.setFont(type(12, true));
                painter.drawText(
                    QRectF(at.left(), band.center().y() - scaled(8), at.width(), scaled(16)), Qt::AlignCenter,
                    QStringLiteral("%1%2").arg(mv > 0 ? QStringLiteral("+") : QString()).arg(mv, 0, 'f', 0));
            }
        }
    }
    painter.setFont(type(13, true));
    painter.setPen(c.ink);
    const double line = scaled(20);
    const QString volts = group.plan ? figures::plain(group.plan->common_v, 3) : tr("not read");
    painter.drawText(QRectF(at.left(), band.bottom() + 3, at.width(), line), Qt::AlignCenter, volts);
    painter.setFont(type(17, true));
    painter.setPen(group.passes || !group.plan ? c.ink : c.plum);
    painter.drawText(QRectF(at.left(), band.bottom() + line + 3, at.width(), line + 4), Qt::AlignCenter,
                     group.plan ? figures::plain(group.plan->largest_a, 2) : QStringLiteral("\u2013"));
}

double GatePicture::group_mv(const BuildService::GateGroup& group, std::size_t member) {
    return member < group.volts.size() ? (group.volts[member] - group.plan->common_v) * to_mv : 0;
}

void GatePicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setFont(type(12));
    painter.setPen(colours().muted);
    const double band_top = scaled(26);
    painter.drawText(QRectF(0, band_top - scaled(4), label_width() - 8, scaled(16)), Qt::AlignRight,
                     tr("+%1 mV").arg(shown_mv, 0, 'f', 0));
    painter.drawText(QRectF(0, band_top + scaled(34), label_width() - 8, scaled(16)), Qt::AlignRight,
                     QString(QChar(0x2212)) + tr("%1 mV").arg(shown_mv, 0, 'f', 0));
    painter.drawText(QRectF(0, band_top + scaled(51), label_width() - 8, scaled(20)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("meet at, V"));
    painter.drawText(QRectF(0, band_top + scaled(71), label_width() - 8, scaled(24)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("A if joined"));
    for (int i = 0; i < static_cast<int>(groups_.size()); ++i)
        draw_group(painter, i);
}

void GatePicture::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(groups_.size()); ++i)
        if (column(i).contains(event->position())) {
            choose(i + 1);
            emit chosen(i + 1);
        }
}

void GatePicture::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    const int wanted = chosen_ + step;
    if (step == 0 || wanted < 1 || wanted > static_cast<int>(groups_.size())) {
        Painted::keyPressEvent(event);
        return;
    }
    choose(wanted);
    emit chosen(wanted);
}

} // namespace ingot::app
