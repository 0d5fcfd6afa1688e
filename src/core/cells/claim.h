// Is what the label or the seller says believable? Capacity adds only in parallel, a format has a largest believable
// capacity, the nominal voltage must fit the number of cells in series.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/model.h"

#include <optional>
#include <vector>

namespace ingot {

// S groups of P units in series; a unit may itself be several cells in series (a module), and a group may be a block of
// several units in series that a device reads by one tap.
struct PackLayout {
    int series = 1;         // groups in series, 1..200
    int parallel = 1;       // units in parallel, 1..200
    int cells_per_unit = 1; // cells in series inside one unit, 1..24
    int units_per_tap = 1;  // units in series between two sense taps, 1..12: then a group is a block of them
    [[nodiscard]] int cells_per_tap() const { return cells_per_unit * units_per_tap; } // what a group's voltage is of
    [[nodiscard]] int cells_in_series() const { return series * cells_per_tap(); }
    [[nodiscard]] int units_per_group() const { return parallel * units_per_tap; }
    [[nodiscard]] int units() const { return series * units_per_group(); }
    friend bool operator==(const PackLayout&, const PackLayout&) = default;
};

// Largest d.c. voltage that is not treated as dangerous to touch, in V: the class B limit that UN R100 and ISO 6469-3
// use (from memory), and common practice in workshops.
inline constexpr double touch_limit_v = 60.0;

enum class ClaimObjection {
    added_in_series,     // the claim is what one gets by adding capacity in series too
    impossible_capacity, // no cell of this format can hold it
    doubtful_capacity,   // more than any commonly made cell of this format
    voltage_misfit,      // claimed volts do not fit S and chemistry
};
[[nodiscard]] const char* code(ClaimObjection objection);

// The numbers behind an objection, so that the sentence can show its arithmetic.
struct ClaimFinding {
    ClaimObjection objection{};
    double claimed = 0;     // Ah or V as claimed
    double per_unit = 0;    // claimed / P in Ah, or claimed volts per cell
    double limit = 0;       // the limit that per_unit breaks (Ah or V)
    double believable = 0;  // what the pack can be at most (Ah), or what S x nominal gives (V)
    int fitting_series = 0; // voltage_misfit: the number of cells in series whose nominal voltage comes nearest
    int fitting_full = 0;   // voltage_misfit: the number whose full voltage this is; 0: none, or the same
};

// What a label's voltage may mean.
enum class LabelVoltage { nominal, full, just_under_full };

struct PackClaim {
    std::optional<double> capacity_ah;
    std::optional<double> voltage_v;
};

// `format` may be null (modules, unknown). Findings in the order of the enum.
[[nodiscard]] std::vector<ClaimFinding> check_claim(const PackClaim& claim, const PackLayout& layout,
                                                    const Chemistry& chemistry, const CellFormat* format);

// What the printed volts mean on that many cells in series: their nominal voltage, their full one (8.4 V on two), or,
// in whole volts, what they hold just under full (20 V on five); whole volts may be rounded or cut. Nothing: no fit.
[[nodiscard]] std::optional<LabelVoltage> label_voltage(double volts, int cells_in_series, const Chemistry& chemistry);
// What one unit is claimed to hold, Ah: nothing where the claimed capacity cannot be. The volts have no say in it.
[[nodiscard]] std::optional<double> believable_unit_ah(const PackClaim& claim, const PackLayout& layout,
                                                       const Chemistry& chemistry, const CellFormat* format);

// Highest voltage the pack can have when charged, V.
[[nodiscard]] double full_voltage(const PackLayout& layout, const Chemistry& chemistry);

} // namespace ingot
