#include "core/build/sizing.h"

#include <algorithm>
#include <cmath>

namespace ingot {

std::optional<Sizing> size_pack(int cells_in_series, const Chemistry& chemistry, const StockModel& stock,
                                const DeviceDemand& demand) {
    if (cells_in_series < 1 || stock.cells_per_unit < 1 || cells_in_series % stock.cells_per_unit != 0 ||
        !(stock.capacity_ah > 0) || !(chemistry.nominal_v() > 0))
        return std::nullopt;
    constexpr double seconds_per_hour = 3600;
    constexpr double hair = 1e-9;
    constexpr int most = 1000;
    const double string_wh = cells_in_series * chemistry.nominal_v() * stock.capacity_ah;
    const auto whole = [](double ratio) { return static_cast<int>(std::ceil(std::min<double>(ratio, most) - hair)); };
    int for_run = 1;
    int for_current = 1;
    if (demand.load_w && demand.run_s)
        for_run = std::max(1, whole(*demand.load_w * *demand.run_s / seconds_per_hour / string_wh));
    if (demand.continuous_a && stock.continuous_a > 0)
        for_current = std::max(1, whole(*demand.continuous_a / stock.continuous_a));
    Sizing out;
    out.parallel = std::max(for_run, for_current);
    out.by_current = for_current > for_run;
    out.units = cells_in_series / stock.cells_per_unit * out.parallel;
    out.energy_wh = string_wh * out.parallel;
    if (demand.load_w && *demand.load_w > 0)
        out.run_s = out.energy_wh / *demand.load_w * seconds_per_hour;
    if (stock.mass_kg > 0)
        out.mass_kg = stock.mass_kg * out.units;
    out.enough = stock.in_stock >= out.units;
    return out;
}

} // namespace ingot
