#include "core/measure/capacity.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <gsl/gsl_integration.h>

using namespace ingot;

namespace {

struct Builder {
    LogSamples log;
    double t = 0;
    void run(double amps, double seconds, double from_v, double to_v, double step_s = 10) {
        const int n = static_cast<int>(seconds / step_s);
        for (int i = 0; i <= n; ++i) {
            log.time_s.push_back(t + i * step_s);
            log.current_a.push_back(amps);
            log.voltage_v.push_back(from_v + (to_v - from_v) * i / n);
        }
        t += seconds + step_s;
    }
};

LogSamples full_cycle() {
    Builder b;
    b.run(-0.5, 3600, 3.6, 3.0); // to empty
    b.run(0, 600, 3.2, 3.2);
    b.run(1.0, 7200, 3.3, 4.2); // 2.0 Ah in
    b.run(0, 1800, 4.18, 4.17);
    b.run(-0.5, 14000, 4.1, 3.0); // 1.944 Ah out
    b.run(0, 300, 3.2, 3.3);
    return b.log;
}

bool has(const CapacityResult& result, LogWarning warning) {
    for (const auto& note : result.notes)
        if (note.warning == warning)
            return true;
    return false;
}

} // namespace

TEST_CASE("Trapezoid on uneven samples") {
    // Worked by hand and by a second program: Q of I, E of U times I at the samples.
    const std::vector<double> t{0, 600, 1800, 3600, 5400};
    const std::vector<double> i{1.0, 1.2, 1.2, 0.8, 0.4};
    const std::vector<double> u{4.10, 3.90, 3.75, 3.60, 3.00};
    std::vector<double> p;
    for (std::size_t k = 0; k < t.size(); ++k)
        p.push_back(i[k] * u[k]);
    CHECK(trapezoid(t, i) / 3600 == Approx(1.38333).margin(1e-5));
    CHECK(trapezoid(t, p) / 3600 == Approx(5.12667).margin(1e-5));
    CHECK(trapezoid(t, p) / trapezoid(t, i) == Approx(3.7060).margin(1e-4));
}

TEST_CASE("The integral of a decaying current, against a numerical library and the exact value") {
    std::vector<double> t;
    std::vector<double> i;
    for (int s = 0; s <= 7200; s += 60) {
        t.push_back(s);
        i.push_back(std::exp(-s / 3600.0));
    }
    CHECK(trapezoid(t, i) / 3600 == Approx(0.864685).margin(1e-6));
    gsl_function f;
    f.function = [](double x, void*) { return std::exp(-x / 3600.0); };
    f.params = nullptr;
    double result = 0;
    double error = 0;
    std::size_t evaluations = 0;
    gsl_integration_qng(&f, 0, 7200, 1e-9, 1e-9, &result, &error, &evaluations);
    CHECK(result / 3600 == Approx(1 - std::exp(-2.0)).margin(1e-9));
    CHECK(std::fabs(trapezoid(t, i) - result) / result < 5e-5);
}

TEST_CASE("Crossing of the cutoff") {
    // 3.02 V at 7200 s, 2.99 V at 7210 s: 3.00 V is crossed at 7206.67 s.
    CHECK(crossing_time(7200, 3.02, 7210, 2.99, 3.00) == Approx(7206.67).margin(0.01));
    CHECK(crossing_time(0, 3, 10, 3, 3) == 0);
}

TEST_CASE("A full cycle: steps, capacity, efficiency") {
    LogSamples log = full_cycle();
    CapacityOptions usual;
    usual.errors = {0.005, 0.002};
    const CapacityResult r = measure_capacity(log, usual);
    REQUIRE(r.steps.size() == 6);
    CHECK(r.steps[0].kind == StepKind::discharge);
    CHECK(r.steps[2].kind == StepKind::charge);
    CHECK(r.discharge->first_step == 4);
    CHECK(r.discharge->last_step == 4);
    CHECK(*r.discharge_capacity_ah == Approx(0.5 * 14000 / 3600).margin(1e-9));
    CHECK(*r.charge_capacity_ah == Approx(2.0).margin(1e-9));
    CHECK(*r.coulombic_efficiency == Approx(0.5 * 14000 / 7200).margin(1e-9));
    CHECK(*r.discharge_energy_wh == Approx(0.5 * 14000 / 3600 * 3.55).margin(1e-3));
    CHECK(r.steps[4].complete);
    CHECK(r.notes.empty());
    // Gain 0.5 % and offset 2 mA over 3.89 h.
    CHECK(*r.uncertainty_ah > 0.0078);
    CHECK(*r.uncertainty_ah < 0.0150);
    // K12: the errors are the instrument's; core knows none of its own.
    LogSamples again = full_cycle();
    CHECK(*measure_capacity(again).uncertainty_ah < 0.001);
}

