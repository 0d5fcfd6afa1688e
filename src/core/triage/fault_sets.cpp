// Which groups are bad, any number of them? Given the level at which the sound groups stand, groups are independent but
// for sense leads, which couple two neighbours: the best set for each share of bad groups and each leading kind of
// fault is found along the chain exactly. Every set that is proposed so is then weighed with its own level.
#include "core/triage/densities.h"
#include "core/triage/posterior.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace ingot::triage_detail {

namespace {

constexpr double persists_after_replacing = 0.06;
constexpr double spread_share = 0.2;   // of imbalance: all groups apart, not one
constexpr double moved_together = 0.7; // of packs with several groups out of balance: by one amount
constexpr double pair_share = 0.7;     // of sense faults: what one group reads low its neighbour reads high
constexpr double board_beside = 0.06;  // a board that latched beside another fault
constexpr double worth_a_look = 9;     // log units: a group's other options that are proposed, too
constexpr std::size_t most_flips = 5;  // groups whose second choice is tried
constexpr std::size_t most_starts = 4;

constexpr std::array<Fault, 8> group_faults{Fault::dead_group,        Fault::leaking_cell, Fault::weak_group,
                                            Fault::imbalance,         Fault::sense_fault,  Fault::high_resistance_joint,
                                            Fault::disconnected_cell, Fault::reversed_unit};

bool is_of_the_unit(Fault fault) {
    return fault == Fault::dead_group || fault == Fault::leaking_cell || fault == Fault::weak_group ||
           fault == Fault::disconnected_cell || fault == Fault::reversed_unit;
}

double prior_of(const TriageKnowledge& knowledge, Fault fault) {
    return knowledge.prior[static_cast<std::size_t>(fault)];
}

double prior_of_group_faults(const TriageKnowledge& knowledge) {
    double sum = 0;
    for (const Fault fault : group_faults)
        sum += prior_of(knowledge, fault);
    return sum;
}

// The chance that a bad group of a pack has this fault, when `theme` leads there.
double chance_under(const TriageKnowledge& knowledge, Fault fault, Fault theme) {
    return (1 - knowledge.second_fault) * (fault == theme ? 1 : 0) +
           knowledge.second_fault * prior_of(knowledge, fault) / prior_of_group_faults(knowledge);
}

} // namespace

Expected::Expected(const TriageKnowledge& knowledge, int series) {
    struct Badness {
        double share, weight;
    };
    const double s = std::max(series, 2);
    const std::array<Badness, 5> badness{// common practice, no source
                                         {{0.5 / s, 0.40}, {1.5 / s, 0.25}, {0.2, 0.15}, {0.4, 0.12}, {0.7, 0.08}}};
    double none = 0;
    for (std::size_t i = 0; i < badness.size(); ++i) {
        const auto& [share, weight] = badness[i];
        shares[i] = {share, std::log(share), std::log(1 - share), std::log(weight)};
        none += weight * std::pow(1 - share, series);
    }
    const double all = prior_of_group_faults(knowledge);
    log_some = std::log(all) - std::log(1 - none);
    for (const Fault theme : group_faults) {
        leads[static_cast<std::size_t>(theme)] = std::log(prior_of(knowledge, theme) / all);
        for (const Fault fault : group_faults)
            under[static_cast<std::size_t>(theme)][static_cast<std::size_t>(fault)] =
                std::log(chance_under(knowledge, fault, theme));
    }
}

double Expected::log_of(const Part& part, Fault theme) const {
    static const double pair = std::log(pair_share), one = std::log(1 - pair_share);
    const double sum = under[static_cast<std::size_t>(theme)][static_cast<std::size_t>(part.fault)];
    return part.fault != Fault::sense_fault ? sum : sum + (part.groups.size() == 2 ? pair : one);
}

// Log weights against being sound.
struct Posterior::Options {
    struct One {
        Part part;
        double gain;
    };
    std::vector<std::vector<One>> alone;  // by group
    std::vector<std::optional<One>> pair; // sense faults of a group and the next
    double all_sound = 0;                 // log density of the pack at this level, as if nothing were wrong

    [[nodiscard]] double gain_of(const std::vector<Part>& parts) const {
        double sum = all_sound;
        for (const Part& part : parts) {
            const auto g = static_cast<std::size_t>(part.groups.front());
            if (part.groups.size() == 2)
                sum += pair[g]->gain;
            else
                for (const One& one : alone[g])
                    sum += one.part == part ? one.gain : 0;
        }
        return sum;
    }
};

