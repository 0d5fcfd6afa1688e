#include "app/print/manifest_sheet.h"

#include "app/print/paper.h"
#include "workshop/figures.h"

#include <QPainter>
#include <QPdfWriter>

namespace ingot::app {

bool write_manifest_sheet(const QString& path, const std::vector<ManifestLine>& manifest, const QString& shop,
                          const QString& date) {
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setResolution(dots_per_inch);
    writer.setTitle(QStringLiteral("Ingot recycling manifest"));
    QPainter painter;
    if (!painter.begin(&writer))
        return false;
    painter.setPen(Qt::black);
    double y = 20;
    const auto text = [&](double x, double w, const QString& words, double size, bool bold, Qt::Alignment align) {
        painter.setFont(sized(size, bold));
        painter.drawText(QRectF(x * dots_per_mm, y * dots_per_mm, w * dots_per_mm, 8 * dots_per_mm),
                         align | Qt::AlignVCenter, words);
    };
    text(20, 170, printed("Recycling manifest"), 6, true, Qt::AlignLeft);
    y += 9;
    text(20, 170, QStringLiteral("%1, %2").arg(shop, date), 3.6, false, Qt::AlignLeft);
    y += 14;
    const auto row = [&](const QString& chemistry, const QString& condition, const QString& count, const QString& mass,
                         bool bold) {
        text(20, 70, chemistry, 3.8, bold, Qt::AlignLeft);
        text(90, 40, condition, 3.8, bold, Qt::AlignLeft);
        text(130, 25, count, 3.8, bold, Qt::AlignRight);
        text(158, 32, mass, 3.8, bold, Qt::AlignRight);
        y += 8;
        painter.drawLine(QPointF(20 * dots_per_mm, y * dots_per_mm), QPointF(190 * dots_per_mm, y * dots_per_mm));
    };
    row(printed("chemistry"), printed("condition"), printed("units"), printed("mass, kg"), true);
    int units = 0;
    double mass = 0;
    int unknown = 0;
    for (const ManifestLine& line : manifest) {
        row(QString::fromStdString(line.chemistry), line.damaged ? printed("damaged, apart") : printed("intact"),
            QString::number(line.units), figures::plain(line.mass_kg, 2), false);
        units += line.units;
        mass += line.mass_kg;
        unknown += line.without_mass;
    }
    row(printed("in all"), {}, QString::number(units), figures::plain(mass, 2), true);
    y += 4;
    if (unknown > 0)
        text(20, 170, printed("%n units of models without a mass in the library are counted, not weighed.", unknown),
             3.4, false, Qt::AlignLeft);
    y += 12;
    for (const QString& caution :
         {printed("Tape or cap every terminal; pack so that nothing can touch or move."),
          printed("Damaged or swollen lithium units apart, in sand or a vented metal box; they may "
                  "not travel like the others."),
          printed("Marking, packing and papers follow the carriage rules of the place (UN 3480, "
                  "3481, 3496 and their kin; from "
                  "memory): local rules and the taker's own come first.")}) {
        painter.setFont(sized(3.4, false));
        painter.drawText(QRectF(20 * dots_per_mm, y * dots_per_mm, 170 * dots_per_mm, 14 * dots_per_mm),
                         Qt::TextWordWrap, QStringLiteral("– ") + caution);
        y += 12;
    }
    return painter.end();
}

} // namespace ingot::app
