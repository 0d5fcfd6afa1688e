// ingot-cli join, strip, convert, simulate: a pack before and while it is built.
#include "cli/verbs.h"

#include "core/build/bringing.h"
#include "core/build/conversion.h"
#include "core/build/pack_in_use.h"
#include "core/build/strip_network.h"
#include "exchange/joints_csv.h"
#include "exchange/library_toml.h"
#include "exchange/pack_design_json.h"
#include "exchange/spice_netlist.h"
#include "exchange/text_file.h"
#include "workshop/build_wording.h"
#include "workshop/workshop.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace ingot::cli {

namespace {

constexpr double mm2_per_m2 = 1e6;

Result<exchange::Library> shipped_library() {
    return exchange::read_library(Workshop::shipped_folder("data"));
}

const char* verdict_code(JoinAdvice advice) {
    switch (advice) {
    case JoinAdvice::bring_to_voltage:
        return "bring-first";
    case JoinAdvice::through_resistor:
        return "resistor";
    default:
        return "join";
    }
}

Json density_of(const StripCurrents::Piece& piece) {
    return piece.density_a_per_m2 ? Json(*piece.density_a_per_m2 / mm2_per_m2) : Json(nullptr);
}

Problem in_file(const std::string& file, const Problem& problem) {
    return {problem.where.empty() ? file : problem.where, problem.line, problem.sentence};
}

// Groups in the order in which they first appear.
std::vector<std::pair<std::string, std::vector<const exchange::JoiningUnit*>>>
groups_of(const std::vector<exchange::JoiningUnit>& units) {
    std::vector<std::pair<std::string, std::vector<const exchange::JoiningUnit*>>> out;
    std::map<std::string, std::size_t> index;
    for (const auto& unit : units) {
        const auto [at, fresh] = index.emplace(unit.group, out.size());
        if (fresh)
            out.push_back({unit.group, {}});
        out[at->second].second.push_back(&unit);
    }
    return out;
}

// A group's number as a number, any other name as text.
Json group_name(const std::string& name) {
    const bool number = !name.empty() && name.size() < 9 &&
                        std::all_of(name.begin(), name.end(), [](char c) { return c >= '0' && c <= '9'; });
    return number ? Json(std::stoi(name)) : Json(name);
}

Json joined_group(const std::string& name, const std::vector<const exchange::JoiningUnit*>& units, const JoinPlan& plan,
                  std::string& text) {
    Json json;
    json["group"] = group_name(name);
    json["common_v"] = plan.common_v;
    json["spread_v"] = plan.spread_v;
    json["largest_a"] = plan.largest_a;
    json["worst_cell"] = units[plan.worst]->id;
    json["currents"] = Json::array();
    text += fmt::format("Group {}: {}, {:.4f} V together, {:.0f} mV apart, at most {:.2f} A ({})\n", name,
                        verdict_code(plan.advice), plan.common_v, plan.spread_v * 1000, plan.largest_a,
                        units[plan.worst]->id);
    for (std::size_t i = 0; i < units.size(); ++i)
        json["currents"].push_back({{"cell", units[i]->id}, {"current_a", plan.current_a[i]}});
    json["verdict"] = verdict_code(plan.advice);
    json["bring"] = Json::array();
    for (const Bringing& bring : plan.bring) {
        const std::string& id = units[bring.member]->id;
        json["bring"].push_back({{"cell", id}, {"to_v", bring.to_v}, {"charge_ah", or_null(bring.charge_ah)}});
        text += fmt::format("  bring {} to {:.3f} V{}\n", id, bring.to_v,
                            bring.charge_ah ? fmt::format(" ({:+.3f} Ah)", *bring.charge_ah) : std::string());
    }
    return json;
}

} // namespace

Result<Output> join(const JoinArguments& arguments) {
    const auto data = shipped_library();
    if (!data)
        return data.problem();
    const auto text = exchange::read_text(arguments.units);
    if (!text)
        return text.problem();
    const auto read = exchange::read_joining_units(text.value(), shown_name(arguments.units));
    if (!read)
        return read.problem();
    JoinLimits limits = data.value().practice.joining;
    limits.largest_v = arguments.limit_v.value_or(limits.largest_v);
    limits.resistor_below_v = std::max(limits.resistor_below_v, limits.largest_v);
    Output out;
    out.json["groups"] = Json::array();
    std::vector<std::string> warnings;
    for (const auto& [name, units] : groups_of(read.value().units)) {
        GroupToJoin group;
        group.cells_per_unit = arguments.cells_per_unit;
        for (const exchange::JoiningUnit* unit : units)
            group.members.push_back({unit->voltage_v, unit->resistance_ohm + arguments.lead_ohm, unit->capacity_ah});
        const JoinPlan plan = plan_joining(group, *data.value().chemistry(arguments.chemistry), limits);
        out.json["groups"].push_back(joined_group(name, units, plan, out.text));
        for (const std::size_t i : plan.reversed)
            warnings.push_back(wording::reversed_unit(units[i]->id).toStdString());
        for (const std::size_t i : plan.deep)
            warnings.push_back(wording::deep_unit(units[i]->id).toStdString());
    }
    out.json["warnings"] = warnings;
    if (read.value().last_line_dropped)
        out.json["warnings"].push_back("The last line was cut off and was dropped.");
    for (const auto& warning : out.json["warnings"])
        out.text += "Note: " + warning.get<std::string>() + "\n";
    return out;
}

