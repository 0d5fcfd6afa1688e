#include "app/stations/prove/prove_station.h"

#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_combo.h"
#include "app/print/passport_sheet.h"
#include "app/stations/prove/course_view.h"
#include "app/stations/prove/field_view.h"
#include "app/stations/prove/proof_view.h"
#include "app/theme/theme.h"
#include "exchange/passport_json.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/models/shop_models.h"
#include "workshop/prove_wording.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QRegularExpression>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

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
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // the buttons come first
    head_->head()->insertWidget(1, words_, 1);
    for (QAction* view : {proof_view_, course_view_, field_view_}) {
        auto* button = new PressButton(view, head_);
        button->setCheckable(true);
        head_->head()->addWidget(button);
        view_buttons_.push_back(button);
    }
    head_->head()->addWidget(new PressButton(passport_, head_));
    head_->head()->addWidget(new PressButton(sign_, head_, true));
    outer->addWidget(head_);

    stack_ = new QStackedWidget(this);
    rounds_ = new ProofView(workshop, stack_);
    stack_->addWidget(rounds_);
    course_ = new CourseView(workshop, stack_);
    stack_->addWidget(course_);
    field_ = new FieldView(workshop, stack_);
    stack_->addWidget(field_);
    outer->addWidget(stack_, 1);
    connect(field_, &FieldView::group_changed, this, [this] {
        emit evidence_changed();
        emit hint_changed();
    });

    connect(field_, &FieldView::explained, this, &ProveStation::evidence_changed);

    connect(packs_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            choose(packs_->chosen());
    });
    connect(rounds_, &ProofView::changed, this, [this] {
        update_commands();
        emit evidence_changed();
        emit hint_changed();
    });
    connect(rounds_, &ProofView::told, this, &ProveStation::told);
    connect(course_, &CourseView::told, this, &ProveStation::told);
    connect(course_, &CourseView::changed, this, [this] {
        update_commands();
        emit evidence_changed();
    });
    connect(rounds_, &ProofView::acknowledged, this, &ProveStation::acknowledged);
}

