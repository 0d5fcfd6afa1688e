// A workshop of the tests' own that knows the demo's unit models.
#pragma once

#include "exchange/text_file.h"
#include "workshop/workshop.h"

#include <algorithm>
#include <memory>
#include <string>
#include <vector>

namespace ingot::tests {

inline std::unique_ptr<Workshop> new_shop(const std::string& path, const std::string& name) {
    auto shop = Workshop::create(path, name).value();
    const std::string models = Workshop::shipped_folder("demo") + "/models.toml";
    (void)shop->catalogue().bring_in_models(exchange::read_text(models).value(), models).value();
    return shop;
}

// The units of one pack of that layout, opened into tray S1, group after group.
inline std::vector<Id> opened_pack(Workshop& shop, Id lot, const std::string& label, const PackLayout& layout,
                                   const char* chemistry, const char* model) {
    Assembly pack;
    pack.lot = lot;
    pack.label = label;
    pack.chemistry = chemistry;
    pack.format = "18650";
    pack.layout = layout;
    const Id id = shop.receive().add_pack(pack).value();
    (void)shop.receive().set_state(id, AssemblyState::to_open).value();
    return shop.open().open_pack(id, "K4", model, "S1").value();
}

// The cells of a lantern's pack of that layout.
inline std::vector<Id> lantern_cells(Workshop& shop, const PackLayout& layout, const char* chemistry = "nmc",
                                     const char* model = "H26") {
    const Id lot = shop.receive().add_lot({0, "LAN-01", "", "", "", {}}).value();
    return opened_pack(shop, lot, "lantern", layout, chemistry, model);
}

// As many of them, out of packs that stay under the 60 V of the gate.
inline std::vector<Id> units_in_low_packs(Workshop& shop, const PackLayout& layout, const char* chemistry,
                                          const char* model) {
    const Id lot = shop.receive().add_lot({0, "LAN-01", "", "", "", {}}).value();
    constexpr int low = 6;
    std::vector<Id> out;
    for (int left = layout.series; left > 0; left -= low)
        for (const Id unit :
             opened_pack(shop, lot, "lantern " + std::to_string(left),
                         {std::min(low, left), layout.parallel, layout.cells_per_unit}, chemistry, model))
            out.push_back(unit);
    return out;
}

} // namespace ingot::tests
