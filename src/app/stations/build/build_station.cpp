#include "app/stations/build/build_station.h"

#include "app/parts/panel.h"
#include "app/parts/record_combo.h"
#include "app/parts/wanted_question.h"
#include "app/print/build_sheet.h"
#include "app/stations/build/layout_view.h"
#include "app/stations/build/need_view.h"
#include "app/stations/build/run_view.h"
#include "app/stations/build/steps_view.h"
#include "app/stations/build/units_view.h"
#include "app/theme/theme.h"
#include "exchange/text_file.h"
#include "workshop/job.h"
#include "workshop/models/shop_models.h"
#include "workshop/wording.h"

#include <QFileDialog>
#include <QMessageBox>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

BuildStation::BuildStation(Workshop& workshop, QWidget* parent)
    : StationView(workshop, Station::build, parent), planning_(new Job(this)), running_(new Job(this)) {
    for (Job* job : {planning_, running_}) {
        job->setObjectName(QStringLiteral("explaining")); // what is shown follows it
        connect(job, &Job::failed, this,
                [this](const Problem& problem) { emit told(wording::problem(problem), true); });
    }
    add_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    head_ = new Panel({}, this);
    builds_ = new RecordCombo(QStringLiteral("build"), head_);
    builds_->setAccessibleName(tr("Build"));
    builds_->set_records(new BuildsModel(workshop, builds_), [this](Id id) {
        const Assembly* build = this->workshop().build_of(id);
        return build != nullptr && build->state != AssemblyState::given_up;
    });
    head_->head()->insertWidget(0, builds_);
    words_ = new QLabel(head_);
    words_->setFont(type(14));
    set_muted(words_);
    head_->head()->insertWidget(1, words_);
    for (int i = 0; i < view_count; ++i) {
        auto* button = new PressButton(view_commands_[static_cast<std::size_t>(i)], head_);
        button->setCheckable(true);
        head_->head()->addWidget(button);
        view_buttons_[static_cast<std::size_t>(i)] = button;
    }
    outer->addWidget(head_);
    add_views();
    outer->addWidget(stack_, 1);
    connect(builds_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            choose(builds_->chosen());
    });
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        plan_stale_ = run_stale_ = plan_stale_ || changes.everything || changes.library || !changes.units.empty() ||
                                   !changes.assemblies.empty();
    });
    show_view(View::units);
}

void BuildStation::add_views() {
    stack_ = new QStackedWidget(this);
    units_ = new UnitsView(workshop(), {pdf_, csv_, put_back_}, stack_);
    layout_ = new LayoutView(workshop(), stack_);
    steps_ = new StepsView(workshop(), stack_);
    need_ = new NeedView(workshop(), {take_design_, find_units_}, stack_);
    connect(need_, &NeedView::chosen_changed, this, [this] { take_design_->setEnabled(need_->may_take_design()); });
    run_view_ = new RunView(workshop(), stack_);
    views_ = {need_, units_, layout_, steps_, run_view_};
    for (BuildView* view : views_) {
        stack_->addWidget(view);
        connect(view, &BuildView::evidence_changed, this, [this] {
            enable_layout_commands();
            emit evidence_changed();
        });
        connect(view, &BuildView::hint_changed, this, &Page::hint_changed);
        connect(view, &BuildView::told, this, &Page::told);
        connect(view, &BuildView::acknowledged, this, &Page::acknowledged);
        connect(view, &BuildView::step_wanted, this,
                [this](const QString& text, const Act& forward, const Act& back) { do_step(text, forward, back); });
    }
}

