#include "core/triage/posterior.h"

#include "core/measure/statistics.h"
#include "core/triage/densities.h"
#include "core/triage/groups.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <set>

namespace ingot::triage_detail {

namespace {

constexpr std::size_t most_searched_groups = 24; // the most surprising ones; the others cannot matter
constexpr std::size_t most_paired_groups = 6;
constexpr std::array<std::size_t, 4> beam{0, 24, 12, 8}; // hypotheses extended to 2, 3, 4 and 5 faults
constexpr double hopeless = 9;                           // log units under the best: not extended further
// The spreads are rather wide, and the more so the more kinds of readings are weighed together. Measured on simulated
// packs (docs/methods/triage.md).
constexpr double sharpness_of_one = 1.0, sharpness_of_more = 1.35;
constexpr double never = 20;             // log units
constexpr double same_fault_twice = 2.5; // one cause often meets two groups alike
constexpr double persists_after_replacing = 0.06;
constexpr double spread_share = 0.3; // of imbalance: all groups apart, not one
constexpr std::array<double, 4> spread_sds{0.025, 0.05, 0.10, 0.20};

// A distance from the siblings with no fault in mind.
double log_anything(double v) {
    return log_sum({std::log(0.5) + log_normal(v, 0.1), std::log(0.5) + log_normal(v, 1.5)});
}

bool is_of_the_unit(Fault fault) {
    return fault == Fault::dead_group || fault == Fault::leaking_cell || fault == Fault::weak_group ||
           fault == Fault::disconnected_cell || fault == Fault::reversed_unit;
}

bool better(const Hypothesis& a, const Hypothesis& b) {
    return a.log_weight > b.log_weight;
}

} // namespace

std::vector<int> Hypothesis::faulted() const {
    std::set<int> all;
    for (const Part& part : parts)
        if (!part.whole_pack_spread)
            all.insert(part.groups.begin(), part.groups.end());
    return {all.begin(), all.end()};
}

Posterior::Posterior(const TriageCase& pack, const Chemistry& chemistry, const TriageKnowledge& knowledge)
    : pack_(pack), chemistry_(chemistry), knowledge_(knowledge), ocv_(chemistry) {
    sort_readings();
    estimate_looseness();
    search();
    // Where nothing named fits, a figure of the faulted group itself may be misread. Rare, and it takes longer.
    constexpr double puzzling = 0.3;
    double unnamed = 0;
    for (const Hypothesis& h : hypotheses_)
        unnamed += h.unnamed ? std::exp(h.log_weight) : 0;
    if (unnamed > puzzling) {
        slips_in_parts_ = true;
        for (auto& [references, frame] : frames_)
            frame.part_logs.clear();
        hypotheses_.clear();
        search();
    }
}

// How far this pack's own sound groups lie apart, against the usual. Some packs age evenly, some do not; most of the
// groups tell, whatever is wrong with a few.
void Posterior::estimate_looseness() {
    constexpr std::array<double, 5> scales{0.5, 0.7, 1.0, 1.4, 2.0};
    constexpr std::array<double, 5> priors{0.12, 0.22, 0.34, 0.22, 0.10};
    constexpr double faulted_share = 0.1;
    double best = -1e300;
    const bool loaded = std::any_of(rounds_.begin(), rounds_.end(),
                                    [](const Round& round) { return round.condition == Condition::load; });
    std::vector<double> by_charge(scales.size(), -1e300);
    std::size_t chosen = 0;
    for (std::size_t k = 0; k < scales.size(); ++k)
        for (std::size_t j = 0; j < scales.size(); ++j) {
            const Looseness tried{scales[k], loaded ? scales[j] : 1};
            const Frame& made = frame(references({}, rounds_), tried);
            double sum = std::log(priors[k]) + std::log(priors[j]);
            for (int g = 0; g < pack_.layout.series; ++g) {
                double anything = 0;
                for (const double v : shifts(g, taken(g), *made.predictor))
                    anything += log_anything(v);
                sum += log_mix(faulted_share, made.plain[static_cast<std::size_t>(g)], anything);
            }
            if (sum > best) {
                best = sum;
                looseness_ = tried;
                chosen = k;
            }
            by_charge[k] = std::max(by_charge[k], sum);
            if (!loaded)
                break;
        }
    looseness_log_ = log_sum(by_charge) - best + std::log(priors[chosen]);
}

void Posterior::sort_readings() {
    const auto count = static_cast<std::size_t>(pack_.layout.series);
    constexpr double days_when_not_said = 3;
    std::set<int> disagreeing;
    for (const GroupReading& reading : pack_.readings) {
        if (reading.group < 1 || reading.group > pack_.layout.series)
            throw std::invalid_argument("explain: a reading of a group that the pack does not have");
        const double days = reading.condition == Condition::stored ? reading.days.value_or(days_when_not_said) : 0.0;
        auto round = std::find_if(rounds_.begin(), rounds_.end(), [&](const Round& r) {
            return r.condition == reading.condition && std::fabs(r.days - days) < 0.02 + 0.05 * days;
        });
        if (round == rounds_.end()) {
            rounds_.push_back({reading.condition, days, reading.current_a, {}, {}});
            rounds_.back().volts.resize(count);
            rounds_.back().confirmed.resize(count);
            round = rounds_.end() - 1;
        }
        if (reading.current_a)
            round->current_a = reading.current_a;
        auto& slot = round->volts[static_cast<std::size_t>(reading.group - 1)];
        if (slot) { // a third reading settles which of two was right
            if (std::fabs(*slot - reading.voltage_v) > 4 * knowledge_.meter_error_v * pack_.layout.cells_per_unit)
                disagreeing.insert(reading.group);
            else
                disagreeing.erase(reading.group);
            round->confirmed[static_cast<std::size_t>(reading.group - 1)] = disagreeing.count(reading.group) == 0;
        }
        slot = reading.voltage_v;
    }
    disagreeing_.assign(disagreeing.begin(), disagreeing.end());
    for (auto r = rounds_.begin(); rounds_.size() > most_rounds;) // the first and the last tell most
        r = r->condition == Condition::stored && r + 1 != rounds_.end() && r != rounds_.begin() ? rounds_.erase(r)
                                                                                                : r + 1;
    for (const Round& round : rounds_)
        if (pack_.terminal_v && round.condition == Condition::rest &&
            std::all_of(round.volts.begin(), round.volts.end(), [](const auto& v) { return v.has_value(); })) {
            for (const auto& v : round.volts)
                terminal_sum_ += *v;
            terminal_shift_ = *pack_.terminal_v - terminal_sum_;
            terminal_sd_ = std::sqrt(static_cast<double>(count) * std::pow(knowledge_.meter_error_v / 2, 2) +
                                     std::pow(0.0008 * terminal_sum_, 2) + 0.01 * 0.01);
        }
}

std::vector<std::size_t> Posterior::taken(int group) const {
    std::vector<std::size_t> out;
    for (std::size_t r = 0; r < rounds_.size(); ++r)
        if (rounds_[r].volts[static_cast<std::size_t>(group)])
            out.push_back(r);
    return out;
}

std::vector<double> Posterior::shifts(int group, const std::vector<std::size_t>& rounds,
                                      const Predictor& predictor) const {
    std::vector<double> out;
    out.reserve(rounds.size());
    for (const std::size_t r : rounds)
        out.push_back(*rounds_[r].volts[static_cast<std::size_t>(group)] - predictor.reference(r));
    return out;
}

std::vector<Reference> Posterior::references(const std::vector<int>& faulted, const std::vector<Round>& rounds) const {
    constexpr double median_price = 1.57; // variance of a median against that of a mean
    std::vector<Reference> out;
    for (const Round& round : rounds) {
        std::vector<double> sound;
        for (int g = 0; g < static_cast<int>(round.volts.size()); ++g)
            if (round.volts[static_cast<std::size_t>(g)] && !std::binary_search(faulted.begin(), faulted.end(), g))
                sound.push_back(*round.volts[static_cast<std::size_t>(g)]);
        Reference reference;
        if (!sound.empty()) {
            reference.known = true;
            reference.inflation = 1 + median_price / static_cast<double>(sound.size());
            reference.volts = median(std::move(sound));
        }
        out.push_back(reference);
    }
    return out;
}

Frame& Posterior::frame(std::vector<Reference> references, Looseness looseness) {
    std::vector<double> key{looseness.charge, looseness.resistance};
    for (const Reference& r : references) {
        key.push_back(r.volts);
        key.push_back(r.inflation);
    }
    const auto [at, is_new] = frames_.try_emplace(std::move(key));
    Frame& made = at->second;
    if (!is_new)
        return made;
    made.predictor =
        std::make_unique<Predictor>(pack_, chemistry_, knowledge_, ocv_, rounds_, std::move(references), looseness);
    const double range = 5.0 * pack_.layout.cells_per_unit;
    for (int g = 0; g < pack_.layout.series; ++g) {
        const auto rounds = taken(g);
        const auto x = shifts(g, rounds, *made.predictor);
        std::vector<double> logs;
        std::vector<std::vector<double>> misread(x.size());
        for (const Severity& s : made.predictor->healthy(rounds)) {
            logs.push_back(s.log_weight + log_density(s, x));
            for (std::size_t k = 0; k < x.size(); ++k) { // one reading may be anything
                Severity loose = s;
                loose.covariance[Severity::at(k, k)] += range * range / 12;
                misread[k].push_back(s.log_weight + log_density(loose, x) - std::log(static_cast<double>(x.size())) -
                                     (made.predictor->deep_readings(rounds, x) > 1 ? never : 0) -
                                     (rounds_[rounds[k]].confirmed[static_cast<std::size_t>(g)] ? never : 0));
            }
        }
        made.plain.push_back(log_sum(logs) - (made.predictor->under_deep(rounds, x) ? never : 0));
        std::vector<double> slipped;
        slipped.reserve(misread.size());
        for (const auto& one : misread)
            slipped.push_back(log_sum(one));
        made.robust.push_back(log_mix(knowledge_.misread, made.plain.back(), log_sum(slipped)));
        made.slipped.push_back(std::move(slipped));
    }
    return made;
}

Context& Posterior::context(const std::vector<int>& faulted) {
    const auto found = contexts_.find(faulted);
    if (found != contexts_.end())
        return found->second;
    Context& made = contexts_[faulted];
    made.frame = &frame(references(faulted, rounds_), looseness_);
    const auto& robust = made.frame->robust;
    made.robust_sum = std::accumulate(robust.begin(), robust.end(), 0.0);
    for (const int g : faulted)
        made.robust_sum -= robust[static_cast<std::size_t>(g)];
    return made;
}

Posterior::Weighed Posterior::weigh(const Part& part, const Context& context) const {
    Weighed out;
    for (const int g : part.groups) {
        const auto rounds = taken(g);
        const auto x = shifts(g, rounds, context.predictor());
        out.taken.insert(out.taken.end(), rounds.begin(), rounds.end());
        out.x.insert(out.x.end(), x.begin(), x.end());
    }
    if (part.fault == Fault::sense_fault && part.groups.size() == 2) {
        out.severities = context.predictor().sense_pair(taken(part.groups[0]), taken(part.groups[1]));
    } else {
        out.severities = context.predictor().fault(part.fault, out.taken);
        if (part.fault != Fault::dead_group && part.fault != Fault::reversed_unit && part.fault != Fault::sense_fault &&
            context.predictor().under_deep(out.taken, out.x) &&
            !(part.fault == Fault::leaking_cell && context.predictor().held_charge(out.taken, out.x)))
            for (Severity& s : out.severities)
                s.log_weight -= never;
        if (part.fault == Fault::sense_fault && terminal_shift_ && !out.x.empty()) {
            // The terminals show what the group really has.
            out.x.push_back(*terminal_shift_);
            for (Severity& s : out.severities) {
                s.mean[s.size] = s.amount;
                s.covariance[Severity::at(s.size, s.size)] = terminal_sd_ * terminal_sd_;
                s.blur[s.size] = -s.blur[0];
                ++s.size;
            }
        }
    }
    for (const Severity& s : out.severities)
        out.logs.push_back(s.log_weight + log_density(s, out.x));
    return out;
}

double Posterior::part_log(const Part& part, const Context& context) {
    const auto found = context.frame->part_logs.find(part);
    if (found != context.frame->part_logs.end())
        return found->second;
    const Weighed weighed = weigh(part, context);
    double log = log_sum(weighed.logs);
    if (slips_in_parts_)
        log = log_mix(knowledge_.misread, log, log_but_for_a_slip(part, context, weighed));
    return context.frame->part_logs[part] = log;
}

double Posterior::log_but_for_a_slip(const Part& part, const Context& context, const Weighed& weighed) const {
    if (context.predictor().under_deep(weighed.taken, weighed.x) || weighed.taken.size() < 2)
        return -never;
    const double range = 5.0 * pack_.layout.cells_per_unit;
    std::vector<double> logs;
    std::size_t at = 0;
    for (const int g : part.groups)
        for (const std::size_t r : taken(g)) {
            if (!rounds_[r].confirmed[static_cast<std::size_t>(g)])
                for (Severity s : weighed.severities) {
                    s.covariance[Severity::at(at, at)] += range * range / 12;
                    logs.push_back(s.log_weight + log_density(s, weighed.x) -
                                   std::log(static_cast<double>(weighed.taken.size())));
                }
            ++at;
        }
    return log_sum(logs);
}

double Posterior::gain(const Part& part, Context& context) const {
    double sound = 0;
    for (const int g : part.groups)
        sound += context.frame->robust[static_cast<std::size_t>(g)];
    return log_sum(weigh(part, context).logs) - sound;
}

double Posterior::prior_log(const std::vector<Part>& parts) const {
    if (parts.empty())
        return std::log(knowledge_.prior[0]);
    const double faults = std::accumulate(knowledge_.prior.begin() + 1, knowledge_.prior.end(), 0.0);
    const double series = pack_.layout.series;
    double sum = 0;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const Part& part = parts[i];
        sum += std::log(knowledge_.prior[static_cast<std::size_t>(part.fault)]);
        if (part.fault == Fault::sense_fault) {
            const bool pair = part.groups.size() == 2;
            sum += series < 2 ? 0.0 : pair ? std::log(0.7 / (series - 1)) : std::log(0.3 / series);
        } else if (part.fault == Fault::imbalance) {
            sum += part.whole_pack_spread ? std::log(spread_share) : std::log((1 - spread_share) / series);
        } else if (!part.groups.empty()) {
            sum -= std::log(series);
        }
        if (i > 0) {
            sum += std::log(knowledge_.second_fault / faults);
            if (std::any_of(parts.begin(), parts.begin() + static_cast<std::ptrdiff_t>(i),
                            [&](const Part& p) { return p.fault == part.fault; }))
                sum += std::log(same_fault_twice);
        }
        if (is_of_the_unit(part.fault) &&
            std::any_of(pack_.replaced.begin(), pack_.replaced.end(), [&](int g) { return touches(part, g - 1); }))
            sum += std::log(persists_after_replacing);
    }
    return sum;
}

