#include "core/cells/claim.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

// Labels round: a claim of 25.9 V for seven cells of 3.7 V, of 36 V for ten. Two percent beyond the nominal range.
constexpr double voltage_tolerance = 0.02;
// A label in whole volts may be cut as well as rounded (12 V on four of 3.2 V, 14 V on four of 3.6 V), but not by
// as much as a cell (common practice, no source).
constexpr double whole_volt_v = 1.0;
constexpr double share_of_a_cell = 0.4;
constexpr double share_of_the_pack = 0.05; // 24 V on seven of 3.6 V
constexpr double last_digit_v = 0.1;
constexpr double just_under_full_v = 0.2; // a charged lithium cell's 4.0 V, which labels like to multiply
// Whoever adds up capacities counts good cells: the share of what such a cell commonly holds that one must have.
constexpr double share_of_a_good_cell = 0.5;
constexpr int most_cells_in_series = 200;

bool same_figure(double a, double b) {
    return std::abs(a - b) < last_digit_v / 2;
}
bool whole(double volts) {
    return same_figure(volts, std::round(volts));
}
// Exactly a count of cells times a nominal voltage that is printed.
bool some_count_of_nominals(double volts, const Chemistry& chemistry) {
    for (const double nominal : {chemistry.nominal_low_v, chemistry.nominal_high_v})
        if (same_figure(volts, std::round(volts / nominal) * nominal))
            return true;
    return false;
}

std::optional<LabelVoltage> fit_of_nominal(double volts, int cells, const Chemistry& chemistry) {
    const double low = cells * chemistry.nominal_low_v;
    const double high = cells * chemistry.nominal_high_v;
    const double cut =
        whole(volts) ? std::min(whole_volt_v, share_of_a_cell * chemistry.nominal_low_v) - last_digit_v / 2 : 0.0;
    const double lowest = whole(volts) ? low * (1 - share_of_the_pack) : low * (1 - voltage_tolerance);
    if (volts >= std::min(lowest, low - cut) && volts <= std::max(high * (1 + voltage_tolerance), high + cut))
        return LabelVoltage::nominal;
    return std::nullopt;
}

std::optional<ClaimFinding> check_capacity(double claimed, const PackLayout& layout, const FormatCapacity& can_hold) {
    const double per_unit = claimed / layout.parallel;
    if (per_unit <= can_hold.check_above_ah)
        return std::nullopt;
    ClaimFinding finding;
    finding.claimed = claimed;
    finding.per_unit = per_unit;
    finding.limit = can_hold.check_above_ah;
    finding.believable = can_hold.largest_ah * layout.parallel;
    // Adding up every cell gives a good cell again: then that is what happened.
    const double if_added = claimed / layout.units();
    if (layout.series > 1 && if_added >= std::max(can_hold.smallest_ah, share_of_a_good_cell * can_hold.largest_ah) &&
        if_added <= can_hold.check_above_ah) {
        finding.objection = ClaimObjection::added_in_series;
        finding.believable = if_added * layout.parallel;
    } else if (per_unit > can_hold.impossible_above_ah) {
        finding.objection = ClaimObjection::impossible_capacity;
        finding.limit = can_hold.impossible_above_ah;
    } else {
        finding.objection = ClaimObjection::doubtful_capacity;
    }
    return finding;
}

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

std::optional<LabelVoltage> label_voltage(double volts, int cells_in_series, const Chemistry& chemistry) {
    if (const auto nominal = fit_of_nominal(volts, cells_in_series, chemistry))
        return nominal;
    if (!chemistry.lithium) // no label prints where charging by current ends
        return std::nullopt;
    const double full = cells_in_series * chemistry.full_v;
    if (std::abs(volts - full) < (whole(volts) ? whole_volt_v - last_digit_v / 2 : last_digit_v))
        return LabelVoltage::full;
    // 36 V on nine would be 4.0 V each, and is ten of 3.6 V.
    if (same_figure(volts, cells_in_series * (chemistry.full_v - just_under_full_v)) && whole(volts) &&
        !some_count_of_nominals(volts, chemistry))
        return LabelVoltage::just_under_full;
    return std::nullopt;
}

std::optional<double> believable_unit_ah(const PackClaim& claim, const PackLayout& layout, const Chemistry& chemistry,
                                         const CellFormat* format) {
    if (!claim.capacity_ah)
        return std::nullopt;
    const FormatCapacity* can_hold = format != nullptr ? format->capacity_for(chemistry.id) : nullptr;
    if (can_hold != nullptr && check_capacity(*claim.capacity_ah, layout, *can_hold))
        return std::nullopt;
    return *claim.capacity_ah / layout.parallel;
}

std::vector<ClaimFinding> check_claim(const PackClaim& claim, const PackLayout& layout, const Chemistry& chemistry,
                                      const CellFormat* format) {
    std::vector<ClaimFinding> findings;
    const FormatCapacity* can_hold = format != nullptr ? format->capacity_for(chemistry.id) : nullptr;
    if (claim.capacity_ah && can_hold != nullptr)
        if (const auto finding = check_capacity(*claim.capacity_ah, layout, *can_hold))
            findings.push_back(*finding);
    const int cells = layout.cells_in_series();
    if (!claim.voltage_v || label_voltage(*claim.voltage_v, cells, chemistry))
        return findings;
    ClaimFinding misfit;
    misfit.objection = ClaimObjection::voltage_misfit;
    misfit.claimed = *claim.voltage_v;
    misfit.per_unit = *claim.voltage_v / cells;
    misfit.limit = chemistry.nominal_v();
    misfit.believable = cells * chemistry.nominal_v();
    misfit.fitting_series = static_cast<int>(std::lround(*claim.voltage_v / chemistry.nominal_v()));
    for (int s = 1; s <= most_cells_in_series && misfit.fitting_full == 0; ++s)
        if (const auto meaning = label_voltage(*claim.voltage_v, s, chemistry);
            meaning && *meaning != LabelVoltage::nominal)
            misfit.fitting_full = s;
    findings.push_back(misfit);
    return findings;
}

} // namespace ingot
