#include "app/stations/match/match_station.h"

#include "app/parts/choice_row.h"
#include "app/parts/give_up_bars.h"
#include "app/parts/level_view.h"
#include "app/parts/panel.h"
#include "app/parts/wanted_question.h"
#include "app/parts/ways_view.h"
#include "app/stations/match/choices_command.h"
#include "app/stations/match/match_choices.h"
#include "app/stations/match/several_view.h"
#include "app/theme/theme.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QMessageBox>
#include <QProgressBar>
#include <QScrollArea>
#include <QSpinBox>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ingot::app {

MatchStation::MatchStation(Workshop& workshop, QWidget* parent) : StationView(workshop, Station::match, parent) {
    job_ = new Job(this);
    connect(job_, &Job::failed, this, [this](const Problem& problem) {
        progress_->hide();
        stop_->setEnabled(false);
        show_pool_size();
        enable_commands();
        emit told(wording::problem(problem), true);
    });
    add_search_commands();
    add_build_commands();
    add_hand_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    stack_ = new QStackedWidget(this);
    stack_->addWidget(make_one());
    several_view_ =
        new SeveralView(workshop, one_mode_, {add_build_, add_refill_, earlier_, later_, reserve_met_}, stack_);
    stack_->addWidget(several_view_);
    outer->addWidget(stack_);
    connect(several_view_, &SeveralView::told, this, &Page::told);
    connect(several_view_, &SeveralView::chosen_changed, this, [this] {
        enable_commands();
        emit evidence_changed();
    });
    connect(several_view_, &SeveralView::answered, this, [this] {
        enable_commands();
        emit evidence_changed();
    });
    connect(several_view_, &SeveralView::opened, this, [this](Id build) {
        match_for(build);
        start_search();
    });
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        if (changes.everything || changes.library || changes.rules || !changes.units.empty() ||
            !changes.assemblies.empty())
            several_view_->changed();
    });
    show_several(false);
}

void MatchStation::add_search_commands() {
    search_ = add_command(tr("&Search"), QKeySequence(tr("F9")), tr("Choose and group the units"),
                          [this] { start_search(); });
    longer_ = add_command(tr("Search longer"), QKeySequence(tr("Shift+F9")),
                          tr("Go on from this answer, with three times the patience"), [this] { start_search(true); });
    stop_ = add_command(tr("St&op"), QKeySequence(tr("F8")), tr("Stop the search; the best so far stays"),
                        [this] { stop_search(); });
    reserve_ = add_command(tr("&Reserve for a build"), QKeySequence(tr("Ctrl+Return")),
                           tr("Reserve these units and open the build sheet"), [this] { reserve(); });
    lock_ = add_command(tr("&Lock or free the unit"), QKeySequence(tr("F6")),
                        tr("The selected unit stays in its group"), [this] {
                            if (!level_->selected_unit().isEmpty())
                                toggle_lock(id_of(level_->selected_unit()), level_->selected_group());
                        });
    exclude_ = add_command(tr("&Exclude the unit"), QKeySequence(tr("F7")),
                           tr("Leave the selected unit out of the next search"), [this] {
                               if (!level_->selected_unit().isEmpty())
                                   toggle_exclude(id_of(level_->selected_unit()));
                           });
    forget_ = add_command(tr("&Forget locks and exclusions"), {},
                          tr("Every unit is free again, and no pair is kept apart"), [this] {
                              if (!choices_.empty())
                                  emit undo_pushed(new ChoicesCommand(*this, {}, tr("forget locks")));
                          });
    break_set_ = add_command(tr("Break the matched set…"), {}, tr("Its units are used one by one from now on; say why"),
                             [this] { ask_break_set(chosen_set()); });
    stop_->setEnabled(false);
}