double Posterior::spread_log() {
    if (spread_log_)
        return *spread_log_;
    const Predictor& usual = *frame(references({}, rounds_), {1, looseness_.resistance}).predictor;
    std::vector<double> logs;
    for (const double sd : spread_sds) {
        double sum = -std::log(static_cast<double>(spread_sds.size()));
        for (int g = 0; g < pack_.layout.series; ++g) {
            const auto rounds = taken(g);
            const auto x = shifts(g, rounds, usual);
            std::vector<double> offsets;
            for (const Severity& s : usual.spread(rounds, sd))
                offsets.push_back(s.log_weight + log_density(s, x));
            sum += log_sum(offsets) - (usual.under_deep(rounds, x) ? never : 0);
        }
        logs.push_back(sum);
    }
    spread_log_ = log_sum(logs);
    return *spread_log_;
}

double Posterior::weight_of(Hypothesis& h) {
    const auto faulted = h.faulted();
    double sum = prior_log(h.parts) + evidence_log(h.parts);
    if (h.parts.empty()) {
        const auto& plain = context({}).frame->plain;
        sum += std::accumulate(plain.begin(), plain.end(), 0.0);
    } else if (h.parts.front().whole_pack_spread) {
        sum += spread_log() - looseness_log_; // it needs no looseness in charge
    } else {
        const Context& now = context(faulted);
        sum += now.robust_sum;
        for (const Part& part : h.parts)
            if (!part.groups.empty())
                sum += part_log(part, now);
    }
    return h.log_weight = sum;
}