TEST_CASE("An offset of 2 mA over a 5 h test is 10 mAh") {
    Builder b;
    b.run(-0.5, 18000, 4.1, 3.0, 60);
    b.run(0, 60, 3.2, 3.2);
    CapacityOptions exact;
    exact.errors = {0, 0.002};
    const CapacityResult r = measure_capacity(b.log, exact);
    CHECK(*r.uncertainty_ah == Approx(0.010).epsilon(0.1)); // half a sampling interval adds a little
}

TEST_CASE("Noise at zero makes no steps, and a CV tail stays in its charge") {
    Builder b;
    b.run(2.0, 3600, 3.4, 4.2);
    for (int i = 0; i < 200; ++i) { // the tail down to 0.1 A
        b.log.time_s.push_back(b.t);
        b.log.current_a.push_back(2.0 * std::exp(-i / 60.0) + 0.03);
        b.log.voltage_v.push_back(4.2);
        b.t += 10;
    }
    for (int i = 0; i < 100; ++i) {
        b.log.time_s.push_back(b.t);
        b.log.current_a.push_back(i % 2 == 0 ? 0.004 : -0.004);
        b.log.voltage_v.push_back(4.18);
        b.t += 10;
    }
    const CapacityResult r = measure_capacity(b.log);
    REQUIRE(r.steps.size() == 2);
    CHECK(r.steps[0].kind == StepKind::charge);
    CHECK(r.steps[1].kind == StepKind::rest);
    CHECK(r.steps[0].capacity_ah > 2.0);
    CHECK_FALSE(r.discharge_capacity_ah.has_value());
    CHECK(has(r, LogWarning::no_complete_discharge));
}

TEST_CASE("A log that counts discharge positive is turned and says so") {
    LogSamples log = full_cycle();
    const LogSamples straight = log;
    for (double& i : log.current_a)
        i = -i;
    const CapacityResult r = measure_capacity(log);
    LogSamples copy = straight;
    CHECK(*r.discharge_capacity_ah == Approx(*measure_capacity(copy).discharge_capacity_ah));
    CHECK(has(r, LogWarning::current_turned));
    CHECK(log.current_a == straight.current_a);
}

namespace {

CapacityOptions of_nmc() {
    CapacityOptions options; // common practice: tests of salvaged Li-ion cells end at 3.00 V or lower
    options.test_cutoff_v = 3.0;
    options.highest_cutoff_v = 3.0;
    return options;
}

} // namespace

TEST_CASE("K1: complete means that the cutoff was reached, whether or not something follows") {
    SECTION("ends above the cutoff: a lower bound") {
        Builder b;
        b.run(-0.5, 3600, 4.1, 3.7);
        b.run(0, 1800, 3.72, 3.75);
        const CapacityResult r = measure_capacity(b.log, of_nmc());
        CHECK_FALSE(r.discharge_capacity_ah.has_value());
        CHECK(*r.lower_bound_ah == Approx(0.5));
        CHECK(has(r, LogWarning::cutoff_not_reached));
        CHECK_FALSE(r.steps.front().complete);
    }
    SECTION("a given cutoff is reached, within 20 mV") {
        Builder b;
        b.run(-0.5, 3600, 4.1, 3.415);
        CapacityOptions options;
        options.cutoff_v = 3.4;
        CHECK(measure_capacity(b.log, options).discharge_capacity_ah.has_value());
        options.cutoff_v = 3.39;
        CHECK_FALSE(measure_capacity(b.log, options).discharge_capacity_ah.has_value());
    }
    SECTION("the file's own lowest end counts where it can be a cutoff, and not where it cannot") {
        Builder low;
        low.run(-0.5, 3600, 4.1, 2.75);
        low.run(0.5, 3600, 3.5, 4.2);
        low.run(-0.5, 3600, 4.1, 2.76);
        CHECK(measure_capacity(low.log, of_nmc()).discharge->first_step == 2);
        Builder high;
        high.run(-0.5, 3600, 4.1, 3.4);
        high.run(0.5, 3600, 3.5, 4.2);
        high.run(-0.5, 3600, 4.1, 3.4);
        CHECK_FALSE(measure_capacity(high.log, of_nmc()).discharge.has_value());
    }
}

