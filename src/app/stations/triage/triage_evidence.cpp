// What Evidence says of a pack at Triage: the selected group, what explains the readings, the ways.
#include "app/parts/voltage_ladder.h"
#include "app/stations/triage/triage_station.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/triage_wording.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>

namespace ingot::app {

EvidenceContent TriageStation::evidence() const {
    EvidenceContent content;
    content.caution = "triage";
    const Assembly* pack = workshop().pack(pack_);
    if (pack == nullptr)
        return content;
    const Chemistry* chemistry = workshop().library().chemistry(pack->chemistry);
    const TriageResult triage = workshop().triage().result(pack_);
    const int group = ladder_->selected();
    content.subject = QString::fromStdString(pack->label) + (group > 0 ? tr(", group %1").arg(group) : QString());
    content.line = wording::triage_summary(triage);
    if (const auto verdict = workshop().triage().group_verdict(pack_, group)) {
        add_group(content, *verdict);
    } else if (const auto& empty = workshop().triage().groups_taken_out(pack_);
               group > 0 && std::find(empty.begin(), empty.end(), group) != empty.end()) {
        content.verdict = tr("Taken out");
        content.line = tr("Nothing stands in this place. A donor's group or new units go there.");
    } else {
        content.verdict = triage.summary == PackTriage::healthy ? tr("In order") : QString();
    }
    add_explanations(content);
    if (!triage.load_round_allowed)
        content.notes << tr("No load round while a group is under its floor of %1 a cell.")
                             .arg(figures::volts(chemistry->floor_v, 2));
    if (triage.difference_v && !triage.sum_agrees)
        content.notes << tr("Sum and terminals differ by %1: a lead, a joint or a reading is wrong.")
                             .arg(figures::volts(*triage.difference_v));
    content.decided_by = tr("bands of %1, v%2").arg(QString::fromStdString(chemistry->name)).arg(chemistry->version);
    return content;
}

void TriageStation::add_group(EvidenceContent& content, const GroupVerdict& group) const {
    content.mark = group.mark;
    content.verdict = group.mark == Duty::quarantine       ? tr("Quarantine")
                      : group.outlier                      ? tr("Stands out")
                      : group.state == GroupState::working ? tr("Working")
                                                           : wording::state(group.state);
    content.reasons.push_back(group.evidence);
    if (group.from_median_v)
        content.notes << tr("%1 from the middle of the other groups.")
                             .arg(std::fabs(*group.from_median_v) < 0.1
                                      ? figures::millivolts_signed(*group.from_median_v)
                                      : figures::volts(*group.from_median_v));
    if (group.capacity_ah)
        content.notes << tr("Gave %1 on its own.").arg(figures::pack_capacity(*group.capacity_ah));
    if (group.ohm)
        content.notes << tr("Resistance %1.").arg(figures::milliohms(*group.ohm));
    if (group.never_charge) {
        const Chemistry* chemistry = workshop().library().chemistry(workshop().pack(pack_)->chemistry);
        content.notes << tr("Do not charge this pack: under %1 a cell, copper may have dissolved and plated.")
                             .arg(figures::volts(chemistry->bands.deep_below_v, 1));
    }
}

// One line for each kind of fault: its likeliest groups lead, the other sets stand below (N22).
std::vector<ExplanationBar> TriageStation::bars_of(const Explained& explained, const TriageCase& known) {
    struct Kind {
        const Explanation* best;
        double probability = 0;
        std::vector<const Explanation*> others;
    };
    std::vector<Kind> kinds;
    for (const Explanation& e : explained.explanations) {
        const auto same = std::find_if(kinds.begin(), kinds.end(), [&](const Kind& kind) {
            return kind.best->fault == e.fault && kind.best->misread.has_value() == e.misread.has_value();
        });
        if (same == kinds.end()) {
            kinds.push_back({&e, e.probability, {}});
            continue;
        }
        same->probability += e.probability;
        same->others.push_back(&e);
    }
    std::stable_sort(kinds.begin(), kinds.end(),
                     [](const Kind& a, const Kind& b) { return a.probability > b.probability; });
    constexpr std::size_t most_bars = 4;
    constexpr std::size_t most_others = 3;
    constexpr double least = 0.02;
    std::vector<ExplanationBar> bars;
    for (const Kind& kind : kinds) {
        if (bars.size() == most_bars || kind.probability < least)
            break;
        const Explanation& e = *kind.best;
        const QString where = e.groups.empty() ? QString() : tr(", %1").arg(wording::groups(e.groups));
        QString below = wording::reason(e, known);
        for (const auto& [fault, groups] : e.with)
            below += groups.empty()
                         ? tr(" Beside it: %1.").arg(wording::fault(fault).toLower())
                         : tr(" Beside it: %1, %2.").arg(wording::fault(fault).toLower(), wording::groups(groups));
        QStringList others;
        for (const Explanation* other : kind.others)
            if (other->probability >= least && others.size() < static_cast<int>(most_others) && !other->groups.empty())
                others << wording::groups(other->groups);
        if (!others.isEmpty())
            below += tr(" Or %1.").arg(others.join(tr(", or ")));
        bars.push_back({wording::fault(e.fault) + where, kind.probability, below});
    }
    return bars;
}

void TriageStation::add_explanations(EvidenceContent& content) const {
    const TriageCase known = workshop().triage().triage_case(pack_);
    if (const Assembly* pack = workshop().pack(pack_)) {
        if (const auto kin = workshop().triage().outcomes_of_kind(*pack); !kin.empty())
            content.notes << tr("The chances begin with what %n packs of this kind turned out to be.", nullptr,
                                static_cast<int>(kin.size()));
        if (const auto alike = workshop().triage().outcomes_like(*pack); !alike.empty())
            content.notes << tr("Half as much with what %n others of the shop like it had.", nullptr,
                                static_cast<int>(alike.size()));
    }
    add_particulars(content, pack_);
    const bool said = !known.readings.empty() || !known.symptoms.empty();
    if (said && !explained_or_begun(known)) {
        content.notes << tr("Weighing the readings …");
    } else if (said) {
        const Explained& explained = workshop().triage().explained(pack_);
        content.explanations = bars_of(explained, known);
        // From one kind of reading the figures were wrong by more than 0.08 in unlike shops (docs/methods/triage.md).
        const bool one_kind = std::all_of(known.readings.begin(), known.readings.end(), [&](const GroupReading& r) {
            return r.condition == known.readings.front().condition;
        });
        if (explained.something_else > 0.05)
            content.explanations.push_back(
                {tr("Something else"), explained.something_else, tr("A fault without a name.")});
        if (one_kind)
            for (ExplanationBar& bar : content.explanations)
                bar.said = wording::chance(bar.probability);
        if (explained.settle_by)
            content.tell_apart = wording::next_reading(*explained.settle_by);
        constexpr std::size_t most_ways = 4;
        for (const Way& way : workshop().triage().ways(pack_))
            if (content.ways.size() < most_ways)
                content.ways.push_back({tr("%1, %2").arg(wording::way_forward(way.way), wording::groups(way.groups)),
                                        wording::way_reason(way), way.advised});
    }
}

// Small cases at once; what takes longer than a person notices is weighed beside the window.
bool TriageStation::explained_or_begun(const TriageCase& known) const {
    constexpr std::size_t at_once = 8; // readings: some 20 ms
    if (workshop().triage().explained_at_hand(pack_) || known.readings.size() <= at_once)
        return true;
    if (weighing_->busy()) // one at a time; the window asks again when it is done
        return false;
    auto* self = const_cast<TriageStation*>(this);
    self->workshop().triage().explain_beside(*weighing_, pack_, [self] { emit self->evidence_changed(); });
    return false;
}

} // namespace ingot::app
