#include "app/parts/tray_picture.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

TrayPicture::TrayPicture(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Tray"));
}

void TrayPicture::set(int columns, std::vector<Well> wells) {
    columns_ = std::max(columns, 1);
    wells_ = std::move(wells);
    if (chosen_ >= static_cast<int>(wells_.size()))
        chosen_ = -1;
    choose(chosen_);
    update();
}

std::vector<PaintedPart> TrayPicture::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(wells_.size()); ++i) {
        const Well& well = wells_[static_cast<std::size_t>(i)];
        out.push_back({tr("Well %1").arg(i + 1), well.text.isEmpty() ? tr("free") : well.spoken, well_at(i),
                       i == chosen_, QAccessible::ListItem});
    }
    return out;
}

void TrayPicture::choose(int well) {
    chosen_ = well >= 0 && well < static_cast<int>(wells_.size()) ? well : -1;
    const QString spoken = chosen_ < 0 ? QString() : wells_[static_cast<std::size_t>(chosen_)].spoken;
    setAccessibleDescription(spoken);
    parts_changed();
    update();
}

QRectF TrayPicture::well_at(int index) const {
    const int rows = (static_cast<int>(wells_.size()) + columns_ - 1) / columns_;
    const double side = std::min((width() - 2.0) / columns_, (height() - 2.0) / std::max(rows, 1));
    const int row = index / columns_;
    return {1 + (index % columns_) * side, 1 + row * side, side, side};
}

void TrayPicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    for (int i = 0; i < static_cast<int>(wells_.size()); ++i) {
        const Well& well = wells_[static_cast<std::size_t>(i)];
        const QRectF at = well_at(i).adjusted(1.5, 1.5, -1.5, -1.5);
        const bool here = i == chosen_;
        painter.setPen(QPen(here ? (hasFocus() ? c.steel : c.ink) : well.warned ? c.plum : c.hairline, here ? 3 : 1));
        if (well.gone && !here)
            painter.setPen(QPen(c.hairline, 1, Qt::DashLine));
        painter.setBrush(well.text.isEmpty() || well.gone ? c.well : well.warned ? c.plum_ground : c.surface);
        painter.drawEllipse(at);
        if (well.text.isEmpty())
            continue;
        painter.setPen(well.gone ? c.muted : well.warned ? c.plum : c.ink);
        QFont font = type(15, true); // never larger than its well
        font.setPixelSize(std::clamp(static_cast<int>(at.height() / 3.6), 9, font.pixelSize()));
        painter.setFont(font);
        painter.drawText(well.mark ? at.adjusted(0, 0, 0, -at.height() * 0.3) : at, Qt::AlignCenter, well.text);
        if (well.gone) {
            painter.drawLine(at.topLeft() + at.bottomRight() / 8,
                             at.bottomRight() - QPointF(at.width(), at.height()) / 8);
        } else if (well.mark)
            draw_duty(painter, {at.center().x(), at.bottom() - at.height() * 0.26}, at.height() * 0.28, *well.mark);
    }
}

void TrayPicture::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(wells_.size()); ++i)
        if (well_at(i).contains(event->position())) {
            choose(i);
            emit chosen_changed(i);
        }
}

void TrayPicture::keyPressEvent(QKeyEvent* event) {
    int to = chosen_;
    switch (event->key()) {
    case Qt::Key_Left:
        --to;
        break;
    case Qt::Key_Right:
    case Qt::Key_Space:
    case Qt::Key_Return:
    case Qt::Key_Enter:
        ++to;
        break;
    case Qt::Key_Up:
        to -= columns_;
        break;
    case Qt::Key_Down:
        to += columns_;
        break;
    default:
        if (const QString text = event->text(); text.size() == 1 && text[0].isLetter()) {
            emit key_pressed(text[0].toLower());
            return;
        }
        QWidget::keyPressEvent(event);
        return;
    }
    if (to >= 0 && to < static_cast<int>(wells_.size())) {
        choose(to);
        emit chosen_changed(to);
    }
}

} // namespace ingot::app
