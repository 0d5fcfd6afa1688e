// Capacity and energy from a tester's log: steps by current sign, trapezoid on uneven samples, uncertainty, warnings.
//
// Sources: integration and efficiency as in standard battery test practice (IEC 61960-3 discharge to an end voltage,
// from memory); the dead band and the treatment of holes are Ingot's own and described in docs/methods/capacity.md.
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace ingot {

// A log in columns of equal length. Time in s, not falling; charge current positive.
struct LogSamples {
    std::vector<double> time_s;
    std::vector<double> voltage_v;
    std::vector<double> current_a;
    std::vector<double> temperature_c; // empty, or one per sample (NaN = not known)
    [[nodiscard]] std::size_t size() const { return time_s.size(); }
};

enum class StepKind { charge, discharge, rest };
[[nodiscard]] const char* code(StepKind kind);

struct Step {
    StepKind kind{};
    std::size_t first = 0; // sample indices, both inclusive
    std::size_t last = 0;
    double start_s = 0;
    double end_s = 0;
    double capacity_ah = 0; // positive
    double energy_wh = 0;   // positive
    double start_v = 0;
    double end_v = 0;
    double mean_a = 0; // positive
    bool complete = false;
    double hole_ah = 0; // capacity that was bridged over holes in the log
};

enum class LogWarning {
    current_turned,   // the log counts discharge positive; its sign was turned
    hole_bridged,     // same current on both sides of a hole
    hole_lower_bound, // the current changed across a hole inside a step: capacity is a lower bound
    no_complete_discharge,
    cutoff_not_reached,
    time_stands_still, // samples with the same time were seen
    few_samples,
};
struct LogNote {
    LogWarning warning{};
    double at_s = 0;
    double amount = 0; // seconds of the hole, volts at the end
};

// The instrument's own errors, k = 2. Defaults: an ordinary hobby-grade multi-channel tester (common practice, no
// source).
struct InstrumentErrors {
    double current_gain = 0.005; // fraction
    double current_offset_a = 0.002;
};

struct CapacityOptions {
    std::optional<double> cutoff_v;      // given by the person
    std::optional<double> test_cutoff_v; // of the chemistry, over the whole unit
    InstrumentErrors errors;
};

struct CapacityResult {
    std::optional<double> discharge_capacity_ah; // last complete discharge
    std::optional<double> discharge_energy_wh;
    std::optional<double> charge_capacity_ah;   // the charge before it
    std::optional<double> coulombic_efficiency; // only where that charge followed a complete discharge
    std::optional<double> uncertainty_ah;       // k = 2, of the discharge capacity
    std::optional<std::size_t> discharge_step;  // index of the discharge that counts
    std::vector<Step> steps;
    std::vector<LogNote> notes;
};

// Splits and integrates. The current may be turned in place when the log has it the other way round.
[[nodiscard]] CapacityResult measure_capacity(LogSamples& log, const CapacityOptions& options = {});

// Integral of y over time by the trapezoid rule, in y times seconds.
[[nodiscard]] double trapezoid(std::span<const double> time_s, std::span<const double> y);

// Time at which a straight line between two samples crosses `cutoff_v`.
[[nodiscard]] double crossing_time(double t0, double v0, double t1, double v1, double cutoff_v);

} // namespace ingot
