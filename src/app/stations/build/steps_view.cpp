#include "app/stations/build/steps_view.h"

#include "app/parts/gate_picture.h"
#include "app/parts/layout_picture.h"
#include "app/parts/panel.h"
#include "app/parts/step_list.h"
#include "app/theme/theme.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/refill_work.h"
#include "workshop/wording.h"

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace ingot::app {

StepsView::StepsView(Workshop& workshop, QWidget* parent) : BuildView(workshop, parent) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* gate = new Panel(tr("Before joining"), this);
    gate_picture_ = new GatePicture(gate);
    gate_words_ = sentence({}, gate);
    gate_words_->setObjectName(QStringLiteral("gate_words"));
    gate_words_->setMinimumWidth(scaled(320)); // so that it asks for few lines
    gate->head()->insertWidget(1, gate_words_, 1);
    gate->body()->addWidget(gate_picture_);
    outer->addWidget(gate);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    auto* steps = new Panel(tr("Steps"), this);
    auto* scroll = new QScrollArea(steps);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    list_ = new StepList;
    scroll->setWidget(list_);
    scroll->viewport()->setAutoFillBackground(false);
    list_->setAutoFillBackground(false); // setWidget turned it on
    steps->body()->addWidget(scroll, 1);
    row->addWidget(steps, 1);
    auto* face = new Panel(tr("As it lies"), this);
    picture_ = new LayoutPicture(face);
    face->body()->addWidget(picture_, 1);
    auto* bare = new Panel({}, face);
    bare->set_kind(Panel::Kind::caution);
    hazard_words_ = sentence({}, bare);
    hazard_words_->setObjectName(QStringLiteral("step_hazard"));
    hazard_words_->setMinimumWidth(scaled(280));
    bare->body()->addWidget(hazard_words_);
    face->body()->addWidget(bare);
    row->addWidget(face, 1);
    outer->addLayout(row, 1);
    connect(list_, &StepList::chosen, this, [this](int line) {
        chosen_ = line;
        show_list();
        show_picture();
        emit evidence_changed();
    });
    connect(list_, &StepList::entered, this, &StepsView::tick_next);
    connect(gate_picture_, &GatePicture::chosen, this, [this] {
        show_gate();
        emit evidence_changed();
    });
}

std::vector<BuildTask> StepsView::tasks() const {
    std::vector<BuildTask> out;
    for (int t = 0; t < build_task_count; ++t)
        if (items_of(static_cast<BuildTask>(t)) > 0)
            out.push_back(static_cast<BuildTask>(t));
    return out;
}

int StepsView::items_of(BuildTask task) const {
    return question_.build == 0 ? 0 : static_cast<int>(build_items(task, question_.series, question_.parallel).size());
}

const BuildStep* StepsView::step(BuildTask task) const {
    for (const BuildStep& one : plan_.steps)
        if (one.task == task)
            return &one;
    return nullptr;
}

std::optional<BuildTask> StepsView::task() const {
    const auto all = tasks();
    if (chosen_ >= 0 && chosen_ < static_cast<int>(all.size()))
        return all[static_cast<std::size_t>(chosen_)];
    if (const auto next = workshop().build().next_item(build()))
        return next->first;
    return std::nullopt;
}

Id StepsView::asked() const {
    if (scanned_ != 0)
        return scanned_;
    for (const auto& group : gate_)
        for (const std::string& code : group.unread)
            if (const auto unit = workshop().find_unit(code))
                return unit.value();
    return 0;
}

void StepsView::refresh() {
    if (question_.build != build()) {
        chosen_ = -1;
        scanned_ = 0;
    }
    question_ = workshop().build().question(build());
    gate_ = workshop().build().gate(build());
    if (plan_.build != build())
        plan_ = {};
    gate_picture_->parentWidget()->setVisible(question_.parallel > 1);
    show_gate();
    show_list();
    show_picture();
}

void StepsView::take_plan(const BuildPlan& plan) {
    plan_ = plan;
    show_list();
    show_picture();
    emit evidence_changed();
}

