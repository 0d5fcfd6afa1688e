// What is said of a pack's proof, in sentences.
#pragma once

#include "core/prove/field.h"
#include "core/prove/proof_causes.h"
#include "workshop/prove.h"

#include <QString>
#include <QStringList>

namespace ingot::wording {

[[nodiscard]] QString proof_round(ProofRound round);
[[nodiscard]] QString proof_round_how(ProofRound round);
// What is asked for, as a box has it, and the unit that it is typed in.
[[nodiscard]] QString proof_item(ProofItem item);
[[nodiscard]] QString proof_item_unit(ProofItem item);
// A figure or an answer as it is shown; `factor_of` one of the typed unit is so many of the item's own.
[[nodiscard]] QString proof_item_value(ProofItem item, double value);
[[nodiscard]] double proof_item_factor(ProofItem item);
[[nodiscard]] QString proof_cause(ProofCause cause);
// Why it may be that, with its size: "carries as if one of its units had 35 milliohm more".
[[nodiscard]] QString proof_cause_reason(const ProofExplanation& explanation, const std::string& unit);
[[nodiscard]] QString proof_check(ProofCheck check, double minutes); // what the hand does
[[nodiscard]] QString proof_state(ProofState state);
[[nodiscard]] QString spread_grade(SpreadGrade grade);
[[nodiscard]] QString proof_finding(const ProofFinding& finding);
[[nodiscard]] QString proof_way_back(ProofSign sign); // what to look at first
// Of a pack in the field: in two or three words; what its groups do, when a balance is due; what to do about it.
[[nodiscard]] QString field_state(FieldState state);
[[nodiscard]] QStringList field_reasons(const PackInField& pack);
[[nodiscard]] QString field_what_to_do(const PackInField& pack);
// How a pack is kept that nobody uses; empty where its chemistry says nothing of it.
[[nodiscard]] QStringList storage_care(const StorageCare& storage);
// Of a pack that came in with its passport: whose it is, when and by whom it was proved.
[[nodiscard]] QString came_with(const Passport& passport);
// Of a board's log (log_wording.cpp).
struct BoardLogWords {
    QString verdict, line;
    QStringList notes;
};
[[nodiscard]] QString log_stretch(LogStretchKind kind);
[[nodiscard]] BoardLogWords board_log(const BoardLogReading& reading, const BoardLog& log, const ProofLimits& limits);
[[nodiscard]] QString not_passed(ProofRound round, const RoundVerdict& verdict);

} // namespace ingot::wording
