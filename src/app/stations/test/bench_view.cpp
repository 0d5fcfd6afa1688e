#include "app/stations/test/bench_view.h"

#include "app/parts/bay_wall.h"
#include "app/parts/choice_row.h"
#include "app/parts/conditioning_view.h"
#include "app/parts/panel.h"
#include "app/parts/plan_lanes.h"
#include "app/parts/run_plot.h"
#include "app/theme/theme.h"
#include "workshop/bench_wording.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocalSocket>
#include <QLocale>
#include <QProcess>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

namespace {

constexpr int repaint_ms = 250;
constexpr std::size_t most_siblings = 8;

bool attached(const TesterView& tester) {
    return tester.state != bench::DeviceState::none;
}

QString runtime_folder() {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::RuntimeLocation);
    return folder.isEmpty() ? QDir::tempPath() : folder;
}

} // namespace

BenchView::BenchView(Workshop& workshop, QWidget* unit_page, QWidget* parent)
    : QWidget(parent), workshop_(workshop), bays_(workshop), schedule_(workshop, bays_), forecasts_(workshop) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(6);
    head_ = new QWidget(this);
    auto* row = new QHBoxLayout(head_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    counts_ = new QLabel(this);
    counts_->setFont(type(16, true));
    counts_->setObjectName(QStringLiteral("bench_counts"));
    counts_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(counts_, 1);
    protocol_ = new QComboBox(this);
    protocol_->setObjectName(QStringLiteral("protocol"));
    protocol_->setAccessibleName(tr("Protocol"));
    protocol_->setToolTip(tr("What is run on a unit that is put in a bay"));
    protocol_->addItem(tr("usual protocol"), QString());
    for (const auto& [id, protocol] : workshop.library().protocols)
        protocol_->addItem(QString::fromStdString(protocol.name), QString::fromStdString(id));
    protocol_->setMaximumWidth(240);
    row->addWidget(protocol_);
    outer->addWidget(head_);
    wall_ = new BayWall(this);
    outer->addWidget(wall_);
    add_offer(outer);
    pages_ = new ChoiceRow({tr("Unit"), tr("Curves"), tr("Plan"), tr("Conditioning")}, this);
    pages_->setObjectName(QStringLiteral("bench_pages"));
    auto* page_row = new QHBoxLayout;
    page_row->addWidget(pages_);
    plan_words_ = new QLabel(this);
    plan_words_->setFont(type(13));
    plan_words_->setObjectName(QStringLiteral("plan_words"));
    page_row->addSpacing(10);
    plan_words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    page_row->addWidget(plan_words_, 1);
    head_row_ = page_row;
    outer->addLayout(page_row);
    stack_ = new QStackedWidget(this);
    stack_->addWidget(unit_page);
    plot_ = new RunPlot(stack_);
    lanes_ = new PlanLanes(stack_);
    conditioning_ = new ConditioningView(stack_);
    for (QWidget* page :
         {static_cast<QWidget*>(plot_), static_cast<QWidget*>(lanes_), static_cast<QWidget*>(conditioning_)}) {
        auto* panel = new Panel({}, stack_);
        panel->body()->addWidget(page, 1);
        stack_->addWidget(panel);
    }
    outer->addWidget(stack_, 1);
    job_ = new Job(this);
    connect(job_, &Job::failed, this, [this](const Problem& problem) {
        planning_ = false;
        say_of_plan(wording::problem(problem));
    });
    repaint_ = new QTimer(this);
    repaint_->setSingleShot(true);
    connect(repaint_, &QTimer::timeout, this, [this] {
        wall_->set(bays_.bays().empty() ? nullptr : &bays_.bays(), bays_.rate());
        if (page() == Page::curves)
            draw_curves();
        notify();
        emit evidence_changed();
        emit changed();
    });
    connect(pages_, &ChoiceRow::changed, this, [this](int index) { show_page(static_cast<Page>(index)); });
    connect(&bays_, &Bays::moved, this, [this] {
        if (!repaint_->isActive())
            repaint_->start(repaint_ms);
    });
    connect(&bays_, &Bays::changed, this, [this] {
        plan_stale_ = true;
        refresh();
        emit changed();
    });
    connect(&bays_, &Bays::told, this, &BenchView::told);
    connect(&bays_, &Bays::alarmed, this, &BenchView::alarmed);
    connect(&bays_, &Bays::begun, this, [this](int bay) { emit acknowledged(QStringLiteral("bay %1").arg(bay)); });
    connect(&bays_, &Bays::ended, this, [this](int bay) {
        const BayView* ended = bays_.bay(bay);
        if (ended == nullptr)
            return;
        const BayView& view = *ended;
        if (view.look == BayLook::stopped) { // Evidence shows it, whatever is chosen; what is being scanned stays
            alarm_bay_ = bay;
            emit alarmed(tr("Bay %1, %2: %3. %4")
                             .arg(bay)
                             .arg(QString::fromStdString(view.code), wording::step_end_word(view.stop),
                                  wording::step_end(view.stop)));
        }
        if (planned_)
            plan();
    });
    connect(wall_, &BayWall::chosen_changed, this, [this](int bay) { choose_bay(bay); });
    connect(wall_, &BayWall::pressed, this, &BenchView::bay_pressed);
    connect(lanes_, &PlanLanes::chosen_changed, this, [this](qlonglong unit) { emit unit_chosen(unit); });
    connect(lanes_, &PlanLanes::insisted, this, [this](qlonglong unit, const QDateTime& at, int bay) {
        const auto done = schedule_.insist(unit, at, bay);
        if (!done)
            emit told(wording::sentence(done.problem().sentence), true);
        plan();
    });
    connect(conditioning_, &ConditioningView::chosen_changed, this, [this](qlonglong unit) { emit unit_chosen(unit); });
    if (workshop.writable())
        bays_.attach_known();
    refresh();
}

