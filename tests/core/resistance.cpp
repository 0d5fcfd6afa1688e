// Resistance from logs: check values of the published two-level method, closed forms, and what must not count.
#include "core/measure/resistance.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <random>

using namespace ingot;

namespace {

// A cell with one resistance and one slow pair (ohm, s), discharged by `amperes` as a function of time.
template <class Current>
LogSamples log_of(double ohm, double slow_ohm, double slow_s, double step_s, double end_s, Current amperes) {
    LogSamples log;
    double slow_v = 0;
    for (double t = 0; t <= end_s + 1e-9; t += step_s) {
        const double i = amperes(t);
        if (slow_ohm > 0)
            slow_v += step_s * (i * slow_ohm - slow_v) / slow_s;
        log.time_s.push_back(t);
        log.current_a.push_back(i);
        log.voltage_v.push_back(3.9 + i * ohm + slow_v);
    }
    return log;
}

} // namespace

// IEC 61960-3 7.7.3 (clause from memory): I1 = 0.2 It for 10 s gives U1, I2 = 1.0 It for 1 s gives U2.
TEST_CASE("resistance: the two-level pulse of the standard") {
    LogSamples log;
    const auto add = [&](double t, double v, double a) {
        log.time_s.push_back(t);
        log.voltage_v.push_back(v);
        log.current_a.push_back(a);
    };
    for (int t = 0; t < 5; ++t)
        add(t, 4.050, 0);
    for (int t = 5; t <= 15; ++t)
        add(t, 3.985, -0.5);
    add(16, 3.885, -2.5);
    for (int t = 17; t < 25; ++t)
        add(t, 4.02, 0);
    const auto result = measure_resistance(log);
    CHECK(result.method == ResistanceMethod::two_level_pulse);
    CHECK(*result.dc_resistance_ohm == Approx(0.0500).margin(1e-6));
    CHECK(*result.uncertainty_ohm >= 2 * pulse_uncertainty(0.0005, 2.0));
    CHECK(*result.uncertainty_ohm < 0.002);
    CHECK(result.steps.size() == 3);
    CHECK(result.warnings.empty());
}

TEST_CASE("resistance: the uncertainty of a pulse (0.5 mV each, 2.00 A: 0.3536 mOhm)") {
    CHECK(pulse_uncertainty(0.0005, 2.0) == Approx(0.0003536).margin(1e-7));
    CHECK(pulse_uncertainty(0.0005, -2.0) == Approx(0.0003536).margin(1e-7));
}

TEST_CASE("resistance: the pulse is read one second after the step, however often it was sampled") {
    const double ohm = 0.040;
    const double slow_ohm = 0.020;
    const double slow_s = 8;
    const auto amperes = [](double t) { return t < 5 ? 0.0 : t < 15 ? -0.5 : t < 16.01 ? -2.5 : 0.0; };
    // Exact for this circuit: the slow part has reached 1 - exp(-1/8) of its way after a second.
    const double drift =
        (0.5 * (1 - std::exp(-10 / slow_s)) + (2.5 - 0.5 * (1 - std::exp(-10 / slow_s))) * (1 - std::exp(-1 / slow_s)) -
         0.5 * (1 - std::exp(-10 / slow_s))) *
        slow_ohm / 2.0;
    for (const double step_s : {0.1, 0.2, 0.5}) {
        LogSamples log = log_of(ohm, slow_ohm, slow_s, step_s, 25, amperes);
        const auto result = measure_resistance(log);
        CHECK(result.method == ResistanceMethod::two_level_pulse);
        CHECK(*result.dc_resistance_ohm == Approx(ohm + drift).epsilon(0.02));
    }
}

TEST_CASE("resistance: without the pulse, the median over the steps; a turned log is understood") {
    std::mt19937_64 engine(4);
    std::normal_distribution<double> noise(0, 0.0005);
    const auto amperes = [](double t) {
        return t < 20 ? 0.0 : t < 400 ? 1.0 : t < 500 ? 0.0 : t < 900 ? -1.3 : t < 1000 ? 0.0 : -2.0;
    };
    LogSamples log = log_of(0.0612, 0, 1, 1, 1400, amperes);
    for (double& v : log.voltage_v)
        v += noise(engine);
    LogSamples turned = log;
    for (double& a : turned.current_a)
        a = -a;
    const auto result = measure_resistance(log);
    CHECK(result.method == ResistanceMethod::steps);
    CHECK(result.steps.size() == 5);
    CHECK(std::fabs(*result.dc_resistance_ohm - 0.0612) < *result.uncertainty_ohm);
    CHECK(*result.uncertainty_ohm < 0.004);
    const auto again = measure_resistance(turned);
    CHECK(*again.dc_resistance_ohm == Approx(*result.dc_resistance_ohm));
    REQUIRE(again.warnings.size() == 1);
    CHECK(again.warnings[0] == ResistanceWarning::current_turned);
}