Result<Output> strip(const StripArguments& arguments) {
    const auto data = shipped_library();
    if (!data)
        return data.problem();
    const auto pieces_text = exchange::read_text(arguments.pieces);
    if (!pieces_text)
        return pieces_text.problem();
    const auto cells_text = exchange::read_text(arguments.cells);
    if (!cells_text)
        return cells_text.problem();
    const auto pieces = exchange::read_strip_pieces(pieces_text.value(), shown_name(arguments.pieces),
                                                    data.value().practice.strip_materials);
    if (!pieces)
        return pieces.problem();
    const auto cells = exchange::read_strip_cells(cells_text.value(), shown_name(arguments.cells));
    if (!cells)
        return cells.problem();
    const auto solved =
        solve_strips(pieces.value(), cells.value(), {arguments.load_a, arguments.plus, arguments.minus});
    if (!solved)
        return in_file(shown_name(arguments.pieces), solved.problem());
    const StripCurrents& currents = solved.value();
    Output out;
    constexpr int network_digits = 12;
    out.digits = network_digits;
    out.json["pieces"] = Json::array();
    out.text += fmt::format("{:.4f} V at the terminals, {:.3f} W lost in the strips\n", currents.terminal_v,
                            currents.strip_loss_w);
    for (std::size_t i = 0; i < currents.pieces.size(); ++i) {
        const auto& piece = currents.pieces[i];
        out.json["pieces"].push_back({{"piece", pieces.value()[i].id},
                                      {"current_a", piece.current_a},
                                      {"density_a_per_mm2", density_of(piece)},
                                      {"drop_v", piece.drop_v},
                                      {"loss_w", piece.loss_w}});
        out.text +=
            fmt::format("  {:<14} {:>9.3f} A {:>10} {:>9.2f} mV {:>8.3f} W\n", pieces.value()[i].id, piece.current_a,
                        piece.density_a_per_m2 ? fmt::format("{:.2f} A/mm2", *piece.density_a_per_m2 / mm2_per_m2)
                                               : std::string("-"),
                        piece.drop_v * 1000, piece.loss_w);
    }
    out.json["cells"] = Json::array();
    for (std::size_t i = 0; i < currents.cell_a.size(); ++i) {
        out.json["cells"].push_back({{"cell", cells.value()[i].id}, {"current_a", currents.cell_a[i]}});
        out.text += fmt::format("  {:<14} {:>9.3f} A\n", cells.value()[i].id, currents.cell_a[i]);
    }
    out.json["terminal_v"] = currents.terminal_v;
    out.json["strip_loss_w"] = currents.strip_loss_w;
    out.json["worst_piece"] = currents.worst ? Json(pieces.value()[*currents.worst].id) : Json(nullptr);
    if (currents.worst)
        out.text += fmt::format("Worst piece: {}\n", pieces.value()[*currents.worst].id);
    out.json["warnings"] = Json::array();
    return out;
}

