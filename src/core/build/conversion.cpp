#include "core/build/conversion.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace ingot {

const char* code(ChargerKind kind) {
    switch (kind) {
    case ChargerKind::cc_cv:
        return "cc-cv";
    case ChargerKind::minus_dv:
        return "minus-dv";
    case ChargerKind::trickle:
        return "trickle";
    case ChargerKind::lead:
        return "lead";
    }
    return "";
}

std::optional<ChargerKind> charger_kind_from(const std::string& text) {
    for (const ChargerKind kind : {ChargerKind::cc_cv, ChargerKind::minus_dv, ChargerKind::trickle, ChargerKind::lead})
        if (text == code(kind))
            return kind;
    return std::nullopt;
}

const char* code(ConversionClash clash) {
    switch (clash) {
    case ConversionClash::charger_over_limit:
        return "charger-over-limit";
    case ConversionClash::charge_method:
        return "charge-method";
    case ConversionClash::charger_never_fills:
        return "charger-never-fills";
    case ConversionClash::over_device:
        return "over-device";
    case ConversionClash::unused_charge:
        return "unused-charge";
    case ConversionClash::runs_too_low:
        return "runs-too-low";
    }
    return "";
}

const char* code(ConversionVerdict verdict) {
    switch (verdict) {
    case ConversionVerdict::keep:
        return "keep";
    case ConversionVerdict::fits:
        return "fits";
    case ConversionVerdict::changes:
        return "changes";
    case ConversionVerdict::clash:
        return "clash";
    }
    return "";
}

namespace {

constexpr double nominal_from = 0.7, nominal_to = 1.35;
constexpr double fills_share = 0.98;    // a charger that ends 2 % lower still counts as filling
constexpr double unused_most = 1.0 / 3; // left in the pack when the device goes off
constexpr double rounding = 1e-9;

// Nickel has no limit of voltage: its charge is ended by what the cell does.
bool is_nickel(const Chemistry& chemistry) {
    return !chemistry.charge_limit_v;
}

bool must_not_see(const Chemistry& chemistry, ChargerKind kind) {
    const bool constant_voltage = kind == ChargerKind::cc_cv || kind == ChargerKind::lead;
    if (is_nickel(chemistry))
        return constant_voltage;
    return !constant_voltage || (chemistry.lithium && kind == ChargerKind::lead);
}

bool settled_by_a_change(ConversionClash clash) {
    return clash != ConversionClash::over_device && clash != ConversionClash::unused_charge;
}

std::vector<Clash> clashes_of(const Chemistry& chemistry, int series, const ConversionDesign& design,
                              const DeviceWindow& device) {
    std::vector<Clash> out;
    const double charge_v = design.charge_v / series;
    if (device.charger_v && !is_nickel(chemistry)) {
        const double limit = *chemistry.charge_limit_v + chemistry.charge_tolerance_v;
        if (*design.charger_per_cell_v > limit + rounding)
            out.push_back({ConversionClash::charger_over_limit, design.charger_per_cell_v, limit});
    }
    if (device.charger_kind && must_not_see(chemistry, *device.charger_kind))
        out.push_back({ConversionClash::charge_method, std::nullopt, std::nullopt});
    if (device.charger_v && *design.charger_per_cell_v < charge_v * fills_share - rounding)
        out.push_back({ConversionClash::charger_never_fills, design.charger_per_cell_v, charge_v * fills_share});
    if (device.bears_v && design.full_v > *device.bears_v + rounding)
        out.push_back({ConversionClash::over_device, design.full_v, device.bears_v});
    if (device.off_v) {
        const double off_per_cell = *device.off_v / series;
        const double left = chemistry.ocv.soc_at(off_per_cell);
        if (left > unused_most + rounding)
            out.push_back({ConversionClash::unused_charge, left, unused_most});
        if (off_per_cell < chemistry.test_cutoff_v - rounding)
            out.push_back({ConversionClash::runs_too_low, off_per_cell, chemistry.test_cutoff_v});
    }
    return out;
}

} // namespace

ConversionDesign hold_against(const Chemistry& chemistry, int series, const DeviceWindow& device) {
    ConversionDesign out;
    out.chemistry = chemistry.id;
    out.series = series;
    out.empty_v = series * chemistry.test_cutoff_v;
    out.nominal_v = series * chemistry.nominal_v();
    out.full_v = series * chemistry.ocv.ocv_at(1);
    out.charge_v = series * chemistry.charging_v();
    if (device.charger_v)
        out.charger_per_cell_v = *device.charger_v / series;
    out.needs_board = chemistry.lithium;
    out.clashes = clashes_of(chemistry, series, out, device);
    out.verdict = ConversionVerdict::fits;
    for (const Clash& clash : out.clashes)
        out.verdict = std::max(out.verdict, settled_by_a_change(clash.clash) ? ConversionVerdict::changes
                                                                             : ConversionVerdict::clash);
    return out;
}

std::vector<ConversionDesign> conversions(const Chemistry& from, int series, const DeviceWindow& device,
                                          const std::vector<const Chemistry*>& to) {
    if (!(device.nominal_v > 0) || series < 1)
        throw std::invalid_argument("conversions: no nominal voltage or no cells");
    std::vector<ConversionDesign> out;
    for (const Chemistry* chemistry : to) {
        const double cell = chemistry->nominal_v();
        const int most = static_cast<int>(std::floor(device.nominal_v * nominal_to / cell + rounding));
        const int least = std::max(1, static_cast<int>(std::ceil(device.nominal_v * nominal_from / cell - rounding)));
        for (int s = least; s <= most; ++s)
            if (chemistry->id != from.id || s != series)
                out.push_back(hold_against(*chemistry, s, device));
    }
    const auto away = [&](const ConversionDesign& d) { return std::fabs(d.nominal_v - device.nominal_v); };
    std::stable_sort(out.begin(), out.end(), [&](const ConversionDesign& a, const ConversionDesign& b) {
        if (a.verdict != b.verdict)
            return a.verdict < b.verdict;
        if (std::fabs(away(a) - away(b)) > rounding)
            return away(a) < away(b);
        return a.clashes.size() < b.clashes.size();
    });
    ConversionDesign old = hold_against(from, series, device);
    old.verdict = ConversionVerdict::keep;
    out.insert(out.begin(), std::move(old));
    return out;
}

} // namespace ingot