void StepsView::show_gate() {
    gate_picture_->set(gate_);
    const auto shut = std::find_if(gate_.begin(), gate_.end(), [](const auto& group) { return !group.passes; });
    if (shut == gate_.end()) {
        gate_words_->setText(tr("Every group may be joined."));
        return;
    }
    const auto number = shut - gate_.begin() + 1;
    QString text = tr("<b>Group %1</b>: %2").arg(number).arg(wording::join_advice(shut->check));
    if (shut->plan) {
        QStringList moves;
        for (const Bringing& bring : shut->plan->bring) {
            const QString code = QString::fromStdString(shut->units.at(bring.member));
            const bool drain = bring.charge_ah && *bring.charge_ah < 0;
            moves << (bring.charge_ah ? (drain ? tr("drain %1 to %2, %3") : tr("charge %1 to %2, %3"))
                                            .arg(code, figures::volts(bring.to_v),
                                                 figures::unit_capacity(std::abs(*bring.charge_ah)))
                                      : tr("bring %1 to %2").arg(code, figures::volts(bring.to_v)));
        }
        for (const std::size_t reversed : shut->plan->reversed)
            moves << wording::reversed_unit(shut->units.at(reversed));
        for (const std::size_t deep : shut->plan->deep)
            moves << wording::deep_unit(shut->units.at(deep));
        if (!moves.isEmpty())
            text += QStringLiteral(" ") + moves.join(QStringLiteral("; "));
    }
    gate_words_->setText(text);
}

void StepsView::show_list() {
    using S = StepLine::State;
    std::vector<StepLine> lines;
    const auto all = tasks();
    const auto& ticks = workshop().build().ticks(build());
    const auto next = workshop().build().next_item(build());
    int row = -1;
    for (const BuildTask one : all) {
        StepLine line;
        line.name = wording::build_task(one, modules());
        const int items = items_of(one);
        int done = 0;
        std::string last;
        if (one == BuildTask::gate) {
            done = static_cast<int>(std::count_if(gate_.begin(), gate_.end(), [](const auto& g) { return g.passes; }));
        } else {
            for (int i = 1; i <= items; ++i)
                if (const auto tick = ticks.find({one, i}); tick != ticks.end()) {
                    ++done;
                    last = std::max(last, tick->second);
                }
        }
        const bool now = next && next->first == one;
        line.state = done == items ? S::done : now ? S::now : done > 0 ? S::part : S::to_come;
        const BuildStep* bare = step(one);
        if (done == items)
            line.note = last.empty() ? QString() : wording::clock_time(last);
        else if (items > 1)
            line.note = tr("%1 of %2").arg(done).arg(items);
        if (done == 0 && !now && bare != nullptr && bare->here) {
            line.note = figures::volts(bare->here->volts, 1);
            line.hazard = true;
        }
        if (now)
            row = static_cast<int>(lines.size());
        lines.push_back(std::move(line));
    }
    list_->set(std::move(lines), chosen_ >= 0 ? chosen_ : row);
}