void BenchView::add_command_button(QAction* command) {
    auto* button = new PressButton(command, this);
    head_row_->addWidget(button);
    without_tester_.append(button);
}

void BenchView::add_page_button(QAction* command, const QString& words) {
    auto* button = new PressButton(words, this);
    button->setToolTip(
        QStringLiteral("%1  (%2)").arg(command->toolTip(), command->shortcut().toString(QKeySequence::NativeText)));
    connect(button, &PressButton::clicked, command, &QAction::trigger);
    head_row_->addWidget(button);
}

void BenchView::attach(const std::string& address) {
    if (!workshop_.writable()) {
        emit told(tr("This workshop can only be read here, so no tester is attached to it."), true);
        return;
    }
    if (const auto done = bays_.attach(address); !done)
        emit told(wording::problem(done.problem()), true);
    refresh();
}

void BenchView::detach() {
    bays_.detach();
    wall_->set(nullptr, 1);
    refresh();
}

void BenchView::start_simulated(double rate) {
    bays_.set_rate(rate);
    const QString path = runtime_folder() + QStringLiteral("/ingot-sim");
    const std::string address = "socket:" + path.toStdString();
    QLocalSocket probe;
    probe.connectToServer(path);
    constexpr int found_ms = 50;
    if (!probe.waitForConnected(found_ms)) {
        const QString program = QCoreApplication::applicationDirPath() + QStringLiteral("/ingot-sim");
        if (!QFile::exists(program) ||
            !QProcess::startDetached(
                program, {QStringLiteral("--socket"), path, QStringLiteral("--rate"), QString::number(rate)})) {
            emit told(tr("The simulated tester could not be started: %1 is missing.").arg(program), true);
            return;
        }
    }
    attach(address);
}

void BenchView::set_rate(double rate) {
    bays_.set_rate(rate);
    refresh();
}

BenchView::Page BenchView::page() const {
    return static_cast<Page>(stack_->currentIndex());
}

void BenchView::show_page(Page page) {
    pages_->choose(static_cast<int>(page));
    stack_->setCurrentIndex(static_cast<int>(page));
    if (page == Page::plan && (!planned_ || plan_stale_))
        plan();
    show_plan_words();
    refresh();
    // A unit that is not cycled has nothing to say here: the worst one is looked at.
    if (page == Page::conditioning && conditioning_->chosen() != nullptr && conditioning_->chosen()->unit != unit_)
        emit unit_chosen(conditioning_->chosen()->unit);
}

