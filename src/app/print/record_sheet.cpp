#include "app/print/record_sheet.h"

#include "app/print/paper.h"

#include <QFile>
#include <QPdfWriter>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextTable>

namespace ingot::app {

bool write_record_sheet(const QString& path, const QString& heading, const QString& shop,
                        const std::vector<QStringList>& rows, const QStringList& notes) {
    QFile file(path);
    if (rows.empty() || !file.open(QIODevice::WriteOnly))
        return false;
    QPdfWriter writer(&file);
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
    const auto columns = static_cast<int>(rows.front().size());
    QTextTableFormat format;
    format.setHeaderRowCount(1);
    format.setBorder(0);
    format.setCellPadding(2);
    QTextTable* table = cursor.insertTable(static_cast<int>(rows.size()), columns, format);
    QTextCharFormat bold;
    bold.setFontWeight(QFont::Bold);
    int row = 0;
    for (const QStringList& fields : rows) {
        for (int column = 0; column < columns; ++column)
            table->cellAt(row, column)
                .firstCursorPosition()
                .insertText(fields.value(column), row == 0 ? bold : QTextCharFormat());
        ++row;
    }
    cursor.movePosition(QTextCursor::End);
    for (const QString& note : notes) {
        cursor.insertBlock();
        cursor.insertText(note, QTextCharFormat());
    }
    document.print(&writer);
    return file.flush() && file.error() == QFileDevice::NoError;
}

} // namespace ingot::app
