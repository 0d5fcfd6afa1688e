#include "app/stations/triage/triage_station.h"

#include "app/parts/panel.h"
#include "app/parts/reading_boxes.h"
#include "app/parts/record_combo.h"
#include "app/parts/voltage_ladder.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/models/shop_models.h"
#include "workshop/round_start.h"
#include "workshop/wording.h"

#include <QLineEdit>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

// Also a pack from which groups came out: it is read again before it goes back into service (N27).
bool worked_on_here(AssemblyState state) {
    return state == AssemblyState::in_triage || state == AssemblyState::under_repair;
}

} // namespace

TriageStation::TriageStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::triage, parent) {
    weighing_ = new Job(this);
    weighing_->setObjectName(QStringLiteral("explaining"));
    connect(weighing_, &Job::failed, this,
            [this](const Problem& problem) { emit told(wording::problem(problem), true); });
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
    to_service_ = add_command(tr("Into service"), {}, tr("Repaired: it goes back to its device"), [this] {
        if (fine(this->workshop().prove().repaired_to(pack_, AssemblyState::in_service)))
            emit told(tr("It is in service; Prove follows it, a reading after a week is due."), false);
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
        return pack != nullptr && worked_on_here(pack->state);
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
         QList<QAction*>{round_rest_, round_charge_, round_stored_, to_open_, symptoms_} + about_group_ + about_pack_)
        action->setEnabled(may);
    to_service_->setEnabled(may && pack->state == AssemblyState::under_repair);
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
    layout_->set(
        pack->layout.units_per_tap > 1
            ? tr("%1S%2P, %3 a tap").arg(pack->layout.series).arg(pack->layout.parallel).arg(pack->layout.units_per_tap)
            : QStringLiteral("%1S%2P").arg(pack->layout.series).arg(pack->layout.parallel));
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
        groups.push_back({of(rest, g), of(end, g), of(load, g), of(stored, g), {}});
    for (const UnitVoltage& unit : workshop().triage().triage_case(pack_).units)
        if (unit.group >= 1 && unit.group <= pack->layout.series)
            groups[static_cast<std::size_t>(unit.group) - 1].units_v.push_back(unit.voltage_v *
                                                                               pack->layout.units_per_tap);
    ladder_->set(*chemistry, pack->layout.cells_per_tap(), std::move(groups), triage);
    if (ladder_->selected() == 0 && triage.worst)
        ladder_->set_selected(static_cast<int>(*triage.worst) + 1);
    show_boxes();
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
    move_to(first_to_read(workshop(), pack_, condition) - 1);
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
    const int digits = pack->layout.cells_per_tap() > 3 ? 2 : 3;
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
            if (worked_on_here(p.state) && QString::fromStdString(p.label).compare(line, Qt::CaseInsensitive) == 0) {
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
    conditions.resolution_v = figures::last_digit(line);
    conditions.reversed = refused_minus_ && *refused_minus_ == *volts;
    const int group = active_ < pack->layout.series ? active_ + 1 : 0;
    const auto id = workshop().triage().record_group_reading(pack_, group, *volts, condition_, read_with_, conditions);
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

std::optional<Quantity> TriageStation::wanted_reading() const {
    return active_ >= 0 && workshop().pack(pack_) != nullptr ? std::optional(Quantity::voltage) : std::nullopt;
}

void TriageStation::take_reading(const bench::MeterReading& reading, Quantity quantity, const std::string& instrument) {
    read_with_ = instrument;
    Page::take_reading(reading, quantity, instrument);
    read_with_ = typed_from;
}

QString TriageStation::scan_hint() const {
    const Assembly* pack = workshop().pack(pack_);
    if (active_ < 0 || pack == nullptr)
        return tr("a pack label selects it");
    return active_ < pack->layout.series
               ? tr("goes to group %1, %2").arg(active_ + 1).arg(wording::condition(condition_))
               : tr("goes to the terminals");
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
