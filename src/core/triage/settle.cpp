// Which reading next? The expected gain of information about the explanation, for each reading one could take.
#include "core/triage/posterior.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace ingot::triage_detail {

namespace {

constexpr double decided = 0.97;          // nothing more to settle
constexpr std::size_t most_compared = 14; // hypotheses, from the most probable
constexpr double finest_v = 0.004;        // the grid of outcomes is finest about zero
constexpr int grid_points = 261;
constexpr double worthwhile_bits = 0.02;

struct Compared {
    const Hypothesis* hypothesis;
    double probability;
};

// Mutual information between hypothesis and a continuous outcome, in bits.
double information(const std::vector<double>& p, const std::vector<std::vector<Posterior::Component>>& outcomes) {
    const double reach = std::asinh(30.0 / finest_v);
    std::vector<double> x(grid_points);
    for (int i = 0; i < grid_points; ++i)
        x[static_cast<std::size_t>(i)] = finest_v * std::sinh(reach * (2.0 * i / (grid_points - 1) - 1));
    double bits = 0;
    std::vector<double> mass(p.size());
    std::vector<std::vector<double>> below(p.size()); // cumulative, so that narrow outcomes keep their mass
    for (std::size_t h = 0; h < p.size(); ++h)
        for (const double at : x) {
            double sum = 0;
            for (const auto& c : outcomes[h])
                sum += c.weight * 0.5 * std::erfc(-(at - c.mean) / (std::max(c.sd, 1e-4) * std::numbers::sqrt2));
            below[h].push_back(sum);
        }
    for (std::size_t i = 0; i + 1 < x.size(); ++i) {
        double all = 0;
        for (std::size_t h = 0; h < p.size(); ++h) {
            mass[h] = std::max(0.0, below[h][i + 1] - below[h][i]);
            all += p[h] * mass[h];
        }
        for (std::size_t h = 0; h < p.size(); ++h)
            if (mass[h] > 0 && all > 0 && p[h] > 0)
                bits += p[h] * mass[h] * std::log2(mass[h] / all);
    }
    return std::max(0.0, bits);
}

// The same for an outcome that is yes or no.
double information(const std::vector<double>& p, const std::vector<double>& yes) {
    double all = 0;
    for (std::size_t h = 0; h < p.size(); ++h)
        all += p[h] * yes[h];
    double bits = 0;
    const auto add = [&](double weight, double one, double mean) {
        if (weight > 0 && one > 0 && mean > 0)
            bits += weight * one * std::log2(one / mean);
    };
    for (std::size_t h = 0; h < p.size(); ++h) {
        add(p[h], yes[h], all);
        add(p[h], 1 - yes[h], 1 - all);
    }
    return std::max(0.0, bits);
}

bool has(const Hypothesis& h, Fault fault, int group) {
    return std::any_of(h.parts.begin(), h.parts.end(), [&](const Part& p) {
        return p.fault == fault && (group < 0 || std::find(p.groups.begin(), p.groups.end(), group) != p.groups.end());
    });
}

} // namespace

