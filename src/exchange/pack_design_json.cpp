#include "exchange/pack_design_json.h"

#include "exchange/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace ingot::exchange {

namespace {

using Json = nlohmann::ordered_json;

// One cell; the objection, or empty.
Sentence read_cell(const Json& json, const std::string& where, PackDesign::Cell& cell) {
    if (!json.is_object())
        return said("{} must be an object with cell, capacity_ah and resistance_ohm.", where);
    bool capacity = false;
    bool resistance = false;
    for (const auto& [key, value] : json.items()) {
        if (key == "cell") {
            if (!value.is_string())
                return said("{}.cell must be a text.", where);
            cell.id = value.get<std::string>();
            continue;
        }
        double* into = key == "capacity_ah"      ? &cell.capacity_ah
                       : key == "resistance_ohm" ? &cell.resistance_ohm
                       : key == "soc"            ? &cell.soc
                       : key == "r1_ohm"         ? &cell.r1_ohm
                       : key == "c1_f"           ? &cell.c1_f
                                                 : nullptr;
        if (into == nullptr)
            return said("{}.{} is not known. Use cell, capacity_ah, resistance_ohm, soc, r1_ohm, c1_f.", where, key);
        if (value.is_null())
            continue;
        if (!value.is_number() || !std::isfinite(value.get<double>()))
            return said("{}.{} must be a number.", where, key);
        *into = value.get<double>();
        capacity |= key == "capacity_ah";
        resistance |= key == "resistance_ohm";
    }
    if (!capacity || !resistance)
        return said("{} needs {}.", where, capacity ? "resistance_ohm" : "capacity_ah");
    if (!(cell.capacity_ah > 0) || !(cell.resistance_ohm > 0))
        return said("{}: capacity_ah and resistance_ohm must be over 0.", where);
    if (!(cell.soc >= 0 && cell.soc <= 1))
        return said("{}.soc is a share from 0 to 1.", where);
    return {};
}

Sentence read_groups(const Json& json, PackDesign& design) {
    if (!json.is_array() || json.empty())
        return said("\"groups\" must be a list with a list of cells for each group.");
    for (std::size_t g = 0; g < json.size(); ++g) {
        const std::string where = fmt::format("groups[{}]", g);
        if (!json[g].is_array() || json[g].empty())
            return said("{} must be a list of cells, one at least.", where);
        auto& group = design.groups.emplace_back();
        for (std::size_t c = 0; c < json[g].size(); ++c)
            if (Sentence why = read_cell(json[g][c], fmt::format("{}[{}]", where, c), group.emplace_back());
                !why.empty())
                return why;
    }
    return {};
}

int line_of(std::string_view text, std::size_t byte) {
    const auto end = text.begin() + static_cast<std::ptrdiff_t>(std::min(byte, text.size()));
    return 1 + static_cast<int>(std::count(text.begin(), end, '\n'));
}

} // namespace

Result<DesignFile> read_pack_design(std::string_view text, const std::string& file) {
    Json json;
    try {
        json = Json::parse(text);
    } catch (const Json::parse_error& error) {
        return Problem{file, line_of(text, error.byte > 0 ? error.byte - 1 : 0),
                       said("is no JSON from here on. See docs/formats/simulate.md for the form.")};
    }
    if (!json.is_object())
        return Problem{file, 1, said("is not a JSON object. See docs/formats/simulate.md for the form.")};
    DesignFile out;
    bool groups = false;
    for (const auto& [key, value] : json.items()) {
        Sentence why;
        if (key == "chemistry") {
            why = value.is_string() ? Sentence() : said("\"chemistry\" must be a text.");
            out.chemistry = value.is_string() ? value.get<std::string>() : "";
        } else if (key == "temperature_c" || key == "joint_ohm") {
            if (value.is_null())
                continue;
            if (!value.is_number() || !std::isfinite(value.get<double>()))
                why = said("\"{}\" must be a number.", key);
            else if (key == "joint_ohm")
                out.design.joint_ohm = value.get<double>();
            else
                out.design.temperature_c = value.get<double>();
        } else if (key == "groups") {
            groups = true;
            why = read_groups(value, out.design);
        } else if (key != "source" && key != "name") {
            why = said("\"{}\" is not known. Use chemistry, temperature_c, joint_ohm, groups.", key);
        }
        if (!why.empty())
            return Problem{file, 1, why};
    }
    if (out.chemistry.empty())
        return Problem{file, 1, said("\"chemistry\" is missing. Name one of the library.")};
    if (!groups)
        return Problem{file, 1, said("\"groups\" is missing. Give a list of cells for each group.")};
    if (out.design.joint_ohm < 0)
        return Problem{file, 1, said("\"joint_ohm\" cannot be negative.")};
    return out;
}

Result<PackLoad> read_pack_load(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column time{"Time / s", Dimension::second, {"time", "test time"}, true, {}, 1, {}};
    Column current{"Current / A", Dimension::ampere, {"current"}, false, {}, 1, {}};
    Column power{"Power / W", Dimension::watt, {"power"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&time, &current, &power}); !found)
        return found.problem();
    if (current.index.has_value() == power.index.has_value())
        return reader.problem(said("a load has \"Current / A\" or \"Power / W\", one of them."));
    PackLoad out;
    out.power = power.index.has_value();
    const Column& drawn = out.power ? power : current;
    Rows rows(reader);
    while (rows.next()) {
        const double from = rows.needed(time, "Say when the level begins.");
        const double value = rows.needed(drawn, "Give 0 where nothing is drawn.");
        if (!rows.problem() && !out.levels.empty() && from <= out.levels.back().from_s)
            rows.object(said("the times must rise from line to line."));
        if (rows.problem())
            break;
        out.levels.push_back({from, value});
    }
    if (rows.problem())
        return *rows.problem();
    if (out.levels.empty())
        return Problem{file, 0, said("there is no level in it. Give a time and what is drawn from then on.")};
    return out;
}

} // namespace ingot::exchange
