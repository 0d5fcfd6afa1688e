#include "exchange/passport_json.h"

#include <nlohmann/json.hpp>

namespace ingot::exchange {

namespace {

using ParsedJson = nlohmann::json;

std::string passport_word(const ParsedJson& from, const char* key) {
    const auto found = from.find(key);
    return found != from.end() && found->is_string() ? found->get<std::string>() : std::string();
}

std::optional<double> passport_number(const ParsedJson& from, const char* key) {
    const auto found = from.find(key);
    return found != from.end() && found->is_number() ? std::optional(found->get<double>()) : std::nullopt;
}

// A count that a pack can have; nothing where it is none.
std::optional<int> passport_count(const ParsedJson& from, const char* key) {
    constexpr double most = 1000;
    const auto value = passport_number(from, key);
    if (!value || *value < 1 || *value > most || *value != static_cast<int>(*value))
        return std::nullopt;
    return static_cast<int>(*value);
}

Problem passport_objection(const std::string& file, Sentence sentence) {
    return {file, 0, std::move(sentence)};
}

} // namespace

Result<Passport> read_passport(const std::string& text, const std::string& file) {
    const ParsedJson json = ParsedJson::parse(text, nullptr, false);
    if (!json.is_object() || passport_word(json, "format") != "ingot-passport")
        return passport_objection(file, said("This is no passport: an object with \"format\": \"ingot-passport\"."));
    const auto version = passport_count(json, "version");
    constexpr int newest = 2;
    if (!version || *version > newest)
        return passport_objection(file, said("Passports of version 1 and {} are read here.", newest));
    Passport out;
    out.label = passport_word(json, "pack");
    out.workshop = passport_word(json, "workshop");
    out.chemistry = passport_word(json, "chemistry");
    if (out.label.empty() || out.chemistry.empty())
        return passport_objection(file, said("\"pack\" and \"chemistry\" are missing."));
    const auto series = passport_count(json, "series");
    const auto parallel = passport_count(json, "parallel");
    const auto cells = passport_count(json, "cells_per_unit");
    if (!series || !parallel || !cells)
        return passport_objection(
            file, said("\"series\", \"parallel\" and \"cells_per_unit\" are whole numbers from 1 to 1000."));
    out.series = *series;
    out.parallel = *parallel;
    out.cells_per_unit = *cells;
    out.joined_at = passport_word(json, "joined_at");
    out.proved_at = passport_word(json, "proved_at");
    out.proved_by = passport_word(json, "proved_by");
    out.usable_ah = passport_number(json, "usable_ah");
    if (out.usable_ah && !(*out.usable_ah > 0))
        out.usable_ah.reset();
    if (const auto design = json.find("design"); design != json.end() && design->is_object())
        for (const auto& [name, value] : design->items())
            if (value.is_string())
                out.design.emplace_back(name, value.get<std::string>());
    if (const auto units = json.find("units"); units != json.end() && units->is_array())
        for (const ParsedJson& one : *units) {
            if (!one.is_object())
                continue;
            Passport::Unit& unit = out.units.emplace_back();
            unit.code = passport_word(one, "unit");
            unit.model = passport_word(one, "model");
            unit.origin = passport_word(one, "from");
            unit.group = passport_count(one, "group").value_or(0);
            unit.place = passport_count(one, "place").value_or(0);
            unit.capacity_ah = passport_number(one, "capacity_ah");
            unit.resistance_ohm = passport_number(one, "resistance_ohm");
            unit.leak_ah_per_day = passport_number(one, "self_discharge_ah_per_day");
        }
    return out;
}

} // namespace ingot::exchange
