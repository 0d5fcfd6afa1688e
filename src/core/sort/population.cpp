#include "core/sort/population.h"

#include "core/measure/statistics.h"

#include <boost/math/distributions/beta.hpp>
#include <boost/math/distributions/hypergeometric.hpp>
#include <boost/math/special_functions/beta.hpp>
#include <boost/math/special_functions/binomial.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <stdexcept>

namespace ingot {

namespace {

constexpr double half_a_case = 0.5;

// log of the chance of exactly k among n further ones.
double log_chance(int k, int n, double a, double b) {
    const double choose = std::lgamma(n + 1.0) - std::lgamma(k + 1.0) - std::lgamma(n - k + 1.0);
    const auto log_beta = [](double x, double y) { return std::lgamma(x) + std::lgamma(y) - std::lgamma(x + y); };
    return choose + log_beta(k + a, n - k + b) - log_beta(a, b);
}

void check(int hits, int of) {
    if (hits < 0 || hits > of)
        throw std::invalid_argument("a share of cases needs 0 <= hits <= of");
}

} // namespace

ShareOf chance_of_next(int hits, int of) {
    check(hits, of);
    const double a = hits + half_a_case;
    const double b = of - hits + half_a_case;
    constexpr double tail = 0.025;
    const boost::math::beta_distribution<double> share(a, b);
    return {a / (a + b), boost::math::quantile(share, tail), boost::math::quantile(share, 1 - tail)};
}

double chance_of_at_least(int needed, int more, int hits, int of) {
    check(hits, of);
    if (needed <= 0)
        return 1;
    if (more < needed)
        return 0;
    const double a = hits + half_a_case;
    const double b = of - hits + half_a_case;
    double fewer = 0;
    for (int k = 0; k < needed; ++k)
        fewer += std::exp(log_chance(k, more, a, b));
    return std::clamp(1 - fewer, 0.0, 1.0);
}

std::optional<int> further_for(int needed, double chance, int hits, int of, int most) {
    check(hits, of);
    if (needed <= 0)
        return 0;
    if (of == 0)
        return std::nullopt;
    int low = needed - 1; // too few
    int high = needed;
    while (chance_of_at_least(needed, high, hits, of) < chance) {
        if (high >= most)
            return std::nullopt;
        low = high;
        high = std::min(most, 2 * high);
    }
    while (high - low > 1) {
        const int middle = low + (high - low) / 2;
        (chance_of_at_least(needed, middle, hits, of) < chance ? low : high) = middle;
    }
    return high;
}

std::optional<Quartiles> quartiles_of(const std::vector<double>& values) {
    if (values.empty())
        return std::nullopt;
    constexpr double lower = 0.25;
    constexpr double upper = 0.75;
    return Quartiles{static_cast<int>(values.size()), quantile(values, lower), median(values), quantile(values, upper)};
}

const char* code(Suspicion suspicion) {
    constexpr std::array<const char*, suspicion_count> codes{"holds-far-less", "holds-more", "too-light", "too-heavy"};
    return codes[static_cast<std::size_t>(suspicion)];
}

std::vector<Suspect> suspects(const std::vector<LabelledUnit>& units) {
    constexpr double far_less = 0.5;
    constexpr double far_from_new = 2.0;
    constexpr double more = 1.10;
    constexpr double mass_off = 0.05;
    std::vector<Suspect> out;
    for (std::size_t i = 0; i < units.size(); ++i) {
        const LabelledUnit& unit = units[i];
        const UnitReference& rated = unit.reference;
        if (rated.from == ReferenceFrom::model && rated.rated_ah > 0 && unit.facts.capacity_ah) {
            const double ah = *unit.facts.capacity_ah;
            const double margin_ah = unit.facts.capacity_ah->uncertainty.value_or(0);
            const bool dc = unit.facts.dc_resistance_ohm && rated.new_dc_resistance_ohm;
            const bool ac = unit.facts.ac_resistance_ohm && rated.new_ac_resistance_ohm;
            const double times_new = dc   ? *unit.facts.dc_resistance_ohm / *rated.new_dc_resistance_ohm
                                     : ac ? *unit.facts.ac_resistance_ohm / *rated.new_ac_resistance_ohm
                                          : 0;
            if (ah + margin_ah < far_less * rated.rated_ah && times_new > far_from_new)
                out.push_back({i, Suspicion::holds_far_less, ah, rated.rated_ah});
            else if (ah - margin_ah > more * rated.rated_ah)
                out.push_back({i, Suspicion::holds_more, ah, rated.rated_ah});
        }
        if (unit.mass_kg && unit.model_kg && *unit.model_kg > 0) {
            const double off = *unit.mass_kg / *unit.model_kg - 1;
            if (std::fabs(off) > mass_off)
                out.push_back(
                    {i, off < 0 ? Suspicion::too_light : Suspicion::too_heavy, *unit.mass_kg, *unit.model_kg});
        }
    }
    return out;
}

std::vector<SharedTrait> shared_traits(const std::vector<std::vector<Trait>>& units, const std::vector<char>& odd,
                                       double largest_chance) {
    if (units.size() != odd.size())
        throw std::invalid_argument("each unit is odd or not");
    struct Count {
        int with = 0, odd_with = 0;
    };
    std::map<Trait, Count> counts;
    int odd_ones = 0;
    for (std::size_t i = 0; i < units.size(); ++i) {
        odd_ones += odd[i] != 0 ? 1 : 0;
        for (const Trait& trait : std::set<Trait>(units[i].begin(), units[i].end())) {
            ++counts[trait].with;
            counts[trait].odd_with += odd[i] != 0 ? 1 : 0;
        }
    }
    const int all = static_cast<int>(units.size());
    constexpr int least_odd = 3;
    std::vector<SharedTrait> out;
    for (const auto& [trait, count] : counts) {
        if (count.with == all || count.odd_with < least_odd)
            continue;
        const boost::math::hypergeometric_distribution<double> by_chance(
            static_cast<unsigned>(odd_ones), static_cast<unsigned>(count.with), static_cast<unsigned>(all));
        const double tail = boost::math::cdf(boost::math::complement(by_chance, count.odd_with - 1));
        const double chance = std::min(1.0, tail * static_cast<double>(counts.size()));
        if (chance <= largest_chance)
            out.push_back({trait, count.odd_with, count.with, odd_ones, all, chance});
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const SharedTrait& a, const SharedTrait& b) { return a.chance < b.chance; });
    return out;
}

