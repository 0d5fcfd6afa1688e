#include "app/stations/match/several_view.h"

#include "app/parts/build_lanes.h"
#include "app/parts/panel.h"
#include "app/stations/match/match_choices.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>
#include <numeric>

namespace ingot::app {

namespace {

QString ah_words(double ah) {
    return figures::pack_capacity(ah);
}
constexpr double noteworthy_ah = 0.005; // less is none to two digits

} // namespace

SeveralView::SeveralView(Workshop& workshop, QAction* back, const std::vector<QAction*>& head, QWidget* parent)
    : QWidget(parent), workshop_(workshop), job_(new Job(this)) {
    job_->setObjectName(QStringLiteral("explaining")); // what is shown follows it
    connect(job_, &Job::failed, this, [this](const Problem& problem) { emit told(wording::problem(problem), true); });
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* top = new Panel(tr("Builds that want units"), this);
    auto* row = new QHBoxLayout;
    words_ = sentence({}, top);
    words_->setFont(type(13));
    row->addWidget(words_, 1);
    for (QAction* command : head)
        if (command != head.back())
            top->head()->addWidget(new PressButton(command, top));
    row->addWidget(new PressButton(back, top));
    row->addWidget(new PressButton(head.back(), top, true));
    top->body()->addLayout(row);
    outer->addWidget(top);
    auto* panel = new Panel({}, this);
    none_ = sentence({}, panel);
    panel->body()->addWidget(none_);
    lanes_ = new BuildLanes;
    auto* area = new QScrollArea(panel);
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    area->setWidget(lanes_);
    area->setFocusPolicy(Qt::NoFocus);
    area->viewport()->setAutoFillBackground(false);
    lanes_->setAutoFillBackground(false);
    panel->body()->addWidget(area, 1);
    outer->addWidget(panel, 1);
    connect(lanes_, &BuildLanes::chosen_changed, this, [this, area] {
        if (lanes_->chosen() >= 0) {
            const QRectF at = lanes_->parts().at(static_cast<std::size_t>(lanes_->chosen())).at;
            area->ensureVisible(0, static_cast<int>(at.center().y()), 0, static_cast<int>(at.height()));
        }
        emit chosen_changed();
    });
    connect(lanes_, &BuildLanes::entered, this, [this] {
        if (const Id build = chosen_build())
            emit opened(build);
    });
}

Id SeveralView::chosen_build() const {
    const int lane = lanes_->chosen();
    return lane >= 0 && lane < static_cast<int>(shown_.size()) ? shown_[static_cast<std::size_t>(lane)] : 0;
}

void SeveralView::choose(Id build) {
    const auto at = std::find(shown_.begin(), shown_.end(), build);
    if (at != shown_.end())
        lanes_->choose(static_cast<int>(at - shown_.begin()));
}

int SeveralView::index_of(Id build) const {
    if (!answer_)
        return -1;
    const auto& builds = answer_->question.builds;
    const auto at = std::find(builds.begin(), builds.end(), build);
    return at == builds.end() ? -1 : static_cast<int>(at - builds.begin());
}

void SeveralView::refresh(double give_up) {
    if (stale_ || give_up != give_up_) {
        answer_.reset(); // it speaks of another stock
        begin(give_up);
    }
    show_lanes();
}

void SeveralView::begin(double give_up) {
    stale_ = false;
    give_up_ = give_up;
    AllotQuestion question = workshop_.match().allot_question(give_up);
    if (question.builds.empty()) {
        job_->drop();
        return;
    }
    question.problem.effort *= patience() / patient_effort;
    job_->begin<Result<AllotAnswer>>(
        [question = std::move(question)](const Job::Token& token) {
            return answer_allotment(question, [&] { return token.wanted(); });
        },
        [this](const Result<AllotAnswer>& found) {
            if (found)
                take(found.value());
            else
                emit told(wording::problem(found.problem()), true);
        });
}

void SeveralView::take(const AllotAnswer& answer) {
    answer_ = answer;
    show_lanes();
    emit answered();
}

void SeveralView::show_lanes() {
    const Id before = chosen_build();
    std::vector<double> capacities;
    std::vector<std::size_t> rank_of; // of a unit of the pool
    rank_to_unit_.clear();
    if (answer_) {
        const auto& pool = answer_->question.problem.pool;
        std::vector<std::size_t> order;
        for (std::size_t u = 0; u < pool.size(); ++u)
            if (pool[u].capacity_ah && answer_->question.waits[u] == 0)
                order.push_back(u);
        std::stable_sort(order.begin(), order.end(),
                         [&](std::size_t a, std::size_t b) { return *pool[a].capacity_ah < *pool[b].capacity_ah; });
        rank_of.assign(pool.size(), 0);
        for (std::size_t rank = 0; rank < order.size(); ++rank) {
            rank_of[order[rank]] = rank;
            capacities.push_back(*pool[order[rank]].capacity_ah);
            rank_to_unit_.push_back(answer_->question.units[order[rank]]);
        }
    }
    std::vector<BuildLane> lanes;
    shown_.clear();
    for (const Assembly* build : workshop_.inventory().wanting()) {
        shown_.push_back(build->id);
        const BuildDesign& design = workshop_.build().design(build->id);
        BuildLane lane;
        lane.name = QString::fromStdString(build->label);
        if (design.knows(DesignFigure::purpose))
            lane.name += QStringLiteral(", ") + QString::fromStdString(design.word(DesignFigure::purpose));
        lane.form = wording::layout(build->layout);
        if (design.knows(DesignFigure::wanted_model))
            lane.form = tr("%1 of %2").arg(lane.form, QString::fromStdString(design.word(DesignFigure::wanted_model)));
        lane.duty = duty_from(design.word(DesignFigure::least_duty)).value_or(Duty::light);
        lane.wanted_ah = design.number(DesignFigure::wanted_ah);
        lane.asks = lane.wanted_ah ? tr("%1, %2").arg(wording::duty(lane.duty), ah_words(*lane.wanted_ah))
                                   : tr("%1, as much as it gets").arg(wording::duty(lane.duty));
        lane.verdict = tr("searching …");
        if (const int at = index_of(build->id); at >= 0) {
            const auto b = static_cast<std::size_t>(at);
            const Allotted& got = answer_->result.builds[b];
            lane.at_most_ah = got.at_most_ah;
            lane.if_first_ah = answer_->standings[b].if_first_ah;
            lane.usable_ah = got.filled ? got.match.usable_ah : 0;
            for (const GroupSums& group : got.match.groups) {
                lane.sums_ah.push_back(group.capacity_ah);
                for (const std::size_t u : group.units)
                    lane.ranks.push_back(rank_of[u]);
            }
            lane.state = answer_->met(b) ? BuildLane::State::met
                         : got.filled    ? BuildLane::State::lacks
                                         : BuildLane::State::empty;
            lane.verdict = answer_->met(b) ? (lane.wanted_ah ? tr("met") : tr("filled"))
                           : got.filled    ? tr("%1 short").arg(figures::plain(answer_->short_ah(b), 2))
                                           : tr("%1 lacking").arg(got.lacking);
        }
        lanes.push_back(std::move(lane));
    }
    none_->setVisible(lanes.empty());
    lanes_->setVisible(!lanes.empty());
    none_->setText(
        tr("No build waits for units. Add one: what it is for, its groups, the Ah it must give, as in \"mower "
           "pack 7S4P 9.2 Ah drive\"."));
    lanes_->set(std::move(capacities), std::move(lanes));
    if (before != 0)
        choose(before);
    if (chosen_build() == 0 && !shown_.empty())
        lanes_->choose(0);
    if (shown_.empty())
        words_->clear();
    else if (!answer_)
        words_->setText(tr("Who gets what is being worked out."));
    else {
        std::size_t met = 0;
        for (std::size_t b = 0; b < answer_->question.builds.size(); ++b)
            met += answer_->met(b) ? 1 : 0;
        const std::size_t left =
            answer_->result.left.size() -
            static_cast<std::size_t>(std::count(answer_->question.waits.begin(), answer_->question.waits.end(), 1));
        words_->setText(
            tr("%1 of %2 met; %3 of %4 units given out. First come, first served; each no more than it needs.")
                .arg(met)
                .arg(shown_.size())
                .arg(rank_to_unit_.size() - std::min(left, rank_to_unit_.size()))
                .arg(rank_to_unit_.size()));
    }
}

bool SeveralView::any_met() const {
    for (std::size_t b = 0; answer_ && b < answer_->question.builds.size(); ++b)
        if (answer_->met(b))
            return true;
    return false;
}

bool SeveralView::show_unit(Id unit) {
    const UnitState* state = workshop_.unit(unit);
    const auto at = std::find(rank_to_unit_.begin(), rank_to_unit_.end(), unit);
    if (state == nullptr || at == rank_to_unit_.end()) {
        emit told(tr("%1 is not in the stock that is given out: not fit yet, or reserved.")
                      .arg(state == nullptr ? QString() : QString::fromStdString(state->code())),
                  true);
        return true;
    }
    const auto rank = static_cast<std::size_t>(at - rank_to_unit_.begin());
    lanes_->frame(rank);
    for (std::size_t i = 0; i < lanes_->lanes().size(); ++i) {
        const auto& ranks = lanes_->lanes()[i].ranks;
        if (std::find(ranks.begin(), ranks.end(), rank) != ranks.end()) {
            lanes_->choose(static_cast<int>(i));
            emit told(tr("%1 goes to %2.").arg(QString::fromStdString(state->code()), lanes_->lanes()[i].name), false);
            return true;
        }
    }
    emit told(tr("%1 is left over.").arg(QString::fromStdString(state->code())), false);
    return true;
}

EvidenceContent SeveralView::evidence() const {
    EvidenceContent content;
    content.caution = "match";
    content.subject = tr("Several builds");
    content.line = tr("They are served in their order, each with the weakest units that give what it wants: what is "
                      "better stays for the next.");
    const int at = index_of(chosen_build());
    if (at < 0)
        return content;
    const auto b = static_cast<std::size_t>(at);
    const BuildLane& lane = lanes_->lanes().at(static_cast<std::size_t>(lanes_->chosen()));
    const Allotted& got = answer_->result.builds[b];
    const AllotStanding& standing = answer_->standings[b];
    content.subject = tr("%1, %2").arg(lane.name, lane.form);
    content.verdict = answer_->met(b) ? (lane.wanted_ah ? tr("Met") : tr("Filled"))
                      : got.filled    ? tr("Short by %1").arg(ah_words(answer_->short_ah(b)))
                                      : lane.verdict;
    if (got.filled)
        content.line = tr("The weakest group gives %1; no choice of the units left gives more than %2.")
                           .arg(ah_words(got.match.usable_ah), ah_words(got.at_most_ah));
    else
        content.line = tr("It needs %n units, and too few are left that it may use.", nullptr,
                          answer_->question.problem.builds[b].series * answer_->question.problem.builds[b].parallel);
    if (got.filled) {
        content.notes << tr("Groups level within %1.").arg(figures::percent(got.match.capacity_spread, 2));
        if (got.match.conductance_spread)
            content.notes << tr("Conductance within %1.").arg(figures::percent(*got.match.conductance_spread, 2));
    }
    if (const auto refill = workshop_.build().refill(shown_.at(static_cast<std::size_t>(lanes_->chosen()))))
        content.notes << wording::refill(*refill, workshop_.build().design(chosen_build()));
    bool costs = false;
    for (const AllotCost& cost : standing.above) {
        if (cost.ah < noteworthy_ah)
            continue;
        if (!costs)
            content.notes << tr("What the builds above cost it, at most:");
        costs = true;
        content.notes << QStringLiteral("%1   %2").arg(
            QString::fromStdString(answer_->question.problem.builds[cost.build].id), ah_words(cost.ah));
    }
    if (!costs && !standing.above.empty())
        content.notes << tr("The builds above cost it nothing.");
    if (!answer_->met(b)) {
        if (standing.if_first_ah > got.at_most_ah + noteworthy_ah)
            content.ways.push_back({tr("Serve it first: at most %1").arg(ah_words(standing.if_first_ah)),
                                    tr("Ctrl+Up moves it; those it passes get what it leaves."), true});
        const auto& waiting = answer_->waiting[b];
        if (waiting.units > 0 && waiting.at_most_ah > got.at_most_ah + noteworthy_ah)
            content.ways.push_back({tr("Finish %n units that wait for a verdict", nullptr, waiting.units),
                                    tr("If all are fit: at most %1.").arg(ah_words(waiting.at_most_ah)), true});
        if (lane.duty != Duty::light)
            content.ways.push_back({tr("Allow units of a lower duty"),
                                    tr("Only where its load allows it: see what the device draws."), false});
        if (content.ways.empty())
            content.notes << tr("Nothing in the shop fills it: open or buy more, or want less.");
    }
    content.decided_by = tr("order of the builds, then levelness");
    return content;
}

Result<int> SeveralView::reserve_met() {
    if (!answer_ || !any_met())
        return Problem{"", 0, said("No build is met yet.")};
    return workshop_.match().reserve_met(AllotAnswer(*answer_)); // a copy: what is reserved calls for a new answer
}

} // namespace ingot::app