void BenchView::show_unit(Id unit) {
    unit_ = unit;
    assembly_ = 0;
    alarm_bay_ = 0;
    capacity_notes_ = capacity_notes();
    if (const BayView* bay = bays_.bay_of(unit))
        wall_->choose(bay->bay);
    if (page() == Page::conditioning)
        conditioning_->choose(unit);
    if (page() == Page::curves)
        show_curves();
}

void BenchView::show_head() {
    if (!bays_.attached()) {
        counts_->setText(tr("No tester on the bench"));
        return;
    }
    if (bays_.bays().empty()) {
        counts_->setText(tr("Looking for the tester"));
        counts_->setToolTip(testers_in_words());
        return;
    }
    std::map<BayLook, int> n;
    int away = 0;
    for (const BayView& bay : bays_.bays())
        ++(bay.look == BayLook::free && bay.silent ? away : n[bay.look]);
    QStringList parts;
    if (n[BayLook::running] + n[BayLook::waiting_to_start] > 0)
        parts << tr("%1 running").arg(n[BayLook::running] + n[BayLook::waiting_to_start]);
    if (n[BayLook::in_doubt] > 0)
        parts << tr("%1 in doubt").arg(n[BayLook::in_doubt]);
    if (n[BayLook::stopped] > 0)
        parts << tr("%1 stopped").arg(n[BayLook::stopped]);
    if (n[BayLook::lift_out] > 0)
        parts << tr("%1 to lift out").arg(n[BayLook::lift_out]);
    if (n[BayLook::free] > 0)
        parts << tr("%1 free").arg(n[BayLook::free]);
    if (away > 0)
        parts << tr("%1 away").arg(away);
    const auto testers = bays_.testers();
    const auto here = std::count_if(testers.begin(), testers.end(), [](const TesterView& t) { return attached(t); });
    const auto first = std::find_if(testers.begin(), testers.end(), [](const TesterView& t) { return attached(t); });
    QString name =
        here == 1 ? QString::fromStdString(first->place.name) : tr("%n testers", nullptr, static_cast<int>(here));
    if (first != testers.end() && first->simulated && bays_.rate() > 1)
        name += tr(" at %1\u00D7").arg(bays_.rate());
    counts_->setText(QStringLiteral("%1: %2").arg(name, parts.join(QStringLiteral(", "))));
    counts_->setToolTip(testers_in_words());
}

QString BenchView::testers_in_words() const {
    QStringList lines;
    for (const TesterView& tester : bays_.testers())
        lines << QStringLiteral("%1: %2").arg(QString::fromStdString(tester.place.address), tester.words);
    return lines.join(QLatin1Char('\n'));
}

void BenchView::refresh() {
    show_head();
    capacity_notes_ = capacity_notes();
    head_->setVisible(bays_.attached());
    show_offer();
    for (QWidget* button : without_tester_)
        button->setVisible(!bays_.attached());
    wall_->setVisible(!bays_.bays().empty());
    wall_->set(bays_.bays().empty() ? nullptr : &bays_.bays(), bays_.rate());
    if (page() == Page::conditioning) {
        conditioning_->set(bays_.conditioning_rows());
        conditioning_->choose(unit_);
    }
    if (page() == Page::curves)
        show_curves();
    emit evidence_changed();
}

int BenchView::chosen_bay() const {
    return wall_->chosen();
}

void BenchView::choose_bay(int bay) {
    alarm_bay_ = 0;
    wall_->choose(bay);
    const BayView* view = bays_.bay(bay);
    if (view != nullptr && view->unit != 0 && !view->holds(unit_)) {
        unit_ = view->unit;
        emit unit_chosen(view->unit);
    }
    assembly_ = view != nullptr ? view->assembly : 0;
    if (page() == Page::curves)
        show_curves();
    emit evidence_changed();
}

std::optional<LogSamples> BenchView::chosen_log() const {
    const int bay = chosen_bay();
    if (const BayView* view = bays_.bay(bay); view != nullptr && view->run != 0)
        return workshop_.test().samples(view->run);
    if (unit_ == 0)
        return std::nullopt;
    const auto runs = workshop_.test().runs(unit_);
    if (runs.empty())
        return std::nullopt;
    return workshop_.test().samples(runs.front().id);
}

