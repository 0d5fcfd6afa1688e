#include "app/stations/triage/triage_station.h"

#include "app/parts/panel.h"
#include "app/parts/reading_boxes.h"
#include "app/parts/voltage_ladder.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QVBoxLayout>

#include <cmath>

namespace ingot::app {

TriageStation::TriageStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::triage, parent) {
    round_rest_ = add_command(tr("Round at &rest"), QKeySequence(tr("F5")), tr("Read every group at rest"),
                              [this] { start_round(Condition::rest); });
    round_charge_ =
        add_command(tr("Round at end of &charge"), QKeySequence(tr("F6")), tr("Read every group at the end of charge"),
                    [this] { start_round(Condition::end_of_charge); });
    round_load_ = add_command(tr("Round under &load"), QKeySequence(tr("F7")),
                              tr("Read every group under a light load"), [this] { start_round(Condition::load); });
    add_command(tr("&Stop the round"), QKeySequence(tr("F8")), tr("Leave the reading round"), [this] { stop_round(); });
    to_open_ =
        add_command(tr("Send to &Open"), QKeySequence(tr("Ctrl+Shift+O")), tr("This pack is taken apart"), [this] {
            if (fine(this->workshop().set_stage(pack_, "open")))
                choose_pack(0);
        });
    add_command(tr("Next &pack"), QKeySequence(tr("Ctrl+PgDown")), tr("The next pack at Triage"), [this] {
        if (packs_->count() > 0)
            packs_->setCurrentIndex((packs_->currentIndex() + 1) % packs_->count());
    });

    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    header_ = new Panel({}, this);
    packs_ = new QComboBox(header_);
    packs_->setObjectName(QStringLiteral("triage_pack"));
    packs_->setFont(type(20, true));
    packs_->setFocusPolicy(Qt::TabFocus);
    packs_->setAccessibleName(tr("Pack"));
    header_->head()->insertWidget(0, packs_);
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

    auto* ladder_panel = new Panel(tr("Voltage ladder"), this);
    auto* key = caption(tr("hollow: end of charge   solid: at rest   split: under load"), ladder_panel);
    ladder_panel->head()->addWidget(key);
    ladder_ = new VoltageLadder(ladder_panel);
    ladder_panel->body()->addWidget(ladder_, 1);
    outer->addWidget(ladder_panel, 1);

    round_panel_ = new Panel(tr("Reading round"), this);
    for (QAction* action : {round_rest_, round_charge_, round_load_})
        round_panel_->head()->addWidget(new PressButton(action, round_panel_));
    boxes_ = new ReadingBoxes(round_panel_);
    round_panel_->body()->addWidget(boxes_);
    help_ = sentence({}, round_panel_);
    help_->setFont(type(13));
    round_panel_->body()->addWidget(help_);
    outer->addWidget(round_panel_);

    connect(packs_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            choose_pack(packs_->currentData().toLongLong());
    });
    connect(ladder_, &VoltageLadder::chosen, this, [this] { emit evidence_changed(); });
    connect(boxes_, &ReadingBoxes::chosen, this, [this](int box) {
        if (active_ < 0)
            start_round(condition_);
        move_to(box);
    });
}

void TriageStation::refresh() {
    filling_ = true;
    packs_->clear();
    for (const auto& pack : workshop().packs())
        if (pack.stage == "triage")
            packs_->addItem(QString::fromStdString(pack.label), QVariant::fromValue<qlonglong>(pack.id));
    int index = packs_->findData(QVariant::fromValue<qlonglong>(pack_));
    if (index < 0 && packs_->count() > 0) {
        index = 0;
        pack_ = packs_->itemData(0).toLongLong();
        active_ = -1;
    } else if (index < 0) {
        pack_ = 0;
        active_ = -1;
    }
    packs_->setCurrentIndex(index);
    packs_->setVisible(packs_->count() > 0);
    filling_ = false;

    const store::PackRecord* pack = workshop().pack(pack_);
    const bool may = pack != nullptr && workshop().writable();
    const TriageResult triage = pack != nullptr ? workshop().triage(pack_) : TriageResult{};
    for (QAction* action : {round_rest_, round_charge_, to_open_})
        action->setEnabled(may);
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
    const auto rest = workshop().group_readings(pack_, Condition::rest).by_group;
    const auto end = workshop().group_readings(pack_, Condition::end_of_charge).by_group;
    const auto load = workshop().group_readings(pack_, Condition::load).by_group;
    const auto of = [](const std::map<int, double>& readings, int group) {
        const auto found = readings.find(group);
        return found == readings.end() ? std::nullopt : std::optional<double>(found->second);
    };
    terminals_->set(of(rest, 0) ? figures::volts(*of(rest, 0), 2) : QStringLiteral("\u2013"));
    sum_->set(triage.sum_v ? figures::volts(*triage.sum_v) : QStringLiteral("\u2013"));
    difference_->set(triage.difference_v ? figures::volts(*triage.difference_v) : QStringLiteral("\u2013"));
    std::vector<LadderGroup> groups;
    for (int g = 1; g <= pack->layout.series; ++g)
        groups.push_back({of(rest, g), of(end, g), of(load, g)});
    ladder_->set(*chemistry, pack->layout.cells_per_unit, std::move(groups), triage);
    if (ladder_->selected() == 0 && triage.worst)
        ladder_->set_selected(static_cast<int>(*triage.worst) + 1);
    show_boxes();
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
    const store::PackRecord* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return;
    if (condition == Condition::load && !workshop().triage(pack_).load_round_allowed) {
        emit told(tr("A group is under its floor voltage: no load round until it is explained."), true);
        return;
    }
    condition_ = condition;
    const auto read = workshop().group_readings(pack_, condition).by_group;
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
    ladder_->set_active(0);
    show_boxes();
    emit hint_changed();
}

