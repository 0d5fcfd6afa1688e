// What must hold of any log: amounts do not depend on how it was sampled or written, steps cover it once, and the
// uncertainty covers the truth of a simulated meter.
#include "core/measure/capacity.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <random>

using namespace ingot;

namespace {

struct Phase {
    double amps;
    double seconds;
};

// A cycle with known charge in every phase, sampled at the given interval; the meter may err.
struct Cycle {
    LogSamples log;
    std::vector<double> truth_ah; // per phase
};

Cycle simulate(const std::vector<Phase>& phases, double interval_s, double gain = 1, double offset_a = 0,
               double noise_a = 0, unsigned seed = 1) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0, 1);
    Cycle cycle;
    double t = 0;
    double volts = 3.6;
    for (const Phase& phase : phases) {
        const double slope = phase.amps * 1e-4;
        const auto add = [&](double at) {
            cycle.log.time_s.push_back(t + at);
            cycle.log.current_a.push_back(phase.amps * gain + (phase.amps != 0 ? offset_a : 0) +
                                          noise_a * normal(random));
            cycle.log.voltage_v.push_back(volts + slope * at);
        };
        double at = 0;
        for (; at < phase.seconds; at += interval_s)
            add(at);
        add(phase.seconds);
        volts += slope * phase.seconds;
        cycle.truth_ah.push_back(std::fabs(phase.amps) * phase.seconds / 3600);
        t += phase.seconds + 1;
    }
    return cycle;
}

const std::vector<Phase> usual{{-0.6, 5000}, {0, 900}, {1.2, 6100}, {0, 1800}, {-0.6, 11'800}, {0, 600}};

} // namespace

TEST_CASE("Amounts do not depend on the sampling interval") {
    for (const double interval : {1.0, 7.0, 10.0, 25.0}) {
        Cycle cycle = simulate(usual, interval);
        const CapacityResult r = measure_capacity(cycle.log);
        REQUIRE(r.steps.size() == usual.size());
        for (std::size_t i = 0; i < usual.size(); ++i)
            CHECK(r.steps[i].capacity_ah == Approx(cycle.truth_ah[i]).margin(1e-9));
        CHECK(*r.discharge_capacity_ah == Approx(cycle.truth_ah[4]));
        CHECK(*r.charge_capacity_ah == Approx(cycle.truth_ah[2]));
        CHECK(*r.coulombic_efficiency == Approx(cycle.truth_ah[4] / cycle.truth_ah[2]));
    }
}

TEST_CASE("Steps cover the log once, in order, and alternate") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        std::mt19937 random(seed);
        std::vector<Phase> phases;
        for (int i = 0; i < 12; ++i) {
            const double amps[] = {0.0, 0.5, 2.0, -0.5, -1.5};
            phases.push_back({amps[random() % 5], 100.0 + static_cast<double>(random() % 900)});
        }
        Cycle cycle = simulate(phases, 5);
        const CapacityResult r = measure_capacity(cycle.log);
        std::size_t next = 0;
        for (std::size_t i = 0; i < r.steps.size(); ++i) {
            CHECK(r.steps[i].first == next);
            CHECK(r.steps[i].last >= r.steps[i].first);
            next = r.steps[i].last + 1;
            if (i > 0)
                CHECK(r.steps[i].kind != r.steps[i - 1].kind);
            CHECK(r.steps[i].capacity_ah >= 0);
            CHECK(r.steps[i].energy_wh >= 0);
            CHECK(r.steps[i].end_s >= r.steps[i].start_s);
        }
        CHECK(next == cycle.log.size());
    }
}

TEST_CASE("Energy lies between the lowest and the highest voltage times the capacity") {
    Cycle cycle = simulate(usual, 10);
    const LogSamples copy = cycle.log;
    const CapacityResult r = measure_capacity(cycle.log);
    for (const Step& step : r.steps) {
        if (step.kind == StepKind::rest)
            continue;
        double low = 1e9;
        double high = 0;
        for (std::size_t i = step.first; i <= step.last; ++i) {
            low = std::min(low, copy.voltage_v[i]);
            high = std::max(high, copy.voltage_v[i]);
        }
        CHECK(step.energy_wh >= low * step.capacity_ah - 1e-9);
        CHECK(step.energy_wh <= high * step.capacity_ah + 1e-9);
        CHECK(step.mean_a == Approx(step.kind == StepKind::charge ? 1.2 : 0.6));
    }
}

TEST_CASE("The uncertainty covers the truth for meters within their errors") {
    // Gain and offset uniform within the instrument's bounds (k = 2): the interval must hold in at least 95 of 100.
    std::mt19937 random(7);
    std::uniform_real_distribution<double> uniform(-1, 1);
    const InstrumentErrors errors;
    int covered = 0;
    constexpr int meters = 200;
    for (int i = 0; i < meters; ++i) {
        Cycle cycle = simulate(usual, 10, 1 + errors.current_gain * uniform(random),
                               errors.current_offset_a * uniform(random), 0.001, static_cast<unsigned>(i + 1));
        const CapacityResult r = measure_capacity(cycle.log);
        REQUIRE(r.discharge_capacity_ah.has_value());
        covered += std::fabs(*r.discharge_capacity_ah - cycle.truth_ah[4]) <= *r.uncertainty_ah ? 1 : 0;
    }
    CHECK(covered >= meters * 95 / 100);
}

TEST_CASE("Noise within the dead band changes nothing, wherever it falls") {
    for (unsigned seed = 1; seed <= 10; ++seed) {
        Cycle cycle = simulate(usual, 10, 1, 0, 0.002, seed);
        CHECK(measure_capacity(cycle.log).steps.size() == usual.size());
    }
}

TEST_CASE("A log counted the other way round gives the same result") {
    for (const auto& phases :
         {usual, std::vector<Phase>{{-0.6, 9000}, {0, 100}}, std::vector<Phase>{{1.0, 5000}, {0, 100}, {-0.5, 9000}}}) {
        Cycle straight = simulate(phases, 10);
        Cycle turned = straight;
        for (double& i : turned.log.current_a)
            i = -i;
        const CapacityResult a = measure_capacity(straight.log);
        const CapacityResult b = measure_capacity(turned.log);
        CHECK(a.discharge_capacity_ah == b.discharge_capacity_ah);
        CHECK(a.charge_capacity_ah == b.charge_capacity_ah);
        CHECK(b.notes.size() == a.notes.size() + 1);
    }
}

TEST_CASE("Bridged holes of any length in a steady discharge") {
    for (const double hole : {60.0, 300.0, 2400.0}) {
        Cycle cycle = simulate({{-0.6, 12'000}, {0, 100}}, 10);
        LogSamples cut;
        for (std::size_t i = 0; i < cycle.log.size(); ++i)
            if (cycle.log.time_s[i] < 3000 || cycle.log.time_s[i] > 3000 + hole) {
                cut.time_s.push_back(cycle.log.time_s[i]);
                cut.voltage_v.push_back(cycle.log.voltage_v[i]);
                cut.current_a.push_back(cycle.log.current_a[i]);
            }
        const CapacityResult whole = measure_capacity(cycle.log);
        const CapacityResult bridged = measure_capacity(cut);
        CHECK(*bridged.discharge_capacity_ah == Approx(*whole.discharge_capacity_ah).margin(1e-9));
        CHECK(*bridged.uncertainty_ah > *whole.uncertainty_ah);
        CHECK(bridged.notes.front().warning == LogWarning::hole_bridged);
        CHECK(bridged.notes.front().amount >= hole);
    }
}
