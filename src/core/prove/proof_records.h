// How the figures of a proof are kept: as measurements of the joined pack, told apart by what was measured where under
// which condition. Answers in words are ProofNotes.
#pragma once

#include "core/measure/measurement.h"
#include "core/prove/proof.h"

#include <optional>

namespace ingot {

// Under which condition the voltages of a round are read.
[[nodiscard]] Condition condition_of(ProofRound round);
// The round of voltages that a measurement of a joined pack belongs to; nothing: none.
[[nodiscard]] std::optional<ProofRound> proof_round_of(const Measurement& measurement);
// Hours are kept as seconds.
inline constexpr double kept_seconds_per_hour = 3600;
// A measurement of the item, without its value; of a yes or no there is none.
[[nodiscard]] Measurement item_measurement(ProofItem item);
// The item that a measurement of a joined pack is of; nothing: none.
[[nodiscard]] std::optional<ProofItem> proof_item_of(const Measurement& measurement);

} // namespace ingot
