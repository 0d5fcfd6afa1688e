// Match by hand: what is to be kept, units exchanged with the figures in sight, answers kept and compared.
#include "app/parts/demands_question.h"
#include "app/parts/level_view.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/ways_view.h"
#include "app/stations/match/choices_command.h"
#include "app/stations/match/match_choices.h"
#include "app/stations/match/match_station.h"
#include "core/match/exchange.h"
#include "exchange/pool_csv.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QFileDialog>
#include <QKeyEvent>
#include <QUndoCommand>

#include <algorithm>
#include <cmath>

namespace ingot::app {

class KeptCommand : public QUndoCommand {
public:
    KeptCommand(MatchStation& station, std::vector<MatchStation::Kept> kept, int row, const QString& text)
        : QUndoCommand(text), station_(station), before_(station.kept_), row_before_(station.way_),
          kept_(std::move(kept)), row_(row) {}
    void undo() override { station_.set_kept(before_, row_before_); }
    void redo() override { station_.set_kept(kept_, row_); }

private:
    MatchStation& station_;
    std::vector<MatchStation::Kept> before_;
    int row_before_;
    std::vector<MatchStation::Kept> kept_;
    int row_;
};

namespace {

constexpr std::size_t most_kept = 3;

std::vector<std::vector<std::size_t>> units_of(const MatchResult& result) {
    std::vector<std::vector<std::size_t>> out;
    out.reserve(result.groups.size());
    for (const GroupSums& group : result.groups)
        out.push_back(group.units);
    return out;
}

QString from_to(const QString& name, const QString& from, const QString& to) {
    return from == to ? QStringLiteral("%1   %2").arg(name, to)
                      : QStringLiteral("%1   %2 \u2192 %3").arg(name, from, to);
}

QString share_or_dash(const std::optional<double>& share) {
    return share ? figures::percent(*share, 2) : QString(QChar(0x2013));
}

} // namespace

void MatchStation::add_hand_commands() {
    ask_ =
        add_command(tr("What to &keep…"), {}, tr("Models, old groups, voltages, load: what every answer must keep to"),
                    [this] { ask_for_demands(); });
    apart_ = add_command(tr("Keep a&part from…"), {}, tr("The selected unit and another one share no group"),
                         [this] { keep_apart(); });
    exchange_ =
        add_command(tr("E&xchange the unit"), QKeySequence(tr("F4")),
                    tr("Hold the selected unit; the next one that is selected or scanned shows what an exchange "
                       "would do. F4 or Enter again does it, Esc lets go"),
                    [this] { hold_unit(); });
    keep_ = add_command(tr("Keep this ans&wer"), {}, tr("It stays in the table beside what is searched next"),
                        [this] { keep_answer(); });
    groups_csv_ =
        add_command(tr("&Groups as CSV…"), {}, tr("Which unit stands in which group"), [this] { write_groups(); });
}

void MatchStation::fill_demands() {
    const bool unnamed = demands_.name.empty() && demands_.demands.any();
    demands_box_->clear();
    demands_box_->addItem(tr("nothing"));
    int at = 0;
    for (const NamedDemands& named : workshop().match().named_demands()) {
        demands_box_->addItem(QString::fromStdString(named.name));
        if (named.name == demands_.name)
            at = demands_box_->count() - 1;
    }
    if (unnamed || (at == 0 && demands_.demands.any())) {
        demands_box_->addItem(tr("as asked"));
        at = demands_box_->count() - 1;
    }
    demands_box_->addItem(tr("ask…"), true);
    demands_box_->setCurrentIndex(at);
}

void MatchStation::choose_demands() {
    if (demands_box_->currentData().toBool()) {
        ask_for_demands();
        return;
    }
    NamedDemands chosen;
    if (demands_box_->currentIndex() > 0) {
        chosen = demands_;
        for (const NamedDemands& named : workshop().match().named_demands())
            if (named.name == demands_box_->currentText().toStdString())
                chosen = named;
    }
    set_demands(chosen);
}

void MatchStation::ask_for_demands() {
    const auto asked = ask_demands(this, demands_);
    if (!asked) {
        fill_demands();
        return;
    }
    if (!asked->name.empty() && asked->demands.any() && !fine(workshop().match().name_demands(*asked)))
        return;
    set_demands(*asked);
}

void MatchStation::set_demands(const NamedDemands& demands) {
    demands_ = demands;
    fill_demands();
    show_pool_size();
    if (found_ && !searching())
        start_search();
}

void MatchStation::keep_apart() {
    const Id unit = id_of(level_->selected_unit());
    if (unit == 0) {
        emit told(tr("Select a unit first."), false);
        return;
    }
    Id other = 0;
    const auto typed = ask_line(this, tr("Keep apart"), tr("Label of the unit that shares no group with it"), {},
                                [&](const QString& answer) {
                                    other = id_of(answer);
                                    return other == 0      ? tr("There is no such unit.")
                                           : other == unit ? tr("That is the unit itself.")
                                                           : QString();
                                });
    if (!typed || other == 0)
        return;
    Choices choices = choices_;
    choices.apart.insert(std::minmax(unit, other));
    emit undo_pushed(new ChoicesCommand(*this, std::move(choices), tr("keep units apart")));
    emit told(tr("The next search keeps them apart."), false);
}

void MatchStation::hold_unit() {
    if (held_ != 0 && with_ != 0) {
        exchange(held_, with_);
        return;
    }
    const Id unit = id_of(level_->selected_unit());
    if (unit == 0 || shown() == nullptr) {
        emit told(tr("Select a unit of the answer first."), false);
        return;
    }
    held_ = unit;
    with_ = 0;
    level_->hold(level_->selected_unit());
    emit hint_changed();
    emit evidence_changed();
}

bool MatchStation::step_back() {
    if (held_ == 0 && !preview_)
        return false;
    let_go();
    return true;
}

void MatchStation::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape || !step_back())
        StationView::keyPressEvent(event);
}