Posterior::Options Posterior::options_at(const std::vector<int>& faulted) {
    Options out;
    const int series = pack_.layout.series;
    const Context& now = context(faulted);
    const double nothing = evidence_log({});
    const auto& robust = now.frame->robust;
    out.alone.resize(static_cast<std::size_t>(series));
    out.pair.resize(static_cast<std::size_t>(series));
    const bool all = rounds_.empty() || series == 1;
    out.all_sound = std::accumulate(robust.begin(), robust.end(), 0.0);
    for (int g = 0; g < series; ++g) {
        const auto i = static_cast<std::size_t>(g);
        // What lies with the others and was told of in no other way needs no choice.
        if (!all && !stands_out({Fault::healthy, {g}}, now))
            continue;
        for (const Fault fault : group_faults) {
            if ((fault == Fault::disconnected_cell && pack_.layout.parallel < 2) ||
                (fault == Fault::imbalance && series < 2))
                continue;
            const Part part{fault, {g}};
            out.alone[i].push_back({part, part_log(part, now) - robust[i] + evidence_log({part}) - nothing});
        }
        if (g + 1 < series && (all || stands_out({Fault::healthy, {g + 1}}, now))) {
            const Part part{Fault::sense_fault, {g, g + 1}};
            out.pair[i] =
                Options::One{part, part_log(part, now) - robust[i] - robust[i + 1] + evidence_log({part}) - nothing};
        }
    }
    return out;
}

// Along the chain: the best of everything up to each group, a pair taking two of them.
std::vector<Part> Posterior::best_parts(const Options& options, double share_bad, Fault theme) const {
    const auto series = options.alone.size();
    const double bad = std::log(share_bad), sound = std::log(1 - share_bad);
    const auto price = [&](const Part& part) { return bad + expected_.log_of(part, theme); };
    std::vector<double> best(series + 1, 0.0);
    std::vector<const Part*> last(series + 1, nullptr);
    for (std::size_t g = 0; g < series; ++g) {
        best[g + 1] = best[g] + sound;
        last[g + 1] = nullptr;
        for (const Options::One& one : options.alone[g])
            if (const double value = best[g] + one.gain + price(one.part); value > best[g + 1]) {
                best[g + 1] = value;
                last[g + 1] = &one.part;
            }
        if (g > 0 && options.pair[g - 1]) {
            const Options::One& two = *options.pair[g - 1];
            if (const double value = best[g - 1] + two.gain + price(two.part); value > best[g + 1]) {
                best[g + 1] = value;
                last[g + 1] = &two.part;
            }
        }
    }
    std::vector<Part> out;
    for (std::size_t g = series; g > 0;) {
        const Part* part = last[g];
        if (part != nullptr)
            out.push_back(*part);
        g -= part != nullptr && part->groups.size() == 2 ? 2 : 1;
    }
    std::sort(out.begin(), out.end());
    return out;
}

// The best set for each share of bad groups and each leading fault, and its neighbours: one group otherwise, or two.
void Posterior::propose(const Options& options, Proposed& proposed) const {
    const int series = pack_.layout.series;
    const auto keep = [&](std::vector<Part> parts) {
        if (series == 1 && !parts.empty() &&
            (parts.front().fault == Fault::weak_group || parts.front().fault == Fault::high_resistance_joint))
            return; // weighed by itself
        std::size_t groups = 0;
        for (const Part& part : parts)
            groups += part.groups.size();
        if (!parts.empty() && static_cast<int>(groups) < std::max(series, 2)) { // a level needs a sound group
            std::sort(parts.begin(), parts.end());
            const double gain = options.gain_of(parts);
            const auto [at, is_new] = proposed.try_emplace(std::move(parts), gain);
            if (!is_new)
                at->second = std::max(at->second, gain);
        }
    };
    for (const Expected::Share& share : expected_.shares)
        for (const Fault theme : group_faults) {
            const auto& under = expected_.under[static_cast<std::size_t>(theme)];
            const std::vector<Part> base = best_parts(options, share.bad, theme);
            keep(base);
            // What else each group might be, the closest first.
            struct Flip {
                double loss;
                int group;
                std::optional<Part> to; // nothing: sound
            };
            std::vector<Flip> flips;
            for (int g = 0; g < series; ++g) {
                const auto now = std::find_if(base.begin(), base.end(), [&](const Part& p) { return touches(p, g); });
                if (now != base.end() && now->groups.size() == 2)
                    continue;
                const auto value = [&](const Options::One& one) {
                    return one.gain + share.log_bad + under[static_cast<std::size_t>(one.part.fault)];
                };
                const double as_sound = share.log_sound;
                double here = as_sound;
                for (const Options::One& one : options.alone[static_cast<std::size_t>(g)])
                    if (now != base.end() && one.part == *now)
                        here = value(one);
                if (now != base.end() && here - as_sound < worth_a_look)
                    flips.push_back({here - as_sound, g, std::nullopt});
                for (const Options::One& one : options.alone[static_cast<std::size_t>(g)])
                    if ((now == base.end() || !(one.part == *now)) && here - value(one) < worth_a_look)
                        flips.push_back({here - value(one), g, one.part});
            }
            std::stable_sort(flips.begin(), flips.end(), [](const Flip& a, const Flip& c) { return a.loss < c.loss; });
            if (flips.size() > most_flips && !rounds_.empty())
                flips.resize(most_flips);
            const auto with = [&](std::vector<Part> parts, const Flip& flip) {
                std::erase_if(parts, [&](const Part& p) { return touches(p, flip.group); });
                if (flip.to)
                    parts.push_back(*flip.to);
                return parts;
            };
            for (std::size_t i = 0; i < flips.size(); ++i) {
                const std::vector<Part> one = with(base, flips[i]);
                keep(one);
                for (std::size_t j = i + 1; j < flips.size(); ++j)
                    if (flips[j].group != flips[i].group)
                        keep(with(one, flips[j]));
            }
        }
}

