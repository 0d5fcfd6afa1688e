#include "app/stations/prove/proof_view.h"

#include "app/parts/panel.h"
#include "app/parts/proof_line.h"
#include "app/parts/proof_picture.h"
#include "app/parts/reading_boxes.h"
#include "workshop/figures.h"
#include "workshop/prove_wording.h"
#include "workshop/wording.h"

#include <QLabel>
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

// Yes, no, or a stroke where the pack has no such thing; nothing: it is none of these.
std::optional<ProveService::Answer> answer_in(ProofItem item, const QString& line) {
    const QString word = line.trimmed().toLower();
    if (word == QStringLiteral("-") || word == ProofView::tr("none"))
        return ProveService::Answer::none;
    if (word.isEmpty() || !is_yes_or_no(item))
        return std::nullopt;
    if (ProofView::tr("yes").startsWith(word))
        return ProveService::Answer::yes;
    return ProofView::tr("no").startsWith(word) ? std::optional(ProveService::Answer::no) : std::nullopt;
}

bool found_at(const RoundVerdict& verdict, int group, int place = 0) {
    return std::any_of(verdict.findings.begin(), verdict.findings.end(),
                       [&](const ProofFinding& f) { return f.group == group && f.place == place; });
}

} // namespace

ProofView::ProofView(Workshop& workshop, QWidget* parent) : QWidget(parent), workshop_(workshop) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* rounds = new Panel({}, this);
    line_ = new ProofLine(rounds);
    line_->setObjectName(QStringLiteral("proof_line"));
    rounds->body()->addWidget(line_);
    outer->addWidget(rounds);
    auto* groups = new Panel({}, this);
    picture_ = new ProofPicture(groups);
    picture_->setObjectName(QStringLiteral("proof_picture"));
    groups->body()->addWidget(picture_, 1);
    outer->addWidget(groups, 1);
    auto* hand = new Panel({}, this);
    how_ = sentence({}, hand);
    how_->setObjectName(QStringLiteral("prove_how"));
    hand->body()->addWidget(how_);
    boxes_ = new ReadingBoxes(hand);
    boxes_->setObjectName(QStringLiteral("prove_boxes"));
    hand->body()->addWidget(boxes_);
    outer->addWidget(hand);
    connect(line_, &ProofLine::chosen, this, [this](int round) { show_round(static_cast<ProofRound>(round)); });
    connect(picture_, &ProofPicture::group_chosen, this, &ProofView::choose_group);
    connect(boxes_, &ReadingBoxes::chosen, this, [this](int index) {
        active_ = index;
        look_again();
    });
}

void ProofView::show_pack(Id pack) {
    const bool another = pack != proof_.pack.id;
    proof_ = workshop_.prove().proof(pack);
    if (another) {
        load_a_.reset();
        group_ = 0;
        round_ = ProofRound::at_rest;
        for (int r = 0; r < proof_round_count && proof_.pack.id != 0; ++r) // the first that still holds the proof up
            if (holds_up(proof_.proof.rounds[static_cast<std::size_t>(r)].state)) {
                round_ = static_cast<ProofRound>(r);
                break;
            }
        show_round(round_);
        return;
    }
    show();
}

// As it is known; nothing is worked out again.
void ProofView::show() {
    line_->set(proof_, round_);
    how_->setText(proof_.pack.id == 0 ? tr("A pack comes here when the last step of Build is ticked.")
                                      : wording::proof_round_how(round_));
    show_boxes();
}

void ProofView::look_again() {
    show();
    emit changed();
}

void ProofView::show_round(ProofRound round) {
    round_ = round;
    if (proof_.pack.id != 0) {
        load_a_ = proof_.readings.rounds[static_cast<std::size_t>(round)].load_a;
        if (round == ProofRound::units) { // the first group with a unit that was not read
            group_ = unread_units().value_or(std::clamp(group_, 1, proof_.pack.layout.series));
        }
    }
    // What is out of line is what there is to look at.
    if (proof_.pack.id != 0 && round != ProofRound::units)
        for (const ProofFinding& f : proof_.proof.at(round).findings)
            if (f.group > 0) {
                group_ = f.group;
                break;
            }
    active_ = first_empty();
    look_again();
}

void ProofView::choose_group(int group) {
    if (proof_.pack.id == 0)
        return;
    group_ = std::clamp(group, 1, proof_.pack.layout.series);
    const auto all = boxes();
    if (round_ == ProofRound::units)
        active_ = first_empty();
    else if (const auto found =
                 std::find_if(all.begin(), all.end(),
                              [&](const Box& box) { return box.kind == BoxKind::group && box.number == group_; });
             found != all.end())
        active_ = static_cast<int>(found - all.begin());
    look_again();
}

