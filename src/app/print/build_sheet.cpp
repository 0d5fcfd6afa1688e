#include "app/print/build_sheet.h"

#include "app/print/printed_page.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QPainter>
#include <QPdfWriter>

#include <array>

namespace ingot::app {

namespace {

constexpr std::array<double, 9> columns{15, 28, 58, 84, 96, 112, 132, 150, 172};

QString or_blank(const std::optional<double>& value, double factor, int digits) {
    return value ? figures::plain(*value * factor, digits) : QStringLiteral("–");
}

} // namespace

bool write_build_sheet(const QString& path, const BuildSheet& sheet, const QString& workshop,
                       const std::vector<QString>& cautions) {
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setResolution(dots_per_inch);
    writer.setTitle(QString::fromStdString(sheet.build.label));
    PrintedPage page(writer);
    if (!page.begin())
        return false;
    page.line(printed("Build sheet %1").arg(QString::fromStdString(sheet.build.label)), 6.5, true);
    page.line(printed("%1 · %2S%3P · %4 units · %5")
                  .arg(workshop)
                  .arg(sheet.build.layout.series)
                  .arg(sheet.build.layout.parallel)
                  .arg(sheet.lines.size())
                  .arg(QString::fromStdString(sheet.build.created_at).left(10)),
              3.4);
    page.skip(2);
    page.row(columns,
             std::array<QString, 9>{printed("group"), printed("unit"), printed("model"), printed("tray"),
                                    printed("well"), printed("Ah"), printed("m\u03A9"), printed("mAh/day"),
                                    printed("V, taken")},
             true);
    for (const BuildLine& line : sheet.lines) {
        page.row(columns,
                 std::array<QString, 9>{
                     QStringLiteral("%1.%2").arg(line.group).arg(line.place), QString::fromStdString(line.code),
                     QString::fromStdString(line.model), QString::fromStdString(line.tray),
                     line.well > 0 ? QString::number(line.well) : QString(), or_blank(line.capacity_ah, 1, 3),
                     or_blank(line.resistance_ohm, 1000, 1), or_blank(line.leak_ah_per_day, 1000, 2),
                     or_blank(line.voltage_v, 1, 3) + (line.taken ? QStringLiteral("  \u00D7") : QString())});
        page.box(190, 3.4);
    }
    page.skip(4);
    page.line(printed("Voltages before joining"), 4.5, true);
    for (std::size_t g = 0; g < sheet.joining.size(); ++g) {
        const JoinCheck& check = sheet.joining[g];
        page.line(printed("Group %1: %2, difference %3, largest equalising current %4 (limit %5). %6")
                      .arg(g + 1)
                      .arg(figures::pack_capacity(sheet.group_capacity_ah[g]),
                           check.difference_v ? figures::millivolts_signed(*check.difference_v) : printed("not known"),
                           check.largest_current_a ? figures::amperes(*check.largest_current_a) : printed("not known"),
                           figures::amperes(check.current_limit_a), wording::join_advice(check)),
                  3.0, false, 0.8);
    }
    page.line(
        printed("I = (E \u2212 V) / R with V = \u03A3(E/R) / \u03A3(1/R) over the group's units, no leads counted."),
        2.6);
    page.skip(2);
    page.line(printed("Cautions"), 4.5, true);
    for (const QString& caution : cautions)
        page.line(caution, 3.2, false, 0.8);
    page.line(printed("Local codes and licensed practice come first."), 3.2);
    return page.end();
}

} // namespace ingot::app
