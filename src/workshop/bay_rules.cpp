#include "workshop/bay_rules.h"

#include "bench/tester_lines.h"

#include <algorithm>

namespace ingot {

BayUnit bay_unit_of(const Workshop& workshop, Id unit) {
    BayUnit out;
    const UnitState* u = workshop.unit(unit);
    if (u == nullptr)
        return out;
    out.rated_ah = u->reference.rated_ah;
    out.cells = std::max(1, u->reference.cells_in_series);
    if (const UnitModel* model = workshop.library().model(u->record.model))
        out.continuous_a = model->continuous_a;
    out.rested_v = u->facts.fresh_voltage_v();
    out.capacity_ah = u->facts.capacity_ah;
    return out;
}

const Chemistry* chemistry_of_unit(const Workshop& workshop, Id unit) {
    const UnitState* u = workshop.unit(unit);
    return u == nullptr ? nullptr : workshop.library().chemistry(u->facts.chemistry);
}

std::string usual_protocol_of(const Workshop& workshop, Id unit) {
    const Chemistry* chemistry = chemistry_of_unit(workshop, unit);
    if (chemistry == nullptr)
        return {};
    const bool module = bay_unit_of(workshop, unit).cells > 1 && !chemistry->lithium;
    const Protocol* best = nullptr;
    for (const auto& [id, protocol] : workshop.library().protocols) {
        if (!protocol.suits(chemistry->id) || protocol.purpose != (module ? "conditioning" : "capacity"))
            continue;
        if (best == nullptr || protocol.steps.size() < best->steps.size())
            best = &protocol;
    }
    if (best == nullptr && module)
        for (const auto& [id, protocol] : workshop.library().protocols)
            if (protocol.suits(chemistry->id) && protocol.purpose == "capacity")
                best = &protocol;
    return best == nullptr ? std::string() : best->id;
}

double conditioning_bar_of(const Workshop& workshop, Id unit) {
    return workshop.library().practice.conditioning_bar_share * bay_unit_of(workshop, unit).rated_ah;
}

std::optional<Problem> may_run_on_no_bay(const Workshop& workshop, Id unit, const Protocol* protocol) {
    const auto no = [](const std::string& why) { return Problem{"", 0, why}; };
    if (!workshop.writable())
        return no("This workshop can only be read here, so nothing is started from it.");
    const UnitState* u = workshop.unit(unit);
    if (u == nullptr)
        return no("Scan the unit first, then the bay.");
    if (u->quarantined || u->verdict.duty == Duty::quarantine)
        return no(u->code() + " is in quarantine. It is not put on a bay.");
    if (!u->in_stock() && u->record.whereabouts != Whereabouts::reserved)
        return no(u->code() + " is not in stock.");
    if (protocol == nullptr)
        return no("There is no protocol for " + u->code() + ": its chemistry is not known.");
    return std::nullopt;
}

std::vector<Cycle> cycles_of_run(const Protocol& protocol, Id run, Id unit, const std::vector<RunStep>& steps,
                                 const std::string& taken_at) {
    constexpr double nearly_hot_k = 2; // under the temperature limit
    constexpr double coldest_c = -273;
    std::vector<Cycle> cycles;
    double charge = 0;
    double hottest_c = coldest_c;
    const double hot_c = protocol.limits.charge_high_c - nearly_hot_k;
    for (const RunStep& step : steps) {
        hottest_c = std::max(hottest_c, step.hottest_c.value_or(coldest_c));
        if (step.kind == RunStepKind::charge)
            charge += step.charge_ah.value_or(0);
        if (step.kind != RunStepKind::discharge)
            continue;
        Cycle cycle;
        cycle.run = run;
        cycle.unit = unit;
        cycle.number = static_cast<int>(cycles.size()) + 1;
        cycle.capacity_ah = step.charge_ah.value_or(0);
        cycle.energy_wh = step.energy_wh.value_or(0);
        if (charge > 0)
            cycle.charge_ah = charge;
        const bool hot = hottest_c > hot_c;
        cycle.full = step.as_meant && !hot;
        cycle.stop = !step.as_meant ? step.end : hot ? bench::code(bench::StepEnd::hot) : "cutoff";
        cycle.taken_at = taken_at;
        cycles.push_back(cycle);
        charge = 0;
        hottest_c = coldest_c;
    }
    return cycles;
}

void judge_row(const Workshop& workshop, Id unit, ConditioningRow& row) {
    const UnitState* u = workshop.unit(unit);
    row.unit = unit;
    row.code = u == nullptr ? std::string() : u->code();
    row.rated_ah = bay_unit_of(workshop, unit).rated_ah;
    row.bar_ah = conditioning_bar_of(workshop, unit);
    ConditioningRules rules;
    rules.bar_ah = row.bar_ah;
    rules.rated_ah = row.rated_ah;
    row.result = judge_conditioning(row.cycles, rules);
}

} // namespace ingot
