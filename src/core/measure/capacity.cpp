#include "core/measure/capacity.h"

#include "core/cells/chemistry.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double dead_band_a = 0.005;
constexpr double dead_band_share = 0.01;
// A sampling interval this many times what is usual around it is a hole; shorter waits than this never are.
constexpr double hole_factor = 6.0;
constexpr double hole_least_s = 30.0;
constexpr std::size_t around = 20; // intervals on either side
// Currents that differ by less than this share on both sides of a hole are the same current.
constexpr double same_current_share = 0.05;
// The current may be away this long without ending a step: a dropped sample, a clip that was touched.
constexpr double longest_interruption_s = 60.0;
// A voltage this near the line across an interruption never relaxed: the sample was dropped, the current flowed on.
constexpr double never_relaxed_v = 0.004;
constexpr double reached_v = 0.02; // a cell
constexpr double counts_share = 0.5;

StepKind kind_of(double current_a, double dead_band) {
    if (std::fabs(current_a) <= dead_band)
        return StepKind::rest;
    return current_a > 0 ? StepKind::charge : StepKind::discharge;
}

// The usual interval around each sample's own (that before it): the 80th percentile of its neighbours, so that an
// instrument that writes on change, or every minute, has no holes by its own pattern.
std::vector<double> usual_intervals(const std::vector<double>& time_s, const Step& step) {
    std::vector<double> usual(step.last - step.first + 1, 0.0);
    std::vector<double> window;
    // The window moves by half its width: neighbours share one pattern.
    for (std::size_t from = step.first + 1; from <= step.last; from += around) {
        const std::size_t low = from > step.first + around ? from - around : step.first + 1;
        const std::size_t high = std::min(step.last, from + 2 * around);
        window.clear();
        for (std::size_t i = low; i <= high; ++i)
            window.push_back(time_s[i] - time_s[i - 1]);
        constexpr double share = 0.8;
        const auto at = window.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(window.size() - 1));
        std::nth_element(window.begin(), at, window.end());
        for (std::size_t i = from; i < std::min(from + around, step.last + 1); ++i)
            usual[i - step.first] = *at;
    }
    return usual;
}

std::vector<Step> split(const LogSamples& log, double dead_band) {
    std::vector<Step> steps;
    const bool named = log.step.size() == log.size();
    for (std::size_t i = 0; i < log.size(); ++i) {
        const StepKind kind = kind_of(log.current_a[i], dead_band);
        const bool begins = steps.empty() || (named ? log.step[i] != log.step[i - 1] : steps.back().kind != kind);
        if (begins) {
            Step step;
            step.kind = kind;
            step.first = i;
            steps.push_back(step);
        }
        steps.back().last = i;
    }
    if (named) // its first sample may still show the step before: what it mostly did counts
        for (Step& step : steps) {
            double sum = 0;
            for (std::size_t i = step.first; i <= step.last; ++i)
                sum += log.current_a[i];
            step.kind = kind_of(sum / static_cast<double>(step.last - step.first + 1), dead_band);
        }
    return steps;
}

double level_at(const LogSamples& log, std::size_t from, std::size_t to) {
    double sum = 0;
    for (std::size_t i = from; i <= to; ++i)
        sum += log.current_a[i];
    return sum / static_cast<double>(to - from + 1);
}

