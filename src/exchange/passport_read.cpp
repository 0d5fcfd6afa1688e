#include "exchange/passport_json.h"

#include <nlohmann/json.hpp>

namespace ingot::exchange {

namespace {

using Json = nlohmann::json;

std::string word(const Json& from, const char* key) {
    const auto found = from.find(key);
    return found != from.end() && found->is_string() ? found->get<std::string>() : std::string();
}

std::optional<double> number(const Json& from, const char* key) {
    const auto found = from.find(key);
    return found != from.end() && found->is_number() ? std::optional(found->get<double>()) : std::nullopt;
}

// A count that a pack can have; nothing where it is none.
std::optional<int> count(const Json& from, const char* key) {
    constexpr double most = 1000;
    const auto value = number(from, key);
    if (!value || *value < 1 || *value > most || *value != static_cast<int>(*value))
        return std::nullopt;
    return static_cast<int>(*value);
}

Problem objection(const std::string& file, Sentence sentence) {
    return {file, 0, std::move(sentence)};
}

} // namespace

Result<Passport> read_passport(const std::string& text, const std::string& file) {
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object() || word(json, "format") != "ingot-passport")
        return objection(file, said("This is no passport: an object with \"format\": \"ingot-passport\"."));
    const auto version = count(json, "version");
    constexpr int newest = 2;
    if (!version || *version > newest)
        return objection(file, said("Passports of version 1 and {} are read here.", newest));
    Passport out;
    out.label = word(json, "pack");
    out.workshop = word(json, "workshop");
    out.chemistry = word(json, "chemistry");
    if (out.label.empty() || out.chemistry.empty())
        return objection(file, said("\"pack\" and \"chemistry\" are missing."));
    const auto series = count(json, "series");
    const auto parallel = count(json, "parallel");
    const auto cells = count(json, "cells_per_unit");
    if (!series || !parallel || !cells)
        return objection(file,
                         said("\"series\", \"parallel\" and \"cells_per_unit\" are whole numbers from 1 to 1000."));
    out.series = *series;
    out.parallel = *parallel;
    out.cells_per_unit = *cells;
    out.joined_at = word(json, "joined_at");
    out.proved_at = word(json, "proved_at");
    out.proved_by = word(json, "proved_by");
    out.usable_ah = number(json, "usable_ah");
    if (out.usable_ah && !(*out.usable_ah > 0))
        out.usable_ah.reset();
    if (const auto design = json.find("design"); design != json.end() && design->is_object())
        for (const auto& [name, value] : design->items())
            if (value.is_string())
                out.design.emplace_back(name, value.get<std::string>());
    if (const auto units = json.find("units"); units != json.end() && units->is_array())
        for (const Json& one : *units) {
            if (!one.is_object())
                continue;
            Passport::Unit& unit = out.units.emplace_back();
            unit.code = word(one, "unit");
            unit.model = word(one, "model");
            unit.origin = word(one, "from");
            unit.group = count(one, "group").value_or(0);
            unit.place = count(one, "place").value_or(0);
            unit.capacity_ah = number(one, "capacity_ah");
            unit.resistance_ohm = number(one, "resistance_ohm");
            unit.leak_ah_per_day = number(one, "self_discharge_ah_per_day");
        }
    return out;
}

} // namespace ingot::exchange
