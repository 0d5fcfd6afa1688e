// A test protocol: steps of charge, rest, discharge and pulse, loops, the ends of each step and the hard limits that
// the tester itself watches. In shares of the rating and volts per cell, so that one protocol serves every unit of a
// chemistry; `resolve` turns it into amperes and volts of one unit.
//
// Sources: each shipped protocol names its own (IEC 61960-3, IEC 61951-1/-2, from memory; the others are common
// practice, no source). Rules that refuse a protocol: common practice and the chemistry's own limits.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/model.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class ProtocolStepKind { charge, rest, discharge, pulse, loop };
[[nodiscard]] const char* code(ProtocolStepKind kind);

// Currents in It (of the rating) unless `current_a` is given; voltages per cell; capacity as a share of the rating.
struct ProtocolStep {
    ProtocolStepKind kind = ProtocolStepKind::rest;
    std::optional<double> current_it, current_a;
    std::optional<double> second_it;      // pulse: the second level
    std::optional<double> volts;          // charge: held constant at this; discharge: cutoff
    std::optional<double> tail_it;        // charge: ends when the current has fallen to this
    std::optional<double> minus_dv;       // charge: ends when the voltage has fallen this far from its peak
    std::optional<double> rise_k_per_min; // charge: ends when it warms this fast
    std::optional<double> capacity_share; // ends when this was moved
    std::optional<double> hours;          // ends after this time
    int back_to = 0;                      // loop: index of the step it goes back to
    int times = 0;                        // loop: how often the steps are run in all
};

// What the tester watches in every step; per cell where it is a voltage.
struct ProtocolLimits {
    std::optional<double> high_v, low_v; // default: the chemistry's charge limit with 0.05 V, its floor
    double capacity_share = 1.3;
    double charge_high_c = 45;
    double discharge_high_c = 60;
    double low_c = 0;  // charging under this is refused
    double hours = 24; // each step
};

struct Protocol {
    std::string id, name;
    int version = 1;
    std::string purpose; // capacity, conditioning, resistance, recovery, spot-check
    std::vector<std::string> chemistries;
    std::string source;
    bool unattended = true;     // may run while nobody is there, as the tester's own limits are set
    bool recovers_deep = false; // made for deep-discharged cells
    std::vector<ProtocolStep> steps;
    ProtocolLimits limits;

    [[nodiscard]] std::string stamp() const { return id + " v" + std::to_string(version); }
    [[nodiscard]] bool suits(const std::string& chemistry) const;
    [[nodiscard]] bool charges() const;
    // It empties the unit before it charges it: what that gives is what was left, and no capacity.
    [[nodiscard]] bool empties_first() const;
};

// One unit as the bay sees it.
struct BayUnit {
    double rated_ah = 0;
    int cells = 1;                             // in series
    double continuous_a = 0;                   // discharge; 0: not known
    double charge_a = 0;                       // 0: not known, and its discharge current stands in
    std::optional<double> charge_limit_v = {}; // per cell, where it bears less than its chemistry
    std::optional<double> rested_v;            // over the whole unit
    std::optional<double> found_v; // what the instrument reads in the bay before current flows, over the whole unit
    std::optional<double> capacity_ah;
};

// A step in amperes and volts of one unit. Signs: charge positive.
struct BayStep {
    ProtocolStepKind kind = ProtocolStepKind::rest;
    double current_a = 0;
    double second_a = 0;
    std::optional<double> volts, tail_a, minus_dv, rise_k_per_min, capacity_ah, hours;
};
struct BayLimits {
    double high_v = 0, low_v = 0, current_a = 0, capacity_ah = 0, high_c = 0, low_c = 0, hours = 0;
};

[[nodiscard]] BayStep resolve(const ProtocolStep& step, const BayUnit& unit);
[[nodiscard]] BayLimits limits_for(const Protocol& protocol, const ProtocolStep& step, const BayUnit& unit,
                                   const Chemistry& chemistry);

// What an instrument can do on one bay.
struct BayAbilities {
    double most_v = 5, most_a = 10;
    bool minus_dv = true, temperature = true;
};

enum class ProtocolFault {
    no_step,
    wrong_chemistry,
    over_voltage,      // charges over the chemistry's limit
    under_floor,       // discharges under its floor
    too_much_current,  // more than the unit's rating
    endless_step,      // no end would ever come
    endless_loop,      // goes forwards, or never or too often
    no_end_for_nickel, // nickel charged without -dV, dT/dt, amount or clock
    charges_frozen,    // charging under 0 degC is allowed by its limit, or it is that cold
    charges_deep,      // a deep-discharged unit outside the slow recovery
    too_hot,           // the temperature limit is over the chemistry's
    beyond_instrument,
    no_rating,
    nothing_there, // the bay reads no voltage: empty, no contact, or a dead unit
    reversed,      // the bay reads it the wrong way round
    overfull,      // it stands over what its chemistry may be charged to
    another_unit,  // the bay reads another voltage than the unit had
};
[[nodiscard]] const char* code(ProtocolFault fault);

struct ProtocolObjection {
    ProtocolFault fault{};
    int step = -1; // index; -1: the protocol as a whole
    double value = 0, limit = 0;
};

// Everything that stands against running it; empty: it may run.
[[nodiscard]] std::vector<ProtocolObjection> check_protocol(const Protocol& protocol, const BayUnit& unit,
                                                            const Chemistry& chemistry, const BayAbilities& abilities,
                                                            std::optional<double> room_c = std::nullopt);

// How long it takes, h: from the unit's capacity (else its rating), the currents, rests and loops.
[[nodiscard]] double predicted_hours(const Protocol& protocol, const BayUnit& unit);
// The largest charge current, A; 0 where it never charges.
[[nodiscard]] double largest_charge_a(const Protocol& protocol, const BayUnit& unit);

// Where a run stands: the step, and how often each loop has been run.
struct RunPosition {
    int step = 0;
    std::vector<int> runs; // per step; only loops count
};
// The next step after one has ended as meant; nothing when the protocol is over.
[[nodiscard]] std::optional<RunPosition> next_position(const Protocol& protocol, RunPosition position);
[[nodiscard]] RunPosition first_position(const Protocol& protocol);
// How many steps a whole run takes, and how many are done.
[[nodiscard]] int steps_in_all(const Protocol& protocol);
[[nodiscard]] int steps_done(const Protocol& protocol, const RunPosition& position);

} // namespace ingot
