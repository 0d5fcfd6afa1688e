#include "core/sort/duty.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <limits>

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

Evidence missing(EvidenceKind kind, Duty allows) {
    Evidence evidence;
    evidence.kind = kind;
    evidence.allows = allows;
    return evidence;
}

// What the limits say at both ends of the measurement's interval, where they do not agree.
void mark_interval(Evidence& evidence) {
    if (!evidence.uncertainty || !(*evidence.uncertainty > 0))
        return;
    const double toward_better = evidence.higher_is_better ? *evidence.uncertainty : -*evidence.uncertainty;
    const Duty best = best_allowed(*evidence.measured + toward_better, evidence.limits, evidence.higher_is_better);
    const Duty worst = best_allowed(*evidence.measured - toward_better, evidence.limits, evidence.higher_is_better);
    if (best != worst) {
        evidence.at_best = best;
        evidence.at_worst = worst;
    }
}

// Whether the school gives no duty before a capacity is known.
bool asks_capacity(const RuleSet& rules) {
    return rules.without_capacity > Duty::light;
}

Evidence judge_capacity(const UnitFacts& unit, const UnitReference& reference, const std::array<DutyLimits, 3>& limits,
                        const ModelLimits* absolute, const RuleSet& rules) {
    if (!unit.capacity_ah)
        return missing(EvidenceKind::missing_capacity, rules.without_capacity);
    if (reference.rated_ah <= 0 && absolute == nullptr) {
        Evidence evidence =
            missing(EvidenceKind::missing_reference, asks_capacity(rules) ? Duty::undecided : rules.without_capacity);
        evidence.measured = unit.capacity_ah;
        return evidence;
    }
    Evidence evidence;
    evidence.kind = EvidenceKind::capacity;
    evidence.measured = unit.capacity_ah;
    evidence.uncertainty = unit.capacity_ah->uncertainty;
    if (reference.rated_ah > 0)
        evidence.relative = *unit.capacity_ah / reference.rated_ah;
    evidence.reference = reference.from;
    for (std::size_t i = 0; i < limits.size(); ++i) {
        const double relative = limits[i].least_capacity * reference.rated_ah;
        evidence.limits.push_back(
            {absolute != nullptr ? absolute->least_capacity_ah[i].value_or(relative) : relative, working_duties[i]});
    }
    evidence.allows = best_allowed(*evidence.measured, evidence.limits, true);
    mark_interval(evidence);
    return evidence;
}

Evidence judge_resistance(const UnitFacts& unit, const UnitReference& reference,
                          const std::array<DutyLimits, 3>& limits, const ModelLimits* absolute, const RuleSet& rules) {
    // Direct current first: it is what the work sees. The two methods are never mixed.
    const bool dc = unit.dc_resistance_ohm && reference.new_dc_resistance_ohm;
    const bool ac = unit.ac_resistance_ohm && reference.new_ac_resistance_ohm;
    const auto siblings = unit.resistance_ohm ? reference.best_resistance_ohm.find(unit.resistance_ohm->instrument)
                                              : reference.best_resistance_ohm.end();
    const bool unsaid = siblings != reference.best_resistance_ohm.end();
    if (!dc && !ac && !unsaid)
        return missing(EvidenceKind::missing_resistance, rules.without_resistance);
    const double when_new = dc   ? *reference.new_dc_resistance_ohm
                            : ac ? *reference.new_ac_resistance_ohm
                                 : siblings->second;
    Evidence evidence;
    evidence.kind = EvidenceKind::resistance;
    evidence.note = dc ? "dc" : ac ? "ac" : "unsaid";
    const Fact& fact = dc ? *unit.dc_resistance_ohm : ac ? *unit.ac_resistance_ohm : *unit.resistance_ohm;
    evidence.measured = fact;
    evidence.uncertainty = fact.uncertainty;
    evidence.higher_is_better = false;
    evidence.relative = *evidence.measured / when_new;
    evidence.reference = dc || ac ? reference.from : ReferenceFrom::siblings;
    for (std::size_t i = 0; i < limits.size(); ++i) {
        const double relative = limits[i].largest_resistance * when_new;
        evidence.limits.push_back(
            {absolute != nullptr && dc ? absolute->largest_resistance_ohm[i].value_or(relative) : relative,
             working_duties[i]});
    }
    evidence.allows = best_allowed(*evidence.measured, evidence.limits, false);
    mark_interval(evidence);
    return evidence;
}