// Which group is the fullest, and stops the charger? At the end of charge that shows; else the charge that the voltage
// tells is compared, and what was used since blurs it, because groups hold unlike amounts.
std::vector<double> Posterior::chances_to_lead() {
    const auto telling = std::min_element(rounds_.begin(), rounds_.end(), [](const Round& a, const Round& b) {
        const auto order = [](Condition c) {
            return c == Condition::end_of_charge ? 0 : c == Condition::rest ? 1 : c == Condition::stored ? 2 : 3;
        };
        return order(a.condition) < order(b.condition);
    });
    constexpr double closest = 0.004, never_leads = -0.5; // of charge; no curve tells it closer
    const double cells = pack_.layout.cells_per_unit;
    std::vector<double> charges, sds;
    for (const auto& v : telling->volts) {
        if (!v) { // not read: it does not lead
            charges.push_back(never_leads);
            sds.push_back(closest);
            continue;
        }
        const double charge = ocv_.charge(*v / cells);
        const double volts_sd = std::hypot(knowledge_.meter_error_v / 2, knowledge_.usual_ocv_v * std::sqrt(cells));
        const double used = telling->condition == Condition::end_of_charge ? 0 : std::clamp(1 - charge, 0.0, 1.0);
        charges.push_back(charge);
        sds.push_back(std::hypot(closest, volts_sd / (ocv_.slope(charge) * cells), used * knowledge_.usual_capacity));
    }
    // The chance that a group's charge is the highest: its density times the others' chances to lie below.
    constexpr int steps = 400;
    const double from = *std::min_element(charges.begin(), charges.end()) - 0.1;
    const double to = *std::max_element(charges.begin(), charges.end()) + 0.3;
    std::vector<double> chances(charges.size(), 0.0);
    for (int i = 0; i < steps; ++i) {
        const double at = from + (to - from) * (i + 0.5) / steps;
        double all_below = 0;
        std::vector<double> below;
        for (std::size_t g = 0; g < charges.size(); ++g) {
            below.push_back(
                std::log(std::max(0.5 * std::erfc(-(at - charges[g]) / (sds[g] * std::numbers::sqrt2)), 1e-300)));
            all_below += below.back();
        }
        for (std::size_t g = 0; g < charges.size(); ++g)
            chances[g] += std::exp(all_below - below[g] + log_normal(at - charges[g], sds[g])) * (to - from) / steps;
    }
    const double total = std::accumulate(chances.begin(), chances.end(), 0.0);
    for (double& chance : chances)
        chance /= std::max(total, 1e-300);
    return chances;
}

