#include "app/parts/pack_picture.h"

#include "app/theme/theme.h"

#include <QPainter>

#include <algorithm>

namespace ingot::app {

PackPicture::PackPicture(QWidget* parent) : QWidget(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void PackPicture::set(const PackLayout& layout, std::vector<QString> group_words, std::vector<bool> warned) {
    layout_ = layout;
    words_ = std::move(group_words);
    warned_ = std::move(warned);
    setAccessibleName(tr("%1 groups in series, %2 units in parallel").arg(layout.series).arg(layout.parallel));
    update();
}

void PackPicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    const double foot = words_.empty() ? 22 : 40;
    constexpr double signs = 2 * 42; // the poles stand outside
    const double w = std::min(96.0, (width() - signs) / layout_.series);
    const double left = (width() - w * layout_.series) / 2;
    const int shown = std::min(layout_.parallel, 12);
    const double d = std::clamp(std::min((height() - foot - 20) / shown, w * 0.72), 5.0, 44.0);
    const double top = std::max(8.0, (height() - foot - d * shown) / 2);
    const double middle = top + d * shown / 2;
    painter.setPen(QPen(c.ink, 3));
    painter.drawLine(QPointF(left - 20, middle), QPointF(left + w * layout_.series + 20, middle));
    painter.setFont(type(16, true));
    painter.drawText(QRectF(left - 40, middle - 24, 20, 20), Qt::AlignCenter, QStringLiteral("\u2212"));
    painter.drawText(QRectF(left + w * layout_.series + 20, middle - 24, 20, 20), Qt::AlignCenter, QStringLiteral("+"));
    for (int g = 0; g < layout_.series; ++g) {
        const auto at = static_cast<std::size_t>(g);
        const double x = left + w * (g + 0.5);
        const bool warned = at < warned_.size() && warned_[at];
        painter.setPen(QPen(warned ? c.plum : c.ink, 1.5));
        painter.setBrush(warned ? c.plum_ground : c.steel_ground);
        for (int k = 0; k < shown; ++k) {
            const QRectF cell(x - d / 2 + 1.5, top + k * d + 1.5, d - 3, d - 3);
            if (layout_.cells_per_tap() > 1) {
                painter.drawRect(cell);
                for (int n = 1; n < std::min(layout_.cells_per_tap(), 8); ++n) {
                    const double split = cell.left() + cell.width() * n / std::min(layout_.cells_per_tap(), 8);
                    painter.drawLine(QPointF(split, cell.top()), QPointF(split, cell.bottom()));
                }
            } else {
                painter.drawEllipse(cell);
            }
        }
        painter.setPen(c.muted);
        painter.setFont(type(w < 30 ? 10 : 13));
        painter.drawText(QRectF(x - w / 2, top + d * shown + 2, w, 18), Qt::AlignCenter, QString::number(g + 1));
        if (at < words_.size()) {
            painter.setPen(warned ? c.plum : c.ink);
            painter.setFont(type(w < 44 ? 10 : 13, true));
            painter.drawText(QRectF(x - w / 2 - 4, top + d * shown + 20, w + 8, 18), Qt::AlignCenter, words_[at]);
        }
    }
}

} // namespace ingot::app