std::vector<ProofView::Box> ProofView::boxes() const {
    std::vector<Box> out;
    if (proof_.pack.id == 0)
        return out;
    if (round_ == ProofRound::units) {
        out.push_back({BoxKind::load, 0, {}});
        for (int p = 1; p <= proof_.pack.layout.parallel; ++p)
            out.push_back({BoxKind::unit, p, {}});
        return out;
    }
    if (!reads_groups(round_)) {
        for (int i = 0; i < proof_item_count; ++i)
            if (const auto item = static_cast<ProofItem>(i); round_of(item) == round_)
                out.push_back({BoxKind::item, 0, item});
        return out;
    }
    if (round_ == ProofRound::under_load)
        out.push_back({BoxKind::load, 0, {}});
    for (int g = 1; g <= proof_.pack.layout.series; ++g)
        out.push_back({BoxKind::group, g, {}});
    out.push_back({BoxKind::terminals, 0, {}});
    return out;
}

bool ProofView::under_current() const {
    return round_ == ProofRound::under_load || round_ == ProofRound::units;
}

bool ProofView::empty(const Box& box) const {
    const ProofReading& reading = proof_.readings.rounds[static_cast<std::size_t>(round_)];
    switch (box.kind) {
    case BoxKind::load:
        return !load_a_;
    case BoxKind::group:
        return !reading.group_v[static_cast<std::size_t>(box.number) - 1];
    case BoxKind::terminals:
        return !reading.terminals_v;
    case BoxKind::unit:
        return !reading.unit_v[static_cast<std::size_t>(std::max(group_, 1)) - 1]
                              [static_cast<std::size_t>(box.number) - 1];
    case BoxKind::item:
        return !proof_.readings.item(box.item) && !proof_.readings.not_there[static_cast<std::size_t>(box.item)];
    }
    return false;
}

int ProofView::first_empty() const {
    const auto all = boxes();
    const auto found = std::find_if(all.begin(), all.end(), [this](const Box& box) { return empty(box); });
    return all.empty() ? -1 : found == all.end() ? 0 : static_cast<int>(found - all.begin());
}

void ProofView::show_boxes(const QString& typed) {
    std::vector<ReadingBox> out;
    const auto all = boxes();
    if (!all.empty()) {
        active_ = std::clamp(active_, 0, static_cast<int>(all.size()) - 1);
        if (const Box& now = all[static_cast<std::size_t>(active_)]; now.kind == BoxKind::group)
            group_ = now.number;
    }
    for (const Box& box : all) {
        const auto r = static_cast<std::size_t>(round_);
        const ProofReading& reading = proof_.readings.rounds[r];
        const RoundVerdict& verdict = proof_.proof.rounds[r];
        const auto shown = [&](const std::optional<double>& v, int digits) {
            return v ? figures::plain(*v, digits) : QString();
        };
        const auto at = static_cast<std::size_t>(std::max(box.number, 1)) - 1;
        switch (box.kind) {
        case BoxKind::load:
            out.push_back({tr("load, A"), shown(load_a_, 1), {}, false});
            break;
        case BoxKind::group:
            out.push_back({tr("Group %1").arg(box.number), shown(reading.group_v[at], 3), difference(verdict, at),
                           found_at(verdict, box.number)});
            break;
        case BoxKind::terminals:
            out.push_back({tr("Terminals"), shown(reading.terminals_v, 2), {}, found_at(verdict, 0)});
            break;
        case BoxKind::unit: {
            const auto g = static_cast<std::size_t>(std::max(group_, 1)) - 1;
            const std::string& code = proof_.unit_code[g][at];
            out.push_back({tr("Group %1, %2").arg(g + 1).arg(box.number), shown(reading.unit_v[g][at], 3),
                           code.empty() ? QString() : QString::fromStdString(code),
                           found_at(verdict, static_cast<int>(g) + 1, box.number)});
            break;
        }
        case BoxKind::item: {
            const auto& value = proof_.readings.item(box.item);
            const bool none = proof_.readings.not_there[static_cast<std::size_t>(box.item)];
            const bool bad = !verdict.findings.empty() && value.has_value() &&
                             std::any_of(verdict.findings.begin(), verdict.findings.end(),
                                         [&](const auto& f) { return f.value == *value; });
            out.push_back({wording::proof_item(box.item),
                           none    ? tr("none")
                           : value ? wording::proof_item_value(box.item, *value)
                                   : QString(),
                           wording::proof_item_unit(box.item), bad});
            break;
        }
        }
    }
    boxes_->set(std::move(out));
    boxes_->set_active(proof_.pack.id != 0 ? active_ : -1, typed);
    picture_->set(proof_, workshop_.library().practice.proof, group_);
}