std::vector<Part> Posterior::single_parts(const std::vector<int>& groups) const {
    std::vector<Part> parts;
    const int series = pack_.layout.series;
    std::set<int> pairs; // by the lower group
    for (const int g : groups) {
        for (const Fault f :
             {Fault::dead_group, Fault::leaking_cell, Fault::weak_group, Fault::imbalance, Fault::sense_fault,
              Fault::high_resistance_joint, Fault::disconnected_cell, Fault::reversed_unit}) {
            if ((f == Fault::disconnected_cell && pack_.layout.parallel < 2) || (f == Fault::imbalance && series < 2))
                continue;
            parts.push_back({f, {g}});
        }
        if (g > 0)
            pairs.insert(g - 1);
        if (g + 1 < series)
            pairs.insert(g);
    }
    for (const int g : pairs)
        parts.push_back({Fault::sense_fault, {g, g + 1}});
    return parts;
}

std::vector<int> Posterior::most_surprising() {
    const int series = pack_.layout.series;
    const Context& all = context({});
    std::vector<int> order(static_cast<std::size_t>(series));
    std::iota(order.begin(), order.end(), 0);
    std::vector<double> sound;
    sound.reserve(order.size());
    for (int g = 0; g < series; ++g)
        sound.push_back(all.frame->plain[static_cast<std::size_t>(g)] + units_log(nullptr, g) +
                        temperature_log(nullptr, g) + capacity_log(nullptr, g));
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) {
        return sound[static_cast<std::size_t>(a)] < sound[static_cast<std::size_t>(b)];
    });
    return order;
}

