// Capacity and energy from a tester's log: steps by current sign, trapezoid on uneven samples, uncertainty, warnings.
//
// Sources: integration and efficiency as in standard battery test practice (IEC 61960-3 discharge to an end voltage,
// from memory); the dead band and the treatment of holes are Ingot's own and described in docs/methods/capacity.md.
#pragma once

#include "core/measure/moment.h"

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
    std::vector<int> step;             // empty, or the step that the log itself gives to each sample; believed
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
    double mean_a = 0;        // positive
    bool complete = false;    // a discharge: reached its cutoff; everything else: something follows
    double doubt_ah = 0;      // k = 2: what holes and interruptions leave open
    double last_interval = 0; // s, between its last two samples
};

enum class LogWarning {
    current_turned,        // the log counts discharge positive; its sign was turned
    hole_bridged,          // same current on both sides of a hole
    hole_lower_bound,      // the current changed across a hole inside a step: capacity is a lower bound
    interruption_bridged,  // the current was away for at most a minute
    pause_joined,          // a longer pause without a charge: both parts are one discharge
    no_complete_discharge, // nothing that counts reached the cutoff
    cutoff_not_reached,    // a discharge that is large enough to count ended above the cutoff
    time_stands_still,     // samples with the same time were seen
    few_samples,
    several_cells, // the voltages are those of several cells in series
};
// Many alike are one note with their count.
struct LogNote {
    LogWarning warning{};
    double at_s = 0;   // of the first
    double amount = 0; // seconds of all holes, interruptions or pauses; volts at the end; cells
    int count = 1;
};

// The instrument's own errors, k = 2. What stands in for one that nobody held against another is in data/practice.
struct InstrumentErrors {
    double current_gain = 0; // fraction
    double current_offset_a = 0;
};

// Voltages over the whole unit. What ends a discharge is, in this order: the cutoff that a person gave; the lowest end
// of the log's own long discharges, where that is at or under the highest usual cutoff; the chemistry's test cutoff.
struct CapacityOptions {
    std::optional<double> cutoff_v;
    std::optional<double> test_cutoff_v;
    std::optional<double> highest_cutoff_v; // above this no end is a cutoff; not known: every end may be one
    int cells = 1;                          // in series, for what counts as reached (20 mV a cell)
    InstrumentErrors errors;
};
struct Chemistry;
// Of a unit of so many cells in series, logged by such an instrument.
[[nodiscard]] CapacityOptions capacity_options(const Chemistry& chemistry, int cells, const InstrumentErrors& errors);
// How many cells of this chemistry stand in series, judged by the mean voltage of the log's discharges.
[[nodiscard]] int cells_in_log(const LogSamples& log, const Chemistry& chemistry);

// One discharge: a step, or several with only pauses between them.
struct Discharge {
    std::size_t first_step = 0, last_step = 0; // indices, both inclusive
    double capacity_ah = 0;
    double energy_wh = 0;
    double start_v = 0;
    double end_v = 0;
    double mean_a = 0;         // positive, of its discharging steps
    double uncertainty_ah = 0; // k = 2
    bool complete = false;     // reached its cutoff
};

struct CapacityResult {
    std::optional<Discharge> discharge;          // the last complete one that counts
    std::optional<double> discharge_capacity_ah; // its capacity
    std::optional<double> discharge_energy_wh;
    std::optional<double> lower_bound_ah;       // of the largest discharge that counts but did not reach its cutoff
    std::optional<double> charge_capacity_ah;   // the charge before it
    std::optional<double> coulombic_efficiency; // only where that charge followed a complete discharge
    std::optional<double> uncertainty_ah;       // k = 2, of the discharge capacity
    std::vector<Step> steps;
    std::vector<LogNote> notes;
};

// Splits and integrates. The current may be turned in place when the log has it the other way round. A discharge counts
// when it moved at least half of what the log's largest moved: pulses and short discharges are never the capacity.
[[nodiscard]] CapacityResult measure_capacity(LogSamples& log, const CapacityOptions& options = {});

// Integral of y over time by the trapezoid rule, in y times seconds.
[[nodiscard]] double trapezoid(std::span<const double> time_s, std::span<const double> y);

// Time at which a straight line between two samples crosses `cutoff_v`.
[[nodiscard]] double crossing_time(double t0, double v0, double t1, double v1, double cutoff_v);

} // namespace ingot