TEST_CASE("K1: a pulse or a top-up after a discharge is never the capacity") {
    LogSamples log = full_cycle();
    Builder b;
    b.log = log;
    b.t = log.time_s.back() + 10;
    b.run(0, 600, 3.3, 3.35);
    b.run(-0.4, 10, 3.33, 3.32, 1); // the standard two-level pulse
    b.run(-2.0, 1, 3.2, 3.2, 1);
    b.run(0, 300, 3.3, 3.34);
    b.run(0.5, 1200, 3.4, 3.6); // topped up for storage
    const CapacityResult r = measure_capacity(b.log, of_nmc());
    CHECK(*r.discharge_capacity_ah == Approx(0.5 * 14000 / 3600).margin(1e-6));
    CHECK_FALSE(r.lower_bound_ah.has_value());
    CHECK(*r.charge_capacity_ah == Approx(2.0).margin(1e-9));
    CHECK(r.coulombic_efficiency.has_value());
}

TEST_CASE("K1: a pulse before the discharge belongs to the charge that is emptied") {
    Builder b;
    b.run(1.0, 7200, 3.3, 4.2);
    b.run(0, 1800, 4.18, 4.17);
    b.run(-1.0, 60, 4.1, 4.09, 1);
    b.run(0, 1800, 4.15, 4.16);
    b.run(-0.5, 13000, 4.1, 3.0);
    const CapacityResult r = measure_capacity(b.log, of_nmc());
    CHECK(*r.discharge_capacity_ah == Approx((60 + 0.5 * 13000) / 3600).margin(1e-3));
    CHECK(has(r, LogWarning::pause_joined));
}

TEST_CASE("K1: a dropped sample or a clip that was touched does not split a discharge") {
    Builder whole;
    whole.run(-0.5, 14000, 4.1, 3.0);
    LogSamples plain = whole.log;
    const double expected = *measure_capacity(plain, of_nmc()).discharge_capacity_ah;
    SECTION("one sample reads 0 A while the voltage goes on: it flowed") {
        LogSamples log = whole.log;
        log.current_a[700] = 0;
        const CapacityResult r = measure_capacity(log, of_nmc());
        REQUIRE(r.steps.size() == 1);
        CHECK(*r.discharge_capacity_ah == Approx(expected).margin(1e-9));
        REQUIRE(has(r, LogWarning::interruption_bridged));
    }
    SECTION("a clip was off for 40 s and the voltage rose: nothing flowed") {
        LogSamples log = whole.log;
        for (std::size_t i = 700; i < 704; ++i) {
            log.current_a[i] = 0;
            log.voltage_v[i] += 0.04;
        }
        const CapacityResult r = measure_capacity(log, of_nmc());
        REQUIRE(r.steps.size() == 1);
        CHECK(*r.discharge_capacity_ah == Approx(expected - 0.5 * 40 / 3600).margin(1e-9));
        CHECK(*r.uncertainty_ah > 0.5 * 40 / 3600 / 2);
    }
    SECTION("ten of them are one note with a count") {
        LogSamples log = whole.log;
        for (std::size_t i = 100; i < 1100; i += 100)
            log.current_a[i] = 0;
        const CapacityResult r = measure_capacity(log, of_nmc());
        CHECK(r.steps.size() == 1);
        CHECK(r.notes.size() == 1);
        CHECK(r.notes.front().count == 10);
    }
}

