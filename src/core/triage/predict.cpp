#include "core/triage/predict.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ingot::triage_detail {

namespace {

// All spreads and grids here are common practice, no source; the benchmark (benchmarks/triage.cpp) measures what they
// are worth on packs that were made without them.
constexpr double typical_sag_v = 0.05;     // a light load on a used cell
constexpr double odd_cell_load_sd_v = 0.1; // of a dead or reversed cell in a module under load
constexpr double turns_under_load = 0.3, turned_cell_load_sd_v = 0.6; // its siblings' current drives it under zero
constexpr double load_timing_sd_v = 0.003;
constexpr double end_of_charge_sd_v = 0.004;
constexpr double end_of_charge_charge_sd = 0.004;
constexpr double usual_leak_of_lithium = 0.0003, usual_leak_of_others = 0.002; // of its capacity, a day
constexpr double leak_step = 0.45;         // half the way to the next rate tried, relative
constexpr double between_stiffness = 0.13; // half the way to the next stiffness tried, relative
constexpr double between_end_shares = 0.1; // of the charge lost at rest, half the way to the next share tried
constexpr double left_when_used_up = 0.05; // at most: a group recovers once the load is off
constexpr double sinks_by = 0.25, sinks_by_sd = 0.35; // of a dead group's voltage, in storage
constexpr double near_empty_charge = 0.08, gives_way_v = 0.2, gives_way_sags = 3;
constexpr double often_ahead = 0.6; // a group that is out of balance: ahead of the others
// Makes differ in their curves: a charge far from the siblings' is read off one so well, relative.
constexpr double curve_share = 0.2;
// How much oftener a fault is large than slight when a pack comes to the bench: powers of its size.
constexpr double seldom_slight_leak = 0.8, seldom_slightly_weak = 0.5, seldom_slightly_ahead = 0.4;
// Levelled on the bench where it stands: then a leak has lost nothing yet, and what a weak group lacks does not show.
constexpr double leaks_from_level = 0.1, seldom_at_level = 0.05, often_at_level = 0.5;

// Resistance climbs near empty; relative to half full.
double resistance_at(double charge) {
    return 1 + 1.5 * std::exp(-std::max(charge, 0.0) / 0.07);
}

std::vector<double> log_steps(double from, double to, int count) {
    std::vector<double> out;
    out.reserve(static_cast<std::size_t>(count));
    for (int i = 0; i < count; ++i)
        out.push_back(from * std::pow(to / from, static_cast<double>(i) / (count - 1)));
    return out;
}

} // namespace

void Severity::add_factor(const Factor& factor) {
    for (std::size_t i = 0; i < size; ++i)
        for (std::size_t j = 0; j <= i; ++j)
            covariance[at(i, j)] += factor[i] * factor[j];
}

Predictor::Predictor(const TriageCase& pack, const Chemistry& chemistry, const TriageKnowledge& knowledge,
                     const LongOcv& ocv, const std::vector<Round>& rounds, std::vector<Reference> references,
                     Looseness looseness)
    : pack_(pack), chemistry_(chemistry), knowledge_(knowledge), rounds_(rounds), references_(std::move(references)),
      ocv_(ocv), cells_(pack.layout.cells_per_tap()), looseness_(looseness) {
    // The resting voltage of the siblings: at rest, else stored, else what load or charge lets guess.
    const auto first_of = [&](Condition condition) -> const Reference* {
        for (std::size_t r = 0; r < rounds_.size(); ++r)
            if (rounds_[r].condition == condition && references_[r].known)
                return &references_[r];
        return nullptr;
    };
    if (const Reference* at_rest = first_of(Condition::rest))
        rest_v_ = at_rest->volts;
    else if (const Reference* stored = first_of(Condition::stored))
        rest_v_ = stored->volts;
    else if (const Reference* load = first_of(Condition::load))
        rest_v_ = load->volts + typical_sag_v * cells_;
    else if (const Reference* end = first_of(Condition::end_of_charge))
        rest_v_ = end->volts - 0.03 * cells_;
    else
        rest_v_ = ocv_.volts(0.5) * cells_;
    for (std::size_t r = 0; r < rounds_.size(); ++r) {
        if (!references_[r].known) { // borrowed: nothing of this round is known from sound siblings
            const bool end = rounds_[r].condition == Condition::end_of_charge;
            const bool load = rounds_[r].condition == Condition::load;
            references_[r].volts = end ? chemistry.full_v * cells_ : load ? rest_v_ - typical_sag_v * cells_ : rest_v_;
            references_[r].extra_sd = (end ? 0.03 : load ? 0.06 : 0.010) * cells_;
        }
        // Storage takes next to nothing from the siblings: what their voltage does meanwhile is recovery, not charge.
        const bool stored = rounds_[r].condition == Condition::stored && first_of(Condition::rest) != nullptr;
        const double volts = stored || rounds_[r].condition == Condition::load ? rest_v_ : references_[r].volts;
        charges_.push_back(ocv_.charge(volts / cells_) - (stored ? usual_leak_per_day() * rounds_[r].days : 0));
    }
}