void BuildStation::add_commands() {
    const std::array<std::pair<QString, QString>, view_count> views{
        {{tr("&Need"), tr("What the device needs, and which chemistry could give it")},
         {tr("&Units"), tr("The units, group by group, from their trays")},
         {tr("&Layout"), tr("Where the cells stand, and what the strips carry")},
         {tr("&Steps"), tr("The gate before joining, then every step")},
         {tr("Si&mulate"), tr("How long it runs, and what ends it")}}};
    for (int i = 0; i < view_count; ++i) {
        const auto at = static_cast<std::size_t>(i);
        view_commands_[at] = add_command(views[at].first, QKeySequence::mnemonic(views[at].first), views[at].second,
                                         [this, i] { show_view(static_cast<View>(i)); });
    }
    pdf_ = add_command(tr("Sheet as &PDF…"), QKeySequence(tr("Ctrl+P")), tr("Print the sheet to a PDF"), [this] {
        const QString path = QFileDialog::getSaveFileName(
            this, tr("Build sheet"), builds_->currentText() + QStringLiteral(".pdf"), tr("PDF (*.pdf)"));
        if (!path.isEmpty())
            emit told(write_pdf_to(path) ? tr("Build sheet written to %1.").arg(path)
                                         : tr("%1 could not be written. Choose another place.").arg(path),
                      false);
    });
    csv_ = add_command(tr("Sheet as &CSV…"), {}, tr("Write the sheet as CSV"), [this] {
        const QString path = QFileDialog::getSaveFileName(
            this, tr("Build sheet"), builds_->currentText() + QStringLiteral(".csv"), tr("CSV (*.csv)"));
        if (path.isEmpty())
            return;
        const auto done =
            exchange::write_text(path.toStdString(), BuildService::sheet_csv(workshop().build().sheet(build_)));
        if (fine(done))
            emit told(tr("Build sheet written to %1.").arg(path), false);
    });
    put_back_ = add_command(tr("Put the last unit &back"), QKeySequence(tr("Ctrl+B")),
                            tr("The unit taken last goes back to its tray"), [this] { units_->put_back_last(); });
    replace_ =
        add_command(tr("&Replace the last unit…"), {},
                    tr("It was dropped, is swollen or does not pass: the most alike of the stock takes its place"),
                    [this] { units_->replace_last(); });
    tick_ = add_command(tr("&Tick the step in hand"), QKeySequence(tr("Ctrl+Return")),
                        tr("It is done; what stands on it may begin"), [this] { steps_->tick_next(); });
    take_back_ = add_command(tr("Take the last tick b&ack"), {}, tr("It was not done after all"),
                             [this] { steps_->take_back_last(); });
    for (std::size_t i = 0; i < remedies_.size(); ++i)
        remedies_[i] =
            add_command(tr("Take remedy &%1").arg(i + 1), {}, tr("What Evidence proposes for the worst piece of strip"),
                        [this, i] { layout_->take_remedy(static_cast<int>(i) + 1); });
    place_by_heat_ = add_command(tr("Place b&y heat"), {},
                                 tr("The strongest group to the warm middle, of each group the least ohms to the edge"),
                                 [this] { layout_->place_by_heat(); });
    add_layout_commands();
    add_run_commands();
    add_paper_commands();
    begin_ = add_command(tr("B&egin a build…"), {}, tr("A pack that is wanted: its device first, its units later"),
                         [this] { begin_build(); });
    take_design_ =
        add_command(tr("Take the &design"), {}, tr("The build gets the chosen chemistry, groups and model"), [this] {
            if (need_->take_design())
                refresh();
        });
    find_units_ = add_command(tr("F&ind units in Match"), {}, tr("Match chooses the units of the design"), [this] {
        const Assembly* build = this->workshop().build_of(build_);
        if (build != nullptr && this->workshop().inventory().wants_units(*build))
            emit units_wanted(build_);
        else
            emit go_to(Station::match);
    });
    put_in_ =
        add_command(tr("Put into its pac&k"), {},
                    tr("The joined groups go into the empty places of the pack under repair"), [this] {
                        const Id build = build_;
                        do_step(
                            tr("put into its pack"), [this, build] { return this->workshop().build().put_in(build); },
                            [this, build] { return this->workshop().build().take_out(build); });
                    });
    give_up_ = add_command(tr("&Give the build up…"), {}, tr("Its units go back to stock"), [this] {
        if (QMessageBox::question(
                this, tr("Give the build up"),
                tr("Put all its units back to stock? Return those that were taken to their trays first.")) ==
            QMessageBox::Yes)
            fine(workshop().build().give_up(build_));
    });
}

