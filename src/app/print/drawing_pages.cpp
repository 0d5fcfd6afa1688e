#include "app/print/drawing_pages.h"

#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>

namespace ingot::app {

namespace {

// A user unit of these drawings is a millimetre.
QPageSize page_of(const QSvgRenderer& drawing) {
    return QPageSize(drawing.viewBoxF().size(), QPageSize::Millimeter, {}, QPageSize::ExactMatch);
}

} // namespace

bool write_drawing_pages(const QString& path, const QString& title, const QStringList& drawings) {
    QPdfWriter writer(path);
    constexpr int fine_dots_per_inch = 600;
    writer.setResolution(fine_dots_per_inch);
    writer.setTitle(title);
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    QPainter painter;
    for (const QString& text : drawings) {
        QSvgRenderer drawing(text.toUtf8());
        if (!drawing.isValid())
            return false;
        writer.setPageSize(page_of(drawing));
        writer.setPageMargins(QMarginsF(0, 0, 0, 0));
        if (!painter.isActive()) {
            if (!painter.begin(&writer))
                return false;
        } else if (!writer.newPage())
            return false;
        constexpr double mm_per_inch = 25.4;
        const QSizeF mm = drawing.viewBoxF().size();
        drawing.render(&painter, QRectF(QPointF(0, 0), mm * (fine_dots_per_inch / mm_per_inch)));
    }
    return painter.isActive() && painter.end();
}

} // namespace ingot::app
