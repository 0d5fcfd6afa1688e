// What was stated of packs against what they turned out to be, by how sure it was: the shop's own reliability picture.
#pragma once

#include "core/triage/outcomes.h"

#include <array>
#include <span>

namespace ingot {

struct StatedBin {
    double low = 0, high = 1; // of what was stated of the first explanation
    int packs = 0, right = 0;
    double stated = 0; // mean of what was stated; 0 without packs
    // The share that was right, and what that may be with so few packs: 95 %, Wilson's interval.
    [[nodiscard]] double share() const { return packs > 0 ? static_cast<double>(right) / packs : 0; }
    double share_low = 0, share_high = 1;
    // What was stated lies outside what the packs allow.
    [[nodiscard]] bool off() const { return packs > 0 && (stated < share_low || stated > share_high); }
};
inline constexpr std::size_t stated_bin_count = 5;

// Outcomes of packs of which nothing had been stated are left out.
[[nodiscard]] std::array<StatedBin, stated_bin_count> stated_bins(std::span<const Outcome> outcomes);

} // namespace ingot
