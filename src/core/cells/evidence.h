// One type for every reason Ingot gives: what was measured, which limits it met, where the limits come from.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// In the order in which one overrides the other. rest_again: something is not measured; undecided: nobody knows what
// the unit was rated at.
enum class Duty { drive, store, light, rest_again, undecided, scrap, quarantine };
inline constexpr int duty_count = 7;
inline constexpr int working_duty_count = 3; // drive, store, light
[[nodiscard]] const char* code(Duty duty);
[[nodiscard]] std::optional<Duty> duty_from(const std::string& code);

// What a piece of evidence speaks of.
enum class EvidenceKind {
    capacity,
    resistance,
    self_discharge,
    voltage,
    finding,
    missing_capacity,
    missing_resistance,
    missing_self_discharge,
    missing_voltage,
    missing_reference,
    sibling_leak, // far from what its siblings leak
    current,      // how much it may give for as long as it lasts
    age,
    temperature_rise, // over a discharge
    care_finding,     // an inspection finding to be handled with care
    overruled
};
[[nodiscard]] const char* code(EvidenceKind kind);

// Where "rated" and "new" were taken from.
enum class ReferenceFrom { nobody, model, siblings, claim };

// A limit on a gauge: from `value` on toward the better side the duty is within reach.
struct DutyLimit {
    double value = 0;
    Duty duty{};
};

struct Evidence {
    EvidenceKind kind{};
    std::optional<double> measured;    // Ah, ohm, Ah per day, V, A, years, K
    std::optional<double> uncertainty; // k = 2
    std::vector<DutyLimit> limits;     // best duty first; same unit as measured
    bool higher_is_better = true;
    Duty allows = Duty::drive; // the best duty this piece of evidence leaves open
    bool decides = false;      // true for what set the verdict
    bool forecast = false;     // expected while it is still being measured
    // Where a limit lies inside the interval of the measurement: the duties at its better and its worse end.
    std::optional<Duty> at_best, at_worst;
    std::optional<double> relative; // share of rated capacity, multiple of the new resistance, % per month / 100
    ReferenceFrom reference = ReferenceFrom::nobody;
    std::string source; // where the limits come from
    std::string note;   // code of a look finding, or the reason of an overrule
};

struct Verdict {
    Duty duty = Duty::rest_again;
    std::vector<Evidence> evidence;
    std::string rule_set;               // id and version it was made under
    std::optional<Duty> overruled_from; // what the rules said, where a person decided otherwise
};

} // namespace ingot
