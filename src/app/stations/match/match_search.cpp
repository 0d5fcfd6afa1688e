// Match for one build: the search beside the window, what it found, what is said of it and reserved.
#include "app/parts/choice_row.h"
#include "app/parts/give_up_bars.h"
#include "app/parts/level_view.h"
#include "app/parts/panel.h"
#include "app/parts/ways_view.h"
#include "app/stations/match/match_choices.h"
#include "app/stations/match/match_station.h"
#include "app/stations/match/several_view.h"
#include "core/match/thrift.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QLabel>
#include <QProgressBar>
#include <QScrollArea>
#include <QSpinBox>

#include <algorithm>
#include <set>

namespace ingot::app {

MatchStation::~MatchStation() {
    job_->drop();
}

bool MatchStation::searching() const {
    return several_ ? several_view_->searching() : job_->busy();
}

void MatchStation::stop_search() {
    if (several_)
        several_view_->stop();
    else
        job_->stop();
}

void MatchStation::start_search(bool longer) {
    if (searching() || (longer && !answer_))
        return;
    job_->drop(); // what other steps would buy is not waited for
    auto found = std::make_shared<Found>();
    found->units = workshop().match().pool(filter());
    // A locked unit is used whatever the filter says.
    for (const auto& [id, group] : choices_.locks)
        if (std::find(found->units.begin(), found->units.end(), id) == found->units.end())
            if (const UnitState* unit = workshop().unit(id); unit != nullptr && unit->in_stock() && !unit->quarantined)
                found->units.push_back(id);
    found->problem = workshop().match().problem_for(found->units);
    found->problem.series = series_->value();
    found->problem.parallel = parallel_->value();
    found->problem.give_up = give_up();
    for (std::size_t i = 0; i < found->units.size(); ++i) {
        if (const auto lock = choices_.locks.find(found->units[i]);
            lock != choices_.locks.end() && lock->second < series_->value())
            found->problem.locks.push_back({i, static_cast<std::size_t>(lock->second)});
        if (choices_.excluded.contains(found->units[i]))
            found->problem.excluded.push_back(i);
    }
    if (longer)
        go_on(*found);
    else
        found->problem.effort = patience();
    found->problem.demands = demands_.demands;
    for (const auto& [a, b] : choices_.apart) {
        const auto at = [&](Id unit) { return std::find(found->units.begin(), found->units.end(), unit); };
        if (at(a) != found->units.end() && at(b) != found->units.end())
            found->problem.demands.apart.emplace_back(at(a) - found->units.begin(), at(b) - found->units.begin());
    }
    // A build that wants so much and no more leaves the strongest to the next.
    if (const auto wanted = workshop().build().design(for_build_).number(DesignFigure::wanted_ah);
        for_build_ != 0 && wanted) {
        const auto spared = spare_strongest(found->problem, *wanted);
        found->problem.excluded.insert(found->problem.excluded.end(), spared.begin(), spared.end());
        found->spared = static_cast<int>(spared.size());
        found->wanted_ah = *wanted;
    }
    let_go();
    progress_->setValue(0);
    progress_->show();
    search_->setEnabled(false);
    stop_->setEnabled(true);
    for (QAction* action : {reserve_, longer_, apart_, exchange_, keep_, groups_csv_})
        action->setEnabled(false); // what is in sight changes under the hand
    job_->begin<bool>(
        [this, found](const Job::Token& token) {
            search_all_ways(*found, token);
            const MatchProblem base = found->problem; // from here on `found` belongs to the window's thread
            token.tell([this, found] {
                job_->answered();
                take_found(found);
            });
            see_other_steps(base, token);
            return true;
        },
        [](const bool&) {});
}

// Where the pool or the demand is another by now, the search hears nothing of the answer.
void MatchStation::go_on(Found& found) const {
    constexpr double longer_times = 3;
    const Found& before = *shown();
    found.problem.effort = longer_times * std::max(before.problem.effort, patience());
    found.problem.seed = before.problem.seed + 1;
    for (const GroupSums& group : answer_->groups) {
        auto& units = found.problem.go_on_from.emplace_back();
        units.reserve(group.units.size());
        for (const std::size_t u : group.units) {
            const auto at = std::find(found.units.begin(), found.units.end(), before.units[u]);
            units.push_back(static_cast<std::size_t>(at - found.units.begin())); // past the end: no unit of this pool
        }
    }
}

// On the job's thread; touches only `found` and what it tells.
void MatchStation::search_all_ways(Found& found, const Job::Token& token) {
    for (const MatchWay way : ways) {
        const MatchObserver observer = [&](const MatchProgress& progress) {
            if (progress.best == nullptr)
                token.tell([this, share = progress.share_done] { progress_->setValue(static_cast<int>(share * 100)); });
            else
                token.tell([this, problem = found.problem, interim = *progress.best, share = progress.share_done] {
                    progress_->setValue(static_cast<int>(share * 100));
                    show_interim(problem, interim);
                });
            return token.wanted();
        };
        const auto result = match(found.problem, way, way == MatchWay::search ? observer : MatchObserver{});
        WayRow row;
        row.way = way;
        if (result)
            row.result = result.value();
        else
            row.problem = wording::sentence(result.problem().sentence);
        found.rows.push_back(std::move(row));
    }
}

// Unhurried: what each demand costs, and what the other steps of the control would buy.
void MatchStation::see_other_steps(const MatchProblem& base, const Job::Token& token) {
    for (int d = 0; d < demand_count && token.wanted(); ++d) {
        const auto which = static_cast<Demand>(d);
        if (!base.demands.asks(which))
            continue;
        MatchProblem other = base;
        other.demands.drop(which);
        other.effort = 0.5;
        const auto result = match(other, MatchWay::search, [&](const MatchProgress&) { return token.wanted(); });
        if (!result || !token.wanted())
            return;
        token.tell([this, d, without = result.value()] {
            without_[static_cast<std::size_t>(d)] = without;
            emit evidence_changed();
        });
    }
    for (std::size_t i = 0; i < give_ups.size() && token.wanted(); ++i) {
        if (give_ups[i] == base.give_up)
            continue;
        MatchProblem other = base;
        other.give_up = give_ups[i];
        other.effort = 0.5;
        const auto result = match(other, MatchWay::search, [&](const MatchProgress&) { return token.wanted(); });
        if (!result || !token.wanted())
            break;
        token.tell([this, i, spread = result.value().conductance_spread] {
            spreads_[i] = spread;
            bought_->set(spreads_, give_up_->chosen());
        });
    }
}

void MatchStation::take_found(const std::shared_ptr<Found>& found) {
    progress_->hide();
    stop_->setEnabled(false);
    found_ = found;
    way_ = way_search;
    spreads_ = {};
    without_ = {};
    const auto& searched = found->rows[way_search].result;
    for (std::size_t i = 0; searched && i < give_ups.size(); ++i)
        if (give_ups[i] == found->problem.give_up)
            spreads_[i] = searched->conductance_spread;
    bought_->set(spreads_, give_up_->chosen());
    if (!searched)
        emit told(found->rows[way_search].problem, true);
    show_found();
    show_pool_size();
    stale_ = false;
    emit search_finished();
}

void MatchStation::show_interim(const MatchProblem& problem, const MatchResult& result) {
    level_->set(problem, result);
    show_figures(result);
}

void MatchStation::show_figures(const MatchResult& result) {
    spread_->set(figures::percent(result.capacity_spread, 2),
                 result.conductance_spread ? tr("conductance %1").arg(figures::percent(*result.conductance_spread, 2))
                                           : QString());
    int weakest = 0;
    for (std::size_t g = 0; g < result.groups.size(); ++g)
        if (result.groups[g].capacity_ah <= result.usable_ah + 1e-12)
            weakest = static_cast<int>(g) + 1;
    usable_->set(figures::unit_capacity(result.usable_ah), tr("weakest is group %1").arg(weakest));
    bound_->set(figures::unit_capacity(result.bound_ah),
                result.proved ? tr("best %1, proved").arg(figures::unit_capacity(result.best_usable_ah))
                              : tr("best found %1").arg(figures::unit_capacity(result.best_usable_ah)));
    stranded_->set(figures::unit_capacity(result.stranded_ah));
}

void MatchStation::show_found() {
    ways_area_->setVisible(found_ != nullptr);
    if (!found_)
        return;
    std::vector<WayRow> rows = found_->rows;
    for (const Kept& kept : kept_)
        rows.push_back(kept.row);
    if (way_ >= static_cast<int>(rows.size()))
        way_ = way_search;
    const WayRow row = rows[static_cast<std::size_t>(way_)];
    ways_->set(std::move(rows));
    ways_->set_chosen(way_);
    const QRectF row_at = ways_->row_rect(way_);
    ways_area_->ensureVisible(0, static_cast<int>(row_at.center().y()), 0, static_cast<int>(row_at.height()));
    answer_ = row.result;
    if (answer_) {
        level_->set(shown()->problem, *answer_);
        show_figures(*answer_);
        if (level_->selected_group() < 0) {
            int weakest = 0;
            for (std::size_t g = 0; g < answer_->groups.size(); ++g)
                if (answer_->groups[g].capacity_ah <= answer_->usable_ah + 1e-12)
                    weakest = static_cast<int>(g);
            level_->select(weakest, {});
        }
    }
    QStringList notes;
    if (row.result)
        for (const auto& [note, count] : row.result->notes)
            notes << wording::match_note(note, count);
    if (way_ < way_search && found_->rows[way_search].result && answer_)
        notes << tr("Shown: %1. It takes no account of what the search levels.").arg(wording::way(row.way));
    if (const Found* of = shown(); of != nullptr && of->spared > 0)
        notes << tr("Stronger units left in stock: %1; the build wants no more than %2.")
                     .arg(of->spared)
                     .arg(figures::pack_capacity(of->wanted_ah));
    notes_->setText(notes.join(QLatin1Char(' ')));
    notes_->setVisible(!notes.isEmpty());
    reserve_->setEnabled(answer_.has_value() && workshop().writable());
    enable_commands();
    emit evidence_changed();
}

const MatchStation::Found* MatchStation::shown() const {
    const int kept = way_ - static_cast<int>(ways.size());
    return kept >= 0 && kept < static_cast<int>(kept_.size()) ? kept_[static_cast<std::size_t>(kept)].of.get()
                                                              : found_.get();
}

void MatchStation::reserve() {
    if (!answer_ || shown() == nullptr)
        return;
    const MatchProblem& problem = shown()->problem;
    std::vector<std::vector<Id>> groups;
    for (const GroupSums& group : answer_->groups) {
        std::vector<Id> ids;
        for (const std::size_t u : group.units)
            ids.push_back(shown()->units[u]);
        groups.push_back(std::move(ids));
    }
    const int kept = way_ - static_cast<int>(ways.size());
    const MatchWay way =
        kept >= 0 ? kept_[static_cast<std::size_t>(kept)].row.way : ways[static_cast<std::size_t>(way_)];
    const auto id = for_build_ != 0
                        ? workshop().match().reserve_for(for_build_, problem.parallel, groups, way, problem.give_up)
                        : workshop().match().reserve(problem.series, problem.parallel, groups, way, problem.give_up);
    if (!fine(id))
        return;
    for_build_ = 0;
    job_->drop();
    bought_->clear();
    found_.reset();
    answer_.reset();
    kept_.clear();
    way_ = way_search;
    choices_ = {};
    for (Figure* figure : {spread_, usable_, bound_, stranded_})
        figure->set(QString());
    refresh();
    emit pack_wanted(id.value());
}

EvidenceContent MatchStation::one_evidence() const {
    EvidenceContent content;
    content.caution = "match";
    if (preview_)
        return exchange_evidence();
    if (!answer_ || shown() == nullptr) {
        content.subject = tr("Match");
        content.line = tr("Usable capacity first: the weakest group decides what the pack can give.");
        return content;
    }
    const QString unit = level_->selected_unit();
    if (!unit.isEmpty()) {
        content = unit_evidence(workshop(), id_of(unit));
        add_why_here(content, id_of(unit));
        if (held_ != 0) {
            content.hand_title = tr("Held for an exchange");
            content.hand_line = tr("Select the other unit, or scan one of the stock. Esc lets go.");
        }
        content.notes << tr("Space or a double click locks it to its group, Delete leaves it out. Drag it onto another "
                            "one to exchange them, or F4.");
        return content;
    }
    const int g = level_->selected_group();
    if (g < 0 || g >= static_cast<int>(answer_->groups.size()))
        return content;
    const GroupSums& group = answer_->groups[static_cast<std::size_t>(g)];
    content.subject = tr("%1S%2P, group %3").arg(shown()->problem.series).arg(shown()->problem.parallel).arg(g + 1);
    content.verdict = figures::unit_capacity(group.capacity_ah);
    content.line =
        group.capacity_ah <= answer_->usable_ah + 1e-12
            ? tr("the weakest: it decides the pack")
            : tr("%1 more than the weakest").arg(figures::unit_capacity(group.capacity_ah - answer_->usable_ah));
    if (const auto shares = MatchService::current_shares(shown()->problem, group); !shares.empty()) {
        content.notes << tr("Of %1 each unit carries:").arg(figures::amperes(static_cast<double>(group.units.size())));
        constexpr std::size_t most_shown = 8;
        for (std::size_t i = 0; i < std::min(most_shown, group.units.size()); ++i) {
            const MatchUnit& member = shown()->problem.pool[group.units[i]];
            content.notes << QStringLiteral("%1   %2   %3")
                                 .arg(QString::fromStdString(member.id),
                                      member.resistance_ohm ? figures::milliohms(*member.resistance_ohm)
                                                            : tr("not measured"),
                                      figures::amperes(shares[i]));
        }
    }
    std::set<std::string> trays;
    for (const std::size_t u : group.units)
        trays.insert(workshop().unit(shown()->units[u])->record.tray);
    QStringList names;
    for (const std::string& tray : trays)
        if (!tray.empty())
            names << QString::fromStdString(tray);
    add_demands(content);
    if (stale_)
        content.notes << tr("The choices above changed since this search.");
    content.notes
        << (names.isEmpty()
                ? tr("No tray is written of them; they are picked once they are reserved.")
                : tr("From tray %1; they are picked once they are reserved.").arg(names.join(QStringLiteral(", "))));
    content.decided_by = tr("levelness of capacity, conductance and leak");
    return content;
}

} // namespace ingot::app
