#include "app/print/qr.h"

#include <qrencode.h>

#include <memory>

namespace ingot::app {

void draw_qr(QPainter& painter, const QRectF& area, const QString& text) {
    const std::unique_ptr<QRcode, decltype(&QRcode_free)> code(
        QRcode_encodeString(text.toUtf8().constData(), 0, QR_ECLEVEL_M, QR_MODE_8, 1), &QRcode_free);
    if (!code)
        return;
    const double module = area.width() / code->width;
    for (int y = 0; y < code->width; ++y)
        for (int x = 0; x < code->width; ++x)
            if ((code->data[y * code->width + x] & 1) != 0)
                painter.fillRect(QRectF(area.left() + x * module, area.top() + y * module, module + 0.5, module + 0.5),
                                 Qt::black);
}

} // namespace ingot::app