// The current was away for a moment and came back at the same level: one step, not three.
std::vector<Step> join_interruptions(const LogSamples& log, std::vector<Step> steps, std::vector<LogNote>& notes) {
    std::vector<Step> out;
    LogNote note{LogWarning::interruption_bridged, 0, 0, 0};
    constexpr std::size_t most = 5; // samples that tell a level
    for (std::size_t s = 0; s < steps.size(); ++s) {
        if (out.size() >= 2 && out.back().kind == StepKind::rest && steps[s].kind != StepKind::rest &&
            out[out.size() - 2].kind == steps[s].kind) {
            Step& before = out[out.size() - 2];
            const double away = log.time_s[steps[s].first] - log.time_s[before.last];
            const double level =
                level_at(log, before.last - std::min(most - 1, before.last - before.first), before.last);
            const double back = level_at(log, steps[s].first, std::min(steps[s].last, steps[s].first + most - 1));
            if (away <= longest_interruption_s &&
                std::fabs(back - level) <= same_current_share * std::max(std::fabs(back), std::fabs(level))) {
                if (note.count++ == 0)
                    note.at_s = log.time_s[before.last];
                note.amount += away;
                before.last = steps[s].last;
                out.pop_back();
                continue;
            }
        }
        out.push_back(steps[s]);
    }
    if (note.count > 0)
        notes.push_back(note);
    return out;
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

struct HoleNotes {
    LogNote bridged{LogWarning::hole_bridged, 0, 0, 0};
    LogNote lower_bound{LogWarning::hole_lower_bound, 0, 0, 0};
    static void add(LogNote& note, double at_s, double seconds) {
        if (note.count++ == 0)
            note.at_s = at_s;
        note.amount += seconds;
    }
};

// Whether the voltage between two samples stayed on the line between them: no current that stops lets it.
bool never_relaxed(const LogSamples& log, std::size_t before, std::size_t after) {
    const double slope =
        (log.voltage_v[after] - log.voltage_v[before]) / std::max(1e-9, log.time_s[after] - log.time_s[before]);
    const double slack = std::max(never_relaxed_v, 2 * std::fabs(log.voltage_v[after] - log.voltage_v[before]));
    for (std::size_t i = before + 1; i < after; ++i)
        if (std::fabs(log.voltage_v[i] - log.voltage_v[before] - slope * (log.time_s[i] - log.time_s[before])) > slack)
            return false;
    return true;
}

void integrate(const LogSamples& log, Step& step, double dead_band, HoleNotes& holes) {
    double coulombs = 0;
    double joules = 0;
    double doubt = 0;
    const auto add = [&](std::size_t from, std::size_t to) {
        const double dt = log.time_s[to] - log.time_s[from];
        const double i0 = log.current_a[from];
        const double i1 = log.current_a[to];
        coulombs += 0.5 * (i0 + i1) * dt;
        joules += 0.5 * (i0 * log.voltage_v[from] + i1 * log.voltage_v[to]) * dt;
        return std::fabs(0.5 * (i0 + i1) * dt);
    };
    const std::vector<double> usual = usual_intervals(log.time_s, step);
    for (std::size_t i = step.first + 1; i <= step.last; ++i) {
        const double i0 = log.current_a[i - 1];
        const double i1 = log.current_a[i];
        const double dt = log.time_s[i] - log.time_s[i - 1];
        if (step.kind != StepKind::rest && std::fabs(i1) <= dead_band && std::fabs(i0) > dead_band && i < step.last) {
            std::size_t back = i;
            while (back < step.last && std::fabs(log.current_a[back]) <= dead_band)
                ++back;
            if (std::fabs(log.current_a[back]) > dead_band && log.step.empty()) {
                // Either the current stopped or only its samples are missing; what speaks against is left as doubt.
                const double whole =
                    std::fabs(0.5 * (i0 + log.current_a[back]) * (log.time_s[back] - log.time_s[i - 1]));
                if (never_relaxed(log, i - 1, back))
                    add(i - 1, back);
                else
                    for (std::size_t k = i; k <= back; ++k)
                        add(k - 1, k);
                doubt += whole / 2;
                i = back;
                continue;
            }
        }
        if (dt > std::max(hole_least_s, hole_factor * usual[i - step.first])) {
            const bool same = std::fabs(i1 - i0) <= same_current_share * std::max(std::fabs(i0), std::fabs(i1));
            if (step.kind != StepKind::rest)
                HoleNotes::add(same ? holes.bridged : holes.lower_bound, log.time_s[i - 1], dt);
            if (!same) // what flowed is not known: it counts nothing
                continue;
            constexpr double bridged_doubt = 0.1;
            doubt += bridged_doubt * add(i - 1, i);
            continue;
        }
        add(i - 1, i);
    }
    step.start_s = log.time_s[step.first];
    step.end_s = log.time_s[step.last];
    step.start_v = log.voltage_v[step.first];
    step.end_v = log.voltage_v[step.last];
    step.capacity_ah = std::fabs(coulombs) / seconds_per_hour;
    step.energy_wh = std::fabs(joules) / seconds_per_hour;
    step.doubt_ah = doubt / seconds_per_hour;
    step.last_interval = step.last > step.first ? step.end_s - log.time_s[step.last - 1] : 0;
    const double lasted = step.end_s - step.start_s;
    step.mean_a = lasted > 0 ? std::fabs(coulombs) / lasted : std::fabs(log.current_a[step.first]);
}

double largest_discharge(const std::vector<Step>& steps) {
    double largest = 0;
    for (const Step& step : steps)
        if (step.kind == StepKind::discharge)
            largest = std::max(largest, step.capacity_ah);
    return largest;
}

// The end voltage that makes a discharge complete, with what still counts as reached.
std::optional<double> cutoff_of(const std::vector<Step>& steps, const CapacityOptions& options) {
    const double slack = reached_v * options.cells;
    if (options.cutoff_v)
        return *options.cutoff_v + slack;
    const double least = counts_share * largest_discharge(steps);
    std::optional<double> lowest;
    for (const Step& step : steps)
        if (step.kind == StepKind::discharge && step.capacity_ah >= least)
            lowest = std::min(lowest.value_or(step.end_v), step.end_v);
    if (lowest && (!options.highest_cutoff_v || *lowest <= *options.highest_cutoff_v))
        return *lowest + slack;
    if (options.test_cutoff_v)
        return *options.test_cutoff_v + slack;
    return std::nullopt;
}

// Gain and offset of the meter, the unknown moment of the stop (half the interval before it), and what holes left open.
double capacity_uncertainty(const Step& step, const InstrumentErrors& errors) {
    const double hours = (step.end_s - step.start_s) / seconds_per_hour;
    const double gain = errors.current_gain * step.capacity_ah;
    const double offset = errors.current_offset_a * hours;
    const double stop = step.mean_a * 0.5 * step.last_interval / seconds_per_hour;
    return std::sqrt(gain * gain + offset * offset + stop * stop + step.doubt_ah * step.doubt_ah);
}

// Discharges, those with nothing but pauses between them as one: as long as the first part did not reach its cutoff,
// what follows goes on emptying the same charge.
std::vector<Discharge> discharges_of(const std::vector<Step>& steps, const InstrumentErrors& errors, LogNote& pauses) {
    std::vector<Discharge> out;
    bool open = false;
    double hours = 0;
    for (std::size_t s = 0; s < steps.size(); ++s) {
        const Step& step = steps[s];
        if (step.kind == StepKind::charge)
            open = false;
        if (step.kind != StepKind::discharge)
            continue;
        const double own = capacity_uncertainty(step, errors);
        if (!open) {
            out.push_back({s, s, 0, 0, step.start_v, 0, 0, 0, false});
            hours = 0;
        } else {
            const double paused = step.start_s - steps[out.back().last_step].end_s;
            if (paused > longest_interruption_s) {
                if (pauses.count++ == 0)
                    pauses.at_s = steps[out.back().last_step].end_s;
                pauses.amount += paused;
            }
            // A rest gives back what was lost to the rate before it: a hundredth is common practice, no source.
            constexpr double recovered = 0.01;
            out.back().uncertainty_ah = std::hypot(out.back().uncertainty_ah, recovered * step.capacity_ah);
        }
        Discharge& whole = out.back();
        whole.last_step = s;
        whole.capacity_ah += step.capacity_ah;
        whole.energy_wh += step.energy_wh;
        whole.end_v = step.end_v;
        whole.complete = step.complete;
        whole.uncertainty_ah = std::hypot(whole.uncertainty_ah, own);
        hours += (step.end_s - step.start_s) / seconds_per_hour;
        whole.mean_a = hours > 0 ? whole.capacity_ah / hours : step.mean_a;
        open = !step.complete;
    }
    return out;
}

// The discharge that counts, the charge before it, and the efficiency where that charge began empty.
void conclude(CapacityResult& result, const InstrumentErrors& errors) {
    const auto& steps = result.steps;
    LogNote pauses{LogWarning::pause_joined, 0, 0, 0};
    const std::vector<Discharge> discharges = discharges_of(steps, errors, pauses);
    double largest = 0;
    for (const Discharge& d : discharges)
        largest = std::max(largest, d.capacity_ah);
    std::optional<Discharge> cut_short;
    for (const Discharge& d : discharges) {
        if (d.capacity_ah < counts_share * largest || !(d.capacity_ah > 0))
            continue;
        if (d.complete)
            result.discharge = d;
        else if (!cut_short || d.capacity_ah > cut_short->capacity_ah)
            cut_short = d;
    }
    if (pauses.count > 0)
        result.notes.push_back(pauses);
    if (cut_short) {
        result.lower_bound_ah = cut_short->capacity_ah;
        result.notes.push_back({LogWarning::cutoff_not_reached, steps[cut_short->last_step].end_s, cut_short->end_v});
    }
    if (!result.discharge) {
        result.notes.push_back({LogWarning::no_complete_discharge, 0, 0});
        return;
    }
    const Discharge& discharge = *result.discharge;
    result.discharge_capacity_ah = discharge.capacity_ah;
    result.discharge_energy_wh = discharge.energy_wh;
    result.uncertainty_ah = discharge.uncertainty_ah;
    double charged = 0;
    std::size_t s = discharge.first_step;
    for (; s > 0 && steps[s - 1].kind != StepKind::discharge; --s)
        if (steps[s - 1].kind == StepKind::charge)
            charged += steps[s - 1].capacity_ah;
    if (!(charged > 0))
        return;
    result.charge_capacity_ah = charged;
    // Emptied before, and since then at most pulses or pauses.
    for (; s > 0 && steps[s - 1].kind != StepKind::charge; --s)
        if (steps[s - 1].complete && steps[s - 1].kind == StepKind::discharge) {
            result.coulombic_efficiency = discharge.capacity_ah / charged;
            return;
        }
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

CapacityOptions capacity_options(const Chemistry& chemistry, int cells, const InstrumentErrors& errors) {
    CapacityOptions options;
    options.errors = errors;
    options.cells = std::max(1, cells);
    options.test_cutoff_v = chemistry.test_cutoff_v * options.cells;
    options.highest_cutoff_v = std::max(chemistry.test_cutoff_v, chemistry.highest_cutoff_v) * options.cells;
    return options;
}

int cells_in_log(const LogSamples& log, const Chemistry& chemistry) {
    double largest = 0;
    for (const double i : log.current_a)
        largest = std::max(largest, std::fabs(i));
    double volts = 0;
    std::size_t count = 0;
    for (std::size_t i = 0; i < log.size(); ++i)
        if (std::fabs(log.current_a[i]) > dead_band_share * largest) {
            volts += log.voltage_v[i];
            ++count;
        }
    if (count == 0 || !(chemistry.nominal_v() > 0))
        return 1;
    return std::max(1, static_cast<int>(std::lround(volts / static_cast<double>(count) / chemistry.nominal_v())));
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
    if (log.step.empty())
        result.steps = join_interruptions(log, std::move(result.steps), result.notes);
    if (std::adjacent_find(log.time_s.begin(), log.time_s.end()) != log.time_s.end())
        result.notes.push_back({LogWarning::time_stands_still, 0, 0});
    HoleNotes holes;
    for (Step& step : result.steps)
        integrate(log, step, dead_band, holes);
    for (const LogNote& note : {holes.bridged, holes.lower_bound})
        if (note.count > 0)
            result.notes.push_back(note);
    const auto cutoff = cutoff_of(result.steps, options);
    for (std::size_t i = 0; i < result.steps.size(); ++i) {
        Step& step = result.steps[i];
        step.complete =
            step.kind == StepKind::discharge ? cutoff && step.end_v <= *cutoff : i + 1 < result.steps.size();
    }
    conclude(result, options.errors);
    return result;
}

} // namespace ingot
