// Labels for units as a PDF: a QR code or Code 128, the readable code, and where the unit came from.
#pragma once

#include <QString>

#include <vector>

namespace ingot::app {

struct Label {
    QString code;
    QString origin;
    QString model;
};

// How the labels lie on a sheet of A4, in mm.
struct LabelSheet {
    QString name;
    int columns = 4, rows = 13;
    double width = 48, height = 21; // from one label to the next
    double left = 9, top = 12;
};
// The sizes that can be chosen, the usual one first.
[[nodiscard]] std::vector<LabelSheet> label_sheets();
enum class LabelCode { qr, code128 };

// The size and code that were chosen last on this machine.
struct LabelChoice {
    int sheet = 0; // of label_sheets()
    LabelCode kind = LabelCode::qr;
};
[[nodiscard]] LabelChoice chosen_labels();
void choose_labels(const LabelChoice& choice);

// `first`: where on the sheet the labels begin, along the rows; 1 is the first, so that a sheet that was begun is used
// up. False if the file cannot be written.
[[nodiscard]] bool write_label_sheet(const QString& path, const std::vector<Label>& labels,
                                     const LabelSheet& sheet = {}, LabelCode kind = LabelCode::qr, int first = 1);

} // namespace ingot::app
