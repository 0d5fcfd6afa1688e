// ingot-cli match, allot: units grouped for one build, or for several from one pool.
#include "cli/sorted_pool.h"
#include "cli/verbs.h"

#include "core/match/allot.h"
#include "core/match/problem.h"
#include "core/measure/statistics.h"
#include "exchange/library_toml.h"
#include "exchange/pool_csv.h"
#include "exchange/text_file.h"
#include "exchange/wanted_builds_csv.h"
#include "workshop/wording.h"
#include "workshop/workshop.h"

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fmt/format.h>
#include <map>

namespace ingot::cli {

namespace {

constexpr double per_thousand = 1000.0;

Json in_milli(const std::optional<double>& value) {
    return value ? Json(*value * per_thousand) : Json(nullptr);
}

bool all_capacities_known(const std::vector<MatchUnit>& pool, const MatchResult& result) {
    return std::all_of(result.groups.begin(), result.groups.end(), [&](const GroupSums& g) {
        return std::all_of(g.units.begin(), g.units.end(),
                           [&](std::size_t u) { return pool[u].capacity_ah.has_value(); });
    });
}

void add_groups(const std::vector<MatchUnit>& pool, const MatchResult& result, bool capacities_known, Json& json,
                std::string& text) {
    json["groups"] = Json::array();
    int n = 0;
    for (const GroupSums& group : result.groups) {
        Json cells = Json::array();
        std::string list;
        for (const std::size_t u : group.units) {
            cells.push_back(pool[u].id);
            list += " " + pool[u].id;
        }
        json["groups"].push_back({{"group", ++n},
                                  {"capacity_ah", capacities_known ? Json(group.capacity_ah) : Json(nullptr)},
                                  {"conductance_s", or_null(group.conductance_s)},
                                  {"leak_mah_per_day", in_milli(group.leak_ah_per_day)},
                                  {"cells", cells}});
        text += fmt::format("  group {:>3}  {:.3f} Ah {}\n", n, group.capacity_ah, list);
    }
}

} // namespace

namespace {

Result<MatchProblem> problem_of(const MatchArguments& arguments, const exchange::Pool& pool, const std::string& name) {
    MatchProblem problem;
    std::string chemistry;
    for (const auto& row : pool.rows) {
        if (!row.unit.chemistry.empty() && !chemistry.empty() && row.unit.chemistry != chemistry)
            return Problem{name, row.line,
                           said("{} is {}, but the units above are {}. One pack takes one chemistry; split the pool.",
                                row.unit.id, row.unit.chemistry, chemistry)};
        if (chemistry.empty())
            chemistry = row.unit.chemistry;
        MatchUnit unit = row.unit;
        if (unit.capacity_ah && *unit.capacity_ah <= 0)
            unit.capacity_ah.reset();
        problem.pool.push_back(std::move(unit));
    }
    problem.series = arguments.series;
    problem.parallel = arguments.parallel;
    problem.give_up = arguments.give_up_percent / 100;
    problem.seed = arguments.seed;
    problem.effort = patient_effort;
    problem.demands.one_model_per_group = arguments.one_model;
    problem.demands.join_window_v = arguments.join_window_v;
    std::map<std::string, std::size_t> index;
    for (std::size_t u = 0; u < problem.pool.size(); ++u)
        index[problem.pool[u].id] = u;
    for (const std::string& pair : arguments.apart) {
        const std::size_t before = problem.demands.apart.size();
        for (std::size_t comma = pair.find(','); comma != std::string::npos; comma = pair.find(',', comma + 1)) {
            const auto first = index.find(pair.substr(0, comma));
            const auto second = index.find(pair.substr(comma + 1));
            if (first != index.end() && second != index.end() && first != second)
                problem.demands.apart.emplace_back(first->second, second->second);
        }
        if (problem.demands.apart.size() == before)
            return Problem{name, 0,
                           said("--apart {}: two units of the pool with a comma between them are meant.", pair)};
    }
    return problem;
}

// Which of what was asked is not kept.
void add_breaches(const MatchProblem& problem, const MatchResult& result, Output& out) {
    if (!problem.demands.any())
        return;
    std::vector<std::vector<std::size_t>> groups;
    for (const GroupSums& group : result.groups)
        groups.push_back(group.units);
    out.json["breaches"] = Json::array();
    for (const Breach& breach : breaches_of(problem, groups))
        out.json["breaches"].push_back(
            {{"demand", code(breach.demand)}, {"group", breach.group + 1}, {"count", breach.count}});
}

// What was found, for people and programs.
Output found_match(const MatchArguments& arguments, const MatchProblem& problem, MatchWay way,
                   const MatchResult& result, double elapsed_s) {
    const bool capacities_known = all_capacities_known(problem.pool, result);
    const auto if_known = [&](double value) { return capacities_known ? Json(value) : Json(nullptr); };

    Output out;
    out.json["way"] = code(way);
    out.json["series"] = arguments.series;
    out.json["parallel"] = arguments.parallel;
    out.json["usable_capacity_ah"] = if_known(result.usable_ah);
    out.json["bound_ah"] = result.bound_ah > 0 ? Json(result.bound_ah) : Json(nullptr);
    out.json["best_usable_ah"] = if_known(result.best_usable_ah);
    out.json["proved"] = result.proved;
    out.json["capacity_spread"] = if_known(result.capacity_spread);
    out.json["conductance_spread"] = or_null(result.conductance_spread);
    out.json["leak_spread_mah_per_day"] = in_milli(result.leak_spread_ah_per_day);
    out.json["stranded_ah"] = if_known(result.stranded_ah);
    out.json["levelness"] = if_known(result.levelness);
    out.json["elapsed_s"] = elapsed_s;
    out.text += fmt::format("{}S{}P from {} units: usable {:.3f} Ah, bound {:.3f} Ah, best found {:.3f} Ah{}\n",
                            arguments.series, arguments.parallel, problem.pool.size(), result.usable_ah,
                            result.bound_ah, result.best_usable_ah, result.proved ? " (proved the best)" : "");
    out.text += fmt::format(
        "Spreads: capacity {:.3f} %, conductance {}, leak {}; stranded {:.3f} Ah\n", result.capacity_spread * 100,
        result.conductance_spread ? fmt::format("{:.2f} %", *result.conductance_spread * 100) : "not known",
        result.leak_spread_ah_per_day ? fmt::format("{:.2f} mAh/day", *result.leak_spread_ah_per_day * per_thousand)
                                      : "not known",
        result.stranded_ah);
    add_groups(problem.pool, result, capacities_known, out.json, out.text);
    return out;
}

} // namespace

Result<Output> match(const MatchArguments& arguments) {
    const auto text = exchange::read_text(arguments.pool);
    if (!text)
        return text.problem();
    const std::string name = shown_name(arguments.pool);
    const auto pool = exchange::read_pool(text.value(), name);
    if (!pool)
        return pool.problem();
    const auto read = problem_of(arguments, pool.value(), name);
    if (!read)
        return read.problem();
    const MatchProblem& problem = read.value();
    MatchWay way = MatchWay::search;
    for (const MatchWay w : {MatchWay::search, MatchWay::twins, MatchWay::voltage_only, MatchWay::deal})
        if (arguments.way == code(w))
            way = w;
    const auto start = std::chrono::steady_clock::now();
    const auto elapsed = [&] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    };
    MatchObserver observer;
    if (arguments.time_limit_s)
        observer = [&](const MatchProgress&) { return elapsed() < *arguments.time_limit_s; };
    const auto matched = ingot::match(problem, way, observer);
    const double elapsed_s = elapsed();
    if (!matched)
        return Problem{name, 0, matched.problem().sentence};
    const MatchResult& result = matched.value();
    Output out = found_match(arguments, problem, way, result, elapsed_s);
    add_breaches(problem, result, out);
    out.json["warnings"] = Json::array();
    const auto warn = [&](const std::string& warning) {
        out.json["warnings"].push_back(warning);
        out.text += "Note: " + warning + "\n";
    };
    for (const auto& [note, count] : result.notes)
        warn(wording::match_note(note, count).toStdString());
    if (arguments.time_limit_s)
        warn("A time limit was set: another run may give another answer.");
    if (pool.value().dialect.last_line_dropped)
        warn("The last line was cut off and was dropped.");
    if (!arguments.out.empty())
        if (const auto written = exchange::write_text(arguments.out, exchange::write_assignment(problem, result));
            !written)
            return written.problem();
    return out;
}

