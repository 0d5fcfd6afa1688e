#include "app/print/label_sheet.h"

#include "app/print/code128.h"
#include "app/print/paper.h"
#include "app/print/qr.h"

#include <QPainter>
#include <QPdfWriter>
#include <QSettings>

#include <algorithm>

namespace ingot::app {

namespace {

void draw_code128(QPainter& painter, const QRectF& area, const QString& text) {
    const auto modules = code128(text.toStdString());
    constexpr double quiet = 10;
    const double module = area.width() / (2 * quiet + static_cast<double>(modules.size()));
    for (std::size_t i = 0; i < modules.size(); ++i)
        if (modules[i]) // a little wider, so that neighbours join
            painter.fillRect(QRectF(area.left() + (quiet + static_cast<double>(i)) * module, area.top(), module + 0.3,
                                    area.height()),
                             Qt::black);
}

// The readable code large, origin and model small, beside or under the machine's code.
void draw_label(QPainter& painter, const QRectF& mm, const Label& label, LabelCode kind) {
    const auto dots = [](double x, double y, double w, double h) {
        return QRectF(x * dots_per_mm, y * dots_per_mm, w * dots_per_mm, h * dots_per_mm);
    };
    painter.setPen(Qt::black);
    if (kind == LabelCode::qr) {
        const double side = std::min(mm.height() - 6, mm.width() * 0.34);
        draw_qr(painter, dots(mm.left() + 2, mm.top() + 3, side, side), label.code);
        const double x = mm.left() + side + 4;
        const double w = mm.width() - side - 5;
        painter.setFont(sized(std::min(4.2, w / 6.8), true));
        painter.drawText(dots(x, mm.top() + 2.5, w, 6), Qt::AlignVCenter, label.code);
        painter.setFont(sized(2.3, false));
        painter.drawText(dots(x, mm.top() + 8.5, w, 7), Qt::TextWordWrap, label.origin);
        painter.drawText(dots(x, mm.top() + 15, w, 4), Qt::AlignVCenter, label.model);
        return;
    }
    const double bars = mm.height() * 0.42;
    draw_code128(painter, dots(mm.left() + 1, mm.top() + 1.5, mm.width() - 3, bars), label.code);
    painter.setFont(sized(3.2, true));
    painter.drawText(dots(mm.left() + 3, mm.top() + bars + 2, mm.width() - 6, 4.2), Qt::AlignVCenter, label.code);
    painter.setFont(sized(2.1, false));
    painter.drawText(dots(mm.left() + 3, mm.top() + bars + 6, mm.width() - 6, mm.height() - bars - 6), Qt::TextWordWrap,
                     label.origin);
}

} // namespace

std::vector<LabelSheet> label_sheets() {
    return {{QStringLiteral("48 x 21 mm, 52 a sheet"), 4, 13, 48, 21, 9, 12},
            {QStringLiteral("38 x 21 mm, 65 a sheet"), 5, 13, 38, 21, 10, 12},
            {QStringLiteral("70 x 37 mm, 24 a sheet"), 3, 8, 70, 37, 0, 0}};
}

LabelChoice chosen_labels() {
    const QSettings settings;
    const int sizes = static_cast<int>(label_sheets().size());
    return {std::clamp(settings.value(QStringLiteral("labels/sheet")).toInt(), 0, sizes - 1),
            settings.value(QStringLiteral("labels/bars")).toBool() ? LabelCode::code128 : LabelCode::qr};
}

void choose_labels(const LabelChoice& choice) {
    QSettings settings;
    settings.setValue(QStringLiteral("labels/sheet"), choice.sheet);
    settings.setValue(QStringLiteral("labels/bars"), choice.kind == LabelCode::code128);
}

bool write_label_sheet(const QString& path, const std::vector<Label>& labels, const LabelSheet& sheet, LabelCode kind,
                       int first) {
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setResolution(dots_per_inch);
    writer.setTitle(QStringLiteral("Ingot labels"));
    QPainter painter;
    if (!painter.begin(&writer))
        return false;
    int at = std::clamp(first, 1, sheet.columns * sheet.rows) - 1;
    for (const Label& label : labels) {
        if (at == sheet.columns * sheet.rows) {
            writer.newPage();
            at = 0;
        }
        const int row = at / sheet.columns;
        const QRectF place(sheet.left + (at % sheet.columns) * sheet.width, sheet.top + row * sheet.height, sheet.width,
                           sheet.height);
        draw_label(painter, place, label, kind);
        ++at;
    }
    return painter.end();
}

} // namespace ingot::app