double Predictor::sag(std::size_t round) const {
    return std::max(rest_v_ - references_[round].volts, 0.002 * cells_);
}

double Predictor::usual_leak_per_day() const {
    return chemistry_.lithium ? usual_leak_of_lithium : usual_leak_of_others;
}

// Where the curve of a lithium cell is flat, its groups' voltages agree better than elsewhere.
double Predictor::flatness(double charge) const {
    constexpr double steep_v = 0.3, least = 0.3; // V per unit of charge
    return chemistry_.lithium ? std::clamp(ocv_.slope(charge) / steep_v, least, 1.0) : 1.0;
}

bool Predictor::visible(const Severity& severity, const Taken& taken) const {
    constexpr double meters = 2.5, digits = 1.2;
    if (!pack_.resistances.empty() || pack_.layout.series == 1) // something else than a distance may show it
        return true;
    for (std::size_t k = 0; k < taken.size() && k < severity.size; ++k)
        if (std::fabs(severity.mean[k]) > meters * knowledge_.meter_error_v + digits * rounds_[taken[k]].resolution_v)
            return true;
    return false;
}

double Predictor::odd_cells_v(const Latent& l) const {
    return *l.level_v - (l.odd > 0 ? rest_v_ * (cells_ - l.odd) / cells_ : 0);
}

double Predictor::charge_of(std::size_t round) const {
    return charges_[round];
}

double Predictor::expected(const Latent& l, std::size_t round) const {
    const Condition condition = rounds_[round].condition;
    const double reference = references_[round].volts;
    if (l.level_v) {
        switch (condition) {
        case Condition::rest:
            return *l.level_v - reference + l.offset_v;
        case Condition::stored: // what is dead sinks on, more or less; what is not does as its siblings do
            return (1 - sinks_by) * odd_cells_v(l) - reference * (l.odd > 0 ? l.odd / cells_ : 1) + l.offset_v;
        case Condition::load:
            if (l.odd > 0)
                return *l.level_v - sag(round) * (cells_ - l.odd) / cells_ - reference - l.level_load_sd * 0.5 +
                       l.offset_v;
            return *l.level_v - 2 * sag(round) - reference - l.level_load_sd * 0.5 + l.offset_v;
        case Condition::charge:
        case Condition::end_of_charge:
            return 0.5 * (*l.level_v + chemistry_.full_v * cells_) - reference + l.offset_v;
        }
    }
    const double s = charge_of(round);
    const double moving = l.of_cells > 0 ? l.of_cells : cells_;
    const auto moved = [&](double by) { return moving * (ocv_.volts(s + by) - ocv_.volts(s)); };
    switch (condition) {
    case Condition::rest:
        return moved(l.charge) + l.offset_v;
    case Condition::stored:
        return moved(l.charge - l.per_day * rounds_[round].days) + l.offset_v;
    case Condition::end_of_charge: {
        const double siblings = s + l.siblings_at_end;
        return moving * (ocv_.volts(siblings + l.charge_at_end) - ocv_.volts(siblings)) + l.offset_v;
    }
    case Condition::charge: // its sag is negative
    case Condition::load: {
        // Only the cells that are emptier than their siblings are stiffer for it.
        const double stiffer = 1 + moving / cells_ * (resistance_at(s + l.charge) / resistance_at(s) - 1);
        return moved(l.charge) - sag(round) * ((1 + l.sag) * stiffer - 1) - l.joint_v + l.offset_v;
    }
    }
    return 0;
}