Evidence judge_self_discharge(const UnitFacts& unit, const UnitReference& reference,
                              const std::array<DutyLimits, 3>& limits, const RuleSet& rules) {
    if (!unit.self_discharge_ah_per_day || reference.rated_ah <= 0)
        return missing(EvidenceKind::missing_self_discharge, rules.without_self_discharge);
    Evidence evidence;
    evidence.kind = EvidenceKind::self_discharge;
    evidence.measured = unit.self_discharge_ah_per_day;
    evidence.higher_is_better = false;
    evidence.uncertainty = unit.self_discharge_ah_per_day->uncertainty;
    evidence.relative = *unit.self_discharge_ah_per_day * days_per_month / reference.rated_ah;
    evidence.reference = reference.from;
    for (std::size_t i = 0; i < limits.size(); ++i)
        evidence.limits.push_back(
            {limits[i].self_discharge_for(reference.low_self_discharge) * reference.rated_ah / days_per_month,
             working_duties[i]});
    evidence.allows = best_allowed(*evidence.measured, evidence.limits, false);
    mark_interval(evidence);
    return evidence;
}

// Far beyond what its siblings leak, a unit is neither for motors nor for banks, whatever the absolute limit allows.
std::optional<Evidence> judge_against_siblings(const UnitFacts& unit, const UnitReference& reference) {
    if (!unit.self_discharge_ah_per_day || !reference.siblings_leak_ah_per_day)
        return std::nullopt;
    constexpr double deviations = 6;
    const double limit = *reference.siblings_leak_ah_per_day + deviations * *reference.siblings_leak_scale_ah_per_day;
    if (*unit.self_discharge_ah_per_day <= limit)
        return std::nullopt;
    Evidence evidence;
    evidence.kind = EvidenceKind::sibling_leak;
    evidence.measured = unit.self_discharge_ah_per_day;
    evidence.uncertainty = unit.self_discharge_ah_per_day->uncertainty;
    evidence.higher_is_better = false;
    evidence.limits = {{limit, Duty::drive}};
    evidence.reference = ReferenceFrom::siblings;
    evidence.allows = Duty::light;
    return evidence;
}

