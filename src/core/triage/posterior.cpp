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

constexpr std::array<double, 4> spread_sds{0.025, 0.05, 0.10, 0.20};

// Counts that differ little are one, so that packs of many groups share their frames.
double about(std::size_t count) {
    constexpr std::array<double, 9> steps{1, 2, 3, 4, 6, 9, 14, 22, 40};
    double nearest = steps.front();
    for (const double step : steps)
        if (std::fabs(step - static_cast<double>(count)) < std::fabs(nearest - static_cast<double>(count)))
            nearest = step;
    return nearest;
}

// The median of figures that were rounded to `digit`: each stands for a class of values, and the middle class is
// divided where half of all lie below. Half the row reading 7.5 and half 7.4 stands about 7.45.
double grouped_median(const std::vector<double>& values, double digit) {
    const double half_class = 0.499 * digit;
    const auto count = static_cast<double>(values.size());
    const double middle = median(values);
    double below = 0, within = 0;
    for (const double v : values) {
        below += v < middle - half_class ? 1 : 0;
        within += std::fabs(v - middle) <= half_class ? 1 : 0;
    }
    return within > 0 && digit > 0 ? middle + digit * ((count / 2 - below) / within - 0.5) : middle;
}

// A distance from the siblings with no fault in mind.
double log_anything(double v) {
    return log_sum({std::log(0.5) + log_normal(v, 0.1), std::log(0.5) + log_normal(v, 1.5)});
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
    : pack_(pack), chemistry_(chemistry), knowledge_(knowledge), expected_(knowledge, pack.layout.series),
      ocv_(chemistry) {
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

// The level at which the sound groups stand may be anywhere: a pack that has one pays for it, so that a pack without a
// single sound group can be compared with it.
double Posterior::level_log(const std::vector<int>& faulted) const {
    constexpr double range_v = 1.3; // of a cell's working voltages
    if (!still_read())
        return 0;
    const double sound = std::max(1.0, static_cast<double>(pack_.layout.series) - static_cast<double>(faulted.size()));
    const double cells = pack_.layout.cells_per_tap();
    const double sd = std::hypot(knowledge_.meter_error_v / 2, knowledge_.usual_ocv_v * std::sqrt(cells)) * 2;
    return std::log(std::min(1.0, sd * std::sqrt(2 * std::numbers::pi / sound) / (range_v * cells)));
}

bool Posterior::still_read() const {
    return std::any_of(rounds_.begin(), rounds_.end(), [](const Round& round) {
        return round.condition == Condition::rest || round.condition == Condition::stored;
    });
}

// Every group on its own somewhere under the floor; a single one may have kept some charge.
double Posterior::run_down_log() const {
    constexpr double keeps_some = 0.03;
    constexpr double sinks_sd_v = 0.15;
    const double cells = pack_.layout.cells_per_tap();
    const double floor = std::max(chemistry_.floor_v, chemistry_.bands.low_below_v) * cells;
    double sum = 0;
    for (int g = 0; g < pack_.layout.series; ++g) {
        std::optional<double> first;
        for (const Round& round : rounds_) {
            const auto& v = round.volts[static_cast<std::size_t>(g)];
            if (!v)
                continue;
            const bool still = round.condition == Condition::rest || round.condition == Condition::stored;
            if (!first && still) {
                const double anywhere = std::log(keeps_some) - std::log(1.2 * chemistry_.full_v * cells);
                sum += *v >= -0.1 * cells && *v < floor ? std::log(1 - keeps_some) - std::log(floor + 0.1 * cells)
                                                        : anywhere;
                first = v;
            } else if (first && still) {
                sum += log_normal(*v - *first, (sinks_sd_v + 0.2 * std::fabs(*first) / cells) * cells);
            } else {
                sum += log_anything((*v - first.value_or(floor / 2)) / cells);
            }
        }
    }
    return sum;
}

// How far this pack's own sound groups lie apart, against the usual. Some packs age evenly, some do not; most of the
// groups tell, whatever is wrong with a few.
void Posterior::estimate_looseness() {
    constexpr std::array<double, 7> scales{0.5, 0.7, 1.0, 1.4, 2.0, 3.0, 4.5};
    constexpr std::array<double, 7> priors{0.11, 0.20, 0.31, 0.20, 0.10, 0.05, 0.03};
    constexpr double faulted_share = 0.1;
    double best = -1e300;
    const bool loaded = std::any_of(rounds_.begin(), rounds_.end(),
                                    [](const Round& round) { return round.condition == Condition::load; });
    std::vector<double> by_charge(scales.size(), -1e300);
    std::size_t chosen = 0;
    constexpr std::size_t up_to_twice = 5; // rows of nickel modules lie farther apart than lithium groups ever do
    const std::size_t tried_scales = chemistry_.lithium ? up_to_twice : scales.size();
    for (std::size_t k = 0; k < tried_scales; ++k)
        for (std::size_t j = 0; j < up_to_twice; ++j) {
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
            rounds_.push_back({reading.condition, days, reading.current_a, {}, {}, {}, 0});
            rounds_.back().volts.resize(count);
            rounds_.back().resolutions.resize(count);
            rounds_.back().confirmed.resize(count);
            round = rounds_.end() - 1;
        }
        if (reading.current_a)
            round->current_a = reading.current_a;
        auto& slot = round->volts[static_cast<std::size_t>(reading.group - 1)];
        if (slot) { // a third reading settles which of two was right
            if (std::fabs(*slot - reading.voltage_v) >
                4 * knowledge_.meter_error_v * pack_.layout.cells_per_tap() + reading.resolution_v.value_or(0))
                disagreeing.insert(reading.group);
            else
                disagreeing.erase(reading.group);
            round->confirmed[static_cast<std::size_t>(reading.group - 1)] = disagreeing.count(reading.group) == 0;
        }
        slot = reading.voltage_v;
        round->resolutions[static_cast<std::size_t>(reading.group - 1)] = reading.resolution_v.value_or(0);
    }
    for (Round& round : rounds_)
        round.resolution_v = median(round.resolutions);
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
                                     std::pow(0.0008 * terminal_sum_, 2) + 0.01 * 0.01 +
                                     // Groups that stand alike are rounded alike.
                                     std::pow(static_cast<double>(count) * round.resolution_v, 2) / 12);
        }
}