void TriageStation::move_to(int box) {
    const store::PackRecord* pack = workshop().pack(pack_);
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
    const store::PackRecord* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return;
    const auto read = workshop().group_readings(pack_, condition_).by_group;
    const auto rest = workshop().group_readings(pack_, Condition::rest).by_group;
    const TriageResult triage = workshop().triage(pack_);
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
    const store::PackRecord* pack = workshop().pack(pack_);
    if (active_ < 0 || pack == nullptr) {
        for (const auto& p : workshop().packs())
            if (p.stage == "triage" && QString::fromStdString(p.label).compare(line, Qt::CaseInsensitive) == 0) {
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
    const auto volts = figures::typed(line);
    if (!volts)
        return false;
    const int group = active_ < pack->layout.series ? active_ + 1 : 0;
    const auto id = workshop().record_group_reading(pack_, group, *volts, condition_, "bench meter");
    typed_.clear();
    if (!fine(id)) {
        boxes_->set_active(active_, {});
        return true;
    }
    emit acknowledged(QStringLiteral("pack %1 group %2 %3 V").arg(pack_).arg(group).arg(*volts, 0, 'f', 4));
    move_to(active_ + 1);
    return true;
}

QString TriageStation::scan_hint() const {
    const store::PackRecord* pack = workshop().pack(pack_);
    if (active_ < 0 || pack == nullptr)
        return tr("a pack label selects it");
    return active_ < pack->layout.series
               ? tr("goes to group %1, %2").arg(active_ + 1).arg(wording::condition(condition_))
               : tr("goes to the terminals");
}

EvidenceContent TriageStation::evidence() const {
    EvidenceContent content;
    content.caution = "triage";
    const store::PackRecord* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return content;
    const Chemistry* chemistry = workshop().library().chemistry(pack->chemistry);
    const TriageResult triage = workshop().triage(pack_);
    const int group = ladder_->selected();
    content.subject = QString::fromStdString(pack->label) + (group > 0 ? tr(", group %1").arg(group) : QString());
    content.line = wording::triage_summary(triage);
    const auto at = static_cast<std::size_t>(std::max(0, group - 1));
    if (group > 0 && at < triage.groups.size() && triage.groups[at].state) {
        const GroupFinding& finding = triage.groups[at];
        const double volts = workshop().group_readings(pack_, Condition::rest).by_group.at(group);
        Evidence evidence;
        evidence.kind = EvidenceKind::voltage;
        evidence.measured = volts;
        evidence.source = chemistry->source;
        const int n = pack->layout.cells_per_unit;
        evidence.limits = {{chemistry->bands.low_below_v * n, Duty::drive},
                           {chemistry->bands.deep_below_v * n, Duty::rest_again}};
        const bool deep = *finding.state == GroupState::deep || *finding.state == GroupState::dead;
        const bool hazard = (deep && chemistry->lithium) || *finding.state == GroupState::over;
        evidence.allows = hazard ? Duty::quarantine : Duty::drive;
        content.mark =
            hazard ? Duty::quarantine
                   : (finding.outlier || *finding.state != GroupState::working ? Duty::rest_again : Duty::drive);
        content.verdict =
            hazard ? tr("Hold apart")
                   : (finding.outlier
                          ? tr("Stands out")
                          : (*finding.state == GroupState::working ? tr("Working") : wording::state(*finding.state)));
        content.reasons.push_back(evidence);
        if (finding.from_median_v)
            content.notes << tr("%1 from the middle of the other groups.")
                                 .arg(std::fabs(*finding.from_median_v) < 0.1
                                          ? figures::millivolts_signed(*finding.from_median_v)
                                          : figures::volts(*finding.from_median_v));
        if (deep && chemistry->lithium)
            content.notes << tr("Do not charge this pack: under %1 a cell, copper may have dissolved and plated.")
                                 .arg(figures::volts(chemistry->bands.deep_below_v, 1));
    } else {
        content.verdict = triage.summary == PackTriage::healthy ? tr("In order") : QString();
    }
    if (!triage.load_round_allowed)
        content.notes << tr("No load round while a group is under its floor of %1 a cell.")
                             .arg(figures::volts(chemistry->floor_v, 2));
    if (triage.difference_v && !triage.sum_agrees)
        content.notes << tr("Sum and terminals differ by %1: a lead, a joint or a reading is wrong.")
                             .arg(figures::volts(*triage.difference_v));
    content.decided_by = tr("bands of %1, v%2").arg(QString::fromStdString(chemistry->name)).arg(chemistry->version);
    return content;
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
