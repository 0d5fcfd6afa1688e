#include "app/parts/pack_forms.h"

#include "app/parts/questions.h"
#include "workshop/bay_rules.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QLineEdit>

#include <map>

namespace ingot::app {

namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("ingot::app", text);
}

Objection whole_number(int most) {
    return [most](const QString& text) {
        bool number = false;
        const int value = text.toInt(&number);
        return number && value >= 1 && value <= most ? QString() : tr("Give a whole number from 1 to %1.").arg(most);
    };
}

} // namespace

namespace {

struct AskedLine {
    QString name, object_name, first, such_as;
};

// Lines that may stay empty, as they were typed.
std::optional<std::vector<std::string>> ask_lines(QWidget* parent, const QString& title, const QString& words,
                                                  const std::vector<AskedLine>& asked) {
    QuestionBox box(parent, title, words);
    std::vector<QLineEdit*> lines;
    lines.reserve(asked.size());
    for (const AskedLine& one : asked) {
        lines.push_back(box.add_optional_line(one.name, one.first));
        lines.back()->setObjectName(one.object_name);
        lines.back()->setPlaceholderText(one.such_as);
    }
    lines.front()->setFocus();
    if (!box.ask())
        return std::nullopt;
    std::vector<std::string> out;
    out.reserve(lines.size());
    for (const QLineEdit* line : lines)
        out.push_back(line->text().simplified().toStdString());
    return out;
}

template <class Key> QString known_of(const std::map<Key, std::string>& known, Key key) {
    const auto found = known.find(key);
    return found == known.end() ? QString() : QString::fromStdString(found->second);
}

// Those of a thing, one line each, with what is to be typed where that is not plain.
std::optional<ReceiveService::Particulars> ask_kinds(QWidget* parent, const ReceiveService::Particulars& known,
                                                     const std::vector<std::pair<ParticularKind, QString>>& kinds) {
    std::vector<AskedLine> asked;
    asked.reserve(kinds.size());
    for (const auto& [kind, such_as] : kinds)
        asked.push_back({wording::particular(kind), QString::fromLatin1(code(kind)), known_of(known, kind), such_as});
    const auto typed =
        ask_lines(parent, tr("Particulars"), tr("What is known stays; an empty line is not known."), asked);
    if (!typed)
        return std::nullopt;
    ReceiveService::Particulars out;
    for (std::size_t i = 0; i < kinds.size(); ++i)
        out[kinds[i].first] = (*typed)[i];
    return out;
}

} // namespace

QLineEdit* add_series_codes(QuestionBox& box, const Workshop& workshop, const OnChannel& first) {
    return box.add_line(tr("Their codes, in order"), QString::fromStdString(code_on(workshop, first.unit)),
                        [&workshop](const QString& typed) {
                            const auto on = in_series_from(workshop, typed.toStdString());
                            return on ? QString() : wording::problem(on.problem());
                        });
}

std::optional<ReceiveService::Particulars> ask_particulars(QWidget* parent, const ReceiveService::Particulars& known) {
    using Kind = ParticularKind;
    return ask_kinds(parent, known,
                     {{Kind::device, {}},
                      {Kind::charger, tr("at hand, missing, which")},
                      {Kind::board, tr("balance leads; latches when unpowered; wakes only on a charger; none")},
                      {Kind::age, {}},
                      {Kind::cycles, {}},
                      {Kind::repairs, {}},
                      {Kind::price, {}},
                      {Kind::words, {}},
                      {Kind::note, {}}});
}

std::optional<ReceiveService::Particulars> ask_unit_particulars(QWidget* parent,
                                                                const ReceiveService::Particulars& known) {
    using Kind = ParticularKind;
    return ask_kinds(parent, known,
                     {{Kind::age, tr("3 years, or a date code")}, {Kind::mass, tr("45.2 g")}, {Kind::note, {}}});
}

std::optional<LayoutAnswer> ask_layout(QWidget* parent, const Assembly& pack) {
    QuestionBox box(parent, tr("Correct the layout"), tr("The old layout stays on record with your reason."));
    constexpr int most = 200;
    constexpr int most_cells = 24;
    const QLineEdit* series =
        box.add_line(tr("Groups in series"), QString::number(pack.layout.series), whole_number(most));
    const QLineEdit* parallel =
        box.add_line(tr("Units in parallel"), QString::number(pack.layout.parallel), whole_number(most));
    const QLineEdit* cells =
        box.add_line(tr("Cells per unit"), QString::number(pack.layout.cells_per_unit), whole_number(most_cells));
    constexpr int most_between = 12;
    const QLineEdit* between = box.add_line(tr("Units in series between two taps"),
                                            QString::number(pack.layout.units_per_tap), whole_number(most_between));
    const QLineEdit* reason = box.add_line(tr("How do you know?"));
    if (!box.ask())
        return std::nullopt;
    return LayoutAnswer{
        {series->text().toInt(), parallel->text().toInt(), cells->text().toInt(), between->text().toInt()},
        reason->text().trimmed().toStdString()};
}

