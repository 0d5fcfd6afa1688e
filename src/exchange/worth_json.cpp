#include "exchange/worth_json.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <cmath>
#include <functional>

namespace ingot::exchange {

namespace {

using Json = nlohmann::ordered_json;

struct Key {
    const char* name;
    double* value = nullptr;
    int* count = nullptr;
};
struct Part {
    const char* name;
    std::vector<Key> keys;
};

// One table for reading and writing.
std::vector<Part> parts_of(WorthCase& c) {
    return {{"pack",
             {{"units", nullptr, &c.pack.units},
              {"units_to_replace", nullptr, &c.pack.units_to_replace},
              {"unit_wh", &c.pack.unit_wh},
              {"kept_share", &c.pack.kept_share},
              {"donors_at_hand", nullptr, &c.pack.donors_at_hand},
              {"stock_at_hand", nullptr, &c.pack.stock_at_hand},
              {"conversion_wh_share", &c.conversion_wh_share}}},
            {"prices",
             {{"hour", &c.prices.hour},
              {"bought_unit", &c.prices.bought_unit},
              {"stock_unit", &c.prices.stock_unit},
              {"donor_unit", &c.prices.donor_unit},
              {"new_unit", &c.prices.new_unit},
              {"board", &c.prices.board},
              {"strip_and_sundries", &c.prices.strip_and_sundries},
              {"new_pack", &c.prices.new_pack},
              {"reconditioned_pack", &c.prices.reconditioned_pack},
              {"conversion_unit", &c.prices.conversion_unit},
              {"conversion_charger", &c.prices.conversion_charger},
              {"recycling", &c.prices.recycling}}},
            {"hours",
             {{"open_and_close", &c.hours.open_and_close},
              {"per_unit_replaced", &c.hours.per_unit_replaced},
              {"per_unit_tested", &c.hours.per_unit_tested},
              {"prove", &c.hours.prove},
              {"per_unit_built", &c.hours.per_unit_built},
              {"conversion", &c.hours.conversion},
              {"buying", &c.hours.buying}}},
            {"weights", {{"money", &c.weights.money}, {"time", &c.weights.time}, {"certainty", &c.weights.certainty}}}};
}

std::vector<Key> keys_of(RouteOutlook& o) {
    return {{"years", &o.years}, {"chance", &o.chance}, {"warranty_years", &o.warranty_years}};
}

std::string names_of(const std::vector<Key>& keys) {
    std::string out;
    for (const Key& key : keys)
        out += (out.empty() ? "" : ", ") + std::string(key.name);
    return out;
}

// Empty when read; else the objection.
Sentence read_keys(const Json& object, const std::string& where, const std::vector<Key>& keys) {
    if (!object.is_object())
        return said("\"{}\" must be an object with {}.", where, names_of(keys));
    for (const auto& [name, value] : object.items()) {
        const auto key = std::find_if(keys.begin(), keys.end(), [&, n = name](const Key& k) { return n == k.name; });
        if (key == keys.end())
            return said("\"{}.{}\" is not known. Use {}.", where, name, names_of(keys));
        if (!value.is_number() || !std::isfinite(value.get<double>()))
            return said("\"{}.{}\" must be a number.", where, name);
        if (key->count != nullptr) {
            const double number = value.get<double>();
            constexpr double most = 1e6;
            if (number != std::floor(number) || std::fabs(number) > most)
                return said("\"{}.{}\" must be a whole number.", where, name);
            *key->count = static_cast<int>(number);
        } else {
            *key->value = value.get<double>();
        }
    }
    return {};
}

} // namespace

Result<WorthCase> read_worth_case(std::string_view text, const std::string& file, const WorthCase& usual) {
    const Json json = Json::parse(text, nullptr, false);
    if (json.is_discarded() || !json.is_object())
        return Problem{file, 0, said("is not a JSON object. See docs/formats/worth.md for the form.")};
    WorthCase out = usual;
    auto parts = parts_of(out);
    bool pack = false;
    for (const auto& [name, value] : json.items()) {
        if (name == "source" && value.is_string()) // where its figures are from, for the reader
            continue;
        if (name == "outlook") {
            if (!value.is_object())
                return Problem{file, 0, said("\"outlook\" must be an object with one entry for each route.")};
            for (const auto& [route, figures] : value.items()) {
                const auto known = route_from(route);
                if (!known)
                    return Problem{file, 0, said("route \"{}\" in \"outlook\" is not known.", route)};
                const Sentence why =
                    read_keys(figures, "outlook." + route, keys_of(out.outlook[static_cast<std::size_t>(*known)]));
                if (!why.empty())
                    return Problem{file, 0, why};
            }
            continue;
        }
        const auto part =
            std::find_if(parts.begin(), parts.end(), [&, n = name](const Part& p) { return n == p.name; });
        if (part == parts.end())
            return Problem{file, 0, said("\"{}\" is not known. Use pack, prices, hours, outlook, weights.", name)};
        pack |= name == "pack";
        if (const Sentence why = read_keys(value, name, part->keys); !why.empty())
            return Problem{file, 0, why};
    }
    if (!pack)
        return Problem{file, 0, said("\"pack\" is missing. Give units, units_to_replace and unit_wh at least.")};
    return out;
}

std::string write_worth_case(const WorthCase& worth) {
    WorthCase copy = worth;
    Json json;
    for (const Part& part : parts_of(copy))
        for (const Key& key : part.keys)
            json[part.name][key.name] = key.count != nullptr ? Json(*key.count) : Json(*key.value);
    for (int r = 0; r < route_count; ++r)
        for (const Key& key : keys_of(copy.outlook[static_cast<std::size_t>(r)]))
            json["outlook"][code(static_cast<WorthRoute>(r))][key.name] = *key.value;
    return json.dump(2) + "\n";
}

} // namespace ingot::exchange
