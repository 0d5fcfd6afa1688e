// The verbs of ingot-cli. Each returns its full result as JSON (see docs/formats/cli.md) and its text for people.
#pragma once

#include "core/cells/problem.h"

#include <nlohmann/json.hpp>

#include <optional>
#include <string>

namespace ingot::cli {

using Json = nlohmann::ordered_json;

struct Output {
    Json json;
    std::string text;
    int digits = 10; // of the numbers in json
};

// What is not known is null.
[[nodiscard]] inline Json or_null(const std::optional<double>& value) {
    return value ? Json(*value) : Json(nullptr);
}
// To the digits that mean something.
[[nodiscard]] double significant(double value, int digits = 12);
// A file as problems name it.
[[nodiscard]] inline std::string shown_name(const std::string& path) {
    return path == "-" ? "standard input" : path;
}

struct CapacityArguments {
    std::string log;
    std::string chemistry = "nmc";
    std::optional<double> cutoff_v;
};
struct SortArguments {
    std::string pool;
    std::string rules = "capacity-tested";
    bool list = false;
};
struct MatchArguments {
    std::string pool;
    int series = 0;
    int parallel = 0;
    std::string way = "search";
    double give_up_percent = 0.5;
    std::uint64_t seed = 1;
    std::optional<double> time_limit_s;
    std::string out;
    bool one_model = false;
    std::optional<double> join_window_v;
    std::vector<std::string> apart; // "A,B"
};
struct AllotArguments {
    std::string pool, builds, out;
    std::uint64_t seed = 1;
    std::optional<double> time_limit_s;
};
struct TriageArguments {
    std::string groups;
    std::string chemistry = "nmc";
    int series = 0;
    int parallel = 1;
    int cells_per_unit = 1;
    int units_per_tap = 1; // in series between two sense taps
    std::vector<std::string> symptoms;
    std::string evidence;
    bool list_symptoms = false;
    std::optional<double> terminal_v;
    std::optional<double> capacity_ah;
    std::string units;
    double bleed_ohm = 10;
};
struct DonorsArguments {
    std::string packs;
    std::string chemistry = "nmc";
    int cells_per_unit = 1;
    std::optional<double> voltage_window_v;
    std::optional<double> capacity_tolerance_percent;
    bool one_model = false;
    double time_limit_s = 2;
};
struct WorthArguments {
    std::string file;
};
struct ResistanceArguments {
    std::string log;
};
struct TrendArguments {
    std::string cycles;
    double bar_ah = 0;
    std::optional<double> rated_ah;
};
struct PlanArguments {
    std::string jobs;
    int bays = 0;
    std::string shift = "08:00-18:00";
    std::string days;
    std::string start;
    std::optional<double> supply_a;
    std::string calendar; // file to write
};
struct RestArguments {
    std::string readings;
    std::string chemistry = "nmc";
    double limit_mv_per_day = 0;
    double resolution_mv = 1;
};
struct JoinArguments {
    std::string units;
    std::string chemistry = "nmc";
    int cells_per_unit = 1;
    double lead_ohm = 0;
    std::optional<double> limit_v;
};
struct StripArguments {
    std::string pieces, cells, plus, minus;
    double load_a = 0;
};
struct ConvertArguments {
    std::string from; // chemistry
    int series = 0;
    double nominal_v = 0;
    std::optional<double> off_v, bears_v, charger_v, current_a;
    std::string charger_kind, to;
};
struct LayoutArguments {
    std::string build;
    std::string grid = "square";
    int series = 0;
    int parallel = 0;
    double diameter_mm = 0, case_width_mm = 0, case_height_mm = 0;
    std::optional<double> pitch_mm, strip_width_mm, strip_thickness_mm;
};
struct SimulateArguments {
    std::string design, load, netlist;
    std::optional<double> until_v, step_s;
};
struct DemoArguments {
    std::string file;
};

[[nodiscard]] Result<Output> capacity(const CapacityArguments& arguments);
[[nodiscard]] Result<Output> sort(const SortArguments& arguments);
[[nodiscard]] Result<Output> match(const MatchArguments& arguments);
[[nodiscard]] Result<Output> allot(const AllotArguments& arguments);
[[nodiscard]] Result<Output> triage(const TriageArguments& arguments);
[[nodiscard]] Result<Output> donors(const DonorsArguments& arguments);
[[nodiscard]] Result<Output> worth(const WorthArguments& arguments);
[[nodiscard]] Result<Output> resistance(const ResistanceArguments& arguments);
[[nodiscard]] Result<Output> trend(const TrendArguments& arguments);
[[nodiscard]] Result<Output> plan(const PlanArguments& arguments);
[[nodiscard]] Result<Output> rest(const RestArguments& arguments);
[[nodiscard]] Result<Output> join(const JoinArguments& arguments);
[[nodiscard]] Result<Output> strip(const StripArguments& arguments);
[[nodiscard]] Result<Output> convert(const ConvertArguments& arguments);
[[nodiscard]] Result<Output> layout(const LayoutArguments& arguments);
[[nodiscard]] Result<Output> simulate(const SimulateArguments& arguments);
[[nodiscard]] Result<Output> demo(const DemoArguments& arguments);

} // namespace ingot::cli
