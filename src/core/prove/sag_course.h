// What the groups of a pack under load share, so that one that sags more stands out: how much more flows against than
// an instrument says, and the sinking of the whole pack while one group after the other is read. See
// docs/methods/prove.md.
#pragma once

#include "core/prove/proof.h"

#include <optional>
#include <vector>

namespace ingot {

using GroupVolts = std::vector<std::optional<double>>;

// Groups (from 0) that were read, in the order in which they were, as far as that is known; else by number.
[[nodiscard]] std::vector<std::size_t> reading_order(const GroupVolts& read, const ProofReading& reading);

// The sag goes on with time, so that a resistance of an instant or of 1 kHz says only part of it: the same part of
// every group of one make. From pairs that were read next to each other, so that what all share stays out of it. 1 and
// more.
[[nodiscard]] double later_sag(const GroupVolts& sag, const GroupVolts& by_units,
                               const std::vector<std::size_t>& order);

// What all groups share: the middle of them; and where the figures were read one after the other while the load went
// on, the course of it: by the middle of those that were read next to each other, of few groups by a line. `error` gets
// how well that is known at each group, V; it has a place for each.
[[nodiscard]] std::vector<double> shared_course(const GroupVolts& excess, const ProofReading& reading,
                                                const std::vector<std::size_t>& order, std::vector<double>& error);

} // namespace ingot