Hypothesis Posterior::weighed(std::vector<Part> parts) {
    Hypothesis h;
    h.parts = std::move(parts);
    weight_of(h);
    return h;
}

std::vector<Hypothesis> Posterior::single_faults(std::vector<int> groups) {
    std::sort(groups.begin(), groups.end());
    std::vector<Hypothesis> level;
    for (const Part& part : single_parts(groups))
        level.push_back(weighed({part}));
    level.push_back(weighed({{Fault::latched_board, {}}}));
    if (pack_.layout.series > 2 && !rounds_.empty()) { // all groups apart
        const auto chances = chances_to_lead();
        for (int g = 0; g < pack_.layout.series; ++g)
            if (const double chance = chances[static_cast<std::size_t>(g)]; chance > 0.01) {
                level.push_back(weighed({{Fault::imbalance, {g}, true}}));
                level.back().log_weight += std::log(chance);
            }
    }
    return level;
}

bool Posterior::may_join(const Hypothesis& start, const Part& part) const {
    const auto faulted = start.faulted();
    return std::none_of(part.groups.begin(), part.groups.end(),
                        [&](int g) { return std::binary_search(faulted.begin(), faulted.end(), g); }) &&
           std::none_of(start.parts.begin(), start.parts.end(),
                        [&](const Part& p) { return p.fault == Fault::latched_board && p == part; }) &&
           static_cast<int>(faulted.size() + part.groups.size()) < pack_.layout.series;
}

