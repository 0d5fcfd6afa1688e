// What a population says: checked against closed forms, enumeration and worked examples.
#include "core/sort/population.h"
#include "core/cells/random.h"
#include "core/shop/age.h"

#include <catch2/catch.hpp>

#include <gsl/gsl_cdf.h>

#include <cmath>

using namespace ingot;

TEST_CASE("The chance of a further unit is the Beta distribution's, as GSL has it") {
    for (const auto& [hits, of] : {std::pair{0, 10}, {7, 10}, {10, 10}, {150, 400}}) {
        const ShareOf share = chance_of_next(hits, of);
        const double a = hits + 0.5;
        const double b = of - hits + 0.5;
        CHECK(share.mean == Approx(a / (a + b)));
        CHECK(share.low == Approx(gsl_cdf_beta_Pinv(0.025, a, b)).margin(1e-9));
        CHECK(share.high == Approx(gsl_cdf_beta_Pinv(0.975, a, b)).margin(1e-9));
    }
    CHECK_THROWS(chance_of_next(3, 2));
    // Nothing known: the whole range stays open.
    CHECK(chance_of_next(0, 0).low < 0.01);
    CHECK(chance_of_next(0, 0).high > 0.99);
}

TEST_CASE("How many more are needed counts both what chance and what little knowledge may do") {
    // Beta-binomial by hand: after 1 of 1 the posterior is Beta(1.5, 0.5); one more is fit with 3 of 4.
    CHECK(chance_of_at_least(1, 1, 1, 1) == Approx(0.75));
    // Two more, both fit: E[p^2] = a(a+1)/((a+b)(a+b+1)) = 1.5 * 2.5 / (2 * 3).
    CHECK(chance_of_at_least(2, 2, 1, 1) == Approx(0.625));
    CHECK(chance_of_at_least(0, 0, 1, 1) == 1);
    CHECK(chance_of_at_least(3, 2, 1, 1) == 0);
    // With much knowledge it is the binomial's: 28 of a kind of which half is fit.
    const auto much = further_for(28, 0.9, 50'000, 100'000);
    REQUIRE(much);
    CHECK(1 - gsl_cdf_binomial_P(27, 0.5, static_cast<unsigned>(*much)) >= 0.899);
    CHECK(1 - gsl_cdf_binomial_P(27, 0.5, static_cast<unsigned>(*much) - 1) < 0.901);
    // With little, more are needed for the same certainty.
    CHECK(*further_for(28, 0.9, 5, 10) > *much);
    CHECK_FALSE(further_for(28, 0.9, 0, 0));
    CHECK_FALSE(further_for(28, 0.9, 0, 1000, 500));
    CHECK(further_for(0, 0.9, 3, 5) == 0);
}

TEST_CASE("The chance of at least so many falls with how many are asked and grows with how many are opened") {
    Random random(7);
    for (int i = 0; i < 60; ++i) {
        const int of = 1 + random.below(80);
        const int hits = random.below(of + 1);
        const int more = 1 + random.below(60);
        double before = 1;
        for (int needed = 0; needed <= more; ++needed) {
            const double chance = chance_of_at_least(needed, more, hits, of);
            CHECK(chance <= before + 1e-9);
            CHECK(chance <= chance_of_at_least(needed, more + 1, hits, of) + 1e-9);
            before = chance;
        }
    }
}

TEST_CASE("What the odd ones share is Fisher's exact test: his tea") {
    // R. A. Fisher, The Design of Experiments (1935), chapter II: eight cups, four of each, all four told rightly has a
    // chance of 1 in 70. (From memory.)
    std::vector<std::vector<Trait>> cups(8, {{"first", "tea"}});
    std::vector<char> told(8, 0);
    for (std::size_t i = 0; i < 4; ++i) {
        cups[i] = {{"first", "milk"}};
        told[i] = 1;
    }
    const auto shared = shared_traits(cups, told, 1);
    REQUIRE(shared.size() == 1);                      // "tea" has no odd one
    CHECK(shared.front().chance == Approx(2.0 / 70)); // two traits were looked at
    CHECK(shared.front().odd_with == 4);
    CHECK(shared_traits(cups, told, 0.01).empty());
}

