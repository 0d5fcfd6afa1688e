// What stands beside a practice deal: before it is answered, and after.
#include "app/rooms/practice_page.h"

#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/practice_wording.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <QComboBox>
#include <QSpinBox>

#include <algorithm>

namespace ingot::app {

// Once it is answered: how sure Ingot would be of each true cause with that card beside what was taken.
QString PracticePage::worth_of(PracticeMeasure measure) const {
    if (!judged_)
        return {};
    for (const PracticeJudged::CardWorth& card : judged_->cards)
        if (card.taken.measure == measure) {
            QStringList sure;
            for (const double p : card.sure_of)
                sure << figures::percent(p, 0);
            return sure.join(QStringLiteral(", "));
        }
    return {};
}

EvidenceContent PracticePage::evidence() const {
    return answered() ? after() : before();
}

EvidenceContent PracticePage::before() const {
    EvidenceContent content;
    content.subject = tr("Practice %1").arg(number());
    content.verdict = tr("What do you say?");
    content.line = job_->busy() ? tr("Ingot goes its own way through the same deal …")
                   : bench_.kind() == PracticeCase::what_is_wrong
                       ? tr("Measure as little as you need, then answer. \"Nothing wrong\" is an answer, too.")
                   : bench_.kind() == PracticeCase::which_match
                       ? tr("Measure what could change your mind and no more, then answer.")
                       : tr("Wait as long as you need and no longer, then answer.");
    const auto worth = [&](double sure, double whole) {
        return tr("%1 % sure: right %2, wrong %3 of %4")
            .arg(figures::plain(sure * 100, 0), figures::plain(sure_points(true, sure, whole), 0),
                 figures::plain(sure_points(false, sure, whole), 0), figures::plain(whole, 0));
    };
    if (bench_.kind() == PracticeCase::what_is_wrong) {
        const auto said = answers();
        for (const PracticeAnswer& answer : said)
            content.notes << wording::hidden_fault({answer.fault, answer.group}) + QStringLiteral("; ") +
                                 worth(answer.sure, most_for_right / static_cast<double>(said.size()));
    } else {
        content.notes << worth(rows_[0].sure->value() / 100.0, most_for_right);
    }
    content.notes << tr("Scored out of 100: 60 for being right and saying honestly how sure, 20 for minutes against "
                        "Ingot's, 20 for safety: -5 for a needless risk, all of it for load or charge on a group under "
                        "its floor.");
    content.notes << tr("Practice is made up. On the bench the cautions of each step come first.");
    return content;
}

QString PracticePage::truth() const {
    switch (bench_.kind()) {
    case PracticeCase::what_is_wrong: {
        QStringList causes;
        for (const HiddenFault& hidden : bench_.pack().truth())
            causes << wording::hidden_fault(hidden);
        return causes.isEmpty() ? tr("nothing was wrong with it") : causes.join(QStringLiteral("; "));
    }
    case PracticeCase::leaking:
        return bench_.leak().leaks() ? tr("it leaks") : tr("it is fit");
    case PracticeCase::cycling:
        return bench_.cycling().reaches() ? tr("it reaches the limit") : tr("it never reaches the limit");
    case PracticeCase::which_match: {
        const int best = bench_.match().best();
        return tr("set %1, with %2")
            .arg(QChar(u'A' + best))
            .arg(figures::pack_capacity(bench_.match().gives_ah()[static_cast<std::size_t>(best)]));
    }
    }
    return {};
}

EvidenceContent PracticePage::after() const {
    EvidenceContent content;
    content.subject = tr("Practice %1").arg(number());
    content.verdict = tr("%1 of 100").arg(figures::plain(score_->total(), 0));
    content.line = tr("It was: %1.").arg(truth());
    content.notes << tr("Right %1 of 60, minutes %2 of 20, safety %3 of 20.")
                         .arg(figures::plain(score_->right, 0), figures::plain(score_->minutes, 0),
                              figures::plain(score_->safety, 0));
    if (bench_.kind() == PracticeCase::which_match) {
        const int said = verdict_->currentIndex();
        if (bench_.match().holds_a_leaker(said))
            content.notes << tr("Set %1 holds a unit that leaks: on the shelf its group goes down ahead of the others.")
                                 .arg(QChar(u'A' + said));
        content.notes << tr("What had to be known costs %1 min.").arg(figures::plain(bench_.match().needed_min(), 0));
    }
    if (judged_) {
        for (const SafetyFinding& finding : judged_->safety)
            content.notes << (finding.forbidden ? tr("%1: a group was under its floor; no load and no charge then.")
                                                      .arg(wording::practice_measure(finding.taken.measure))
                                                : tr("%1: a risk that could tell nothing new.")
                                                      .arg(wording::practice_measure(finding.taken.measure)));
        content.notes << tr("Ingot's own way, %1 min, and how sure it was of what it was:")
                             .arg(figures::plain(judged_->path.hands_min, 0));
        for (const EngineStep& step : judged_->path.steps)
            content.notes << wording::engine_step(step);
        const auto& best = judged_->path.at_the_end.explanations;
        constexpr std::size_t most_shown = 3;
        for (std::size_t i = 0; i < std::min(most_shown, best.size()); ++i)
            content.explanations.push_back(
                {wording::fault(best[i].fault) +
                     (best[i].groups.empty() ? QString() : QStringLiteral(", ") + wording::groups(best[i].groups)),
                 best[i].probability,
                 {}});
    }
    return content;
}

} // namespace ingot::app