// What is finished does not change while samples come in: it is unpacked once, not with every repaint.
void BenchView::show_curves() {
    kept_curves_.clear();
    band_ = {};
    usual_cutoff_v_ = 0;
    const BayView* live = bay_looked_at();
    const std::size_t most_curves = live != nullptr ? 3 : 4;
    for (const auto& run :
         assembly_ != 0 ? workshop_.test().runs_of_assembly(assembly_) : workshop_.test().runs(unit_)) {
        if (kept_curves_.size() >= most_curves)
            break;
        if (live != nullptr && run.id == live->run)
            continue;
        RunCurve curve;
        curve.name = QString::fromStdString(run.began_at.empty() ? run.recorded_at : run.began_at).left(10);
        if (!run.protocol.empty() && run.protocol != "imported")
            curve.name += QLatin1Char(' ') + QString::fromStdString(run.protocol);
        curve.samples = workshop_.test().samples(run.id);
        curve.faint = live != nullptr || !kept_curves_.empty();
        kept_curves_.push_back(std::move(curve));
    }
    if (const UnitState* unit = assembly_ == 0 ? workshop_.unit(unit_) : nullptr) {
        if (const Chemistry* chemistry = workshop_.library().chemistry(unit->facts.chemistry))
            usual_cutoff_v_ = chemistry->test_cutoff_v * std::max(1, unit->reference.cells_in_series);
        std::vector<LogSamples> siblings;
        for (const Id run : workshop_.test().sibling_runs(unit_, most_siblings))
            siblings.push_back(workshop_.test().samples(run));
        band_ = band_of(siblings, tr("%1 siblings").arg(siblings.size()));
    }
    draw_curves();
}

const BayView* BenchView::bay_looked_at() const {
    return assembly_ != 0 ? bays_.bay_of_assembly(assembly_) : bays_.bay_of(unit_);
}

// The run that goes on now, before what is kept.
void BenchView::draw_curves() {
    std::vector<RunCurve> curves;
    double cutoff_v = 0;
    if (const BayView* live = bay_looked_at()) {
        RunCurve& curve = curves.emplace_back();
        curve.name = tr("bay %1, now").arg(live->bay);
        for (const Trace::Point& p : live->trace.points()) {
            curve.samples.time_s.push_back(p.time_s);
            curve.samples.voltage_v.push_back(p.voltage_v);
            curve.samples.current_a.push_back(p.current_a);
            curve.samples.temperature_c.push_back(p.temperature_c);
        }
        cutoff_v = live->cutoff_v;
    }
    curves.insert(curves.end(), kept_curves_.begin(), kept_curves_.end());
    plot_->set(std::move(curves), cutoff_v > 0 ? cutoff_v : usual_cutoff_v_, band_);
}

void BenchView::plan() {
    job_->drop();
    auto planned = std::make_shared<BaySchedule::Planned>(schedule_.problem(QDateTime::currentDateTime(), planned_));
    plan_stale_ = false;
    if (planned->problem.jobs.empty()) {
        planned_.reset();
        planning_ = false;
        lanes_->set(std::nullopt);
        say_of_plan(tr("Nothing waits. Let units wait for a bay, then plan."));
        emit changed();
        emit plan_ready();
        return;
    }
    planning_ = true;
    say_of_plan(tr("Planning %n units …", nullptr, static_cast<int>(planned->problem.jobs.size())));
    using Solved = Result<BayPlan>;
    job_->begin<Solved>(
        [problem = planned->problem](const Job::Token& token) {
            return plan_bays(problem, {}, [&](double) { return token.wanted(); });
        },
        [this, planned](const Solved& solved) {
            planning_ = false;
            if (!solved) {
                say_of_plan(wording::sentence(solved.problem().sentence));
                emit told(wording::sentence(solved.problem().sentence), true);
                return;
            }
            planned->plan = solved.value();
            take_plan(*planned);
        });
}

void BenchView::say_of_plan(const QString& words) {
    plan_said_ = words;
    show_plan_words();
}

void BenchView::show_plan_words() {
    plan_words_->setText(page() == Page::plan ? plan_said_ : QString());
}

