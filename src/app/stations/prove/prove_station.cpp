#include "app/stations/prove/prove_station.h"

#include "app/parts/choice_row.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/reading_boxes.h"
#include "app/parts/record_combo.h"
#include "app/print/passport_sheet.h"
#include "app/stations/prove/field_view.h"
#include "app/theme/theme.h"
#include "exchange/passport_json.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/models/shop_models.h"
#include "workshop/prove_wording.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QHeaderView>
#include <QLabel>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

namespace {

// A group's difference from the others; nothing where there is none to show.
QString difference(const RoundVerdict& verdict, std::size_t group) {
    if (group < verdict.shown_v.size() && verdict.shown_v[group].has_value())
        return figures::millivolts_signed(*verdict.shown_v[group]);
    return {};
}

} // namespace

ProveStation::ProveStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::prove, parent) {
    add_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    head_ = new Panel({}, this);
    packs_ = new RecordCombo(QStringLiteral("prove_pack"), head_);
    packs_->setAccessibleName(tr("Pack"));
    packs_->set_records(new BuildsModel(workshop, packs_, true), [this](Id id) {
        const Assembly* pack = this->workshop().assembly(id);
        return pack != nullptr &&
               (this->workshop().inventory().at_prove(*pack) || this->workshop().prove().in_field(*pack));
    });
    head_->head()->insertWidget(0, packs_);
    words_ = new QLabel(head_);
    set_muted(words_);
    head_->head()->insertWidget(1, words_);
    for (QAction* view : {proof_view_, field_view_}) {
        auto* button = new PressButton(view, head_);
        button->setCheckable(true);
        head_->head()->addWidget(button);
        view_buttons_.push_back(button);
    }
    head_->head()->addWidget(new PressButton(passport_, head_));
    head_->head()->addWidget(new PressButton(sign_, head_, true));
    outer->addWidget(head_);

    stack_ = new QStackedWidget(this);
    stack_->addWidget(make_rounds());
    field_ = new FieldView(workshop, stack_);
    stack_->addWidget(field_);
    outer->addWidget(stack_, 1);
    connect(field_, &FieldView::group_changed, this, [this] {
        emit evidence_changed();
        emit hint_changed();
    });

    connect(packs_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            choose(packs_->chosen());
    });
    connect(rounds_, &ChoiceRow::changed, this, [this](int index) { show_round(static_cast<ProofRound>(index)); });
    connect(boxes_, &ReadingBoxes::chosen, this, [this](int index) {
        active_ = index;
        show_boxes();
        emit hint_changed();
    });
}

QWidget* ProveStation::make_rounds() {
    auto* page = new QWidget(this);
    auto* outer = new QVBoxLayout(page);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* round = new Panel(tr("Round"), page);
    QStringList names;
    for (int r = 0; r < proof_round_count; ++r)
        names << QStringLiteral("&%1 %2").arg(r + 1).arg(wording::proof_round(static_cast<ProofRound>(r)));
    rounds_ = new ChoiceRow(names, round);
    rounds_->setObjectName(QStringLiteral("prove_rounds"));
    round->head()->addWidget(rounds_);
    how_ = sentence({}, round);
    how_->setObjectName(QStringLiteral("prove_how"));
    round->body()->addWidget(how_);
    boxes_ = new ReadingBoxes(round);
    round->body()->addWidget(boxes_);
    outer->addWidget(round);

    auto* groups = new Panel(tr("Group by group"), page);
    table_ = new QTableWidget(0, proof_round_count, groups);
    table_->setObjectName(QStringLiteral("prove_groups"));
    table_->setAccessibleName(tr("Every round, group by group"));
    QStringList heads;
    for (int r = 0; r < proof_round_count; ++r)
        heads << wording::proof_round(static_cast<ProofRound>(r));
    table_->setHorizontalHeaderLabels(heads);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->verticalHeader()->setDefaultSectionSize(scaled(26));
    table_->horizontalHeader()->setAccessibleName(tr("Rounds"));
    table_->verticalHeader()->setAccessibleName(tr("Groups"));
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setTabKeyNavigation(false);
    groups->body()->addWidget(table_, 1);
    outer->addWidget(groups, 1);
    return page;
}

