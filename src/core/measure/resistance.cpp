#include "core/measure/resistance.h"

#include "core/measure/regression.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

// Samples whose current stays within this share of the log's largest current belong to one level.
constexpr double level_share = 0.03;
constexpr double level_least_a = 0.005;
// A step counts when it changes the current by this share of the largest; smaller ones are mostly noise.
constexpr double step_share = 0.15;
constexpr double step_least_a = 0.02;
// One second on either side of the step, and a little for the clock.
constexpr double apart_s = 2.05;
constexpr double reading_after_s = 1.05;
// What still counts as 0.2 It for 10 s and 1.0 It for 1 s.
constexpr double least_first_s = 7.5;
constexpr double most_first_s = 20;
constexpr double least_ratio = 3.5;
constexpr double most_ratio = 7;
constexpr double most_second_s = 5;
// Robust spread of a normal sample: 1.4826 times the median absolute deviation; of its median: 1.2533 over root n.
constexpr double mad_to_sigma = 1.4826;
constexpr double median_efficiency = 1.2533;

struct Level {
    std::size_t first = 0, last = 0;
    double amperes = 0;
};

double median_of(std::vector<double> values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1)
        return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2;
}

std::vector<Level> levels_of(const LogSamples& log, double tolerance) {
    std::vector<Level> levels;
    for (std::size_t i = 0; i < log.size(); ++i) {
        const double amperes = log.current_a[i];
        if (!levels.empty() && std::fabs(amperes - log.current_a[i - 1]) <= tolerance &&
            std::fabs(amperes - levels.back().amperes) <= 2 * tolerance) {
            levels.back().last = i;
            continue;
        }
        // A tail that falls slowly is many levels; none of them differs enough to be a step.
        levels.push_back({i, i, amperes});
    }
    // A single sample between two levels, with a current between theirs, is the edge and not a level.
    std::vector<Level> out;
    for (std::size_t k = 0; k < levels.size(); ++k) {
        const bool lone = levels[k].first == levels[k].last && k > 0 && k + 1 < levels.size();
        if (lone) {
            const double before = levels[k - 1].amperes;
            const double after = levels[k + 1].amperes;
            const double now = levels[k].amperes;
            const bool between = (now - before) * (after - now) > 0;
            const bool quick = log.time_s[levels[k + 1].first] - log.time_s[levels[k - 1].last] <= apart_s;
            if (between && quick)
                continue;
        }
        out.push_back(levels[k]);
    }
    return out;
}

// Scatter of the voltage inside the levels, from second differences, which do not see a steady slope.
double voltage_scatter(const LogSamples& log, const std::vector<Level>& levels) {
    std::vector<double> second;
    for (const Level& level : levels)
        for (std::size_t i = level.first + 2; i <= level.last; ++i)
            second.push_back(std::fabs(log.voltage_v[i] - 2 * log.voltage_v[i - 1] + log.voltage_v[i - 2]));
    constexpr std::size_t enough = 10;
    const double root_six = std::sqrt(6.0); // variance of 1, -2, 1
    return second.size() < enough ? 0 : mad_to_sigma * median_of(std::move(second)) / root_six;
}

// The sample of `level` that stands one second after `from`, or the nearest before that.
std::optional<std::size_t> sample_after(const LogSamples& log, const Level& level, std::size_t from) {
    std::optional<std::size_t> found;
    for (std::size_t i = level.first; i <= level.last; ++i) {
        if (log.time_s[i] - log.time_s[from] > reading_after_s && found)
            break;
        if (log.time_s[i] - log.time_s[from] > apart_s)
            break;
        found = i;
    }
    return found;
}

std::optional<ResistanceStep> step_between(const LogSamples& log, const Level& before, const Level& after,
                                           double least_change) {
    const auto at = sample_after(log, after, before.last);
    if (!at)
        return std::nullopt;
    const double from_a = log.current_a[before.last];
    const double to_a = log.current_a[*at];
    if (std::fabs(to_a - from_a) < least_change || log.time_s[*at] <= log.time_s[before.last])
        return std::nullopt;
    return ResistanceStep{log.time_s[before.last], from_a, to_a,
                          (log.voltage_v[*at] - log.voltage_v[before.last]) / (to_a - from_a)};
}

bool is_standard_pulse(const LogSamples& log, const Level& before, const Level& after) {
    const double first = log.time_s[before.last] - log.time_s[before.first];
    const double second = log.time_s[after.last] - log.time_s[before.last];
    const double ratio = after.amperes / before.amperes;
    return before.amperes < 0 && after.amperes < 0 && first >= least_first_s && first <= most_first_s &&
           second <= most_second_s && ratio >= least_ratio && ratio <= most_ratio;
}

} // namespace

