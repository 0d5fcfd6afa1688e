#include "app/shell/scan_field.h"

#include "app/parts/marks.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>

namespace ingot::app {

ScanField::ScanField(QWidget* parent) : QLineEdit(parent) {
    setFrame(false);
    setFont(type(16));
    setFixedHeight(scaled(36));
    setMinimumWidth(360);
    setTextMargins(42, 0, 12, 0);
    setPlaceholderText(tr("Scan a label or type"));
    setAccessibleName(tr("Scan or type"));
    QPalette clear = palette();
    clear.setColor(QPalette::Base, Qt::transparent);
    setPalette(clear);
    setAttribute(Qt::WA_MacShowFocusRect, false);
}

void ScanField::set_hint(const QString& hint) {
    if (hint == hint_)
        return;
    hint_ = hint;
    const int width = QFontMetrics(type(13, true)).horizontalAdvance(hint_) + 30;
    setTextMargins(42, 0, hint_.isEmpty() ? 12 : width, 0);
    setAccessibleDescription(hint_);
    update();
}

// With nothing typed, undo and redo are the window's: a limit that was moved, a lock that was set.
bool ScanField::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && text().isEmpty()) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool ctrl = (key->modifiers() & Qt::ControlModifier) != 0;
        if (ctrl && (key->key() == Qt::Key_Z || key->key() == Qt::Key_Y)) {
            event->ignore();
            return true;
        }
    }
    return QLineEdit::event(event);
}

void ScanField::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        const QString line = text().trimmed();
        clear();
        emit entered(line);
        return;
    }
    const bool away = event->key() == Qt::Key_Backspace || event->key() == Qt::Key_Escape;
    if (away && text().isEmpty()) {
        emit stepped_back();
        return;
    }
    if (event->key() == Qt::Key_Escape) {
        clear();
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void ScanField::paintEvent(QPaintEvent* event) {
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing, true);
        const Colours& c = colours();
        painter.setPen(QPen(hasFocus() ? c.ink : c.muted, hasFocus() ? 2 : 1.5));
        painter.setBrush(c.surface);
        painter.drawPath(cut_bottom_right(QRectF(rect()).adjusted(1, 1, -1, -1), 10));
        // A label's bars.
        painter.setRenderHint(QPainter::Antialiasing, false);
        constexpr int bars[] = {0, 3, 5, 9, 12, 14, 18};
        constexpr int widths[] = {2, 1, 3, 2, 1, 3, 2};
        for (int i = 0; i < 7; ++i)
            painter.fillRect(14 + bars[i], 10, widths[i], height() - 20, c.ink);
        if (!hint_.isEmpty()) {
            painter.setFont(type(13, true));
            const int w = QFontMetrics(painter.font()).horizontalAdvance(hint_) + 16;
            const QRect tag(width() - w - 12, 7, w, height() - 14);
            painter.fillRect(tag, c.steel_ground);
            painter.setPen(c.steel);
            painter.drawText(tag, Qt::AlignCenter, hint_);
        }
    }
    QLineEdit::paintEvent(event);
}

} // namespace ingot::app