void StepsView::show_picture() {
    const auto one = task();
    const LayoutProposal* now = plan_.now();
    picture_->setVisible(now != nullptr);
    const BuildStep* bare = one ? step(*one) : nullptr;
    QStringList words;
    if (bare != nullptr) {
        const bool ohms = question_.without_resistance.empty();
        if (bare->here)
            words << tr("<b>A slip bridges</b> %1.").arg(wording::hazard(*bare->here, ohms));
        if (bare->covered)
            words << tr("Under the card: %1.").arg(wording::hazard(*bare->covered, ohms));
        if (!question_.unread.empty())
            words << tr("%n units are not read and count as full.", nullptr, static_cast<int>(question_.unread.size()));
    }
    hazard_words_->setText(words.join(QStringLiteral("<br>")));
    hazard_words_->parentWidget()->setVisible(!words.isEmpty());
    if (now == nullptr) {
        picture_->clear();
        return;
    }
    picture_->set(now->layout, question_.stock ? question_.stock->width_m : 0,
                  question_.design.number(DesignFigure::case_width_m).value_or(0),
                  question_.design.number(DesignFigure::case_height_m).value_or(0));
    const auto& ticks = workshop().build().ticks(build());
    const auto next = workshop().build().next_item(build());
    std::vector<PieceLook> looks(now->layout.pieces.size(), PieceLook::waiting);
    for (const BuildStep& each : plan_.steps)
        for (std::size_t i = 0; i < each.items.size(); ++i)
            for (const std::size_t piece : each.items[i].pieces) {
                const std::pair item(each.task, static_cast<int>(i) + 1);
                looks[piece] = ticks.contains(item)    ? PieceLook::done
                               : next && *next == item ? PieceLook::now
                                                       : PieceLook::waiting;
            }
    picture_->set_looks(std::move(looks), {});
    const bool back = one && (*one == BuildTask::parallel_back || *one == BuildTask::links_back);
    picture_->show_faces(back ? LayoutPicture::Faces::back : LayoutPicture::Faces::front);
}

Act StepsView::ticking(BuildTask task, int item) {
    return [this, id = build(), task, item] { return workshop().build().tick(id, task, item); };
}

Act StepsView::taking_back(BuildTask task, int item) {
    return [this, id = build(), task, item] { return workshop().build().take_back(id, task, item); };
}

void StepsView::tick_next() {
    if (build() == 0 || !workshop().writable())
        return;
    auto next = workshop().build().next_item(build());
    // What is chosen goes before what comes next, where it has something to tick.
    if (const auto one = task(); one && chosen_ >= 0 && *one != BuildTask::gate)
        for (int i = 1; i <= items_of(*one); ++i)
            if (!workshop().build().ticks(build()).contains({*one, i})) {
                next = std::pair(*one, i);
                break;
            }
    if (!next) {
        emit told(tr("Nothing can be ticked now: read the units whose gate is shut."), false);
        return;
    }
    const Assembly* record = workshop().build_of(build());
    const QString which = wording::build_item(next->first, next->second, record->layout);
    emit step_wanted(which.isEmpty() ? wording::build_task(next->first, modules())
                                     : tr("%1, %2").arg(wording::build_task(next->first, modules()), which),
                     ticking(next->first, next->second), taking_back(next->first, next->second));
    chosen_ = -1;
    refresh();
    emit evidence_changed();
    emit hint_changed();
}

void StepsView::take_back_last() {
    const auto& ticks = workshop().build().ticks(build());
    const auto last = std::max_element(ticks.begin(), ticks.end(), [](const auto& a, const auto& b) {
        return std::pair(a.second, a.first) < std::pair(b.second, b.first);
    });
    if (last == ticks.end() || !workshop().writable()) {
        emit told(tr("Nothing is ticked yet."), false);
        return;
    }
    const auto item = last->first;
    emit step_wanted(tr("take back %1").arg(wording::build_task(item.first, modules())),
                     taking_back(item.first, item.second), ticking(item.first, item.second));
    chosen_ = -1;
    refresh();
    emit evidence_changed();
}

bool StepsView::step_back() {
    if (build() == 0 || workshop().build().ticks(build()).empty())
        return false;
    take_back_last();
    return true;
}

bool StepsView::show_unit(Id unit) {
    const UnitState* state = workshop().unit(unit);
    if (state == nullptr)
        return false;
    for (std::size_t g = 0; g < gate_.size(); ++g)
        if (std::find(gate_[g].units.begin(), gate_[g].units.end(), state->code()) != gate_[g].units.end()) {
            scanned_ = unit;
            gate_picture_->choose(static_cast<int>(g) + 1);
            emit hint_changed();
            emit evidence_changed();
            return true;
        }
    return false;
}

