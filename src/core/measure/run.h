// A run: a protocol carried out on a unit by an instrument. A header, the steps as the instrument said them, and
// samples (kept apart, packed). An imported log has samples only; what its steps were is guessed (capacity.h).
#pragma once

#include "core/cells/id.h"
#include "core/measure/capacity.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class RunStepKind { charge, discharge, rest, pulse };
[[nodiscard]] const char* code(RunStepKind kind);
[[nodiscard]] std::optional<RunStepKind> run_step_kind_from(const std::string& code);

// Times in s from the begin of the run. What the instrument did not say stays unknown.
struct RunStep {
    int number = 0; // from 1, in order
    RunStepKind kind{};
    double start_s = 0, end_s = 0;
    std::string end;      // why it ended: the instrument's code ("cutoff", "time-limit", "hot", …)
    bool as_meant = true; // ended by its own condition, not by a limit, a fault or a hand
    std::optional<double> charge_ah, energy_wh; // moved, positive
    std::optional<double> start_v, end_v, mean_a;
    std::optional<double> hottest_c;
    std::int64_t first_sample = 0, last_sample = 0; // indices, both inclusive
};

// What stands on one channel: a unit; like units in series, through which the same current flows; or an assembly by its
// terminals.
struct OnChannel {
    Id unit = 0;            // the first of several
    std::vector<Id> behind; // the others, in their order
    Id assembly = 0;        // never together with a unit

    OnChannel() = default;
    OnChannel(Id only) : unit(only) {}
    [[nodiscard]] static OnChannel of_assembly(Id assembly);
    [[nodiscard]] static OnChannel in_series(const std::vector<Id>& units);
    [[nodiscard]] bool nothing() const { return unit == 0 && assembly == 0; }
    [[nodiscard]] bool several() const { return !behind.empty(); }
    [[nodiscard]] std::vector<Id> units() const;
    [[nodiscard]] bool holds(Id some_unit) const;
    friend bool operator==(const OnChannel&, const OnChannel&) = default;
};

struct Run : OnChannel {
    Id id = 0;
    std::string file, instrument, protocol; // protocol: id and version, or "imported"
    std::string began_at, ended_at;         // ISO 8601; empty: not known, or still running
    std::string recorded_at;
    std::int64_t samples = 0;
};

// A run on a bay of a tester.
struct BayRun : OnChannel {
    Id run = 0;
    std::string tester;
    int bay = 0;
    std::string protocol, protocol_text;
    int protocol_version = 1;
    int step = 0;
    std::string loops; // how often each loop was run, comma separated
    std::string state; // running, done, stopped, lifted
    std::string stop;  // the step end or limit that ended it
    std::uint64_t last_sequence = 0;
    std::optional<double> began_s; // of the tester's clock
    int gaps = 0;
    std::string started_at, ended_at, lifted_at;
};

// A run on a charger that only a person operates: its `tester` is this and the charger's name.
inline constexpr const char* by_hand_prefix = "hand:";
[[nodiscard]] inline bool run_by_hand(const BayRun& run) {
    return run.tester.starts_with(by_hand_prefix);
}

// A discharge of a unit that is being cycled; concluded from its run.
struct Cycle {
    Id run = 0, unit = 0;
    int number = 0; // within the run
    double capacity_ah = 0, energy_wh = 0;
    std::optional<double> charge_ah;
    std::string stop;
    bool full = true;
    std::string taken_at;
    // The charge before it ended because all that was offered had gone in, not at the unit's own end: a strong unit.
    bool took_all = false;
};

// What waits for a bay.
struct Waiting {
    Id unit = 0;
    std::string protocol, row;
    std::optional<int> position;
    std::string due_at, insisted_at; // empty: none
    std::optional<int> insisted_bay;
};

// Capacity of a run by its own steps: the last discharge that ended at its cutoff, with the charge before it. Samples
// are only asked for what the steps leave out (uncertainty). Nothing where no discharge ended as meant. `emptying`: the
// number of a discharge that only emptied what the unit came with (0: none); it is no capacity.
struct RunCapacity {
    double capacity_ah = 0;
    std::optional<double> energy_wh;
    std::optional<double> uncertainty_ah; // k = 2; unknown where the instrument's errors are
    std::optional<double> charge_ah;
    std::optional<double> coulombic_efficiency; // where that charge followed a discharge to the cutoff
    std::optional<double> charged_to_v, cutoff_v, mean_a;
    std::optional<double> temperature_c; // the warmest of the discharge
    int step = 0;                        // number of the discharge
};
[[nodiscard]] std::optional<RunCapacity>
capacity_of_run(const std::vector<RunStep>& steps, const std::optional<InstrumentErrors>& errors, int emptying = 0);

} // namespace ingot