Result<Output> convert(const ConvertArguments& arguments) {
    const auto data = shipped_library();
    if (!data)
        return data.problem();
    std::vector<const Chemistry*> to;
    for (const auto& [id, chemistry] : data.value().chemistries)
        if (arguments.to.empty() || id == arguments.to)
            to.push_back(&chemistry);
    DeviceWindow device;
    device.nominal_v = arguments.nominal_v;
    device.off_v = arguments.off_v;
    device.bears_v = arguments.bears_v;
    device.charger_v = arguments.charger_v;
    if (!arguments.charger_kind.empty())
        device.charger_kind = charger_kind_from(arguments.charger_kind);
    Output out;
    out.json["designs"] = Json::array();
    for (const ConversionDesign& design :
         conversions(*data.value().chemistry(arguments.from), arguments.series, device, to)) {
        Json clashes = Json::array();
        out.text += fmt::format("{:<8} {:<7} {:>2}S  {:.2f} / {:.2f} / {:.2f} V, charged at {:.2f} V\n",
                                code(design.verdict), design.chemistry, design.series, design.empty_v, design.nominal_v,
                                design.full_v, design.charge_v);
        for (const Clash& clash : design.clashes) {
            const std::string reason = wording::clash(clash, design, device).toStdString();
            clashes.push_back({{"code", code(clash.clash)},
                               {"value", or_null(clash.value)},
                               {"limit", or_null(clash.limit)},
                               {"reason", reason}});
            out.text += "         " + reason + "\n";
        }
        Json notes = Json::array();
        if (design.needs_board)
            notes.push_back(wording::needs_board(design.series, arguments.current_a).toStdString());
        for (const auto& note : notes)
            out.text += "         " + note.get<std::string>() + "\n";
        out.json["designs"].push_back({{"chemistry", design.chemistry},
                                       {"series", design.series},
                                       {"empty_v", design.empty_v},
                                       {"nominal_v", design.nominal_v},
                                       {"full_v", design.full_v},
                                       {"charge_v", design.charge_v},
                                       {"charger_per_cell_v", or_null(design.charger_per_cell_v)},
                                       {"verdict", code(design.verdict)},
                                       {"clashes", clashes},
                                       {"notes", notes}});
    }
    out.json["warnings"] = Json::array();
    return out;
}

Result<Output> simulate(const SimulateArguments& arguments) {
    const auto data = shipped_library();
    if (!data)
        return data.problem();
    const std::string design_name = shown_name(arguments.design);
    const auto design_text = exchange::read_text(arguments.design);
    if (!design_text)
        return design_text.problem();
    const auto load_text = exchange::read_text(arguments.load);
    if (!load_text)
        return load_text.problem();
    const auto design = exchange::read_pack_design(design_text.value(), design_name);
    if (!design)
        return design.problem();
    const Chemistry* chemistry = data.value().chemistry(design.value().chemistry);
    if (chemistry == nullptr)
        return Problem{design_name, 1, said("chemistry \"{}\" is not in the library.", design.value().chemistry)};
    const auto load = exchange::read_pack_load(load_text.value(), shown_name(arguments.load));
    if (!load)
        return load.problem();
    PackRunOptions options;
    options.until_v = arguments.until_v.value_or(chemistry->test_cutoff_v);
    options.step_s = arguments.step_s;
    const auto result = run_pack(design.value().design, *chemistry, load.value(), options);
    if (!result)
        return in_file(shown_name(arguments.load), result.problem());
    const PackRun& run = result.value();
    if (!arguments.netlist.empty())
        if (const auto written =
                exchange::write_text(arguments.netlist, exchange::write_spice_netlist(design.value().design, *chemistry,
                                                                                      load.value(), run.run_time_s));
            !written)
            return written.problem();
    Output out;
    constexpr int digits = 7;
    const auto shown = [](double value) { return significant(value, digits); };
    out.json["run_time_s"] = shown(run.run_time_s);
    out.json["usable_ah"] = shown(run.usable_ah);
    out.json["usable_wh"] = shown(run.usable_wh);
    out.json["ended_by"] = {
        {"group", run.ended_by + 1}, {"voltage_v", shown(run.ended_at_v)}, {"reason", code(run.reason)}};
    out.text +=
        fmt::format("Runs {:.0f} s, gives {:.3f} Ah and {:.2f} Wh; group {} ends it ({}, {:.3f} V)\n", run.run_time_s,
                    run.usable_ah, run.usable_wh, run.ended_by + 1, code(run.reason), run.ended_at_v);
    out.json["groups"] = Json::array();
    out.json["cells"] = Json::array();
    for (std::size_t g = 0; g < run.groups.size(); ++g) {
        out.json["groups"].push_back(
            {{"group", g + 1}, {"left_ah", shown(run.groups[g].left_ah)}, {"lowest_v", shown(run.groups[g].lowest_v)}});
        out.text += fmt::format("  group {:>3}  {:.3f} Ah left, lowest {:.3f} V\n", g + 1, run.groups[g].left_ah,
                                run.groups[g].lowest_v);
        for (std::size_t c = 0; c < run.cells[g].size(); ++c) {
            const auto& cell = run.cells[g][c];
            out.json["cells"].push_back({{"cell", design.value().design.groups[g][c].id},
                                         {"peak_a", shown(cell.peak_a)},
                                         {"mean_a", shown(cell.mean_a)},
                                         {"left_ah", shown(cell.left_ah)}});
        }
    }
    constexpr int balance_digits = 3;
    out.json["energy_balance"] = significant(run.energy_balance, balance_digits);
    out.json["warnings"] = Json::array();
    return out;
}

} // namespace ingot::cli