bool StepsView::take_line(const QString& line) {
    if (build() == 0)
        return false;
    if (line.isEmpty()) {
        tick_next();
        return true;
    }
    const auto volts = figures::typed(line);
    const bool last_figures = line.size() == 4 && line.startsWith(QLatin1Char('0')) &&
                              !line.contains(QLatin1Char('.')) && !line.contains(QLatin1Char(','));
    const Id unit = asked();
    if (!volts || last_figures || unit == 0)
        return false;
    Measurement reading;
    reading.quantity = Quantity::voltage;
    reading.value = *volts;
    reading.resolution = figures::last_digit(line);
    reading.protocol = "typed";
    reading.conditions.condition = Condition::rest;
    const auto kept = workshop().test().record_reading(unit, reading);
    if (!kept) {
        emit told(wording::problem(kept.problem()), true);
        return true;
    }
    emit acknowledged(QStringLiteral("unit %1 voltage %2").arg(unit).arg(*volts, 0, 'f', 4));
    scanned_ = 0;
    refresh();
    emit evidence_changed();
    emit hint_changed();
    return true;
}

QString StepsView::scan_hint() const {
    const UnitState* unit = workshop().unit(asked());
    if (unit != nullptr)
        return tr("volts of %1").arg(QString::fromStdString(unit->code()));
    const auto next = workshop().build().next_item(build());
    const Assembly* record = workshop().build_of(build());
    if (!next || record == nullptr)
        return tr("a unit's label");
    const QString which = wording::build_item(next->first, next->second, record->layout);
    return tr("Enter ticks %1").arg(which.isEmpty() ? wording::build_task(next->first, modules()) : which);
}

EvidenceContent StepsView::evidence() const {
    EvidenceContent content;
    const Assembly* record = workshop().build_of(build());
    if (record == nullptr)
        return content;
    content.subject = label();
    const auto next = workshop().build().next_item(build());
    const auto one = task();
    if (one)
        content.subject = tr("%1, %2").arg(label(), wording::build_task(*one, modules()));
    const auto open = std::count_if(gate_.begin(), gate_.end(), [](const auto& group) { return group.passes; });
    if (record->state == AssemblyState::joined)
        content.verdict = tr("Joined");
    else if (question_.parallel > 1)
        content.verdict = open == static_cast<long>(gate_.size())
                              ? tr("Fit to join")
                              : tr("%1 of %2 groups may be joined").arg(open).arg(gate_.size());
    for (const UnsafeFinding& finding : workshop().build().safety(build(), true))
        if (record->state != AssemblyState::joined || !finding.refuses)
            content.ways.push_back({finding.refuses ? tr("Not like this") : tr("To be minded"),
                                    wording::unsafe(finding), !finding.refuses});
    content.notes << wording::refill_work(refill_work(workshop(), build()));
    if (record->state == AssemblyState::planned)
        content.line = tr("Its units are still in their trays: take them at Units.");
    else if (one && (!next || next->first != *one))
        content.line = wording::build_task_how(*one, modules());
    if (const BuildStep* bare = one ? step(*one) : nullptr; bare != nullptr && bare->here) {
        const bool ohms = question_.without_resistance.empty();
        content.hazard_title =
            ohms ? tr("%1 at %2, bare")
                       .arg(wording::prospective(bare->here->amperes), figures::volts(bare->here->volts, 1))
                 : tr("%1, bare").arg(figures::volts(bare->here->volts, 1));
        content.hazard_line =
            tr("Rings on, a card over what is finished, glasses, nothing metal on the hands. Local rules "
               "and a licensed hand go before this list.");
    }
    if (next) {
        const QString which = wording::build_item(next->first, next->second, record->layout);
        content.hand_title = which.isEmpty() ? wording::build_task(next->first, modules())
                                             : tr("%1, %2").arg(wording::build_task(next->first, modules()), which);
        content.hand_line = wording::build_task_how(next->first, modules()) + QStringLiteral(" ") + tr("Then Enter.");
    }
    // What is looked at, else what comes next; a workshop of before knows the one caution.
    content.caution = one    ? wording::build_task_caution(*one)
                      : next ? wording::build_task_caution(next->first)
                             : "build";
    if (!workshop().library().cautions.contains(content.caution))
        content.caution = "build";
    return content;
}

} // namespace ingot::app
