#include "core/triage/stated_bins.h"

#include <algorithm>
#include <cmath>

namespace ingot {

std::array<StatedBin, stated_bin_count> stated_bins(std::span<const Outcome> outcomes) {
    std::array<StatedBin, stated_bin_count> out;
    const auto count = static_cast<double>(stated_bin_count);
    for (std::size_t b = 0; b < stated_bin_count; ++b) {
        out[b].low = static_cast<double>(b) / count;
        out[b].high = static_cast<double>(b + 1) / count;
    }
    for (const Outcome& outcome : outcomes) {
        if (!(outcome.first_stated > 0))
            continue;
        const auto at = std::min(stated_bin_count - 1, static_cast<std::size_t>(outcome.first_stated * count));
        StatedBin& bin = out[at];
        ++bin.packs;
        bin.right += outcome.first_right() ? 1 : 0;
        bin.stated += outcome.first_stated;
    }
    for (StatedBin& bin : out) {
        if (bin.packs == 0)
            continue;
        const double n = bin.packs;
        bin.stated /= n;
        // Wilson 1927; z for 95 %.
        constexpr double z = 1.959964;
        const double p = bin.share();
        const double middle = (p + z * z / (2 * n)) / (1 + z * z / n);
        const double half = z / (1 + z * z / n) * std::sqrt(p * (1 - p) / n + z * z / (4 * n * n));
        bin.share_low = std::max(0.0, middle - half);
        bin.share_high = std::min(1.0, middle + half);
    }
    return out;
}

} // namespace ingot
