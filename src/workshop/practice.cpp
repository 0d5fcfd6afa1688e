#include "workshop/practice.h"

#include <algorithm>
#include <utility>

namespace ingot {

namespace {

// Hands, for a reading of eight cells and for one cycle of a module; common practice, no source.
constexpr double eight_readings_min = 4;
constexpr double one_cycle_min = 2;
constexpr int cycles_at_first = 2;
constexpr int cycles_kept_back = 2; // so that how it went on can be shown
constexpr int steps_enough = 4;     // of readings or cycles: what a practised person needs
constexpr double practice_day_h = 24;

} // namespace

const char* code(PracticeCase kind) {
    switch (kind) {
    case PracticeCase::what_is_wrong:
        return "what-is-wrong";
    case PracticeCase::leaking:
        return "leaking";
    case PracticeCase::cycling:
        return "cycling";
    case PracticeCase::which_match:
        return "which-match";
    }
    return "";
}

PracticeJudged judge_practice(const PracticeQuestion& q, const std::function<bool()>& going) {
    PracticeJudged out;
    out.path = engine_path(q.deal, q.chemistry, q.knowledge, going);
    out.safety = safety_findings(q.deal, q.taken, q.chemistry, q.knowledge);
    out.score = {right_points(q.answers, q.deal.truth()), minutes_points(q.spent_min, out.path.hands_min),
                 safety_points(out.safety)};
    const int asked = q.deal.truth().empty() ? 1 : std::max(1, q.deal.truth().front().group);
    for (int m = 0; m < practice_measure_count && going(); ++m) {
        const auto measure = static_cast<PracticeMeasure>(m);
        if (measure == PracticeMeasure::look_inside)
            continue;
        PracticeJudged::CardWorth worth;
        worth.taken = {measure, about_one_group(measure) ? asked : 0};
        worth.sure_of = sure_with(q.deal, q.taken, worth.taken, q.chemistry, q.knowledge);
        out.cards.push_back(std::move(worth));
    }
    return out;
}

void PracticeBench::deal(PracticeCase kind, int level, int seed) {
    pack_ = PackDeal(level, seed);
    leak_ = LeakDeal(level, seed);
    cycling_ = CyclingDeal(level, seed);
    match_ = MatchDeal(level, seed);
    kind_ = kind;
    begin();
}

void PracticeBench::deal(const OwnDeal& own) {
    pack_ = PackDeal(own);
    kind_ = PracticeCase::what_is_wrong;
    begin();
}

void PracticeBench::begin() {
    taken_.clear();
    measured_ = {};
    known_ = {};
    known_.layout = pack_.layout();
    known_.capacity_ah = pack_.capacity_ah();
    for (const PracticeMeasure measure : pack_.given())
        pack_.take(measure, 0, known_);
    days_ = {0};
    cycles_ = cycles_at_first;
}

bool PracticeBench::was_taken(PracticeMeasure measure, int group) const {
    const auto given = pack_.given();
    return std::find(given.begin(), given.end(), measure) != given.end() ||
           std::any_of(taken_.begin(), taken_.end(), [&](const TakenMeasure& t) {
               return t.measure == measure && (!about_one_group(measure) || t.group == group);
           });
}

bool PracticeBench::take(PracticeMeasure measure, int group) {
    if (was_taken(measure, group))
        return false;
    pack_.take(measure, group, known_);
    taken_.push_back({measure, about_one_group(measure) ? group : 0});
    return true;
}

std::optional<double> PracticeBench::volts(int group, Condition condition) const {
    for (auto r = known_.readings.rbegin(); r != known_.readings.rend(); ++r)
        if (r->group == group && r->condition == condition)
            return r->voltage_v;
    return std::nullopt;
}

TriageResult PracticeBench::standing(const Chemistry& chemistry) const {
    GroupVoltages voltages;
    for (int g = 1; g <= pack_.layout().series; ++g)
        voltages.rest_v.push_back(volts(g, Condition::rest));
    voltages.terminal_v = known_.terminal_v;
    return triage_groups(voltages, chemistry);
}

void PracticeBench::wait(int days) {
    const int day = std::min(LeakDeal::days_most(), days_.back() + days);
    if (day > days_.back())
        days_.push_back(day);
}

std::vector<RestingLine> PracticeBench::courses(const Chemistry& chemistry, bool told) const {
    std::vector<RestingUnit> units;
    for (int u = 0; u < leak_.siblings(); ++u) {
        RestingUnit unit;
        unit.id = std::to_string(u + 1);
        for (const int day : days_)
            unit.readings.push_back({day * practice_day_h, leak_.read(u, day)});
        units.push_back(std::move(unit));
    }
    const auto judged = judge_leaks(units, chemistry, {leak_.limit_v_per_day(), leak_.resolution_v()});
    std::vector<RestingLine> out;
    for (std::size_t u = 0; u < judged.size(); ++u) {
        RestingLine line;
        line.unit = static_cast<Id>(u) + 1;
        line.readings = days_.size();
        line.limit_v_per_day = leak_.limit_v_per_day();
        if (told)
            line.leak = judged[u];
        else
            line.leak.own = judged[u].own;
        out.push_back(std::move(line));
    }
    return out;
}

void PracticeBench::cycle(int more) {
    cycles_ = std::min(CyclingDeal::cycles_most() - cycles_kept_back, cycles_ + more);
}

bool PracticeBench::measure(MatchMeasure measure) {
    return !std::exchange(measured_[static_cast<std::size_t>(measure)], true);
}

double PracticeBench::spent_min() const {
    if (kind_ == PracticeCase::which_match) {
        double sum = 0;
        for (int m = 0; m < match_measure_count; ++m)
            if (measured_[static_cast<std::size_t>(m)])
                sum += match_.cost(static_cast<MatchMeasure>(m)).hands_min;
        return sum;
    }
    if (kind_ == PracticeCase::leaking)
        return eight_readings_min * static_cast<double>(days_.size() - 1);
    if (kind_ == PracticeCase::cycling)
        return one_cycle_min * (cycles_ - cycles_at_first);
    double sum = 0;
    for (const TakenMeasure& t : taken_)
        sum += cost_of(t.measure, pack_.layout()).hands_min;
    return sum;
}

int PracticeBench::risk() const {
    int sum = 0;
    for (const TakenMeasure& t : taken_)
        sum += cost_of(t.measure, pack_.layout()).risk;
    return sum;
}

PracticeScore PracticeBench::judge(int choice, double sure) const {
    if (kind_ == PracticeCase::which_match) {
        PracticeScore score;
        score.right = std::max(0.0, sure_points(choice == match_.best(), sure, most_for_right));
        score.minutes = minutes_points(spent_min(), match_.needed_min());
        score.safety = match_.holds_a_leaker(choice) && !match_.holds_a_leaker(match_.best()) ? 0 : most_for_safety;
        return score;
    }
    const bool said = choice == 0;
    const bool leaking = kind_ == PracticeCase::leaking;
    const bool truth = leaking ? leak_.leaks() : cycling_.reaches();
    PracticeScore score;
    score.right = std::max(0.0, sure_points(said == truth, sure, most_for_right));
    score.minutes = minutes_points(spent_min(), steps_enough * (leaking ? eight_readings_min : one_cycle_min));
    // A leaker that is let through hurts somebody later.
    score.safety = leaking && truth && !said ? 0 : most_for_safety;
    return score;
}

} // namespace ingot
