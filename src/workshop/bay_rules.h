// What holds of a unit on any bay, whether a tester or a hand runs it.
#pragma once

#include "core/measure/conditioning.h"
#include "core/measure/protocol.h"
#include "core/measure/run.h"
#include "workshop/workshop.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

[[nodiscard]] BayUnit bay_unit_of(const Workshop& workshop, Id unit);
[[nodiscard]] const Chemistry* chemistry_of_unit(const Workshop& workshop, Id unit); // null: not known
// The usual protocol of a unit: of its chemistry, conditioning for nickel modules. Empty: there is none.
[[nodiscard]] std::string usual_protocol_of(const Workshop& workshop, Id unit);
// From which share of its rating on a conditioned unit is kept: the shop's own acceptance limit, else the usual one.
[[nodiscard]] double acceptance_share(const Workshop& workshop);
Result<bool> set_acceptance_share(Workshop& workshop, double share); // 0.3 to 1.2
// The same as a capacity, Ah.
[[nodiscard]] double conditioning_bar_of(const Workshop& workshop, Id unit);
// Why a unit is put on no bay at all; nothing: it may be, as far as its own state goes. `protocol` may be null.
[[nodiscard]] std::optional<Problem> may_run_on_no_bay(const Workshop& workshop, Id unit, const Protocol* protocol);
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
