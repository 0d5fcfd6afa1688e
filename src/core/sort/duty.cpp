#include "core/sort/duty.h"

#include <algorithm>
#include <cmath>
#include <cstddef>

namespace ingot {

namespace {

constexpr std::array<Duty, 3> working_duties{Duty::drive, Duty::store, Duty::light};
constexpr double days_per_month = 30.0;

// The best duty whose limit the value meets; scrap if none.
Duty best_allowed(double value, const std::vector<DutyLimit>& limits, bool higher_is_better) {
    for (const DutyLimit& limit : limits)
        if (higher_is_better ? value >= limit.value : value <= limit.value)
            return limit.duty;
    return Duty::scrap;
}

// Order in which verdicts override each other: the worst decides. Rest again outranks a working duty, because a missing
// capacity leaves every duty open to doubt, but not scrap or quarantine.
int severity(Duty duty) {
    return static_cast<int>(duty);
}

double percentile(std::vector<double> values, double share) {
    const auto at = static_cast<std::size_t>(std::lround(share * static_cast<double>(values.size() - 1)));
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(at), values.end());
    return values[at];
}

Evidence missing(EvidenceKind kind, Duty allows) {
    Evidence evidence;
    evidence.kind = kind;
    evidence.allows = allows;
    return evidence;
}

Evidence judge_capacity(const UnitFacts& unit, const UnitReference& reference, const std::array<DutyLimits, 3>& limits,
                        const ModelLimits* absolute) {
    if (!unit.capacity_ah || reference.rated_ah <= 0)
        return missing(EvidenceKind::missing_capacity, Duty::rest_again);
    Evidence evidence;
    evidence.kind = EvidenceKind::capacity;
    evidence.measured = unit.capacity_ah;
    evidence.uncertainty = unit.capacity_uncertainty_ah;
    evidence.relative = *unit.capacity_ah / reference.rated_ah;
    evidence.reference_from_pool = reference.from_pool;
    for (std::size_t i = 0; i < limits.size(); ++i) {
        const double relative = limits[i].least_capacity * reference.rated_ah;
        evidence.limits.push_back(
            {absolute != nullptr ? absolute->least_capacity_ah[i].value_or(relative) : relative, working_duties[i]});
    }
    evidence.allows = best_allowed(*evidence.measured, evidence.limits, true);
    return evidence;
}

Evidence judge_resistance(const UnitFacts& unit, const UnitReference& reference,
                          const std::array<DutyLimits, 3>& limits, const ModelLimits* absolute) {
    // Direct current first: it is what the work sees. The two methods are never mixed.
    const bool dc = unit.dc_resistance_ohm && reference.new_dc_resistance_ohm;
    const bool ac = unit.ac_resistance_ohm && reference.new_ac_resistance_ohm;
    if (!dc && !ac) // not measured: fit for modest duty at best
        return missing(EvidenceKind::missing_resistance, Duty::store);
    const double when_new = dc ? *reference.new_dc_resistance_ohm : *reference.new_ac_resistance_ohm;
    Evidence evidence;
    evidence.kind = EvidenceKind::resistance;
    evidence.note = dc ? "dc" : "ac";
    evidence.measured = dc ? unit.dc_resistance_ohm : unit.ac_resistance_ohm;
    evidence.higher_is_better = false;
    evidence.relative = *evidence.measured / when_new;
    evidence.reference_from_pool = reference.from_pool;
    for (std::size_t i = 0; i < limits.size(); ++i) {
        const double relative = limits[i].largest_resistance * when_new;
        evidence.limits.push_back(
            {absolute != nullptr && dc ? absolute->largest_resistance_ohm[i].value_or(relative) : relative,
             working_duties[i]});
    }
    evidence.allows = best_allowed(*evidence.measured, evidence.limits, false);
    return evidence;
}

Evidence judge_self_discharge(const UnitFacts& unit, const UnitReference& reference,
                              const std::array<DutyLimits, 3>& limits) {
    if (!unit.self_discharge_ah_per_day || reference.rated_ah <= 0)
        return missing(EvidenceKind::missing_self_discharge, Duty::drive);
    Evidence evidence;
    evidence.kind = EvidenceKind::self_discharge;
    evidence.measured = unit.self_discharge_ah_per_day;
    evidence.higher_is_better = false;
    evidence.relative = *unit.self_discharge_ah_per_day * days_per_month / reference.rated_ah;
    evidence.reference_from_pool = reference.from_pool;
    for (std::size_t i = 0; i < limits.size(); ++i)
        evidence.limits.push_back(
            {limits[i].largest_self_discharge * reference.rated_ah / days_per_month, working_duties[i]});
    evidence.allows = best_allowed(*evidence.measured, evidence.limits, false);
    return evidence;
}

std::optional<Evidence> judge_voltage(const UnitFacts& unit, const UnitReference& reference,
                                      const Chemistry* chemistry) {
    if (!unit.rest_voltage_v || chemistry == nullptr)
        return std::nullopt;
    const double per_cell = *unit.rest_voltage_v / reference.cells_in_series;
    Evidence evidence;
    evidence.kind = EvidenceKind::voltage;
    evidence.measured = unit.rest_voltage_v;
    evidence.source = chemistry->source;
    evidence.limits = {{chemistry->quarantine_below_v * reference.cells_in_series, Duty::drive},
                       {chemistry->scrap_below_v * reference.cells_in_series, Duty::quarantine}};
    if (per_cell > chemistry->bands.over_above_v)
        evidence.allows = Duty::quarantine;
    else
        evidence.allows = best_allowed(*evidence.measured, evidence.limits, true);
    return evidence;
}

} // namespace

