#include "app/parts/strip_picture.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace ingot::app {

StripPicture::StripPicture(QWidget* parent) : Painted(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Strips, front and back"));
}

void StripPicture::set(const StripDrawing& drawing, int series) {
    drawing_ = drawing;
    series_ = std::max(series, 1);
    here_ = std::min(here_, series_);
    first_ = 0;
    say();
    update();
}

void StripPicture::say() {
    QStringList words;
    for (const Face face : {Face::front, Face::back})
        for (const auto& [a, b] : drawing_.strips(face))
            words << (face == Face::front ? tr("front %1 to %2") : tr("back %1 to %2")).arg(a).arg(b);
    words << (drawing_.free_to_slide == Face::front ? tr("front free to slide") : tr("back free to slide"));
    setAccessibleDescription(words.join(QStringLiteral(", ")));
    parts_changed();
}

std::vector<PaintedPart> StripPicture::parts() const {
    std::vector<PaintedPart> out;
    for (const Face face : {Face::front, Face::back})
        for (int g = 1; g <= series_; ++g) {
            QStringList joined;
            for (const auto& [a, b] : drawing_.strips(face))
                if (a == g || b == g)
                    joined << tr("joined to %1").arg(a == g ? b : a);
            out.push_back({(face == Face::front ? tr("Front, group %1") : tr("Back, group %1")).arg(g),
                           joined.isEmpty() ? tr("no strip") : joined.join(QStringLiteral(", ")), group_at(face, g),
                           face == face_ && g == here_, QAccessible::ListItem});
        }
    return out;
}

QRectF StripPicture::group_at(Face face, int group) const {
    constexpr double head = 70;
    const double step = (width() - head) / series_;
    const double high = height() / 2.0;
    const double side = std::min({step * 0.62, high * 0.5, 46.0});
    const QPointF centre(head + step * (group - 0.5), high * (face == Face::front ? 0.5 : 1.5));
    return {centre.x() - side / 2, centre.y() - side / 2, side, side};
}

void StripPicture::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Colours& c = colours();
    for (const Face face : {Face::front, Face::back}) {
        const double top = face == Face::front ? 0 : height() / 2.0;
        painter.setPen(c.ink);
        painter.setFont(type(14, true));
        painter.drawText(QRectF(0, top, scaled(68), height() / 2.0), Qt::AlignVCenter,
                         face == Face::front ? tr("Front") : tr("Back"));
        painter.setFont(type(12));
        painter.setPen(c.muted);
        if (drawing_.free_to_slide == face)
            painter.drawText(QRectF(0, top + height() / 4.0 + scaled(10), scaled(68), scaled(34)), Qt::TextWordWrap,
                             tr("free to slide"));
        painter.setPen(QPen(c.brass, 9, Qt::SolidLine, Qt::FlatCap));
        for (const auto& [a, b] : drawing_.strips(face)) {
            const QRectF from = group_at(face, a);
            const QRectF to = group_at(face, b);
            if (b == a + 1)
                painter.drawLine(from.center(), to.center());
            else // over the groups between
                painter.drawPolyline(QPolygonF{from.center(), QPointF(from.center().x(), from.top() - 9),
                                               QPointF(to.center().x(), to.top() - 9), to.center()});
        }
        for (int g = 1; g <= series_; ++g) {
            const QRectF at = group_at(face, g);
            const bool here = face == face_ && g == here_;
            const bool chosen = face == face_ && g == first_;
            painter.setPen(QPen(here && hasFocus() ? c.steel : c.ink, here || chosen ? 3 : 1.2));
            painter.setBrush(chosen ? c.steel_mid : c.surface);
            painter.drawEllipse(at);
            painter.setPen(c.ink);
            painter.setFont(type(13, true));
            // Neighbours stand the other way round: plus up on odd groups of the front.
            const bool plus = (g % 2 == 1) == (face == Face::front);
            painter.drawText(at, Qt::AlignCenter,
                             QStringLiteral("%1 %2").arg(g).arg(plus ? QLatin1Char('+') : QLatin1Char('-')));
        }
    }
}

void StripPicture::press(Face face, int group) {
    if (first_ == 0 || face != face_) {
        face_ = face;
        here_ = first_ = group;
    } else {
        drawing_.toggle(face, first_, group);
        here_ = group;
        first_ = 0;
        say();
        emit drawn();
    }
    update();
}

void StripPicture::mousePressEvent(QMouseEvent* event) {
    for (const Face face : {Face::front, Face::back})
        for (int g = 1; g <= series_; ++g)
            if (group_at(face, g).contains(event->position()))
                press(face, g);
}

void StripPicture::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        here_ = std::max(1, here_ - 1);
        break;
    case Qt::Key_Right:
        here_ = std::min(series_, here_ + 1);
        break;
    case Qt::Key_Up:
    case Qt::Key_Down:
        face_ = event->key() == Qt::Key_Up ? Face::front : Face::back;
        first_ = 0;
        break;
    case Qt::Key_Space:
        press(face_, here_);
        break;
    default:
        if (event->text().compare(QStringLiteral("f"), Qt::CaseInsensitive) == 0) {
            drawing_.free_to_slide = drawing_.free_to_slide == Face::front ? Face::back : Face::front;
            say();
            emit drawn();
            break;
        }
        QWidget::keyPressEvent(event);
        return;
    }
    parts_changed();
    update();
}

} // namespace ingot::app