// How well a group that is out of balance fits each amount, the chance of that amount left out.
const std::vector<double>& Posterior::moved_logs(int group, const Context& context) const {
    const auto [at, is_new] = context.frame->moved_logs.try_emplace(group);
    if (!is_new)
        return at->second;
    const auto rounds = taken(group);
    const auto x = shifts(group, rounds, context.predictor());
    auto amounts = context.frame->moved_by(rounds);
    widen_by_digits(amounts, group, rounds, 0);
    const double deep = context.predictor().under_deep(rounds, x) ? never : 0;
    const double unseen = stands_out({Fault::imbalance, {group}}, context) ? 0 : shows_nowhere;
    at->second.reserve(amounts.size());
    for (const Severity& amount : amounts)
        at->second.push_back(log_density(amount, x) - deep - unseen);
    return at->second;
}

double Posterior::moved_together_log(const std::vector<const Part*>& parts, const Context& context) const {
    // Of two halves that lie apart the one that lacks charge is named: charge gets lost, not found. Else the fewer are.
    constexpr double charge_found = 3, the_more_moved = 6; // log units
    const int twice = 2 * static_cast<int>(parts.size());
    const bool half = twice >= pack_.layout.series;
    const double the_more = twice > pack_.layout.series ? the_more_moved : 0;
    std::vector<double> logs;
    for (const Severity& amount : context.frame->moved_by(taken(parts.front()->groups.front())))
        logs.push_back(amount.log_weight - (half && amount.amount > 0 ? charge_found : 0) - the_more);
    for (const Part* part : parts) {
        const auto& of_group = moved_logs(part->groups.front(), context);
        for (std::size_t i = 0; i < logs.size() && i < of_group.size(); ++i)
            logs[i] += of_group[i];
    }
    return log_sum(logs);
}

// Groups out of balance were often moved by one event, and then by one amount: a board that lives on some of them,
// groups that were put in together, a charge through a tap.
double Posterior::parts_log(const std::vector<Part>& parts, const Context& context) {
    double sum = 0, each_by_itself = 0;
    std::vector<const Part*> moved;
    for (const Part& part : parts)
        if (part.fault == Fault::imbalance) {
            moved.push_back(&part);
            each_by_itself += part_log(part, context);
        } else if (!part.groups.empty()) {
            sum += part_log(part, context);
        }
    return sum + (moved.size() < 2 ? each_by_itself
                                   : log_mix(moved_together, each_by_itself, moved_together_log(moved, context)));
}

