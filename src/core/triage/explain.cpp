#include "core/triage/explain.h"

#include "core/triage/posterior.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace ingot {

using namespace triage_detail;

namespace {

constexpr std::array<const char*, fault_count> fault_codes{
    "healthy",           "dead-group",    "leaking-cell",   "weak-group",
    "imbalance",         "latched-board", "sense-fault",    "high-resistance-joint",
    "disconnected-cell", "reversed-unit", "all-discharged", "elsewhere"};
constexpr std::array<const char*, 8> reading_codes{"rest",     "load",          "end-of-charge", "stored",
                                                   "terminal", "unit-voltages", "lead-swap",     "repeat"};
constexpr std::array<const char*, 12> way_codes{"swap-unit",       "refill",        "donor",      "rebalance",
                                                "recover-slowly",  "replace-board", "check-lead", "remake-joint",
                                                "break-for-units", "check-meter",   "top-up",     "none"};
constexpr double least_shown = 0.005;

// The part that explains most leads; a board that latched follows what made it.
std::size_t leading(const Hypothesis& h, Posterior& posterior) {
    std::size_t lead = 0;
    double best = -1e300;
    auto& context = posterior.context(h.faulted());
    for (std::size_t i = 0; i < h.parts.size(); ++i) {
        const double gain = h.parts[i].groups.empty() ? -1e200 : posterior.gain(h.parts[i], context);
        if (gain > best) {
            best = gain;
            lead = i;
        }
    }
    return lead;
}

std::vector<int> one_based(std::vector<int> groups) {
    for (int& g : groups)
        ++g;
    std::sort(groups.begin(), groups.end());
    return groups;
}

// Amount and expected shifts of a part, averaged over its severities.
void describe(Explanation& out, const Part& part, const Hypothesis& h, Posterior& posterior) {
    if (part.groups.empty())
        return;
    const Context& context = posterior.context(h.faulted());
    const auto weighed = posterior.weigh(part, context);
    const double total = log_sum(weighed.logs);
    double amount = 0;
    std::vector<double> mean(weighed.x.size(), 0.0);
    for (std::size_t i = 0; i < weighed.logs.size(); ++i) {
        const double w = std::exp(weighed.logs[i] - total);
        amount += w * weighed.severities[i].amount;
        for (std::size_t k = 0; k < mean.size(); ++k)
            mean[k] += w * weighed.severities[i].mean[k];
    }
    std::size_t at = 0;
    const auto& rounds = posterior.rounds();
    for (const int g : part.groups)
        for (std::size_t r = 0; r < rounds.size(); ++r) {
            if (!rounds[r].volts[static_cast<std::size_t>(g)])
                continue;
            out.shifts.push_back({g + 1, rounds[r].condition, rounds[r].days, weighed.x[at], mean[at],
                                  context.predictor().reference(r)});
            if (rounds[r].condition == Condition::load)
                out.current_a = rounds[r].current_a;
            ++at;
        }
    if (part.whole_pack_spread || at == 0)
        return;
    if (part.fault == Fault::high_resistance_joint && out.current_a && *out.current_a != 0)
        amount /= std::fabs(*out.current_a);
    if (part.fault != Fault::dead_group && part.fault != Fault::reversed_unit)
        out.amount = amount;
}

} // namespace

const char* code(Fault fault) {
    return fault_codes[static_cast<std::size_t>(fault)];
}
std::optional<Fault> fault_from(const std::string& code) {
    for (std::size_t i = 0; i < fault_codes.size(); ++i)
        if (code == fault_codes[i])
            return static_cast<Fault>(i);
    return std::nullopt;
}
bool concerns_whole_pack(Fault fault) {
    return fault == Fault::healthy || fault == Fault::latched_board || fault == Fault::all_discharged ||
           fault == Fault::elsewhere;
}
const char* code(ReadingKind kind) {
    return reading_codes[static_cast<std::size_t>(kind)];
}
const char* code(WayForward way) {
    return way_codes[static_cast<std::size_t>(way)];
}

const Symptom* TriageKnowledge::symptom(const std::string& id) const {
    const auto found = std::find_if(symptoms.begin(), symptoms.end(), [&](const Symptom& s) { return s.id == id; });
    return found == symptoms.end() ? nullptr : &*found;
}

Explained explain(const TriageCase& pack, const Chemistry& chemistry, const TriageKnowledge& knowledge) {
    Posterior posterior(pack, chemistry, knowledge);
    Explained out;
    out.disagreeing = posterior.disagreeing();
    std::map<std::pair<Fault, std::vector<int>>, std::size_t> index;
    out.something_else = 1;
    for (const Hypothesis& h : posterior.hypotheses()) {
        const double p = std::exp(h.log_weight);
        if (h.unnamed || (p < 1e-6 && !out.explanations.empty()))
            continue;
        Explanation made;
        made.probability = p;
        std::size_t lead = 0;
        if (!h.parts.empty()) {
            lead = h.parts.size() == 1 ? 0 : leading(h, posterior);
            made.fault = h.parts[lead].fault;
            std::map<Fault, std::vector<int>> named;
            for (const Part& part : h.parts)
                named[part.fault].insert(named[part.fault].end(), part.groups.begin(), part.groups.end());
            for (auto& [fault, groups] : named)
                if (fault == made.fault)
                    made.groups = one_based(std::move(groups));
                else
                    made.with.emplace_back(fault, one_based(std::move(groups)));
        }
        const auto key = std::make_pair(made.fault, made.groups);
        if (const auto found = index.find(key); found != index.end()) {
            out.explanations[found->second].probability += p;
            continue;
        }
        if (h.misread)
            made.misread = {h.misread->group + 1, posterior.rounds()[h.misread->round].condition};
        if (p >= least_shown || out.explanations.empty())
            for (const Part& part : h.parts)
                if (part.fault == made.fault)
                    describe(made, part, h, posterior);
        index[key] = out.explanations.size();
        out.explanations.push_back(std::move(made));
    }
    std::stable_sort(out.explanations.begin(), out.explanations.end(),
                     [](const Explanation& a, const Explanation& b) { return a.probability > b.probability; });
    while (out.explanations.size() > 1 && out.explanations.back().probability < least_shown)
        out.explanations.pop_back();
    for (const Explanation& e : out.explanations)
        out.something_else -= e.probability;
    out.something_else = std::max(0.0, out.something_else);
    out.settle_by = settle(posterior);
    if (const auto& slip = out.explanations.front().misread; slip && !out.settle_by) // seconds, and then it is known
        out.settle_by = NextReading{ReadingKind::repeat, {slip->group}, 0, 0, slip->condition};
    if (!out.disagreeing.empty())
        out.settle_by = NextReading{ReadingKind::repeat, out.disagreeing, 0, 0, std::nullopt};
    return out;
}

} // namespace ingot