// One fault, then one more to the best of them, and so on; the groups that soundness explains worst lead.
void Posterior::search() {
    const std::vector<int> order = most_surprising();
    const auto first = [&order](std::size_t most) {
        return std::vector<int>(order.begin(),
                                order.begin() + static_cast<std::ptrdiff_t>(std::min(order.size(), most)));
    };
    std::vector<Hypothesis> level = single_faults(first(most_searched_groups));
    hypotheses_.push_back(weighed({}));
    auto more = single_parts(first(most_paired_groups));
    more.push_back({Fault::latched_board, {}});
    std::set<std::vector<Part>> seen;
    double best = hypotheses_.front().log_weight;
    for (std::size_t depth = 1; depth <= beam.size(); ++depth) {
        std::stable_sort(level.begin(), level.end(), better);
        hypotheses_.insert(hypotheses_.end(), level.begin(), level.end());
        if (level.empty() || depth == beam.size())
            break;
        best = std::max(best, level.front().log_weight);
        const auto widest = std::min(level.size(), beam[depth]);
        const std::vector<Hypothesis> starts(level.begin(), level.begin() + static_cast<std::ptrdiff_t>(widest));
        level.clear();
        for (const Hypothesis& start : starts) {
            if ((depth > 1 && start.log_weight < best - hopeless) || start.parts.front().whole_pack_spread)
                continue;
            for (const Part& part : more) {
                if (!may_join(start, part))
                    continue;
                auto parts = start.parts;
                parts.push_back(part);
                std::sort(parts.begin(), parts.end());
                if (seen.insert(parts).second)
                    level.push_back(weighed(std::move(parts)));
            }
        }
    }
    add_slips_and_unnamed();
    sharpen();
    std::stable_sort(hypotheses_.begin(), hypotheses_.end(), better);
}