void ProofView::next_box() {
    const auto all = boxes();
    // On from where the hand is, then what was left before it.
    for (std::size_t step = 1; step <= all.size(); ++step) {
        const std::size_t at = (static_cast<std::size_t>(std::max(active_, 0)) + step) % all.size();
        if (empty(all[at])) {
            active_ = static_cast<int>(at);
            return;
        }
    }
    if (const auto group = round_ == ProofRound::units ? unread_units() : std::nullopt) {
        group_ = *group;
        active_ = 1; // the amperes still flow
    }
}

// The first group with a unit that was not read.
std::optional<int> ProofView::unread_units() const {
    const auto& groups = proof_.readings.rounds[static_cast<std::size_t>(ProofRound::units)].unit_v;
    for (std::size_t g = 0; g < groups.size(); ++g)
        if (std::any_of(groups[g].begin(), groups[g].end(), [](const auto& v) { return !v; }))
            return static_cast<int>(g) + 1;
    return std::nullopt;
}

Result<Id> ProofView::record(const Box& box, double value, double digit) {
    auto& prove = workshop_.prove();
    const Id pack = proof_.pack.id;
    switch (box.kind) {
    case BoxKind::group:
        return prove.record(pack, round_, box.number, value, digit, under_current() ? load_a_ : std::nullopt);
    case BoxKind::unit:
        return prove.record(pack, round_, std::max(group_, 1), value, digit, load_a_, box.number);
    case BoxKind::item: {
        const double factor = wording::proof_item_factor(box.item);
        return prove.record_item(pack, box.item, value * factor, digit * factor);
    }
    case BoxKind::terminals:
    case BoxKind::load:
        break;
    }
    return prove.record(pack, round_, 0, value, digit, under_current() ? load_a_ : std::nullopt);
}

void ProofView::take_figure(const Box& box, double value, const QString& line) {
    if (box.kind == BoxKind::load) {
        if (!(value > 0)) {
            emit told(tr("The load draws more than nothing."), true);
            return;
        }
        load_a_ = value;
        next_box();
        look_again();
        return;
    }
    const auto kept = record(box, value, figures::last_digit(line));
    if (!kept) {
        emit told(wording::problem(kept.problem()), true);
        return;
    }
    emit acknowledged(QStringLiteral("pack %1 group %2 %3").arg(proof_.pack.id).arg(box.number).arg(value, 0, 'f', 4));
    went_on();
}

// The round goes on with what is not read yet.
void ProofView::went_on() {
    proof_ = workshop_.prove().proof(proof_.pack.id);
    next_box();
    look_again();
}

void ProofView::take_answer(ProofItem item, ProveService::Answer answer) {
    if (const auto done = workshop_.prove().answer(proof_.pack.id, item, answer); !done) {
        emit told(wording::problem(done.problem()), true);
        return;
    }
    emit acknowledged(QStringLiteral("pack %1 answered").arg(proof_.pack.id));
    went_on();
}

bool ProofView::take_line(const QString& line) {
    const auto all = boxes();
    if (all.empty())
        return false;
    if (line.isEmpty()) {
        active_ = (active_ + 1) % static_cast<int>(all.size());
        look_again();
        return true;
    }
    const Box box = all[static_cast<std::size_t>(std::clamp(active_, 0, static_cast<int>(all.size()) - 1))];
    const auto value = figures::typed(line);
    const auto answer = box.kind == BoxKind::item ? answer_in(box.item, line) : std::nullopt;
    if (!value && !answer)
        return false;
    if (!workshop_.writable()) {
        emit told(tr("This workshop is open for reading only."), true);
        return true;
    }
    if (answer)
        take_answer(box.item, *answer);
    else
        take_figure(box, *value, line);
    return true;
}

