// What holds of what stands on a channel, whether a tester or a hand runs it: a unit, like nickel units in series, or
// an assembly by its terminals.
#pragma once

#include "core/measure/conditioning.h"
#include "core/measure/protocol.h"
#include "core/measure/run.h"
#include "workshop/workshop.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// Several in series: their cells together, the rating of the smallest. An assembly: what it claims, or what its weakest
// group is built of.
[[nodiscard]] BayUnit bay_unit_of(const Workshop& workshop, const OnChannel& on);
[[nodiscard]] const Chemistry* chemistry_on(const Workshop& workshop, const OnChannel& on); // null: not known
// "N-0003", "N-0003 + 2 in series", "RPT-04 pack 1".
[[nodiscard]] std::string code_on(const Workshop& workshop, const OnChannel& on);
[[nodiscard]] bool known_on(const Workshop& workshop, const OnChannel& on); // all of it is in the workshop
[[nodiscard]] bool quarantined_on(const Workshop& workshop, const OnChannel& on);
// Codes of units, separated by spaces or commas, in their order; objects to one that is not known.
[[nodiscard]] Result<OnChannel> in_series_from(const Workshop& workshop, const std::string& codes);
// The usual protocol: of its chemistry, conditioning for nickel modules. Empty: there is none.
[[nodiscard]] std::string usual_protocol_of(const Workshop& workshop, const OnChannel& on);
// Assemblies that may stand on a bay as far as their own state goes, by label.
[[nodiscard]] std::vector<Id> assemblies_for_bays(const Workshop& workshop);
// The code of what stands in both; nothing: nothing does.
[[nodiscard]] std::optional<std::string> shared_by(const Workshop& workshop, const OnChannel& one,
                                                   const OnChannel& other);
[[nodiscard]] ChangeSet touched_by(const OnChannel& on);
// A hazard is open on all of it until somebody has looked.
Result<bool> hold_apart(Workshop& workshop, const OnChannel& on, const std::string& reason);
// From which share of its rating on a conditioned unit is kept: the shop's own acceptance limit, else the usual one.
[[nodiscard]] double acceptance_share(const Workshop& workshop);
Result<bool> set_acceptance_share(Workshop& workshop, double share); // 0.3 to 1.2
// The same as a capacity, Ah.
[[nodiscard]] double conditioning_bar_of(const Workshop& workshop, Id unit);
// Why it is put on no bay at all; nothing: it may be, as far as its own state goes. `protocol` may be null.
//
// In series stand nickel units of one model only, for conditioning: through the weakest the others push on, and what
// they give together is no unit's own capacity. A lithium pack stands on a bay only with a board that watches its
// groups. Common practice, no source.
[[nodiscard]] std::optional<Problem> may_run_on_no_bay(const Workshop& workshop, const OnChannel& on,
                                                       const Protocol* protocol);
// The number of the discharge that only emptied what the unit came with; 0: none did.
[[nodiscard]] int emptying_step(const Protocol& protocol, const std::vector<RunStep>& steps);
// The discharges of a run, each with the charge before it; what only emptied the unit is none. One that a limit ended,
// or that ran nearly as hot as the protocol's limit, is not full.
[[nodiscard]] std::vector<Cycle> cycles_of_run(const Protocol& protocol, Id run, Id unit,
                                               const std::vector<RunStep>& steps, const std::string& taken_at);

// One unit in the conditioning row.
struct ConditioningRow {
    Id unit = 0;
    std::string code;
    std::vector<ConditioningCycle> cycles;
    // Of each cycle: what went in before it, where that is known, and whether that was all that was offered.
    std::vector<std::optional<double>> charged_ah;
    std::vector<bool> took_all;
    double bar_ah = 0, rated_ah = 0;
    ConditioningResult result;
    void add(const Cycle& cycle);
};
// Fills in what follows from the cycles.
void judge_row(const Workshop& workshop, Id unit, ConditioningRow& row);

} // namespace ingot