// Readings under several conditions share more of what the model leaves out than it says; then all is made one.
void Posterior::sharpen() {
    const bool several = std::any_of(rounds_.begin(), rounds_.end(),
                                     [&](const Round& round) { return round.condition != rounds_.front().condition; });
    std::vector<double> logs;
    for (Hypothesis& h : hypotheses_)
        logs.push_back(h.log_weight *= several ? sharpness_of_more : sharpness_of_one);
    const double total = log_sum(logs);
    for (Hypothesis& h : hypotheses_)
        h.log_weight -= total;
}

void Posterior::add_slips_and_unnamed() {
    Context& all = context({});
    const double plain = std::accumulate(all.frame->plain.begin(), all.frame->plain.end(), 0.0);
    for (int g = 0; g < pack_.layout.series; ++g) {
        const auto i = static_cast<std::size_t>(g);
        const auto rounds = taken(g);
        for (std::size_t k = 0; k < rounds.size(); ++k) {
            Hypothesis slip;
            slip.misread = Slip{g, rounds[k]};
            slip.log_weight = std::log(knowledge_.prior[0]) + std::log(knowledge_.misread) + evidence_log({}) + plain -
                              all.frame->plain[i] + all.frame->slipped[i][k];
            hypotheses_.push_back(slip);
        }
    }

    const double named = std::accumulate(knowledge_.prior.begin(), knowledge_.prior.end(), 0.0);
    Hypothesis other;
    other.unnamed = true;
    double sum = 0;
    for (int g = 0; g < pack_.layout.series; ++g) {
        const auto rounds = taken(g);
        const auto x = shifts(g, rounds, all.predictor());
        double broad = 0;
        for (const double v : x)
            broad += log_anything(v);
        sum += log_mix(0.25, all.frame->plain[static_cast<std::size_t>(g)], broad);
    }
    other.log_weight = std::log(std::max(1 - named, 1e-6)) + evidence_log({}) + sum;
    hypotheses_.push_back(other);
}

std::vector<Posterior::Component> Posterior::foresee(const Hypothesis& h, int group, const Prospect& prospect) {
    const auto faulted = h.faulted();
    auto rounds = rounds_;
    Round next;
    next.condition = prospect.condition;
    next.days = prospect.days;
    next.volts.resize(static_cast<std::size_t>(pack_.layout.series));
    next.confirmed.resize(next.volts.size());
    rounds.push_back(next);
    auto refs = references(faulted, rounds_);
    // The siblings will be read too; where they stand then is taken from what is known of them.
    refs.push_back({});
    Predictor predictor(pack_, chemistry_, knowledge_, ocv_, rounds, refs, looseness_);
    refs.back() = {predictor.reference(rounds.size() - 1), 1.2, 0, true};
    const Predictor ahead(pack_, chemistry_, knowledge_, ocv_, rounds, refs, looseness_);

    auto own = h.misread && h.misread->group == group ? std::vector<std::size_t>{} : taken(group);
    const Context& now = context(faulted);
    const auto x = shifts(group, own, now.predictor());
    own.push_back(rounds.size() - 1);
    const auto part = std::find_if(h.parts.begin(), h.parts.end(), [&](const Part& p) { return touches(p, group); });
    std::vector<Severity> list;
    std::vector<double> logs;
    if (part == h.parts.end() || part->whole_pack_spread) {
        list = part == h.parts.end() ? ahead.healthy(own) : ahead.spread(own, 0.05);
    } else {
        list = ahead.fault(part->fault, own);
    }
    for (const Severity& s : list) {
        Severity known = s;
        --known.size;
        logs.push_back(s.log_weight + log_density(known, x));
    }
    const double total = log_sum(logs);
    std::vector<Component> out;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double w = std::exp(logs[i] - total);
        if (w < 1e-4)
            continue;
        const Conditional c = conditional_last(list[i], x);
        out.push_back({w, c.mean, std::sqrt(c.variance)});
    }
    return out;
}

} // namespace ingot::triage_detail