Severity Predictor::severity(const Latent& l, const Taken& taken, double charge_sd) const {
    Severity out;
    const std::size_t n = taken.size();
    out.size = n;
    Factor by_charge{}, by_capacity{}, by_resistance{}, by_leak{}, by_load{}, by_end{}, by_curve{};
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t r = taken[i];
        const Condition condition = rounds_[r].condition;
        out.mean[i] = expected(l, r);
        // Half of it is the curve's, the same in every reading; half is recovery that is not over, each time another.
        const double half_ocv_v = knowledge_.usual_ocv_v * flatness(charge_of(r)) * std::sqrt(cells_ / 2);
        by_curve[i] = half_ocv_v;
        double noise = std::pow(knowledge_.meter_error_v / 2, 2) + std::pow(half_ocv_v, 2) +
                       std::pow(references_[r].extra_sd, 2) + std::pow(0.01 * out.mean[i], 2);
        const double s = charge_of(r);
        double slope = 0; // V per unit of charge
        if (!l.level_v) {
            constexpr double step = 0.01;
            Latent more = l;
            more.charge += step;
            more.charge_at_end += step;
            Latent less = l;
            less.charge -= step;
            less.charge_at_end -= step;
            slope = (expected(more, r) - expected(less, r)) / (2 * step);
        }
        by_charge[i] = slope * charge_sd;
        if (condition == Condition::end_of_charge) {
            // A module is full when one of its cells is, however the others lie.
            by_charge[i] = slope * std::hypot(charge_sd, unlike_leaks() * std::sqrt(1 - 1 / cells_));
            noise += cells_ * std::pow(end_of_charge_sd_v, 2) + std::pow(slope * end_of_charge_charge_sd, 2);
            by_end[i] = std::hypot(l.level_end_sd, slope * l.charge_at_end_sd);
        } else {
            by_capacity[i] =
                l.spread_counted ? 0 : slope * std::max(0.0, 1 - s) * knowledge_.usual_capacity * looseness_.charge;
        }
        if (condition == Condition::load) {
            by_resistance[i] =
                sag(r) * std::hypot(knowledge_.usual_resistance * looseness_.resistance * (1 + l.sag), l.sag_sd);
            noise += std::pow(load_timing_sd_v, 2) * cells_ + std::pow(0.03 * sag(r), 2);
            // Near empty a group gives way under load, more or less.
            const double moving = l.of_cells > 0 ? l.of_cells : cells_;
            const double gives_way = std::min(gives_way_v, gives_way_sags * sag(r) / cells_);
            const double emptiness = std::clamp(1 - (s + l.charge) / near_empty_charge, 0.0, 1.0);
            by_load[i] = l.level_v ? l.level_load_sd : l.charge < 0 ? gives_way * moving * emptiness : 0;
        }
        if (condition == Condition::stored && l.level_v)
            by_leak[i] = sinks_by_sd * std::fabs(odd_cells_v(l));
        else if (condition == Condition::stored)
            by_leak[i] = slope * std::max(usual_leak_per_day(), leak_step * l.per_day) * rounds_[r].days;
        out.covariance[Severity::at(i, i)] = noise * references_[r].inflation;
        const double widen = std::sqrt(references_[r].inflation);
        for (Factor* f : {&by_charge, &by_capacity, &by_resistance, &by_leak, &by_curve})
            (*f)[i] *= widen;
    }
    for (const Factor* f : {&by_charge, &by_capacity, &by_resistance, &by_leak, &by_load, &by_end, &by_curve})
        out.add_factor(*f);
    return out;
}

int Predictor::deep_readings(const Taken& taken, const std::vector<double>& x) const {
    int count = 0;
    for (std::size_t i = 0; i < taken.size(); ++i)
        count += x[i] + references_[taken[i]].volts < chemistry_.bands.deep_below_v * cells_;
    return count;
}

bool Predictor::held_charge(const Taken& taken, const std::vector<double>& x) const {
    double deep_since = -1; // days
    for (std::size_t i = 0; i < taken.size(); ++i)
        if (rounds_[taken[i]].condition == Condition::stored &&
            x[i] + references_[taken[i]].volts < chemistry_.bands.deep_below_v * cells_)
            deep_since = std::max(deep_since, rounds_[taken[i]].days);
    for (std::size_t i = 0; i < taken.size(); ++i) {
        const Round& round = rounds_[taken[i]];
        const double volts = x[i] + references_[taken[i]].volts;
        if (round.condition == Condition::end_of_charge && volts > chemistry_.floor_v * cells_)
            return true;
        if ((round.condition == Condition::rest || round.condition == Condition::stored) && round.days < deep_since &&
            volts > chemistry_.bands.deep_below_v * cells_)
            return true;
    }
    return false;
}

