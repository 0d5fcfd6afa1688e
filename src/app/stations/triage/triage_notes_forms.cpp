// What is said of a pack at Triage beside its rounds: symptoms, what was done to a group, single readings, files; and
// what is taken back.
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/voltage_ladder.h"
#include "app/print/record_sheet.h"
#include "app/stations/triage/triage_station.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QMenu>
#include <QRegularExpression>

#include <algorithm>

namespace ingot::app {

// What else can be said of a pack: symptoms in plain words, and what was done to the selected group.
void TriageStation::add_notes() {
    symptom_menu_ = new QMenu(this);
    symptom_menu_->setObjectName(QStringLiteral("symptoms"));
    symptoms_ = add_command(tr("S&ymptoms…"), {}, tr("What people say about the pack"), [this] {
        fill_symptoms();
        symptom_menu_->popup(mapToGlobal(QPoint(width() / 2, 60)));
    });
    const auto about = [this](const QString& text, const QKeySequence& keys, const QString& tip,
                              const std::function<Result<bool>(int)>& note) {
        about_group_ << add_command(text, keys, tip, [this, note] {
            if (ladder_->selected() < 1) {
                emit told(tr("Choose a group on the ladder first."), true);
                return;
            }
            if (fine(note(ladder_->selected())))
                emit evidence_changed();
        });
    };
    about(tr("Lead swapped: the error &moved with it"), {},
          tr("The selected group's sense lead was exchanged with a good one"),
          [this](int group) { return workshop().triage().note_lead_swap(pack_, group, true); });
    about(tr("Lead swapped: the error stay&ed"), {},
          tr("The selected group's sense lead was exchanged with a good one"),
          [this](int group) { return workshop().triage().note_lead_swap(pack_, group, false); });
    about(tr("&Unit of this group was replaced"), {},
          tr("If the group stays low all the same, the measuring side is suspect"),
          [this](int group) { return workshop().triage().note_replaced(pack_, group); });
    about(tr("Unit &voltages of this group…"), {},
          tr("Single units whose links are cut: one that differs is not joined, or is the one that leaks"),
          [this](int group) { return ask_unit_voltages(group); });
    about(tr("Capac&ity of this group…"), {},
          tr("What a full discharge of the group alone gave: tells a weak group, and what donors match"),
          [this](int group) { return ask_capacity(group); });
    about(tr("Resistance of this group…"), {},
          tr("As a charger with balance leads or a meter says it, held against the other groups'"),
          [this](int group) { return ask_resistance(group); });
    add_command(tr("Resistor and supply for balancing…"), {},
                tr("What is at hand to bleed a high group or to lift a low one: the hours follow"),
                [this] { ask_balance_gear(); });
    about(tr("Temper&ature of this group…"), {}, tr("A group that is warmer than its neighbours"),
          [this](int group) { return ask_temperature(group); });
    about_pack_ << add_command(tr("Strike out a readi&ng…"), {}, tr("Of the selected group; it stays on record"),
                               [this] { strike_reading(); });
    about_pack_ << add_command(tr("Move a round to the right pac&k…"), {},
                               tr("The readings were taken on another pack"), [this] { move_round(); });
    about_pack_ << add_command(tr("Particulars…"), {},
                               tr("Device, charger, protection board, age, repairs, price, customer's words"),
                               [this] { ask_pack_particulars(pack_); });
    about_pack_ << add_command(tr("What it turned out to be…"), {},
                               tr("The true cause, for the shop's own reliability and its next packs of this kind"),
                               [this] { ask_true_cause(pack_); });
    about_pack_ << add_command(tr("Tria&ge report…"), QKeySequence(tr("Ctrl+P")),
                               tr("Readings, explanations and ways, as PDF"), [this] { print_report(); });
    add_command(tr("Bring in readings from a &file…"), {},
                tr("A CSV with one line a reading, or the snapshot a board recorded"), [this] { import_file(); });
    add_command(tr("&Donors"), QKeySequence(tr("F9")),
                tr("Which groups move where so that most packs of this kind live"), [this] {
                    if (pack_ == 0)
                        emit told(tr("Choose a pack first: the plan is made for packs of its kind."), true);
                    else
                        emit room_wanted(Room::donors, pack_);
                });
}

namespace {

// Voltages in order, a dash where one is not read; the objection to the first that is none.
Result<std::vector<std::optional<double>>> volts_of(const QString& text) {
    std::vector<std::optional<double>> volts;
    static const QRegularExpression apart(QStringLiteral("[;\\s]+"));
    for (const QString& part : text.split(apart, Qt::SkipEmptyParts)) {
        const auto value = figures::typed(part);
        if (!value && part != QStringLiteral("-"))
            return Problem{
                "", 0,
                as_told(
                    TriageStation::tr("\"%1\" is not a voltage. Separate them by blanks.").arg(part).toStdString())};
        volts.push_back(value);
    }
    return volts;
}

} // namespace

Result<bool> TriageStation::ask_unit_voltages(int group) {
    const int units = workshop().pack(pack_)->layout.units_per_group();
    const auto text = ask_line(this, tr("Unit voltages"),
                               workshop().pack(pack_)->layout.units_per_tap > 1
                                   ? tr("Block %1: the voltage of each of its %2 units in order, such as 7.96 6.69 (a "
                                        "dash where one is not read), at its own terminals. Nothing is cut for it.")
                                         .arg(group)
                                         .arg(units)
                                   : tr("Group %1: the voltage of each of its %2 units in order, such as "
                                        "3.61 3.60 0.20 3.61 (a dash where one is not read). "
                                        "Cut one link at a time; never bridge two strips.")
                                         .arg(group)
                                         .arg(units),
                               {}, [units](const QString& answer) {
                                   const auto volts = volts_of(answer);
                                   if (!volts)
                                       return wording::sentence(volts.problem().sentence);
                                   return static_cast<int>(volts.value().size()) > units
                                              ? tr("The group has %n units; those are more.", nullptr, units)
                                              : QString();
                               });
    if (!text)
        return true;
    return workshop().triage().note_unit_voltages(pack_, group, volts_of(*text).value());
}

Result<bool> TriageStation::ask_temperature(int group) {
    constexpr double coldest = -40;
    constexpr double hottest = 150;
    const auto celsius = ask_figure(this, tr("Temperature"), tr("Group %1, \u00B0C:").arg(group),
                                    QStringLiteral("\u00B0C"), coldest, hottest);
    return celsius ? workshop().triage().note_temperature(pack_, group, *celsius,
                                                          condition_ == Condition::load && active_ >= 0)
                   : Result<bool>(true);
}

Result<bool> TriageStation::ask_capacity(int group) {
    const auto text = ask_line(
        this, tr("Capacity"),
        tr("Group %1: what a full discharge of the group alone gave, Ah. Charge and discharge it under supervision, "
           "inside its voltage limits.")
            .arg(group),
        {}, [](const QString& answer) {
            return figures::typed(answer)
                       ? QString()
                       : tr("\"%1\" is not a capacity. Give ampere-hours, such as 8.75.").arg(answer);
        });
    return text ? workshop().triage().note_group_capacity(pack_, group, *figures::typed(*text)) : Result<bool>(true);
}

Result<bool> TriageStation::ask_resistance(int group) {
    constexpr double most_mohm = 10'000;
    const auto mohm = ask_figure(
        this, tr("Resistance"), tr("Group %1, as a charger with balance leads or a meter says it, m\u03A9:").arg(group),
        QStringLiteral("m\u03A9"), 0, most_mohm);
    constexpr double per_ohm = 1000;
    return mohm ? workshop().triage().note_group_resistance(pack_, group, *mohm / per_ohm) : Result<bool>(true);
}

void TriageStation::fill_symptoms() {
    symptom_menu_->clear();
    const auto noted = workshop().triage().symptoms_of_pack(pack_);
    for (const Symptom& symptom : workshop().library().triage.symptoms) {
        QAction* action = symptom_menu_->addAction(QString::fromStdString(symptom.name));
        action->setCheckable(true);
        action->setChecked(std::find(noted.begin(), noted.end(), symptom.id) != noted.end());
        connect(action, &QAction::triggered, this, [this, id = symptom.id, name = action->text()](bool on) {
            const auto note = [this, pack = pack_, id](bool noted_now) {
                return [this, pack, id, noted_now] { return workshop().triage().note_symptom(pack, id, noted_now); };
            };
            if (do_step(tr("symptom: %1").arg(name), note(on), note(!on)))
                emit evidence_changed();
        });
    }
}

void TriageStation::import_file() {
    bring_in_readings(pack_);
}

// N23: a reading that slipped is struck out with a reason; what was read before it counts again.
void TriageStation::strike_reading() {
    const int group = std::max(0, ladder_->selected());
    const std::vector<Measurement> standing = workshop().triage().standing_readings(pack_, group);
    if (standing.empty()) {
        emit told(tr("Nothing was read there."), true);
        return;
    }
    QuestionBox box(this, tr("Strike out a reading"),
                    group > 0 ? tr("Group %1. What is struck out stays on record.").arg(group)
                              : tr("The terminals. What is struck out stays on record."));
    auto* which = new QComboBox(&box);
    for (const Measurement& m : standing)
        which->addItem(
            QStringLiteral("%1, %2, %3")
                .arg(figures::volts(m.value), wording::condition(m.conditions.condition),
                     QString::fromStdString(m.taken_at).left(16).replace(QLatin1Char('T'), QLatin1Char(' '))));
    box.add_row(tr("Reading"), which);
    const QLineEdit* reason = box.add_line(tr("Why was it wrong?"));
    if (!box.ask())
        return;
    const Id id = standing[static_cast<std::size_t>(which->currentIndex())].id;
    if (fine(workshop().test().strike_reading(id, reason->text().trimmed().toStdString())))
        emit evidence_changed();
}

void TriageStation::move_round() {
    const auto other = [this](const QString& label) -> const Assembly* {
        for (const Assembly& pack : workshop().packs())
            if (pack.id != pack_ && QString::fromStdString(pack.label).compare(label, Qt::CaseInsensitive) == 0)
                return &pack;
        return nullptr;
    };
    QuestionBox box(this, tr("Move a round to the right pack"),
                    tr("Its readings stand there with their times; here they are struck out."));
    auto* which = new QComboBox(&box);
    for (const Condition c :
         {Condition::rest, Condition::end_of_charge, Condition::load, Condition::charge, Condition::stored})
        if (const auto round = workshop().triage().last_round(pack_, c); !round.empty())
            which->addItem(tr("%1, %n readings", nullptr, static_cast<int>(round.size())).arg(wording::condition(c)),
                           static_cast<int>(c));
    if (which->count() == 0) {
        emit told(tr("No round was read on this pack."), true);
        return;
    }
    box.add_row(tr("Round"), which);
    const QLineEdit* label = box.add_line(tr("Label of the right pack"), {}, [other](const QString& text) {
        return other(text) != nullptr ? QString() : tr("There is no other pack \"%1\".").arg(text);
    });
    if (!box.ask())
        return;
    const Assembly* into = other(label->text().trimmed());
    const auto condition = static_cast<Condition>(which->currentData().toInt());
    const auto move = [this, condition](Id from, Id to) {
        return [this, condition, from, to]() -> Result<bool> {
            const auto moved = workshop().triage().move_round(from, condition, to);
            return moved ? Result<bool>(true) : moved.problem();
        };
    };
    if (do_step(tr("move a round to %1").arg(QString::fromStdString(into->label)), move(pack_, into->id),
                move(into->id, pack_)))
        emit evidence_changed();
}

bool TriageStation::print_report_to(const QString& path) {
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return false;
    constexpr std::array conditions{Condition::rest, Condition::end_of_charge, Condition::load, Condition::stored};
    std::vector<QStringList> rows{{tr("group")}};
    for (const Condition c : conditions)
        rows.front() << wording::condition(c);
    rows.front() << tr("verdict");
    for (int g = 1; g <= pack->layout.series + 1; ++g) {
        const bool terminals = g > pack->layout.series;
        QStringList row{terminals ? tr("terminals") : QString::number(g)};
        for (const Condition c : conditions) {
            const auto& read = workshop().triage().group_readings(pack_, c);
            const auto found = read.find(terminals ? 0 : g);
            row << (found == read.end() ? QStringLiteral("\u2013") : figures::volts(found->second));
        }
        const auto verdict = terminals ? std::nullopt : workshop().triage().group_verdict(pack_, g);
        row << (!verdict ? QString() : verdict->outlier ? tr("stands out") : wording::state(verdict->state));
        rows.push_back(row);
    }
    const EvidenceContent said = evidence();
    QStringList notes{QStringLiteral("%1S%2P, %3").arg(pack->layout.series).arg(pack->layout.parallel).arg(said.line)};
    for (const ExplanationBar& bar : said.explanations)
        notes << QStringLiteral("%1 %2. %3").arg(bar.figure(), bar.title, bar.below);
    if (!said.tell_apart.isEmpty())
        notes << said.tell_apart;
    for (const WayCard& way : said.ways)
        notes << QStringLiteral("%1. %2").arg(way.title, way.below);
    notes << said.notes;
    return write_record_sheet(path, tr("Triage of %1").arg(QString::fromStdString(pack->label)),
                              QString::fromStdString(workshop().name()), rows, notes);
}

void TriageStation::print_report() {
    if (pack_ == 0)
        return;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Triage report"), QStringLiteral("triage.pdf"), tr("PDF (*.pdf)"));
    if (path.isEmpty())
        return;
    if (print_report_to(path))
        emit told(tr("The report is in %1.").arg(path), false);
    else
        emit told(tr("%1 could not be written. Choose another place.").arg(path), true);
}

void TriageStation::ask_balance_gear() {
    const auto gear = workshop().triage().balance_gear();
    QuestionBox box(
        this, tr("Resistor and supply for balancing"),
        tr("A group is bled through its own resistor, watched and on what does not burn, or lifted alone by a "
           "supply set to its chemistry's limit. Blank: not at hand."));
    const auto over_zero = [](const QString& text) {
        const auto value = figures::typed(text);
        return text.trimmed().isEmpty() || (value && *value > 0) ? QString() : tr("Give a figure over 0, or nothing.");
    };
    const auto shown = [](const std::optional<double>& value) { return value ? figures::plain(*value, 2) : QString(); };
    QLineEdit* ohm = box.add_optional_line(tr("Resistor, \u03A9"), shown(gear.resistor_ohm), over_zero);
    ohm->setObjectName(QStringLiteral("balance_ohm"));
    QLineEdit* amperes = box.add_optional_line(tr("Supply, A"), shown(gear.supply_a), over_zero);
    amperes->setObjectName(QStringLiteral("balance_a"));
    if (!box.ask())
        return;
    if (fine(workshop().triage().set_balance_gear({figures::typed(ohm->text()), figures::typed(amperes->text())})))
        emit evidence_changed();
}

} // namespace ingot::app