std::optional<NextReading> settle(Posterior& posterior) {
    std::vector<Compared> compared;
    double total = 0;
    for (const Hypothesis& h : posterior.hypotheses()) {
        if (h.unnamed)
            continue;
        compared.push_back({&h, std::exp(h.log_weight)});
        total += compared.back().probability;
        if (compared.size() == most_compared)
            break;
    }
    if (compared.empty() || compared.front().probability >= decided || total <= 0)
        return std::nullopt;
    std::vector<double> p;
    std::set<int> groups;   // that any of them names
    std::set<Slip> misread; // figures that may be wrong
    for (const Compared& c : compared) {
        p.push_back(c.probability / total);
        for (const Part& part : c.hypothesis->parts)
            if (c.probability > 0.02 || groups.empty())
                groups.insert(part.groups.begin(), part.groups.end());
        if (c.hypothesis->misread)
            misread.insert(*c.hypothesis->misread);
    }
    const auto& rounds = posterior.rounds();
    const auto read = [&](Condition condition, int group) {
        return std::any_of(rounds.begin(), rounds.end(), [&](const Round& r) {
            return r.condition == condition && (group < 0 || r.volts[static_cast<std::size_t>(group)]);
        });
    };
    const int cells = posterior.pack().layout.cells_per_unit;
    bool under_floor = false;
    for (const Round& r : rounds)
        for (const auto& v : r.volts)
            under_floor |= v && r.condition != Condition::load && *v < posterior.chemistry().floor_v * cells;
    if (groups.empty())
        groups.insert(0);

    std::optional<NextReading> best;
    double best_score = 0;
    // `share`: what a bit is worth when it takes longer or cuts something open.
    const auto offer = [&](NextReading reading, double share) {
        if (reading.bits >= worthwhile_bits && reading.bits * share > best_score) {
            best_score = reading.bits * share;
            best = std::move(reading);
        }
    };
    const auto round = [&](ReadingKind kind, const Prospect& prospect, int group, double share) {
        std::vector<std::vector<Posterior::Component>> outcomes;
        outcomes.reserve(compared.size());
        for (const Compared& c : compared)
            outcomes.push_back(posterior.foresee(*c.hypothesis, group, prospect));
        const bool one_group = kind == ReadingKind::stored;
        offer({kind, one_group ? std::vector<int>{group + 1} : std::vector<int>{}, prospect.days,
               information(p, outcomes), std::nullopt},
              share);
    };
    for (const int g : groups) {
        if (!read(Condition::rest, g))
            round(ReadingKind::rest, {Condition::rest, 0}, g, 1.0);
        if (!read(Condition::load, g) && !under_floor)
            round(ReadingKind::load, {Condition::load, 0}, g, 0.97);
        if (!read(Condition::end_of_charge, g) && !under_floor)
            round(ReadingKind::end_of_charge, {Condition::end_of_charge, 0}, g, 0.75);
        double longest = 0;
        for (const Round& r : rounds)
            if (r.condition == Condition::stored && r.volts[static_cast<std::size_t>(g)])
                longest = std::max(longest, r.days);
        for (const double days : {1.0, 7.0})
            if (days > 2 * longest)
                round(ReadingKind::stored, {Condition::stored, days}, g, days < 2 ? 0.9 : 0.8);
        const auto& units = posterior.pack().units;
        if (posterior.pack().layout.parallel > 1 &&
            std::none_of(units.begin(), units.end(), [&](const UnitVoltage& u) { return u.group == g + 1; })) {
            std::vector<double> odd;
            odd.reserve(compared.size());
            for (const Compared& c : compared)
                odd.push_back(has(*c.hypothesis, Fault::disconnected_cell, g) ? 0.9
                              : has(*c.hypothesis, Fault::dead_group, g)      ? 0.4
                              : has(*c.hypothesis, Fault::weak_group, g)      ? 0.1
                                                                              : 0.02);
            offer({ReadingKind::unit_voltages, {g + 1}, 0, information(p, odd), std::nullopt}, 0.6);
        }
        const auto& swaps = posterior.pack().swaps;
        if (std::none_of(swaps.begin(), swaps.end(), [&](const LeadSwap& s) { return s.group == g + 1; })) {
            std::vector<double> moved;
            moved.reserve(compared.size());
            for (const Compared& c : compared)
                moved.push_back(has(*c.hypothesis, Fault::sense_fault, g) ? 0.96 : 0.04);
            offer({ReadingKind::lead_swap, {g + 1}, 0, information(p, moved), std::nullopt}, 0.8);
        }
    }
    for (const Slip& slip : misread) {
        std::vector<double> agrees;
        agrees.reserve(compared.size());
        for (const Compared& c : compared)
            agrees.push_back(c.hypothesis->misread == slip ? 0.002 : 0.998);
        const Round& of = rounds[slip.round];
        offer({ReadingKind::repeat, {slip.group + 1}, of.days, information(p, agrees), of.condition}, 1.5); // at once
    }
    if (!posterior.pack().terminal_v && read(Condition::rest, -1)) {
        std::vector<double> nothing;
        nothing.reserve(compared.size());
        for (const Compared& c : compared)
            nothing.push_back(has(*c.hypothesis, Fault::latched_board, -1) ? 0.98 : 0.02);
        offer({ReadingKind::terminal, {}, 0, information(p, nothing), std::nullopt}, 1.0);
    }
    return best;
}

} // namespace ingot::triage_detail
