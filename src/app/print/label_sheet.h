// Labels for units as a PDF: a QR code, the readable code, and where the unit came from.
#pragma once

#include <QString>

#include <vector>

namespace ingot::app {

struct Label {
    QString code;
    QString origin;
    QString model;
};

// A4, 4 columns by 13 rows of 48 x 21 mm. False if the file cannot be written.
[[nodiscard]] bool write_label_sheet(const QString& path, const std::vector<Label>& labels);

} // namespace ingot::app