const char* code(ResistanceMethod method) {
    switch (method) {
    case ResistanceMethod::two_level_pulse:
        return "two-level-pulse";
    case ResistanceMethod::steps:
        return "steps";
    case ResistanceMethod::none:
        break;
    }
    return "none";
}

std::optional<LoadTest> load_test(const std::vector<LoadPoint>& points) {
    std::vector<std::vector<double>> rows;
    std::vector<double> volts;
    for (const LoadPoint& point : points) {
        rows.push_back({1, point.current_a});
        volts.push_back(point.voltage_v);
    }
    const auto [least, most] = std::minmax_element(
        points.begin(), points.end(), [](const auto& a, const auto& b) { return a.current_a < b.current_a; });
    constexpr double same_a = 1e-6;
    if (points.size() < 2 || most->current_a - least->current_a < same_a)
        return std::nullopt;
    const LeastSquares line = least_squares(rows, volts);
    LoadTest out;
    out.open_v = line.coefficients[0];
    out.resistance_ohm = -line.coefficients[1];
    if (line.degrees_of_freedom > 0)
        out.uncertainty_ohm = 2 * line.standard_errors[1];
    if (!(out.resistance_ohm > 0))
        return std::nullopt;
    return out;
}

double pulse_uncertainty(double voltage_u_v, double current_change_a) {
    return std::sqrt(2.0) * voltage_u_v / std::fabs(current_change_a);
}

ResistanceResult measure_resistance(LogSamples& log, const ResistanceOptions& options) {
    ResistanceResult result;
    double largest = 0;
    for (const double i : log.current_a)
        largest = std::max(largest, std::fabs(i));
    auto levels = levels_of(log, std::max(level_least_a, level_share * largest));
    const double least_change = std::max(step_least_a, step_share * largest);
    const auto collect = [&] {
        result.steps.clear();
        result.pulses.clear();
        for (std::size_t k = 1; k < levels.size(); ++k) {
            const auto step = step_between(log, levels[k - 1], levels[k], least_change);
            if (!step)
                continue;
            result.steps.push_back(*step);
            if (is_standard_pulse(log, levels[k - 1], levels[k]))
                result.pulses.push_back(*step);
        }
    };
    collect();
    double turned = 0;
    for (const ResistanceStep& step : result.steps)
        turned += (step.resistance_ohm < 0 ? 1 : -1) * std::fabs(step.to_a - step.from_a);
    if (turned > 0) {
        for (double& i : log.current_a)
            i = -i;
        for (Level& level : levels)
            level.amperes = -level.amperes;
        result.warnings.push_back(ResistanceWarning::current_turned);
        collect();
    }
    if (result.steps.empty()) {
        result.warnings.push_back(ResistanceWarning::no_usable_step);
        return result;
    }
    const auto& used = result.pulses.empty() ? result.steps : result.pulses;
    result.method = result.pulses.empty() ? ResistanceMethod::steps : ResistanceMethod::two_level_pulse;
    std::vector<double> ohms;
    std::vector<double> noises;
    ohms.reserve(used.size());
    noises.reserve(used.size());
    const double voltage_u = std::max(options.voltage_noise_v, voltage_scatter(log, levels));
    for (const ResistanceStep& step : used) {
        ohms.push_back(step.resistance_ohm);
        noises.push_back(pulse_uncertainty(voltage_u, step.to_a - step.from_a));
    }
    const double middle = median_of(ohms);
    std::vector<double> away;
    away.reserve(ohms.size());
    for (const double ohm : ohms)
        away.push_back(std::fabs(ohm - middle));
    const double n = static_cast<double>(ohms.size());
    const double spread = mad_to_sigma * median_of(std::move(away)) * median_efficiency / std::sqrt(n);
    const double noise = median_of(std::move(noises)) * (n > 1 ? median_efficiency / std::sqrt(n) : 1);
    const double gain = options.current_gain / 2 * std::fabs(middle);
    result.dc_resistance_ohm = middle;
    result.uncertainty_ohm = 2 * std::sqrt(spread * spread + noise * noise + gain * gain);
    constexpr double much = 0.25;
    if (n > 1 && *result.uncertainty_ohm > much * std::fabs(middle))
        result.warnings.push_back(ResistanceWarning::steps_disagree);
    return result;
}

} // namespace ingot