bool Predictor::under_deep(const Taken& taken, const std::vector<double>& x) const {
    if (cells_ > 1) // one dead cell does not bring a module there
        return false;
    for (std::size_t i = 0; i < taken.size(); ++i)
        if ((rounds_[taken[i]].condition == Condition::rest || rounds_[taken[i]].condition == Condition::stored) &&
            x[i] + references_[taken[i]].volts < chemistry_.bands.deep_below_v)
            return true;
    return false;
}

std::vector<double> Predictor::siblings_at_end(const Taken& taken) const {
    constexpr double curves_differ_v = 0.010, flat = 0.1; // volts and charge of one cell
    for (const std::size_t r : taken)
        if (rounds_[r].condition == Condition::end_of_charge && chemistry_.lithium) {
            const double volts = references_[r].volts / cells_;
            const double least = ocv_.charge(volts - curves_differ_v), most = ocv_.charge(volts + curves_differ_v);
            if (most - least > flat)
                return {least - charge_of(r), 0.0, most - charge_of(r)};
        }
    return {0.0};
}

double Predictor::deepest_loss() const {
    return ocv_.charge(rest_v_ / cells_) - ocv_.charge(chemistry_.bands.deep_below_v);
}

std::vector<double> Predictor::losses(double from, double most, int count) const {
    constexpr int at_the_end = 4; // close steps where the curve falls away
    const double deepest = deepest_loss();
    if (deepest <= from)
        return {};
    if (deepest >= most)
        return log_steps(from, most, count);
    auto out = log_steps(from, std::max(from, 0.9 * deepest), count - at_the_end);
    for (int i = 1; i <= at_the_end; ++i)
        out.push_back(deepest * (0.9 + 0.1 * i / at_the_end));
    return out;
}

void Predictor::along(std::vector<Severity>& list, const std::vector<Latent>& path, const Taken& taken,
                      const std::vector<double>& amounts, const std::vector<double>& chances, double weight) const {
    if (path.empty())
        return;
    const std::size_t first = list.size();
    const double of_all = std::accumulate(chances.begin(), chances.end(), 0.0);
    for (std::size_t i = 0; i < path.size(); ++i) {
        list.push_back(severity(path[i], taken, usual_charge_sd()));
        list.back().amount = amounts[i];
        const bool shows = visible(list.back(), taken) || (path[i].holds_less && !pack_.capacities.empty());
        list.back().log_weight = std::log(weight * chances[i] / of_all) - (shows ? 0 : shows_nowhere);
    }
    for (std::size_t i = 0; i < path.size() && path.size() > 1; ++i) {
        const std::size_t a = first + (i == 0 ? 0 : i - 1);
        const std::size_t b = first + (i + 1 == path.size() ? i : i + 1);
        for (std::size_t k = 0; k < taken.size(); ++k)
            list[first + i].blur[k] = (list[b].mean[k] - list[a].mean[k]) / static_cast<double>(b - a) * smoothing;
    }
}

// Severities of one fault, put together path by path: along a path the fault grows, and neighbours blur into each
// other.
struct Predictor::Paths {
    Paths(const Predictor& predictor, const Taken& rounds) : by(predictor), taken(rounds) { out.reserve(64); }
    void add(const Latent& latent, double amount, double chance = 1) {
        path.push_back(latent);
        amounts.push_back(amount);
        chances.push_back(chance);
    }
    void end(double weight) {
        by.along(out, path, taken, amounts, chances, weight);
        path.clear();
        amounts.clear();
        chances.clear();
    }
    [[nodiscard]] bool read(Condition condition) const {
        return std::any_of(taken.begin(), taken.end(),
                           [&](std::size_t r) { return by.rounds_[r].condition == condition; });
    }
    // Charged, and read when that ended, after it was read at rest: rounds stand in the order in which they were taken.
    [[nodiscard]] bool charged_later() const {
        bool rested = false;
        for (const std::size_t r : taken) {
            if (rested && by.rounds_[r].condition == Condition::end_of_charge)
                return true;
            rested = rested || by.rounds_[r].condition == Condition::rest;
        }
        return false;
    }

