#include "app/print/passport_sheet.h"

#include "app/print/printed_page.h"
#include "app/print/qr.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/prove_wording.h"

#include <QLocale>

namespace ingot::app {

namespace {

constexpr std::array<double, 7> unit_columns{15, 30, 60, 95, 135, 155, 175};

QString day_of(const std::string& moment) {
    return moment.empty() ? printed("not yet") : QString::fromStdString(moment).left(10);
}

QString figure(const std::optional<double>& value, double factor, int digits) {
    return value ? figures::plain(*value * factor, digits) : QStringLiteral("–");
}

// What came out of a round: volts of its groups, of its units, or figures and answers.
QString outcome_of(const Passport& passport, const Passport::Round& round) {
    if (!round.left_out.empty())
        return QString::fromStdString(round.left_out);
    QStringList said;
    if (reads_groups(round.round)) {
        QStringList volts;
        for (const auto& v : round.reading.group_v)
            volts << (v ? figures::plain(*v, 3) : QStringLiteral("–"));
        said << printed("groups %1 V, terminals %2 V")
                    .arg(volts.join(QStringLiteral(" / ")), figure(round.reading.terminals_v, 1, 2));
    } else if (round.round == ProofRound::units)
        said << printed("%1 of %2 units read").arg(round.verdict.read).arg(round.verdict.asked);
    for (const Passport::Item& item : passport.items)
        if (round_of(item.item) == round.round)
            said << printed("%1 %2 %3")
                        .arg(wording::proof_item(item.item), wording::proof_item_value(item.item, item.value),
                             is_yes_or_no(item.item) ? QString() : wording::proof_item_unit(item.item))
                        .trimmed();
    if (round.verdict.spread_v)
        said << printed("spread %1 a cell")
                    .arg(figures::millivolts_signed(*round.verdict.spread_v).remove(QLatin1Char('+')));
    if (round.reading.load_a)
        said << printed("at %1").arg(figures::amperes(*round.reading.load_a));
    return said.join(QStringLiteral(", "));
}

void write_rounds(PrintedPage& page, const Passport& passport) {
    page.line(printed("Proof"), 4.5, true);
    for (const Passport::Round& round : passport.rounds) {
        QString line = printed("%1, %2%3: %4")
                           .arg(wording::proof_round(round.round), wording::proof_state(round.verdict.state),
                                round.read_at.empty() ? QString() : QStringLiteral(", ") + day_of(round.read_at),
                                outcome_of(passport, round));
        if (!round.signed_by.empty())
            line += printed("; signed %1").arg(QString::fromStdString(round.signed_by));
        page.line(line + QLatin1Char('.'), 3.0, false, 0.8);
    }
}

// Of every group a bar: how far it stands above the lowest at the end of the charge, a cell; and its sag, read (filled)
// beside what its units explain (outline). mV.
void write_curves(PrintedPage& page, const Passport& passport) {
    constexpr double to_mv = 1000;
    constexpr double strip_mm = 17;
    const auto strip = [&](const QString& title, const std::vector<std::optional<double>>& filled,
                           const std::vector<std::optional<double>>& outlined) {
        double most = 1;
        for (const auto* values : {&filled, &outlined})
            for (const auto& value : *values)
                most = std::max(most, value.value_or(0));
        page.picture(strip_mm, [&](QPainter& painter, const QRectF& at) {
            const double head = 4.5 * dots_per_mm;
            const double foot = 3.5 * dots_per_mm;
            painter.setFont(sized(2.6, false));
            painter.drawText(QRectF(at.left(), at.top(), at.width(), head), Qt::AlignLeft | Qt::AlignVCenter,
                             title.arg(figures::plain(most, 0)));
            const QRectF field(at.left(), at.top() + head, at.width(), at.height() - head - foot);
            const double each = field.width() / std::max<double>(1, static_cast<double>(filled.size()));
            const auto bar = [&](std::size_t g, const std::optional<double>& value, double from, double wide) {
                const double tall = field.height() * std::max(0.0, value.value_or(0)) / most;
                return QRectF(field.left() + (static_cast<double>(g) + from) * each, field.bottom() - tall, wide * each,
                              tall);
            };
            for (std::size_t g = 0; g < filled.size(); ++g) {
                painter.fillRect(bar(g, filled[g], 0.15, outlined.empty() ? 0.7 : 0.35), QColor(90, 90, 90));
                painter.setPen(QPen(Qt::black, 2));
                if (g < outlined.size() && outlined[g])
                    painter.drawRect(bar(g, outlined[g], 0.5, 0.35));
                if (filled.size() <= 40 || g % 5 == 0)
                    painter.drawText(QRectF(field.left() + static_cast<double>(g) * each, field.bottom(), each, foot),
                                     Qt::AlignCenter, QString::number(g + 1));
            }
            painter.setPen(QPen(Qt::black, 1));
            painter.drawLine(field.bottomLeft(), field.bottomRight());
            painter.setPen(Qt::black);
        });
    };
    for (const Passport::Round& round : passport.rounds) {
        std::vector<std::optional<double>> filled;
        std::vector<std::optional<double>> outlined;
        if (round.round == ProofRound::end_of_charge) {
            std::optional<double> lowest;
            for (const auto& v : round.reading.group_v)
                if (v)
                    lowest = std::min(lowest.value_or(*v), *v);
            for (const auto& v : round.reading.group_v)
                filled.push_back(v ? std::optional((*v - *lowest) / passport.cells_per_unit * to_mv) : std::nullopt);
            strip(printed("End of charge: over the lowest group, a cell, up to %1 mV"), filled, {});
        } else if (round.round == ProofRound::under_load && !round.verdict.sag_v.empty()) {
            for (const auto& v : round.verdict.sag_v)
                filled.push_back(v ? std::optional(*v * to_mv) : std::nullopt);
            for (const auto& v : round.verdict.simulated_v)
                outlined.push_back(v ? std::optional(*v * to_mv) : std::nullopt);
            strip(printed("Under load: sag as it was read, beside it as its units explain it, up to %1 mV"), filled,
                  outlined);
        }
    }
}

// A figure of the design as it is typed at Build: "8 mm"; words as they stand.
QString design_value(DesignFigure figure, const std::string& value) {
    bool number = false;
    const double si = QString::fromStdString(value).toDouble(&number);
    const QString unit = wording::design_unit(figure);
    if (figure == DesignFigure::joining)
        if (const auto kind = joining_kind_from(value))
            return wording::joining_kind(*kind);
    return number && !unit.isEmpty()
               ? QStringLiteral("%1 %2").arg(QLocale::c().toString(si / wording::design_factor(figure), 'g', 4), unit)
               : QString::fromStdString(value);
}

// In that order, those that are known, in one line.
void write_design(PrintedPage& page, const Passport& passport, std::initializer_list<DesignFigure> figures,
                  const QString& otherwise = {}) {
    QStringList said;
    for (const DesignFigure figure : figures)
        for (const auto& [name, value] : passport.design)
            if (design_figure_from(name) == figure)
                said << QStringLiteral("%1: %2").arg(wording::design_figure(figure), design_value(figure, value));
    if (!said.isEmpty() || !otherwise.isEmpty())
        page.line(said.isEmpty() ? otherwise : said.join(QStringLiteral(" \u00B7 ")), 3.2, false, 0.8);
}

} // namespace

bool write_passport_sheet(const QString& path, const Passport& passport) {
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setResolution(dots_per_inch);
    writer.setTitle(QString::fromStdString(passport.label));
    PrintedPage page(writer);
    if (!page.begin())
        return false;
    constexpr double code_mm = 26;
    draw_qr(page.painter(), QRectF(169 * dots_per_mm, 12 * dots_per_mm, code_mm * dots_per_mm, code_mm * dots_per_mm),
            QString::fromStdString(passport.label));
    page.line(printed("Passport of pack %1").arg(QString::fromStdString(passport.label)), 6.5, true);
    page.line(printed("%1 · %2S%3P · %4")
                  .arg(QString::fromStdString(passport.chemistry_name))
                  .arg(passport.series)
                  .arg(passport.parallel)
                  .arg(QString::fromStdString(passport.workshop)),
              3.6);
    page.line(printed("joined %1 · proved %2, signed %3")
                  .arg(day_of(passport.joined_at), day_of(passport.proved_at),
                       passport.proved_by.empty() ? printed("not yet") : QString::fromStdString(passport.proved_by)),
              3.4);
    page.skip(6);
    page.line(printed("Limits"), 4.5, true);
    page.line(printed("nominal %1, empty %2, charged to %3; usable %4")
                  .arg(figures::volts(passport.nominal_v, 1), figures::volts(passport.empty_v, 1),
                       passport.charge_limit_v ? figures::volts(*passport.charge_limit_v, 1)
                                               : printed("the charger's own end"),
                       passport.usable_ah ? figures::pack_capacity(*passport.usable_ah) : printed("not measured")),
              3.2);
    write_design(page, passport, {DesignFigure::board, DesignFigure::moves_over, DesignFigure::continuous_a});
    page.skip(3);
    page.line(printed("Joined"), 4.5, true);
    write_design(page, passport,
                 {DesignFigure::joining, DesignFigure::strip_material, DesignFigure::strip_width_m,
                  DesignFigure::strip_thickness_m, DesignFigure::link_layers, DesignFigure::end_layers,
                  DesignFigure::trial_weld, DesignFigure::bar_ohm, DesignFigure::bar_torque_nm, DesignFigure::fuse_a,
                  DesignFigure::wire_mm2},
                 printed("not noted"));
    page.skip(3);
    write_rounds(page, passport);
    write_curves(page, passport);
    page.skip(3);
    page.line(printed("Use and storage"), 4.5, true);
    page.line(
        passport.lithium
            ? printed(
                  "Charge with its own charger, never under 0 degC, never unattended on something that burns. Store "
                  "half full and cool; read it every few months. Swollen, hot or smelling: outside, apart, and to "
                  "hazardous-waste collection.")
            : printed(
                  "Charge with its own charger. Store cool, top up every few months. Hot or leaking: outside, apart, "
                  "and to hazardous-waste collection."),
        3.2);
    page.line(
        printed("At the end of its life it goes to battery recycling, its terminals taped. Local codes come first."),
        3.2);
    page.skip(3);
    page.line(printed("Units"), 4.5, true);
    page.row(unit_columns,
             std::array<QString, 7>{printed("place"), printed("unit"), printed("model"), printed("from"), printed("Ah"),
                                    printed("m\u03A9"), printed("mAh/day")},
             true);
    constexpr double milli = 1000;
    for (const Passport::Unit& unit : passport.units)
        page.row(unit_columns,
                 std::array<QString, 7>{QStringLiteral("%1.%2").arg(unit.group).arg(unit.place),
                                        QString::fromStdString(unit.code), QString::fromStdString(unit.model),
                                        QString::fromStdString(unit.origin), figure(unit.capacity_ah, 1, 3),
                                        figure(unit.resistance_ohm, milli, 1), figure(unit.leak_ah_per_day, milli, 2)});
    return page.end();
}

} // namespace ingot::app
