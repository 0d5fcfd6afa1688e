// The proof of a joined pack: rounds on one line, from polarity to the device's own verdict, each held against its
// limits, with what a group out of line points at (proof_causes.h says how sure that is). See docs/methods/prove.md.
#pragma once

#include "core/cells/chemistry.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

// In the order of the work. Units are read while current flows, can to can: at rest a cold joint stands where its group
// stands; under load its unit stands above, by the joint's own drop, and one that is not joined by the whole sag.
enum class ProofRound {
    at_rest,       // polarity; groups and terminals add up
    insulation,    // from each end of the pack to what a hand or the case can touch
    board,         // voltage behind the board, whether it wakes, the temperature sensor
    end_of_charge, // the first charge, watched; spread at its end
    after_rest,    // days later
    units,         // every unit against its group, under a moderate load
    under_load,    // sag against what its units explain
    run,           // capacity and run time: where they are wanted, and where no voltage would show a weak unit
    device,        // the device's own verdict
};
inline constexpr int proof_round_count = 9;
[[nodiscard]] const char* code(ProofRound round);
[[nodiscard]] std::optional<ProofRound> proof_round_from(const std::string& code);
// Whether the round reads the voltage of every group.
[[nodiscard]] bool reads_groups(ProofRound round);
// Whether a pack may be signed without it, with a reason that is kept.
[[nodiscard]] bool may_be_left_out(ProofRound round);

// What the other rounds ask, one figure or one answer each.
enum class ProofItem {
    insulation_plus,  // ohm
    insulation_minus, // ohm
    output,           // V, behind the board
    wakes,            // yes or no: it gives its output after it lay unpowered, as its board says it should
    sensor,           // ohm, of its temperature sensor
    capacity,         // Ah, of the whole pack by its terminals
    run_time,         // s, in the device or under its load
    works,            // yes or no: the device takes it
    hours_to_wake,    // h that it was given
    codes_clear,      // yes or no: no code is stored or pending
};
inline constexpr int proof_item_count = 10;
[[nodiscard]] const char* code(ProofItem item);
[[nodiscard]] std::optional<ProofItem> proof_item_from(const std::string& code);
[[nodiscard]] ProofRound round_of(ProofItem item);
// 1 is yes, 0 is no.
[[nodiscard]] bool is_yes_or_no(ProofItem item);
// Whether a pack may have no such thing: no sensor, no board that sleeps, no codes.
[[nodiscard]] bool may_be_missing(ProofItem item);

// V unless named otherwise; "a cell" is per cell in series. Usual ones; common practice, no source.
struct ProofLimits {
    double excellent_v = 0.010, acceptable_v = 0.030, most_v = 0.050; // spread a cell
    double sum_share = 0.005;                                         // terminals against the sum of groups
    double fall_v = 0.010;      // a cell: how much more a group may fall than the middle one
    double least_rest_days = 1; // before a reading after rest says anything
    double sag_v = 0.020;       // a cell: more than predicted
    double over_limit_v = 0.03; // a cell: above the charge limit, for the charger's and the meter's error
    double unit_v = 0.010;      // a unit against its group under load, beside the meter's last digit
    double insulation_ohm = 1e6;
    double insulation_ohm_per_v = 500; // ISO 6469-1's figure for circuits that hold alternating current; from memory
    double output_share = 0.02;        // behind the board against the terminals
    double sensor_least_ohm = 50, sensor_most_ohm = 1e6; // under: shorted, above: open
    double capacity_share = 0.95;                        // of what its units promise
    double run_share = 0.90;                             // of the run time that is simulated
    double wake_hours = 6;                               // before a device is called dead
    double sag_share = 0.09; // of the sag that its units explain: what their measured resistances leave open
};

struct ProofReading {
    std::vector<std::optional<double>> group_v;
    std::optional<double> terminals_v;
    std::optional<double> load_a;                           // under load, and while units are read
    std::optional<double> resolution, terminals_resolution; // of the meter's last digit
    double day = 0;                                         // when its last figure was read
    std::vector<double> group_day;                          // when each group was; empty: not known
    std::vector<std::vector<std::optional<double>>> unit_v; // group, place; the round of units
    [[nodiscard]] bool begun() const;
    [[nodiscard]] bool whole() const; // no group is missing, nor the terminals
};

// A unit as it was measured before it was built in.
struct ProvenUnit {
    std::optional<double> capacity_ah, capacity_error_ah; // k = 2
    std::optional<double> resistance_ohm;
};

struct ProvenPack {
    int series = 1, parallel = 1, cells_per_unit = 1;
    std::optional<double> charge_limit_v;                    // a cell
    std::vector<std::optional<double>> group_resistance_ohm; // of its units in parallel; nothing: not all measured
    std::vector<ProofReading> rounds;                        // by ProofRound
    std::vector<std::vector<ProvenUnit>> units;              // by group and place; empty: not known
    OcvCurve ocv;                                            // of a cell; empty: not known
    bool voltage_tells_charge = false;
    std::array<std::optional<double>, proof_item_count> items;
    std::array<bool, proof_item_count> not_there{};    // it has no such thing: no sensor, no codes
    std::vector<std::string> left_out;                 // by ProofRound: the reason; empty: it is asked for
    std::optional<double> promised_ah, promised_run_s; // of its weakest group; of the run that is simulated
    [[nodiscard]] const std::optional<double>& item(ProofItem item) const {
        return items[static_cast<std::size_t>(item)];
    }
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
    not_joined,   // a unit stands apart from its group
    insulation,   // current finds a way to the case
    no_output,    // the board gives less than the cells have
    asleep,       // the board does not wake
    sensor,       // open or shorted
    short_of_capacity,
    short_run,
    refused,    // the device does not take it
    codes,      // codes are stored or pending
    other_unit, // sags less than its units: they are not those on record
};
[[nodiscard]] const char* code(ProofSign sign);

struct ProofFinding {
    ProofRound round{};
    int group = 0; // from 1; 0: terminals
    ProofSign sign{};
    double value = 0, limit = 0;          // V; ohm, Ah, s or h as the sign has it
    std::optional<double> resistance_ohm; // that explains a sag
    int place = 0;                        // of a unit, from 1; 0: the whole group
};

// `left_out` and `not_asked` hold nothing up.
enum class ProofState { open, too_early, passed, failed, left_out, not_asked };
[[nodiscard]] inline bool holds_up(ProofState state) {
    return state == ProofState::open || state == ProofState::too_early || state == ProofState::failed;
}
enum class SpreadGrade { excellent, good, acceptable, too_much };

struct RoundVerdict {
    ProofState state = ProofState::open;
    std::optional<double> spread_v; // a cell
    std::optional<SpreadGrade> grade;
    std::vector<std::optional<double>> shown_v; // a group: difference from the middle; under load: excess over the sag
                                                // that its units predict (else over the middle group's)
    bool predicted = false;                     // held against the units' resistances, not against siblings
    std::vector<std::optional<double>> sag_v, simulated_v; // under load: read, and as its units have it
    std::vector<double> course_error_v; // under load: how well what all share is known where a group was read
    std::vector<ProofFinding> findings;
    int read = 0, asked = 0; // figures
};

struct Proof {
    std::vector<RoundVerdict> rounds; // by ProofRound
    bool passed = false;              // nothing holds it up
    [[nodiscard]] const RoundVerdict& at(ProofRound round) const { return rounds[static_cast<std::size_t>(round)]; }
};

[[nodiscard]] Proof judge_proof(const ProvenPack& pack, const ProofLimits& limits);

} // namespace ingot