// The last figure of the round; where something was said after it, the last answer.
bool ProofView::strike_last() {
    if (proof_.pack.id == 0)
        return false;
    auto& prove = workshop_.prove();
    const Id last = proof_.last[static_cast<std::size_t>(round_)];
    std::optional<ProofItem> said;
    for (int i = 0; i < proof_item_count; ++i)
        if (const auto item = static_cast<ProofItem>(i);
            round_of(item) == round_ && ((is_yes_or_no(item) && proof_.readings.item(item)) ||
                                         proof_.readings.not_there[static_cast<std::size_t>(i)]))
            said = item;
    if (last == 0 && !said)
        return false;
    const auto done = last != 0 ? prove.strike(last, "typed wrong")
                                : prove.answer(proof_.pack.id, *said, ProveService::Answer::unknown);
    if (!done) {
        emit told(wording::problem(done.problem()), true);
        return true;
    }
    proof_ = prove.proof(proof_.pack.id);
    active_ = first_empty();
    look_again();
    emit told(last != 0 ? tr("The last reading of this round was struck out.")
                        : tr("The last answer of this round was taken back."),
              false);
    return true;
}

void ProofView::echo(const QString& typed) {
    if (proof_.pack.id != 0)
        show_boxes(typed);
}

bool ProofView::wants_volts() const {
    const auto all = boxes();
    if (all.empty() || active_ < 0 || active_ >= static_cast<int>(all.size()))
        return false;
    const Box& box = all[static_cast<std::size_t>(active_)];
    return box.kind == BoxKind::group || box.kind == BoxKind::terminals || box.kind == BoxKind::unit ||
           (box.kind == BoxKind::item && box.item == ProofItem::output);
}

QString ProofView::hint() const {
    const auto all = boxes();
    if (all.empty() || active_ < 0)
        return tr("a pack's label");
    const Box& box = all[static_cast<std::size_t>(std::clamp(active_, 0, static_cast<int>(all.size()) - 1))];
    switch (box.kind) {
    case BoxKind::load:
        return tr("amperes of the load");
    case BoxKind::group:
        return tr("volts of group %1").arg(box.number);
    case BoxKind::terminals:
        return tr("volts at the terminals");
    case BoxKind::unit:
        return tr("volts of unit %1 of group %2").arg(box.number).arg(std::max(group_, 1));
    case BoxKind::item:
        break;
    }
    const QString asked = tr("%1, %2").arg(wording::proof_item(box.item), wording::proof_item_unit(box.item));
    return may_be_missing(box.item) ? tr("%1; - has none").arg(asked) : asked;
}

QString ProofView::what_to_mend() const {
    if (proof_.pack.id == 0)
        return {};
    for (const RoundVerdict& verdict : proof_.proof.rounds)
        for (const ProofFinding& f : verdict.findings) {
            if (f.group == 0)
                continue;
            const GroupCauses* causes = proof_.causes_of(f.group);
            const bool told = causes != nullptr && !causes->explanations.empty(); // by its limits it is out of line
            const int place = f.place > 0 ? f.place : told ? causes->explanations.front().place : 0;
            QString where = tr("group %1").arg(f.group);
            if (place > 0)
                where += tr(", unit %1")
                             .arg(QString::fromStdString(proof_.unit_code[static_cast<std::size_t>(f.group) - 1]
                                                                         [static_cast<std::size_t>(place) - 1]));
            return told ? tr("%1: %2").arg(where, wording::proof_cause(causes->explanations.front().cause).toLower())
                        : where;
        }
    return {};
}

int ProofView::spoken_group() const {
    const auto& findings = proof_.proof.rounds[static_cast<std::size_t>(round_)].findings;
    const auto is_out = [](int group) { return [group](const ProofFinding& f) { return f.group == group; }; };
    if (group_ > 0 && (findings.empty() || std::any_of(findings.begin(), findings.end(), is_out(group_))))
        return group_;
    const auto first =
        std::find_if(findings.begin(), findings.end(), [](const ProofFinding& f) { return f.group > 0; });
    return first != findings.end() ? first->group : group_;
}

void ProofView::say_causes(int group, EvidenceContent& content) const {
    const GroupCauses* causes = group > 0 ? proof_.causes_of(group) : nullptr;
    constexpr double worth_saying = 0.25;
    if (causes == nullptr || causes->sound > 1 - worth_saying)
        return;
    constexpr double least = 0.04;
    for (const ProofExplanation& e : causes->explanations) {
        if (e.probability < least)
            break;
        const std::string unit =
            e.place > 0 ? proof_.unit_code[static_cast<std::size_t>(group) - 1][static_cast<std::size_t>(e.place) - 1]
                        : std::string();
        content.explanations.push_back(
            {wording::proof_cause(e.cause), e.probability, wording::proof_cause_reason(e, unit)});
    }
    if (causes->sound >= least)
        content.explanations.push_back({tr("Nothing is wrong with it"), causes->sound, {}});
    std::stable_sort(content.explanations.begin(), content.explanations.end(),
                     [](const auto& a, const auto& b) { return a.probability > b.probability; });
    if (causes->settle_by)
        content.tell_apart = wording::proof_check(*causes->settle_by, causes->minutes);
}