namespace {

// What a build takes after: as strong as the survivors, of their model first.
Result<bool> take_after(const std::string& like, const std::string& builds_file, AllotBuild& build) {
    std::filesystem::path path(like);
    if (path.is_relative() && builds_file != "-")
        path = std::filesystem::path(builds_file).parent_path() / path;
    const auto text = exchange::read_text(path.string());
    if (!text)
        return text.problem();
    const auto pool = exchange::read_pool(text.value(), path.string());
    if (!pool)
        return pool.problem();
    std::vector<double> capacities;
    std::map<std::string, int> models;
    for (const auto& row : pool.value().rows) {
        if (row.unit.capacity_ah)
            capacities.push_back(*row.unit.capacity_ah);
        if (!row.unit.model.empty())
            ++models[row.unit.model];
        if (build.chemistry.empty())
            build.chemistry = row.unit.chemistry;
    }
    if (capacities.empty())
        return Problem{path.string(), 0, said("no surviving unit has a capacity: nothing to be like.")};
    if (!build.wanted_ah)
        build.wanted_ah = build.parallel * median(capacities);
    if (build.model.empty() && !models.empty()) {
        build.model = std::max_element(models.begin(), models.end(), [](const auto& a, const auto& b) {
                          return a.second < b.second;
                      })->first;
        build.model_first = true;
    }
    return true;
}

// Which units of the pool are fit for that duty, or a better one, under the usual rule set.
Result<std::vector<char>> fit_for(Duty duty, const exchange::Pool& pool, const std::string& name) {
    SortArguments arguments;
    const auto sorted = sorted_pool(pool, name, arguments.rules);
    if (!sorted)
        return sorted.problem();
    std::vector<char> out;
    for (const Verdict& verdict : sorted.value().verdicts)
        out.push_back(static_cast<char>(verdict.duty <= duty));
    return out;
}

Json left_over(const AllotProblem& problem, const AllotResult& result, std::string& text) {
    std::map<std::string, std::vector<double>> models;
    std::map<std::string, int> counts;
    for (const std::size_t u : result.left) {
        ++counts[problem.pool[u].model];
        if (problem.pool[u].capacity_ah)
            models[problem.pool[u].model].push_back(*problem.pool[u].capacity_ah);
    }
    Json out = Json::array();
    for (const auto& [model, count] : counts) {
        const auto& capacities = models[model];
        const Json middle = capacities.empty() ? Json(nullptr) : Json(median(capacities));
        out.push_back({{"model", model}, {"count", count}, {"median_ah", middle}});
        text += fmt::format("Left: {} of {}\n", count, model.empty() ? "unknown model" : model);
    }
    return out;
}

Json one_build(const AllotProblem& problem, const AllotBuild& build, const Allotted& allotted, std::string& text) {
    const MatchResult& match = allotted.match;
    const auto if_filled = [&](double value) { return allotted.filled ? Json(value) : Json(nullptr); };
    Json json;
    json["build"] = build.id;
    json["filled"] = allotted.filled;
    json["usable_capacity_ah"] = if_filled(match.usable_ah);
    json["bound_ah"] = allotted.bound_ah > 0 ? Json(allotted.bound_ah) : Json(nullptr);
    json["chemistry"] = allotted.chemistry;
    json["capacity_spread"] = if_filled(match.capacity_spread);
    json["conductance_spread"] = or_null(match.conductance_spread);
    json["leak_spread_mah_per_day"] = in_milli(match.leak_spread_ah_per_day);
    json["stranded_ah"] = if_filled(match.stranded_ah);
    if (allotted.filled)
        text +=
            fmt::format("{} ({}S{}P): usable {:.3f} Ah of at most {:.3f} Ah, spread {:.3f} %\n", build.id, build.series,
                        build.parallel, match.usable_ah, allotted.bound_ah, match.capacity_spread * 100);
    else
        text += fmt::format("{} ({}S{}P): not filled, {} units are lacking\n", build.id, build.series, build.parallel,
                            allotted.lacking);
    add_groups(problem.pool, match, true, json, text);
    return json;
}

Result<AllotProblem> allot_problem(const AllotArguments& arguments) {
    const auto pool_text = exchange::read_text(arguments.pool);
    if (!pool_text)
        return pool_text.problem();
    const auto pool = exchange::read_pool(pool_text.value(), shown_name(arguments.pool));
    if (!pool)
        return pool.problem();
    const auto builds_text = exchange::read_text(arguments.builds);
    if (!builds_text)
        return builds_text.problem();
    auto builds = exchange::read_wanted_builds(builds_text.value(), shown_name(arguments.builds));
    if (!builds)
        return builds.problem();
    AllotProblem problem;
    problem.seed = arguments.seed;
    for (const auto& row : pool.value().rows)
        problem.pool.push_back(row.unit);
    for (auto& wanted : builds.value()) {
        if (wanted.duty) {
            auto fit = fit_for(*wanted.duty, pool.value(), shown_name(arguments.pool));
            if (!fit)
                return fit.problem();
            wanted.build.may_use = std::move(fit.value());
        }
        if (!wanted.like.empty())
            if (const auto taken = take_after(wanted.like, arguments.builds, wanted.build); !taken)
                return Problem{shown_name(arguments.builds), wanted.line, as_told(taken.problem().text())};
        problem.builds.push_back(std::move(wanted.build));
    }
    return problem;
}

} // namespace

