#include "app/print/record_sheet.h"

#include "app/print/paper.h"

#include <QFileInfo>
#include <QPdfWriter>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextTable>

namespace ingot::app {

bool write_record_sheet(const QString& path, const QString& heading, const QString& shop, const QString& rows) {
    if (!QFileInfo(QFileInfo(path).absolutePath()).isWritable())
        return false;
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageOrientation(QPageLayout::Landscape);
    writer.setPageMargins(QMarginsF(14, 14, 14, 14), QPageLayout::Millimeter);
    writer.setTitle(heading);
    QTextDocument document;
    QFont font = type(14);
    font.setPointSizeF(8);
    document.setDefaultFont(font);
    QTextCursor cursor(&document);
    QTextCharFormat large;
    large.setFontPointSize(14);
    large.setFontWeight(QFont::Bold);
    cursor.insertText(heading, large);
    cursor.insertBlock();
    cursor.insertText(shop, QTextCharFormat());
    cursor.insertBlock();
    const QStringList lines = rows.split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    const auto columns = static_cast<int>(lines.value(0).split(QLatin1Char('\t')).size());
    QTextTableFormat format;
    format.setHeaderRowCount(1);
    format.setBorder(0);
    format.setCellPadding(2);
    QTextTable* table = cursor.insertTable(static_cast<int>(lines.size()), columns, format);
    QTextCharFormat bold;
    bold.setFontWeight(QFont::Bold);
    for (int row = 0; row < static_cast<int>(lines.size()); ++row) {
        const QStringList fields = lines[row].split(QLatin1Char('\t'));
        for (int column = 0; column < columns; ++column)
            table->cellAt(row, column)
                .firstCursorPosition()
                .insertText(fields.value(column), row == 0 ? bold : QTextCharFormat());
    }
    document.print(&writer);
    return true;
}

} // namespace ingot::app
