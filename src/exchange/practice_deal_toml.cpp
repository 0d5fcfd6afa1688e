#include "exchange/practice_deal_toml.h"

#include "exchange/toml_tables.h"

#include <algorithm>
#include <array>

namespace ingot::exchange {

namespace {

constexpr std::array dealt_faults{Fault::leaking_cell,      Fault::weak_group,   Fault::high_resistance_joint,
                                  Fault::disconnected_cell, Fault::imbalance,    Fault::sense_fault,
                                  Fault::dead_group,        Fault::latched_board};

OwnDeal::Own parse_fault(const TableReader& t) {
    const std::string kind = t.text("kind");
    const auto known = std::find_if(dealt_faults.begin(), dealt_faults.end(), [&](Fault f) { return kind == code(f); });
    if (known == dealt_faults.end()) {
        std::string all;
        for (const Fault fault : dealt_faults)
            all += (all.empty() ? "" : ", ") + std::string(code(fault));
        t.fail(said("fault \"{}\" is not known. Use one of: {}.", kind, all), t.raw().get("kind"));
    }
    OwnDeal::Own out;
    out.fault = {*known, t.whole("group", 0)};
    out.size = t.number_if("size").value_or(1);
    return out;
}

} // namespace

Result<OwnDeal> read_practice_deal(const std::string& text, const std::string& file) {
    try {
        const toml::table parsed = parse_toml(text, file);
        const TableReader t(parsed, file);
        OwnDeal deal;
        deal.title = t.text("title");
        deal.layout = {t.whole("series", 0), t.whole("parallel", 0), 1};
        deal.capacity_ah = t.number("capacity_ah");
        deal.weeks_stored = t.whole("weeks", deal.weeks_stored);
        deal.resolution_v = t.number_if("meter_v").value_or(deal.resolution_v);
        deal.seed = t.whole("seed", 0);
        deal.misread_group = t.whole("misread_group", 0);
        if (parsed.contains("fault"))
            for (const TableReader& fault : t.tables("fault"))
                deal.faults.push_back(parse_fault(fault));
        if (const auto objection = own_deal_objection(deal))
            return Problem{file, 0, objection->sentence};
        return deal;
    } catch (const Broken& broken) {
        return broken.problem;
    }
}

} // namespace ingot::exchange
