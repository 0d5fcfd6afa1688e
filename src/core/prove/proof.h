// The proof of a joined pack: rounds of group voltages at rest, at the end of the first charge, after days of rest and
// under load, each held against its limits, with what a group out of line points at.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class ProofRound { at_rest, end_of_charge, after_rest, under_load };
inline constexpr int proof_round_count = 4;
[[nodiscard]] const char* code(ProofRound round);
[[nodiscard]] std::optional<ProofRound> proof_round_from(const std::string& code);

// V unless named otherwise; "a cell" is per cell in series. Usual ones; common practice, no source.
struct ProofLimits {
    double excellent_v = 0.010, acceptable_v = 0.030, most_v = 0.050; // spread a cell
    double sum_share = 0.005;                                         // terminals against the sum of groups
    double fall_v = 0.010;      // a cell: how much more a group may fall than the middle one
    double least_rest_days = 1; // before a reading after rest says anything
    double sag_v = 0.020;       // a cell: more than predicted
    double over_limit_v = 0.03; // a cell: above the charge limit, for the charger's and the meter's error
};

struct ProofReading {
    std::vector<std::optional<double>> group_v;
    std::optional<double> terminals_v;
    std::optional<double> load_a;                           // under load
    std::optional<double> resolution, terminals_resolution; // of the meter's last digit
    double day = 0;                                         // when its last figure was read
    [[nodiscard]] bool begun() const;
    [[nodiscard]] bool whole() const; // nothing is missing
};

struct ProvenPack {
    int series = 1, parallel = 1, cells_per_unit = 1;
    std::optional<double> charge_limit_v;                    // a cell
    std::vector<std::optional<double>> group_resistance_ohm; // of its units in parallel; nothing: not all measured
    std::vector<ProofReading> rounds;                        // by ProofRound
};

// What a group out of line points at.
enum class ProofSign {
    none,
    reversed,     // reads negative
    uneven,       // far from the others
    over_charged, // above the charge limit
    falling,      // loses more than the others at rest
    missing_unit, // sags as if one of its units did not carry: a cold joint, a blown link, a weak unit
    resistive,    // sags more than its units: a joint or a strip
    terminals,    // the terminals differ from the sum: a lead, the fuse, the board, a wrong reading
};
[[nodiscard]] const char* code(ProofSign sign);

struct ProofFinding {
    ProofRound round{};
    int group = 0; // from 1; 0: terminals
    ProofSign sign{};
    double value = 0, limit = 0;          // V
    std::optional<double> resistance_ohm; // that explains a sag
};

enum class ProofState { open, too_early, passed, failed };
enum class SpreadGrade { excellent, good, acceptable, too_much };

struct RoundVerdict {
    ProofState state = ProofState::open;
    std::optional<double> spread_v; // a cell
    std::optional<SpreadGrade> grade;
    std::vector<std::optional<double>> shown_v; // a group: difference from the middle; under load: excess over the sag
                                                // that its units predict (else over the middle group's)
    bool predicted = false;                     // held against the units' resistances, not against siblings
    std::vector<ProofFinding> findings;
};

struct Proof {
    std::vector<RoundVerdict> rounds; // by ProofRound
    bool passed = false;              // every round
};

[[nodiscard]] Proof judge_proof(const ProvenPack& pack, const ProofLimits& limits);

} // namespace ingot