std::optional<Evidence> judge_voltage(const UnitFacts& unit, const UnitReference& reference, const Chemistry* chemistry,
                                      const RuleSet& rules) {
    if (!unit.rest_voltage_v && rules.without_voltage != Duty::drive)
        return missing(EvidenceKind::missing_voltage, rules.without_voltage);
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

// Where only some duties are limited, the others are open to all.
Duty best_of(const std::vector<DutyLimit>& limits, const std::array<std::optional<double>, 3>& by_duty,
             bool higher_is_better, double value) {
    for (std::size_t i = 0; i < by_duty.size(); ++i)
        if (!by_duty[i] || best_allowed(value, {{*by_duty[i], working_duties[i]}}, higher_is_better) != Duty::scrap)
            return working_duties[i];
    return limits.empty() ? Duty::drive : Duty::scrap;
}

std::optional<Evidence> judge_if_limited(EvidenceKind kind, std::optional<double> value, bool higher_is_better,
                                         const std::array<std::optional<double>, 3>& by_duty) {
    Evidence evidence;
    evidence.kind = kind;
    evidence.higher_is_better = higher_is_better;
    for (std::size_t i = 0; i < by_duty.size(); ++i)
        if (by_duty[i])
            evidence.limits.push_back({*by_duty[i], working_duties[i]});
    if (evidence.limits.empty() || !value)
        return std::nullopt;
    evidence.measured = value;
    evidence.allows = best_of(evidence.limits, by_duty, higher_is_better, *value);
    return evidence;
}

// By the data sheet; of a model without one as much as empties it in an hour (common practice, no source).
std::optional<Evidence> judge_current(const UnitReference& reference, const std::array<DutyLimits, 3>& limits) {
    if (reference.rated_ah <= 0)
        return std::nullopt; // the capacity's evidence says that nobody knows the rating
    constexpr double without_data_sheet_it = 1;
    const double able_a =
        reference.continuous_a > 0 ? reference.continuous_a : without_data_sheet_it * reference.rated_ah;
    std::array<std::optional<double>, 3> amperes;
    for (std::size_t i = 0; i < limits.size(); ++i)
        if (limits[i].least_current_it)
            amperes[i] = *limits[i].least_current_it * reference.rated_ah;
    auto evidence = judge_if_limited(EvidenceKind::current, able_a, true, amperes);
    if (evidence) {
        evidence->reference = reference.continuous_a > 0 ? ReferenceFrom::model : ReferenceFrom::nobody;
        evidence->relative = able_a / reference.rated_ah;
    }
    return evidence;
}

std::optional<Evidence> judge_age(const UnitFacts& unit, const std::array<DutyLimits, 3>& limits) {
    return judge_if_limited(EvidenceKind::age, unit.age_years, false,
                            {limits[0].largest_age_years, limits[1].largest_age_years, limits[2].largest_age_years});
}

std::optional<Evidence> judge_rise(const UnitFacts& unit, const std::array<DutyLimits, 3>& limits) {
    return judge_if_limited(EvidenceKind::temperature_rise,
                            unit.rise_k ? std::optional(unit.rise_k->value) : std::nullopt, false,
                            {limits[0].largest_rise_k, limits[1].largest_rise_k, limits[2].largest_rise_k});
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

bool loosens(const DutyLimits& from, const DutyLimits& to) {
    constexpr double none = std::numeric_limits<double>::infinity();
    return to.least_capacity <= from.least_capacity && to.largest_resistance >= from.largest_resistance &&
           to.largest_self_discharge >= from.largest_self_discharge &&
           to.least_current_it.value_or(0) <= from.least_current_it.value_or(0) &&
           to.largest_age_years.value_or(none) >= from.largest_age_years.value_or(none) &&
           to.self_discharge_for(true) >= from.self_discharge_for(true) &&
           to.largest_rise_k.value_or(none) >= from.largest_rise_k.value_or(none);
}

const std::array<DutyLimits, 3>& RuleSet::limits_for(const std::string& chemistry_id) const {
    const auto found = by_chemistry.find(chemistry_id);
    return found != by_chemistry.end() ? found->second : by_chemistry.at("default");
}

UnitReference reference_of(const UnitModel& model) {
    UnitReference out;
    out.rated_ah = model.rated_ah;
    out.new_dc_resistance_ohm = model.new_dc_resistance_ohm;
    out.new_ac_resistance_ohm = model.new_ac_resistance_ohm;
    out.cells_in_series = model.cells_in_series;
    out.continuous_a = model.continuous_a;
    out.low_self_discharge = model.low_self_discharge;
    out.from = ReferenceFrom::model;
    return out;
}

UnitReference reference_for(const UnitModel* model, const UnitReference* siblings, std::optional<double> claimed_ah,
                            int cells_in_series) {
    UnitReference out;
    if (model != nullptr) {
        out = reference_of(*model);
    } else {
        if (siblings != nullptr)
            out = *siblings;
        if (!(out.rated_ah > 0) && claimed_ah && *claimed_ah > 0) {
            out.rated_ah = *claimed_ah;
            out.from = ReferenceFrom::claim;
        }
        out.cells_in_series = std::max(1, cells_in_series);
    }
    if (siblings != nullptr) {
        out.siblings_leak_ah_per_day = siblings->siblings_leak_ah_per_day;
        out.siblings_leak_scale_ah_per_day = siblings->siblings_leak_scale_ah_per_day;
        out.best_resistance_ohm = siblings->best_resistance_ohm;
    }
    return out;
}

std::map<std::string, UnitReference> references_from_pool(const std::vector<UnitFacts>& units) {
    struct Columns {
        std::vector<double> capacity, dc, ac, leak;
        std::map<std::string, std::vector<double>> unsaid; // by instrument
    };
    std::map<std::string, Columns> by_model;
    for (const UnitFacts& unit : units) {
        if (unit.model.empty()) // strangers are no siblings
            continue;
        Columns& columns = by_model[unit.model];
        if (unit.capacity_ah)
            columns.capacity.push_back(*unit.capacity_ah);
        if (unit.dc_resistance_ohm)
            columns.dc.push_back(*unit.dc_resistance_ohm);
        if (unit.ac_resistance_ohm)
            columns.ac.push_back(*unit.ac_resistance_ohm);
        if (unit.resistance_ohm)
            columns.unsaid[unit.resistance_ohm->instrument].push_back(*unit.resistance_ohm);
        if (unit.self_discharge_ah_per_day)
            columns.leak.push_back(*unit.self_discharge_ah_per_day);
    }
    constexpr double strong = 0.95;
    constexpr double fresh = 0.10;
    std::map<std::string, UnitReference> references;
    for (const auto& [model, columns] : by_model) {
        UnitReference reference;
        if (columns.capacity.size() >= least_siblings) {
            reference.rated_ah = quantile(columns.capacity, strong);
            reference.from = ReferenceFrom::siblings;
        }
        if (columns.dc.size() >= least_siblings)
            reference.new_dc_resistance_ohm = quantile(columns.dc, fresh);
        if (columns.ac.size() >= least_siblings)
            reference.new_ac_resistance_ohm = quantile(columns.ac, fresh);
        for (const auto& [instrument, read] : columns.unsaid)
            if (read.size() >= least_siblings)
                reference.best_resistance_ohm[instrument] = quantile(read, fresh);
        if (columns.leak.size() >= least_siblings) {
            const RobustSpread leak = robust_spread(columns.leak);
            // Siblings that all read alike to the last digit still differ by a little.
            constexpr double least_share = 0.05;
            constexpr double least_ah_per_day = 1e-5;
            reference.siblings_leak_ah_per_day = leak.centre;
            reference.siblings_leak_scale_ah_per_day =
                std::max({leak.scale, least_share * std::fabs(leak.centre), least_ah_per_day});
        }
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
    if (auto voltage = judge_voltage(unit, reference, chemistry, rules))
        verdict.evidence.push_back(std::move(*voltage));
    for (Evidence evidence : {judge_capacity(unit, reference, limits, absolute, rules),
                              judge_resistance(unit, reference, limits, absolute, rules),
                              judge_self_discharge(unit, reference, limits, rules)}) {
        evidence.source = rules.source;
        verdict.evidence.push_back(std::move(evidence));
    }
    if (auto leak = judge_against_siblings(unit, reference))
        verdict.evidence.push_back(std::move(*leak));
    for (auto asked : {judge_current(reference, limits), judge_age(unit, limits), judge_rise(unit, limits)})
        if (asked) {
            asked->source = rules.source;
            verdict.evidence.push_back(std::move(*asked));
        }
    if (rules.with_care != Duty::drive)
        for (const std::string& finding : unit.care_findings) {
            Evidence evidence = missing(EvidenceKind::care_finding, rules.with_care);
            evidence.note = finding;
            verdict.evidence.push_back(std::move(evidence));
        }
    // Without a rating nothing can be said of a capacity, measured or not.
    if (asks_capacity(rules) && !unit.capacity_ah && reference.rated_ah <= 0 && absolute == nullptr)
        verdict.evidence.push_back(missing(EvidenceKind::missing_reference, Duty::undecided));
    verdict.duty = Duty::drive;
    for (const Evidence& evidence : verdict.evidence)
        if (severity(evidence.allows) > severity(verdict.duty))
            verdict.duty = evidence.allows;
    for (Evidence& evidence : verdict.evidence)
        evidence.decides = evidence.allows == verdict.duty && verdict.duty != Duty::drive;
    return verdict;
}

} // namespace ingot