QWidget* MatchStation::make_one() {
    auto* one = new QWidget(this);
    auto* outer = new QVBoxLayout(one);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    outer->addWidget(make_choices());
    auto* level_panel = new Panel({}, one);
    auto* figures_row = new QHBoxLayout;
    figures_row->setSpacing(16);
    spread_ = new Figure(tr("spread of the groups"), level_panel, 28);
    usable_ = new Figure(tr("usable"), level_panel);
    bound_ = new Figure(tr("upper bound"), level_panel);
    stranded_ = new Figure(tr("excess"), level_panel);
    figures_row->addWidget(spread_);
    for (Figure* figure : {usable_, bound_, stranded_})
        figures_row->addWidget(figure);
    figures_row->addStretch(1);
    figures_row->addWidget(new PressButton(reserve_, level_panel), 0, Qt::AlignTop);
    level_panel->body()->addLayout(figures_row);
    level_ = new LevelView(level_panel);
    level_panel->body()->addWidget(level_, 1);
    outer->addWidget(level_panel, 1);
    auto* ways_panel = new Panel({}, one);
    ways_ = new WaysView(ways_panel);
    ways_area_ = new QScrollArea(ways_panel); // what is kept asks for no more height than the four ways
    ways_area_->setFrameShape(QFrame::NoFrame);
    ways_area_->setWidgetResizable(true);
    ways_area_->setWidget(ways_);
    ways_area_->setFocusPolicy(Qt::NoFocus);
    ways_area_->viewport()->setAutoFillBackground(false);
    ways_->setAutoFillBackground(false);
    ways_area_->setFixedHeight(ways_->sizeHint().height());
    ways_panel->body()->addWidget(ways_area_);
    notes_ = sentence({}, ways_panel);
    notes_->setFont(type(12));
    set_muted(notes_);
    notes_->hide();
    ways_panel->body()->addWidget(notes_);
    outer->addWidget(ways_panel);

    connect(level_, &LevelView::chosen, this, [this](int, const QString& unit) {
        if (const Id under = id_of(unit); held_ != 0 && under != 0 && under != held_)
            see_exchange(held_, under);
        emit evidence_changed();
    });
    connect(level_, &LevelView::exchange_seen, this,
            [this](const QString& unit, const QString& with) { see_exchange(id_of(unit), id_of(with)); });
    connect(level_, &LevelView::exchange_wanted, this,
            [this](const QString& unit, const QString& with) { exchange(id_of(unit), id_of(with)); });
    connect(level_, &LevelView::exchange_left, this, [this] { let_go(); });
    connect(level_, &LevelView::lock_toggled, this,
            [this](const QString& unit, int group) { toggle_lock(id_of(unit), group); });
    connect(level_, &LevelView::exclude_wanted, this, [this](const QString& unit) { toggle_exclude(id_of(unit)); });
    connect(ways_, &WaysView::chosen, this, [this](int row) {
        way_ = row;
        show_found();
    });
    return one;
}

// What acts on what is in sight, and nothing else.
void MatchStation::enable_commands() {
    const bool may = workshop().writable();
    one_mode_->setChecked(!several_);
    several_mode_->setChecked(several_);
    for (QAction* action : {lock_, exclude_, forget_, ask_})
        action->setEnabled(!several_);
    for (QAction* action : {longer_, apart_, exchange_, keep_, groups_csv_})
        action->setEnabled(!several_ && answer_.has_value() && !searching());
    const bool chosen = several_ && may && several_view_->chosen_build() != 0;
    break_set_->setEnabled(!several_ && may && !searching() && chosen_set() != 0);
    add_build_->setEnabled(may);
    add_refill_->setEnabled(may);
    for (QAction* action : {earlier_, later_, drop_build_})
        action->setEnabled(chosen);
    reserve_met_->setEnabled(several_ && may && several_view_->any_met());
    if (several_) {
        search_->setEnabled(false);
        reserve_->setEnabled(false);
        stop_->setEnabled(several_view_->searching());
    }
}

QString MatchStation::scan_hint() const {
    if (held_ != 0)
        return tr("a unit label: exchange with that one");
    return several_ ? tr("a unit label shows who gets it") : tr("a unit label locks or frees it");
}

