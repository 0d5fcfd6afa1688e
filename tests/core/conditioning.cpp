// Keep cycling or stop: on simulated modules with known truth, against GSL's non-linear fit, and on plain cases.
#include "core/measure/conditioning.h"

#include "benchmarks/conditioning_shops.h"
#include "sanitized.h"

#include <catch2/catch.hpp>
#include <gsl/gsl_multifit_nlinear.h>

#include <chrono>
#include <cmath>

using namespace ingot;

namespace {

std::vector<ConditioningCycle> cycles(std::initializer_list<double> ah) {
    std::vector<ConditioningCycle> out;
    for (const double a : ah)
        out.push_back({static_cast<int>(out.size()) + 1, a, true});
    return out;
}

ConditioningRules module_rules() {
    ConditioningRules rules;
    rules.bar_ah = 5.0;
    rules.rated_ah = 6.5;
    return rules;
}

ConditioningResult judge(std::initializer_list<double> ah) {
    return judge_conditioning(cycles(ah), module_rules());
}

} // namespace

TEST_CASE("conditioning: the plain cases") {
    CHECK(judge({3.5, 4.2, 4.6, 4.85, 5.02}).verdict == ConditioningVerdict::fit);
    CHECK(judge({5.5}).verdict == ConditioningVerdict::fit);
    CHECK(judge({3.5, 3.6, 3.62, 3.61, 3.62}).verdict == ConditioningVerdict::replace);
    CHECK(judge({5.4, 5.3, 5.2, 5.1, 5.02}).verdict == ConditioningVerdict::replace);
    CHECK(judge({5.4, 5.3, 5.2, 5.1, 5.02}).reason == ConditioningReason::falls);
    const auto climbing = judge({3.2, 3.9, 4.35});
    CHECK(climbing.verdict == ConditioningVerdict::keep_cycling);
    CHECK(climbing.cycles_to_run >= 1);
    CHECK(climbing.cycles_to_run <= 5);
    CHECK(climbing.pass_probability > 0.3);
    CHECK(judge_conditioning({}, module_rules()).verdict == ConditioningVerdict::keep_cycling);
    // "One that sits just under the bar after many cycles has failed, however near" (common practice, no source).
    CHECK(judge({4.2, 4.6, 4.75, 4.80, 4.81, 4.80, 4.82, 4.81, 4.80, 4.81, 4.80, 4.81}).verdict ==
          ConditioningVerdict::replace);
}

TEST_CASE("conditioning: decided means nothing to run, undecided means something") {
    for (std::uint64_t seed = 9000; seed < 9000 + static_cast<unsigned>(tests::out_of(64, 8)); ++seed) {
        const auto module = simulated::make_module(seed);
        std::vector<ConditioningCycle> run;
        for (const auto& c : module.cycles) {
            run.push_back({static_cast<int>(run.size()) + 1, c.measured_ah, c.full});
            const auto result = judge_conditioning(run, module_rules());
            CHECK((result.cycles_to_run == 0) == (result.verdict != ConditioningVerdict::keep_cycling));
            CHECK(result.pass_probability >= 0);
            CHECK(result.pass_probability <= 1);
            CHECK(*result.level_low_ah <= *result.level_ah);
            CHECK(*result.level_ah <= *result.level_high_ah);
            CHECK(result.pass_within_3 <= result.pass_within_5 + 1e-9);
            CHECK(result.weight.size() == run.size());
            if (result.verdict == ConditioningVerdict::replace)
                CHECK(result.pass_probability < 0.05);
        }
    }
}

