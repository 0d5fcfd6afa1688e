#include "workshop/bay_rules.h"

#include "bench/tester_lines.h"
#include "exchange/csv.h"

#include <fmt/format.h>

#include <algorithm>

namespace ingot {

namespace {
constexpr const char* acceptance_key = "acceptance_share";
}

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

double acceptance_share(const Workshop& workshop) {
    const auto own = exchange::parse_number(workshop.catalogue().setting(acceptance_key));
    return own ? *own : workshop.library().practice.conditioning_bar_share;
}

Result<bool> set_acceptance_share(Workshop& workshop, double share) {
    constexpr double least = 0.3;
    constexpr double most = 1.2;
    if (!(share >= least) || share > most)
        return Problem{"", 0, said("An acceptance limit lies from {} to {} % of the rating.", 100 * least, 100 * most)};
    return workshop.catalogue().set_setting(acceptance_key, fmt::format("{}", share));
}

double conditioning_bar_of(const Workshop& workshop, Id unit) {
    return acceptance_share(workshop) * bay_unit_of(workshop, unit).rated_ah;
}

std::optional<Problem> may_run_on_no_bay(const Workshop& workshop, Id unit, const Protocol* protocol) {
    const auto no = [](Sentence why) { return Problem{"", 0, std::move(why)}; };
    if (!workshop.writable())
        return no(said("This workshop can only be read here, so nothing is started from it."));
    const UnitState* u = workshop.unit(unit);
    if (u == nullptr)
        return no(said("Scan the unit first, then the bay."));
    if (u->quarantined || u->verdict.duty == Duty::quarantine)
        return no(said("{} is in quarantine. It is not put on a bay.", u->code()));
    if (!u->in_stock() && u->record.whereabouts != Whereabouts::reserved)
        return no(said("{} is not in stock.", u->code()));
    if (protocol == nullptr)
        return no(said("There is no protocol for {}: its chemistry is not known.", u->code()));
    if (protocol->recovers_deep && !workshop.sort().rules().recovers_deep)
        return no(
            said("\"{}\" scraps deep-discharged cells. Recovering them is another school: a rule set has to allow "
                 "it first (Limits and rule sets).",
                 workshop.sort().rules().name));
    return std::nullopt;
}

int emptying_step(const Protocol& protocol, const std::vector<RunStep>& steps) {
    if (!protocol.empties_first())
        return 0;
    const auto first = std::find_if(steps.begin(), steps.end(),
                                    [](const RunStep& step) { return step.kind == RunStepKind::discharge; });
    return first == steps.end() ? 0 : first->number;
}

std::vector<Cycle> cycles_of_run(const Protocol& protocol, Id run, Id unit, const std::vector<RunStep>& steps,
                                 const std::string& taken_at) {
    constexpr double nearly_hot_k = 2; // under the temperature limit
    constexpr double coldest_c = -273;
    std::vector<Cycle> cycles;
    double charge = 0;
    double hottest_c = coldest_c;
    bool took_all = false;
    const int emptying = emptying_step(protocol, steps);
    const double hot_c = protocol.limits.charge_high_c - nearly_hot_k;
    for (const RunStep& step : steps) {
        hottest_c = std::max(hottest_c, step.hottest_c.value_or(coldest_c));
        if (step.kind == RunStepKind::charge) {
            charge += step.charge_ah.value_or(0);
            took_all = step.end == bench::code(bench::StepEnd::capacity);
        }
        if (step.kind != RunStepKind::discharge)
            continue;
        if (step.number == emptying) {
            hottest_c = coldest_c;
            continue;
        }
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
        cycle.took_all = took_all;
        cycles.push_back(cycle);
        charge = 0;
        took_all = false;
        hottest_c = coldest_c;
    }
    return cycles;
}

void ConditioningRow::add(const Cycle& cycle) {
    cycles.push_back({static_cast<int>(cycles.size()) + 1, cycle.capacity_ah, cycle.full});
    charged_ah.push_back(cycle.charge_ah);
    took_all.push_back(cycle.took_all);
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
