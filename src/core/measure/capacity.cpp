#include "core/measure/capacity.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double seconds_per_hour = 3600.0;
constexpr double dead_band_a = 0.005;
constexpr double dead_band_share = 0.01;
// A sampling interval this many times the usual one is a hole; shorter waits than this never are.
constexpr double hole_factor = 5.0;
constexpr double hole_least_s = 30.0;
// Currents that differ by less than this share on both sides of a hole are the same current.
constexpr double same_current_share = 0.05;
// A tester stops at the first sample at or under the cutoff; ends within this of the lowest count as reached.
constexpr double cutoff_slack_v = 0.01;

StepKind kind_of(double current_a, double dead_band) {
    if (std::fabs(current_a) <= dead_band)
        return StepKind::rest;
    return current_a > 0 ? StepKind::charge : StepKind::discharge;
}

double usual_interval(const std::vector<double>& time_s) {
    std::vector<double> gaps;
    gaps.reserve(time_s.size());
    for (std::size_t i = 1; i < time_s.size(); ++i)
        if (time_s[i] > time_s[i - 1])
            gaps.push_back(time_s[i] - time_s[i - 1]);
    if (gaps.empty())
        return 0;
    const auto middle = gaps.begin() + static_cast<std::ptrdiff_t>(gaps.size() / 2);
    std::nth_element(gaps.begin(), middle, gaps.end());
    return *middle;
}

std::vector<Step> split(const LogSamples& log, double dead_band) {
    std::vector<Step> steps;
    for (std::size_t i = 0; i < log.size(); ++i) {
        const StepKind kind = kind_of(log.current_a[i], dead_band);
        if (steps.empty() || steps.back().kind != kind) {
            Step step;
            step.kind = kind;
            step.first = i;
            steps.push_back(step);
        }
        steps.back().last = i;
    }
    return steps;
}

// Voltage must rise while charging and fall while discharging. Weigh all steps by what they moved; a log that has it
// the other way round everywhere counts discharge positive.
bool sign_is_turned(const LogSamples& log, const std::vector<Step>& steps) {
    double right = 0;
    double wrong = 0;
    for (const Step& step : steps) {
        if (step.kind == StepKind::rest || step.last == step.first)
            continue;
        const double rise = log.voltage_v[step.last] - log.voltage_v[step.first];
        const double expected = step.kind == StepKind::charge ? rise : -rise;
        (expected >= 0 ? right : wrong) += std::fabs(rise);
    }
    constexpr double plain = 0.05; // V: less says nothing
    return wrong > plain && wrong > 4 * right;
}

void integrate(const LogSamples& log, Step& step, double interval_s, std::vector<LogNote>& notes) {
    double coulombs = 0;
    double joules = 0;
    double hole_coulombs = 0;
    double bridged = 0;
    for (std::size_t i = step.first + 1; i <= step.last; ++i) {
        const double dt = log.time_s[i] - log.time_s[i - 1];
        const double i0 = log.current_a[i - 1];
        const double i1 = log.current_a[i];
        const double moved = 0.5 * (i0 + i1) * dt;
        if (interval_s > 0 && dt > std::max(hole_least_s, hole_factor * interval_s)) {
            const bool same = std::fabs(i1 - i0) <= same_current_share * std::max(std::fabs(i0), std::fabs(i1));
            if (step.kind != StepKind::rest)
                notes.push_back(
                    {same ? LogWarning::hole_bridged : LogWarning::hole_lower_bound, log.time_s[i - 1], dt});
            if (!same) // what flowed is not known: it counts nothing
                continue;
            hole_coulombs += std::fabs(moved);
            bridged += dt;
        }
        coulombs += moved;
        joules += 0.5 * (i0 * log.voltage_v[i - 1] + i1 * log.voltage_v[i]) * dt;
    }
    step.start_s = log.time_s[step.first];
    step.end_s = log.time_s[step.last];
    step.start_v = log.voltage_v[step.first];
    step.end_v = log.voltage_v[step.last];
    step.capacity_ah = std::fabs(coulombs) / seconds_per_hour;
    step.energy_wh = std::fabs(joules) / seconds_per_hour;
    step.hole_ah = hole_coulombs / seconds_per_hour;
    const double lasted = step.end_s - step.start_s;
    step.mean_a = lasted > 0 ? std::fabs(coulombs) / lasted : std::fabs(log.current_a[step.first]);
}