QWidget* MatchStation::make_choices() {
    auto* panel = new Panel({}, this);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    const auto add = [&](const QString& name, QWidget* input, int stretch = 0) {
        auto* box = new QVBoxLayout;
        box->setSpacing(1);
        box->addWidget(caption(name, panel));
        box->addWidget(input);
        input->setAccessibleName(name);
        row->addLayout(box, stretch);
    };
    series_ = new QSpinBox(panel);
    series_->setObjectName(QStringLiteral("match_series"));
    series_->setRange(1, 200);
    series_->setValue(7);
    parallel_ = new QSpinBox(panel);
    parallel_->setObjectName(QStringLiteral("match_parallel"));
    parallel_->setRange(1, 500);
    parallel_->setValue(4);
    chemistry_ = new QComboBox(panel);
    chemistry_->setObjectName(QStringLiteral("match_chemistry"));
    model_ = new QComboBox(panel);
    model_->setObjectName(QStringLiteral("match_model"));
    tray_ = new QComboBox(panel);
    tray_->setObjectName(QStringLiteral("match_tray"));
    for_ = new QComboBox(panel);
    for_->setObjectName(QStringLiteral("match_for"));
    for (QComboBox* combo : {for_, chemistry_, model_, tray_}) {
        combo->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        combo->setMinimumContentsLength(4);
    }
    constexpr int letters_of_a_chemistry = 5;
    chemistry_->setMinimumContentsLength(letters_of_a_chemistry);
    connect(for_, &QComboBox::activated, this, [this] {
        const Id build = for_->currentData().toLongLong();
        if (build < 0)
            show_several(true);
        else
            match_for(build);
    });
    add(tr("build"), for_, 1);
    add(tr("series"), series_);
    add(tr("parallel"), parallel_);
    add(tr("chemistry"), chemistry_, 2);
    add(tr("model"), model_, 2);
    add(tr("tray"), tray_, 1);
    auto* duties = new QWidget(panel);
    auto* duties_row = new QHBoxLayout(duties);
    duties_row->setContentsMargins(0, 0, 0, 0);
    duties_row->setSpacing(8);
    for (int d = 0; d < 3; ++d) {
        duties_[static_cast<std::size_t>(d)] = new QCheckBox(wording::duty(static_cast<Duty>(d)), duties);
        duties_[static_cast<std::size_t>(d)]->setChecked(d < 2);
        duties_[static_cast<std::size_t>(d)]->setFocusPolicy(Qt::TabFocus);
        duties_row->addWidget(duties_[static_cast<std::size_t>(d)]);
        connect(duties_[static_cast<std::size_t>(d)], &QCheckBox::toggled, this, [this] { show_pool_size(); });
    }
    add(tr("duty"), duties);
    panel->body()->addLayout(row);
    auto* second = new QHBoxLayout;
    second->setSpacing(10);
    second->addWidget(caption(tr("capacity to trade"), panel));
    give_up_ = new ChoiceRow(
        {QStringLiteral("0 %"), QStringLiteral("0.1 %"), QStringLiteral("0.5 %"), QStringLiteral("1 %")}, panel);
    give_up_->choose(2);
    give_up_->setToolTip(tr("How much of the best usable capacity may be spent on levelling resistance and leak"));
    second->addWidget(give_up_);
    bought_ = new GiveUpBars(panel);
    second->addWidget(bought_);
    pool_words_ = sentence({}, panel);
    pool_words_->setFont(type(13));
    second->addStretch(1);
    progress_ = new QProgressBar(panel);
    progress_->setRange(0, 100);
    progress_->setFixedWidth(110);
    progress_->hide();
    second->addWidget(new PressButton(stop_, panel));
    second->addWidget(new PressButton(search_, panel, true));
    panel->body()->addLayout(second);
    panel->body()->addLayout(make_kept_row(panel));
    connect_choices();
    return panel;
}

