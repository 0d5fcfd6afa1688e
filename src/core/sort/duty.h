// Sorting by duty: one unit's readings against a rule set. Pure and cheap: 5,000 units sort in a few milliseconds, so
// that a limit can be dragged and all counts follow.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/evidence.h"
#include "core/cells/model.h"
#include "core/measure/facts.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

// Limits of one duty, relative to the unit model's rating. Self-discharge as share of rated capacity per 30 days.
struct DutyLimits {
    double least_capacity = 0;         // share of rated capacity
    double largest_resistance = 0;     // multiple of the new resistance
    double largest_self_discharge = 0; // share per month
    // What only some shops ask; nothing: it does not matter.
    std::optional<double> least_current_it = std::nullopt; // continuous current over rated capacity, 1/h
    std::optional<double> largest_age_years =
        std::nullopt; // since it was made; an age that nobody knows is not held against a unit
    // In place of largest_self_discharge for models of the low-self-discharge kind (nickel); share per month.
    std::optional<double> largest_self_discharge_low = std::nullopt;
    // Warmer at the end of a discharge than when it began, K; a rise that nobody read is not held against a unit.
    std::optional<double> largest_rise_k = std::nullopt;

    [[nodiscard]] double self_discharge_for(bool low_self_discharge) const {
        return low_self_discharge ? largest_self_discharge_low.value_or(largest_self_discharge)
                                  : largest_self_discharge;
    }
};

// Whether the second asks no more than the first in anything: as from drive to store, from store to light.
[[nodiscard]] bool loosens(const DutyLimits& from, const DutyLimits& to);

// Absolute limits that replace the relative ones for one unit model. Ah and ohm.
struct ModelLimits {
    std::array<std::optional<double>, 3> least_capacity_ah;
    std::array<std::optional<double>, 3> largest_resistance_ohm;
};

struct RuleSet {
    std::string id;
    std::string name;
    std::string school; // one sentence: what this way of sorting trusts
    int version = 1;
    std::map<std::string, std::array<DutyLimits, 3>> by_chemistry; // drive, store, light; key "default" for the rest
    std::map<std::string, ModelLimits> by_model;
    // What the school lets a unit be, at best, of which that was not measured; rest_again: it is measured first.
    Duty without_capacity = Duty::rest_again;
    Duty without_resistance = Duty::store;
    Duty without_self_discharge = Duty::store;
    Duty without_voltage = Duty::drive; // at rest
    Duty with_care = Duty::drive;       // at best, of a unit that shows an inspection finding to be handled with care
    // The school that charges deep-discharged cells slowly, one by one and watched, and has capacity and weeks of rest
    // prove them; the others scrap them.
    bool recovers_deep = false;

    std::string source;

    [[nodiscard]] const std::array<DutyLimits, 3>& limits_for(const std::string& chemistry_id) const;
    [[nodiscard]] std::string stamp() const { return id + " v" + std::to_string(version); }
};

// Consequence of an inspection finding for the unit that shows it.
enum class Consequence { go_on, with_care, quarantine, refuse };
[[nodiscard]] const char* code(Consequence consequence);
[[nodiscard]] std::optional<Consequence> consequence_from(const std::string& code);

// What "rated" and "new" mean for a unit, and what its siblings are like.
struct UnitReference {
    double rated_ah = 0; // 0 = not known
    std::optional<double> new_dc_resistance_ohm;
    std::optional<double> new_ac_resistance_ohm;
    int cells_in_series = 1;
    ReferenceFrom from = ReferenceFrom::nobody;
    // Of the units of the same model that have one, where there are enough of them.
    std::optional<double> siblings_leak_ah_per_day, siblings_leak_scale_ah_per_day;
    double continuous_a = 0; // by its data sheet; 0 = not known
    bool low_self_discharge = false;
    // By instrument, where nobody says by which method it reads: the 10th percentile of the siblings that it read.
    std::map<std::string, double> best_resistance_ohm;
};

// So many units of a model have to be measured before they say anything about one of them (common practice, no source).
inline constexpr std::size_t least_siblings = 8;
// What the units of each model say about their model: for models that the library does not know the 95th percentile of
// capacity and the 10th of resistance stand in for "rated" and "new" (common practice, no source); for all models the
// middle and the spread of self-discharge. Nothing is said by fewer than `least_siblings`. Key: model id.
[[nodiscard]] std::map<std::string, UnitReference> references_from_pool(const std::vector<UnitFacts>& units);
[[nodiscard]] UnitReference reference_of(const UnitModel& model);
// The reference of one unit: its model's, else its siblings', else what its pack or its label claims, else nobody's.
// `model` and `siblings` may be null; `claimed_ah` is of one unit; `cells_in_series` of the pack's layout stands in
// while the model is not known.
[[nodiscard]] UnitReference reference_for(const UnitModel* model, const UnitReference* siblings,
                                          std::optional<double> claimed_ah, int cells_in_series);

// `chemistry` may be null when unknown: then the voltage is not judged.
[[nodiscard]] Verdict sort_unit(const UnitFacts& unit, const UnitReference& reference, const Chemistry* chemistry,
                                const RuleSet& rules);

} // namespace ingot
