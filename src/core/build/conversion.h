// Change of chemistry: which designs could take an old pack's place in its device, compared over their whole windows
// (empty, nominal, full, charging), with every clash and its number.
#pragma once

#include "core/cells/chemistry.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class ChargerKind { cc_cv, minus_dv, trickle, lead };
[[nodiscard]] const char* code(ChargerKind kind);
[[nodiscard]] std::optional<ChargerKind> charger_kind_from(const std::string& code);

// What is known of the device and its charger; all V over the whole pack.
struct DeviceWindow {
    double nominal_v = 0;
    std::optional<double> off_v;     // the device switches off below
    std::optional<double> bears_v;   // the most that it stands
    std::optional<double> charger_v; // end voltage (cc-cv, lead), or what it reaches before it ends (minus-dv, trickle)
    std::optional<ChargerKind> charger_kind;
};

enum class ConversionClash {
    charger_over_limit,  // charger volts per cell above the charge limit and its tolerance
    charge_method,       // a way of charging that the chemistry must not see
    charger_never_fills, // the charger ends too low
    over_device,         // a full pack is above what the device stands
    unused_charge,       // the device goes off while more than a third is left
    runs_too_low,        // the device goes on below a cell's test cutoff: the board must stop first
};
[[nodiscard]] const char* code(ConversionClash clash);

struct Clash {
    ConversionClash clash{};
    std::optional<double> value; // V per cell; over_device: V; unused_charge: a share
    std::optional<double> limit;
};

// keep: the old design. changes: only what a new charger or a board settles. In the order in which they are proposed.
enum class ConversionVerdict { keep, fits, changes, clash };
[[nodiscard]] const char* code(ConversionVerdict verdict);

struct ConversionDesign {
    std::string chemistry;
    int series = 1;
    double empty_v = 0, nominal_v = 0, full_v = 0, charge_v = 0;
    std::optional<double> charger_per_cell_v;
    ConversionVerdict verdict{};
    bool needs_board = false; // lithium
    std::vector<Clash> clashes;
};

// One design by itself: its verdict is never keep.
[[nodiscard]] ConversionDesign hold_against(const Chemistry& chemistry, int series, const DeviceWindow& device);

// The old design first, then every chemistry given and every number in series whose nominal voltage lies within 0.7 to
// 1.35 of the device's; by verdict, then nearness of nominal. Throws std::invalid_argument without a positive nominal.
[[nodiscard]] std::vector<ConversionDesign> conversions(const Chemistry& from, int series, const DeviceWindow& device,
                                                        const std::vector<const Chemistry*>& to);

} // namespace ingot