QHBoxLayout* MatchStation::make_kept_row(QWidget* panel) {
    auto* third = new QHBoxLayout;
    third->setSpacing(10);
    third->addWidget(caption(tr("to keep"), panel));
    demands_box_ = new QComboBox(panel);
    demands_box_->setObjectName(QStringLiteral("match_demands"));
    demands_box_->setAccessibleName(tr("What the match is to keep"));
    demands_box_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    demands_box_->setMinimumContentsLength(16);
    connect(demands_box_, &QComboBox::activated, this, [this] { choose_demands(); });
    third->addWidget(demands_box_);
    set_choice_ = new QWidget(panel);
    auto* set_row = new QHBoxLayout(set_choice_);
    set_row->setContentsMargins(0, 0, 0, 0);
    set_row->setSpacing(10);
    set_row->addWidget(caption(tr("matched set"), set_choice_));
    set_ = new QComboBox(set_choice_);
    set_->setObjectName(QStringLiteral("match_set"));
    set_->setAccessibleName(tr("Matched set"));
    set_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    set_->setMinimumContentsLength(17);
    connect(set_, &QComboBox::activated, this, [this] {
        const Assembly* set = workshop().pack(chosen_set());
        if (const int at = set == nullptr ? -1 : chemistry_->findData(QString::fromStdString(set->chemistry)); at >= 0)
            chemistry_->setCurrentIndex(at);
        show_pool_size();
        enable_commands();
    });
    set_row->addWidget(set_);
    third->addWidget(set_choice_);
    third->addWidget(pool_words_, 1);
    third->addWidget(progress_);
    return third;
}

void MatchStation::connect_choices() {
    for (QSpinBox* spin : {series_, parallel_})
        connect(spin, &QSpinBox::valueChanged, this, [this] { show_pool_size(); });
    for (QComboBox* combo : {chemistry_, model_, tray_})
        connect(combo, &QComboBox::currentIndexChanged, this, [this, combo] {
            if (filling_)
                return;
            if (combo == chemistry_)
                refresh();
            show_pool_size();
        });
    connect(give_up_, &ChoiceRow::changed, this, [this] {
        show_pool_size();
        if (found_ && !searching())
            start_search(); // what it buys is seen at once
    });
}

void MatchStation::fill_sets() {
    const Id chosen = chosen_set();
    set_->clear();
    set_->addItem(tr("none"), qlonglong{0});
    for (const auto& [id, units] : workshop().inventory().sets_in_stock())
        if (const Assembly* set = workshop().pack(id))
            set_->addItem(tr("%1, %2 units").arg(QString::fromStdString(set->label)).arg(units.size()),
                          static_cast<qlonglong>(id));
    set_->setCurrentIndex(std::max(0, set_->findData(static_cast<qlonglong>(chosen))));
    set_choice_->setVisible(set_->count() > 1);
}

Id MatchStation::chosen_set() const {
    return set_->currentData().toLongLong();
}

PoolFilter MatchStation::filter() const {
    PoolFilter filter;
    filter.set = chosen_set();
    filter.chemistry = chemistry_->currentData().toString().toStdString();
    filter.model = model_->currentData().toString().toStdString();
    filter.tray = tray_->currentData().toString().toStdString();
    for (std::size_t d = 0; d < duties_.size(); ++d)
        if (duties_[d]->isChecked())
            filter.duties.push_back(static_cast<Duty>(d));
    return filter;
}

double MatchStation::give_up() const {
    return give_ups[static_cast<std::size_t>(give_up_->chosen())];
}

void MatchStation::fill_for() {
    for_->clear();
    for_->addItem(tr("new"), qlonglong{0});
    for (const Assembly* build : workshop().inventory().wanting())
        for_->addItem(QString::fromStdString(build->label), static_cast<qlonglong>(build->id));
    for_->addItem(tr("several"), qlonglong{-1});
    const int at = for_->findData(static_cast<qlonglong>(for_build_));
    if (at < 0)
        for_build_ = 0; // it has units now, or was dropped
    for_->setCurrentIndex(std::max(0, at));
}