Result<Output> allot(const AllotArguments& arguments) {
    const auto read = allot_problem(arguments);
    if (!read)
        return read.problem();
    const AllotProblem& problem = read.value();
    const auto start = std::chrono::steady_clock::now();
    const auto elapsed = [&] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    };
    AllotObserver observer;
    if (arguments.time_limit_s)
        observer = [&](std::size_t, std::size_t) { return elapsed() < *arguments.time_limit_s; };
    const auto allotted = ingot::allot(problem, observer);
    if (!allotted)
        return Problem{shown_name(arguments.builds), 0, allotted.problem().sentence};
    const AllotResult& result = allotted.value();
    Output out;
    out.json["builds"] = Json::array();
    Json warnings = Json::array();
    for (std::size_t b = 0; b < problem.builds.size(); ++b) {
        out.json["builds"].push_back(one_build(problem, problem.builds[b], result.builds[b], out.text));
        const Allotted& build = result.builds[b];
        const auto& wanted = problem.builds[b].wanted_ah;
        if (!build.filled)
            warnings.push_back(
                fmt::format("{} cannot be filled: {} units are lacking.", problem.builds[b].id, build.lacking));
        else if (wanted && build.match.usable_ah < *wanted)
            warnings.push_back(fmt::format("{} wants {:.3f} Ah and reaches {:.3f} Ah.", problem.builds[b].id, *wanted,
                                           build.match.usable_ah));
    }
    out.json["left"] = left_over(problem, result, out.text);
    out.json["usable_sum_ah"] = result.usable_ah;
    out.json["bound_sum_ah"] = result.bound_ah;
    out.json["elapsed_s"] = elapsed();
    if (arguments.time_limit_s)
        warnings.push_back("A time limit was set: another run may give another answer.");
    out.json["warnings"] = warnings;
    for (const auto& warning : warnings)
        out.text += "Note: " + warning.get<std::string>() + "\n";
    if (!arguments.out.empty())
        if (const auto written = exchange::write_text(arguments.out, exchange::write_allotment(problem, result));
            !written)
            return written.problem();
    return out;
}

} // namespace ingot::cli
