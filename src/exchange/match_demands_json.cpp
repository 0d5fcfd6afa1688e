#include "exchange/match_demands_json.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace ingot::exchange {

namespace {

using Json = nlohmann::ordered_json;

Json figure(const std::optional<double>& value) {
    return value ? Json(*value) : Json(nullptr);
}

// What is wrong with one entry; empty: it was taken.
Sentence take(MatchDemands& demands, const std::string& key, const Json& value) {
    const auto flag = [&](bool& into) {
        if (!value.is_boolean())
            return said("{} is true or false", key);
        into = value.get<bool>();
        return Sentence();
    };
    const auto number = [&](std::optional<double>& into) {
        if (value.is_null())
            return Sentence();
        if (!value.is_number() || !(value.get<double>() > 0))
            return said("{} is a number above 0, or null", key);
        into = value.get<double>();
        return Sentence();
    };
    if (key == "one_model_per_group")
        return flag(demands.one_model_per_group);
    if (key == "whole_origins")
        return flag(demands.whole_origins);
    if (key == "join_window_v")
        return number(demands.join_window_v);
    if (key == "load_a")
        return number(demands.load_a);
    return said("\"{}\" is no demand; one_model_per_group, whole_origins, join_window_v and load_a are", key);
}

} // namespace

Result<std::map<std::string, MatchDemands>> read_match_demands(std::string_view text, const std::string& file) {
    std::map<std::string, MatchDemands> out;
    if (text.empty())
        return out;
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object())
        return Problem{file, 0, said("This is no JSON object of demands by name.")};
    for (const auto& [name, entries] : json.items()) {
        if (!entries.is_object())
            return Problem{file, 0, said("\"{}\" holds no demands: an object is expected.", name)};
        MatchDemands demands;
        for (const auto& [key, value] : entries.items())
            if (const Sentence wrong = take(demands, key, value); !wrong.empty())
                return Problem{file, 0, said("\"{}\": {}.", name, wrong)};
        out[name] = demands;
    }
    return out;
}

std::string write_match_demands(const std::map<std::string, MatchDemands>& demands) {
    Json out = Json::object();
    for (const auto& [name, asked] : demands)
        out[name] = {{"one_model_per_group", asked.one_model_per_group},
                     {"whole_origins", asked.whole_origins},
                     {"join_window_v", figure(asked.join_window_v)},
                     {"load_a", figure(asked.load_a)}};
    return out.dump();
}

} // namespace ingot::exchange