TEST_CASE("Traits that odd ones share by chance are hardly ever named; a bad source is") {
    Random random(11);
    int named = 0;
    int found = 0;
    constexpr int rounds = 200;
    for (int round = 0; round < rounds; ++round) {
        std::vector<std::vector<Trait>> units;
        std::vector<char> by_chance;
        std::vector<char> by_source;
        for (int i = 0; i < 120; ++i) {
            const int source = random.below(5);
            units.push_back({{"source", std::to_string(source)}, {"tray", std::to_string(random.below(8))}});
            by_chance.push_back(random.unit() < 0.2 ? 1 : 0);
            by_source.push_back(random.unit() < (source == 2 ? 0.7 : 0.1) ? 1 : 0);
        }
        named += shared_traits(units, by_chance).empty() ? 0 : 1;
        const auto shared = shared_traits(units, by_source);
        found += !shared.empty() && shared.front().trait == Trait{"source", "2"} ? 1 : 0;
    }
    CHECK(named <= 6); // 1 % is allowed
    CHECK(found >= 190);
}

TEST_CASE("A label is doubted for what it holds, how it resists and what it weighs") {
    LabelledUnit unit;
    unit.reference = {3.0, 0.030, {}, 1, ReferenceFrom::model, {}, {}, 0, false, {}};
    unit.facts.capacity_ah = 2.9;
    unit.facts.dc_resistance_ohm = 0.035;
    CHECK(suspects({unit}).empty());
    unit.facts.capacity_ah = 1.2; // worn, yet as good as new to the amperes: not the label's fault by itself
    CHECK(suspects({unit}).empty());
    unit.facts.dc_resistance_ohm = 0.110;
    REQUIRE(suspects({unit}).size() == 1);
    CHECK(suspects({unit}).front().suspicion == Suspicion::holds_far_less);
    unit.facts.capacity_ah = 3.5;
    REQUIRE(suspects({unit}).size() == 1);
    CHECK(suspects({unit}).front().suspicion == Suspicion::holds_more);
    unit.facts.capacity_ah->uncertainty = 0.3; // the meter may be it
    CHECK(suspects({unit}).empty());
    unit.mass_kg = 0.041;
    unit.model_kg = 0.047;
    REQUIRE(suspects({unit}).size() == 1);
    CHECK(suspects({unit}).front().suspicion == Suspicion::too_light);
    unit.mass_kg = 0.046;
    CHECK(suspects({unit}).empty());
    // Nobody says what it should be.
    unit.reference.from = ReferenceFrom::siblings;
    unit.facts.capacity_ah = 9.9;
    CHECK(suspects({unit}).empty());
}

TEST_CASE("An instrument that reads high is found on units that both read, and not otherwise") {
    Random random(3);
    const auto noise = [&] { return 1 + 0.02 * (random.unit() - 0.5); };
    std::vector<TwiceRead> readings;
    for (int i = 0; i < 12; ++i) {
        const double ohm = 0.03 + 0.02 * random.unit();
        const std::string unit = std::to_string(i);
        readings.push_back({unit, "bench", ohm * noise()});
        readings.push_back({unit, "hand meter", 1.08 * ohm * noise()});
        if (i < 4)
            readings.push_back({unit, "old tester", 2 * ohm});
    }
    const auto gaps = instrument_gaps(readings);
    REQUIRE(gaps.size() == 1); // the old tester met too few
    CHECK(gaps.front().instrument == "hand meter");
    CHECK(gaps.front().against == "bench");
    CHECK(gaps.front().units == 12);
    CHECK(gaps.front().ratio == Approx(1.08).margin(0.01));
    CHECK(std::fabs(gaps.front().ratio - 1.08) <= gaps.front().uncertainty + 0.005);
    for (TwiceRead& reading : readings)
        if (reading.instrument == "hand meter")
            reading.value /= 1.08;
    CHECK(instrument_gaps(readings).empty());
}

TEST_CASE("N5: an age is read from a date or a span, and a maker's code stays a word") {
    const std::string now = "2026-11-28T12:00:00Z";
    CHECK(*age_years("2026-11-28", now) == Approx(0.0).margin(0.01));
    CHECK(*age_years("2019-05-12", now) == Approx(7.55).margin(0.01));
    CHECK(*age_years("2019-05", now) == Approx(7.54).margin(0.01));
    CHECK(*age_years(" 2020 ", now) == Approx(6.41).margin(0.02));
    CHECK(*age_years("6 years", now) == 6);
    CHECK(*age_years("6,5 y", now) == 6.5);
    CHECK(*age_years("8 months old", now) == Approx(8.0 / 12));
    for (const char* word : {"", "K4C21", "2031", "old", "19", "01/02/2026", "six years"})
        CHECK_FALSE(age_years(word, now));
}