void ProveStation::add_commands() {
    sign_ = add_command(tr("&Sign the proof…"), QKeySequence(tr("Ctrl+Return")),
                        tr("Every round passed: it is proved, by whom and when"), [this] { sign(); });
    passport_ = add_command(tr("P&assport…"), QKeySequence(tr("Ctrl+P")), tr("What goes with the pack, as PDF or JSON"),
                            [this] { save_passport(); });
    service_ = add_command(tr("Into s&ervice"), {}, tr("The pack goes to its device"),
                           [this] { move_to(AssemblyState::in_service); });
    returned_ = add_command(tr("It came &back"), {}, tr("The pack is on the bench again"),
                            [this] { move_to(AssemblyState::returned); });
    back_ = add_command(tr("Send back to Bu&ild…"), {}, tr("A joint is opened again; the proof begins anew after it"),
                        [this] { send_back(); });
    add_command(tr("Next &pack"), QKeySequence(tr("Ctrl+PgDown")), tr("The next joined pack"),
                [this] { packs_->choose_next(); });
    const auto view = [this](const QString& text, const QString& tip, bool field) {
        QAction* action = add_command(text, QKeySequence::mnemonic(text), tip, [this, field] { show_field(field); });
        action->setCheckable(true);
        return action;
    };
    proof_view_ = view(tr("P&roof"), tr("The rounds that prove the pack"), false);
    field_view_ = view(tr("In the fie&ld"), tr("What became of it since it went into service"), true);
    balanced_ =
        add_command(tr("It was balance&d"), {}, tr("Its groups were brought level; the trend begins anew"), [this] {
            if (fine(this->workshop().prove().balanced(pack_)))
                emit told(tr("The trend of %1 begins anew.").arg(packs_->currentText()), false);
        });
    triage_ = add_command(tr("To &Triage"), {}, tr("A repaired pack that came back is read through again"), [this] {
        if (fine(this->workshop().receive().set_state(pack_, AssemblyState::in_triage)))
            emit go_to(Station::triage);
    });
}

void ProveStation::move_to(AssemblyState state) {
    auto& prove = workshop().prove();
    const Assembly* pack = workshop().assembly(pack_);
    if (pack != nullptr && fine(pack->came_in() ? prove.repaired_to(pack_, state) : prove.move_on(pack_, state)))
        show_field(true);
}