void MatchStation::match_for(Id build) {
    for_build_ = build;
    show_several(false);
    const Assembly* record = workshop().build_of(for_build_);
    if (record == nullptr)
        return;
    const PoolFilter wanted = workshop().match().filter_for(build);
    series_->setValue(record->layout.series);
    parallel_->setValue(record->layout.parallel);
    if (const int at = chemistry_->findData(QString::fromStdString(wanted.chemistry)); at >= 0)
        chemistry_->setCurrentIndex(at);
    model_->setCurrentIndex(std::max(0, model_->findData(QString::fromStdString(wanted.model))));
    for (std::size_t d = 0; d < duties_.size(); ++d)
        duties_[d]->setChecked(static_cast<std::size_t>(wanted.duties.size()) > d);
    show_pool_size();
}

void MatchStation::refresh() {
    if (several_) {
        several_view_->refresh(give_up());
        enable_commands();
        return;
    }
    filling_ = true;
    fill_for();
    fill_demands();
    fill_sets();
    const QString chemistry = chemistry_->currentData().toString();
    const QString model = model_->currentData().toString();
    const QString tray = tray_->currentData().toString();
    std::map<std::string, int> chemistries;
    std::set<std::string> models;
    std::set<std::string> trays;
    for (const UnitState& unit : workshop().units())
        if (unit.in_stock())
            ++chemistries[unit.facts.chemistry];
    chemistry_->clear();
    int most = 0;
    int index = -1;
    for (const auto& [id, count] : chemistries) {
        const Chemistry* known = workshop().library().chemistry(id);
        chemistry_->addItem(QString::fromStdString(known != nullptr ? known->name : id), QString::fromStdString(id));
        if (chemistry.isEmpty() ? count > most : chemistry.toStdString() == id) {
            most = count;
            index = chemistry_->count() - 1;
        }
    }
    chemistry_->setCurrentIndex(index);
    const std::string chosen = chemistry_->currentData().toString().toStdString();
    for (const UnitState& unit : workshop().units())
        if (unit.in_stock() && unit.facts.chemistry == chosen) {
            models.insert(unit.record.model);
            if (!unit.record.tray.empty())
                trays.insert(unit.record.tray);
        }
    model_->clear();
    model_->addItem(tr("any"), QString());
    for (const std::string& id : models) {
        const UnitModel* known = workshop().library().model(id);
        model_->addItem(QString::fromStdString(known != nullptr ? known->name : id), QString::fromStdString(id));
    }
    model_->setCurrentIndex(std::max(0, model_->findData(model)));
    tray_->clear();
    tray_->addItem(tr("any"), QString());
    for (const std::string& id : trays)
        tray_->addItem(QString::fromStdString(id), QString::fromStdString(id));
    tray_->setCurrentIndex(std::max(0, tray_->findData(tray)));
    filling_ = false;
    show_pool_size();
    if (!found_)
        level_->clear(tr(
            "Choose how many groups in series and units in parallel, and which units may be used. Then search (F9)."));
    ways_area_->setVisible(found_ != nullptr);
    enable_commands();
}

void MatchStation::show_pool_size() {
    if (filling_)
        return;
    stale_ = found_ != nullptr;
    const auto units = workshop().match().pool(filter());
    int tested = 0;
    for (const Id id : units)
        tested += workshop().unit(id)->facts.capacity_ah ? 1 : 0;
    const int needed = series_->value() * parallel_->value();
    QString words = tr("%1 of %2 tested units needed").arg(needed).arg(tested);
    if (chosen_set() != 0)
        words += tr("; the set of %1 is used whole").arg(workshop().inventory().sets_in_stock()[chosen_set()].size());
    if (!choices_.locks.empty())
        words += tr(", %1 locked").arg(choices_.locks.size());
    if (!choices_.excluded.empty())
        words += tr(", %1 excluded").arg(choices_.excluded.size());
    pool_words_->setText(words + QLatin1Char('.'));
    search_->setEnabled(!searching() && tested >= needed);
    reserve_->setEnabled(answer_.has_value() && !searching() && workshop().writable());
    if (tested < needed)
        pool_words_->setText(words + tr(": too few. Allow more duties or models, or test more units."));
}

