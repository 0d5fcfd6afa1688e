#include "app/parts/due_board.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
double due_head() {
    return scaled(20);
}
double chip_pitch() {
    return scaled(23);
}
} // namespace

DueBoardView::DueBoardView(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Shelves by when they are to be read"));
}

QSize DueBoardView::sizeHint() const {
    return {scaled(420), static_cast<int>(due_head() + chip_pitch() * most_in_column)};
}

void DueBoardView::set(std::vector<QString> columns, std::vector<DueChip> chips) {
    const bool had = chosen_ >= 0 && chosen_ < static_cast<int>(chips_.size());
    const DueChip before = had ? chips_[static_cast<std::size_t>(chosen_)] : DueChip();
    columns_ = std::move(columns);
    chips_ = std::move(chips);
    chosen_ = -1;
    for (std::size_t i = 0; had && i < chips_.size(); ++i)
        if (chips_[i].column == before.column && chips_[i].home == before.home)
            chosen_ = static_cast<int>(i);
    cursor_ = std::clamp(cursor_, 0, std::max(0, static_cast<int>(chips_.size()) - 1));
    parts_changed();
    update();
    if (had && chosen_ < 0)
        emit chosen_changed(); // its tray was read through
}

void DueBoardView::choose(int chip) {
    chosen_ = chip == chosen_ || chip < 0 || chip >= static_cast<int>(chips_.size()) ? -1 : chip;
    parts_changed();
    update();
    emit chosen_changed();
}

QRectF DueBoardView::column(int index) const {
    const double w = width() / static_cast<double>(std::max<std::size_t>(1, columns_.size()));
    return {index * w, 0, w, static_cast<double>(height())};
}

int DueBoardView::place_in_column(int index) const {
    int place = 0;
    for (int i = 0; i < index; ++i)
        place += chips_[static_cast<std::size_t>(i)].column == chips_[static_cast<std::size_t>(index)].column ? 1 : 0;
    return place;
}

QRectF DueBoardView::chip_at(int index) const {
    const int place = place_in_column(index);
    const QRectF at = column(chips_[static_cast<std::size_t>(index)].column);
    return {at.left() + 2, due_head() + place * chip_pitch(), at.width() - 8, chip_pitch() - 3};
}

std::vector<PaintedPart> DueBoardView::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(chips_.size()); ++i) {
        const DueChip& chip = chips_[static_cast<std::size_t>(i)];
        out.push_back({tr("%1, %2").arg(columns_[static_cast<std::size_t>(chip.column)], chip.home),
                       tr("%n units", nullptr, chip.units), chip_at(i), i == chosen_, QAccessible::Button});
    }
    return out;
}

void DueBoardView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    for (int i = 0; i < static_cast<int>(columns_.size()); ++i) {
        const QRectF at = column(i);
        int trays = 0;
        for (const DueChip& chip : chips_)
            trays += chip.column == i ? 1 : 0;
        painter.setFont(type(13, i == 0 && trays > 0));
        painter.setPen(i == 0 && trays > 0 ? c.ember_text : c.muted);
        painter.drawText(QRectF(at.left() + 2, 0, at.width() - 6, due_head()), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font())
                             .elidedText(columns_[static_cast<std::size_t>(i)], Qt::ElideRight, at.width() - 6));
        if (i > 0) {
            painter.setPen(QPen(c.hairline, 1));
            painter.drawLine(QPointF(at.left() - 3, 4), QPointF(at.left() - 3, at.bottom() - 4));
        }
    }
    for (int i = 0; i < static_cast<int>(chips_.size()); ++i) {
        const QRectF at = chip_at(i);
        const DueChip& chip = chips_[static_cast<std::size_t>(i)];
        const bool chosen = i == chosen_;
        const bool hand = chip.column == 0;
        painter.setPen(QPen(hasFocus() && i == cursor_ ? c.ink : hand ? c.ember : c.steel, chosen ? 2.5 : 1.2));
        painter.setBrush(chosen ? c.steel_ground : hand ? c.ember_ground : c.surface);
        painter.drawPath(cut_bottom_right(at, 6));
        painter.setPen(c.ink);
        painter.setFont(type(13, chosen));
        const QString count = QString::number(chip.units);
        const double count_w = QFontMetricsF(painter.font()).horizontalAdvance(count) + 8;
        painter.drawText(at.adjusted(6, 0, -count_w, 0), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(chip.home, Qt::ElideRight, at.width() - count_w - 8));
        painter.drawText(at.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, count);
    }
    if (chips_.empty()) {
        painter.setPen(c.muted);
        painter.setFont(type(14));
        painter.drawText(QRectF(4, due_head(), width() - 8, height() - due_head()), Qt::AlignLeft | Qt::AlignTop,
                         tr("No reading is due."));
    }
}

void DueBoardView::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(chips_.size()); ++i)
        if (chip_at(i).contains(event->position())) {
            cursor_ = i;
            choose(i);
            return;
        }
}

// Left and right, up and down walk the chips; Space begins the walk.
void DueBoardView::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(chips_.size()) - 1;
    switch (event->key()) {
    case Qt::Key_Right:
    case Qt::Key_Down:
        cursor_ = std::clamp(cursor_ + 1, 0, std::max(0, last));
        update();
        return;
    case Qt::Key_Left:
    case Qt::Key_Up:
        cursor_ = std::clamp(cursor_ - 1, 0, std::max(0, last));
        update();
        return;
    case Qt::Key_Space:
        if (last >= 0)
            choose(cursor_);
        return;
    default:
        Painted::keyPressEvent(event);
    }
}

} // namespace ingot::app
