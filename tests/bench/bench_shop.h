// A shop with cells and modules that may go on a bay.
#pragma once

#include "shop.h"

#include <catch2/catch.hpp>

namespace ingot::tests {

struct BenchShop {
    Temporary folder;
    std::string file = folder.file("w.ingot");
    std::unique_ptr<Workshop> workshop = new_shop(file, "Bench shop");
    std::vector<Id> cells, modules;

    BenchShop() {
        const Id lot = workshop->receive().add_lot({0, "MOW-07", "", "", "", {}}).value();
        const auto open = [&](const char* label, const char* chemistry, const char* format, const char* model,
                              int series, int parallel, int in_series) {
            Assembly p;
            p.lot = lot;
            p.label = label;
            p.chemistry = chemistry;
            p.format = format;
            p.layout = {series, parallel, in_series};
            const Id id = workshop->receive().add_pack(p).value();
            REQUIRE(workshop->receive().set_state(id, AssemblyState::to_open));
            return workshop->open().open_pack(id, "K4", model, "T1").value();
        };
        cells = open("cells", "nmc", "18650", "H26", 4, 4, 1);
        modules = open("modules", "nimh", "", "G65M", 6, 1, 6);
    }
    [[nodiscard]] std::string code(Id unit) const { return workshop->unit(unit)->code(); }
};

} // namespace ingot::tests