void ProveStation::show_field(bool field) {
    in_field_ = field;
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

void ProveStation::choose(Id pack) {
    pack_ = pack;
    const Assembly* chosen = workshop().assembly(pack_);
    in_field_ = chosen != nullptr && workshop().prove().in_field(*chosen);
    round_ = ProofRound::at_rest;
    load_a_.reset();
    refresh();
    // The first round that is still open.
    for (int r = 0; r < proof_round_count; ++r)
        if (proof_.pack.id != 0 && proof_.proof.rounds[static_cast<std::size_t>(r)].state != ProofState::passed) {
            round_ = static_cast<ProofRound>(r);
            break;
        }
    show_round(round_);
}

void ProveStation::refresh() {
    filling_ = true;
    const Id before = pack_;
    if (!packs_->lists(pack_))
        pack_ = packs_->last();
    packs_->choose(pack_);
    packs_->setVisible(pack_ != 0);
    filling_ = false;
    const Assembly* pack = workshop().assembly(pack_);
    const bool field = pack != nullptr && workshop().prove().in_field(*pack);
    const bool repaired = pack != nullptr && pack->came_in();
    if (before != pack_) {
        round_ = ProofRound::at_rest;
        load_a_.reset();
        active_ = -1;
        in_field_ = field;
    }
    in_field_ = field && (in_field_ || repaired);
    proof_ = workshop().prove().proof(pack_);
    const bool may = pack_ != 0 && workshop().writable();
    const AssemblyState state = pack != nullptr ? pack->state : AssemblyState::planned;
    proof_view_->setEnabled(!repaired);
    field_view_->setEnabled(field);
    proof_view_->setChecked(!in_field_);
    field_view_->setChecked(in_field_);
    view_buttons_[0]->setChecked(!in_field_);
    view_buttons_[1]->setChecked(in_field_);
    balanced_->setEnabled(may && in_field_);
    triage_->setEnabled(may && repaired && state == AssemblyState::returned);
    stack_->setCurrentIndex(in_field_ ? 1 : 0);
    field_->show_pack(field ? pack_ : 0);
    sign_->setEnabled(may && state == AssemblyState::joined);
    service_->setEnabled(may && state == AssemblyState::proved);
    returned_->setEnabled(may && state == AssemblyState::in_service);
    back_->setEnabled(may && !repaired && (state == AssemblyState::joined || state == AssemblyState::returned));
    passport_->setEnabled(pack_ != 0 && !repaired);
    head_->set_title(pack_ != 0 ? QString() : tr("No joined pack yet"));
    words_->setText(
        pack_ == 0
            ? QString()
            : tr("%1S%2P, %3").arg(pack->layout.series).arg(pack->layout.parallel).arg(wording::assembly_state(state)));
    rounds_->choose(static_cast<int>(round_));
    how_->setText(pack_ == 0 ? tr("A pack comes here when the last step of Build is ticked.")
                             : wording::proof_round_how(round_));
    if (active_ < 0)
        active_ = first_empty();
    show_boxes();
    show_table();
}

void ProveStation::show_round(ProofRound round) {
    round_ = round;
    active_ = -1;
    if (proof_.pack.id != 0)
        if (const auto& read = proof_.readings.rounds[static_cast<std::size_t>(round)].load_a)
            load_a_ = read;
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

int ProveStation::boxes() const {
    return proof_.pack.id == 0 ? 0 : proof_.pack.layout.series + 1 + (round_ == ProofRound::under_load ? 1 : 0);
}

int ProveStation::first_empty() const {
    if (proof_.pack.id == 0)
        return -1;
    const ProofReading& reading = proof_.readings.rounds[static_cast<std::size_t>(round_)];
    const int before = round_ == ProofRound::under_load ? 1 : 0;
    if (before == 1 && !load_a_)
        return 0;
    for (std::size_t g = 0; g < reading.group_v.size(); ++g)
        if (!reading.group_v[g])
            return before + static_cast<int>(g);
    return reading.terminals_v ? 0 : boxes() - 1;
}

void ProveStation::show_boxes(const QString& typed) {
    std::vector<ReadingBox> out;
    if (proof_.pack.id != 0) {
        const auto r = static_cast<std::size_t>(round_);
        const ProofReading& reading = proof_.readings.rounds[r];
        const RoundVerdict& verdict = proof_.proof.rounds[r];
        if (round_ == ProofRound::under_load)
            out.push_back({tr("load, A"), load_a_ ? figures::plain(*load_a_, 1) : QString(), {}, false});
        for (std::size_t g = 0; g < reading.group_v.size(); ++g) {
            const bool out_of_line = std::any_of(verdict.findings.begin(), verdict.findings.end(),
                                                 [&](const auto& f) { return f.group == static_cast<int>(g) + 1; });
            out.push_back({tr("Group %1").arg(g + 1),
                           reading.group_v[g] ? figures::plain(*reading.group_v[g], 3) : QString(),
                           difference(verdict, g), out_of_line});
        }
        out.push_back({tr("Terminals"),
                       reading.terminals_v ? figures::plain(*reading.terminals_v, 2) : QString(),
                       {},
                       std::any_of(verdict.findings.begin(), verdict.findings.end(),
                                   [](const auto& f) { return f.group == 0; })});
    }
    boxes_->set(std::move(out));
    boxes_->set_active(proof_.pack.id != 0 ? active_ : -1, typed);
}

void ProveStation::show_table() {
    const int rows = proof_.pack.id == 0 ? 0 : proof_.pack.layout.series + 2;
    table_->setRowCount(rows);
    if (rows == 0)
        return;
    QStringList heads;
    for (int g = 1; g <= proof_.pack.layout.series; ++g)
        heads << tr("group %1").arg(g);
    heads << tr("terminals") << tr("verdict");
    table_->setVerticalHeaderLabels(heads);
    for (int r = 0; r < proof_round_count; ++r) {
        const auto at = static_cast<std::size_t>(r);
        const ProofReading& reading = proof_.readings.rounds[at];
        const RoundVerdict& verdict = proof_.proof.rounds[at];
        const auto cell = [&](int row, const QString& text, bool out_of_line) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment(Qt::AlignCenter);
            if (out_of_line) {
                item->setForeground(colours().plum);
                item->setFont(type(14, true));
            }
            table_->setItem(row, r, item);
        };
        const auto flagged = [&](int group) {
            return std::any_of(verdict.findings.begin(), verdict.findings.end(),
                               [&](const ProofFinding& f) { return f.group == group; });
        };
        for (std::size_t g = 0; g < reading.group_v.size(); ++g) {
            const bool bad = flagged(static_cast<int>(g) + 1);
            cell(static_cast<int>(g),
                 reading.group_v[g] ? tr("%1  %2%3")
                                          .arg(figures::plain(*reading.group_v[g], 3), difference(verdict, g),
                                               bad ? tr(" !") : QString())
                                    : QString(QChar(0x2013)),
                 bad);
        }
        cell(rows - 2, reading.terminals_v ? figures::plain(*reading.terminals_v, 2) : QString(QChar(0x2013)),
             flagged(0));
        QString words = wording::proof_state(verdict.state);
        if (verdict.grade)
            words += tr(", %1").arg(wording::spread_grade(*verdict.grade));
        cell(rows - 1, reading.begun() ? words : QString(QChar(0x2013)), verdict.state == ProofState::failed);
    }
}

void ProveStation::next_box() {
    const int empty = first_empty();
    active_ = empty >= 0 ? empty : 0;
}

bool ProveStation::take_figure(double value, const QString& line) {
    if (!workshop().writable()) {
        emit told(tr("This workshop is open for reading only."), true);
        return true;
    }
    const int before = round_ == ProofRound::under_load ? 1 : 0;
    if (before == 1 && active_ == 0) {
        if (!(value > 0)) {
            emit told(tr("The load draws more than nothing."), true);
            return true;
        }
        load_a_ = value;
        active_ = 1;
        show_boxes();
        emit hint_changed();
        return true;
    }
    const int at = active_ - before;
    const int group = at >= proof_.pack.layout.series ? 0 : at + 1;
    const auto kept = workshop().prove().record(pack_, round_, group, value, figures::last_digit(line), load_a_);
    if (!fine(kept))
        return true;
    emit acknowledged(QStringLiteral("pack %1 group %2 %3").arg(pack_).arg(group).arg(value, 0, 'f', 4));
    refresh();
    next_box();
    show_boxes();
    emit evidence_changed();
    emit hint_changed();
    return true;
}

bool ProveStation::take_line(const QString& line) {
    for (const auto* all : {&workshop().builds(), &workshop().packs()})
        for (const Assembly& pack : *all)
            if ((workshop().inventory().at_prove(pack) || workshop().prove().in_field(pack)) &&
                QString::fromStdString(pack.label).compare(line, Qt::CaseInsensitive) == 0) {
                choose(pack.id);
                return true;
            }
    if (pack_ == 0)
        return false;
    if (in_field_) {
        if (line.isEmpty()) {
            field_->next_group();
            return true;
        }
        const auto volts = figures::typed(line);
        return volts && take_field_figure(*volts, line);
    }
    if (line.isEmpty()) {
        active_ = boxes() > 0 ? (active_ + 1) % boxes() : -1;
        show_boxes();
        emit hint_changed();
        return true;
    }
    const auto value = figures::typed(line);
    return value && take_figure(*value, line);
}

std::optional<Quantity> ProveStation::wanted_reading() const {
    const bool amperes = !in_field_ && round_ == ProofRound::under_load && active_ == 0;
    const bool box = in_field_ || active_ >= 0;
    return pack_ != 0 && box && !amperes ? std::optional(Quantity::voltage) : std::nullopt;
}

bool ProveStation::take_field_figure(double value, const QString& line) {
    if (!workshop().writable()) {
        emit told(tr("This workshop is open for reading only."), true);
        return true;
    }
    const int group = field_->group();
    if (fine(field_->take(value, line)))
        emit acknowledged(QStringLiteral("pack %1 group %2 %3").arg(pack_).arg(group).arg(value, 0, 'f', 4));
    return true;
}

void ProveStation::echo(const QString& typed) {
    if (in_field_)
        field_->echo(typed);
    else if (pack_ != 0)
        show_boxes(typed);
}

bool ProveStation::step_back() {
    if (pack_ == 0 || !workshop().writable())
        return false;
    if (in_field_) {
        if (field_->pack().last != 0 && fine(field_->strike_last()))
            emit told(tr("The last reading was struck out."), false);
        return true;
    }
    const Id last = proof_.last[static_cast<std::size_t>(round_)];
    if (last == 0)
        return false;
    if (fine(workshop().prove().strike(last, "typed wrong"))) {
        refresh();
        next_box();
        show_boxes();
        emit told(tr("The last reading of this round was struck out."), false);
        emit evidence_changed();
    }
    return true;
}

QString ProveStation::scan_hint() const {
    if (pack_ == 0)
        return tr("a pack's label");
    if (in_field_)
        return tr("volts of group %1").arg(field_->group());
    if (round_ == ProofRound::under_load && active_ == 0)
        return tr("amperes of the load");
    const int at = active_ - (round_ == ProofRound::under_load ? 1 : 0);
    return at >= proof_.pack.layout.series ? tr("volts at the terminals") : tr("volts of group %1").arg(at + 1);
}

EvidenceContent ProveStation::evidence() const {
    EvidenceContent content;
    if (pack_ == 0)
        return content;
    if (in_field_)
        return field_->evidence();
    const RoundVerdict& verdict = proof_.proof.rounds[static_cast<std::size_t>(round_)];
    content.subject = tr("%1, %2").arg(QString::fromStdString(proof_.pack.label), wording::proof_round(round_));
    if (proof_.proof.passed)
        content.verdict = proof_.pack.state == AssemblyState::joined ? tr("Every round passed") : tr("Proved");
    else
        content.verdict = verdict.state == ProofState::failed   ? tr("Does not pass")
                          : verdict.state == ProofState::passed ? tr("This round passed")
                                                                : tr("Open");
    if (!proof_.signed_by.empty())
        content.line =
            tr("signed by %1 on %2")
                .arg(QString::fromStdString(proof_.signed_by), QString::fromStdString(proof_.signed_at).left(10));
    if (verdict.spread_v)
        content.notes << tr("<b>%1</b> a cell between the highest and the lowest group: %2.")
                             .arg(figures::millivolts_signed(*verdict.spread_v).remove(QLatin1Char('+')),
                                  wording::spread_grade(*verdict.grade));
    if (round_ == ProofRound::under_load && verdict.state != ProofState::open)
        content.notes << (verdict.predicted
                              ? tr("Held against the resistances of its units and against each other.")
                              : tr("Held against each other: the resistances of its units are not all known."));
    if (verdict.state == ProofState::too_early)
        content.notes << tr("Too early: let it lie for a day at least, better several.");
    for (const ProofFinding& finding : verdict.findings) {
        content.ways.push_back(
            {finding.group > 0 ? tr("Group %1").arg(finding.group) : tr("Terminals"),
             wording::proof_finding(finding) + QStringLiteral(" ") + wording::proof_way_back(finding.sign), true});
        if (finding.sign == ProofSign::reversed || finding.sign == ProofSign::over_charged) {
            content.hazard_title =
                finding.sign == ProofSign::reversed ? tr("Never charge it like this") : tr("Stop the charge now");
            content.hazard_line = wording::proof_finding(finding);
        }
    }
    if (round_ == ProofRound::end_of_charge && content.hazard_title.isEmpty()) {
        content.hazard_title = tr("The first charge is watched");
        content.hazard_line =
            tr("On something that cannot burn, beside it until the end, the charger's stop in reach.");
    }
    if (proof_.pack.state == AssemblyState::joined)
        content.hand_title = proof_.proof.passed ? tr("Sign the proof") : wording::proof_round(round_);
    content.hand_line = proof_.proof.passed ? QString() : wording::proof_round_how(round_);
    content.caution = "prove";
    return content;
}

void ProveStation::sign() {
    // Who is asked for a sign only where there is something to sign.
    for (int r = 0; r < proof_round_count; ++r)
        if (const RoundVerdict& verdict = proof_.proof.rounds[static_cast<std::size_t>(r)];
            verdict.state != ProofState::passed) {
            emit told(wording::not_passed(static_cast<ProofRound>(r), verdict), true);
            return;
        }
    const auto by = ask_line(this, tr("Sign the proof"), tr("Short sign of who proved it"));
    if (by && fine(workshop().prove().sign(pack_, by->trimmed().toStdString())))
        emit told(tr("%1 is proved. Its passport can go with it.").arg(QString::fromStdString(proof_.pack.label)),
                  false);
}

void ProveStation::send_back() {
    const auto why = ask_reason(this, tr("Send back to Build"), tr("What is to be mended"));
    if (why && fine(workshop().prove().send_back(pack_, why->trimmed().toStdString())))
        emit go_to(Station::build);
}

bool ProveStation::write_passport_to(const QString& path) {
    const Passport passport = workshop().prove().passport(pack_);
    if (path.endsWith(QStringLiteral(".json"), Qt::CaseInsensitive))
        return fine(exchange::write_text(path.toStdString(), exchange::write_passport(passport)));
    return write_passport_sheet(path, passport);
}

void ProveStation::save_passport() {
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Passport"), QString::fromStdString(proof_.pack.label) + QStringLiteral(".pdf"),
        tr("PDF (*.pdf);;JSON (*.json)"));
    if (!path.isEmpty())
        emit told(write_passport_to(path) ? tr("Passport written to %1.").arg(path)
                                          : tr("%1 could not be written. Choose another place.").arg(path),
                  false);
}

} // namespace ingot::app