Id MatchStation::id_of(const QString& code) const {
    const auto found = workshop().find_unit(code.toStdString());
    return found.ok() ? found.value() : 0;
}

void MatchStation::set_locks(Choices choices) {
    choices_ = std::move(choices);
    if (found_) {
        found_->problem.locks.clear();
        for (std::size_t i = 0; i < found_->units.size(); ++i)
            if (const auto lock = choices_.locks.find(found_->units[i]); lock != choices_.locks.end())
                found_->problem.locks.push_back({i, static_cast<std::size_t>(lock->second)});
        if (answer_)
            level_->set(shown()->problem, *answer_);
    }
    show_pool_size();
    emit evidence_changed();
}

void MatchStation::toggle_lock(Id unit, int group) {
    if (unit == 0)
        return;
    Choices choices = choices_;
    if (choices.locks.erase(unit) == 0) {
        if (group < 0) { // scanned: to the group where it stands, else to the first
            group = 0;
            if (answer_ && shown() != nullptr)
                for (std::size_t g = 0; g < answer_->groups.size(); ++g)
                    for (const std::size_t u : answer_->groups[g].units)
                        if (shown()->units[u] == unit)
                            group = static_cast<int>(g);
        }
        choices.locks[unit] = group;
        choices.excluded.erase(unit);
    }
    emit undo_pushed(new ChoicesCommand(*this, std::move(choices), tr("lock a unit")));
}

void MatchStation::toggle_exclude(Id unit) {
    if (unit == 0)
        return;
    Choices choices = choices_;
    if (choices.excluded.erase(unit) == 0) {
        choices.excluded.insert(unit);
        choices.locks.erase(unit);
    }
    emit undo_pushed(new ChoicesCommand(*this, std::move(choices), tr("exclude a unit")));
}

bool MatchStation::show_unit(Id unit) {
    if (several_)
        return several_view_->show_unit(unit);
    const UnitState* state = workshop().unit(unit);
    if (state == nullptr)
        return false;
    if (state->quarantined || state->verdict.duty == Duty::quarantine) {
        emit told(tr("%1 is in quarantine and goes into no pack.").arg(QString::fromStdString(state->code())), true);
        return true;
    }
    if (!state->in_stock()) {
        emit told(tr("%1 is not in stock.").arg(QString::fromStdString(state->code())), true);
        return true;
    }
    if (const Id set = workshop().inventory().set_of(*state); set != chosen_set()) {
        const Assembly* of = workshop().pack(set != 0 ? set : chosen_set());
        emit told(set != 0 ? tr("%1 belongs to the matched set %2: choose that set to use it whole, or break it first.")
                                 .arg(QString::fromStdString(state->code()), QString::fromStdString(of->label))
                           : tr("%1 does not belong to the matched set %2.")
                                 .arg(QString::fromStdString(state->code()), QString::fromStdString(of->label)),
                  true);
        return true;
    }
    if (held_ != 0) {
        unit == held_ ? let_go() : unit == with_ ? exchange(held_, unit) : see_exchange(held_, unit);
        return true;
    }
    toggle_lock(unit, -1);
    return true;
}

bool MatchStation::take_line(const QString& line) {
    if (line.isEmpty()) {
        if (held_ != 0 && with_ != 0)
            exchange(held_, with_);
        return true;
    }
    if (!figures::typed(line))
        return false;
    const auto found = workshop().find_unit(line.toStdString());
    if (fine(found))
        show_unit(found.value());
    return true;
}

EvidenceContent MatchStation::evidence() const {
    return several_ ? several_view_->evidence() : one_evidence();
}

void MatchStation::pose() {
    start_search();
}

} // namespace ingot::app