TEST_CASE("resistance: the stated uncertainty covers the truth about as often as it says") {
    int covered = 0;
    constexpr int rounds = 400;
    for (int n = 0; n < rounds; ++n) {
        std::mt19937_64 engine(static_cast<std::uint64_t>(n) + 100);
        std::normal_distribution<double> noise(0, 0.001);
        LogSamples log =
            log_of(0.030, 0, 1, 1, 200, [](double t) { return static_cast<int>(t / 20) % 2 == 0 ? 0.0 : -2.0; });
        for (double& v : log.voltage_v)
            v += noise(engine);
        const auto result = measure_resistance(log);
        covered += std::fabs(*result.dc_resistance_ohm - 0.030) <= *result.uncertainty_ohm;
    }
    CHECK(covered >= rounds * 90 / 100);
}

TEST_CASE("resistance: what is no usable step") {
    SECTION("sampled too seldom") {
        LogSamples log = log_of(0.05, 0, 1, 10, 400, [](double t) { return t < 200 ? 0.0 : -1.0; });
        const auto result = measure_resistance(log);
        CHECK_FALSE(result.dc_resistance_ohm);
        CHECK(result.warnings.back() == ResistanceWarning::no_usable_step);
    }
    SECTION("a tail that falls slowly") {
        LogSamples log = log_of(0.05, 0, 1, 1, 1000, [](double t) { return std::exp(-t / 300); });
        CHECK_FALSE(measure_resistance(log).dc_resistance_ohm);
    }
    SECTION("nothing at all") {
        LogSamples log;
        CHECK_FALSE(measure_resistance(log).dc_resistance_ohm);
        log = {{1}, {4}, {0}, {}, {}};
        CHECK_FALSE(measure_resistance(log).dc_resistance_ohm);
    }
    SECTION("two samples at one time") {
        LogSamples log{{0, 0}, {4, 3.9}, {0, -1}, {}, {}};
        CHECK_FALSE(measure_resistance(log).dc_resistance_ohm);
    }
    SECTION("a sample on the edge is not taken for a level") {
        LogSamples log{{0, 1, 2, 2.5, 3, 4, 5}, {4, 4, 4, 3.97, 3.9, 3.9, 3.9}, {0, 0, 0, -0.3, -1, -1, -1}, {}, {}};
        const auto result = measure_resistance(log);
        REQUIRE(result.steps.size() == 1);
        CHECK(*result.dc_resistance_ohm == Approx(0.1));
    }
}

TEST_CASE("N34: a load test by hand: volts at a few currents, beside the standard's two levels (V26)") {
    // V26: 3.985 V at 0.5 A and 3.885 V at 2.5 A are 50 mOhm.
    const auto pulse = load_test({{0.5, 3.985}, {2.5, 3.885}});
    REQUIRE(pulse);
    CHECK(pulse->resistance_ohm == Approx(0.050).epsilon(1e-9));
    CHECK(pulse->open_v == Approx(4.010));
    CHECK_FALSE(pulse->uncertainty_ohm);
    // Millivolts rounded: the line goes through all, its interval holds the truth.
    const auto typed = load_test({{0, 4.101}, {0.35, 4.078}, {1, 4.036}, {1.5, 4.003}});
    REQUIRE(typed);
    CHECK(typed->resistance_ohm == Approx(0.065).margin(0.001));
    CHECK(std::fabs(typed->resistance_ohm - 0.065) <= *typed->uncertainty_ohm);
    CHECK_FALSE(load_test({{1, 4.0}}));
    CHECK_FALSE(load_test({{1, 4.0}, {1, 3.9}}));
    CHECK_FALSE(load_test({{0, 4.0}, {1, 4.1}})); // rises under load
    CHECK_FALSE(load_test({}));
}
