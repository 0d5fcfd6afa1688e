#include "workshop/pack_course.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr std::size_t most_levels = 4000; // of a log's current; denser logs are thinned

double volts_at(const std::vector<PackRun::Sample>& curve, double time_s) {
    // Where the load changes there are two samples of one moment: what begins there counts.
    const auto after = std::upper_bound(curve.begin(), curve.end(), time_s,
                                        [](double t, const PackRun::Sample& sample) { return t < sample.time_s; });
    if (after == curve.begin())
        return curve.front().terminal_v;
    if (after == curve.end())
        return curve.back().terminal_v;
    const auto before = std::prev(after);
    const double share = (time_s - before->time_s) / std::max(1e-12, after->time_s - before->time_s);
    return before->terminal_v + share * (after->terminal_v - before->terminal_v);
}

// Every cell at the charge of its group: at rest they share one voltage.
void stand_at(PackDesign& design, const std::vector<double>& group_v, const BuildQuestion& question) {
    for (std::size_t g = 0; g < design.groups.size(); ++g) {
        const double volts = group_v[g / static_cast<std::size_t>(question.cells_per_unit)] / question.cells_per_unit;
        for (PackDesign::Cell& cell : design.groups[g])
            cell.soc = std::clamp(question.chemistry.ocv.soc_at(volts), 0.0, 1.0);
    }
}

// From the last row at rest before the heaviest load to the end of the log's next rest or charge.
void follow_load(const CourseQuestion& question, PackCourse& out) {
    const BoardLog& log = *question.log;
    if (!out.reading.under_load || !out.reading.before_load) {
        out.load_objection =
            said("The log has no load of twenty seconds after a rest; it is not held against the simulation.");
        return;
    }
    if (!question.question.chemistry.voltage_tells_charge) {
        out.load_objection =
            said("Of this chemistry voltage does not say where the pack stood; the log is not simulated.");
        return;
    }
    const std::size_t from = *out.reading.before_load;
    std::size_t to = *out.reading.under_load + 1;
    for (const LogStretch& stretch : out.reading.stretches)
        if (stretch.from <= *out.reading.under_load && stretch.to > *out.reading.under_load)
            to = stretch.to;
    auto set_up = run_set_up(question.question, 0);
    if (!set_up) {
        out.load_objection = set_up.problem().sentence;
        return;
    }
    PackDesign design = set_up.value().design;
    stand_at(design, log.group_v[from], question.question);
    PackLoad load;
    const std::size_t every = (to - from) / most_levels + 1;
    for (std::size_t r = from; r < to; r += every)
        if (const double t = log.time_s[r] - log.time_s[from]; load.levels.empty() || t > load.levels.back().from_s)
            load.levels.push_back({t, -out.reading.charging_a[r]});
    const double longest = log.time_s[to - 1] - log.time_s[from];
    const auto run = run_pack(design, question.question.chemistry, load, {0, std::nullopt, longest});
    if (!run) {
        out.load_objection = run.problem().sentence;
        return;
    }
    LogCourse course;
    double sum = 0;
    std::size_t held = 0;
    double largest_a = 0;
    for (const double a : out.reading.charging_a)
        largest_a = std::max(largest_a, std::fabs(a));
    // Beside an edge of the load the two look at different sides of it.
    const auto edge = [&](std::size_t row) {
        constexpr double step_share = 0.1;
        const auto steps = [&](std::size_t a, std::size_t b) {
            return std::fabs(out.reading.charging_a[a] - out.reading.charging_a[b]) > step_share * largest_a;
        };
        return (row > from && steps(row, row - 1)) || (row + 1 < to && steps(row, row + 1));
    };
    // Where the simulated pack is empty before the log ends, nothing is held against it any more.
    for (std::size_t r = from; r < to && log.time_s[r] - log.time_s[from] <= run.value().run_time_s; ++r) {
        double read = 0;
        for (const double v : log.group_v[r])
            read += v;
        if (std::isnan(read))
            continue;
        course.time_s.push_back(log.time_s[r]);
        course.simulated_v.push_back(volts_at(run.value().curve, log.time_s[r] - log.time_s[from]));
        if (edge(r))
            continue;
        const double apart = read - course.simulated_v.back();
        ++held;
        sum += apart;
        course.largest_v = std::max(course.largest_v, std::fabs(apart));
    }
    course.mean_v = sum / static_cast<double>(std::max<std::size_t>(1, held));
    out.load = std::move(course);
}

} // namespace

PackCourse course_of(const CourseQuestion& question, const StillWanted& wanted) {
    PackCourse out;
    out.build = question.question.build;
    // As Simulate has it, strips or bars and all: one pack runs for one time.
    const BuildRun run = run_build(question.question, wanted);
    out.objection = run.objection;
    if (!run.variants.empty())
        out.simulated = run.variants.front().run;
    if (question.log && wanted()) {
        out.reading = read_board_log(*question.log, question.question.cells_per_unit);
        follow_load(question, out);
    }
    return out;
}

} // namespace ingot
