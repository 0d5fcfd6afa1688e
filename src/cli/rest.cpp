// ingot-cli rest: which units leak, and when the next reading decides.
#include "cli/verbs.h"

#include "core/measure/self_discharge.h"
#include "exchange/library_toml.h"
#include "exchange/rest_csv.h"
#include "exchange/text_file.h"
#include "workshop/workshop.h"

#include <fmt/format.h>
#include <map>

namespace ingot::cli {

namespace {

constexpr double millivolts = 1000;
constexpr int shown_digits = 5;

Json milli(const std::optional<double>& value) {
    return value ? Json(significant(*value * millivolts, shown_digits)) : Json(nullptr);
}

std::string line_of(const std::string& id, const LeakResult& result, double limit_mv) {
    std::string out = fmt::format("{:<14} {:<10}", id, code(result.verdict));
    if (result.v_per_day)
        out += fmt::format(" falls {:.3f} mV a day ({:.3f} to {:.3f}, limit {:.3f})", *result.v_per_day * millivolts,
                           *result.low_v_per_day * millivolts, *result.high_v_per_day * millivolts, limit_mv);
    if (result.ah_per_day)
        out += fmt::format(", {:.2f} mAh a day", *result.ah_per_day * millivolts);
    if (result.leaks_more_since_h > 0)
        out += fmt::format(", faster since {:.0f} h", result.leaks_more_since_h);
    if (result.next_reading_h)
        out += fmt::format("; read again at {:.0f} h", *result.next_reading_h);
    return out + "\n";
}

} // namespace

Result<Output> rest(const RestArguments& arguments) {
    const auto data = exchange::read_library(Workshop::shipped_folder("data"));
    if (!data)
        return data.problem();
    const auto text = exchange::read_text(arguments.readings);
    if (!text)
        return text.problem();
    const auto read = exchange::read_rest(text.value(), shown_name(arguments.readings));
    if (!read)
        return read.problem();
    const auto& units = read.value().units;
    const LeakRules rules{arguments.limit_mv_per_day / millivolts, arguments.resolution_mv / millivolts};
    const Chemistry& chemistry = *data.value().chemistry(arguments.chemistry);
    // Units of one model are siblings; without models all are.
    std::map<std::string, std::vector<std::size_t>> models;
    for (std::size_t i = 0; i < units.size(); ++i)
        models[units[i].model].push_back(i);
    std::vector<LeakResult> results(units.size());
    for (const auto& [model, members] : models) {
        std::vector<RestingUnit> siblings;
        for (const std::size_t i : members)
            siblings.push_back(units[i].unit);
        const auto judged = judge_leaks(siblings, chemistry, rules);
        for (std::size_t k = 0; k < members.size(); ++k)
            results[members[k]] = judged[k];
    }
    Output out;
    out.json["cells"] = Json::array();
    for (std::size_t i = 0; i < units.size(); ++i) {
        const LeakResult& result = results[i];
        const std::string& id = units[i].unit.id;
        out.json["cells"].push_back(
            {{"cell", id},
             {"mv_per_day", milli(result.v_per_day)},
             {"low_mv_per_day", milli(result.low_v_per_day)},
             {"high_mv_per_day", milli(result.high_v_per_day)},
             {"mah_per_day", milli(result.ah_per_day)},
             {"verdict", code(result.verdict)},
             {"next_reading_h",
              result.next_reading_h ? Json(significant(*result.next_reading_h, shown_digits + 1)) : Json(nullptr)}});
        out.text += line_of(id, result, arguments.limit_mv_per_day);
    }
    out.json["warnings"] = Json::array();
    if (!chemistry.voltage_tells_charge)
        out.json["warnings"].push_back("The voltage of this chemistry says little about its charge: a leak is surer "
                                       "seen by charging, resting for weeks and discharging.");
    if (read.value().last_line_dropped)
        out.json["warnings"].push_back("The last line was cut off and was dropped.");
    for (const auto& warning : out.json["warnings"])
        out.text += "Note: " + warning.get<std::string>() + "\n";
    return out;
}

} // namespace ingot::cli