std::vector<InstrumentGap> instrument_gaps(const std::vector<TwiceRead>& readings) {
    // The last reading of each unit by each instrument stands for it.
    std::map<std::string, std::map<std::string, double>> by_instrument;
    for (const TwiceRead& reading : readings)
        if (reading.value > 0 && !reading.instrument.empty())
            by_instrument[reading.instrument][reading.unit] = reading.value;
    constexpr std::size_t least_units = 5;
    constexpr double least_gap = 0.01;
    std::vector<InstrumentGap> out;
    for (auto a = by_instrument.begin(); a != by_instrument.end(); ++a)
        for (auto b = std::next(a); b != by_instrument.end(); ++b) {
            std::vector<double> ratios;
            for (const auto& [unit, value] : a->second)
                if (const auto other = b->second.find(unit); other != b->second.end())
                    ratios.push_back(std::log(value / other->second));
            if (ratios.size() < least_units)
                continue;
            const RobustSpread spread = robust_spread(ratios);
            // The middle of n normal values is uncertain by 1.2533 of a mean's standard error.
            constexpr double of_median = 1.2533;
            const double uncertainty = 2 * of_median * spread.scale / std::sqrt(static_cast<double>(ratios.size()));
            const bool above = spread.centre >= 0;
            const double ratio = std::exp(std::fabs(spread.centre));
            if (ratio - 1 > least_gap && std::fabs(spread.centre) > uncertainty)
                out.push_back({above ? a->first : b->first, above ? b->first : a->first,
                               static_cast<int>(ratios.size()), ratio, ratio * uncertainty});
        }
    std::stable_sort(out.begin(), out.end(),
                     [](const InstrumentGap& a, const InstrumentGap& b) { return a.ratio > b.ratio; });
    return out;
}

} // namespace ingot
