#include "app/stations/triage/triage_station.h"

#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/reading_boxes.h"
#include "app/parts/record_combo.h"
#include "app/parts/voltage_ladder.h"
#include "app/theme/theme.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/models/shop_models.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QMenu>
#include <QRegularExpression>
#include <QVBoxLayout>

#include <cmath>

namespace ingot::app {

TriageStation::TriageStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::triage, parent) {
    weighing_ = new Job(this);
    connect(weighing_, &Job::failed, this,
            [this](const Problem& problem) { emit told(QString::fromStdString(problem.text()), true); });
    add_commands();
    add_notes();

    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    build_header(outer);
    auto* ladder_panel = new Panel(tr("Voltage ladder"), this);
    auto* key =
        caption(tr("hollow: end of charge   solid: at rest   split: under load   line: after storage"), ladder_panel);
    ladder_panel->head()->addWidget(key);
    ladder_ = new VoltageLadder(ladder_panel);
    ladder_panel->body()->addWidget(ladder_, 1);
    outer->addWidget(ladder_panel, 1);

    build_round(outer);
    connect(packs_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_ && isVisible())
            choose_pack(packs_->chosen());
    });
    connect(ladder_, &VoltageLadder::chosen, this, [this] { emit evidence_changed(); });
    connect(boxes_, &ReadingBoxes::chosen, this, [this](int box) {
        if (active_ < 0)
            start_round(condition_);
        move_to(box);
    });
}

void TriageStation::add_commands() {
    round_rest_ = add_command(tr("&Rest round"), QKeySequence(tr("F5")), tr("Read every group at rest"),
                              [this] { start_round(Condition::rest); });
    round_charge_ =
        add_command(tr("&Charge round"), QKeySequence(tr("F6")), tr("Read every group at the end of charge"),
                    [this] { start_round(Condition::end_of_charge); });
    round_load_ = add_command(tr("&Load round"), QKeySequence(tr("F7")), tr("Read every group under a light load"),
                              [this] { start_round(Condition::load); });
    round_stored_ =
        add_command(tr("S&torage round"), QKeySequence(tr("F4")), tr("Read every group after it stood disconnected"),
                    [this] { start_round(Condition::stored); });
    add_command(tr("&Stop the round"), QKeySequence(tr("F8")), tr("Leave the reading round"), [this] { stop_round(); });
    to_open_ = add_command(tr("Send to &Open"), QKeySequence(tr("Ctrl+T")), tr("This pack is taken apart"), [this] {
        if (send_pack(pack_, AssemblyState::to_open, tr("send %1 to Open")))
            choose_pack(0);
    });
    add_command(tr("Send &back to Receive"), {}, tr("This pack waits at Receive again"), [this] {
        if (send_pack(pack_, AssemblyState::received, tr("send %1 back to Receive")))
            choose_pack(0);
    });
    add_command(tr("Next &pack"), QKeySequence(tr("Ctrl+PgDown")), tr("The next pack at Triage"),
                [this] { packs_->choose_next(); });
}

void TriageStation::build_header(QBoxLayout* outer) {
    header_ = new Panel({}, this);
    packs_ = new RecordCombo(QStringLiteral("triage_pack"), header_);
    packs_->setAccessibleName(tr("Pack"));
    packs_->set_records(new PacksModel(workshop(), packs_), [this](Id id) {
        const Assembly* pack = workshop().pack(id);
        return pack != nullptr && pack->state == AssemblyState::in_triage;
    });
    header_->head()->insertWidget(0, packs_);
    header_->head()->addWidget(new PressButton(symptoms_, header_));
    header_->head()->addWidget(new PressButton(to_open_, header_));
    auto* row = new QHBoxLayout;
    row->setSpacing(14);
    chemistry_ = new Figure(tr("chemistry"), header_);
    layout_ = new Figure(tr("layout"), header_);
    claimed_ = new Figure(tr("claimed"), header_);
    terminals_ = new Figure(tr("terminals"), header_);
    sum_ = new Figure(tr("sum of groups"), header_);
    difference_ = new Figure(tr("difference"), header_);
    for (Figure* figure : {chemistry_, layout_, claimed_, terminals_, sum_, difference_})
        row->addWidget(figure);
    row->addStretch(1);
    header_->body()->addLayout(row);
    outer->addWidget(header_);
}

