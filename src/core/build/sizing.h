// How many units of a model a device needs, and how long it runs on them.
#pragma once

#include "core/cells/chemistry.h"

#include <optional>
#include <string>

namespace ingot {

struct StockModel {
    std::string model;
    int in_stock = 0;
    double capacity_ah = 0;  // of a usual unit: the middle of those measured, > 0
    double continuous_a = 0; // that one unit may give; 0: not known
    double mass_kg = 0;      // 0: not known
    int cells_per_unit = 1;
};

struct DeviceDemand {
    std::optional<double> continuous_a, load_w, run_s;
};

struct Sizing {
    int parallel = 1;
    bool by_current = false; // the current asks for more units than the run time
    int units = 0;
    double energy_wh = 0; // at nominal voltage
    std::optional<double> run_s, mass_kg;
    bool enough = false; // as many are in stock
};

// For so many cells in series. Nothing where the model's units do not divide them, or nothing is known of its capacity.
[[nodiscard]] std::optional<Sizing> size_pack(int cells_in_series, const Chemistry& chemistry, const StockModel& stock,
                                              const DeviceDemand& demand);

} // namespace ingot
