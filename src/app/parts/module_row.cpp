#include "app/parts/module_row.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

ModuleRow::ModuleRow(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("Modules in their row"));
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

QSize ModuleRow::sizeHint() const {
    return {scaled(700), scaled(240)};
}
QSize ModuleRow::minimumSizeHint() const {
    return {scaled(360), scaled(150)};
}

void ModuleRow::set(std::vector<std::string> modules, std::vector<BarLook> bars) {
    modules_ = std::move(modules);
    bars_ = std::move(bars);
    chosen_ = std::min(chosen_, static_cast<int>(modules_.size()) - 1);
    parts_changed();
    update();
}

void ModuleRow::choose(int module) {
    chosen_ = std::clamp(module, -1, static_cast<int>(modules_.size()) - 1);
    parts_changed();
    update();
}

QRectF ModuleRow::module(int index) const {
    const double left = scaled(44);
    const double each = (width() - 2 * left) / std::max<double>(1, static_cast<double>(modules_.size()));
    const double top = scaled(48);
    return {left + index * each + 1, top, each - 2, height() - top - scaled(66)};
}

// The back is above, the front below.
QPointF ModuleRow::pole(int index, bool plus) const {
    const QRectF at = module(index);
    const bool front = plus == plus_in_front(index);
    return {at.center().x(), front ? at.bottom() - scaled(12) : at.top() + scaled(12)};
}

std::vector<PaintedPart> ModuleRow::parts() const {
    std::vector<PaintedPart> out;
    const int count = static_cast<int>(modules_.size());
    for (int i = 0; i < count; ++i) {
        QString value = plus_in_front(i) ? tr("plus to the front") : tr("plus to the back");
        if (i + 1 < count)
            value += plus_in_front(i) ? tr(", bar to module %1 on the front").arg(i + 2)
                                      : tr(", bar to module %1 on the back").arg(i + 2);
        if (i == 0)
            value += tr(", the minus lead leaves it");
        if (i + 1 == count)
            value += tr(", the plus lead leaves it");
        out.push_back(
            {tr("Module %1, %2").arg(i + 1).arg(QString::fromStdString(modules_[static_cast<std::size_t>(i)])), value,
             module(i), i == chosen_, QAccessible::ListItem});
    }
    return out;
}

void ModuleRow::draw_bars(QPainter& painter) const {
    const Colours& c = colours();
    for (int i = 0; i + 1 < static_cast<int>(modules_.size()); ++i) {
        const QPointF from = pole(i, true);
        const QPointF to = pole(i + 1, false);
        const auto b = static_cast<std::size_t>(i);
        const BarLook look = b < bars_.size() ? bars_[b] : BarLook::waiting;
        const double tall = scaled(10);
        const QRectF bar(from.x() - scaled(5), from.y() - tall / 2, to.x() - from.x() + scaled(10), tall);
        painter.setPen(QPen(look == BarLook::now ? c.ember : c.ink, look == BarLook::now ? 2.5 : 1.2));
        painter.setBrush(look == BarLook::done ? QBrush(c.steel_mid) : QBrush(c.surface));
        painter.drawRoundedRect(bar, 3, 3);
        if (look == BarLook::waiting) {
            painter.setBrush(hatch(c.hairline));
            painter.drawRoundedRect(bar, 3, 3);
        }
    }
}

void ModuleRow::paintEvent(QPaintEvent* /*event*/) {
    if (modules_.empty())
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    const int count = static_cast<int>(modules_.size());
    const QRectF first = module(0);
    const QRectF last = module(count - 1);
    for (const double x : {first.left() - scaled(14), last.right() + scaled(2)}) // the end plates
        painter.fillRect(QRectF(x, first.top() - scaled(6), scaled(12), first.height() + scaled(12)), c.muted);
    for (int i = 0; i < count; ++i) {
        const QRectF at = module(i);
        painter.setPen(QPen(i == chosen_ ? c.steel : c.ink, i == chosen_ ? 3 : 1.2));
        painter.setBrush(i == chosen_ ? c.steel_ground : c.surface);
        painter.drawRect(at);
        painter.setPen(c.ink);
        painter.setFont(type(13, true));
        painter.drawText(at, Qt::AlignCenter, QString::number(i + 1));
    }
    draw_bars(painter);
    painter.setFont(type(14, true));
    for (int i = 0; i < count; ++i)
        for (const bool plus : {true, false}) {
            const QPointF at = pole(i, plus);
            const bool below = at.y() > module(i).center().y();
            painter.setPen(c.ink);
            painter.drawText(QRectF(at.x() - scaled(10), below ? module(i).bottom() + 1 : module(i).top() - scaled(19),
                                    scaled(20), scaled(18)),
                             Qt::AlignCenter, plus ? QStringLiteral("+") : QString(QChar(0x2212)));
        }
    // Sense leads, 0 first: one at the minus, then at each plus.
    painter.setFont(type(11));
    painter.setPen(c.muted);
    const double each = module(0).width();
    const int every = each >= scaled(18) ? 1 : 5;
    for (int lead = 0; lead <= count; lead += every) {
        const QPointF at = lead == 0 ? pole(0, false) : pole(lead - 1, true);
        const bool below = at.y() > module(0).center().y();
        painter.drawText(QRectF(at.x() - scaled(12),
                                below ? module(0).bottom() + scaled(17) : module(0).top() - scaled(33), scaled(24),
                                scaled(16)),
                         Qt::AlignCenter, QString::number(lead));
    }
    painter.setFont(type(12));
    painter.drawText(QRectF(0, 0, width(), scaled(16)), Qt::AlignLeft, tr("back; small figures: sense leads, 0 first"));
    painter.drawText(QRectF(0, height() - double(scaled(16)), width(), scaled(16)), Qt::AlignLeft,
                     tr("front; the minus lead leaves at module 1, the plus lead at module %1").arg(count));
    if (chosen_ >= 0)
        painter.drawText(QRectF(0, height() - double(scaled(16)), width(), scaled(16)), Qt::AlignRight,
                         QString::fromStdString(modules_[static_cast<std::size_t>(chosen_)]));
}

void ModuleRow::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(modules_.size()); ++i)
        if (module(i).contains(event->position())) {
            choose(i);
            emit module_chosen(i);
        }
}

void ModuleRow::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step == 0 || modules_.empty()) {
        Painted::keyPressEvent(event);
        return;
    }
    choose(std::clamp(chosen_ + step, 0, static_cast<int>(modules_.size()) - 1));
    emit module_chosen(chosen_);
}

} // namespace ingot::app