std::optional<FoundParts> ask_found_parts(QWidget* parent, const Assembly& pack, const FoundParts& known) {
    std::vector<AskedLine> asked;
    asked.reserve(found_part_count);
    for (int p = 0; p < found_part_count; ++p) {
        const auto part = static_cast<FoundPart>(p);
        asked.push_back({wording::found_part(part), QStringLiteral("found_") + QString::fromLatin1(code(part)),
                         known_of(known, part), QString()});
    }
    const auto typed = ask_lines(
        parent, tr("Parts found in %1").arg(QString::fromStdString(pack.label)),
        tr("What the next pack needs is kept: say where, or how it lies. An empty line: there was none."), asked);
    if (!typed)
        return std::nullopt;
    FoundParts out;
    for (std::size_t p = 0; p < typed->size(); ++p)
        if (!(*typed)[p].empty())
            out[static_cast<FoundPart>(p)] = (*typed)[p];
    return out;
}

std::optional<LooseUnits> ask_loose_units(QWidget* parent, const Workshop& workshop, Id lot) {
    QuestionBox box(
        parent, tr("Loose units"),
        tr("Cells or modules without a pack: bought, or left over. Look at each before it is taken in; what is "
           "swollen, leaking or hot stays outside."));
    auto* model = new QComboBox(&box);
    model->setObjectName(QStringLiteral("loose_model"));
    model->setEditable(true);
    for (const auto& [id, known] : workshop.library().models)
        model->addItem(QString::fromStdString(id));
    model->setCurrentText({});
    box.add_row(tr("Model as printed"), model);
    auto* chemistry = new QComboBox(&box);
    chemistry->setObjectName(QStringLiteral("loose_chemistry"));
    for (const auto& [id, known] : workshop.library().chemistries)
        chemistry->addItem(QString::fromStdString(known.name), QString::fromStdString(id));
    chemistry->setCurrentIndex(std::max(0, chemistry->findData(QStringLiteral("nmc"))));
    box.add_row(tr("Chemistry, where the model is not known"), chemistry);
    constexpr int most = 200;
    QLineEdit* count = box.add_line(tr("How many"), {}, whole_number(most));
    count->setObjectName(QStringLiteral("loose_count"));
    QLineEdit* cells = box.add_optional_line(tr("Cells in series in one, of modules"), {}, [](const QString& text) {
        constexpr int most_cells = 24;
        bool whole = false;
        const int number = text.toInt(&whole);
        return text.isEmpty() || (whole && number >= 1 && number <= most_cells)
                   ? QString()
                   : tr("Give a whole number from 1 to %1.").arg(most_cells);
    });
    cells->setObjectName(QStringLiteral("loose_cells"));
    const QLineEdit* claim = box.add_optional_line(tr("Claimed Ah of one"), {}, [](const QString& text) {
        return text.isEmpty() || figures::typed(text).value_or(0) > 0 ? QString()
                                                                      : tr("Give ampere-hours, such as 2.6.");
    });
    const QLineEdit* price = box.add_optional_line(tr("Price paid for all"));
    const QLineEdit* state = box.add_optional_line(tr("New or used, from where"));
    QLineEdit* matched = box.add_optional_line(tr("A matched set: by whom"));
    matched->setObjectName(QStringLiteral("loose_matched"));
    matched->setPlaceholderText(tr("empty: used one by one"));
    std::string last_roll = "K4";
    if (!workshop.units().empty())
        last_roll = workshop.units().back().record.code.roll;
    const QLineEdit* roll = box.add_line(tr("Label roll"), QString::fromStdString(last_roll));
    const QLineEdit* tray = box.add_optional_line(tr("Tray"));
    if (!box.ask())
        return std::nullopt;
    LooseUnits out;
    out.lot = lot;
    out.model = model->currentText().trimmed().toStdString();
    out.chemistry = chemistry->currentData().toString().toStdString();
    out.count = count->text().toInt();
    out.cells_per_unit = cells->text().isEmpty() ? 1 : cells->text().toInt();
    out.claim_ah = figures::typed(claim->text());
    out.price = price->text().simplified().toStdString();
    out.state = state->text().simplified().toStdString();
    out.roll = roll->text().trimmed().toUpper().toStdString();
    out.tray = tray->text().trimmed().toStdString();
    out.matched_by = matched->text().simplified().toStdString();
    return out;
}

} // namespace ingot::app
