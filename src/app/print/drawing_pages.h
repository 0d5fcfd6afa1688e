// Drawings as PDF in their true size: each on a page of its own, as large as the drawing.
#pragma once

#include <QString>
#include <QStringList>

namespace ingot::app {

// SVG texts whose width and height are in mm. False: the file could not be written.
[[nodiscard]] bool write_drawing_pages(const QString& path, const QString& title, const QStringList& drawings);

} // namespace ingot::app
