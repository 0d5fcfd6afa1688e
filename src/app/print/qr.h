// A QR code as dark squares on paper. Internals of print/.
#pragma once

#include <QPainter>
#include <QString>

namespace ingot::app {

// Nothing is drawn where the text is too long for a code.
void draw_qr(QPainter& painter, const QRectF& area, const QString& text);

} // namespace ingot::app