TEST_CASE("conditioning: right about as often as twenty cycles, for a fraction of them") {
    int right = 0;
    int run_in_all = 0;
    constexpr int modules = tests::out_of(400, 20);
    for (std::uint64_t n = 0; n < modules; ++n) {
        const auto module = simulated::make_module(700'000 + n);
        int run = 3;
        ConditioningResult result;
        while (true) {
            std::vector<ConditioningCycle> seen;
            for (int c = 0; c < run; ++c)
                seen.push_back({c + 1, module.cycles[static_cast<std::size_t>(c)].measured_ah,
                                module.cycles[static_cast<std::size_t>(c)].full});
            result = judge_conditioning(seen, module_rules());
            if (result.verdict == ConditioningVerdict::keep_cycling && run < simulated::module_cycles)
                run = std::min(simulated::module_cycles, run + result.cycles_to_run);
            else
                break;
        }
        right += (result.verdict == ConditioningVerdict::fit) == module.good;
        run_in_all += run;
    }
    if (!tests::sanitized) {
        CHECK(right >= modules * 965 / 1000);
        CHECK(run_in_all < modules * 8);
    }
}

// The level of a clean exponential, against GSL's Levenberg-Marquardt on C(n) = L - A exp(-k (n - 1)).
TEST_CASE("conditioning: the level agrees with GSL's non-linear fit") {
    struct Data {
        std::vector<double> n, y;
    } data;
    const double level = 5.62;
    const double k = 0.45;
    for (int n = 1; n <= 9; ++n) {
        data.n.push_back(n);
        data.y.push_back(level - 1.9 * std::exp(-k * (n - 1)) + 0.01 * std::sin(2.7 * n));
    }
    gsl_multifit_nlinear_parameters parameters = gsl_multifit_nlinear_default_parameters();
    gsl_multifit_nlinear_fdf fdf{};
    fdf.f = [](const gsl_vector* x, void* params, gsl_vector* f) {
        const auto* d = static_cast<Data*>(params);
        for (std::size_t i = 0; i < d->n.size(); ++i)
            gsl_vector_set(f, i,
                           gsl_vector_get(x, 0) -
                               gsl_vector_get(x, 1) * std::exp(-gsl_vector_get(x, 2) * (d->n[i] - 1)) - d->y[i]);
        return static_cast<int>(GSL_SUCCESS);
    };
    fdf.n = data.n.size();
    fdf.p = 3;
    fdf.params = &data;
    gsl_multifit_nlinear_workspace* w =
        gsl_multifit_nlinear_alloc(gsl_multifit_nlinear_trust, &parameters, fdf.n, fdf.p);
    gsl_vector* start = gsl_vector_alloc(3);
    gsl_vector_set(start, 0, 5);
    gsl_vector_set(start, 1, 1);
    gsl_vector_set(start, 2, 0.3);
    gsl_multifit_nlinear_init(start, &fdf, w);
    int info = 0;
    REQUIRE(gsl_multifit_nlinear_driver(100, 1e-10, 1e-10, 0, nullptr, nullptr, &info, w) == GSL_SUCCESS);
    const double fitted = gsl_vector_get(w->x, 0);
    gsl_multifit_nlinear_free(w);
    gsl_vector_free(start);

    std::vector<ConditioningCycle> run;
    for (std::size_t i = 0; i < data.n.size(); ++i)
        run.push_back({static_cast<int>(data.n[i]), data.y[i], true});
    const auto result = judge_conditioning(run, module_rules());
    CHECK(*result.level_ah == Approx(fitted).epsilon(0.012));
    CHECK(*result.level_low_ah <= fitted);
    CHECK(*result.level_high_ah >= fitted);
}

TEST_CASE("conditioning: a cycle that a limit ended weighs little") {
    auto run = cycles({3.8, 4.3, 4.6, 2.1, 4.85});
    run[3].full = false;
    const auto result = judge_conditioning(run, module_rules());
    CHECK(result.weight[3] < 0.05);
    CHECK(result.verdict == ConditioningVerdict::keep_cycling);
    CHECK(*result.level_ah == Approx(*judge({3.8, 4.3, 4.6, 4.75, 4.85}).level_ah).epsilon(0.06));
    // One that nobody flagged.
    const auto unflagged = judge({3.8, 4.3, 4.6, 4.72, 2.9, 4.85, 4.88});
    CHECK(unflagged.weight[4] < 0.3);
    CHECK(unflagged.verdict == ConditioningVerdict::keep_cycling);
}

TEST_CASE("conditioning: a unit that still gained 2 % in its last set is not given up") {
    const auto result = judge({4.0, 4.05, 4.09, 4.13, 4.17, 4.21, 4.25});
    CHECK(result.verdict == ConditioningVerdict::keep_cycling);
    CHECK(result.pass_probability >= 0.05);
}

TEST_CASE("conditioning: the scale does not matter, only the shares do") {
    const auto module = judge({3.9, 4.3, 4.5, 4.6});
    ConditioningRules small;
    small.bar_ah = 0.5;
    small.rated_ah = 0.65;
    const auto cell = judge_conditioning(cycles({0.39, 0.43, 0.45, 0.46}), small);
    CHECK(cell.verdict == module.verdict);
    CHECK(cell.pass_probability == Approx(module.pass_probability));
    CHECK(*cell.level_ah * 10 == Approx(*module.level_ah));
}

TEST_CASE("conditioning: standing still wears the doubt away") {
    std::vector<ConditioningCycle> run = cycles({3.9, 4.3, 4.5, 4.6});
    double before = 1;
    bool given_up = false;
    for (int n = 5; n <= 14; ++n) {
        run.push_back({n, 4.62 + 0.01 * (n % 2), true});
        const auto result = judge_conditioning(run, module_rules());
        given_up = result.verdict == ConditioningVerdict::replace;
        if (n >= 7)
            CHECK(result.pass_probability <= before + 0.02);
        before = result.pass_probability;
    }
    CHECK(given_up);
}

// "Three cycles without a gain of 1 %": common practice, no source.
TEST_CASE("conditioning: the old hands' rule stands beside it") {
    CHECK(judge({4.5, 4.6, 4.61, 4.60, 4.62}).rule_of_thumb == ConditioningVerdict::replace);
    CHECK(judge({4.2, 4.4, 4.5, 4.6, 4.7}).rule_of_thumb == ConditioningVerdict::keep_cycling);
    CHECK(judge({4.2, 4.4, 5.1}).rule_of_thumb == ConditioningVerdict::fit);
}

TEST_CASE("K13: three cycles cost the same, whatever their numbers are") {
    const std::vector<ConditioningCycle> close{{1, 4.1}, {2, 4.6}, {3, 4.7}};
    const std::vector<ConditioningCycle> far{{1, 4.1}, {50'000, 4.6}, {100'000, 4.7}};
    ConditioningRules rules;
    rules.bar_ah = 5;
    rules.rated_ah = 6.5;
    const auto took = [&](const std::vector<ConditioningCycle>& cycles) {
        double least = 1e9;
        for (int i = 0; i < 5; ++i) {
            const auto start = std::chrono::steady_clock::now();
            const auto result = judge_conditioning(cycles, rules);
            least = std::min(least, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
            CHECK(result.curve.size() < 1000);
        }
        return least;
    };
    CHECK(took(far) < 20 * took(close)); // it was 4.5 s
    // The cycle after which a second climb may begin is one that was counted.
    std::vector<ConditioningCycle> again{{1, 3.6},  {2, 4.2}, {3, 4.4}, {4, 4.4},
                                         {5, 4.41}, {6, 4.4}, {7, 4.7}, {8, 4.9}};
    const auto near_result = judge_conditioning(again, rules);
    for (ConditioningCycle& c : again)
        c.number += 1000;
    CHECK(judge_conditioning(again, rules).pass_probability == Approx(near_result.pass_probability));
}

TEST_CASE("K13: over a shop of another make-up what is stated of undecided modules is met within 0.12 in the mean") {
    // The constants were looked at beside the first population and the rows; the others are unlike both.
    for (const auto shop : {simulated::ModuleShop::rows, simulated::ModuleShop::loose_cells,
                            simulated::ModuleShop::old_stock, simulated::ModuleShop::mixed}) {
        double stated = 0;
        int met = 0;
        int judged = 0;
        int right = 0;
        constexpr int modules = tests::out_of(150, 8);
        for (std::uint64_t seed = 1; seed <= modules; ++seed) {
            const auto module = simulated::make_module(shop, 9000 + seed);
            ConditioningRules rules;
            rules.bar_ah = module.bar_ah;
            rules.rated_ah = module.rated_ah;
            std::vector<ConditioningCycle> cycles;
            ConditioningResult result;
            int run = 3;
            while (true) {
                while (static_cast<int>(cycles.size()) < run) {
                    const auto& c = module.cycles[cycles.size()];
                    cycles.push_back({static_cast<int>(cycles.size()) + 1, c.measured_ah, c.full});
                }
                result = judge_conditioning(cycles, rules);
                if (result.verdict != ConditioningVerdict::keep_cycling || run >= simulated::module_cycles)
                    break;
                stated += result.pass_probability;
                met += module.good;
                ++judged;
                run = std::min(simulated::module_cycles, run + result.cycles_to_run);
            }
            right += (result.verdict == ConditioningVerdict::fit) == module.good;
        }
        INFO(simulated::name(shop) << ": " << judged << " undecided, stated " << stated / judged << ", met "
                                   << static_cast<double>(met) / judged << ", right " << right << " of " << modules);
        if (tests::sanitized)
            continue;
        CHECK(judged > 100);
        CHECK(std::abs(stated - met) / judged < 0.12); // 150 modules tell it to about 0.04
        CHECK(right > 0.85 * modules);
    }
}
