#include "app/parts/stated_picture.h"

#include "app/theme/theme.h"
#include "workshop/figures.h"

#include <QPainter>

namespace ingot::app {

StatedPicture::StatedPicture(QWidget* parent) : Painted(parent) {
    setAccessibleName(tr("How sure Ingot was, and how often it was right"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize StatedPicture::sizeHint() const {
    return {scaled(330), scaled(132)};
}
QSize StatedPicture::minimumSizeHint() const {
    return {scaled(240), scaled(132)};
}

void StatedPicture::set(const std::array<StatedBin, stated_bin_count>& bins) {
    bins_ = bins;
    parts_changed();
    update();
}

QRectF StatedPicture::field() const {
    return {double(scaled(44)), double(scaled(6)), width() - double(scaled(50)), height() - double(scaled(44))};
}

QRectF StatedPicture::column(std::size_t bin) const {
    const QRectF at = field();
    const double w = at.width() / static_cast<double>(stated_bin_count);
    return {at.left() + w * static_cast<double>(bin), at.top(), w, at.height()};
}

std::vector<PaintedPart> StatedPicture::parts() const {
    std::vector<PaintedPart> out;
    for (std::size_t b = 0; b < bins_.size(); ++b) {
        const StatedBin& bin = bins_[b];
        const QString value = bin.packs == 0 ? tr("no pack yet")
                                             : tr("%1 of %2 right, stated %3%4")
                                                   .arg(bin.right)
                                                   .arg(bin.packs)
                                                   .arg(figures::percent(bin.stated, 0),
                                                        bin.off() ? tr("; the packs say otherwise") : QString());
        out.push_back({tr("%1 to %2").arg(figures::percent(bin.low, 0), figures::percent(bin.high, 0)), value,
                       column(b), false, QAccessible::ListItem});
    }
    return out;
}

void StatedPicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = colours();
    const QRectF at = field();
    const auto y = [&](double share) { return at.bottom() - at.height() * share; };
    painter.setFont(type(12));
    for (const double share : {0.0, 0.5, 1.0}) {
        painter.setPen(c.hairline);
        painter.drawLine(QPointF(at.left(), y(share)), QPointF(at.right(), y(share)));
        painter.setPen(c.muted);
        painter.drawText(QRectF(0, y(share) - scaled(8), at.left() - 4, scaled(16)), Qt::AlignRight | Qt::AlignVCenter,
                         figures::percent(share, 0));
    }
    painter.drawText(QRectF(0, at.bottom() + scaled(18), at.left() - 4, scaled(17)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("said, %"));
    painter.setPen(QPen(c.steel, 1.4, Qt::DashLine)); // as often right as sure
    painter.drawLine(at.bottomLeft(), at.topRight());
    for (std::size_t b = 0; b < bins_.size(); ++b) {
        const StatedBin& bin = bins_[b];
        const QRectF place = column(b);
        painter.setPen(bin.packs > 0 ? c.ink : c.muted);
        painter.setFont(type(12, bin.off()));
        painter.drawText(QRectF(place.left(), at.bottom() + 2, place.width(), scaled(17)), Qt::AlignCenter,
                         bin.packs > 0 ? tr("%1 of %2").arg(bin.right).arg(bin.packs) : QString(QChar(0x2013)));
        constexpr double per_cent = 100;
        painter.setPen(c.muted);
        painter.setFont(type(12));
        painter.drawText(QRectF(place.left(), at.bottom() + scaled(18), place.width(), scaled(17)), Qt::AlignCenter,
                         figures::plain(bin.low * per_cent, 0) + QChar(0x2013) +
                             figures::plain(bin.high * per_cent, 0));
        if (bin.packs == 0)
            continue;
        const QColor colour = bin.off() ? c.plum : c.ink;
        const double x = place.center().x();
        const double half = scaled(9);
        painter.setPen(QPen(colour, 1.4)); // what so few packs allow
        painter.drawLine(QPointF(x, y(bin.share_low)), QPointF(x, y(bin.share_high)));
        painter.drawLine(QPointF(x - half / 2, y(bin.share_low)), QPointF(x + half / 2, y(bin.share_low)));
        painter.drawLine(QPointF(x - half / 2, y(bin.share_high)), QPointF(x + half / 2, y(bin.share_high)));
        painter.fillRect(QRectF(x - half, y(bin.share()) - 2.5, 2 * half, 5), colour);
    }
}

} // namespace ingot::app