void ProofView::say_findings(const RoundVerdict& verdict, EvidenceContent& content) const {
    for (const ProofFinding& finding : verdict.findings) {
        content.ways.push_back(
            {finding.group > 0      ? tr("Group %1").arg(finding.group)
             : reads_groups(round_) ? tr("Terminals")
                                    : wording::proof_round(round_),
             wording::proof_finding(finding) + QStringLiteral(" ") + wording::proof_way_back(finding.sign), true});
        if (finding.sign == ProofSign::reversed || finding.sign == ProofSign::insulation) {
            content.hazard_title = tr("Never charge it like this");
            content.hazard_line = wording::proof_finding(finding);
        } else if (finding.sign == ProofSign::over_charged) {
            content.hazard_title = tr("Stop the charge now");
            content.hazard_line = wording::proof_finding(finding);
        }
    }
}

EvidenceContent ProofView::evidence() const {
    EvidenceContent content;
    if (proof_.pack.id == 0)
        return content;
    const RoundVerdict& verdict = proof_.proof.rounds[static_cast<std::size_t>(round_)];
    content.subject = tr("%1, %2").arg(QString::fromStdString(proof_.pack.label), wording::proof_round(round_));
    const int group = spoken_group();
    if (group > 0)
        content.subject += tr(", group %1").arg(group);
    if (proof_.proof.passed)
        content.verdict = proof_.pack.state == AssemblyState::joined ? tr("Every round passed") : tr("Proved");
    else
        content.verdict = verdict.state == ProofState::failed     ? tr("Does not pass")
                          : verdict.state == ProofState::passed   ? tr("This round passed")
                          : verdict.state == ProofState::left_out ? tr("Left out")
                          : !holds_up(verdict.state)              ? tr("Not asked for")
                                                                  : tr("Open");
    if (!proof_.signed_by.empty())
        content.line =
            tr("signed by %1 on %2")
                .arg(QString::fromStdString(proof_.signed_by), QString::fromStdString(proof_.signed_at).left(10));
    if (verdict.state == ProofState::left_out)
        content.line = QString::fromStdString(proof_.readings.left_out[static_cast<std::size_t>(round_)]);
    if (verdict.spread_v)
        content.notes << tr("<b>%1</b> a cell between the highest and the lowest group: %2.")
                             .arg(figures::millivolts_signed(*verdict.spread_v).remove(QLatin1Char('+')),
                                  wording::spread_grade(*verdict.grade));
    if (round_ == ProofRound::under_load && verdict.state != ProofState::open)
        content.notes << (verdict.predicted
                              ? tr("Held against the resistances of its units and against each other.")
                              : tr("Held against each other: the resistances of its units are not all known."));
    if (const auto g = static_cast<std::size_t>(std::max(group, 1)) - 1; round_ == ProofRound::under_load &&
                                                                         group > 0 && g < verdict.sag_v.size() &&
                                                                         verdict.sag_v[g] && verdict.simulated_v[g])
        content.notes << tr("Group %1 sags <b>%2</b>, simulated %3.")
                             .arg(group)
                             .arg(figures::millivolts_signed(*verdict.sag_v[g]).remove(QLatin1Char('+')),
                                  figures::millivolts_signed(*verdict.simulated_v[g]).remove(QLatin1Char('+')));
    if (round_ == ProofRound::run && proof_.readings.promised_ah)
        content.notes << tr("Its units promise %1, of the weakest group.")
                             .arg(figures::pack_capacity(*proof_.readings.promised_ah));
    if (round_ == ProofRound::run && proof_.readings.promised_run_s)
        content.notes
            << tr("Simulated: %1 under the load of its design.").arg(figures::seconds(*proof_.readings.promised_run_s));
    if (verdict.state == ProofState::too_early)
        content.notes << (round_ == ProofRound::device
                              ? tr("Too early: some devices sleep for hours before they believe a pack.")
                              : tr("Too early: let it lie for a day at least, better several."));
    say_findings(verdict, content);
    say_causes(group, content);
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

} // namespace ingot::app
