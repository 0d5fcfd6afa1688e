#include "app/parts/reading_boxes.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
constexpr int most_in_a_row = 9;
constexpr int gap = 8;
int tall() {
    return scaled(92);
}
int low() {
    return scaled(64);
}
} // namespace

ReadingBoxes::ReadingBoxes(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Reading round"));
}

int ReadingBoxes::rows() const {
    return std::max(1, (static_cast<int>(boxes_.size()) + most_in_a_row - 1) / most_in_a_row);
}

QSize ReadingBoxes::sizeHint() const {
    const int each = rows() == 1 ? tall() : low();
    return {scaled(400), rows() * each + (rows() - 1) * gap};
}

QRectF ReadingBoxes::box(int index) const {
    const int in_a_row = (static_cast<int>(boxes_.size()) + rows() - 1) / rows();
    const double w =
        std::min<double>(scaled(108), (width() - gap * (in_a_row - 1)) / static_cast<double>(std::max(1, in_a_row)));
    const int each = rows() == 1 ? tall() : low();
    const int row = index / in_a_row;
    return {(index % in_a_row) * (w + gap), static_cast<double>(row * (each + gap)), w, static_cast<double>(each)};
}

void ReadingBoxes::set(std::vector<ReadingBox> boxes) {
    const bool resize = boxes.size() != boxes_.size();
    boxes_ = std::move(boxes);
    if (resize)
        updateGeometry();
    parts_changed();
    update();
}

std::vector<PaintedPart> ReadingBoxes::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(boxes_.size()); ++i) {
        const ReadingBox& one = boxes_[static_cast<std::size_t>(i)];
        const QString value = i == active_ && !typed_.isEmpty() ? typed_
                              : one.value.isEmpty()             ? tr("not read")
                                                                : one.value;
        out.push_back({one.title, one.below.isEmpty() ? value : tr("%1, %2").arg(value, one.below), box(i),
                       i == active_, QAccessible::EditableText});
    }
    return out;
}

void ReadingBoxes::set_active(int index, const QString& typed) {
    active_ = index;
    typed_ = typed;
    if (index >= 0 && index < static_cast<int>(boxes_.size()))
        setAccessibleDescription(tr("%1: %2").arg(boxes_[static_cast<std::size_t>(index)].title, typed));
    parts_changed();
    update();
}

void ReadingBoxes::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    for (int i = 0; i < static_cast<int>(boxes_.size()); ++i) {
        const ReadingBox& b = boxes_[static_cast<std::size_t>(i)];
        const bool active = i == active_;
        const QRectF r = box(i).adjusted(1.5, 1.5, -1.5, -1.5);
        const bool one_row = rows() == 1;
        painter.setPen(QPen(active ? c.ember : (b.warned ? c.plum : c.hairline), active ? 3 : 1.5));
        painter.setBrush(b.value.isEmpty() && !active ? c.well : c.surface);
        painter.drawPath(cut_bottom_right(r, 10));
        const QRectF head(r.left(), r.top(), r.width(), scaled(one_row ? 28 : 22));
        if (active) {
            painter.fillRect(head, c.ember);
            painter.setPen(c.on_strong);
        } else {
            painter.setPen(c.muted);
        }
        painter.setFont(type(one_row ? 14 : 12, active));
        painter.drawText(head, Qt::AlignCenter, b.title);
        const QRectF middle(r.left(), head.bottom(), r.width(), scaled(36));
        painter.setPen(b.warned && !active ? c.plum : c.ink);
        painter.setFont(type(r.width() < scaled(80) ? 17 : (active ? 26 : 22), true));
        const QString shown = active && !typed_.isEmpty() ? typed_ : b.value;
        if (shown.isEmpty() && !active) {
            painter.setPen(QPen(c.muted, 1.5));
            painter.drawLine(QPointF(middle.center().x() - 20, middle.center().y()),
                             QPointF(middle.center().x() + 20, middle.center().y()));
        } else {
            painter.drawText(middle, Qt::AlignCenter, shown);
        }
        if (active) { // the caret
            const double w = QFontMetricsF(painter.font()).horizontalAdvance(shown);
            painter.setPen(QPen(c.ember, 2));
            const double x = middle.center().x() + w / 2 + 3;
            painter.drawLine(QPointF(x, middle.top() + 6), QPointF(x, middle.bottom() - 6));
        }
        if (one_row) {
            painter.setPen(b.warned ? c.plum : c.muted);
            painter.setFont(type(12, b.warned));
            painter.drawText(QRectF(r.left(), middle.bottom(), r.width(), scaled(20)), Qt::AlignCenter, b.below);
        }
    }
}

void ReadingBoxes::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(boxes_.size()); ++i)
        if (box(i).contains(event->position()))
            emit chosen(i);
}

} // namespace ingot::app
