#include "core/practice/score.h"

#include <algorithm>

namespace ingot {

namespace {

constexpr double sure_enough = 0.9;

std::optional<TakenMeasure> measure_for(const NextReading& next) {
    const int group = next.groups.empty() ? 0 : next.groups.front();
    switch (next.kind) {
    case ReadingKind::rest:
    case ReadingKind::repeat:
        return TakenMeasure{PracticeMeasure::rest_round, 0};
    case ReadingKind::load:
        return TakenMeasure{PracticeMeasure::load_round, 0};
    case ReadingKind::end_of_charge:
        return TakenMeasure{PracticeMeasure::end_of_charge, 0};
    case ReadingKind::stored:
        return TakenMeasure{PracticeMeasure::after_storage, 0};
    case ReadingKind::terminal:
        return TakenMeasure{PracticeMeasure::terminals, 0};
    case ReadingKind::unit_voltages:
        return group > 0 ? std::optional(TakenMeasure{PracticeMeasure::unit_voltages, group}) : std::nullopt;
    case ReadingKind::lead_swap:
        return group > 0 ? std::optional(TakenMeasure{PracticeMeasure::swap_lead, group}) : std::nullopt;
    }
    return std::nullopt;
}

bool was_taken(const std::vector<TakenMeasure>& taken, const TakenMeasure& one) {
    return std::any_of(taken.begin(), taken.end(), [&](const TakenMeasure& t) {
        return t.measure == one.measure && (!about_one_group(t.measure) || t.group == one.group);
    });
}

TriageCase known_after(const PackDeal& deal, const std::vector<TakenMeasure>& taken) {
    TriageCase known;
    known.layout = deal.layout();
    known.capacity_ah = deal.capacity_ah();
    for (const TakenMeasure& t : taken)
        deal.take(t.measure, t.group, known);
    return known;
}

std::vector<TakenMeasure> given_of(const PackDeal& deal) {
    std::vector<TakenMeasure> out;
    for (const PracticeMeasure measure : deal.given())
        out.push_back({measure, 0});
    return out;
}

} // namespace

double sure_points(bool right, double sure, double whole) {
    const double off = right ? 1 - sure : sure;
    return whole * (1 - 2 * off * off);
}

double right_points(const std::vector<PracticeAnswer>& answers, const std::vector<HiddenFault>& truth) {
    const std::vector<HiddenFault> causes = truth.empty() ? std::vector<HiddenFault>{{Fault::healthy, 0}} : truth;
    std::vector<bool> named(causes.size(), false);
    double sum = 0;
    std::size_t parts = 0;
    for (const PracticeAnswer& answer : answers) {
        bool right = false;
        for (std::size_t c = 0; c < causes.size(); ++c)
            if (!named[c] && causes[c].fault == answer.fault && causes[c].group == answer.group) {
                named[c] = right = true;
                break;
            }
        sum += sure_points(right, answer.sure, 1);
        ++parts;
    }
    for (const bool one : named)
        if (!one) {
            sum += sure_points(true, 0, 1);
            ++parts;
        }
    return std::max(0.0, most_for_right * sum / static_cast<double>(parts));
}

double minutes_points(double own_min, double engine_min) {
    return own_min <= engine_min ? most_for_minutes : most_for_minutes * engine_min / own_min;
}

std::vector<double> sure_of_truth(const Explained& explained, const std::vector<HiddenFault>& truth) {
    const std::vector<HiddenFault> causes = truth.empty() ? std::vector<HiddenFault>{{Fault::healthy, 0}} : truth;
    std::vector<double> out(causes.size(), 0);
    for (std::size_t c = 0; c < causes.size(); ++c)
        for (const Explanation& e : explained.explanations) {
            const bool here = causes[c].group == 0
                                  ? e.groups.empty()
                                  : std::find(e.groups.begin(), e.groups.end(), causes[c].group) != e.groups.end();
            const bool beside = std::any_of(e.with.begin(), e.with.end(), [&](const auto& other) {
                const auto& [fault, groups] = other;
                return fault == causes[c].fault &&
                       std::find(groups.begin(), groups.end(), causes[c].group) != groups.end();
            });
            if ((e.fault == causes[c].fault && here) || beside)
                out[c] = std::max(out[c], e.probability);
        }
    return out;
}

std::vector<double> sure_with(const PackDeal& deal, const std::vector<TakenMeasure>& taken, const TakenMeasure& more,
                              const Chemistry& chemistry, const TriageKnowledge& knowledge) {
    std::vector<TakenMeasure> all = given_of(deal);
    for (const TakenMeasure& t : taken)
        if (!was_taken(all, t))
            all.push_back(t);
    if (!was_taken(all, more))
        all.push_back(more);
    return sure_of_truth(explain(known_after(deal, all), chemistry, knowledge), deal.truth());
}

EnginePath engine_path(const PackDeal& deal, const Chemistry& chemistry, const TriageKnowledge& knowledge,
                       const std::function<bool()>& going) {
    EnginePath out;
    std::vector<TakenMeasure> taken = given_of(deal);
    for (const PracticeMeasure first : {PracticeMeasure::rest_round, PracticeMeasure::terminals})
        if (!was_taken(taken, {first, 0})) {
            taken.push_back({first, 0});
            out.steps.push_back({taken.back(), {}});
            out.hands_min += cost_of(first, deal.layout()).hands_min;
        }
    constexpr std::size_t most_steps = 7;
    for (;;) {
        out.at_the_end = explain(known_after(deal, taken), chemistry, knowledge);
        if (!out.steps.empty())
            out.steps.back().sure_of = sure_of_truth(out.at_the_end, deal.truth());
        const bool sure =
            !out.at_the_end.explanations.empty() && out.at_the_end.explanations.front().probability >= sure_enough;
        if (sure || !out.at_the_end.settle_by || out.steps.size() >= most_steps || (going && !going()))
            break;
        const auto next = measure_for(*out.at_the_end.settle_by);
        const bool harms =
            next && deal.under_floor() &&
            (next->measure == PracticeMeasure::load_round || next->measure == PracticeMeasure::end_of_charge);
        if (!next || harms || was_taken(taken, *next))
            break;
        taken.push_back(*next);
        out.steps.push_back({*next, {}});
        out.hands_min += cost_of(next->measure, deal.layout()).hands_min;
    }
    return out;
}

std::vector<SafetyFinding> safety_findings(const PackDeal& deal, const std::vector<TakenMeasure>& taken,
                                           const Chemistry& chemistry, const TriageKnowledge& knowledge) {
    std::vector<SafetyFinding> out;
    std::vector<TakenMeasure> before = given_of(deal);
    for (const TakenMeasure& t : taken) {
        const bool moves_charge =
            t.measure == PracticeMeasure::load_round || t.measure == PracticeMeasure::end_of_charge;
        if (moves_charge && deal.under_floor())
            out.push_back({t, true});
        else if (cost_of(t.measure, deal.layout()).risk > 0 && !before.empty()) {
            const Explained known = explain(known_after(deal, before), chemistry, knowledge);
            double measuring_side = 0;
            for (const Explanation& e : known.explanations)
                measuring_side += e.fault == Fault::sense_fault ? e.probability : 0;
            constexpr double decided = 0.97;
            constexpr double ruled_out = 0.02;
            const bool sure = !known.explanations.empty() && known.explanations.front().probability >= decided;
            if (sure || (t.measure == PracticeMeasure::swap_lead && measuring_side < ruled_out))
                out.push_back({t, false});
        }
        before.push_back(t);
    }
    return out;
}

double safety_points(const std::vector<SafetyFinding>& findings) {
    constexpr double needless_costs = 5;
    double left = most_for_safety;
    for (const SafetyFinding& finding : findings)
        left -= finding.forbidden ? most_for_safety : needless_costs;
    return std::max(0.0, left);
}

} // namespace ingot