void BenchView::take_plan(const BaySchedule::Planned& planned) {
    planned_ = planned;
    lanes_->set(planned_);
    const BayPlan& plan = planned_->plan;
    QString words =
        tr("Ends %1, bound %2, %n visits", nullptr, plan.visits)
            .arg(QLocale().toString(BaySchedule::at(*planned_, plan.makespan_h), QStringLiteral("ddd HH:mm")),
                 QLocale().toString(BaySchedule::at(*planned_, plan.bound_h), QStringLiteral("ddd HH:mm")));
    if (plan.lateness_h > 0)
        words += tr(", %1 h late in all").arg(figures::plain(plan.lateness_h, 1));
    say_of_plan(words);
    emit changed();
    emit plan_ready();
    emit evidence_changed();
}

int BenchView::wanting_hand() const {
    return static_cast<int>(std::count_if(bays_.bays().begin(), bays_.bays().end(), [](const BayView& bay) {
        return bay.look == BayLook::lift_out || bay.look == BayLook::stopped || bay.look == BayLook::in_doubt;
    }));
}

int BenchView::running() const {
    return static_cast<int>(std::count_if(bays_.bays().begin(), bays_.bays().end(), [](const BayView& bay) {
        return bay.look == BayLook::running || bay.look == BayLook::waiting_to_start || bay.look == BayLook::in_doubt;
    }));
}

void BenchView::notify() {
    if (!planned_)
        return;
    const QDateTime now = QDateTime::currentDateTime();
    for (const PlacedJob& job : planned_->plan.jobs)
        for (const double hour : {job.start_h, job.lifted_h}) {
            const QDateTime at = BaySchedule::at(*planned_, hour);
            if (hour > 0 && at <= now && at > told_to_come_) {
                told_to_come_ = at;
                emit come_back(
                    tr("You are wanted at the bench: %1, %2.")
                        .arg(planned_->place(job.bay), QString::fromStdString(planned_->problem.jobs[job.job].unit)));
            }
        }
}

void BenchView::fill_clock(BenchClock& clock) const {
    const QDateTime now = QDateTime::currentDateTime();
    constexpr double ms_per_hour = 3'600'000;
    std::vector<ClockEvent> events;
    std::optional<QDateTime> next;
    for (const BayView& bay : bays_.bays()) {
        if (bay.look == BayLook::lift_out || bay.look == BayLook::stopped) {
            next = now;
            continue;
        }
        if (bay.look != BayLook::running)
            continue;
        const QDateTime end =
            now.addMSecs(static_cast<qint64>(bay.hours_left / std::max(1.0, bays_.rate()) * ms_per_hour));
        events.push_back({end, tr("Bay %1 ends").arg(bay.bay), false});
        if (!planned_ && (!next || end < *next))
            next = end;
    }
    if (planned_)
        if (const auto visit = BaySchedule::next_visit(*planned_, now)) {
            events.push_back({*visit, tr("come back"), true});
            if (!next || *next > now)
                next = visit;
        }
    std::vector<ClockSpan> attended;
    AttendedHours hours = schedule_.hours().attended;
    hours.begin_hour = static_cast<double>(now.time().msecsSinceStartOfDay()) / ms_per_hour;
    hours.begin_day = now.date().dayOfWeek() - 1;
    constexpr double shown_h = 13;
    for (double h = 0; h < shown_h;) {
        const double from = hours.next(h);
        if (from >= shown_h)
            break;
        const double to = std::min(shown_h, hours.closes_after(from));
        attended.push_back({now.addMSecs(static_cast<qint64>(from * ms_per_hour)),
                            now.addMSecs(static_cast<qint64>(to * ms_per_hour))});
        h = to + 0.01;
    }
    clock.set(std::move(events), std::move(attended), next);
}

// What the newest capacity of the unit says beside its figure, and with which of its siblings it may be compared.
QStringList BenchView::capacity_notes() const {
    QStringList notes;
    const CapacityComparison compared = workshop_.test().compare_capacity(unit_);
    if (compared.corrected)
        notes << wording::corrected(*compared.corrected, compared.full_v, compared.charged_to_v);
    if (compared.unlike == 0)
        return notes;
    QStringList words;
    for (const auto& [reason, count] : compared.reasons)
        words << tr("%1 (%2)").arg(wording::incomparable(reason)).arg(count);
    notes << tr("Not comparable with %1 of %2 siblings: %3.")
                 .arg(compared.unlike)
                 .arg(compared.siblings)
                 .arg(words.join(QStringLiteral(", ")));
    return notes;
}

