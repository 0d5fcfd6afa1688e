#include "core/cells/claim.h"

#include <cmath>

namespace ingot {

namespace {

// Labels round: a claim of 25.9 V for seven cells of 3.7 V, of 36 V for ten. Two percent beyond the nominal range.
constexpr double voltage_tolerance = 0.02;

} // namespace

const char* code(ClaimObjection objection) {
    switch (objection) {
    case ClaimObjection::added_in_series:
        return "added-in-series";
    case ClaimObjection::impossible_capacity:
        return "impossible-capacity";
    case ClaimObjection::doubtful_capacity:
        return "doubtful-capacity";
    case ClaimObjection::voltage_misfit:
        return "voltage-misfit";
    }
    return "";
}

double full_voltage(const PackLayout& layout, const Chemistry& chemistry) {
    return layout.cells_in_series() * chemistry.full_v;
}

std::vector<ClaimFinding> check_claim(const PackClaim& claim, const PackLayout& layout, const Chemistry& chemistry,
                                      const CellFormat* format) {
    std::vector<ClaimFinding> findings;
    const FormatCapacity* can_hold = format != nullptr ? format->capacity_for(chemistry.id) : nullptr;
    if (claim.capacity_ah && can_hold != nullptr) {
        const double claimed = *claim.capacity_ah;
        const double per_unit = claimed / layout.parallel;
        const double if_added = claimed / layout.units();
        ClaimFinding finding{{}, claimed, per_unit, can_hold->check_above_ah, can_hold->largest_ah * layout.parallel,
                             0};
        if (per_unit > can_hold->check_above_ah) {
            // Adding up every cell gives a plausible cell again: then that is what happened.
            if (layout.series > 1 && if_added >= can_hold->smallest_ah && if_added <= can_hold->check_above_ah) {
                finding.objection = ClaimObjection::added_in_series;
                finding.believable = if_added * layout.parallel;
                findings.push_back(finding);
            } else if (per_unit > can_hold->impossible_above_ah) {
                finding.objection = ClaimObjection::impossible_capacity;
                finding.limit = can_hold->impossible_above_ah;
                findings.push_back(finding);
            } else {
                finding.objection = ClaimObjection::doubtful_capacity;
                findings.push_back(finding);
            }
        }
    }
    if (claim.voltage_v) {
        const int cells = layout.cells_in_series();
        const double per_cell = *claim.voltage_v / cells;
        if (per_cell < chemistry.nominal_low_v * (1 - voltage_tolerance) ||
            per_cell > chemistry.nominal_high_v * (1 + voltage_tolerance)) {
            findings.push_back({ClaimObjection::voltage_misfit, *claim.voltage_v, per_cell, chemistry.nominal_v(),
                                cells * chemistry.nominal_v(),
                                static_cast<int>(std::lround(*claim.voltage_v / chemistry.nominal_v()))});
        }
    }
    return findings;
}

} // namespace ingot
