// Which reading next? For each reading that one could take, how much oftener the first explanation would be right after
// it, and how much it tells of the explanations at all.
#include "core/triage/posterior.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <map>
#include <numbers>
#include <numeric>
#include <set>

namespace ingot::triage_detail {

namespace {

constexpr double decided = 0.97;          // nothing more to settle
constexpr std::size_t most_compared = 14; // hypotheses, from the most probable
constexpr std::size_t most_groups = 6;    // that a reading is weighed at
constexpr double finest_v = 0.004;        // the grid of outcomes is finest about zero
constexpr int grid_points = 261;
constexpr double worthwhile_bits = 0.02;
constexpr double of_a_bit = 0.05;     // its worth where it does not change what comes first
constexpr double seconds_share = 1.5; // what a reading is worth that costs seconds
constexpr double first_bits = 0.05;   // of the terminals: so much, and they go before anything that takes longer

struct Compared {
    const Hypothesis* hypothesis;
    double probability;
};

// What an outcome tells: mutual information with the explanation, and the chance that the one which leads then is
// right.
struct Telling {
    double bits = 0;
    double right = 0;
};

// The share of a normal outcome below z deviations, to 1e-6, from a table: asked some hundred thousand times a pack.
double share_below(double z) {
    constexpr double reach = 7; // beyond it 1.3e-12
    constexpr int per_deviation = 400;
    static const auto table = [] {
        std::array<double, 2 * static_cast<std::size_t>(reach) * per_deviation + 2> shares{};
        for (std::size_t i = 0; i < shares.size(); ++i)
            shares[i] = 0.5 * std::erfc((reach - static_cast<double>(i) / per_deviation) / std::numbers::sqrt2);
        return shares;
    }();
    if (z >= reach)
        return 1;
    if (z <= -reach)
        return 0;
    const double at = (z + reach) * per_deviation;
    const auto i = static_cast<std::size_t>(at);
    return table[i] + (at - static_cast<double>(i)) * (table[i + 1] - table[i]);
}

// What one group would show under one hypothesis: the chance of each step of a grid of shifts, finest about zero, where
// they differ least.
struct Foreseen {
    std::array<double, grid_points> below{}; // cumulative
    std::array<double, grid_points> log_mass{};
};

Foreseen foreseen(const std::vector<Posterior::Component>& outcome) {
    constexpr double reach = 8.3; // the grid ends at 8 V
    static const auto grid_v = [] {
        std::array<double, grid_points> x{};
        for (int i = 0; i < grid_points; ++i)
            x[static_cast<std::size_t>(i)] = finest_v * std::sinh(reach * (2.0 * i / (grid_points - 1) - 1));
        return x;
    }();
    Foreseen out;
    for (std::size_t i = 0; i < grid_v.size(); ++i)
        for (const auto& c : outcome)
            out.below[i] += c.weight * share_below((grid_v[i] - c.mean) / std::max(c.sd, 1e-4));
    constexpr double hardly = 1e-9;
    for (std::size_t i = 0; i + 1 < grid_v.size(); ++i)
        out.log_mass[i] = std::log(std::max(0.0, out.below[i + 1] - out.below[i]) + hardly);
    return out;
}

// Of groups that are read in one go (`outcomes` by hypothesis, then group; at most most_groups): played through under
// each hypothesis, the groups' outcomes spread evenly beside each other (Weyl's sequence of square roots).
Telling told_by(const std::vector<double>& p, const std::vector<std::vector<Foreseen>>& outcomes) {
    static const std::array<double, most_groups> steps{std::sqrt(2.0), std::sqrt(3.0),  std::sqrt(5.0),
                                                       std::sqrt(7.0), std::sqrt(11.0), std::sqrt(13.0)};
    constexpr int plays = 128;
    constexpr double never = 1e-12;
    const std::size_t groups = outcomes.front().size();
    std::vector<double> before(p.size());
    for (std::size_t h = 0; h < p.size(); ++h)
        before[h] = std::log(std::max(p[h], never));
    Telling out;
    std::vector<double> logs;
    for (std::size_t h = 0; h < p.size(); ++h)
        for (int play = 0; play < plays; ++play) {
            logs = before;
            for (std::size_t g = 0; g < groups; ++g) {
                const auto& below = outcomes[h][g].below;
                const double u = std::fmod((play + 0.5) * steps[g], 1.0);
                const double share = below.front() + (below.back() - below.front()) * u;
                const auto above = std::upper_bound(below.begin() + 1, below.end() - 1, share);
                const auto step = static_cast<std::size_t>(above - below.begin()) - 1;
                for (std::size_t other = 0; other < p.size(); ++other)
                    logs[other] += outcomes[other][g].log_mass[step];
            }
            const double all = log_sum(logs);
            const double share = p[h] / plays;
            if (logs[h] >= *std::max_element(logs.begin(), logs.end()))
                out.right += share;
            out.bits += share * (logs[h] - all - before[h]) / std::numbers::ln2;
        }
    out.bits = std::max(0.0, out.bits);
    return out;
}

// Of a few outcomes, by hypothesis the chance of each.
template <std::size_t outcomes>
Telling told_by(const std::vector<double>& p, const std::vector<std::array<double, outcomes>>& chance) {
    std::array<double, outcomes> all{};
    std::array<double, outcomes> leads{};
    for (std::size_t h = 0; h < p.size(); ++h)
        for (std::size_t o = 0; o < outcomes; ++o) {
            all[o] += p[h] * chance[h][o];
            leads[o] = std::max(leads[o], p[h] * chance[h][o]);
        }
    Telling out;
    for (std::size_t h = 0; h < p.size(); ++h)
        for (std::size_t o = 0; o < outcomes; ++o)
            if (p[h] > 0 && chance[h][o] > 0 && all[o] > 0)
                out.bits += p[h] * chance[h][o] * std::log2(chance[h][o] / all[o]);
    out.bits = std::max(0.0, out.bits);
    out.right = std::accumulate(leads.begin(), leads.end(), 0.0);
    return out;
}

bool has(const Hypothesis& h, Fault fault, int group) {
    return std::any_of(h.parts.begin(), h.parts.end(), [&](const Part& p) {
        return p.fault == fault && (group < 0 || std::find(p.groups.begin(), p.groups.end(), group) != p.groups.end());
    });
}

// Weighs every reading that could come next by how much it tells the leading explanations apart.
class Settling {
public:
    explicit Settling(Posterior& posterior) : posterior_(posterior) {
        double total = 0;
        for (const Hypothesis& h : posterior.hypotheses()) {
            if (h.unnamed)
                continue;
            compared_.push_back({&h, std::exp(h.log_weight)});
            total += compared_.back().probability;
            if (compared_.size() == most_compared)
                break;
        }
        if (total <= 0)
            compared_.clear();
        for (const Compared& c : compared_) {
            p_.push_back(c.probability / total);
            for (const Part& part : c.hypothesis->parts)
                if (c.probability > 0.02 || groups_.empty())
                    groups_.insert(part.groups.begin(), part.groups.end());
            if (c.hypothesis->misread)
                misread_.insert(*c.hypothesis->misread);
        }
        keep_the_most_disputed();
        if (groups_.empty())
            groups_.insert(0);
        const int cells = posterior.pack().layout.cells_per_tap();
        for (const Round& r : posterior.rounds())
            for (const auto& v : r.volts)
                under_floor_ |= v && r.condition != Condition::load && *v < posterior.chemistry().floor_v * cells;
    }

