#include "app/parts/model_form.h"

#include "app/parts/questions.h"
#include "workshop/figures.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QLineEdit>

namespace ingot::app {

namespace {

QString form_tr(const char* text) {
    return QCoreApplication::translate("ingot::app", text);
}

Objection figure_over_zero(bool may_be_empty) {
    return [may_be_empty](const QString& text) {
        return (may_be_empty && text.isEmpty()) || figures::typed(text).value_or(0) > 0
                   ? QString()
                   : form_tr("\"%1\" is not a figure over 0.").arg(text);
    };
}

QString shown(const std::optional<double>& value, double per, int digits) {
    return value && *value > 0 ? figures::plain(*value * per, digits) : QString();
}

std::optional<double> read(const QLineEdit* edit, double per) {
    const auto value = figures::typed(edit->text());
    return value ? std::optional(*value / per) : std::nullopt;
}

} // namespace

std::optional<UnitModel> ask_model(QWidget* parent, const exchange::Library& library, const UnitModel& first) {
    constexpr double milli = 1000;
    constexpr double gram = 1000;
    QuestionBox box(parent, form_tr("Unit model"),
                    form_tr("What is printed on it, and what its data sheet says. What you do not know stays empty."));
    QLineEdit* print = box.add_line(form_tr("Printed on it"), QString::fromStdString(first.id));
    print->setObjectName(QStringLiteral("model_print"));
    auto* chemistry = new QComboBox(&box);
    for (const auto& [id, known] : library.chemistries)
        chemistry->addItem(QString::fromStdString(known.name), QString::fromStdString(id));
    chemistry->setCurrentIndex(std::max(0, chemistry->findData(QString::fromStdString(first.chemistry))));
    chemistry->setObjectName(QStringLiteral("model_chemistry"));
    box.add_row(form_tr("Chemistry"), chemistry);
    auto* format = new QComboBox(&box);
    format->addItem(form_tr("not known, or a module"), QString());
    for (const auto& [id, known] : library.formats)
        format->addItem(QString::fromStdString(id), QString::fromStdString(id));
    format->setCurrentIndex(std::max(0, format->findData(QString::fromStdString(first.format))));
    box.add_row(form_tr("Format"), format);
    QLineEdit* rated = box.add_line(
        form_tr("Rated capacity, Ah"), shown(first.rated_ah > 0 ? std::optional(first.rated_ah) : std::nullopt, 1, 3),
        [&](const QString& text) {
            const auto ah = figures::typed(text);
            if (ah.value_or(0) <= 0)
                return form_tr("\"%1\" is not a capacity over 0 Ah.").arg(text);
            const CellFormat* size = library.format(format->currentData().toString().toStdString());
            const FormatCapacity* holds =
                size == nullptr ? nullptr : size->capacity_for(chemistry->currentData().toString().toStdString());
            return holds != nullptr && *ah > holds->impossible_above_ah
                       ? form_tr("No cell of this size holds it: %1 is the most that its volume can.")
                             .arg(figures::unit_capacity(holds->impossible_above_ah))
                       : QString();
        });
    rated->setObjectName(QStringLiteral("model_rated"));
    QLineEdit* cells = box.add_line(form_tr("Cells in series in it (a module: 6, 7 …)"),
                                    QString::number(first.cells_in_series), [](const QString& text) {
                                        bool whole = false;
                                        return text.toInt(&whole) >= 1 && whole
                                                   ? QString()
                                                   : form_tr("\"%1\" is not a whole number from 1.").arg(text);
                                    });
    QLineEdit* dc = box.add_optional_line(form_tr("Resistance when new, DC, m\u03A9"),
                                          shown(first.new_dc_resistance_ohm, milli, 1), figure_over_zero(true));
    QLineEdit* ac = box.add_optional_line(form_tr("Resistance when new, AC 1 kHz, m\u03A9"),
                                          shown(first.new_ac_resistance_ohm, milli, 1), figure_over_zero(true));
    QLineEdit* amperes = box.add_optional_line(form_tr("Continuous discharge current, A"),
                                               shown(first.continuous_a, 1, 2), figure_over_zero(true));
    QLineEdit* peak = box.add_optional_line(form_tr("Discharge current for seconds, A"), shown(first.peak_a, 1, 2),
                                            figure_over_zero(true));
    QLineEdit* charge = box.add_optional_line(form_tr("Charge current at the most, A"), shown(first.charge_a, 1, 2),
                                              figure_over_zero(true));
    charge->setObjectName(QStringLiteral("model_charge_a"));
    QLineEdit* limit = box.add_optional_line(form_tr("Charged to at the most, V a cell"),
                                             shown(first.charge_limit_v, 1, 3), figure_over_zero(true));
    QLineEdit* mass = box.add_optional_line(form_tr("Mass, g"), shown(first.mass_kg, gram, 1), figure_over_zero(true));
    auto* low = new QCheckBox(form_tr("keeps most of its charge over a year"), &box);
    low->setChecked(first.low_self_discharge);
    low->setObjectName(QStringLiteral("model_low_self_discharge"));
    box.add_row(form_tr("Low self-discharge (nickel)"), low);
    QLineEdit* source =
        box.add_optional_line(form_tr("Where the figures are from"), QString::fromStdString(first.source));
    if (!box.ask())
        return std::nullopt;
    UnitModel model = first;
    model.id = print->text().trimmed().toStdString();
    model.name = first.name.empty() || model.id != first.id ? model.id : first.name;
    model.chemistry = chemistry->currentData().toString().toStdString();
    model.format = format->currentData().toString().toStdString();
    model.rated_ah = *figures::typed(rated->text());
    model.cells_in_series = cells->text().toInt();
    model.new_dc_resistance_ohm = read(dc, milli);
    model.new_ac_resistance_ohm = read(ac, milli);
    model.continuous_a = read(amperes, 1).value_or(0);
    model.peak_a = read(peak, 1).value_or(0);
    model.charge_a = read(charge, 1).value_or(0);
    model.charge_limit_v = read(limit, 1);
    model.mass_kg = read(mass, gram).value_or(0);
    model.low_self_discharge = low->isChecked();
    model.source = source->text().trimmed().toStdString();
    return model;
}

} // namespace ingot::app
