#include "app/parts/step_list.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

namespace {
int step_row_height() {
    return scaled(25);
}
QString state_word(StepLine::State state) {
    switch (state) {
    case StepLine::State::to_come:
        return StepList::tr("to come");
    case StepLine::State::part:
        return StepList::tr("partly done");
    case StepLine::State::now:
        return StepList::tr("now");
    case StepLine::State::done:
        return StepList::tr("done");
    }
    return {};
}
} // namespace

StepList::StepList(QWidget* parent) : Painted(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Steps of the build"));
}

void StepList::set(std::vector<StepLine> lines, int chosen) {
    const bool resize = lines.size() != lines_.size();
    lines_ = std::move(lines);
    chosen_ = chosen;
    if (resize)
        updateGeometry();
    parts_changed();
    update();
}

QSize StepList::sizeHint() const {
    return {scaled(290), static_cast<int>(lines_.size()) * step_row_height() + 2};
}

QRectF StepList::row(int index) const {
    return {0, static_cast<double>(index * step_row_height()), static_cast<double>(width()),
            static_cast<double>(step_row_height())};
}

std::vector<PaintedPart> StepList::parts() const {
    std::vector<PaintedPart> out;
    for (int i = 0; i < static_cast<int>(lines_.size()); ++i) {
        const StepLine& line = lines_[static_cast<std::size_t>(i)];
        out.push_back(
            {line.name,
             line.note.isEmpty() ? state_word(line.state) : tr("%1, %2").arg(state_word(line.state), line.note), row(i),
             i == chosen_, QAccessible::ListItem});
    }
    return out;
}

void StepList::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    for (int i = 0; i < static_cast<int>(lines_.size()); ++i) {
        const StepLine& line = lines_[static_cast<std::size_t>(i)];
        const QRectF r = row(i);
        const bool now = line.state == StepLine::State::now;
        if (now) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(c.ember_ground);
            painter.drawRect(r.adjusted(0, 1, 0, -1));
        }
        if (i == chosen_) {
            painter.setPen(QPen(c.steel, hasFocus() ? 3 : 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(cut_bottom_right(r.adjusted(1.5, 1.5, -1.5, -1.5), 6));
        }
        const double s = scaled(13);
        const QRectF square(r.left() + 6, r.center().y() - s / 2, s, s);
        switch (line.state) {
        case StepLine::State::done:
            painter.setPen(Qt::NoPen);
            painter.setBrush(c.ink);
            painter.drawRect(square);
            painter.setPen(QPen(c.surface, 2));
            painter.drawPolyline(QPolygonF{{square.left() + s * 0.2, square.center().y()},
                                           {square.left() + s * 0.42, square.bottom() - s * 0.25},
                                           {square.right() - s * 0.18, square.top() + s * 0.25}});
            break;
        case StepLine::State::part:
            painter.setPen(QPen(c.brass, 1.5));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(square);
            painter.setBrush(c.brass);
            painter.drawPolygon(QPolygonF{square.topLeft(), square.bottomLeft(), square.bottomRight()});
            break;
        case StepLine::State::now:
            painter.setPen(QPen(c.ember, 1.5));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(square);
            painter.setBrush(c.ember);
            painter.drawPolygon(QPolygonF{{square.left() + s * 0.2, square.top() + s * 0.25},
                                          {square.right() - s * 0.15, square.center().y()},
                                          {square.left() + s * 0.2, square.bottom() - s * 0.25}});
            break;
        case StepLine::State::to_come:
            painter.setPen(QPen(c.muted, 1.5));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(square);
            break;
        }
        painter.setFont(type(13, line.hazard));
        const double note_width = QFontMetricsF(painter.font()).horizontalAdvance(line.note);
        painter.setPen(line.hazard ? c.plum : now ? c.ember_text : c.muted);
        painter.drawText(r.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, line.note);
        if (line.hazard)
            draw_hazard(painter, {r.right() - note_width - scaled(18), r.center().y()}, scaled(12));
        painter.setFont(type(14, now));
        painter.setPen(line.state == StepLine::State::done ? c.muted : c.ink);
        const double left = square.right() + 8;
        const double room = r.right() - left - note_width - scaled(line.hazard ? 34 : 14);
        painter.drawText(QRectF(left, r.top(), room, r.height()), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font())
                             .elidedText(QStringLiteral("%1  %2").arg(i + 1).arg(line.name), Qt::ElideRight, room));
    }
}

void StepList::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(lines_.size()); ++i)
        if (row(i).contains(event->position()))
            emit chosen(i);
}

void StepList::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        emit entered();
        return;
    }
    const int wanted = chosen_ + step;
    if (step == 0 || wanted < 0 || wanted >= static_cast<int>(lines_.size())) {
        Painted::keyPressEvent(event);
        return;
    }
    emit chosen(wanted);
}

} // namespace ingot::app
