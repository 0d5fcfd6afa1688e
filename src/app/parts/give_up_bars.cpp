#include "app/parts/give_up_bars.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QPainter>

#include <algorithm>

namespace ingot::app {

GiveUpBars::GiveUpBars(QWidget* parent) : QWidget(parent) {
    setToolTip(tr("Conductance spread that is left at 0, 0.1, 0.5 and 1 % of the capacity traded"));
    setAccessibleName(tr("What giving up buys"));
}

void GiveUpBars::set(const std::array<std::optional<double>, 4>& spreads, int chosen) {
    spreads_ = spreads;
    chosen_ = chosen;
    QStringList described;
    for (const auto& spread : spreads_)
        described << (spread ? figures::percent(*spread) : tr("not searched"));
    setAccessibleDescription(described.join(QStringLiteral(", ")));
    update();
}

void GiveUpBars::clear() {
    set({}, chosen_);
}

void GiveUpBars::paintEvent(QPaintEvent* /*event*/) {
    double largest = 0;
    for (const auto& spread : spreads_)
        largest = std::max(largest, spread.value_or(0));
    if (largest <= 0)
        return;
    QPainter painter(this);
    const Colours& c = colours();
    const double w = width() / 4.0;
    const double text_height = scaled(16);
    const double room = height() - text_height - 2;
    painter.setFont(type(12));
    for (std::size_t i = 0; i < spreads_.size(); ++i) {
        const bool chosen = static_cast<int>(i) == chosen_;
        const double left = static_cast<double>(i) * w;
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(left + 4, room + 1), QPointF(left + w - 4, room + 1));
        painter.setPen(chosen ? c.ink : c.muted);
        painter.setFont(type(12, chosen));
        const QRectF text(left, height() - text_height, w, text_height);
        if (!spreads_[i]) {
            painter.drawText(text, Qt::AlignCenter, QStringLiteral("\u2026"));
            continue;
        }
        const double h = std::max(2.0, room * *spreads_[i] / largest);
        painter.fillRect(QRectF(left + scaled(10), room - h, w - scaled(20), h), chosen ? c.steel : c.steel_mid);
        painter.drawText(text, Qt::AlignCenter, figures::percent(*spreads_[i]));
    }
}

} // namespace ingot::app
