#include "exchange/passport_json.h"

#include <nlohmann/json.hpp>

namespace ingot::exchange {

namespace {

using Json = nlohmann::ordered_json;

Json or_null(const std::optional<double>& value) {
    return value ? Json(*value) : Json(nullptr);
}

Json round_json(const Passport::Round& round) {
    Json out;
    out["round"] = code(round.round);
    out["read_at"] = round.read_at;
    out["group_v"] = Json::array();
    for (const auto& v : round.reading.group_v)
        out["group_v"].push_back(or_null(v));
    out["terminals_v"] = or_null(round.reading.terminals_v);
    out["load_a"] = or_null(round.reading.load_a);
    out["resolution_v"] = or_null(round.reading.resolution);
    out["spread_per_cell_v"] = or_null(round.verdict.spread_v);
    if (!round.reading.unit_v.empty() && round.round == ProofRound::units) {
        out["unit_v"] = Json::array();
        for (const auto& group : round.reading.unit_v) {
            Json volts = Json::array();
            for (const auto& v : group)
                volts.push_back(or_null(v));
            out["unit_v"].push_back(volts);
        }
    }
    out["passed"] = round.verdict.state == ProofState::passed;
    out["signed_by"] = round.signed_by;
    out["left_out"] = round.left_out;
    out["findings"] = Json::array();
    for (const ProofFinding& finding : round.verdict.findings)
        out["findings"].push_back({{"group", finding.group},
                                   {"sign", code(finding.sign)},
                                   {"unit", finding.place},
                                   {"value", finding.value},
                                   {"limit", finding.limit}});
    return out;
}

} // namespace

std::string write_passport(const Passport& passport) {
    Json out;
    out["format"] = "ingot-passport";
    out["version"] = 2;
    out["pack"] = passport.label;
    out["workshop"] = passport.workshop;
    out["chemistry"] = passport.chemistry;
    out["series"] = passport.series;
    out["parallel"] = passport.parallel;
    out["cells_per_unit"] = passport.cells_per_unit;
    out["joined_at"] = passport.joined_at;
    out["proved_at"] = passport.proved_at;
    out["proved_by"] = passport.proved_by;
    out["usable_ah"] = or_null(passport.usable_ah);
    out["limits"] = {{"nominal_v", passport.nominal_v},
                     {"empty_v", passport.empty_v},
                     {"charge_limit_v", or_null(passport.charge_limit_v)}};
    out["design"] = Json::object();
    for (const auto& [figure, value] : passport.design)
        out["design"][figure] = value;
    out["units"] = Json::array();
    for (const Passport::Unit& unit : passport.units)
        out["units"].push_back({{"unit", unit.code},
                                {"model", unit.model},
                                {"from", unit.origin},
                                {"group", unit.group},
                                {"place", unit.place},
                                {"capacity_ah", or_null(unit.capacity_ah)},
                                {"resistance_ohm", or_null(unit.resistance_ohm)},
                                {"self_discharge_ah_per_day", or_null(unit.leak_ah_per_day)}});
    out["proof"] = Json::array();
    for (const Passport::Round& round : passport.rounds)
        out["proof"].push_back(round_json(round));
    out["items"] = Json::object();
    for (const Passport::Item& item : passport.items)
        out["items"][code(item.item)] = is_yes_or_no(item.item) ? Json(item.value >= 1) : Json(item.value);
    return out.dump(2) + "\n";
}

} // namespace ingot::exchange
