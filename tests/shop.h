// A workshop of the tests' own that knows the demo's unit models.
#pragma once

#include "exchange/text_file.h"
#include "workshop/workshop.h"

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

// The cells of a lantern's pack of that layout, opened into tray S1, group after group.
inline std::vector<Id> lantern_cells(Workshop& shop, const PackLayout& layout, const char* chemistry = "nmc",
                                     const char* model = "H26") {
    Assembly pack;
    pack.lot = shop.receive().add_lot({0, "LAN-01", "", "", "", {}}).value();
    pack.label = "lantern";
    pack.chemistry = chemistry;
    pack.format = "18650";
    pack.layout = layout;
    const Id id = shop.receive().add_pack(pack).value();
    (void)shop.receive().set_state(id, AssemblyState::to_open).value();
    return shop.open().open_pack(id, "K4", model, "S1").value();
}

} // namespace ingot::tests
