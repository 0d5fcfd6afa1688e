#include "exchange/worth_json.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <functional>

namespace ingot::exchange {

namespace {

using Json = nlohmann::ordered_json;

// One figure of the case: how it is read (an objection, or nothing) and how it is written; what only older files have
// is not written.
struct Key {
    const char* name;
    std::function<Sentence(const Json& value, const std::string& where)> set;
    std::function<Json()> get;
};
struct Part {
    const char* name;
    std::vector<Key> keys;
};

std::optional<double> number_in(const Json& value) {
    if (!value.is_number())
        return std::nullopt;
    const double number = value.get<double>();
    return std::isfinite(number) ? std::optional(number) : std::nullopt;
}

Key figure_key(const char* name, double& kept) {
    return {name,
            [&kept](const Json& value, const std::string& where) {
                const auto number = number_in(value);
                kept = number.value_or(kept);
                return number ? Sentence() : said("\"{}\" must be a number.", where);
            },
            [&kept] { return Json(kept); }};
}

Key count_key(const char* name, int& kept) {
    return {name,
            [&kept](const Json& value, const std::string& where) {
                constexpr double most = 1e6;
                const auto number = number_in(value);
                if (!number)
                    return said("\"{}\" must be a number.", where);
                if (*number != std::floor(*number) || std::fabs(*number) > most)
                    return said("\"{}\" must be a whole number.", where);
                kept = static_cast<int>(*number);
                return Sentence();
            },
            [&kept] { return Json(kept); }};
}

Key known_key(const char* name, std::optional<bool>& kept) {
    return {name,
            [&kept](const Json& value, const std::string& where) {
                if (!value.is_boolean() && !value.is_null())
                    return said("\"{}\" must be true, false or, where nobody knows, null.", where);
                kept = value.is_null() ? std::nullopt : std::optional(value.get<bool>());
                return Sentence();
            },
            [&kept] { return kept ? Json(*kept) : Json(nullptr); }};
}

Key part_key(const char* name, WorthPart& kept) {
    return {name,
            [&kept](const Json& value, const std::string& where) {
                const auto known = value.is_string() ? part_from(value.get<std::string>()) : std::nullopt;
                kept = known.value_or(kept);
                return known ? Sentence() : said("\"{}\" must be \"none\", \"old\" or \"new\".", where);
            },
            [&kept] { return Json(code(kept)); }};
}

// As older files have it: one figure that several routes have of their own now.
Key older_key(const char* name, const std::vector<double*>& into) {
    return {name,
            [into](const Json& value, const std::string& where) {
                const auto number = number_in(value);
                if (!number)
                    return said("\"{}\" must be a number.", where);
                for (double* kept : into)
                    *kept = *number;
                return Sentence();
            },
            {}};
}

// One table for reading and writing.
std::vector<Part> parts_of(WorthCase& c) {
    using R = WorthRoute;
    return {
        {"pack",
         {count_key("units", c.pack.units), count_key("units_to_replace", c.pack.units_to_replace),
          figure_key("unit_wh", c.pack.unit_wh), count_key("donors_at_hand", c.pack.donors_at_hand),
          count_key("stock_at_hand", c.pack.stock_at_hand), known_key("charger_at_hand", c.pack.charger_at_hand),
          known_key("board_sound", c.pack.board_sound),
          older_key("kept_share", {&c.of(R::repair_from_stock).kept_share, &c.of(R::repair_from_donors).kept_share,
                                   &c.of(R::repair_with_bought_units).kept_share,
                                   &c.of(R::buy_reconditioned).kept_share, &c.of(R::break_for_units).kept_share}),
          older_key("conversion_wh_share", {&c.of(R::convert).kept_share})}},
        {"prices",
         {figure_key("hour", c.prices.hour), figure_key("stock_unit", c.prices.stock_unit),
          figure_key("board", c.prices.board), figure_key("charger", c.prices.charger),
          figure_key("strip_and_sundries", c.prices.strip_and_sundries), figure_key("recycling", c.prices.recycling),
          older_key("bought_unit", {&c.of(R::repair_with_bought_units).price}),
          older_key("donor_unit", {&c.of(R::repair_from_donors).price}),
          older_key("new_unit", {&c.of(R::rebuild).price}), older_key("new_pack", {&c.of(R::buy_new).price}),
          older_key("reconditioned_pack", {&c.of(R::buy_reconditioned).price}),
          older_key("conversion_unit", {&c.of(R::convert).price}),
          older_key("conversion_charger", {&c.prices.charger})}},
        {"hours",
         {figure_key("open_and_close", c.hours.open_and_close),
          figure_key("per_unit_replaced", c.hours.per_unit_replaced),
          figure_key("per_unit_tested", c.hours.per_unit_tested), figure_key("prove", c.hours.prove),
          figure_key("per_unit_built", c.hours.per_unit_built), figure_key("day_waited", c.hours.day_waited),
          older_key("conversion", {&c.of(R::convert).extra_hours}),
          older_key("buying", {&c.of(R::buy_new).extra_hours, &c.of(R::buy_reconditioned).extra_hours})}},
        {"weights",
         {figure_key("money", c.weights.money), figure_key("time", c.weights.time),
          figure_key("certainty", c.weights.certainty)}}};
}

std::vector<Key> keys_of(RouteTerms& t) {
    return {figure_key("price", t.price),
            count_key("units", t.units),
            figure_key("unit_wh", t.unit_wh),
            count_key("pieces", t.pieces),
            figure_key("piece_wh", t.piece_wh),
            figure_key("freight", t.freight),
            figure_key("core_deposit", t.core_deposit),
            figure_key("waiting_days", t.waiting_days),
            figure_key("extra_hours", t.extra_hours),
            part_key("charger", t.charger),
            part_key("board", t.board),
            figure_key("kept_share", t.kept_share),
            figure_key("years", t.years),
            figure_key("chance", t.chance),
            figure_key("warranty_years", t.warranty_years)};
}

std::string names_of(const std::vector<Key>& keys) {
    std::string out;
    for (const Key& key : keys)
        if (key.get)
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
        if (Sentence why = key->set(value, fmt::format("{}.{}", where, name)); !why.empty())
            return why;
    }
    return {};
}

Sentence read_routes(const Json& routes, const std::string& where, WorthCase& into) {
    if (!routes.is_object())
        return said("\"{}\" must be an object with one entry for each route.", where);
    for (const auto& [route, figures] : routes.items()) {
        const auto known = route_from(route);
        if (!known)
            return said("route \"{}\" in \"{}\" is not known.", route, where);
        if (Sentence why = read_keys(figures, fmt::format("{}.{}", where, route), keys_of(into.of(*known)));
            !why.empty())
            return why;
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
        if (name == "aim") {
            const auto aim = value.is_string() ? aim_from(value.get<std::string>()) : std::nullopt;
            if (!aim)
                return Problem{file, 0, said("\"aim\" must be \"device\" or \"stock\".")};
            out.aim = *aim;
            continue;
        }
        if (name == "routes" || name == "outlook") { // the second: as older files have it
            if (const Sentence why = read_routes(value, name, out); !why.empty())
                return Problem{file, 0, why};
            continue;
        }
        const auto part =
            std::find_if(parts.begin(), parts.end(), [&, n = name](const Part& p) { return n == p.name; });
        if (part == parts.end())
            return Problem{file, 0, said("\"{}\" is not known. Use aim, pack, prices, hours, routes, weights.", name)};
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
    json["aim"] = code(worth.aim);
    for (const Part& part : parts_of(copy))
        for (const Key& key : part.keys)
            if (key.get)
                json[part.name][key.name] = key.get();
    for (int r = 0; r < route_count; ++r) {
        const auto route = static_cast<WorthRoute>(r);
        for (const Key& key : keys_of(copy.of(route)))
            json["routes"][code(route)][key.name] = key.get();
    }
    return json.dump(2) + "\n";
}

} // namespace ingot::exchange
