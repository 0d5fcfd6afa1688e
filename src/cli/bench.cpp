// ingot-cli resistance, trend, plan: what the test bench concludes and what it does next.
#include "cli/verbs.h"

#include "core/measure/conditioning.h"
#include "core/measure/resistance.h"
#include "core/plan/bay_plan.h"
#include "exchange/attended_hours.h"
#include "exchange/cycles_csv.h"
#include "exchange/jobs_csv.h"
#include "exchange/log_csv.h"
#include "exchange/text_file.h"
#include "workshop/bay_schedule.h"
#include "workshop/bench_wording.h"

#include <QDateTime>

#include <fmt/format.h>

namespace ingot::cli {

namespace {

constexpr qint64 ms_per_hour = 3'600'000;

// The same events as the window's.
std::string calendar_of(const PlanProblem& problem, const BayPlan& plan, const QDateTime& begin) {
    BaySchedule::Planned planned;
    planned.begin = begin;
    planned.problem = problem;
    planned.plan = plan;
    return BaySchedule::calendar(planned, QDateTime::currentDateTimeUtc());
}

} // namespace

Result<Output> resistance(const ResistanceArguments& arguments) {
    const auto text = exchange::read_text(arguments.log);
    if (!text)
        return text.problem();
    auto log = exchange::read_log(text.value(), shown_name(arguments.log));
    if (!log)
        return log.problem();
    const ResistanceResult result = measure_resistance(log.value().samples);
    Output out;
    out.json["dc_resistance_ohm"] = or_null(result.dc_resistance_ohm);
    out.json["uncertainty_ohm"] = or_null(result.uncertainty_ohm);
    out.json["method"] = code(result.method);
    constexpr double milli = 1000;
    if (result.dc_resistance_ohm)
        out.text +=
            fmt::format("DC resistance {:.2f} mOhm ± {:.2f} mOhm ({})\n", *result.dc_resistance_ohm * milli,
                        *result.uncertainty_ohm * milli, wording::resistance_method(result.method).toStdString());
    else
        out.text += "No resistance.\n";
    out.json["steps"] = Json::array();
    for (const ResistanceStep& step : result.steps) {
        out.json["steps"].push_back({{"time_s", step.time_s},
                                     {"from_a", step.from_a},
                                     {"to_a", step.to_a},
                                     {"resistance_ohm", step.resistance_ohm}});
        out.text += fmt::format("  at {:>9.1f} s  {:>7.3f} A to {:>7.3f} A  {:>8.2f} mOhm\n", step.time_s, step.from_a,
                                step.to_a, step.resistance_ohm * milli);
    }
    out.json["warnings"] = Json::array();
    const auto warn = [&](const std::string& warning) {
        out.json["warnings"].push_back(warning);
        out.text += "Note: " + warning + "\n";
    };
    for (const ResistanceWarning warning : result.warnings)
        warn(wording::resistance_note(warning).toStdString());
    if (log.value().dialect.last_line_dropped)
        warn("The last line was cut off and was dropped.");
    return out;
}

Result<Output> trend(const TrendArguments& arguments) {
    const auto text = exchange::read_text(arguments.cycles);
    if (!text)
        return text.problem();
    const auto units = exchange::read_cycles(text.value(), shown_name(arguments.cycles));
    if (!units)
        return units.problem();
    ConditioningRules rules;
    rules.bar_ah = arguments.bar_ah;
    rules.rated_ah = arguments.rated_ah;
    Output out;
    out.json["units"] = Json::array();
    for (const auto& unit : units.value()) {
        const ConditioningResult result = judge_conditioning(unit.cycles, rules);
        out.json["units"].push_back({{"unit", unit.unit},
                                     {"verdict", code(result.verdict)},
                                     {"reason", code(result.reason)},
                                     {"level_ah", or_null(result.level_ah)},
                                     {"level_low_ah", or_null(result.level_low_ah)},
                                     {"level_high_ah", or_null(result.level_high_ah)},
                                     {"pass_probability", result.pass_probability},
                                     {"pass_within_3", result.pass_within_3},
                                     {"pass_within_5", result.pass_within_5},
                                     {"cycles_to_run", result.cycles_to_run},
                                     {"rule_of_thumb", code(result.rule_of_thumb)}});
        out.text +=
            fmt::format("{:<14} {:<12} {}{} {}\n", unit.unit, code(result.verdict),
                        wording::conditioning_reason(result, rules.bar_ah).toStdString(),
                        result.cycles_to_run > 0 ? fmt::format(" Run {} more.", result.cycles_to_run) : std::string(),
                        wording::rule_of_thumb(result).toStdString());
    }
    out.json["warnings"] = Json::array();
    return out;
}

Result<Output> plan(const PlanArguments& arguments) {
    const std::string name = shown_name(arguments.jobs);
    const auto text = exchange::read_text(arguments.jobs);
    if (!text)
        return text.problem();
    const auto jobs = exchange::read_jobs(text.value(), name);
    if (!jobs)
        return jobs.problem();
    PlanProblem problem;
    problem.jobs = jobs.value();
    problem.bays = arguments.bays;
    problem.supply_a = arguments.supply_a;
    // The options were checked when they were read.
    problem.attended = exchange::parse_shift(arguments.shift).value();
    if (!arguments.days.empty())
        (void)exchange::parse_days(arguments.days, problem.attended);
    QDateTime begin = QDateTime::fromString(QString::fromStdString(arguments.start), Qt::ISODate);
    if (begin.isValid()) {
        problem.attended.begin_hour = static_cast<double>(begin.time().msecsSinceStartOfDay()) / ms_per_hour;
        problem.attended.begin_day = begin.date().dayOfWeek() - 1;
    } else { // the coming Monday, for the calendar
        const QDate today = QDate::currentDate();
        constexpr int week = 7;
        begin = QDateTime(today.addDays((week + 1 - today.dayOfWeek()) % week), QTime(0, 0))
                    .addMSecs(static_cast<qint64>(problem.attended.open_h * static_cast<double>(ms_per_hour)));
    }
    const auto planned = plan_bays(problem);
    if (!planned)
        return Problem{name, 0, planned.problem().sentence};
    const BayPlan& plan = planned.value();
    Output out;
    out.json["makespan_h"] = plan.makespan_h;
    out.json["bound_h"] = plan.bound_h;
    out.json["visits"] = plan.visits;
    out.text += fmt::format("Ends after {:.2f} h (no plan before {:.2f} h), {} visits\n", plan.makespan_h, plan.bound_h,
                            plan.visits);
    out.json["jobs"] = Json::array();
    for (const PlacedJob& job : plan.jobs) {
        const std::string& unit = problem.jobs[job.job].unit;
        out.json["jobs"].push_back({{"unit", unit},
                                    {"bay", job.bay + 1},
                                    {"start_h", job.start_h},
                                    {"end_h", job.end_h},
                                    {"lifted_h", job.lifted_h}});
        out.text += fmt::format("  bay {:>3}  {:<14} in {:>8.2f} h, ends {:>8.2f} h, out {:>8.2f} h\n", job.bay + 1,
                                unit, job.start_h, job.end_h, job.lifted_h);
    }
    out.json["warnings"] = Json::array();
    if (!arguments.calendar.empty())
        if (const auto written = exchange::write_text(arguments.calendar, calendar_of(problem, plan, begin)); !written)
            return written.problem();
    return out;
}

} // namespace ingot::cli
