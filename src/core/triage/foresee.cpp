// What a reading that was not taken yet would show under each explanation, given those that were.
#include "core/triage/posterior.h"

#include <algorithm>
#include <cmath>

namespace ingot::triage_detail {

Outlook& Posterior::outlook(const std::vector<int>& faulted, const Prospect& prospect) {
    auto refs = references(faulted, rounds_);
    std::vector<double> key{static_cast<double>(prospect.condition), prospect.days};
    add_levels(key, refs);
    const auto [at, is_new] = outlooks_.try_emplace(std::move(key));
    Outlook& made = at->second;
    if (!is_new)
        return made;
    Round next;
    next.condition = prospect.condition;
    next.days = prospect.days;
    next.volts.resize(static_cast<std::size_t>(pack_.layout.series));
    next.confirmed.resize(next.volts.size());
    next.resolutions.resize(next.volts.size());
    made.rounds = rounds_;
    made.rounds.push_back(std::move(next));
    // The siblings will be read too; where they stand then is taken from what is known of them.
    refs.push_back({});
    const Predictor now(pack_, chemistry_, knowledge_, ocv_, made.rounds, refs, looseness_);
    refs.back() = {now.reference(rounds_.size()), 1.2, 0, true};
    made.predictor =
        std::make_unique<Predictor>(pack_, chemistry_, knowledge_, ocv_, made.rounds, std::move(refs), looseness_);
    return made;
}

const std::vector<Severity>& Outlook::of(const Part* part, const std::vector<std::size_t>& taken) {
    constexpr double apart = 0.05; // of charge, where all groups are
    const bool spread = part != nullptr && part->whole_pack_spread;
    const auto fault = part == nullptr ? std::nullopt : std::optional(part->fault);
    const auto [at, is_new] = predicted.try_emplace(std::make_tuple(fault, spread, taken));
    if (is_new)
        at->second = spread  ? predictor->spread(taken, apart)
                     : fault ? predictor->fault(*fault, taken)
                             : predictor->healthy(taken);
    return at->second;
}

// Components that lie closer together than any reading could tell are one, with the same mean and variance together.
std::vector<Posterior::Component> Posterior::merged(std::vector<Component> components) {
    constexpr double as_one = 0.3, as_wide = 1.5; // of the deviation
    std::sort(components.begin(), components.end(),
              [](const Component& a, const Component& b) { return a.mean < b.mean; });
    std::vector<Component> out;
    for (const Component& c : components) {
        if (out.empty() || c.mean - out.back().mean > as_one * std::min(c.sd, out.back().sd) ||
            std::max(c.sd, out.back().sd) > as_wide * std::min(c.sd, out.back().sd)) {
            out.push_back(c);
            continue;
        }
        Component& last = out.back();
        const double weight = last.weight + c.weight;
        const double mean = (last.weight * last.mean + c.weight * c.mean) / weight;
        const double variance = (last.weight * (last.sd * last.sd + std::pow(last.mean - mean, 2)) +
                                 c.weight * (c.sd * c.sd + std::pow(c.mean - mean, 2))) /
                                weight;
        last = {weight, mean, std::sqrt(variance)};
    }
    return out;
}

std::vector<Posterior::Component> Posterior::foresee(const Hypothesis& h, int group, const Prospect& prospect) {
    const auto faulted = h.faulted();
    const auto read = h.misread && h.misread->group == group ? std::vector<std::size_t>{} : taken(group);
    const auto x = shifts(group, read, context(faulted).predictor());
    auto own = read;
    own.push_back(rounds_.size());
    const auto part = std::find_if(h.parts.begin(), h.parts.end(), [&](const Part& p) { return touches(p, group); });
    auto list = outlook(faulted, prospect).of(part == h.parts.end() ? nullptr : &*part, own);
    widen_by_digits(list, group, read, 0);
    std::vector<double> logs;
    logs.reserve(list.size());
    for (const Severity& s : list) {
        Severity known = s;
        --known.size;
        logs.push_back(s.log_weight + log_density(known, x));
    }
    const double total = log_sum(logs);
    const double digit =
        rounds_.empty() ? 0 : rounds_.front().resolution_v; // the next one will be written as these were
    std::vector<Component> out;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double w = std::exp(logs[i] - total);
        if (w < 1e-4)
            continue;
        const Conditional c = conditional_last(list[i], x);
        out.push_back({w, c.mean, std::sqrt(c.variance + digit * digit / 12)});
    }
    return merged(std::move(out));
}

} // namespace ingot::triage_detail