void TriageStation::build_round(QBoxLayout* outer) {
    round_panel_ = new Panel(tr("Reading round"), this);
    condition_field_ = new QWidget(round_panel_);
    auto* condition_row = new QHBoxLayout(condition_field_);
    condition_row->setContentsMargins(0, 0, 0, 0);
    condition_name_ = caption({}, condition_field_);
    condition_value_ = new QLineEdit(condition_field_);
    condition_value_->setObjectName(QStringLiteral("round_condition"));
    condition_value_->setFixedWidth(64);
    condition_row->addWidget(condition_name_);
    condition_row->addWidget(condition_value_);
    condition_field_->hide();
    round_panel_->head()->addWidget(condition_field_);
    for (QAction* action : {round_rest_, round_charge_, round_load_, round_stored_})
        round_panel_->head()->addWidget(new PressButton(action, round_panel_));
    boxes_ = new ReadingBoxes(round_panel_);
    round_panel_->body()->addWidget(boxes_);
    help_ = sentence({}, round_panel_);
    help_->setFont(type(13));
    round_panel_->body()->addWidget(help_);
    outer->addWidget(round_panel_);
}

void TriageStation::refresh() {
    filling_ = true;
    if (!packs_->lists(pack_)) {
        pack_ = packs_->first();
        active_ = -1;
    }
    packs_->choose(pack_);
    packs_->setVisible(packs_->count() > 0);
    filling_ = false;

    const Assembly* pack = workshop().pack(pack_);
    const bool may = pack != nullptr && workshop().writable();
    const TriageResult triage = pack != nullptr ? workshop().triage().result(pack_) : TriageResult{};
    for (QAction* action :
         QList<QAction*>{round_rest_, round_charge_, round_stored_, to_open_, symptoms_} + about_group_)
        action->setEnabled(may);
    symptoms_->setText(pack != nullptr && !workshop().triage().symptoms_of_pack(pack_).empty()
                           ? tr("S&ymptoms: %1…").arg(workshop().triage().symptoms_of_pack(pack_).size())
                           : tr("S&ymptoms…"));
    round_load_->setEnabled(may && triage.load_round_allowed);
    if (pack == nullptr) {
        header_->set_title(tr("No pack waits at Triage"));
        for (Figure* figure : {chemistry_, layout_, claimed_, terminals_, sum_, difference_})
            figure->set(QStringLiteral("\u2013"));
        ladder_->set({}, 1, {}, {});
        boxes_->set({});
        help_->setText(tr("Send a pack here from Receive."));
        return;
    }
    header_->set_title({});
    const Chemistry* chemistry = workshop().library().chemistry(pack->chemistry);
    chemistry_->set(QString::fromStdString(chemistry->name));
    layout_->set(QStringLiteral("%1S%2P").arg(pack->layout.series).arg(pack->layout.parallel));
    claimed_->set(figures::or_dash(pack->claim.capacity_ah, figures::pack_capacity));
    const auto rest = workshop().triage().group_readings(pack_, Condition::rest);
    const auto end = workshop().triage().group_readings(pack_, Condition::end_of_charge);
    const auto load = workshop().triage().group_readings(pack_, Condition::load);
    const auto stored = workshop().triage().group_readings(pack_, Condition::stored);
    const auto of = [](const std::map<int, double>& readings, int group) {
        const auto found = readings.find(group);
        return found == readings.end() ? std::nullopt : std::optional<double>(found->second);
    };
    terminals_->set(of(rest, 0) ? figures::volts(*of(rest, 0), 2) : QStringLiteral("\u2013"));
    sum_->set(triage.sum_v ? figures::volts(*triage.sum_v) : QStringLiteral("\u2013"));
    difference_->set(triage.difference_v ? figures::volts(*triage.difference_v) : QStringLiteral("\u2013"));
    std::vector<LadderGroup> groups;
    for (int g = 1; g <= pack->layout.series; ++g)
        groups.push_back({of(rest, g), of(end, g), of(load, g), of(stored, g)});
    ladder_->set(*chemistry, pack->layout.cells_per_unit, std::move(groups), triage);
    if (ladder_->selected() == 0 && triage.worst)
        ladder_->set_selected(static_cast<int>(*triage.worst) + 1);
    show_boxes();
}

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
    about(tr("Temper&ature of this group…"), {}, tr("A group that is warmer than its neighbours"),
          [this](int group) { return ask_temperature(group); });
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
                "", 0, TriageStation::tr("\"%1\" is not a voltage. Separate them by blanks.").arg(part).toStdString()};
        volts.push_back(value);
    }
    return volts;
}

} // namespace

