#include "core/practice/match_deal.h"

#include "core/build/pack_in_use.h"
#include "core/practice/dealing.h"

#include <algorithm>
#include <numeric>

namespace ingot {

using dealing::around;
using dealing::between;
using dealing::rounded;

namespace {

constexpr double a_usual_leak = 0.0008; // Ah a day
constexpr double leaker_from = 0.006;
constexpr double a_usual_ohm = 0.045;
constexpr double days_of_week = 7;
constexpr double a_reading_min = 0.5;
constexpr std::size_t kinds_of_knowing = 4;

// The made-up cell of these deals.
const Chemistry& dealt_chemistry() {
    static const Chemistry chemistry = [] {
        Chemistry c;
        c.id = "practice";
        c.ocv = OcvCurve({0, 0.1, 0.3, 0.5, 0.7, 0.9, 1}, {3.0, 3.45, 3.58, 3.67, 3.86, 4.05, 4.18});
        c.test_cutoff_v = 3.0;
        return c;
    }();
    return chemistry;
}

// Forth and back over the groups, the fullest first: sums come out alike.
std::vector<std::vector<std::size_t>> dealt_even(std::vector<std::size_t> units, const std::vector<DealtUnit>& all,
                                                 const PackLayout& layout) {
    std::stable_sort(units.begin(), units.end(),
                     [&](std::size_t a, std::size_t b) { return all[a].read_capacity_ah > all[b].read_capacity_ah; });
    std::vector<std::vector<std::size_t>> out(static_cast<std::size_t>(layout.series));
    const std::size_t groups = out.size();
    for (std::size_t i = 0; i < groups * static_cast<std::size_t>(layout.parallel); ++i) {
        const std::size_t turn = i / groups;
        const std::size_t at = i % groups;
        out[turn % 2 == 0 ? at : groups - 1 - at].push_back(units[i]);
    }
    return out;
}

} // namespace

MatchDeal::MatchDeal(int level, int seed) : level_(level) {
    dealing::check_deal(level, seed, practice_levels, practice_seeds);
    Random random(dealing::mixed(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(level), 4));
    layout_ = {3 + random.below(3), 2 + random.below(2), 1};
    weeks_ = 4 + random.below(9);
    const double margin = level == 1 ? 0.05 : level == 5 ? 0.012 : 0.02;
    // Dealt again until one way is best by a margin that can be told.
    constexpr int tries = 400;
    for (int i = 0; i < tries; ++i) {
        deal_units(random);
        deal_ways(random);
        gives_ah_ = run(false, true, true);
        std::vector<double> sorted = gives_ah_;
        std::sort(sorted.begin(), sorted.end(), std::greater<>());
        const auto by_capacity = run(true, false, false);
        const auto by_all = run(true, true, true);
        const auto first = [](const std::vector<double>& v) {
            return std::max_element(v.begin(), v.end()) - v.begin();
        };
        const bool plain = first(by_capacity) == best();
        const bool told = first(by_all) == best();
        // Of the lower levels capacities decide; from the third on every second deal has a trap in it.
        const bool as_wanted = level <= 2 ? plain : (seed % 2 == 0) == plain;
        if (told && as_wanted && sorted[0] - sorted[1] >= margin * sorted[0])
            return;
    }
}

void MatchDeal::deal_units(Random& random) {
    const auto needed = static_cast<std::size_t>(layout_.series) * static_cast<std::size_t>(layout_.parallel);
    const double digit_ah = level_ >= 4 ? 0.05 : 0.01;
    const double digit_ohm = level_ >= 4 ? 0.005 : 0.001;
    const double spread = level_ == 1 ? 0.20 : 0.12;
    units_.assign(needed + 2, {});
    load_a_ = rounded(between(random, 0.8, 1.3) * 2.4 * layout_.parallel, 0.5);
    for (DealtUnit& unit : units_) {
        unit.capacity_ah = 2.4 + around(random, spread);
        unit.resistance_ohm = a_usual_ohm * (1 + around(random, 0.08));
        unit.leak_ah_per_day = a_usual_leak * between(random, 0.5, 1.6);
    }
    if (level_ >= 3) {
        // Among the fullest, where a sum by capacities takes it.
        const auto fullest = static_cast<std::size_t>(
            std::max_element(units_.begin(), units_.end(),
                             [](const auto& a, const auto& b) { return a.capacity_ah < b.capacity_ah; }) -
            units_.begin());
        DealtUnit& trap = units_[fullest];
        switch (random.below(3)) {
        case 0:
            trap.leak_ah_per_day = leaker_from * between(random, 1.5, 4);
            break;
        case 1:
            trap.resistance_ohm *= between(random, 2.5, 4);
            break;
        default:
            break;
        }
    }
    for (DealtUnit& unit : units_) {
        unit.read_capacity_ah = rounded(unit.capacity_ah + around(random, 0.006), digit_ah);
        unit.read_resistance_ohm = std::max(digit_ohm, rounded(unit.resistance_ohm, digit_ohm));
        unit.read_leak_ah_per_day = std::max(0.0, rounded(unit.leak_ah_per_day, 0.0002));
    }
}

void MatchDeal::deal_ways(Random& random) {
    const auto needed = static_cast<std::size_t>(layout_.series) * static_cast<std::size_t>(layout_.parallel);
    std::vector<std::size_t> all(units_.size());
    std::iota(all.begin(), all.end(), std::size_t{0});
    // By capacities alone; without what leaks or resists; and as they lay.
    ways_.clear();
    ways_.push_back(dealt_even(all, units_, layout_));
    std::vector<std::size_t> sound = all;
    std::stable_sort(sound.begin(), sound.end(), [&](std::size_t a, std::size_t b) {
        const auto bad = [&](std::size_t u) {
            return units_[u].leak_ah_per_day / leaker_from + units_[u].resistance_ohm / (3 * a_usual_ohm);
        };
        return bad(a) < bad(b);
    });
    sound.resize(needed);
    ways_.push_back(dealt_even(sound, units_, layout_));
    std::vector<std::vector<std::size_t>> lay(static_cast<std::size_t>(layout_.series));
    for (std::size_t i = all.size() - 1; i > 0; --i)
        std::swap(all[i], all[static_cast<std::size_t>(random.below(static_cast<int>(i) + 1))]);
    for (std::size_t i = 0; i < needed; ++i)
        lay[i % lay.size()].push_back(all[i]);
    ways_.push_back(std::move(lay));
    for (std::size_t i = ways_.size() - 1; i > 0; --i)
        std::swap(ways_[i], ways_[static_cast<std::size_t>(random.below(static_cast<int>(i) + 1))]);
}

std::vector<double> MatchDeal::run(bool read, bool resistances, bool leaks) const {
    std::vector<double> out;
    for (const auto& groups : ways_) {
        PackDesign design;
        for (const auto& group : groups) {
            auto& cells = design.groups.emplace_back();
            double lost = 0;
            double holds = 0;
            for (const std::size_t u : group) {
                const DealtUnit& unit = units_[u];
                PackDesign::Cell& cell = cells.emplace_back();
                cell.capacity_ah = read ? unit.read_capacity_ah : unit.capacity_ah;
                const double known_ohm = read ? unit.read_resistance_ohm : unit.resistance_ohm;
                cell.resistance_ohm = resistances ? known_ohm : a_usual_ohm;
                const double known_leak = read ? unit.read_leak_ah_per_day : unit.leak_ah_per_day;
                lost += (leaks ? known_leak : a_usual_leak) * weeks_ * days_of_week;
                holds += cell.capacity_ah;
            }
            for (PackDesign::Cell& cell : cells) // the leak of one is everybody's in its group
                cell.soc = std::max(0.05, 1 - lost / holds);
        }
        const auto found = run_pack(design, dealt_chemistry(), {false, {{0, load_a_}}},
                                    {dealt_chemistry().test_cutoff_v, 20.0, std::nullopt});
        out.push_back(found ? found.value().usable_ah : 0);
    }
    return out;
}

MeasureCost MatchDeal::cost(MatchMeasure measure) const {
    const double round = a_reading_min * static_cast<double>(units_.size());
    return measure == MatchMeasure::resistances ? MeasureCost{round, 0, 0}
                                                : MeasureCost{2 * round, days_of_week * 24, 0};
}

int MatchDeal::best() const {
    return static_cast<int>(std::max_element(gives_ah_.begin(), gives_ah_.end()) - gives_ah_.begin());
}

bool MatchDeal::holds_a_leaker(int way) const {
    for (const auto& group : this->way(way))
        for (const std::size_t u : group)
            if (units_[u].leak_ah_per_day >= leaker_from)
                return true;
    return false;
}

double MatchDeal::needed_min() const {
    double least = cost(MatchMeasure::resistances).hands_min + cost(MatchMeasure::rest_week).hands_min;
    for (std::size_t known = 0; known < kinds_of_knowing; ++known) {
        const bool resistances = known % 2 == 1;
        const bool leaks = known / 2 == 1;
        const auto gives = run(true, resistances, leaks);
        const double minutes = (resistances ? cost(MatchMeasure::resistances).hands_min : 0) +
                               (leaks ? cost(MatchMeasure::rest_week).hands_min : 0);
        if (std::max_element(gives.begin(), gives.end()) - gives.begin() == best())
            least = std::min(least, minutes);
    }
    return least;
}

} // namespace ingot
