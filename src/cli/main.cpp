#include "cli/verbs.h"

#include "exchange/attended_hours.h"
#include "workshop/workshop.h"

#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <QDateTime>

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <iostream>

namespace {

constexpr int exit_usage = 2;
constexpr int exit_bad_input = 3;

int finish(const ingot::Result<ingot::cli::Output>& result, bool json) {
    if (!result) {
        std::cerr << result.problem().text() << "\n";
        return exit_bad_input;
    }
    std::cout << (json ? result.value().json.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) + "\n"
                       : result.value().text);
    std::cout.flush();
    return std::cout ? 0 : 1;
}

// What the shipped library holds, one file each.
std::vector<std::string> chemistry_ids() {
    std::vector<std::string> out;
    std::error_code error;
    for (const auto& file :
         std::filesystem::directory_iterator(ingot::Workshop::shipped_folder("data") + "/chemistries", error))
        if (file.path().extension() == ".toml")
            out.push_back(file.path().stem().string());
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace

int main(int argc, char** argv) {
    const QCoreApplication application(argc, argv);
    using namespace ingot::cli;
    CLI::App app{"Ingot's computation from a shell: capacity from a tester's log, sorting by duty, matching, triage, "
                 "donors, worth, resistance, conditioning, the bay plan."};
    app.name("ingot-cli");
    app.set_version_flag("--version", "ingot-cli " INGOT_VERSION);
    app.set_help_all_flag("--help-all", "Help of every verb");
    app.require_subcommand(1);
    app.fallthrough();
    bool json = false;
    app.add_flag("--json", json, "Full result as JSON (V, A, Ah, Wh, ohm, s unless the key says otherwise)");

    const auto chemistries = CLI::IsMember(chemistry_ids());
    CapacityArguments capacity_arguments;
    auto* capacity_verb =
        app.add_subcommand("capacity", "Capacity, energy, steps and efficiency from a tester's log (CSV)");
    capacity_verb
        ->add_option("LOG", capacity_arguments.log,
                     "Log with Test Time / s, Voltage / V, Current / A; - reads standard input")
        ->required();
    capacity_verb
        ->add_option("--chemistry", capacity_arguments.chemistry,
                     "Chemistry whose test cutoff counts when the log does not tell")
        ->check(chemistries);
    capacity_verb->add_option("--cutoff", capacity_arguments.cutoff_v, "End voltage of a complete discharge, V")
        ->check(CLI::PositiveNumber);

    SortArguments sort_arguments;
    auto* sort_verb = app.add_subcommand("sort", "Sort a pool of units by duty under a rule set");
    auto* pool_option = sort_verb->add_option("POOL", sort_arguments.pool,
                                              "Pool with Cell ID and what is known of each; - reads standard input");
    sort_verb->add_option("--rules", sort_arguments.rules, "Rule set; see --list");
    auto* list_flag = sort_verb->add_flag("--list", sort_arguments.list, "List the rule sets that are shipped");
    list_flag->excludes(pool_option);

    MatchArguments match_arguments;
    auto* match_verb = app.add_subcommand("match", "Choose and group S x P units of a pool");
    constexpr int most_series = 200;
    constexpr int most_parallel = 500;
    constexpr double most_give_up = 20.0;
    match_verb
        ->add_option("POOL", match_arguments.pool,
                     "Pool with Cell ID and Capacity / Ah at least; - reads standard input")
        ->required();
    match_verb->add_option("--series,-s", match_arguments.series, "Groups in series")
        ->required()
        ->check(CLI::Range(1, most_series));
    match_verb->add_option("--parallel,-p", match_arguments.parallel, "Units in parallel")
        ->required()
        ->check(CLI::Range(1, most_parallel));
    match_verb->add_option("--way", match_arguments.way, "How to match")
        ->check(CLI::IsMember({"search", "twins", "voltage-only", "deal"}))
        ->capture_default_str();
    match_verb
        ->add_option("--give-up", match_arguments.give_up_percent,
                     "Percent of the best usable capacity that may be spent on levelness")
        ->check(CLI::Range(0.0, most_give_up))
        ->capture_default_str();
    match_verb->add_option("--seed", match_arguments.seed, "Same seed, same answer")->capture_default_str();
    match_verb
        ->add_option("--time-limit", match_arguments.time_limit_s, "Seconds after which the best so far is returned")
        ->check(CLI::PositiveNumber);
    match_verb->add_option("--out", match_arguments.out, "Write Cell ID,Group to this CSV file");

    TriageArguments triage_arguments;
    auto* triage_verb =
        app.add_subcommand("triage", "What is wrong with a pack, what would settle it, and ways forward");
    constexpr int most_cells_per_unit = 24;
    triage_verb
        ->add_option("GROUPS", triage_arguments.groups,
                     "Readings: Group, Voltage / V, Condition (rest, end-of-charge, load, stored), Current / A, Days; "
                     "or a snapshot with one column for each block; - reads standard input")
        ->required();
    triage_verb->add_option("--chemistry", triage_arguments.chemistry, "Chemistry of the cells")
        ->check(chemistries)
        ->capture_default_str();
    triage_verb->add_option("--series,-s", triage_arguments.series, "Groups in series")
        ->required()
        ->check(CLI::Range(1, most_series));
    triage_verb->add_option("--parallel,-p", triage_arguments.parallel, "Units in parallel in each group")
        ->check(CLI::Range(1, most_parallel))
        ->capture_default_str();
    triage_verb
        ->add_option("--cells-per-unit", triage_arguments.cells_per_unit, "Cells in series inside one unit (a module)")
        ->check(CLI::Range(1, most_cells_per_unit))
        ->capture_default_str();
    triage_verb->add_option("--terminal", triage_arguments.terminal_v, "Voltage at the terminals at rest, V");
    triage_verb->add_option("--capacity", triage_arguments.capacity_ah, "Capacity of the pack, Ah")
        ->check(CLI::PositiveNumber);
    triage_verb->add_option("--units", triage_arguments.units,
                            "Group, Unit, Voltage / V of single units whose links are cut");
    triage_verb
        ->add_option("--bleed-ohm", triage_arguments.bleed_ohm, "Resistor at hand for bleeding a high group, ohm")
        ->check(CLI::PositiveNumber)
        ->capture_default_str();

    DonorsArguments donors_arguments;
    auto* donors_verb = app.add_subcommand("donors", "Which groups move where so that most packs of a kind live");
    donors_verb
        ->add_option("PACKS", donors_arguments.packs,
                     "Pack, Group, Voltage / V, Capacity / Ah, Model of every group; - reads standard input")
        ->required();
    donors_verb->add_option("--chemistry", donors_arguments.chemistry, "Chemistry of the cells")
        ->check(chemistries)
        ->capture_default_str();
    donors_verb
        ->add_option("--cells-per-unit", donors_arguments.cells_per_unit, "Cells in series inside one unit (a module)")
        ->check(CLI::Range(1, most_cells_per_unit))
        ->capture_default_str();
    donors_verb
        ->add_option("--voltage-window", donors_arguments.voltage_window_v,
                     "Within a rebuilt pack, highest minus lowest group at most this, V")
        ->check(CLI::PositiveNumber);
    donors_verb
        ->add_option("--capacity-tolerance", donors_arguments.capacity_tolerance_percent,
                     "Within a rebuilt pack, largest group at most this many percent over the smallest")
        ->check(CLI::PositiveNumber);
    donors_verb->add_flag("--one-model", donors_arguments.one_model, "Never two models in one pack");
    donors_verb
        ->add_option("--time-limit", donors_arguments.time_limit_s, "Seconds after which the best so far is returned")
        ->check(CLI::PositiveNumber)
        ->capture_default_str();

    WorthArguments worth_arguments;
    auto* worth_verb =
        app.add_subcommand("worth", "Is it worth it? Repair, rebuild, convert, buy or break, side by side");
    worth_verb->add_option("CASE", worth_arguments.file, "Case as JSON (docs/formats/worth.md); - reads standard input")
        ->required();

    ResistanceArguments resistance_arguments;
    auto* resistance_verb = app.add_subcommand("resistance", "DC resistance from the steps of current in a log (CSV)");
    resistance_verb
        ->add_option("LOG", resistance_arguments.log,
                     "Log with Test Time / s, Voltage / V, Current / A; - reads standard input")
        ->required();

    TrendArguments trend_arguments;
    auto* trend_verb = app.add_subcommand("trend", "Keep cycling or stop: where each unit's capacity settles");
    trend_verb
        ->add_option("CYCLES", trend_arguments.cycles,
                     "Unit ID, Cycle, Discharge Capacity / Ah, Stop; - reads standard input")
        ->required();
    trend_verb->add_option("--bar", trend_arguments.bar_ah, "Capacity that is wanted, Ah")
        ->required()
        ->check(CLI::PositiveNumber);
    trend_verb->add_option("--rated", trend_arguments.rated_ah, "Rated capacity, Ah")->check(CLI::PositiveNumber);

    PlanArguments plan_arguments;
    auto* plan_verb = app.add_subcommand("plan", "Which unit on which bay, when");
    constexpr int most_bays = 1000;
    plan_verb
        ->add_option("JOBS", plan_arguments.jobs,
                     "Unit ID, Duration / h, Position, Charge Current / A; - reads standard input")
        ->required();
    plan_verb->add_option("--bays", plan_arguments.bays, "Bays of the tester")
        ->required()
        ->check(CLI::Range(1, most_bays));
    const auto objection = [](const auto& parsed) { return parsed ? std::string() : parsed.problem().sentence; };
    plan_verb->add_option("--shift", plan_arguments.shift, "Hours of the day in which somebody is there")
        ->check([&](const std::string& text) { return objection(ingot::exchange::parse_shift(text)); })
        ->capture_default_str();
    plan_verb
        ->add_option("--days", plan_arguments.days,
                     "Days on which somebody is there, as mon-fri; every day if left out")
        ->check([&](const std::string& text) {
            ingot::AttendedHours hours;
            return objection(ingot::exchange::parse_days(text, hours));
        });
    plan_verb
        ->add_option(
            "--start", plan_arguments.start,
            "Local time at which the plan begins, as 2026-01-05T08:00; the shift's first hour of a Monday if left out")
        ->check([](const std::string& text) {
            return QDateTime::fromString(QString::fromStdString(text), Qt::ISODate).isValid()
                       ? std::string()
                       : "start \"" + text + "\" is not understood. Write it as 2026-01-05T08:00.";
        });
    plan_verb->add_option("--supply-a", plan_arguments.supply_a, "Sum of charge currents that the supply carries, A")
        ->check(CLI::PositiveNumber);
    plan_verb->add_option("--calendar", plan_arguments.calendar, "Write the visits to this iCalendar file");

    DemoArguments demo_arguments;
    auto* demo_verb = app.add_subcommand("demo", "Make the demo workshop as a new file");
    demo_verb->add_option("FILE", demo_arguments.file, "New workshop file (*.ingot)")->required();

    try {
        app.parse(argc, argv);
        if (sort_verb->parsed() && !sort_arguments.list && sort_arguments.pool.empty())
            throw CLI::RequiredError("POOL or --list");
    } catch (const CLI::ParseError& error) {
        return app.exit(error, std::cout, std::cerr) == 0 ? 0 : exit_usage;
    }
    try {
        if (sort_verb->parsed()) {
            const auto result = sort(sort_arguments);
            if (!result && result.problem().where.empty()) { // not about a file: the rule set's name
                std::cerr << result.problem().text() << "\n";
                return exit_usage;
            }
            return finish(result, json);
        }
        if (capacity_verb->parsed())
            return finish(capacity(capacity_arguments), json);
        if (match_verb->parsed())
            return finish(match(match_arguments), json);
        if (triage_verb->parsed())
            return finish(triage(triage_arguments), json);
        if (donors_verb->parsed())
            return finish(donors(donors_arguments), json);
        if (worth_verb->parsed())
            return finish(worth(worth_arguments), json);
        if (resistance_verb->parsed())
            return finish(resistance(resistance_arguments), json);
        if (trend_verb->parsed())
            return finish(trend(trend_arguments), json);
        if (plan_verb->parsed())
            return finish(plan(plan_arguments), json);
        return finish(demo(demo_arguments), json);
    } catch (const std::exception& error) {
        std::cerr << "ingot-cli: " << error.what() << "\n";
        return 1;
    }
}