TEST_CASE("K1: a pause is not the cutoff: both parts are one discharge, with a wider uncertainty") {
    Builder b;
    b.run(-0.5, 7000, 4.1, 3.7);
    b.run(0, 3600, 3.75, 3.78);
    b.run(-0.5, 7000, 3.7, 3.0);
    const CapacityResult r = measure_capacity(b.log, of_nmc());
    REQUIRE(r.steps.size() == 3);
    CHECK(*r.discharge_capacity_ah == Approx(0.5 * 14000 / 3600).margin(1e-6));
    CHECK(r.discharge->first_step == 0);
    CHECK(r.discharge->last_step == 2);
    CHECK(r.discharge->start_v == 4.1);
    CHECK(has(r, LogWarning::pause_joined));
    Builder straight;
    straight.run(-0.5, 14000, 4.1, 3.0);
    CHECK(*r.uncertainty_ah > *measure_capacity(straight.log, of_nmc()).uncertainty_ah);
}

TEST_CASE("K1: a log that names its steps is believed") {
    Builder b;
    b.run(1.0, 3600, 3.5, 4.2);
    b.run(0.3, 1800, 4.2, 4.2); // the same sign, another step
    b.run(-0.5, 13000, 4.1, 3.0);
    for (std::size_t i = 0; i < b.log.size(); ++i)
        b.log.step.push_back(i < 361 ? 1 : i < 542 ? 2 : 3);
    const CapacityResult r = measure_capacity(b.log, of_nmc());
    REQUIRE(r.steps.size() == 3);
    CHECK(r.steps[1].kind == StepKind::charge);
    CHECK(*r.charge_capacity_ah == Approx(1.15).margin(2e-3));
}

TEST_CASE("K1: samples as uneven as testers make them have no gaps; what is far longer than around it has") {
    Builder b; // on change: from 2 s to 110 s
    double v = 4.1;
    for (int i = 0; i < 400; ++i) {
        b.log.time_s.push_back(b.t);
        b.log.current_a.push_back(-0.5);
        b.log.voltage_v.push_back(v);
        b.t += i % 3 == 0 ? 110 : 2 + i % 40;
        v -= 1.1 / 399;
    }
    CHECK_FALSE(has(measure_capacity(b.log, of_nmc()), LogWarning::hole_bridged));
    for (std::size_t i = 200; i < b.log.size(); ++i)
        b.log.time_s[i] += 1500;
    const CapacityResult r = measure_capacity(b.log, of_nmc());
    CHECK(has(r, LogWarning::hole_bridged));
}

TEST_CASE("Holes in a log") {
    Builder b;
    b.run(-0.5, 3600, 4.1, 3.6);
    const double hole = 1200;
    b.t += hole;
    b.run(-0.5, 3600, 3.5, 3.0);
    b.run(0, 100, 3.2, 3.2);
    SECTION("the same current on both sides is bridged, with a wider uncertainty") {
        const CapacityResult r = measure_capacity(b.log);
        REQUIRE(r.steps.size() == 2);
        CHECK(*r.discharge_capacity_ah == Approx(0.5 * (7200 + hole + 10) / 3600).margin(1e-6));
        CHECK(has(r, LogWarning::hole_bridged));
        CHECK(*r.uncertainty_ah > 0.1 * 0.5 * hole / 3600);
    }
    SECTION("another current makes the capacity a lower bound") {
        for (std::size_t i = 361; i < 722; ++i)
            b.log.current_a[i] = -1.0;
        const CapacityResult r = measure_capacity(b.log);
        CHECK(has(r, LogWarning::hole_lower_bound));
        CHECK(*r.discharge_capacity_ah == Approx(1.5 * 3600 / 3600).margin(1e-6));
    }
}

TEST_CASE("Logs with next to nothing in them") {
    LogSamples none;
    CHECK(has(measure_capacity(none), LogWarning::few_samples));
    LogSamples one{{0}, {3.7}, {0.1}, {}, {}};
    CHECK(has(measure_capacity(one), LogWarning::few_samples));
    LogSamples still{{5, 5, 5}, {3.7, 3.6, 3.5}, {-1, -1, -1}, {}, {}};
    const CapacityResult r = measure_capacity(still);
    CHECK(has(r, LogWarning::time_stands_still));
    CHECK(r.steps.front().capacity_ah == 0);
}