std::vector<std::size_t> Posterior::taken(int group) const {
    std::vector<std::size_t> out;
    for (std::size_t r = 0; r < rounds_.size(); ++r)
        if (rounds_[r].volts[static_cast<std::size_t>(group)])
            out.push_back(r);
    return out;
}

// A written figure stands for all that round to it, each by its own digits.
void Posterior::widen_by_digits(std::vector<Severity>& list, int group, const std::vector<std::size_t>& rounds,
                                std::size_t from) const {
    for (std::size_t k = 0; k < rounds.size(); ++k) {
        const double digit = rounds_[rounds[k]].resolutions[static_cast<std::size_t>(group)];
        if (digit > 0)
            for (Severity& s : list)
                s.covariance[Severity::at(from + k, from + k)] += digit * digit / 12;
    }
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
            reference.inflation = 1 + median_price / about(sound.size());
            constexpr double finer_than_any_meter_v = 0.0005, of_a_digit = 0.1; // levels that close are one
            const double step =
                std::max(finer_than_any_meter_v * pack_.layout.cells_per_tap(), of_a_digit * round.resolution_v);
            reference.volts = std::round(grouped_median(sound, round.resolution_v) / step) * step;
        }
        out.push_back(reference);
    }
    return out;
}

Frame& Posterior::frame(std::vector<Reference> references, Looseness looseness) {
    std::vector<double> key{looseness.charge, looseness.resistance};
    add_levels(key, references);
    const auto [at, is_new] = frames_.try_emplace(std::move(key));
    Frame& made = at->second;
    if (!is_new)
        return made;
    made.predictor =
        std::make_unique<Predictor>(pack_, chemistry_, knowledge_, ocv_, rounds_, std::move(references), looseness);
    const double range = 5.0 * pack_.layout.cells_per_tap();
    std::map<std::vector<std::size_t>, std::vector<Severity>> sound_by_rounds; // most groups were read alike
    for (int g = 0; g < pack_.layout.series; ++g) {
        const auto rounds = taken(g);
        const auto x = shifts(g, rounds, *made.predictor);
        std::vector<double> logs;
        std::vector<std::vector<double>> misread(x.size());
        auto [kept, is_first] = sound_by_rounds.try_emplace(rounds);
        if (is_first)
            kept->second = made.predictor->healthy(rounds);
        auto sound = kept->second;
        widen_by_digits(sound, g, rounds, 0);
        for (const Severity& s : sound) {
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

const std::vector<Severity>& Frame::of(Fault fault, const std::vector<std::size_t>& taken) {
    const auto [at, is_new] = predicted.try_emplace(std::make_pair(fault, taken));
    if (is_new)
        at->second = predictor->fault(fault, taken);
    return at->second;
}

const std::vector<Severity>& Frame::moved_by(const std::vector<std::size_t>& taken) {
    const auto [at, is_new] = moved.try_emplace(taken);
    if (is_new)
        at->second = predictor->moved_together(taken);
    return at->second;
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
        out.severities = context.frame->of(part.fault, out.taken);
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
    std::size_t from = 0;
    for (const int g : part.groups) {
        const auto rounds = taken(g);
        widen_by_digits(out.severities, g, rounds, from);
        from += rounds.size();
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
    if (!stands_out(part, context))
        log -= shows_nowhere;
    if (slips_in_parts_)
        log = log_mix(knowledge_.misread, log, log_but_for_a_slip(part, context, weighed));
    return context.frame->part_logs[part] = log;
}

bool Posterior::told_of(int group) const {
    const auto here = [group](const auto& list) {
        return std::any_of(list.begin(), list.end(), [group](const auto& one) { return one.group - 1 == group; });
    };
    return here(pack_.units) || here(pack_.temperatures) || here(pack_.capacities) || here(pack_.resistances) ||
           here(pack_.swaps);
}

// A fault that shows in no reading is not named: what two readings of sound groups may differ by says nothing.
bool Posterior::stands_out(const Part& part, const Context& context) const {
    constexpr double meters = 2, digits = 1.1;
    for (const int g : part.groups) {
        if (taken(g).empty() || told_of(g)) // nothing was read that could show it, or something else may
            return true;
        for (const std::size_t r : taken(g)) {
            const double away = *rounds_[r].volts[static_cast<std::size_t>(g)] - context.predictor().reference(r);
            if (std::fabs(away) >
                meters * knowledge_.meter_error_v + digits * rounds_[r].resolutions[static_cast<std::size_t>(g)])
                return true;
        }
    }
    return false;
}

double Posterior::log_but_for_a_slip(const Part& part, const Context& context, const Weighed& weighed) const {
    if (context.predictor().under_deep(weighed.taken, weighed.x) || weighed.taken.size() < 2)
        return -never;
    const double range = 5.0 * pack_.layout.cells_per_tap();
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
            auto apart = usual.spread(rounds, sd);
            widen_by_digits(apart, g, rounds, 0);
            offsets.reserve(apart.size());
            for (const Severity& s : apart)
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
    if (!h.parts.empty() && h.parts.front().fault == Fault::all_discharged) {
        sum += run_down_log();
    } else if (h.parts.empty()) {
        const auto& plain = context({}).frame->plain;
        sum += std::accumulate(plain.begin(), plain.end(), 0.0) + level_log({});
    } else if (h.parts.front().whole_pack_spread) {
        sum += spread_log() - looseness_log_ + level_log({}); // it needs no looseness in charge
    } else if (pack_.layout.series == 1 &&
               (h.parts.front().fault == Fault::weak_group || h.parts.front().fault == Fault::high_resistance_joint)) {
        const auto& plain = context({}).frame->plain; // its voltages are its own level; its resistance tells
        sum += std::accumulate(plain.begin(), plain.end(), 0.0) + level_log({});
    } else {
        const Context& now = context(faulted);
        sum += now.robust_sum + level_log(faulted);
        sum += parts_log(h.parts, now);
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
    const double cells = pack_.layout.cells_per_tap();
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

void Posterior::add_slips_and_unnamed() {
    Context& all = context({});
    const double plain = std::accumulate(all.frame->plain.begin(), all.frame->plain.end(), 0.0);
    for (int g = 0; g < pack_.layout.series; ++g) {
        const auto i = static_cast<std::size_t>(g);
        const auto rounds = taken(g);
        for (std::size_t k = 0; k < rounds.size(); ++k) {
            Hypothesis slip;
            slip.misread = Slip{g, rounds[k]};
            slip.log_weight = std::log(knowledge_.prior[0]) + std::log(knowledge_.misread) + evidence_log({}) +
                              level_log({}) + plain - all.frame->plain[i] + all.frame->slipped[i][k];
            if (terminal_shift_ && rounds_[rounds[k]].condition == Condition::rest) { // its sum had the slip in it
                const double slip_v = *rounds_[rounds[k]].volts[i] - all.predictor().reference(rounds[k]);
                slip.log_weight += log_mix(terminals_stray, log_normal(*terminal_shift_ + slip_v, terminal_sd_),
                                           -std::log(1.3 * std::max(terminal_sum_, 1.0))) -
                                   terminal_log({});
            }
            hypotheses_.push_back(slip);
        }
    }

    const double named = std::accumulate(knowledge_.prior.begin(), knowledge_.prior.end(), 0.0);
    constexpr double odd_share = 0.12; // of a pack's groups, when what is wrong has no name
    Hypothesis other;
    other.unnamed = true;
    double sum = 0;
    for (int g = 0; g < pack_.layout.series; ++g) {
        const auto rounds = taken(g);
        const auto x = shifts(g, rounds, all.predictor());
        double broad = 0;
        for (const double v : x)
            broad += log_anything(v);
        sum += log_mix(odd_share, all.frame->plain[static_cast<std::size_t>(g)], broad);
    }
    other.log_weight = std::log(std::max(1 - named, 1e-6)) + evidence_log({}) + level_log({}) + sum;
    hypotheses_.push_back(other);
}

} // namespace ingot::triage_detail