// For each amount that several groups may share, the best set.
void Posterior::propose_moved_together(const Options& options, const Context& now, Proposed& proposed) {
    constexpr double share_bad = 0.2;
    struct Movable {
        std::size_t group, option;
        double alone; // its gain but for how well its amount fits
        const std::vector<double>* logs;
    };
    std::vector<Movable> movable;
    for (std::size_t g = 0; g < options.alone.size(); ++g)
        for (std::size_t k = 0; k < options.alone[g].size(); ++k)
            if (const Options::One& one = options.alone[g][k]; one.part.fault == Fault::imbalance)
                movable.push_back({g, k, one.gain - part_log(one.part, now), &moved_logs(static_cast<int>(g), now)});
    if (movable.size() < 2)
        return;
    const std::size_t amounts = movable.front().logs->size();
    if (std::any_of(movable.begin(), movable.end(), [&](const Movable& m) { return m.logs->size() != amounts; }))
        return; // not read alike
    Options at = options;
    for (std::size_t i = 0; i < amounts; ++i) {
        int fit = 0;
        for (const Movable& m : movable) {
            at.alone[m.group][m.option].gain = m.alone + (*m.logs)[i];
            fit += m.alone + (*m.logs)[i] > 0 ? 1 : 0;
        }
        if (fit < 2)
            continue;
        std::vector<Part> parts = best_parts(at, share_bad, Fault::imbalance);
        std::size_t groups = 0;
        for (const Part& part : parts)
            groups += part.groups.size();
        const auto together =
            std::count_if(parts.begin(), parts.end(), [](const Part& part) { return part.fault == Fault::imbalance; });
        if (together < 2 || groups >= options.alone.size()) // a level needs a sound group
            continue;
        const double gain = at.gain_of(parts) - std::log(static_cast<double>(amounts));
        const auto [found, is_new] = proposed.try_emplace(std::move(parts), gain);
        if (!is_new)
            found->second = std::max(found->second, gain);
    }
}

// The bad ones when the sound groups stand at their middle, and where else several groups stand together.
std::vector<std::vector<int>> Posterior::starts() const {
    std::vector<std::vector<int>> out{{}};
    const auto telling = std::find_if(rounds_.begin(), rounds_.end(), [](const Round& round) {
        return round.condition == Condition::rest || round.condition == Condition::stored;
    });
    if (telling == rounds_.end())
        return out;
    const double near = 0.012 * pack_.layout.cells_per_tap() + telling->resolution_v;
    struct Level {
        std::size_t together;
        double volts;
        std::vector<int> others;
    };
    std::vector<Level> levels;
    for (const auto& v : telling->volts) {
        if (!v)
            continue;
        Level level{0, *v, {}};
        for (std::size_t g = 0; g < telling->volts.size(); ++g)
            if (const auto& w = telling->volts[g]; w && std::fabs(*w - *v) <= near)
                ++level.together;
            else if (w)
                level.others.push_back(static_cast<int>(g));
        levels.push_back(std::move(level));
    }
    std::stable_sort(levels.begin(), levels.end(), [](const Level& a, const Level& b) {
        return std::tie(b.together, b.volts) < std::tie(a.together, a.volts);
    });
    if (!levels.empty()) { // the highest, too: what is sound holds more than what is not
        const auto highest = std::max_element(levels.begin(), levels.end(),
                                              [](const Level& a, const Level& b) { return a.volts < b.volts; });
        std::iter_swap(levels.begin() + static_cast<std::ptrdiff_t>(std::min<std::size_t>(1, levels.size() - 1)),
                       highest);
    }
    for (const Level& level : levels)
        if (out.size() < most_starts && std::find(out.begin(), out.end(), level.others) == out.end() &&
            static_cast<int>(level.others.size()) < pack_.layout.series)
            out.push_back(level.others);
    return out;
}

Hypothesis Posterior::weighed(std::vector<Part> parts) {
    Hypothesis h;
    h.parts = std::move(parts);
    weight_of(h);
    return h;
}

void Posterior::add_for_the_whole_pack() {
    hypotheses_.push_back(weighed({}));
    hypotheses_.push_back(weighed({{Fault::latched_board, {}}}));
    hypotheses_.push_back(weighed({{Fault::elsewhere, {}}}));
    if (pack_.layout.series > 1 && still_read()) // one group alone is a dead group
        hypotheses_.push_back(weighed({{Fault::all_discharged, {}}}));
    if (pack_.layout.series > 2 && !rounds_.empty()) { // all groups apart
        const auto chances = chances_to_lead();
        for (int g = 0; g < pack_.layout.series; ++g)
            if (const double chance = chances[static_cast<std::size_t>(g)]; chance > 0.01) {
                hypotheses_.push_back(weighed({{Fault::imbalance, {g}, true}}));
                hypotheses_.back().log_weight += std::log(chance);
            }
    }
    if (pack_.layout.series == 1) // there is no level to stand apart from
        for (const Fault fault : {Fault::weak_group, Fault::high_resistance_joint})
            hypotheses_.push_back(weighed({{fault, {0}}}));
}

