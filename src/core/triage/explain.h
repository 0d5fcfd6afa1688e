// What is wrong with this pack? Named explanations over its groups, each predicting every reading given the others;
// likelihood times prior, normalised. One, two or a few faults at once. See docs/methods/triage.md for the model.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/claim.h"
#include "core/measure/measurement.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class Fault {
    healthy,
    dead_group,            // a group under the deep-discharge limit, or dead cells inside a module
    leaking_cell,          // a group that loses charge while it stands
    weak_group,            // less capacity and more resistance than its siblings
    imbalance,             // same cells, other state of charge: one group ends the charge for all
    latched_board,         // groups fine, nothing at the terminals
    sense_fault,           // the measuring side: a lead, a tap or a channel reads wrong
    high_resistance_joint, // sags under load, fine at rest
    disconnected_cell,     // a unit of the group is not joined any more
    reversed_unit,         // a unit or a cell of a module the wrong way round
    all_discharged,        // the whole pack run down: nearly every group under its floor, none to compare with
    elsewhere,             // not the battery: charger, device, lead, connector
};
inline constexpr int fault_count = 12;
[[nodiscard]] const char* code(Fault fault);
[[nodiscard]] std::optional<Fault> fault_from(const std::string& code);
// Nothing wrong, the board, all groups run down, or not the battery: then no groups are named. Groups may be out of
// balance one by one, or all from each other.
[[nodiscard]] bool concerns_whole_pack(Fault fault);

// One reading of a group. V over the group's cells in series; current negative while discharging, A.
struct GroupReading {
    int group = 0; // 1..S
    Condition condition = Condition::rest;
    double voltage_v = 0;
    std::optional<double> current_a;
    std::optional<double> days;         // stored: days since the reading at rest
    std::optional<double> resolution_v; // of the last written digit; none: finer than the meter's error
};
// A single unit whose links are cut.
struct UnitVoltage {
    int group = 0;
    std::string unit;
    double voltage_v = 0;
};
struct GroupTemperature {
    int group = 0;
    double temperature_c = 0;
    bool under_load = false;
};
// What a full discharge of the group alone gave.
struct GroupCapacity {
    int group = 0;
    double capacity_ah = 0;
};
// Of the group alone, as a charger with balance leads or a meter says it. Like is compared with like: of one pack.
struct GroupResistance {
    int group = 0;
    double ohm = 0;
};
// The lead of `group` was exchanged with a good one. Moved: the wrong reading went with the lead.
struct LeadSwap {
    int group = 0;
    bool moved = false;
};

struct TriageCase {
    PackLayout layout;
    std::vector<GroupReading> readings; // oldest first; of one group and condition the last one counts
    std::optional<double> terminal_v;   // at rest
    std::optional<double> capacity_ah;  // the pack's, for currents and times
    std::vector<UnitVoltage> units;
    std::vector<GroupTemperature> temperatures;
    std::vector<GroupCapacity> capacities;
    std::vector<GroupResistance> resistances;
    std::vector<std::string> symptoms; // ids of the knowledge
    std::vector<int> replaced;         // groups whose unit was replaced since the fault was first seen
    std::vector<LeadSwap> swaps;
};

// A symptom in plain words, and how often it is met under each explanation (0..1).
struct Symptom {
    std::string id;
    std::string name;
    std::array<double, fault_count> likelihood{};
    bool refuses_charge = false; // it is the charge that does not go in, whatever the output does
};

// What a shop expects before it has read anything. From data/triage/*.toml.
struct TriageKnowledge {
    std::array<double, fault_count> prior{}; // sums to less than 1
    double second_fault = 0.12;              // chance that a fault beside another one is of another kind
    double misread = 0.004;                  // chance that one group's reading is not what the meter showed
    double meter_error_v = 0.003;            // k = 2 of one reading
    double usual_charge = 0.010;             // one standard deviation of a sound group's state of charge
    double usual_capacity = 0.03;            // of its capacity, relative
    double usual_resistance = 0.10;          // of its resistance, relative
    double usual_ocv_v = 0.002;              // of its open-circuit curve, per cell
    double levels_itself = 0.4; // imbalance where an overcharge levels it, nickel and lead, against lithium
    // Of a usable cell, ohm times Ah, by chemistry: what one that has no sibling is held against. None: not judged.
    std::map<std::string, double> usual_ohm_ah;
    std::vector<Symptom> symptoms;
    int version = 1;
    std::string source;
    [[nodiscard]] const Symptom* symptom(const std::string& id) const;
};

// How far one group lies from the middle of the others, beside what the explanation expects there. V.
struct Shift {
    int group = 0;
    Condition condition = Condition::rest;
    double days = 0;
    double measured_v = 0;  // from the middle of the others
    double expected_v = 0;  // the same under the explanation
    double reference_v = 0; // the middle of the others
};

struct Explanation {
    Fault fault = Fault::healthy;
    std::vector<int> groups; // rising; empty where it concerns the whole pack
    double probability = 0;
    std::vector<Shift> shifts;    // of its groups, evidence to draw
    std::optional<double> amount; // joint: ohm (V where the current is not known); sense fault: V read too low;
                                  // leak: share of capacity lost a day; weak, disconnected: share of capacity missing;
                                  // imbalance: state of charge ahead (negative: behind)
    std::optional<double> current_a;                      // of the load reading behind `amount`
    std::vector<std::pair<Fault, std::vector<int>>> with; // faults most likely beside it
    struct Misread {
        int group = 0;
        Condition condition = Condition::rest;
    };
    std::optional<Misread> misread; // healthy: a figure that was probably misread, else it would not be
};

enum class ReadingKind { rest, load, end_of_charge, stored, terminal, unit_voltages, lead_swap, repeat };
[[nodiscard]] const char* code(ReadingKind kind);

// The reading from which most is to be learned.
struct NextReading {
    ReadingKind kind{};
    std::vector<int> groups; // empty: every group
    double days = 0;         // stored
    double bits = 0;         // expected gain of information; what is asked for is what is named right most often
    std::optional<Condition> condition; // repeat: of the reading that does not fit
};

enum class WayForward {
    swap_unit, // find the one unit of the group, and swap it alone
    refill,
    donor,
    rebalance,
    recover_slowly,
    replace_board,
    check_lead,
    remake_joint,
    break_for_units,
    check_meter, // on a cell that is known
    top_up,      // leave it, and bring the group level every so many days
    none
};
[[nodiscard]] const char* code(WayForward way);

struct Explained {
    std::vector<Explanation> explanations; // best first; probabilities sum to at most 1
    double something_else = 0;             // what is left: faults without a name
    std::optional<NextReading> settle_by;  // none when decided, or when no reading would tell
    std::vector<int> disagreeing;          // groups with two readings of one condition that do not agree: read again
};

// Deterministic. Readings of groups outside 1..S are a bug of the caller (std::invalid_argument).
[[nodiscard]] Explained explain(const TriageCase& pack, const Chemistry& chemistry, const TriageKnowledge& knowledge);

} // namespace ingot
