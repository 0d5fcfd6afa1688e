// ingot-cli triage: readings in, explanations out.
#include "cli/verbs.h"

#include "core/triage/groups.h"
#include "core/triage/ways.h"
#include "exchange/library_toml.h"
#include "exchange/readings_csv.h"
#include "exchange/text_file.h"
#include "workshop/triage_wording.h"
#include "workshop/workshop.h"

#include <fmt/format.h>

namespace ingot::cli {

namespace {

// One voltage for each group to judge its state by: the latest at rest or after storage, else at the end of charge.
GroupVoltages voltages_to_judge(const TriageCase& pack) {
    GroupVoltages out;
    out.cells_per_unit = pack.layout.cells_per_tap();
    out.terminal_v = pack.terminal_v;
    out.rest_v.resize(static_cast<std::size_t>(pack.layout.series));
    for (const bool at_rest : {false, true})
        for (const GroupReading& r : pack.readings) {
            const bool rest = r.condition == Condition::rest || r.condition == Condition::stored;
            if (rest == at_rest && (at_rest || r.condition == Condition::end_of_charge))
                out.rest_v[static_cast<std::size_t>(r.group - 1)] = r.voltage_v;
        }
    return out;
}

Json numbers(const Way& way) {
    Json out = Json::object();
    const auto put = [&](const char* key, const std::optional<double>& value) {
        if (value)
            out[key] = *value;
    };
    put("current_a", way.recovery_a);
    if (way.recovery) {
        out["current_it"] = way.recovery->current_it;
        out["to_v_per_cell"] = way.recovery->to_v;
        out["within_min"] = way.recovery->within_minutes;
        out["hold_days"] = way.recovery->hold_days;
        out["hours_watched"] = way.recovery->hours_watched;
    }
    if (way.donor) {
        out["donor_from_v"] = way.donor->from_v;
        out["donor_to_v"] = way.donor->to_v;
        put("donor_from_ah", way.donor->from_ah);
        put("donor_to_ah", way.donor->to_ah);
    }
    put("bleed_ah", way.bleed_ah);
    put("bleed_h", way.bleed_hours);
    put("lift_ah", way.lift_ah);
    put("joint_ohm", way.joint_ohm);
    put("top_up_days", way.top_up_days);
    if (!way.odd_units.empty())
        out["units"] = way.odd_units;
    return out;
}

void put_explanations(Output& out, const Explained& explained, const TriageCase& pack) {
    out.json["explanations"] = Json::array();
    out.json["by_name"] = Json::object(); // over all sets of groups
    for (const Explanation& e : explained.explanations) {
        Json& sum = out.json["by_name"][code(e.fault)];
        sum = (sum.is_null() ? 0.0 : sum.get<double>()) + e.probability;
    }
    out.text += "What explains it:\n";
    for (const Explanation& e : explained.explanations) {
        const std::string reason = wording::reason(e, pack).toStdString();
        Json entry = {
            {"name", code(e.fault)}, {"groups", e.groups}, {"probability", e.probability}, {"reason", reason}};
        if (!e.with.empty()) {
            entry["with"] = Json::array();
            for (const auto& [fault, groups] : e.with)
                entry["with"].push_back({{"name", code(fault)}, {"groups", groups}});
        }
        out.json["explanations"].push_back(std::move(entry));
        out.text += fmt::format("  {:>5.1f} %  {} ({}). {}\n", e.probability * 100,
                                wording::fault(e.fault).toStdString(), wording::groups(e.groups).toStdString(), reason);
    }
    out.text += fmt::format("  {:>5.1f} %  something else\n", explained.something_else * 100);
    if (explained.settle_by) {
        const NextReading& next = *explained.settle_by;
        const std::string sentence = wording::next_reading(next).toStdString();
        out.json["settle_by"] = {{"reading", code(next.kind)},
                                 {"groups", next.groups},
                                 {"days", next.days > 0 ? Json(next.days) : Json(nullptr)},
                                 {"condition", next.condition ? Json(code(*next.condition)) : Json(nullptr)},
                                 {"gain_bits", next.bits},
                                 {"text", sentence}};
        out.text += "What would tell them apart: " + sentence + "\n";
    } else {
        out.json["settle_by"] = nullptr;
    }
}

void put_ways(Output& out, const std::vector<Way>& ways) {
    out.json["ways"] = Json::array();
    out.text += "Ways forward:\n";
    for (const Way& way : ways) {
        const std::string reason = wording::way_reason(way).toStdString();
        Json entry = {{"name", code(way.way)},
                      {"groups", way.groups},
                      {"reason", reason},
                      {"advised", way.advised},
                      {"numbers", numbers(way)}};
        out.json["ways"].push_back(std::move(entry));
        out.text += fmt::format("  {}{} ({}). {}\n", wording::way_forward(way.way).toStdString(),
                                way.advised ? "" : ", not advised", wording::groups(way.groups).toStdString(), reason);
    }
}

} // namespace

Result<Output> triage(const TriageArguments& arguments) {
    const auto data = exchange::read_library(Workshop::shipped_folder("data"));
    if (!data)
        return data.problem();
    const Chemistry& chemistry = *data.value().chemistry(arguments.chemistry);
    if (arguments.list_symptoms) {
        Output list;
        list.json["symptoms"] = Json::array();
        for (const Symptom& symptom : data.value().triage.symptoms) {
            list.json["symptoms"].push_back({{"id", symptom.id}, {"name", symptom.name}});
            list.text += fmt::format("{:<18} {}\n", symptom.id, symptom.name);
        }
        return list;
    }
    TriageCase pack;
    pack.symptoms = arguments.symptoms;
    for (const std::string& id : pack.symptoms)
        if (data.value().triage.symptom(id) == nullptr)
            return Problem{"--symptoms", 0, said("\"{}\" is not known. See triage --list-symptoms.", id)};
    pack.layout = {arguments.series, arguments.parallel, arguments.cells_per_unit, arguments.units_per_tap};
    pack.terminal_v = arguments.terminal_v;
    pack.capacity_ah = arguments.capacity_ah;
    const std::string name = arguments.groups == "-" ? "standard input" : arguments.groups;
    const auto text = exchange::read_text(arguments.groups);
    if (!text)
        return text.problem();
    const auto readings = exchange::read_group_readings(text.value(), name, pack.layout);
    if (!readings)
        return readings.problem();
    pack.readings = readings.value().readings;
    pack.capacities = readings.value().capacities;
    pack.resistances = readings.value().resistances;
    if (!arguments.units.empty()) {
        const auto units_text = exchange::read_text(arguments.units);
        if (!units_text)
            return units_text.problem();
        auto units = exchange::read_unit_voltages(units_text.value(), arguments.units, pack.layout);
        if (!units)
            return units.problem();
        pack.units = std::move(units.value());
    }

    if (!arguments.evidence.empty()) {
        const auto evidence = exchange::read_text(arguments.evidence);
        if (!evidence)
            return evidence.problem();
        if (const auto read = exchange::read_evidence(evidence.value(), arguments.evidence, pack); !read)
            return read.problem();
    }

    const TriageResult plain = triage_groups(voltages_to_judge(pack), chemistry);
    const Explained explained = explain(pack, chemistry, data.value().triage);
    WaysOptions options;
    options.bleed_ohm = arguments.bleed_ohm;
    const auto ways = ways_forward(pack, explained, chemistry, options);

    Output out;
    out.json["groups"] = Json::array();
    for (std::size_t g = 0; g < plain.groups.size(); ++g) {
        const GroupFinding& finding = plain.groups[g];
        out.json["groups"].push_back({{"group", g + 1},
                                      {"state", finding.state ? Json(code(*finding.state)) : Json(nullptr)},
                                      {"outlier", finding.outlier}});
        if (finding.state && (finding.outlier || *finding.state != GroupState::working))
            out.text +=
                fmt::format("Group {}: {}{}\n", g + 1, code(*finding.state), finding.outlier ? ", stands out" : "");
    }
    put_explanations(out, explained, pack);
    put_ways(out, ways);
    out.json["load_round_allowed"] = plain.load_round_allowed;
    out.json["warnings"] = Json::array();
    const auto warn = [&](const std::string& warning) {
        out.json["warnings"].push_back(warning);
        out.text += "Note: " + warning + "\n";
    };
    if (!plain.load_round_allowed)
        warn("A group is under its floor: do not load the pack.");
    if (readings.value().rows > 1)
        warn(fmt::format("The snapshot has {} rows; the last one counts.", readings.value().rows));
    if (readings.value().dialect.last_line_dropped)
        warn("The last line was cut off and was dropped.");
    return out;
}

} // namespace ingot::cli
