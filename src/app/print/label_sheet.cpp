#include "app/print/label_sheet.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QPdfWriter>
#include <qrencode.h>

#include <memory>

namespace ingot::app {

namespace {

constexpr int dots_per_inch = 300;
constexpr double dots_per_mm = dots_per_inch / 25.4;
constexpr int columns = 4;
constexpr int rows = 13;
constexpr double label_width_mm = 48;
constexpr double label_height_mm = 21;
constexpr double left_mm = 9;
constexpr double top_mm = 12;

QFont sized(double mm, bool bold) {
    QFont font = type(14, bold);
    font.setPixelSize(static_cast<int>(mm * dots_per_mm));
    return font;
}

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

} // namespace

bool write_label_sheet(const QString& path, const std::vector<Label>& labels) {
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setResolution(dots_per_inch);
    writer.setTitle(QStringLiteral("Ingot labels"));
    QPainter painter;
    if (!painter.begin(&writer))
        return false;
    int at = 0;
    for (const Label& label : labels) {
        if (at == columns * rows) {
            writer.newPage();
            at = 0;
        }
        const int row = at / columns;
        const double x = (left_mm + (at % columns) * label_width_mm) * dots_per_mm;
        const double y = (top_mm + row * label_height_mm) * dots_per_mm;
        constexpr double qr_mm = 15;
        draw_qr(painter, QRectF(x + 2 * dots_per_mm, y + 3 * dots_per_mm, qr_mm * dots_per_mm, qr_mm * dots_per_mm),
                label.code);
        const double text_x = x + (qr_mm + 4) * dots_per_mm;
        const double text_w = (label_width_mm - qr_mm - 5) * dots_per_mm;
        painter.setPen(Qt::black);
        painter.setFont(sized(4.2, true));
        painter.drawText(QRectF(text_x, y + 2.5 * dots_per_mm, text_w, 6 * dots_per_mm), Qt::AlignVCenter, label.code);
        painter.setFont(sized(2.3, false));
        painter.drawText(QRectF(text_x, y + 8.5 * dots_per_mm, text_w, 7 * dots_per_mm), Qt::TextWordWrap,
                         label.origin);
        painter.drawText(QRectF(text_x, y + 15 * dots_per_mm, text_w, 4 * dots_per_mm), Qt::AlignVCenter, label.model);
        ++at;
    }
    return painter.end();
}

} // namespace ingot::app
