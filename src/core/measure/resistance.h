// DC resistance from a tester's log: the standard two-level pulse where there is one, else every usable step of
// current.
//
// Sources: two-level pulse as in IEC 61960-3 (0.2 It for 10 s, then 1.0 It for 1 s, R = (U1 - U2) / (I2 - I1); clause
// from memory). The reading of other steps (last sample before, the sample at most one second after) is common
// practice, no source. See docs/methods/resistance.md.
#pragma once

#include "core/measure/capacity.h"

#include <optional>
#include <vector>

namespace ingot {

enum class ResistanceMethod { none, two_level_pulse, steps };
[[nodiscard]] const char* code(ResistanceMethod method);

struct ResistanceStep {
    double time_s = 0; // of the last sample before the step
    double from_a = 0; // charge positive
    double to_a = 0;
    double resistance_ohm = 0;
};

enum class ResistanceWarning { current_turned, no_usable_step, steps_disagree };

struct ResistanceOptions {
    double voltage_noise_v = 0.0005; // standard uncertainty of one voltage sample
    double current_gain = 0.005;     // fraction, k = 2
};

struct ResistanceResult {
    std::optional<double> dc_resistance_ohm;
    std::optional<double> uncertainty_ohm; // k = 2
    ResistanceMethod method = ResistanceMethod::none;
    std::vector<ResistanceStep> steps;  // all usable ones, in time
    std::vector<ResistanceStep> pulses; // the standard pulses among them
    std::vector<ResistanceWarning> warnings;
};

// The current may be turned in place when the log has it the other way round (then every step's resistance comes out
// negative).
[[nodiscard]] ResistanceResult measure_resistance(LogSamples& log, const ResistanceOptions& options = {});

// A load test by hand: the voltage at a few currents, positive drawn. Straight line through all of them.
struct LoadPoint {
    double current_a = 0;
    double voltage_v = 0;
};
struct LoadTest {
    double resistance_ohm = 0;             // > 0
    double open_v = 0;                     // where no current flows
    std::optional<double> uncertainty_ohm; // k = 2; nothing from two points
};
// Nothing: fewer than two different currents, or the voltage does not fall under load.
[[nodiscard]] std::optional<LoadTest> load_test(const std::vector<LoadPoint>& points);

// Standard uncertainty (k = 1) of a resistance from two voltages of standard uncertainty `voltage_u_v` each.
[[nodiscard]] double pulse_uncertainty(double voltage_u_v, double current_change_a);

} // namespace ingot