// A discharge is complete when the tester ended it, or when the log ends at or under the cutoff.
void mark_complete(std::vector<Step>& steps, const CapacityOptions& options) {
    std::optional<double> cutoff = options.cutoff_v;
    if (!cutoff) {
        for (std::size_t i = 0; i + 1 < steps.size(); ++i)
            if (steps[i].kind == StepKind::discharge)
                cutoff = std::min(cutoff.value_or(steps[i].end_v), steps[i].end_v);
        if (cutoff)
            *cutoff += cutoff_slack_v;
    }
    if (!cutoff)
        cutoff = options.test_cutoff_v;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const bool tester_ended_it = i + 1 < steps.size();
        steps[i].complete =
            tester_ended_it || (steps[i].kind == StepKind::discharge && cutoff && steps[i].end_v <= *cutoff);
    }
}

// Gain and offset of the meter, the unknown moment of the stop (half a sampling interval), and a tenth of what was
// bridged.
double capacity_uncertainty(const Step& step, double interval_s, const InstrumentErrors& errors) {
    const double hours = (step.end_s - step.start_s) / seconds_per_hour;
    const double gain = errors.current_gain * step.capacity_ah;
    const double offset = errors.current_offset_a * hours;
    const double stop = step.mean_a * 0.5 * interval_s / seconds_per_hour;
    const double hole = 0.1 * step.hole_ah;
    return std::sqrt(gain * gain + offset * offset + stop * stop + hole * hole);
}

// The discharge that counts, the charge before it, and the efficiency where that charge began empty.
void conclude(CapacityResult& result, double interval_s, const InstrumentErrors& errors) {
    const auto& steps = result.steps;
    for (std::size_t i = steps.size(); i-- > 0;) {
        if (steps[i].kind == StepKind::discharge && steps[i].complete) {
            result.discharge_step = i;
            break;
        }
    }
    if (!result.discharge_step) {
        result.notes.push_back({LogWarning::no_complete_discharge, 0, 0});
        return;
    }
    const Step& discharge = steps[*result.discharge_step];
    result.discharge_capacity_ah = discharge.capacity_ah;
    result.discharge_energy_wh = discharge.energy_wh;
    result.uncertainty_ah = capacity_uncertainty(discharge, interval_s, errors);
    double charged = 0;
    bool any_charge = false;
    bool from_empty = false;
    for (std::size_t i = *result.discharge_step; i-- > 0;) {
        if (steps[i].kind == StepKind::charge) {
            charged += steps[i].capacity_ah;
            any_charge = true;
        } else if (steps[i].kind == StepKind::discharge) {
            from_empty = steps[i].complete;
            break;
        }
    }
    if (any_charge)
        result.charge_capacity_ah = charged;
    if (any_charge && from_empty && charged > 0)
        result.coulombic_efficiency = discharge.capacity_ah / charged;
}

} // namespace

const char* code(StepKind kind) {
    switch (kind) {
    case StepKind::charge:
        return "charge";
    case StepKind::discharge:
        return "discharge";
    case StepKind::rest:
        return "rest";
    }
    return "";
}

double trapezoid(std::span<const double> time_s, std::span<const double> y) {
    double sum = 0;
    for (std::size_t i = 1; i < time_s.size(); ++i)
        sum += 0.5 * (y[i - 1] + y[i]) * (time_s[i] - time_s[i - 1]);
    return sum;
}

double crossing_time(double t0, double v0, double t1, double v1, double cutoff_v) {
    return v0 == v1 ? t0 : t0 + (v0 - cutoff_v) / (v0 - v1) * (t1 - t0);
}

CapacityResult measure_capacity(LogSamples& log, const CapacityOptions& options) {
    CapacityResult result;
    if (log.size() < 2) {
        result.notes.push_back({LogWarning::few_samples, 0, static_cast<double>(log.size())});
        result.notes.push_back({LogWarning::no_complete_discharge, 0, 0});
        return result;
    }
    double largest = 0;
    for (const double i : log.current_a)
        largest = std::max(largest, std::fabs(i));
    const double dead_band = std::max(dead_band_a, dead_band_share * largest);
    result.steps = split(log, dead_band);
    if (sign_is_turned(log, result.steps)) {
        for (double& i : log.current_a)
            i = -i;
        for (Step& step : result.steps)
            if (step.kind != StepKind::rest)
                step.kind = step.kind == StepKind::charge ? StepKind::discharge : StepKind::charge;
        result.notes.push_back({LogWarning::current_turned, 0, 0});
    }
    if (std::adjacent_find(log.time_s.begin(), log.time_s.end()) != log.time_s.end())
        result.notes.push_back({LogWarning::time_stands_still, 0, 0});
    const double interval_s = usual_interval(log.time_s);
    for (Step& step : result.steps)
        integrate(log, step, interval_s, result.notes);
    mark_complete(result.steps, options);
    conclude(result, interval_s, options.errors);
    const Step& last = result.steps.back();
    if (last.kind == StepKind::discharge && !last.complete)
        result.notes.push_back({LogWarning::cutoff_not_reached, last.end_s, last.end_v});
    return result;
}

} // namespace ingot
