// Chargers that only a person operates: their channels are bays too. A run is the same record as on a tester, begun and
// ended by hand; what its display says is typed, cycle by cycle, and judged as any other.
#pragma once

#include "bench/tester_lines.h"
#include "core/measure/protocol.h"
#include "core/measure/run.h"
#include "workshop/bay_rules.h"
#include "workshop/workshop.h"

#include <QStringList>

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct HandCharger {
    std::string name;
    int channels = 1; // 1..32
};

// What the display says of one cycle; what it does not say stays unknown. Ah, degC. Where the protocol discharges
// first, the charge is the one that follows.
struct HandCycle {
    std::optional<double> charge_ah;
    double discharge_ah = 0; // > 0
    bench::StepEnd end = bench::StepEnd::cutoff;
    std::optional<double> hottest_c;
    bool took_all = false; // the charge ended at the amount that was set
};

struct HandBay : OnChannel {
    std::string charger;
    int channel = 1;
    Id run = 0; // 0: free
    std::string code;
    Protocol protocol;
    bool ended = false; // to be lifted out
    std::string began_at, due_at;
    bool overdue = false;
    int typed = 0;                      // discharges that were read off
    std::vector<Cycle> cycles;          // without one that only emptied the unit
    std::optional<ConditioningRow> row; // of a unit that is conditioned
    std::optional<double> capacity_ah;  // of the last discharge that reached its cutoff
};

class HandBays {
public:
    explicit HandBays(Workshop& workshop) : workshop_(workshop) {}

    [[nodiscard]] std::vector<HandCharger> chargers() const;
    Result<bool> set_charger(const std::string& name, int channels);
    // Every channel of every charger, free ones too.
    [[nodiscard]] std::vector<HandBay> bays() const;
    [[nodiscard]] std::optional<HandBay> bay_of(Id unit) const;
    [[nodiscard]] int overdue() const;

    // Whether a charger that a person operates can do that: voltage, current, no pulse.
    [[nodiscard]] bool fits(const OnChannel& on, const Protocol& protocol) const;
    // What to set on the charger, line by line, in amperes and volts of what stands there.
    [[nodiscard]] QStringList card(const OnChannel& on, const Protocol& protocol) const;

    // Why it may not begin. `found_v` is what a meter reads at the unit now, the right way round: nothing is begun
    // without it.
    [[nodiscard]] std::optional<Problem> may_not_begin(const OnChannel& on, const std::string& charger, int channel,
                                                       const std::string& protocol, double found_v,
                                                       std::optional<double> room_c = {}) const;
    // The person starts the charger; the run stands in the file before that.
    Result<Id> begin(const OnChannel& on, const std::string& charger, int channel, const std::string& protocol,
                     double found_v, std::optional<double> room_c = {});
    // A cycle that was read off; durable, and judged at once.
    Result<bool> add_cycle(Id run, const HandCycle& cycle);
    // The charger is done, or was stopped. What the run has shown is concluded.
    Result<bool> end(Id run, bool as_meant);
    Result<bool> lift_out(Id run);

private:
    [[nodiscard]] std::optional<BayRun> open_run(Id run) const;
    [[nodiscard]] HandBay look_at(const BayRun& record) const;
    Workshop& workshop_;
    mutable std::map<Id, ConditioningRow> judged_;
};

} // namespace ingot
