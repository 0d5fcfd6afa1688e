// Cell formats (outer sizes with believable capacities) and unit models (what is printed on a cell or module).
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// One line of what a format can hold in one family of chemistries. Capacities in Ah.
struct FormatCapacity {
    std::vector<std::string> chemistries; // ids
    double smallest_ah = 0;
    double largest_ah = 0; // the best that is commonly made
    double check_above_ah = 0;
    double impossible_above_ah = 0; // volume times the densest known chemistry
};

struct CellFormat {
    std::string id; // 18650, 21700, AA, ...
    std::string iec_size;
    double diameter_m = 0; // of a round one; 0: flat
    double height_m = 0;
    double broad_m = 0, thick_m = 0; // of a flat one; 0: round
    std::vector<FormatCapacity> capacities;
    std::string source;
    int version = 1;

    [[nodiscard]] const FormatCapacity* capacity_for(const std::string& chemistry_id) const;
};

// A make of cell or module. A module counts as one unit of `cells_in_series` cells.
struct UnitModel {
    std::string id; // as used in files
    std::string name;
    std::string chemistry;
    std::string format; // may be empty for modules
    int cells_in_series = 1;
    double rated_ah = 0;
    std::optional<double> new_dc_resistance_ohm;
    std::optional<double> new_ac_resistance_ohm;
    double continuous_a = 0; // largest continuous discharge current of one unit; 0: not known
    double peak_a = 0;       // the same for seconds
    double charge_a = 0;     // largest charge current
    // Per cell, where its maker says less than its chemistry bears. V.
    std::optional<double> charge_limit_v = {};
    double mass_kg = 0;
    bool low_self_discharge = false; // nickel that keeps most of its charge over a year
    int version = 1;
    std::string source;
};

} // namespace ingot
