#include "app/parts/figure_boxes.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
constexpr double box_gap = 7;

// The largest type, from `size` down to `smallest`, in which the words fit.
void set_fitting_type(QPainter& painter, const QString& words, double width, int size, int smallest, bool bold) {
    do
        painter.setFont(type(size, bold));
    while (QFontMetricsF(painter.font()).horizontalAdvance(words) > width && --size >= smallest);
}
} // namespace

FigureBoxes::FigureBoxes(const QString& name, QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(name);
}

void FigureBoxes::set(std::vector<FigureBox> boxes) {
    boxes_ = std::move(boxes);
    if (active_ >= static_cast<int>(boxes_.size()))
        active_ = -1;
    parts_changed();
    update();
}

void FigureBoxes::set_active(int index, const QString& typed) {
    active_ = index;
    typed_ = typed;
    if (index >= 0 && index < static_cast<int>(boxes_.size()))
        setAccessibleDescription(tr("%1: %2").arg(boxes_[static_cast<std::size_t>(index)].title, typed));
    parts_changed();
    update();
}

QSize FigureBoxes::sizeHint() const {
    return {scaled(500), scaled(52)};
}

QRectF FigureBoxes::box(int index) const {
    const auto count = static_cast<double>(std::max<std::size_t>(1, boxes_.size()));
    const double w = std::min<double>(scaled(120), (width() - box_gap * (count - 1)) / count);
    return {index * (w + box_gap), 0, w, static_cast<double>(height())};
}

std::vector<PaintedPart> FigureBoxes::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(boxes_.size()); ++i) {
        const FigureBox& one = boxes_[static_cast<std::size_t>(i)];
        const QString value = i == active_ && !typed_.isEmpty() ? typed_
                              : one.value.isEmpty()             ? tr("not known")
                                                                : one.value;
        out.push_back({one.title, one.unit.isEmpty() || one.value.isEmpty() ? value : tr("%1 %2").arg(value, one.unit),
                       box(i), i == active_, QAccessible::EditableText});
    }
    return out;
}

void FigureBoxes::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    for (int i = 0; i < static_cast<int>(boxes_.size()); ++i) {
        const FigureBox& b = boxes_[static_cast<std::size_t>(i)];
        const QRectF whole = box(i);
        const bool active = i == active_;
        painter.setPen(active ? c.steel : c.muted);
        set_fitting_type(painter, b.title, whole.width(), 12, 10, active);
        const double title_height = scaled(18);
        painter.drawText(QRectF(whole.left(), 0, whole.width(), title_height), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(b.title, Qt::ElideRight, whole.width()));
        const QRectF r = whole.adjusted(1.5, title_height + 1.5, -1.5, -1.5);
        painter.setPen(QPen(active ? c.steel : c.hairline, active ? 3 : 1.5));
        painter.setBrush(b.value.isEmpty() && !active ? c.well : c.surface);
        painter.drawPath(cut_bottom_right(r, 8));
        painter.setFont(type(13));
        const double unit_width = b.unit.isEmpty() ? 0 : QFontMetricsF(painter.font()).horizontalAdvance(b.unit) + 9;
        painter.setPen(c.muted);
        painter.drawText(r.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, b.unit);
        const QString shown = active && !typed_.isEmpty() ? typed_ : b.value;
        const QRectF field = r.adjusted(4, 0, -unit_width - 2, 0);
        if (shown.isEmpty() && !active) {
            painter.setPen(QPen(c.muted, 1.5));
            painter.drawLine(QPointF(field.center().x() - 8, field.center().y()),
                             QPointF(field.center().x() + 8, field.center().y()));
            continue;
        }
        painter.setPen(c.ink);
        set_fitting_type(painter, shown, field.width(), 20, 12, true); // a figure that is cut says another one
        painter.drawText(field, Qt::AlignRight | Qt::AlignVCenter, shown);
        if (active) { // the caret
            painter.setPen(QPen(c.steel, 2));
            painter.drawLine(QPointF(field.right() + 1, field.top() + 5),
                             QPointF(field.right() + 1, field.bottom() - 5));
        }
    }
}

void FigureBoxes::choose(int index) {
    if (index < 0 || index >= static_cast<int>(boxes_.size()))
        return;
    set_active(index);
    emit chosen(index);
}

void FigureBoxes::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(boxes_.size()); ++i)
        if (box(i).contains(event->position()))
            choose(i);
}

void FigureBoxes::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Left)
        choose(active_ - 1);
    else if (event->key() == Qt::Key_Right)
        choose(active_ + 1);
    else
        Painted::keyPressEvent(event);
}

void FigureBoxes::focusInEvent(QFocusEvent* event) {
    Painted::focusInEvent(event);
    if (active_ < 0)
        choose(0);
    update();
}

void FigureBoxes::focusOutEvent(QFocusEvent* event) {
    Painted::focusOutEvent(event);
    update();
}

} // namespace ingot::app