    const Predictor& by;
    const Taken& taken;
    std::vector<Severity> out;
    std::vector<Latent> path;
    std::vector<double> amounts;
    std::vector<double> chances;
};

// `odd`: cells of a module that are dead or the wrong way round, where the others follow their siblings.
Predictor::Latent Predictor::at_level(double volts, int odd) const {
    Latent l;
    l.level_v = volts;
    l.odd = odd;
    l.level_load_sd =
        odd > 0 ? odd_cell_load_sd_v * odd : std::min(0.25, 0.2 * std::fabs(volts) / cells_ + 0.02) * cells_;
    l.level_end_sd = 0.4 * chemistry_.full_v * (odd > 0 ? odd : cells_);
    return l;
}

void Predictor::dead_group(Paths& paths) const {
    const auto level = [&](double volts, int odd = 0) { paths.add(at_level(volts, odd), volts); };
    const bool module = cells_ > 1;
    const double deep = chemistry_.bands.deep_below_v * cells_;
    const double low = chemistry_.bands.low_below_v * cells_;
    const double whole = module ? 0.4 : 0.97;
    for (int i = 0; i < 16; ++i)
        level(deep * (i + 0.5) / 16);
    paths.end(whole);
    if (!module) { // what has only just sunk under the band of working groups
        for (int i = 0; i < 3; ++i)
            level(deep + 0.5 * (low - deep) * (i + 0.5) / 3);
        paths.end(1 - whole);
    }
    for (int dead = 1; module && dead < pack_.layout.cells_per_tap(); ++dead) {
        const double often = (1 - whole) * (dead == 1 ? 0.75 : 0.25 * std::pow(0.5, dead - 1));
        const bool loaded = paths.read(Condition::load);
        for (const bool turns : loaded ? std::vector<bool>{false, true} : std::vector<bool>{false}) {
            for (int i = 0; i < 5; ++i) { // the dead ones still show up to a third of a cell's voltage
                const double volts = rest_v_ * (cells_ - dead + 0.33 * (i + 0.3) / 5) / cells_;
                Latent l = at_level(volts, dead);
                if (turns)
                    l.level_load_sd = turned_cell_load_sd_v * dead;
                paths.add(l, volts);
            }
            paths.end(often * (!loaded ? 1 : turns ? turns_under_load : 1 - turns_under_load));
        }
    }
}

// At the end of charge the group may lack less than at rest (it leaked since), or more (the rest was used since).
void Predictor::leaking_cell(Paths& paths) const {
    const bool stored = paths.read(Condition::stored);
    const bool charged = paths.read(Condition::end_of_charge);
    const int steps = cells_ > 1 ? 24 : 11; // one cell of a module falls over a cliff that the others do not see
    // A charge in series leaves what is missing as it is: where the pack was charged after it was read at rest, as much
    // is missing then, or a little more. Where it was charged before, the group leaked on after it, and less was
    // missing.
    using Share = std::pair<double, double>; // of the charge missing at rest, how often
    const std::vector<Share> shares =
        !charged                ? std::vector<Share>{{1.0, 1.0}}
        : paths.charged_later() ? std::vector<Share>{{1.15, 0.15}, {1.0, 0.67}, {0.7, 0.06}, {0.35, 0.06}, {0.05, 0.06}}
                                : std::vector<Share>{{1.2, 0.2}, {1.0, 0.4}, {0.7, 0.2}, {0.35, 0.1}, {0.05, 0.1}};
    for (const auto& [end_share, often] : shares)
        for (const double per_day : stored ? log_steps((chemistry_.lithium ? 5 : 2) * usual_leak_per_day(), 0.15, 6)
                                           : std::vector<double>{0.01}) {
            for (const double lost : losses(0.025, 1.1, stored ? steps : charged ? 18 : 15)) {
                Latent l;
                l.charge = -lost;
                l.charge_at_end = -lost * end_share;
                l.charge_at_end_sd = lost * between_end_shares;
                l.per_day = per_day;
                l.sag = 0.05;
                l.of_cells = 1;
                paths.add(l, per_day, cells_ > 1 ? 1 : std::pow(lost, seldom_slight_leak));
            }
            paths.end((stored ? 1 - leaks_from_level : 1.0) * often / (stored ? 6 : 1));
        }
    if (!stored)
        return;
    for (const double per_day : log_steps((chemistry_.lithium ? 5 : 2) * usual_leak_per_day(), 0.15, 10)) {
        Latent l;
        l.per_day = per_day;
        l.of_cells = 1;
        paths.add(l, per_day);
    }
    paths.end(leaks_from_level);
}