void MatchStation::let_go() {
    const bool held = held_ != 0 || preview_;
    held_ = with_ = 0;
    preview_.reset();
    level_->hold({});
    if (!held)
        return;
    if (answer_)
        show_figures(*answer_);
    emit hint_changed();
    emit evidence_changed();
}

std::optional<MatchResult> MatchStation::exchanged(Id unit, Id with) const {
    return shown() == nullptr || !answer_
               ? std::nullopt
               : ingot::exchanged(shown()->problem, *answer_, index_of(unit), index_of(with));
}

// Beyond the pool where the answer does not know the unit.
std::size_t MatchStation::index_of(Id unit) const {
    const auto& units = shown()->units;
    return static_cast<std::size_t>(std::find(units.begin(), units.end(), unit) - units.begin());
}

void MatchStation::see_exchange(Id unit, Id with) {
    auto seen = exchanged(unit, with);
    if (!seen) {
        const UnitState* other = workshop().unit(with);
        emit told(tr("%1 is not in the pool of this answer, or its capacity is not known.")
                      .arg(other == nullptr ? QString() : QString::fromStdString(other->code())),
                  true);
        return;
    }
    held_ = unit;
    with_ = with;
    preview_ = std::move(seen);
    show_figures(*preview_);
    emit hint_changed();
    emit evidence_changed();
}

void MatchStation::exchange(Id unit, Id with) {
    auto done = exchanged(unit, with);
    if (!done) {
        see_exchange(unit, with); // says why not
        return;
    }
    Kept hand;
    const int index = way_ - static_cast<int>(ways.size());
    const bool again = index >= 0 && kept_[static_cast<std::size_t>(index)].by_hand;
    hand.of = index >= 0 ? kept_[static_cast<std::size_t>(index)].of : found_;
    hand.by_hand = true;
    hand.row.way = index >= 0 ? kept_[static_cast<std::size_t>(index)].row.way : ways[static_cast<std::size_t>(way_)];
    hand.row.name = tr("By hand");
    hand.row.result = std::move(done);
    auto kept = kept_;
    int row = static_cast<int>(ways.size());
    if (again) {
        kept[static_cast<std::size_t>(index)] = std::move(hand);
        row += index;
    } else {
        std::erase_if(kept, [](const Kept& one) { return one.by_hand; });
        kept.push_back(std::move(hand));
        row += static_cast<int>(kept.size()) - 1;
    }
    let_go();
    emit undo_pushed(new KeptCommand(*this, std::move(kept), row, tr("exchange units")));
}

Id MatchStation::unit_of(std::size_t index) const {
    return shown()->units.at(index);
}

void MatchStation::keep_answer() {
    if (!answer_ || shown() == nullptr)
        return;
    Kept one;
    const int index = way_ - static_cast<int>(ways.size());
    one.of = index >= 0 ? kept_[static_cast<std::size_t>(index)].of : found_;
    one.row.way = index >= 0 ? kept_[static_cast<std::size_t>(index)].row.way : ways[static_cast<std::size_t>(way_)];
    one.row.result = answer_;
    one.row.name = tr("Kept: %1S%2P, %3")
                       .arg(one.of->problem.series)
                       .arg(one.of->problem.parallel)
                       .arg(index >= 0 ? kept_[static_cast<std::size_t>(index)].row.name : wording::way(one.row.way));
    auto kept = kept_;
    kept.push_back(std::move(one));
    if (kept.size() > most_kept) {
        kept.erase(kept.begin());
        emit told(tr("%1 answers are kept at most; the oldest went.").arg(most_kept), false);
    }
    emit undo_pushed(new KeptCommand(*this, std::move(kept), way_ < static_cast<int>(ways.size()) ? way_ : way_search,
                                     tr("keep an answer")));
}

void MatchStation::set_kept(std::vector<Kept> kept, int row) {
    kept_ = std::move(kept);
    way_ = row;
    if (found_)
        show_found();
}

