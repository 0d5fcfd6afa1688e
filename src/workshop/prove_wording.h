// What is said of a pack's proof, in sentences.
#pragma once

#include "core/prove/field.h"
#include "core/prove/proof.h"
#include "workshop/prove.h"

#include <QString>
#include <QStringList>

namespace ingot::wording {

[[nodiscard]] QString proof_round(ProofRound round);
[[nodiscard]] QString proof_round_how(ProofRound round); // what the hand does
[[nodiscard]] QString proof_state(ProofState state);
[[nodiscard]] QString spread_grade(SpreadGrade grade);
[[nodiscard]] QString proof_finding(const ProofFinding& finding);
[[nodiscard]] QString proof_way_back(ProofSign sign); // what to look at first
// Of a pack in the field: in two or three words; what its groups do, when a balance is due; what to do about it.
[[nodiscard]] QString field_state(FieldState state);
[[nodiscard]] QStringList field_reasons(const PackInField& pack);
[[nodiscard]] QString field_what_to_do(const PackInField& pack);
[[nodiscard]] QString not_passed(ProofRound round, const RoundVerdict& verdict);

} // namespace ingot::wording
