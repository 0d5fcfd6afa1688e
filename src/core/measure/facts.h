// Facts: what a history of measurements says now. For each quantity the value that counts, under which conditions it
// was taken, when, how sure it is, and whether it still holds. Sort, Match, Join and Triage take facts, never bare
// figures, so that each can say what it took.
#pragma once

#include "core/measure/correction.h"
#include "core/measure/measurement.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace ingot {

// Why a value counts no more for what is done next.
enum class Lapse {
    none,
    run_since, // a run moved charge after this voltage was read
};

struct Fact {
    double value = 0;
    std::optional<double> uncertainty; // k = 2, same unit; never less than half the last written digit
    Conditions conditions;
    std::string taken_at; // ISO 8601; empty: not known
    Id measurement = 0;   // 0: not from a record (a pool file)
    int combined = 1;     // so many measurements that agree
    Lapse lapse = Lapse::none;
    std::string instrument; // only where none but its own readings may stand beside it

    Fact() = default;
    Fact(double figure) : value(figure) {}
    operator double() const { return value; }
    [[nodiscard]] bool holds() const { return lapse == Lapse::none; }
};

// What is known of a unit. Ah, ohm, Ah per day, V over the whole unit.
struct UnitFacts {
    std::string id;
    std::string model; // id; may be empty
    std::string chemistry;
    std::optional<Fact> capacity_ah;
    std::optional<Fact> dc_resistance_ohm;
    std::optional<Fact> ac_resistance_ohm;
    std::optional<Fact> resistance_ohm; // nobody says by which method; with its instrument
    std::optional<Fact> self_discharge_ah_per_day;
    std::optional<Fact> rest_voltage_v;
    std::optional<Fact> rise_k; // warmest of a discharge over where that began; its conditions are the discharge's
    std::vector<std::string> quarantine_findings; // codes of inspection findings that demand quarantine or refusal
    std::vector<std::string> care_findings;       // of those that ask for care
    std::optional<double> age_years;              // since it was made

    // Only while nothing ran since.
    [[nodiscard]] std::optional<Fact> fresh_voltage_v() const {
        return rest_voltage_v && rest_voltage_v->holds() ? rest_voltage_v : std::nullopt;
    }
};

// Puts what the history says into the facts: the newest measurement of each quantity counts, by the moment it was
// taken and not by the order of entry; earlier ones of like conditions that agree with it are combined (weights from
// their uncertainties). `last_run_at`: when charge was last moved, by anything; empty: never. Struck measurements must
// not be in the history; its order does not matter.
void take_history(UnitFacts& facts, std::span<const Measurement> history, const std::string& last_run_at = {});

// Which facts of a pool were taken under other conditions than most of them, and why. Unknown conditions are like all.
struct Unlike {
    std::size_t index = 0; // in what was given
    std::vector<Incomparable> reasons;
};
[[nodiscard]] std::vector<Unlike> unlike_most(const std::vector<std::optional<Fact>>& facts);

} // namespace ingot