Result<bool> TriageStation::ask_unit_voltages(int group) {
    const int units = workshop().pack(pack_)->layout.parallel;
    const auto text = ask_line(this, tr("Unit voltages"),
                               tr("Group %1: the voltage of each of its %2 units in order, such as "
                                  "3.61 3.60 0.20 3.61 (a dash where one is not read). "
                                  "Cut one link at a time; never bridge two strips.")
                                   .arg(group)
                                   .arg(units),
                               {}, [units](const QString& answer) {
                                   const auto volts = volts_of(answer);
                                   if (!volts)
                                       return QString::fromStdString(volts.problem().sentence);
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
    if (pack_ == 0)
        return;
    const QString path = QFileDialog::getOpenFileName(this, tr("Readings of this pack"), {},
                                                      tr("Readings (*.csv *.txt);;All files (*)"));
    if (path.isEmpty())
        return;
    const auto text = exchange::read_text(path.toStdString());
    if (!fine(text))
        return;
    const auto read = workshop().triage().import_group_readings(pack_, text.value(), path.toStdString());
    if (fine(read))
        emit told(tr("%n readings brought in.", nullptr, read.value()), false);
}

RoundConditions TriageStation::round_conditions() const {
    RoundConditions out;
    const auto value = figures::typed(condition_value_->text());
    if (condition_ == Condition::load)
        out.load_a = value;
    else if (condition_ == Condition::stored)
        out.days = value;
    return out;
}

void TriageStation::choose_pack(Id pack) {
    pack_ = pack;
    active_ = -1;
    typed_.clear();
    ladder_->set_selected(0);
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

void TriageStation::start_round(Condition condition) {
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return;
    if (condition == Condition::load && !workshop().triage().result(pack_).load_round_allowed) {
        emit told(tr("A group is under its floor voltage: no load round until it is explained."), true);
        return;
    }
    condition_ = condition;
    refused_minus_.reset();
    const bool stored = condition == Condition::stored;
    condition_field_->setVisible(stored || condition == Condition::load);
    const QString name = stored ? tr("days stood") : tr("load, A");
    condition_name_->setText(name);
    condition_value_->setAccessibleName(name);
    if (stored) {
        const auto days = workshop().triage().days_since_rest(pack_);
        condition_value_->setText(days ? figures::plain(*days, 1) : QString());
    }
    const auto read = workshop().triage().group_readings(pack_, condition);
    int first = 0; // the first unread, else the first
    for (int g = 1; g <= pack->layout.series; ++g)
        if (!read.contains(g)) {
            first = g - 1;
            break;
        }
    move_to(first);
}

void TriageStation::stop_round() {
    active_ = -1;
    typed_.clear();
    condition_field_->hide();
    ladder_->set_active(0);
    show_boxes();
    emit hint_changed();
}

void TriageStation::move_to(int box) {
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return;
    typed_.clear();
    active_ = box;
    if (box > pack->layout.series) {
        stop_round();
        return;
    }
    ladder_->set_active(box < pack->layout.series ? box + 1 : 0);
    show_boxes();
    emit hint_changed();
}

void TriageStation::show_boxes() {
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return;
    const auto read = workshop().triage().group_readings(pack_, condition_);
    const auto rest = workshop().triage().group_readings(pack_, Condition::rest);
    const TriageResult triage = workshop().triage().result(pack_);
    std::vector<ReadingBox> boxes;
    const int digits = pack->layout.cells_per_unit > 3 ? 2 : 3;
    for (int g = 1; g <= pack->layout.series + 1; ++g) {
        const bool terminals = g > pack->layout.series;
        ReadingBox box;
        box.title = terminals ? tr("Terminals") : tr("Group %1").arg(g);
        const auto found = read.find(terminals ? 0 : g);
        if (found != read.end())
            box.value = figures::plain(found->second, terminals ? 2 : digits);
        if (!terminals) {
            const GroupFinding& finding = triage.groups[static_cast<std::size_t>(g - 1)];
            box.warned = condition_ == Condition::rest &&
                         (finding.outlier || (finding.state && *finding.state != GroupState::working));
            if (condition_ == Condition::rest && finding.state)
                box.below = wording::state(*finding.state);
            else if (condition_ == Condition::load && found != read.end() && rest.contains(g))
                box.below =
                    tr("sag %1").arg(figures::millivolts_signed(rest.at(g) - found->second).remove(QLatin1Char('+')));
            else if (rest.contains(g))
                box.below = tr("rest %1").arg(figures::plain(rest.at(g), digits));
        }
        boxes.push_back(std::move(box));
    }
    boxes_->set(std::move(boxes));
    boxes_->set_active(active_, typed_);
    round_panel_->set_title(active_ < 0 ? tr("Reading round")
                                        : tr("Reading round: %1").arg(wording::condition(condition_)));
    help_->setText(active_ < 0
                       ? tr("Start a round, then type each reading and press Enter. Tap a box to read one group.")
                       : tr("Type the reading. Enter moves on, Backspace in an empty box goes back, * skips, F8 leaves "
                            "the round."));
}

void TriageStation::echo(const QString& typed) {
    typed_ = typed;
    boxes_->set_active(active_, typed_);
}

bool TriageStation::step_back() {
    if (active_ <= 0)
        return false;
    move_to(active_ - 1);
    return true;
}

bool TriageStation::take_line(const QString& line) {
    const Assembly* pack = workshop().pack(pack_);
    if (active_ < 0 || pack == nullptr) {
        for (const auto& p : workshop().packs())
            if (p.state == AssemblyState::in_triage &&
                QString::fromStdString(p.label).compare(line, Qt::CaseInsensitive) == 0) {
                choose_pack(p.id);
                return true;
            }
        if (pack != nullptr && figures::typed(line)) {
            emit told(tr("No round runs, so this number has no place. Start a round (F5 at rest, F6 end of charge, F7 "
                         "under load)."),
                      true);
            return true;
        }
        return line.isEmpty();
    }
    if (line.isEmpty() || line == QStringLiteral("*")) {
        move_to(active_ + 1);
        return true;
    }
    // "2.5 A" under load and "7 d" after storage say the round's condition.
    if (condition_ == Condition::load || condition_ == Condition::stored) {
        const QString unit = condition_ == Condition::load ? QStringLiteral("A") : QStringLiteral("d");
        if (line.trimmed().endsWith(unit, Qt::CaseInsensitive)) {
            if (const auto value = figures::typed(line.trimmed().chopped(1)); value && *value >= 0) {
                condition_value_->setText(figures::plain(*value, 2));
                echo({});
                return true;
            }
        }
    }
    const auto volts = figures::typed(line);
    if (!volts)
        return false;
    RoundConditions conditions = round_conditions();
    conditions.reversed = refused_minus_ && *refused_minus_ == *volts;
    const int group = active_ < pack->layout.series ? active_ + 1 : 0;
    const auto id =
        workshop().triage().record_group_reading(pack_, group, *volts, condition_, "bench meter", conditions);
    typed_.clear();
    if (!fine(id)) {
        refused_minus_ = *volts < 0 ? volts : std::nullopt;
        boxes_->set_active(active_, {});
        return true;
    }
    refused_minus_.reset();
    emit acknowledged(QStringLiteral("pack %1 group %2 %3 V").arg(pack_).arg(group).arg(*volts, 0, 'f', 4));
    move_to(active_ + 1);
    return true;
}

QString TriageStation::scan_hint() const {
    const Assembly* pack = workshop().pack(pack_);
    if (active_ < 0 || pack == nullptr)
        return tr("a pack label selects it");
    return active_ < pack->layout.series
               ? tr("goes to group %1, %2").arg(active_ + 1).arg(wording::condition(condition_))
               : tr("goes to the terminals");
}

EvidenceContent TriageStation::evidence() const {
    EvidenceContent content;
    content.caution = "triage";
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return content;
    const Chemistry* chemistry = workshop().library().chemistry(pack->chemistry);
    const TriageResult triage = workshop().triage().result(pack_);
    const int group = ladder_->selected();
    content.subject = QString::fromStdString(pack->label) + (group > 0 ? tr(", group %1").arg(group) : QString());
    content.line = wording::triage_summary(triage);
    if (const auto verdict = workshop().triage().group_verdict(pack_, group)) {
        add_group(content, *verdict);
    } else if (const auto& empty = workshop().triage().groups_taken_out(pack_);
               group > 0 && std::find(empty.begin(), empty.end(), group) != empty.end()) {
        content.verdict = tr("Taken out");
        content.line = tr("Nothing stands in this place. A donor's group or new units go there.");
    } else {
        content.verdict = triage.summary == PackTriage::healthy ? tr("In order") : QString();
    }
    add_explanations(content);
    if (!triage.load_round_allowed)
        content.notes << tr("No load round while a group is under its floor of %1 a cell.")
                             .arg(figures::volts(chemistry->floor_v, 2));
    if (triage.difference_v && !triage.sum_agrees)
        content.notes << tr("Sum and terminals differ by %1: a lead, a joint or a reading is wrong.")
                             .arg(figures::volts(*triage.difference_v));
    content.decided_by = tr("bands of %1, v%2").arg(QString::fromStdString(chemistry->name)).arg(chemistry->version);
    return content;
}

void TriageStation::add_group(EvidenceContent& content, const GroupVerdict& group) const {
    content.mark = group.mark;
    content.verdict = group.mark == Duty::quarantine       ? tr("Quarantine")
                      : group.outlier                      ? tr("Stands out")
                      : group.state == GroupState::working ? tr("Working")
                                                           : wording::state(group.state);
    content.reasons.push_back(group.evidence);
    if (group.from_median_v)
        content.notes << tr("%1 from the middle of the other groups.")
                             .arg(std::fabs(*group.from_median_v) < 0.1
                                      ? figures::millivolts_signed(*group.from_median_v)
                                      : figures::volts(*group.from_median_v));
    if (group.capacity_ah)
        content.notes << tr("Gave %1 on its own.").arg(figures::pack_capacity(*group.capacity_ah));
    if (group.never_charge) {
        const Chemistry* chemistry = workshop().library().chemistry(workshop().pack(pack_)->chemistry);
        content.notes << tr("Do not charge this pack: under %1 a cell, copper may have dissolved and plated.")
                             .arg(figures::volts(chemistry->bands.deep_below_v, 1));
    }
}

void TriageStation::add_explanations(EvidenceContent& content) const {
    const TriageCase known = workshop().triage().triage_case(pack_);
    const bool said = !known.readings.empty() || !known.symptoms.empty();
    if (said && !explained_or_begun(known)) {
        content.notes << tr("Weighing the readings …");
    } else if (said) {
        const Explained& explained = workshop().triage().explained(pack_);
        constexpr std::size_t most_bars = 4;
        constexpr double least = 0.02;
        for (const Explanation& e : explained.explanations) {
            if (content.explanations.size() == most_bars || e.probability < least)
                break;
            const QString where = e.groups.empty() ? QString() : tr(", %1").arg(wording::groups(e.groups));
            QString below = wording::reason(e, known);
            if (!e.with.empty())
                below +=
                    tr(" Beside it: %1, %2.")
                        .arg(wording::fault(e.with.front().first).toLower(), wording::groups(e.with.front().second));
            content.explanations.push_back({wording::fault(e.fault) + where, e.probability, below});
        }
        if (explained.something_else > 0.05)
            content.explanations.push_back(
                {tr("Something else"), explained.something_else, tr("A fault without a name.")});
        if (explained.settle_by)
            content.tell_apart = wording::next_reading(*explained.settle_by);
        constexpr std::size_t most_ways = 4;
        for (const Way& way : workshop().triage().ways(pack_))
            if (content.ways.size() < most_ways)
                content.ways.push_back({tr("%1, %2").arg(wording::way_forward(way.way), wording::groups(way.groups)),
                                        wording::way_reason(way), way.advised});
    }
}

// Small cases at once; what takes longer than a person notices is weighed beside the window.
bool TriageStation::explained_or_begun(const TriageCase& known) const {
    constexpr std::size_t at_once = 40; // readings: about 20 ms
    if (workshop().triage().explained_at_hand(pack_) || known.readings.size() <= at_once)
        return true;
    if (weighing_->busy()) // one at a time; the window asks again when it is done
        return false;
    auto* self = const_cast<TriageStation*>(this);
    self->workshop().triage().explain_beside(*weighing_, pack_, [self] { emit self->evidence_changed(); });
    return false;
}

void TriageStation::pose() {
    const int index = packs_->findText(QStringLiteral("MOW-07 · pack 3"));
    if (index >= 0)
        packs_->setCurrentIndex(index);
    start_round(Condition::rest);
    move_to(3);
    echo(QStringLiteral("3.84"));
}

} // namespace ingot::app
