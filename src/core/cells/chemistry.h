// A cell chemistry: its voltages, its state bands and its open-circuit voltage curve. All voltages are per cell, in V.
// Values come from data/chemistries/*.toml, which name a source for each.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// What a rested voltage says about a cell or a group, per cell in series.
enum class GroupState { dead, deep, low, working, over };
[[nodiscard]] const char* code(GroupState state);

struct VoltageBands {
    double dead_below_v = 0;
    double deep_below_v = 0;
    double low_below_v = 0;
    double working_up_to_v = 0;
    double over_above_v = 0; // between working_up_to_v and this a reading still counts as working (meter error)
};

// Open-circuit voltage against state of charge; linear between the points.
class OcvCurve {
public:
    OcvCurve() = default;
    // Both rising, same length, at least two points; soc 0..1. Throws std::invalid_argument otherwise.
    OcvCurve(std::vector<double> soc, std::vector<double> ocv_v);

    [[nodiscard]] bool empty() const { return soc_.empty(); }
    // 0..1; clamped outside the curve.
    [[nodiscard]] double soc_at(double ocv_v) const;
    [[nodiscard]] double ocv_at(double soc) const;
    // V per unit of state of charge (mV/% = this * 10). On a knot: the mean of both sides.
    [[nodiscard]] double slope_at(double ocv_v) const;
    [[nodiscard]] const std::vector<double>& soc() const { return soc_; }
    [[nodiscard]] const std::vector<double>& ocv_v() const { return ocv_; }

private:
    std::vector<double> soc_;
    std::vector<double> ocv_;
};

// How cells are kept that wait for months. Without a source of its own nothing is asked for.
struct StorageCare {
    double low_soc = 0, high_soc = 0; // 0..1: between these they keep best; both 0: not told by a share of charge
    double look_days = 0;             // after so long a look is due; 0: not known
    std::string source;
};

struct Chemistry {
    std::string id;   // as used in files: nmc, lco, lfp, nimh, nicd, pb-agm
    std::string name; // as shown
    double nominal_low_v = 0;
    double nominal_high_v = 0;
    double usual_nominal_v = 0;           // what designs are counted with; 0: the lower end
    double full_v = 0;                    // charge limit; for nickel the voltage at which it is full
    std::optional<double> charge_limit_v; // none where the charge is current controlled
    double charge_reaches_v = 0;          // what a cell without a limit reaches while it is charged; 0: not known
    double charge_tolerance_v = 0;        // how far above the limit a charger may end
    double test_cutoff_v = 0;
    double highest_cutoff_v = 0; // no usual test ends above this; 0: not known, then the test cutoff
    double floor_v = 0;
    double scrap_below_v = 0;      // rested: under this, scrap
    double quarantine_below_v = 0; // rested: under this, quarantine (never below scrap_below_v)
    bool lithium = false;
    bool voltage_tells_charge = false; // false where the OCV curve is too flat to judge by
    VoltageBands bands;
    OcvCurve ocv;
    StorageCare storage;
    int version = 1;
    std::string source;

    [[nodiscard]] double nominal_v() const { return usual_nominal_v > 0 ? usual_nominal_v : nominal_low_v; }
    // Where a charge ends: the limit; for nickel what it reaches on the way.
    [[nodiscard]] double charging_v() const {
        return charge_limit_v.value_or(charge_reaches_v > 0 ? charge_reaches_v : full_v);
    }
};

// `voltage_v` is over `cells_in_series` cells (a module's or a single cell's).
[[nodiscard]] GroupState state_of(const Chemistry& chemistry, double voltage_v, int cells_in_series = 1);

} // namespace ingot