void Predictor::weak_group(Paths& paths) const {
    const bool module = cells_ > 1;
    // Groups whose capacity was measured were charged one by one, too.
    const double at_level = pack_.capacities.empty() ? seldom_at_level : often_at_level;
    const double used = 1 - std::clamp(ocv_.charge(rest_v_ / cells_), 0.0, 1.0);
    const double least = 0.15 / 0.85, most = 3; // 15 to 75 % of the capacity missing
    for (const double stiff : {0.6, 1.0, 1.5, 2.2})
        for (const double ahead : {0.0, 0.015})
            for (const bool one_cell : {false, true}) { // of a module
                if (one_cell && !module)
                    continue;
                for (const double lost : used < 0.02 ? log_steps(least, most, module ? 12 : 20)
                                                     : losses(least * used, most * used, module ? 14 : 22)) {
                    Latent l;
                    const double more = used < 0.02 ? lost : lost / used;
                    const double missing = more / (1 + more);
                    l.charge = -used * more + ahead;
                    l.charge_at_end = ahead - usual_leak_per_day() * days_since_level * more;
                    // What leaves every unit while it stands is a larger part of one that holds less.
                    l.charge_at_end_sd = 0.5 * usual_leak_per_day() * days_since_level * more;
                    const double stiffer = more / (one_cell ? cells_ : 1.0);
                    l.sag = stiff * stiffer;
                    l.sag_sd = between_stiffness * stiff * stiffer;
                    l.per_day = usual_leak_per_day() * more; // of what it holds
                    l.of_cells = one_cell ? 1 : 0;
                    l.holds_less = true;
                    paths.add(l, missing, module ? 1 : std::pow(missing, seldom_slightly_weak));
                }
                paths.end((1 - at_level) / (module ? 16 : 8));
            }
    for (const double stiff : {0.6, 1.0, 1.5, 2.2}) {
        for (const double more : log_steps(least, most, 8)) {
            const double missing = more / (1 + more);
            Latent l;
            l.sag = stiff * more / (module ? 2.0 : 1.0); // in all cells of a module, or in one
            l.sag_sd = between_stiffness * l.sag;
            l.holds_less = true;
            paths.add(l, missing, std::pow(missing, seldom_slightly_weak));
        }
        paths.end(at_level / 4);
    }
}

void Predictor::disconnected_cell(Paths& paths) const {
    const int parallel = pack_.layout.parallel;
    for (int gone = 1; gone < std::min(parallel, 3); ++gone) {
        const double missing = static_cast<double>(gone) / parallel;
        for (const double sag_share : {0.85, 1.0, 1.15}) {
            constexpr std::array<double, 6> shares{0.55, 0.7, 0.85, 1.0, 1.15, 1.3}; // of what the siblings tell
            for (std::size_t i = 0; i < shares.size(); ++i) {
                Latent l;
                const double s = std::clamp(ocv_.charge(rest_v_ / cells_), 0.0, 1.0);
                // The pack was used until this group was empty at most: no group stands full enough for more.
                constexpr double beyond_empty = 0.05;
                const double emptied = 1 - static_cast<double>(i) / (shares.size() - 1);
                const double lost = (1 - s) * missing / (1 - missing) * shares[i];
                const double most = std::max(0.0, s - left_when_used_up * emptied);
                if (lost > most + beyond_empty)
                    continue;
                l.charge = -std::min(lost, most);
                l.sag = sag_share * missing / (1 - missing);
                l.holds_less = true;
                paths.add(l, missing);
            }
            paths.end((gone == 1 ? 0.85 : 0.15) / 3);
        }
    }
}

