// One type for every reason Ingot gives: what was measured, which limits it met, where the limits come from.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class Duty { drive, store, light, rest_again, scrap, quarantine };
inline constexpr int duty_count = 6;
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
    overruled
};
[[nodiscard]] const char* code(EvidenceKind kind);

// A limit on a gauge: from `value` on toward the better side the duty is within reach.
struct DutyLimit {
    double value = 0;
    Duty duty{};
};

struct Evidence {
    EvidenceKind kind{};
    std::optional<double> measured;    // Ah, ohm, Ah per day, V
    std::optional<double> uncertainty; // k = 2
    std::vector<DutyLimit> limits;     // best duty first; same unit as measured
    bool higher_is_better = true;
    Duty allows = Duty::drive;        // the best duty this piece of evidence leaves open
    bool decides = false;             // true for what set the verdict
    std::optional<double> relative;   // share of rated capacity, multiple of the new resistance, % per month / 100
    bool reference_from_pool = false; // the reference was taken from the siblings, the model being unknown
    std::string source;               // where the limits come from
    std::string note;                 // code of a look finding, or the reason of an overrule
};

struct Verdict {
    Duty duty = Duty::rest_again;
    std::vector<Evidence> evidence;
    std::string rule_set;               // id and version it was made under
    std::optional<Duty> overruled_from; // what the rules said, where a person decided otherwise
};

} // namespace ingot