const char* code(Consequence consequence) {
    switch (consequence) {
    case Consequence::go_on:
        return "go-on";
    case Consequence::with_care:
        return "with-care";
    case Consequence::quarantine:
        return "quarantine";
    case Consequence::refuse:
        return "refuse";
    }
    return "";
}

std::optional<Consequence> consequence_from(const std::string& text) {
    for (const auto c : {Consequence::go_on, Consequence::with_care, Consequence::quarantine, Consequence::refuse})
        if (text == code(c))
            return c;
    return std::nullopt;
}

const std::array<DutyLimits, 3>& RuleSet::limits_for(const std::string& chemistry_id) const {
    const auto found = by_chemistry.find(chemistry_id);
    return found != by_chemistry.end() ? found->second : by_chemistry.at("default");
}

UnitReference reference_of(const UnitModel& model) {
    return {model.rated_ah, model.new_dc_resistance_ohm, model.new_ac_resistance_ohm, model.cells_in_series, false};
}

std::map<std::string, UnitReference> references_from_pool(const std::vector<UnitFacts>& units) {
    struct Columns {
        std::vector<double> capacity, dc, ac;
    };
    std::map<std::string, Columns> by_model;
    for (const UnitFacts& unit : units) {
        Columns& columns = by_model[unit.model];
        if (unit.capacity_ah)
            columns.capacity.push_back(*unit.capacity_ah);
        if (unit.dc_resistance_ohm)
            columns.dc.push_back(*unit.dc_resistance_ohm);
        if (unit.ac_resistance_ohm)
            columns.ac.push_back(*unit.ac_resistance_ohm);
    }
    constexpr double strong = 0.95;
    constexpr double fresh = 0.10;
    std::map<std::string, UnitReference> references;
    for (const auto& [model, columns] : by_model) {
        UnitReference reference;
        reference.from_pool = true;
        if (!columns.capacity.empty())
            reference.rated_ah = percentile(columns.capacity, strong);
        if (!columns.dc.empty())
            reference.new_dc_resistance_ohm = percentile(columns.dc, fresh);
        if (!columns.ac.empty())
            reference.new_ac_resistance_ohm = percentile(columns.ac, fresh);
        references[model] = reference;
    }
    return references;
}

Verdict sort_unit(const UnitFacts& unit, const UnitReference& reference, const Chemistry* chemistry,
                  const RuleSet& rules) {
    const auto& limits = rules.limits_for(chemistry != nullptr ? chemistry->id : unit.chemistry);
    const auto own = rules.by_model.find(unit.model);
    const ModelLimits* absolute = own != rules.by_model.end() ? &own->second : nullptr;

    Verdict verdict;
    verdict.rule_set = rules.stamp();
    for (const std::string& finding : unit.quarantine_findings) {
        Evidence evidence = missing(EvidenceKind::finding, Duty::quarantine);
        evidence.note = finding;
        verdict.evidence.push_back(evidence);
    }
    if (auto voltage = judge_voltage(unit, reference, chemistry))
        verdict.evidence.push_back(std::move(*voltage));
    for (Evidence evidence :
         {judge_capacity(unit, reference, limits, absolute), judge_resistance(unit, reference, limits, absolute),
          judge_self_discharge(unit, reference, limits)}) {
        evidence.source = rules.source;
        verdict.evidence.push_back(std::move(evidence));
    }
    verdict.duty = Duty::drive;
    for (const Evidence& evidence : verdict.evidence)
        if (severity(evidence.allows) > severity(verdict.duty))
            verdict.duty = evidence.allows;
    for (Evidence& evidence : verdict.evidence)
        evidence.decides = evidence.allows == verdict.duty && verdict.duty != Duty::drive;
    return verdict;
}

} // namespace ingot