void BuildStation::show_view(View view) {
    view_ = view;
    for (int i = 0; i < view_count; ++i)
        view_buttons_[static_cast<std::size_t>(i)]->setChecked(i == static_cast<int>(view));
    // Views out of sight ask for no room: each may be as low as it can.
    for (BuildView* one : views_) {
        const auto policy = one == now() ? QSizePolicy::Preferred : QSizePolicy::Ignored;
        one->setSizePolicy(policy, policy);
    }
    stack_->setCurrentWidget(now());
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

void BuildStation::refresh() {
    filling_ = true;
    // A build that got its units since the last look comes to the front.
    const Id newest = newest_with_units();
    if (newest > newest_seen_ || !builds_->lists(build_))
        build_ = newest != 0 ? newest : builds_->last();
    newest_seen_ = std::max(newest_seen_, newest);
    builds_->choose(build_);
    builds_->setVisible(build_ != 0);
    filling_ = false;

    const Assembly* record = workshop().build_of(build_);
    const bool here = record != nullptr;
    const bool wants = here && workshop().inventory().wants_units(*record);
    const bool may = here && workshop().writable();
    for (QAction* action : {pdf_, csv_})
        action->setEnabled(here);
    put_back_->setEnabled(may);
    give_up_->setEnabled(may);
    put_in_->setEnabled(may && record->state == AssemblyState::joined && workshop().build().design(build_).refills());
    begin_->setEnabled(workshop().writable());
    replace_->setEnabled(may && view_ == View::units && !wants);
    // Each where what it acts on is in sight.
    tick_->setEnabled(may && view_ == View::steps);
    take_back_->setEnabled(may && view_ == View::steps);
    const bool runs = here && view_ == View::run && !wants;
    profile_->setEnabled(may && runs);
    steady_->setEnabled(may && runs && workshop().build().design(build_).knows(DesignFigure::load_profile));
    for (QAction* action : {weld_map_, cut_list_, wiring_})
        action->setEnabled(build_ != 0);
    for (QAction* action : {beside_, spice_})
        action->setEnabled(runs);
    head_->set_title(here ? QString() : tr("No build yet"));
    if (const Assembly* build = workshop().build_of(build_))
        words_->setText(wants ? tr("%1S%2P, wants %n units", nullptr, build->layout.units())
                                    .arg(build->layout.series)
                                    .arg(build->layout.parallel)
                              : tr("%1S%2P, %n units", nullptr, build->layout.units())
                                    .arg(build->layout.series)
                                    .arg(build->layout.parallel));
    else
        words_->clear();
    now()->show_build(build_);
    enable_layout_commands();
    take_design_->setEnabled(may && view_ == View::need && need_->may_take_design());
    work();
}

void BuildStation::work() {
    if (build_ == 0)
        return;
    if (plan_stale_ && (view_ == View::layout || view_ == View::steps)) {
        plan_stale_ = false;
        planning_->begin<BuildPlan>(
            [question = workshop().build().question(build_)](const Job::Token& token) {
                return plan_build(question, [&] { return token.wanted(); });
            },
            [this](const BuildPlan& plan) {
                for (BuildView* view : views_)
                    view->take_plan(plan);
                enable_layout_commands();
            });
    }
    if (run_stale_ && view_ == View::run) {
        run_stale_ = false;
        running_->begin<BuildRun>(
            [question = workshop().build().question(build_), other = workshop().build().question(run_view_->beside()),
             beside = run_view_->beside(), label = builds_label(run_view_->beside())](const Job::Token& token) {
                BuildRun run = run_build(question, [&] { return token.wanted(); });
                if (beside != 0 && beside != question.build && !run.variants.empty() && token.wanted())
                    add_other_build(run, question, other, label);
                return run;
            },
            [this](const BuildRun& run) {
                for (BuildView* view : views_)
                    view->take_run(run);
            });
    }
}

bool BuildStation::working() const {
    return planning_->busy() || running_->busy();
}

void BuildStation::choose(Id build) {
    build_ = build;
    plan_stale_ = run_stale_ = true;
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

bool BuildStation::show_unit(Id unit) {
    return now()->show_unit(unit);
}

Id BuildStation::newest_with_units() const {
    Id newest = 0;
    for (const Assembly& build : workshop().builds())
        if (build.state != AssemblyState::given_up && !workshop().inventory().wants_units(build))
            newest = std::max(newest, build.id);
    return newest;
}

void BuildStation::begin_build() {
    const auto wanted = ask_wanted_build(this, tr("Begin a build"));
    if (!wanted)
        return;
    const auto id = workshop().build().begin(*wanted);
    if (!fine(id))
        return;
    choose(id.value());
    show_view(View::need);
}

bool BuildStation::take_line(const QString& line) {
    for (const Assembly& build : workshop().builds())
        if (line.compare(QString::fromStdString(build.label), Qt::CaseInsensitive) == 0 && builds_->lists(build.id)) {
            choose(build.id);
            return true;
        }
    return now()->take_line(line);
}

void BuildStation::echo(const QString& typed) {
    now()->echo(typed);
}

bool BuildStation::step_back() {
    return now()->step_back();
}

QString BuildStation::scan_hint() const {
    return now()->scan_hint();
}

EvidenceContent BuildStation::evidence() const {
    return now()->evidence();
}

bool BuildStation::write_pdf_to(const QString& path) {
    std::vector<QString> cautions;
    const auto& library = workshop().library().cautions;
    if (const auto found = library.find("build"); found != library.end())
        for (const auto& line : found->second.sentences)
            cautions.push_back(QString::fromStdString(line));
    return write_build_sheet(path, workshop().build().sheet(build_), QString::fromStdString(workshop().name()),
                             cautions);
}

void BuildStation::pose() {}

} // namespace ingot::app
