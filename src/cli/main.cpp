#include "cli/verbs.h"

#include "exchange/attended_hours.h"
#include "workshop/workshop.h"

#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <functional>
#include <iostream>
#include <memory>
#include <tuple>

namespace {

using namespace ingot::cli;

constexpr int exit_usage = 2;
constexpr int exit_bad_input = 3;

// Every number to the digits that mean something: 9.938, not 9.937999999999999.
void round_numbers(Json& json, int digits) {
    if (json.is_number_float())
        json = significant(json.get<double>(), digits);
    else if (json.is_structured())
        for (Json& item : json)
            round_numbers(item, digits);
}

int finish(const ingot::Result<Output>& result, bool json) {
    if (!result) {
        std::cerr << result.problem().text() << "\n";
        return exit_bad_input;
    }
    Json rounded = result.value().json;
    round_numbers(rounded, result.value().digits);
    std::cout << (json ? rounded.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) + "\n"
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

using Work = std::function<ingot::Result<Output>()>;

constexpr int most_series = 200;
constexpr int most_parallel = 500;
constexpr int most_cells_per_unit = 24;

// A verb and its arguments; once parsed, `work` does it.
template <class Arguments>
std::pair<CLI::App*, std::shared_ptr<Arguments>> add_verb(CLI::App& app, const char* name, const char* what,
                                                          ingot::Result<Output> (*verb)(const Arguments&), Work& work) {
    auto arguments = std::make_shared<Arguments>();
    auto* added = app.add_subcommand(name, what);
    added->callback([arguments, verb, &work] { work = [arguments, verb] { return verb(*arguments); }; });
    return {added, arguments};
}

CLI::Validator known_chemistry() {
    return CLI::IsMember(chemistry_ids());
}

void add_capacity(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<CapacityArguments>(
        app, "capacity", "Capacity, energy, steps and efficiency from a tester's log (CSV)", capacity, work);
    auto& arguments = *kept;
    verb->add_option("LOG", arguments.log, "Log with Test Time / s, Voltage / V, Current / A; - reads standard input")
        ->required();
    verb->add_option("--chemistry", arguments.chemistry,
                     "Chemistry whose test cutoff counts when the log does not tell")
        ->check(known_chemistry());
    verb->add_option("--cutoff", arguments.cutoff_v, "End voltage of a complete discharge, V")
        ->check(CLI::PositiveNumber);
}

void add_sort(CLI::App& app, Work& work) {
    const auto [verb, kept] =
        add_verb<SortArguments>(app, "sort", "Sort a pool of units by duty under a rule set", sort, work);
    auto& arguments = *kept;
    auto* pool_option =
        verb->add_option("POOL", arguments.pool, "Pool with Cell ID and what is known of each; - reads standard input");
    verb->add_option("--rules", arguments.rules, "Rule set; see --list");
    auto* list_flag = verb->add_flag("--list", arguments.list, "List the rule sets that are shipped");
    list_flag->excludes(pool_option);
    verb->callback([arguments = kept, &work] {
        if (!arguments->list && arguments->pool.empty())
            throw CLI::RequiredError("POOL or --list");
        work = [arguments] { return sort(*arguments); };
    });
}

void add_match(CLI::App& app, Work& work) {
    const auto [verb, kept] =
        add_verb<MatchArguments>(app, "match", "Choose and group S x P units of a pool", match, work);
    auto& arguments = *kept;
    constexpr double most_give_up = 20.0;
    verb->add_option("POOL", arguments.pool, "Pool with Cell ID and Capacity / Ah at least; - reads standard input")
        ->required();
    verb->add_option("--series,-s", arguments.series, "Groups in series")
        ->required()
        ->check(CLI::Range(1, most_series));
    verb->add_option("--parallel,-p", arguments.parallel, "Units in parallel")
        ->required()
        ->check(CLI::Range(1, most_parallel));
    verb->add_option("--way", arguments.way, "How to match")
        ->check(CLI::IsMember({"search", "twins", "voltage-only", "deal"}))
        ->capture_default_str();
    verb->add_option("--give-up", arguments.give_up_percent,
                     "Percent of the best usable capacity that may be spent on levelness")
        ->check(CLI::Range(0.0, most_give_up))
        ->capture_default_str();
    verb->add_option("--seed", arguments.seed, "Same seed, same answer")->capture_default_str();
    verb->add_option("--time-limit", arguments.time_limit_s, "Seconds after which the best so far is returned")
        ->check(CLI::PositiveNumber);
    verb->add_flag("--one-model", arguments.one_model, "One model in each group");
    verb->add_option("--join-window", arguments.join_window_v, "Volts by which the voltages in a group may differ")
        ->check(CLI::PositiveNumber);
    verb->add_option("--apart", arguments.apart, "ID,ID: two units that share no group; may be given again");
    verb->add_option("--out", arguments.out, "Write Cell ID,Group to this CSV file");
}

void add_allot(CLI::App& app, Work& work) {
    const auto [verb, kept] =
        add_verb<AllotArguments>(app, "allot", "Several builds from one pool, by priority and need", allot, work);
    auto& arguments = *kept;
    verb->add_option("POOL", arguments.pool, "Pool with Cell ID and Capacity / Ah at least; - reads standard input")
        ->required();
    verb->add_option("BUILDS", arguments.builds,
                     "Build, Series, Parallel, Chemistry, Priority, Duty, Usable Capacity / Ah, Give Up / %, Model, "
                     "Like")
        ->required();
    verb->add_option("--seed", arguments.seed, "Same seed, same answer")->capture_default_str();
    verb->add_option("--time-limit", arguments.time_limit_s, "Seconds after which the best so far is returned")
        ->check(CLI::PositiveNumber);
    verb->add_option("--out", arguments.out, "Write Cell ID,Build,Group to this CSV file");
}

void add_triage(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<TriageArguments>(
        app, "triage", "What is wrong with a pack, what would settle it, and ways forward", triage, work);
    auto& arguments = *kept;
    verb->add_option("GROUPS", arguments.groups,
                     "Readings: Group, Voltage / V, Condition (rest, end-of-charge, load, stored), Current / A, Days; "
                     "or a snapshot with one column for each block; - reads standard input");
    verb->add_option("--chemistry", arguments.chemistry, "Chemistry of the cells")
        ->check(known_chemistry())
        ->capture_default_str();
    verb->add_option("--series,-s", arguments.series, "Groups in series")->check(CLI::Range(1, most_series));
    verb->add_option("--parallel,-p", arguments.parallel, "Units in parallel in each group")
        ->check(CLI::Range(1, most_parallel))
        ->capture_default_str();
    verb->add_option("--cells-per-unit", arguments.cells_per_unit, "Cells in series inside one unit (a module)")
        ->check(CLI::Range(1, most_cells_per_unit))
        ->capture_default_str();
    verb->add_option("--units-per-tap", arguments.units_per_tap, "Units in series between two sense taps")
        ->check(CLI::Range(1, 16));
    verb->add_option("--terminal", arguments.terminal_v, "Voltage at the terminals at rest, V");
    verb->add_option("--capacity", arguments.capacity_ah, "Capacity of the pack, Ah")->check(CLI::PositiveNumber);
    verb->add_option("--units", arguments.units, "Group, Unit, Voltage / V of single units whose links are cut");
    verb->add_option("--symptoms", arguments.symptoms, "What people say about the pack, by id; see --list-symptoms")
        ->delimiter(',');
    verb->add_option("--evidence", arguments.evidence,
                     "Kind, Group, Value: temperature, capacity, replaced, lead-moved, lead-stayed");
    verb->add_flag("--list-symptoms", arguments.list_symptoms, "List the symptoms with their ids");
    verb->add_option("--bleed-ohm", arguments.bleed_ohm, "Resistor at hand for bleeding a high group, ohm")
        ->check(CLI::PositiveNumber)
        ->capture_default_str();
    verb->callback([arguments = kept, &work] {
        if (!arguments->list_symptoms && (arguments->groups.empty() || arguments->series == 0))
            throw CLI::RequiredError("GROUPS with --series, or --list-symptoms");
        work = [arguments] { return triage(*arguments); };
    });
}

void add_donors(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<DonorsArguments>(
        app, "donors", "Which groups move where so that most packs of a kind live", donors, work);
    auto& arguments = *kept;
    verb->add_option("PACKS", arguments.packs,
                     "Pack, Group, Voltage / V, Capacity / Ah, Model of every group; - reads standard input")
        ->required();
    verb->add_option("--chemistry", arguments.chemistry, "Chemistry of the cells")
        ->check(known_chemistry())
        ->capture_default_str();
    verb->add_option("--cells-per-unit", arguments.cells_per_unit, "Cells in series inside one unit (a module)")
        ->check(CLI::Range(1, most_cells_per_unit))
        ->capture_default_str();
    verb->add_option("--voltage-window", arguments.voltage_window_v,
                     "Within a rebuilt pack, highest minus lowest group at most this, V")
        ->check(CLI::PositiveNumber);
    verb->add_option("--capacity-tolerance", arguments.capacity_tolerance_percent,
                     "Within a rebuilt pack, largest group at most this many percent over the smallest")
        ->check(CLI::PositiveNumber);
    verb->add_flag("--one-model", arguments.one_model, "Never two models in one pack");
    verb->add_option("--time-limit", arguments.time_limit_s, "Seconds after which the best so far is returned")
        ->check(CLI::PositiveNumber)
        ->capture_default_str();
}

void add_worth(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<WorthArguments>(
        app, "worth", "Is it worth it? Repair, rebuild, convert, buy or break, side by side", worth, work);
    auto& arguments = *kept;
    verb->add_option("CASE", arguments.file, "Case as JSON (docs/formats/worth.md); - reads standard input")
        ->required();
}

void add_resistance(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<ResistanceArguments>(
        app, "resistance", "DC resistance from the steps of current in a log (CSV)", resistance, work);
    auto& arguments = *kept;
    verb->add_option("LOG", arguments.log, "Log with Test Time / s, Voltage / V, Current / A; - reads standard input")
        ->required();
}

void add_trend(CLI::App& app, Work& work) {
    const auto [verb, kept] =
        add_verb<TrendArguments>(app, "trend", "Keep cycling or stop: where each unit's capacity settles", trend, work);
    auto& arguments = *kept;
    verb->add_option("CYCLES", arguments.cycles,
                     "Unit ID, Cycle, Discharge Capacity / Ah, Stop; - reads standard input")
        ->required();
    verb->add_option("--bar", arguments.bar_ah, "Capacity that is wanted, Ah")->required()->check(CLI::PositiveNumber);
    verb->add_option("--rated", arguments.rated_ah, "Rated capacity, Ah")->check(CLI::PositiveNumber);
}

void add_plan(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<PlanArguments>(app, "plan", "Which unit on which bay, when", plan, work);
    auto& arguments = *kept;
    constexpr int most_bays = 1000;
    verb->add_option("JOBS", arguments.jobs,
                     "Unit ID, Duration / h, Position, Charge Current / A; - reads standard input")
        ->required();
    verb->add_option("--bays", arguments.bays, "Bays of the tester")->required()->check(CLI::Range(1, most_bays));
    const auto objection = [](const auto& parsed) {
        return parsed ? std::string() : parsed.problem().sentence.english();
    };
    verb->add_option("--shift", arguments.shift, "Hours of the day in which somebody is there")
        ->check([objection](const std::string& text) { return objection(ingot::exchange::parse_shift(text)); })
        ->capture_default_str();
    verb->add_option("--days", arguments.days, "Days on which somebody is there, as mon-fri; every day if left out")
        ->check([objection](const std::string& text) {
            ingot::AttendedHours hours;
            return objection(ingot::exchange::parse_days(text, hours));
        });
    verb->add_option(
            "--start", arguments.start,
            "Local time at which the plan begins, as 2026-01-05T08:00; the shift's first hour of a Monday if left out")
        ->check([](const std::string& text) {
            return QDateTime::fromString(QString::fromStdString(text), Qt::ISODate).isValid()
                       ? std::string()
                       : "start \"" + text + "\" is not understood. Write it as 2026-01-05T08:00.";
        });
    verb->add_option("--supply-a", arguments.supply_a, "Sum of charge currents that the supply carries, A")
        ->check(CLI::PositiveNumber);
    verb->add_option("--calendar", arguments.calendar, "Write the visits to this iCalendar file");
}

void add_rest(CLI::App& app, Work& work) {
    const auto [verb, kept] =
        add_verb<RestArguments>(app, "rest", "Which resting units leak, and when the next reading decides", rest, work);
    auto& arguments = *kept;
    verb->add_option("READINGS", arguments.readings,
                     "Cell ID, Time / h, Voltage / V, Capacity / Ah, Model; - reads standard input")
        ->required();
    verb->add_option("--chemistry", arguments.chemistry, "Chemistry of the cells")
        ->check(known_chemistry())
        ->capture_default_str();
    verb->add_option("--limit-mv-per-day", arguments.limit_mv_per_day, "A unit that falls faster leaks, mV a day")
        ->required()
        ->check(CLI::PositiveNumber);
    verb->add_option("--resolution-mv", arguments.resolution_mv, "One step of the meter's last digit, mV")
        ->check(CLI::PositiveNumber)
        ->capture_default_str();
}

void add_join(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<JoinArguments>(
        app, "join", "What would flow if the units of each group were joined now, and what to bring where first", join,
        work);
    auto& arguments = *kept;
    verb->add_option("UNITS", arguments.units,
                     "Cell ID, Group, Voltage / V, DC Resistance / Ohm, Capacity / Ah; - reads standard input")
        ->required();
    verb->add_option("--chemistry", arguments.chemistry, "Chemistry of the cells")
        ->check(known_chemistry())
        ->capture_default_str();
    verb->add_option("--cells-per-unit", arguments.cells_per_unit, "Cells in series inside one unit (a module)")
        ->check(CLI::Range(1, most_cells_per_unit))
        ->capture_default_str();
    verb->add_option("--lead-ohm", arguments.lead_ohm, "Resistance of each unit's lead or joint, ohm")
        ->check(CLI::NonNegativeNumber)
        ->capture_default_str();
    verb->add_option("--limit-v", arguments.limit_v, "Largest difference per cell that is joined directly, V")
        ->check(CLI::PositiveNumber);
}

void add_strip(CLI::App& app, Work& work) {
    const auto [verb, kept] =
        add_verb<StripArguments>(app, "strip", "Which current each piece of strip carries under a load", strip, work);
    auto& arguments = *kept;
    verb->add_option("PIECES", arguments.pieces,
                     "Piece, From, To, Length / mm, Width / mm, Thickness / mm, Layers, Material, or Resistance / Ohm; "
                     "- reads standard input")
        ->required();
    verb->add_option("CELLS", arguments.cells, "Cell ID, Plus, Minus, Voltage / V, DC Resistance / Ohm")->required();
    verb->add_option("--load", arguments.load_a, "Current drawn through the device, A")->required()->check(CLI::Number);
    verb->add_option("--plus", arguments.plus, "Node of the pack's plus")->required();
    verb->add_option("--minus", arguments.minus, "Node of the pack's minus")->required();
}

void add_convert(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<ConvertArguments>(
        app, "convert", "Which designs could take an old pack's place in its device", convert, work);
    auto& arguments = *kept;
    verb->add_option_function<std::string>(
            "--from",
            [arguments = kept](const std::string& text) {
                const auto colon = text.find(':');
                const auto known = chemistry_ids();
                arguments->from = text.substr(0, colon);
                int series = 0;
                if (colon == std::string::npos || !CLI::detail::lexical_cast(text.substr(colon + 1), series) ||
                    series < 1 || series > most_series ||
                    std::find(known.begin(), known.end(), arguments->from) == known.end())
                    throw CLI::ValidationError("--from", "write the old pack as CHEMISTRY:SERIES, for instance "
                                                         "nimh:20");
                arguments->series = series;
            },
            "The old pack, as CHEMISTRY:SERIES")
        ->required();
    verb->add_option("--nominal", arguments.nominal_v, "What the device is made for, V")
        ->required()
        ->check(CLI::PositiveNumber);
    verb->add_option("--off", arguments.off_v, "The device switches off below, V")->check(CLI::PositiveNumber);
    verb->add_option("--bears", arguments.bears_v, "The most that the device stands, V")->check(CLI::PositiveNumber);
    verb->add_option("--charger", arguments.charger_v,
                     "End voltage of the charger (cc-cv, lead), or what it reaches before it ends, V")
        ->check(CLI::PositiveNumber);
    verb->add_option("--charger-kind", arguments.charger_kind, "How the charger ends")
        ->check(CLI::IsMember({"cc-cv", "minus-dv", "trickle", "lead"}));
    verb->add_option("--current", arguments.current_a, "What the device draws, A")->check(CLI::PositiveNumber);
    verb->add_option("--to", arguments.to, "This chemistry only")->check(known_chemistry());
}

// "140x95" as two positive numbers.
std::pair<double, double> two_sizes(const char* option, const std::string& text) {
    const auto times = text.find_first_of("xX");
    double a = 0;
    double b = 0;
    if (times == std::string::npos || !CLI::detail::lexical_cast(text.substr(0, times), a) ||
        !CLI::detail::lexical_cast(text.substr(times + 1), b) || !(a > 0) || !(b > 0))
        throw CLI::ValidationError(option, "write two sizes in mm, for instance 140x95");
    return {a, b};
}

void add_layout(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<LayoutArguments>(
        app, "layout", "Where each cell stands in its case, and which pieces of strip join them", layout, work);
    auto& arguments = *kept;
    verb->add_option("BUILD", arguments.build, "Cell ID, Group, group 1 at the pack's minus; - reads standard input")
        ->required();
    verb->add_option("--series,-s", arguments.series, "Groups in series")
        ->required()
        ->check(CLI::Range(1, most_series));
    verb->add_option("--parallel,-p", arguments.parallel, "Units in parallel")
        ->required()
        ->check(CLI::Range(1, most_parallel));
    verb->add_option("--cell-diameter", arguments.diameter_mm, "Diameter of a cell with its sleeve, mm")
        ->required()
        ->check(CLI::PositiveNumber);
    verb->add_option_function<std::string>(
            "--case",
            [arguments = kept](const std::string& text) {
                std::tie(arguments->case_width_mm, arguments->case_height_mm) = two_sizes("--case", text);
            },
            "Inside of the case, WxH in mm")
        ->required();
    verb->add_option("--grid", arguments.grid, "How the cells stand")
        ->check(CLI::IsMember({"square", "staggered"}))
        ->capture_default_str();
    verb->add_option("--pitch", arguments.pitch_mm, "From centre to centre, mm; the diameter and 1 mm if left out")
        ->check(CLI::PositiveNumber);
    verb->add_option_function<std::string>(
        "--strip",
        [arguments = kept](const std::string& text) {
            std::tie(arguments->strip_width_mm, arguments->strip_thickness_mm) = two_sizes("--strip", text);
        },
        "Strip, WxT in mm");
}

void add_simulate(CLI::App& app, Work& work) {
    const auto [verb, kept] =
        add_verb<SimulateArguments>(app, "simulate", "A pack under a load until it ends, cell by cell", simulate, work);
    auto& arguments = *kept;
    verb->add_option("DESIGN", arguments.design, "Pack as JSON (docs/formats/simulate.md); - reads standard input")
        ->required();
    verb->add_option("LOAD", arguments.load, "Time / s with Current / A or Power / W, positive drawn; repeated")
        ->required();
    verb->add_option("--until", arguments.until_v, "A group's voltage that ends it, V; the test cutoff if left out")
        ->check(CLI::Number);
    verb->add_option("--step", arguments.step_s, "Longest step, s")->check(CLI::PositiveNumber);
    verb->add_option("--netlist", arguments.netlist, "Write the same pack and load as a SPICE circuit to this file");
}

void add_demo(CLI::App& app, Work& work) {
    const auto [verb, kept] = add_verb<DemoArguments>(app, "demo", "Make the demo workshop as a new file", demo, work);
    auto& arguments = *kept;
    verb->add_option("FILE", arguments.file, "New workshop file (*.ingot)")->required();
}

} // namespace

int main(int argc, char** argv) {
    const QCoreApplication application(argc, argv);
    QLocale::setDefault(QLocale::c()); // files and pipes read the same everywhere
    CLI::App app{"Ingot's computation from a shell: capacity from a tester's log, sorting by duty, matching, triage, "
                 "donors, worth, resistance, conditioning, self-discharge, the bay plan, joining, strips, change of "
                 "chemistry, a pack in use."};
    app.name("ingot-cli");
    app.set_version_flag("--version", "ingot-cli " INGOT_VERSION);
    app.set_help_all_flag("--help-all", "Help of every verb");
    app.require_subcommand(1);
    app.fallthrough();
    bool json = false;
    app.add_flag("--json", json, "Full result as JSON (V, A, Ah, Wh, ohm, s unless the key says otherwise)");

    Work work;
    add_capacity(app, work);
    add_sort(app, work);
    add_match(app, work);
    add_allot(app, work);
    add_triage(app, work);
    add_donors(app, work);
    add_worth(app, work);
    add_resistance(app, work);
    add_trend(app, work);
    add_plan(app, work);
    add_rest(app, work);
    add_join(app, work);
    add_strip(app, work);
    add_convert(app, work);
    add_layout(app, work);
    add_simulate(app, work);
    add_demo(app, work);

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error, std::cout, std::cerr) == 0 ? 0 : exit_usage;
    }
    try {
        const auto result = work();
        // Not about a file but about what was asked for: the rule set's name.
        if (!result && result.problem().where.empty() && app.got_subcommand("sort")) {
            std::cerr << result.problem().text() << "\n";
            return exit_usage;
        }
        return finish(result, json);
    } catch (const std::exception& error) {
        std::cerr << "ingot-cli: " << error.what() << "\n";
        return 1;
    }
}