EvidenceContent BenchView::evidence(const EvidenceContent& of_unit) const {
    EvidenceContent content = of_unit;
    content.caution = content.caution.empty() ? "test" : content.caution;
    content.notes += capacity_notes_;
    const int number = alarm_bay_ > 0 ? alarm_bay_ : chosen_bay();
    const BayView* at = bays_.bay(number);
    if (at == nullptr)
        return content;
    const BayView& bay = *at;
    const bool looked_at = bay.assembly != 0 ? bay.assembly == assembly_ : unit_ == 0 || bay.holds(unit_);
    if (bay.nothing() || (alarm_bay_ == 0 && !looked_at))
        return content;
    if (alarm_bay_ > 0 || bay.assembly != 0) {
        content = unit_evidence(workshop_, bay.unit);
        content.caution = content.caution.empty() ? "test" : content.caution;
    }
    content.subject = tr("Bay %1 · %2").arg(number).arg(QString::fromStdString(bay.code));
    QStringList notes;
    notes << tr("%1, version %2, step %3 of %4.")
                 .arg(QString::fromStdString(bay.protocol.name))
                 .arg(bay.protocol.version)
                 .arg(std::min(bay.done + 1, bay.steps))
                 .arg(bay.steps);
    if (bay.gaps > 0)
        notes << tr("The log has %1 gaps: what it concludes is less certain.").arg(bay.gaps);
    if (bay.silent)
        notes << tr("The tester does not answer. It watches its own limits.");
    if (bay.capacity_ah && bay.energy_wh) {
        QString measured =
            tr("Measured: %1, %2 Wh").arg(figures::unit_capacity(*bay.capacity_ah), figures::plain(*bay.energy_wh, 2));
        if (bay.efficiency)
            measured += tr(", coulombic efficiency %1").arg(figures::percent(*bay.efficiency, 1));
        notes << measured + QLatin1Char('.');
    }
    if (const auto forecast = forecasts_.of(bay)) {
        content.reasons.insert(content.reasons.begin(), forecast->evidence);
        notes << tr("Expected: about %1 (%2 to %3), as %4 siblings went on from here. With that it would be: %5.")
                     .arg(figures::unit_capacity(forecast->capacity.capacity_ah),
                          figures::unit_capacity(forecast->capacity.low_ah),
                          figures::unit_capacity(forecast->capacity.high_ah))
                     .arg(forecast->capacity.siblings)
                     .arg(wording::duty(forecast->duty));
    }
    if (!bay.cycles_ah.empty()) {
        QStringList cycles;
        for (const double ah : bay.cycles_ah)
            cycles << figures::plain(ah, 2);
        notes << tr("Discharges of this run: %1 Ah.").arg(cycles.join(QStringLiteral(", ")));
    }
    if (bay.look == BayLook::stopped) {
        content.line = wording::step_end(bay.stop) + QLatin1Char(' ') + QString::fromStdString(bay.stop_words);
        content.hand_title = wording::step_end_word(bay.stop);
        content.hand_line = tr("Lift it out of bay %1 (B%1 again).").arg(number);
    }
    if (bay.look == BayLook::in_doubt) {
        content.line = tr("It was told to start and did not answer: current may flow.");
        content.hand_title = tr("Look at the tester");
        content.hand_line = tr("Stop it (F8), or switch it off there and clear the bay (Ctrl+L).");
    }
    if (bay.look == BayLook::lift_out) {
        content.hand_title = tr("Lift out");
        content.hand_line =
            tr("%1 is done. Scan B%2, or press Enter on the bay.").arg(QString::fromStdString(bay.code)).arg(number);
    }
    if (planned_ && content.hand_title.isEmpty())
        for (const PlacedJob& job : planned_->plan.jobs)
            if (job.bay + 1 == number && job.start_h > 0) {
                notes << tr("Next here: %1 at %2.")
                             .arg(QString::fromStdString(planned_->problem.jobs[job.job].unit),
                                  QLocale().toString(BaySchedule::at(*planned_, job.start_h),
                                                     QStringLiteral("ddd HH:mm")));
                break;
            }
    content.notes = notes + content.notes;
    return content;
}

} // namespace ingot::app