void MatchStation::write_groups() {
    if (!answer_ || shown() == nullptr)
        return;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Groups"), QStringLiteral("groups.csv"), tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    if (fine(exchange::write_text(path.toStdString(), exchange::write_assignment(shown()->problem, *answer_))))
        emit told(tr("The groups were written to %1.").arg(path), false);
}

EvidenceContent MatchStation::exchange_evidence() const {
    EvidenceContent content;
    content.caution = "match";
    const UnitState* unit = workshop().unit(held_);
    const UnitState* with = workshop().unit(with_);
    if (unit == nullptr || with == nullptr || !answer_)
        return content;
    content.subject = tr("%1 for %2").arg(QString::fromStdString(unit->code()), QString::fromStdString(with->code()));
    const double more = preview_->usable_ah - answer_->usable_ah;
    constexpr double noteworthy = 5e-4;
    content.verdict = std::fabs(more) < noteworthy ? tr("As much usable")
                      : more > 0                   ? tr("%1 more").arg(figures::unit_capacity(more))
                                                   : tr("%1 less").arg(figures::unit_capacity(-more));
    content.line = preview_->levelness < answer_->levelness ? tr("The groups would be more level.")
                                                            : tr("The groups would be less level.");
    content.notes << from_to(tr("usable"), figures::unit_capacity(answer_->usable_ah),
                             figures::unit_capacity(preview_->usable_ah))
                  << from_to(tr("capacity spread"), figures::percent(answer_->capacity_spread, 2),
                             figures::percent(preview_->capacity_spread, 2))
                  << from_to(tr("conductance spread"), share_or_dash(answer_->conductance_spread),
                             share_or_dash(preview_->conductance_spread))
                  << from_to(tr("levelness"), figures::plain(answer_->levelness, 4),
                             figures::plain(preview_->levelness, 4));
    for (const Breach& breach : breaches_of(shown()->problem, units_of(*preview_)))
        content.notes << wording::breach(breach);
    content.hand_title = tr("Exchange?");
    content.hand_line = tr("F4 or the same label again does it, Esc lets go.");
    content.decided_by = tr("levelness of capacity, conductance and leak");
    return content;
}

// Whether another unit of the stock would do better in its place.
void MatchStation::add_why_here(EvidenceContent& content, Id unit) const {
    if (shown() == nullptr || !answer_)
        return;
    const std::size_t own = index_of(unit);
    int group = 0;
    for (std::size_t g = 0; g < answer_->groups.size(); ++g) {
        const auto& units = answer_->groups[g].units;
        if (std::find(units.begin(), units.end(), own) != units.end())
            group = static_cast<int>(g) + 1;
    }
    if (group == 0)
        return;
    content.notes << tr("Why here: in group %1.").arg(group);
    const auto best = nearest_in_place(shown()->problem, *answer_, own);
    if (!best) {
        content.notes << tr("No unit of the stock could take its place within what may be traded.");
        return;
    }
    const QString code = QString::fromStdString(shown()->problem.pool[best->unit].id);
    const QString then = figures::plain(best->result.levelness, 4);
    const QString now = figures::plain(answer_->levelness, 4);
    content.notes << (best->result.levelness >= answer_->levelness
                          ? tr("Nearest in its place: %1, less level (%2 against %3).").arg(code, then, now)
                          : tr("%1 in its place would level better (%2 against %3): another search may find it, or "
                               "exchange them.")
                                .arg(code, then, now));
}

// What is asked, whether it is kept, and what each costs.
void MatchStation::add_demands(EvidenceContent& content) const {
    const MatchProblem& problem = shown()->problem;
    if (!problem.demands.any())
        return;
    const auto breaches = breaches_of(problem, units_of(*answer_));
    for (const Breach& breach : breaches)
        content.notes << wording::breach(breach);
    for (int d = 0; d < demand_count; ++d) {
        const auto which = static_cast<Demand>(d);
        if (!problem.demands.asks(which))
            continue;
        const bool kept = std::none_of(breaches.begin(), breaches.end(),
                                       [&](const Breach& breach) { return breach.demand == which; });
        const auto& without = without_[static_cast<std::size_t>(d)];
        QString words =
            kept ? tr("Kept: %1.").arg(wording::demand(which)) : tr("Not kept: %1.").arg(wording::demand(which));
        if (without && shown() == found_.get()) {
            const double cost = without->usable_ah - answer_->usable_ah;
            constexpr double noteworthy = 1e-3;
            words += QLatin1Char(' ') +
                     (cost > noteworthy
                          ? tr("It costs %1; levelness %2 instead of %3.")
                                .arg(figures::unit_capacity(cost), figures::plain(answer_->levelness, 4),
                                     figures::plain(without->levelness, 4))
                          : tr("It costs no capacity; levelness %1 instead of %2.")
                                .arg(figures::plain(answer_->levelness, 4), figures::plain(without->levelness, 4)));
        }
        content.notes << words;
    }
}

} // namespace ingot::app
