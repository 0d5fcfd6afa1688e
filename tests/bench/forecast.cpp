// The capacity that a discharge under way is expected to give, on units of three kinds of make-up that share nothing
// with the forecast: the simulated tester's, whose curves stretch with their capacity, and cells that aged otherwise:
// lithium lost (the electrodes slip against each other) and material lost on one side, with resistance that grows
// toward empty.
#include "core/measure/forecast.h"
#include "sim/unit.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <functional>
#include <random>
#include <vector>

using namespace ingot;

namespace {

DischargeCurve discharged(sim::Kind kind, int cells, std::uint64_t seed) {
    sim::UnitMake make;
    make.kind = kind;
    make.cells = cells;
    make.rated_ah = kind == sim::Kind::nickel ? 6.5 : 2.6;
    make.seed = seed;
    sim::Unit unit(make);
    constexpr double step_s = 10;
    const double limit = cells * (kind == sim::Kind::lithium ? 4.2 : kind == sim::Kind::iron_phosphate ? 3.65 : 9.9);
    double amperes = make.rated_ah / 2;
    for (int i = 0; i < 1200 && amperes > 0.02 * make.rated_ah; ++i) { // held at its limit; nickel by the clock
        unit.advance(step_s, amperes);
        while (unit.volts(amperes) > limit && amperes > 0.01 * make.rated_ah)
            amperes *= 0.97;
    }
    for (int i = 0; i < 90; ++i)
        unit.advance(step_s, 0);
    const double cutoff = cells * (kind == sim::Kind::lithium ? 3.0 : kind == sim::Kind::iron_phosphate ? 2.5 : 1.0);
    const double out = 0.2 * make.rated_ah;
    DischargeCurve curve;
    for (double ah = 0; unit.volts(-out) > cutoff; ah += out * step_s / sim::seconds_per_hour) {
        curve.amount_ah.push_back(ah);
        curve.volts.push_back(unit.volts(-out));
        unit.advance(step_s, -out);
    }
    return curve;
}

// Two electrodes of their own capacities against each other. The forms are invented; the kinds of ageing are those of
// the trade (common practice, no source).
DischargeCurve slipped(std::mt19937_64& dice) {
    const auto uniform = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(dice);
    };
    std::normal_distribution<double> noise(0, 0.001);
    const double positive_ah = 3.1 * uniform(0.90, 1.0);
    const double negative_ah = 3.0 * uniform(0.90, 1.0);
    const double lost_ah = uniform(0.1, 0.7);
    const double ohm = 0.06 * uniform(1.0, 2.2);
    const double grows = uniform(0.3, 1.5);
    const auto positive_v = [&](double q) {
        const double x = q / positive_ah;
        return 4.28 - 0.75 * x - 0.18 * std::tanh((x - 0.35) / 0.2) - 0.9 * std::pow(std::max(0.0, x), 12);
    };
    const auto negative_v = [&](double q) { // q: lithium left in it
        const double y = q / negative_ah;
        return 0.09 + 0.7 * std::exp(-22 * std::max(0.0, y)) - 0.03 * std::tanh((y - 0.52) / 0.04);
    };
    const double held = std::min(negative_ah, 2.9) - lost_ah;
    constexpr double amperes = 0.5;
    constexpr double step_ah = 0.0025;
    DischargeCurve curve;
    for (double ah = 0;; ah += step_ah) {
        const double left = held - ah;
        if (left <= 0)
            break;
        const double v =
            positive_v(ah + 0.05) - negative_v(left) - amperes * ohm * (1 + grows * std::pow(ah / held, 4));
        if (v < 3.0)
            break;
        curve.amount_ah.push_back(ah);
        curve.volts.push_back(v + noise(dice));
    }
    return curve;
}

DischargeCurve up_to(const DischargeCurve& whole, double share) {
    const auto n = static_cast<std::ptrdiff_t>(static_cast<double>(whole.amount_ah.size()) * share);
    return {{whole.amount_ah.begin(), whole.amount_ah.begin() + n}, {whole.volts.begin(), whole.volts.begin() + n}};
}

struct Tally {
    int asked = 0, told = 0, held = 0;
    std::vector<double> off; // of what was told, as a share
    [[nodiscard]] double off_at(double share) {
        std::sort(off.begin(), off.end());
        return off.empty() ? 1 : off[static_cast<std::size_t>(share * static_cast<double>(off.size() - 1))];
    }
};

Tally run(const std::function<DischargeCurve()>& next, double share, int units) {
    Tally tally;
    constexpr int siblings = 8;
    for (int i = 0; i < units; ++i) {
        std::vector<DischargeCurve> others;
        for (int s = 0; s < siblings; ++s)
            others.push_back(next());
        const DischargeCurve whole = next();
        ++tally.asked;
        const auto forecast = forecast_capacity(up_to(whole, share), others);
        if (!forecast)
            continue;
        ++tally.told;
        const double truth = whole.amount_ah.back();
        tally.held += truth >= forecast->low_ah && truth <= forecast->high_ah;
        tally.off.push_back(std::fabs(forecast->capacity_ah / truth - 1));
    }
    return tally;
}

} // namespace

TEST_CASE("A discharge under way tells its capacity from its siblings', with an interval that holds") {
    std::uint64_t seed = 1000;
    std::mt19937_64 dice(7);
    const std::vector<std::pair<const char*, std::function<DischargeCurve()>>> populations{
        {"lithium, simulated", [&] { return discharged(sim::Kind::lithium, 1, seed++); }},
        {"iron phosphate, simulated", [&] { return discharged(sim::Kind::iron_phosphate, 1, seed++); }},
        {"nickel modules, simulated", [&] { return discharged(sim::Kind::nickel, 6, seed++); }},
        {"lithium, slipped electrodes", [&] { return slipped(dice); }}};
    int told = 0;
    int held = 0;
    for (const auto& [name, next] : populations)
        for (const double share : {0.5, 0.8}) {
            Tally tally = run(next, share, 40);
            INFO(name << ", " << share << ": told " << tally.told << " of " << tally.asked << ", held " << tally.held
                      << ", off by " << tally.off_at(0.5) << " in the middle, " << tally.off_at(0.95) << " at 95 %");
            told += tally.told;
            held += tally.held;
            CHECK(tally.off_at(0.95) < 0.15);
            if (share > 0.7) {
                CHECK(tally.told >= 30);
                CHECK(tally.held >= 0.8 * tally.told);
                CHECK(tally.off_at(0.5) < 0.04);
            }
        }
    INFO(held << " of " << told);
    CHECK(held >= 0.9 * told); // 95 % are meant
}

TEST_CASE("A capacity is not forecast where nothing tells it") {
    std::mt19937_64 dice(3);
    std::vector<DischargeCurve> siblings{slipped(dice), slipped(dice)};
    const DischargeCurve whole = slipped(dice);
    CHECK_FALSE(forecast_capacity(up_to(whole, 0.8), siblings)); // two say nothing about a spread
    siblings.push_back(slipped(dice));
    CHECK_FALSE(forecast_capacity({}, siblings));
    CHECK_FALSE(forecast_capacity(up_to(whole, 0.01), siblings));
    siblings.emplace_back(); // an empty log is no sibling
    siblings.push_back(slipped(dice));
    siblings.push_back(slipped(dice));
    const auto forecast = forecast_capacity(up_to(whole, 0.9), siblings);
    REQUIRE(forecast);
    CHECK(forecast->siblings == 5);
    CHECK(forecast->low_ah >= up_to(whole, 0.9).amount_ah.back()); // it has given that already
}