// By the gains that they were proposed with: thousands may be, few are worth a level of their own.
std::vector<std::vector<Part>> Posterior::most_likely(const Proposed& proposed) const {
    // With nothing read all are alike, and none may be left out.
    const std::size_t most = rounds_.empty() ? proposed.size() : 70;
    std::vector<std::pair<double, const std::vector<Part>*>> order;
    order.reserve(proposed.size());
    for (const auto& [parts, gain] : proposed)
        order.emplace_back(gain + prior_log(parts), &parts);
    std::stable_sort(order.begin(), order.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<std::vector<Part>> out;
    for (const auto& [gain, parts] : order)
        if (out.size() < most)
            out.push_back(*parts);
    return out;
}

void Posterior::search() {
    Proposed proposed;
    for (std::vector<int> bad : starts())
        for (int turn = 0; turn < 3; ++turn) { // until the level and the bad ones agree
            const Options options = options_at(bad);
            propose(options, proposed);
            propose_moved_together(options, context(bad), proposed);
            constexpr double even = 0.3;
            std::set<int> now;
            for (const Part& part : best_parts(options, even, Fault::leaking_cell))
                now.insert(part.groups.begin(), part.groups.end());
            std::vector<int> next(now.begin(), now.end());
            if (next == bad || static_cast<int>(next.size()) >= pack_.layout.series)
                break;
            bad = std::move(next);
        }
    add_for_the_whole_pack();
    constexpr double far_apart = 4; // deviations between the terminals and the groups' sum
    const bool open_board = terminal_shift_ && std::fabs(*terminal_shift_) > far_apart * terminal_sd_;
    for (const std::vector<Part>& parts : most_likely(proposed)) {
        hypotheses_.push_back(weighed(parts));
        if (open_board) {
            auto latched = parts;
            latched.push_back({Fault::latched_board, {}});
            std::sort(latched.begin(), latched.end());
            hypotheses_.push_back(weighed(std::move(latched)));
        }
    }
    add_slips_and_unnamed();
    std::vector<double> logs;
    logs.reserve(hypotheses_.size());
    for (const Hypothesis& h : hypotheses_)
        logs.push_back(h.log_weight);
    const double total = log_sum(logs);
    for (Hypothesis& h : hypotheses_)
        h.log_weight -= total;
    std::stable_sort(hypotheses_.begin(), hypotheses_.end(),
                     [](const Hypothesis& a, const Hypothesis& b) { return a.log_weight > b.log_weight; });
}

// Whole-pack states by their own chances; sets of bad groups by how many packs have so many, and of what kinds.
double Posterior::prior_log(const std::vector<Part>& parts) const {
    if (parts.empty())
        return std::log(prior_of(knowledge_, Fault::healthy));
    const double levels = chemistry_.lithium ? 1 : knowledge_.levels_itself;
    double sum = 0;
    std::vector<const Part*> of_groups;
    for (const Part& part : parts) {
        if (part.whole_pack_spread)
            sum += std::log(prior_of(knowledge_, Fault::imbalance) * spread_share * levels);
        else if (part.groups.empty())
            sum += std::log(parts.size() == 1 ? prior_of(knowledge_, part.fault) : board_beside);
        else
            of_groups.push_back(&part);
        if (is_of_the_unit(part.fault) &&
            std::any_of(pack_.replaced.begin(), pack_.replaced.end(), [&](int g) { return touches(part, g - 1); }))
            sum += std::log(persists_after_replacing);
    }
    if (of_groups.empty())
        return sum;
    const int series = pack_.layout.series;
    const double count = static_cast<double>(of_groups.size());
    const double one_imbalance = std::log((1 - spread_share) * levels);
    std::vector<double> logs;
    logs.reserve(expected_.shares.size() * group_faults.size());
    for (const Expected::Share& share : expected_.shares)
        for (const Fault theme : group_faults) {
            const auto& under = expected_.under[static_cast<std::size_t>(theme)];
            double log = share.log_weight + expected_.leads[static_cast<std::size_t>(theme)] + count * share.log_bad +
                         (series - count) * share.log_sound;
            for (const Part* part : of_groups) {
                log += series > 1 ? expected_.log_of(*part, theme) : under[static_cast<std::size_t>(part->fault)];
                if (part->fault == Fault::imbalance)
                    log += one_imbalance;
            }
            logs.push_back(log);
        }
    return sum + expected_.log_some + log_sum(logs);
}

} // namespace ingot::triage_detail