void Predictor::imbalance(Paths& paths, int steps) const {
    const std::vector<double> siblings = siblings_at_end(paths.taken);
    for (const double fuller : siblings)
        for (const double sign : {1.0, -1.0}) {
            constexpr double least = 0.05; // of charge; less is how groups lie anyway
            for (const double apart : sign > 0 ? log_steps(least, 0.6, steps) : losses(least, 0.6, steps + 2)) {
                Latent l;
                l.charge = l.charge_at_end = sign * apart;
                l.charge_at_end_sd = curve_share * apart;
                l.siblings_at_end = fuller;
                paths.add(l, sign * apart, sign > 0 ? std::pow(apart, seldom_slightly_ahead) : 1);
            }
            paths.end((sign > 0 ? often_ahead : 1 - often_ahead) / static_cast<double>(siblings.size()));
        }
}

void Predictor::sense_fault(Paths& paths) const {
    for (const double sign : {1.0, -1.0}) {
        for (const double low_by : log_steps(0.05 * cells_, 1.3 * chemistry_.full_v * cells_, 30)) {
            Latent l;
            l.offset_v = -sign * low_by;
            paths.add(l, sign * low_by);
        }
        paths.end(0.5);
    }
}

void Predictor::high_resistance_joint(Paths& paths) const {
    double middle = typical_sag_v * cells_;
    for (const std::size_t r : paths.taken)
        if (rounds_[r].condition == Condition::load)
            middle = sag(r);
    for (const double joint : log_steps(std::max(0.4 * middle, 0.008), 2.5 * cells_, 20)) {
        Latent l;
        l.joint_v = joint;
        paths.add(l, joint);
    }
    paths.end(1.0);
}

void Predictor::reversed_unit(Paths& paths) const {
    const auto level = [&](double volts, int odd = 0) { paths.add(at_level(volts, odd), volts); };
    const bool module = cells_ > 1;
    if (!module || pack_.layout.parallel == 1) {
        for (int i = 0; i < 14; ++i)
            level(-rest_v_ * (0.05 + 1.05 * (i + 0.5) / 14));
        paths.end(module ? 0.15 : 1.0);
    }
    for (int turned = 1; module && 2 * turned < pack_.layout.cells_per_tap(); ++turned) {
        level(rest_v_ * (cells_ - 2.0 * turned) / cells_ + 0.05, turned);
        level(rest_v_ * (cells_ - 2.0 * turned) / cells_ - 0.05, turned);
        paths.end(turned == 1 ? 0.75 : 0.1);
    }
}

std::vector<Severity> Predictor::fault(Fault fault, const Taken& taken) const {
    Paths paths(*this, taken);
    switch (fault) {
    case Fault::dead_group:
        dead_group(paths);
        break;
    case Fault::leaking_cell:
        leaking_cell(paths);
        break;
    case Fault::weak_group:
        weak_group(paths);
        break;
    case Fault::disconnected_cell:
        disconnected_cell(paths);
        break;
    case Fault::imbalance:
        imbalance(paths, 12);
        break;
    case Fault::sense_fault:
        sense_fault(paths);
        break;
    case Fault::high_resistance_joint:
        high_resistance_joint(paths);
        break;
    case Fault::reversed_unit:
        reversed_unit(paths);
        break;
    case Fault::healthy:
    case Fault::latched_board:
    case Fault::all_discharged:
    case Fault::elsewhere:
        return healthy(taken);
    }
    return std::move(paths.out);
}

std::vector<Severity> Predictor::moved_together(const Taken& taken) const {
    Paths paths(*this, taken);
    imbalance(paths, cells_ > 1 ? 16 : 48); // a row of modules is read too coarsely for more
    return std::move(paths.out);
}

std::vector<Severity> Predictor::sense_pair(const Taken& first, const Taken& second) const {
    std::vector<Severity> low = fault(Fault::sense_fault, first);
    std::vector<Severity> high = fault(Fault::sense_fault, second);
    // The list runs over both signs with equal steps: the second half mirrors the first.
    const std::size_t half = low.size() / 2;
    for (std::size_t i = 0; i < low.size(); ++i) {
        Severity& a = low[i];
        const Severity& b = high[i < half ? i + half : i - half];
        // What is not known of the error is shared with opposite signs; everything else is each group's own.
        for (std::size_t k = 0; k < b.size; ++k) {
            a.mean[a.size + k] = b.mean[k];
            a.blur[a.size + k] = b.blur[k];
            for (std::size_t j = 0; j <= k; ++j)
                a.covariance[Severity::at(a.size + k, a.size + j)] = b.covariance[Severity::at(k, j)];
        }
        a.size += b.size;
    }
    return low;
}

} // namespace ingot::triage_detail
