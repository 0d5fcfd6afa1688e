// What is said of a pack's proof, in sentences.
#pragma once

#include "core/prove/proof.h"

#include <QString>

namespace ingot::wording {

[[nodiscard]] QString proof_round(ProofRound round);
[[nodiscard]] QString proof_round_how(ProofRound round); // what the hand does
[[nodiscard]] QString proof_state(ProofState state);
[[nodiscard]] QString spread_grade(SpreadGrade grade);
[[nodiscard]] QString proof_finding(const ProofFinding& finding);
[[nodiscard]] QString proof_way_back(ProofSign sign); // what to look at first
[[nodiscard]] QString not_passed(ProofRound round, const RoundVerdict& verdict);

} // namespace ingot::wording