void ProveStation::add_commands() {
    sign_ = add_command(tr("&Sign…"), QKeySequence(tr("Ctrl+Return")),
                        tr("Every round passed: it is proved, by whom and when"), [this] { sign(); });
    passport_ = add_command(tr("P&assport…"), QKeySequence(tr("Ctrl+P")), tr("What goes with the pack, as PDF or JSON"),
                            [this] { save_passport(); });
    service_ = add_command(tr("Into s&ervice"), {}, tr("The pack goes to its device"),
                           [this] { move_to(AssemblyState::in_service); });
    returned_ = add_command(tr("It came &back"), {}, tr("The pack is on the bench again"),
                            [this] { move_to(AssemblyState::returned); });
    back_ = add_command(tr("Send back to Bu&ild…"), {}, tr("A joint is opened again; the proof begins anew after it"),
                        [this] { send_back(); });
    add_command(tr("Ne&xt round"), QKeySequence(tr("Alt+Right")), tr("The round after this one"),
                [this] { step_round(1); });
    add_command(tr("Round be&fore"), QKeySequence(tr("Alt+Left")), tr("The round before this one"),
                [this] { step_round(-1); });
    leave_out_ = add_command(tr("Leave this round &out…"), {},
                             tr("Signed without it, with your reason; again takes it back"), [this] { leave_out(); });
    strings_ = add_command(tr("Strings in parallel…"), {},
                           tr("This pack and others side by side, each with its own board: may they be joined now?"),
                           [this] { join_strings(); });
    bench_sign_ = add_command(tr("Who is at the ben&ch…"), {},
                              tr("A short sign: rounds are signed with it as they pass"), [this] { ask_bench_sign(); });
    stop_log_ = add_command(tr("Stop reading the log"), {}, tr("The log that was there before stays"),
                            [this] { course_->stop(); });
    label_ = add_command(tr("Its label…"), {}, tr("For the pack: a QR code that leads back to it, in the chosen size"),
                         [this] { print_pack_label(pack_); });
    add_command(tr("Next &pack"), QKeySequence(tr("Ctrl+PgDown")), tr("The next joined pack"),
                [this] { packs_->choose_next(); });
    const auto view = [this](const QString& text, const QString& tip, View shown) {
        QAction* action = add_command(text, QKeySequence::mnemonic(text), tip, [this, shown] { show_view(shown); });
        action->setCheckable(true);
        return action;
    };
    proof_view_ = view(tr("P&roof"), tr("The rounds that prove the pack"), View::proof);
    course_view_ = view(tr("Co&urse"), tr("How it should run, and how it did by its board's log"), View::course);
    field_view_ = view(tr("Fie&ld"), tr("What became of it since it went into service"), View::field);
    read_log_ =
        add_command(tr("Read a board's log…"), {}, tr("A CSV with all groups in each row, laid over the simulated run"),
                    [this] { ask_log(); });
    take_log_ = add_command(tr("Take the log's figures"), {},
                            tr("Its rows at rest, at the end of the charge and under load stand for those rounds"),
                            [this] { course_->take_figures(); });
    forget_log_ =
        add_command(tr("Put the log away"), {}, tr("The simulated run alone again"), [this] { course_->forget_log(); });
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

void ProveStation::show_view(View view) {
    view_ = view;
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

void ProveStation::choose(Id pack) {
    pack_ = pack;
    const Assembly* chosen = workshop().assembly(pack_);
    view_ = chosen != nullptr && workshop().prove().in_field(*chosen) ? View::field : View::proof;
    refresh();
    emit evidence_changed();
    emit hint_changed();
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
    if (before != pack_)
        view_ = field ? View::field : View::proof;
    // One that was repaired has no design to be proved or simulated; one that was never away has no field.
    if (repaired)
        view_ = View::field;
    else if (!field && view_ == View::field)
        view_ = View::proof;
    rounds_->show_pack(repaired ? 0 : pack_);
    field_->show_pack(field ? pack_ : 0);
    stack_->setCurrentIndex(static_cast<int>(view_));
    if (view_ == View::course) // a log that was read stays while the proof is looked at
        course_->show_pack(pack_);
    head_->set_title(pack_ != 0 ? QString() : tr("No joined pack yet"));
    const AssemblyState state = pack != nullptr ? pack->state : AssemblyState::planned;
    words_->setText(
        pack_ == 0
            ? QString()
            : tr("%1S%2P, %3").arg(pack->layout.series).arg(pack->layout.parallel).arg(wording::assembly_state(state)));
    update_commands();
}

void ProveStation::update_commands() {
    const Assembly* pack = workshop().assembly(pack_);
    const bool field = pack != nullptr && workshop().prove().in_field(*pack);
    const bool repaired = pack != nullptr && pack->came_in();
    const bool may = pack_ != 0 && workshop().writable();
    const AssemblyState state = pack != nullptr ? pack->state : AssemblyState::planned;
    proof_view_->setEnabled(!repaired);
    field_view_->setEnabled(field);
    course_view_->setEnabled(pack_ != 0 && !repaired);
    int place = 0;
    for (QAction* shown : {proof_view_, course_view_, field_view_}) {
        shown->setChecked(place == static_cast<int>(view_));
        view_buttons_[static_cast<std::size_t>(place)]->setChecked(place == static_cast<int>(view_));
        ++place;
    }
    read_log_->setEnabled(pack_ != 0 && !repaired);
    take_log_->setEnabled(may && view_ == View::course && course_->has_log() && state == AssemblyState::joined);
    stop_log_->setEnabled(course_->reading());
    forget_log_->setEnabled(view_ == View::course && course_->has_log());
    balanced_->setEnabled(may && in_field());
    triage_->setEnabled(may && repaired && state == AssemblyState::returned);
    sign_->setEnabled(may && state == AssemblyState::joined);
    service_->setEnabled(may && state == AssemblyState::proved);
    returned_->setEnabled(may && state == AssemblyState::in_service);
    back_->setEnabled(may && !repaired && (state == AssemblyState::joined || state == AssemblyState::returned));
    passport_->setEnabled(pack_ != 0 && !repaired);
    label_->setEnabled(pack_ != 0);
    leave_out_->setEnabled(may && view_ == View::proof && state == AssemblyState::joined && may_be_left_out(round()));
    bench_sign_->setEnabled(workshop().writable());
    strings_->setEnabled(may && !repaired);
}

void ProveStation::step_round(int by) {
    if (view_ != View::proof)
        return;
    rounds_->show_round(
        static_cast<ProofRound>((static_cast<int>(rounds_->round()) + by + proof_round_count) % proof_round_count));
}

ProofRound ProveStation::round() const {
    return rounds_->round();
}

void ProveStation::show_round(ProofRound round) {
    rounds_->show_round(round);
}

void ProveStation::leave_out() {
    const bool was =
        rounds_->proof().pack.id != 0 && !rounds_->proof().readings.left_out[static_cast<std::size_t>(round())].empty();
    if (was) {
        if (fine(workshop().prove().leave_out(pack_, round(), {})))
            emit told(tr("%1 is asked for again.").arg(wording::proof_round(round())), false);
        return;
    }
    const auto why = ask_reason(this, tr("Leave this round out"), tr("Why it is not done on this pack"));
    if (why && fine(workshop().prove().leave_out(pack_, round(), why->trimmed().toStdString())))
        emit told(tr("%1 is left out of the proof.").arg(wording::proof_round(round())), false);
}

void ProveStation::join_strings() {
    std::vector<Id> builds{pack_};
    const auto answered =
        ask_line(this, tr("Strings in parallel"), tr("Labels of the packs beside it"), {}, [this](const QString& line) {
            for (const QString& label : line.split(QRegularExpression(QStringLiteral("[\\s,;]+")), Qt::SkipEmptyParts))
                if (std::none_of(workshop().builds().begin(), workshop().builds().end(), [&](const Assembly& build) {
                        return QString::fromStdString(build.label).compare(label, Qt::CaseInsensitive) == 0;
                    }))
                    return tr("There is no built pack %1.").arg(label);
            return QString();
        });
    if (!answered)
        return;
    for (const QString& label : answered->split(QRegularExpression(QStringLiteral("[\\s,;]+")), Qt::SkipEmptyParts))
        for (const Assembly& build : workshop().builds())
            if (QString::fromStdString(build.label).compare(label, Qt::CaseInsensitive) == 0)
                builds.push_back(build.id);
    if (!fine(workshop().prove().join_strings(builds)))
        return;
    const auto level = workshop().prove().strings(builds);
    emit told(
        tr("They stand level, %1 would flow: they may be joined, plus to plus through a fuse each, minus to minus. "
           "Each keeps its own board and balance.")
            .arg(figures::amperes(level ? level.value().check.largest_current_a.value_or(0) : 0)),
        false);
}

void ProveStation::ask_bench_sign() {
    QuestionBox box(this, tr("Who is at the bench"));
    QLineEdit* sign = box.add_optional_line(tr("Short sign; empty: rounds are not signed one by one"),
                                            QString::fromStdString(workshop().prove().bench_sign()));
    if (box.ask())
        (void)fine(workshop().prove().set_bench_sign(sign->text().trimmed().toStdString()));
}

void ProveStation::ask_log() {
    const QString path = QFileDialog::getOpenFileName(this, tr("A board's log"), {}, tr("CSV (*.csv *.txt)"));
    if (!path.isEmpty())
        read_log(path);
}

void ProveStation::read_log(const QString& path) {
    if (view_ != View::course)
        show_view(View::course);
    course_->read_log(path);
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
    if (view_ == View::course)
        return false;
    if (in_field()) {
        if (line.isEmpty()) {
            field_->next_group();
            return true;
        }
        const auto volts = figures::typed(line);
        return volts && take_field_figure(*volts, line);
    }
    return rounds_->take_line(line);
}

std::optional<Quantity> ProveStation::wanted_reading() const {
    return pack_ != 0 && view_ != View::course && (in_field() || rounds_->wants_volts())
               ? std::optional(Quantity::voltage)
               : std::nullopt;
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
    if (in_field())
        field_->echo(typed);
    else if (view_ == View::proof)
        rounds_->echo(typed);
}

bool ProveStation::step_back() {
    if (pack_ == 0 || !workshop().writable() || view_ == View::course)
        return false;
    if (in_field()) {
        if (field_->pack().last != 0 && fine(field_->strike_last()))
            emit told(tr("The last reading was struck out."), false);
        return true;
    }
    return rounds_->strike_last();
}

QString ProveStation::scan_hint() const {
    if (pack_ == 0)
        return tr("a pack's label");
    if (view_ == View::course)
        return tr("a pack's label");
    return in_field() ? tr("volts of group %1").arg(field_->group()) : rounds_->hint();
}

EvidenceContent ProveStation::evidence() const {
    if (pack_ == 0)
        return {};
    switch (view_) {
    case View::proof:
        return rounds_->evidence();
    case View::course:
        return course_->evidence();
    case View::field:
        return field_->evidence();
    }
    return {};
}

void ProveStation::sign() {
    // Who is asked for a sign only where there is something to sign.
    const PackProof& proof = rounds_->proof();
    for (int r = 0; r < proof_round_count && proof.pack.id != 0; ++r)
        if (const RoundVerdict& verdict = proof.proof.rounds[static_cast<std::size_t>(r)]; holds_up(verdict.state)) {
            emit told(wording::not_passed(static_cast<ProofRound>(r), verdict), true);
            return;
        }
    const auto by = ask_line(this, tr("Sign the proof"), tr("Short sign of who proved it"),
                             QString::fromStdString(workshop().prove().bench_sign()));
    if (by && fine(workshop().prove().sign(pack_, by->trimmed().toStdString())))
        emit told(
            tr("%1 is proved. Its passport can go with it.").arg(QString::fromStdString(rounds_->proof().pack.label)),
            false);
}

void ProveStation::send_back() {
    const auto why = ask_line(this, tr("Send back to Build"), tr("What is to be mended"), rounds_->what_to_mend());
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
        this, tr("Passport"), QString::fromStdString(rounds_->proof().pack.label) + QStringLiteral(".pdf"),
        tr("PDF (*.pdf);;JSON (*.json)"));
    if (!path.isEmpty())
        emit told(write_passport_to(path) ? tr("Passport written to %1.").arg(path)
                                          : tr("%1 could not be written. Choose another place.").arg(path),
                  false);
}

} // namespace ingot::app