    [[nodiscard]] bool settled() const { return compared_.empty() || compared_.front().probability >= decided; }

    std::optional<NextReading> best() {
        offer_rounds();
        for (const int g : groups_) {
            offer_unit_voltages(g);
            offer_lead_swap(g);
        }
        offer_repeats();
        offer_terminals();
        return std::move(best_);
    }

    // A joint shows in nothing else: no pack is called sound before it was loaded, and a load takes a minute.
    std::optional<NextReading> load_before_sound() {
        const Hypothesis* first = compared_.empty() ? nullptr : compared_.front().hypothesis;
        if (first == nullptr || !first->parts.empty() || first->misread || under_floor_ || read(Condition::load, -1) ||
            !read(Condition::rest, -1) || posterior_.series() == 1)
            return std::nullopt;
        return NextReading{ReadingKind::load, {}, 0, told({Condition::load, 0}, {*groups_.begin()}).bits, std::nullopt};
    }

private:
    [[nodiscard]] bool read(Condition condition, int group) const {
        return std::any_of(posterior_.rounds().begin(), posterior_.rounds().end(), [&](const Round& r) {
            return r.condition == condition && (group < 0 || r.volts[static_cast<std::size_t>(group)]);
        });
    }
    // In a long row many groups may be named; a reading is weighed at those of which the explanations say most unlike
    // things.
    void keep_the_most_disputed() {
        if (groups_.size() <= most_groups)
            return;
        std::vector<std::pair<double, int>> disputed; // less is more
        for (const int g : groups_) {
            std::map<std::optional<Fault>, double> said;
            for (std::size_t i = 0; i < compared_.size(); ++i) {
                const auto& parts = compared_[i].hypothesis->parts;
                const auto part =
                    std::find_if(parts.begin(), parts.end(), [g](const Part& p) { return touches(p, g); });
                said[part == parts.end() ? std::nullopt : std::optional(part->fault)] += p_[i];
            }
            double bits = 0;
            for (const auto& [fault, p] : said)
                bits += p > 0 ? p * std::log2(p) : 0;
            disputed.emplace_back(bits, g);
        }
        std::sort(disputed.begin(), disputed.end());
        groups_.clear();
        for (std::size_t i = 0; i < most_groups; ++i)
            groups_.insert(disputed[i].second);
    }
    // `share`: what a reading is worth when it takes longer or cuts something open.
    void offer(NextReading reading, const Telling& telling, double share) {
        reading.bits = telling.bits;
        const double score = share * (std::max(0.0, telling.right - p_.front()) + of_a_bit * telling.bits);
        if (telling.bits >= worthwhile_bits && score > best_score_) {
            best_score_ = score;
            best_ = std::move(reading);
        }
    }
    // A reading with two outcomes; `yes` is the chance of one of them under an explanation.
    template <class Yes> void offer_either(NextReading reading, double share, const Yes& yes) {
        std::vector<std::array<double, 2>> chances;
        chances.reserve(compared_.size());
        for (const Compared& c : compared_)
            chances.push_back({yes(*c.hypothesis), 1 - yes(*c.hypothesis)});
        offer(std::move(reading), told_by(p_, chances), share);
    }
    [[nodiscard]] Telling told(const Prospect& prospect, const std::vector<int>& groups) const {
        std::vector<std::vector<Foreseen>> outcomes(compared_.size());
        for (std::size_t h = 0; h < compared_.size(); ++h) {
            outcomes[h].reserve(groups.size());
            for (const int g : groups)
                outcomes[h].push_back(foreseen(posterior_.foresee(*compared_[h].hypothesis, g, prospect)));
        }
        return told_by(p_, outcomes);
    }
    // Of the groups that lack it.
    template <class Lacks> void offer_round(ReadingKind kind, const Prospect& prospect, double share, Lacks lacks) {
        std::vector<int> groups;
        std::copy_if(groups_.begin(), groups_.end(), std::back_inserter(groups), lacks);
        if (groups.empty())
            return;
        const Telling telling = told(prospect, groups);
        for (int& g : groups)
            ++g;
        if (kind != ReadingKind::stored) // every group
            groups.clear();
        offer({kind, groups, prospect.days, 0, std::nullopt}, telling, share);
    }
    // The shares also say what a kind keeps of its promise where packs are not as the engine has it: a load keeps all
    // of it, hours and days less, least in rows of modules, whose cells differ from each other
    // (docs/methods/triage.md).
    void offer_rounds() {
        const bool modules = posterior_.pack().layout.cells_per_tap() > 1;
        const double charged = modules ? 0.15 : posterior_.chemistry().lithium ? 0.7 : 0.5;
        const double stored = modules ? 0.25 : 0.6;
        constexpr double shorter = 1.05; // a day, against a week
        const auto not_read = [this](Condition condition) {
            return [this, condition](int g) { return !read(condition, g); };
        };
        offer_round(ReadingKind::rest, {Condition::rest, 0}, 1.0, not_read(Condition::rest));
        if (!under_floor_) {
            offer_round(ReadingKind::load, {Condition::load, 0}, 1.0, not_read(Condition::load));
            offer_round(ReadingKind::end_of_charge, {Condition::end_of_charge, 0}, charged,
                        not_read(Condition::end_of_charge));
        }
        for (const double days : {1.0, 7.0})
            offer_round(ReadingKind::stored, {Condition::stored, days}, days < 2 ? shorter * stored : stored,
                        [this, days](int g) { return days > 2 * longest_stored(g); });
    }
    [[nodiscard]] double longest_stored(int group) const { // days
        double longest = 0;
        for (const Round& r : posterior_.rounds())
            if (r.condition == Condition::stored && r.volts[static_cast<std::size_t>(group)])
                longest = std::max(longest, r.days);
        return longest;
    }
    void offer_unit_voltages(int g) {
        const auto& units = posterior_.pack().units;
        if (posterior_.pack().layout.units_per_group() == 1 ||
            std::any_of(units.begin(), units.end(), [&](const UnitVoltage& u) { return u.group == g + 1; }))
            return;
        offer_either({ReadingKind::unit_voltages, {g + 1}, 0, 0, std::nullopt}, 0.6, [g](const Hypothesis& h) {
            return has(h, Fault::disconnected_cell, g) ? 0.9
                   : has(h, Fault::dead_group, g)      ? 0.4
                   : has(h, Fault::weak_group, g)      ? 0.1
                                                       : 0.02;
        });
    }
    void offer_lead_swap(int g) {
        const auto& swaps = posterior_.pack().swaps;
        if (std::none_of(swaps.begin(), swaps.end(), [&](const LeadSwap& s) { return s.group == g + 1; }))
            offer_either({ReadingKind::lead_swap, {g + 1}, 0, 0, std::nullopt}, 1.0,
                         [g](const Hypothesis& h) { return has(h, Fault::sense_fault, g) ? 0.96 : 0.04; });
    }
    void offer_repeats() { // at once
        for (const Slip& slip : misread_) {
            const Round& of = posterior_.rounds()[slip.round];
            offer_either({ReadingKind::repeat, {slip.group + 1}, of.days, 0, of.condition}, seconds_share,
                         [&slip](const Hypothesis& h) { return h.misread == slip ? 0.002 : 0.998; });
        }
    }
    // Seconds: nothing there, as much as the groups say, or another sum: then one of them is read wrong.
    void offer_terminals() {
        if (posterior_.pack().terminal_v || !read(Condition::rest, -1))
            return;
        std::vector<std::array<double, 3>> chances;
        chances.reserve(compared_.size());
        for (const Compared& c : compared_) {
            const Hypothesis& h = *c.hypothesis;
            // Between two groups a lead takes from one what it gives to the other.
            const bool sum_is_wrong = std::any_of(h.parts.begin(), h.parts.end(), [](const Part& part) {
                return part.fault == Fault::sense_fault && part.groups.size() == 1;
            });
            chances.push_back(has(h, Fault::latched_board, -1) ? std::array{0.98, 0.01, 0.01}
                              : sum_is_wrong                   ? std::array{0.01, 0.03, 0.96}
                                                               : std::array{0.01, 0.97, 0.02});
        }
        const Telling telling = told_by(p_, chances);
        constexpr double before_all = 1e3;
        offer({ReadingKind::terminal, {}, 0, 0, std::nullopt}, telling,
              telling.bits >= first_bits ? before_all : seconds_share);
    }

    Posterior& posterior_;
    std::vector<Compared> compared_;
    std::vector<double> p_;  // of those, the first leads
    std::set<int> groups_;   // that any of them names
    std::set<Slip> misread_; // figures that may be wrong
    bool under_floor_ = false;
    std::optional<NextReading> best_;
    double best_score_ = 0;
};

} // namespace

std::optional<NextReading> settle(Posterior& posterior) {
    Settling settling(posterior);
    auto next = settling.settled() ? std::nullopt : settling.best();
    const bool takes_hours = next && (next->kind == ReadingKind::stored || next->kind == ReadingKind::end_of_charge);
    if (const auto load = !next || takes_hours ? settling.load_before_sound() : std::nullopt)
        return load;
    return next;
}

} // namespace ingot::triage_detail
