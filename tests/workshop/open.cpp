// Open: trays, recycling, photos, teardown steps, yield.
#include "core/shop/found_parts.h"
#include "workshop/workshop.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

struct OpenShop {
    Temporary folder;
    std::unique_ptr<Workshop> workshop;
    Id pack = 0;
    std::vector<Id> units;

    OpenShop() {
        workshop = tests::new_shop(folder.file("w.ingot"), "Fellside");
        const Id lot = workshop->receive().add_lot({0, "LAN-31", "trail lanterns", "", "", {}}).value();
        Assembly record;
        record.lot = lot;
        record.label = "LAN-31 · pack 1";
        record.chemistry = "nmc";
        record.layout = {3, 2, 1};
        record.state = AssemblyState::to_open;
        pack = workshop->receive().add_pack(record).value();
        units = workshop->open().open_pack(pack, "K7", model(), "A1").value();
    }
    [[nodiscard]] std::string model() const {
        for (const auto& [id, m] : workshop->library().models)
            if (m.chemistry == "nmc" && m.cells_in_series == 1)
                return id;
        return "H26";
    }
};

} // namespace

TEST_CASE("Trays: the next free well, a size that holds what stands in it, full") {
    OpenShop shop;
    Workshop& w = *shop.workshop;
    CHECK(w.unit(shop.units[5])->record.well == 6);
    CHECK(w.open().put_in_tray(shop.units[5], "B2").value() == 1);
    CHECK(w.open().put_in_tray(shop.units[4], "B2").value() == 2);
    CHECK_FALSE(w.open().set_tray_size("B2", 1, 1)); // well 2 is taken
    CHECK(w.open().set_tray_size("B2", 2, 1));
    const auto full = w.open().put_in_tray(shop.units[3], "B2");
    CHECK_FALSE(full);
    CHECK(full.problem().sentence.english().find("full") != std::string::npos);
    CHECK(w.open().put_in_tray(shop.units[4], "B2").value() == 2); // where it stands
    CHECK_FALSE(w.open().set_tray_size("B2", 0, 4));
    CHECK(w.open().tray_names() == std::vector<std::string>{"A1", "B2"});
}

TEST_CASE("Straight to recycling: out of the tray, into the manifest, and its well is free again") {
    OpenShop shop;
    Workshop& w = *shop.workshop;
    CHECK(w.receive().note_finding(0, shop.units[0], "leaking"));
    CHECK(w.open().recycle_unit(shop.units[0]));
    CHECK(w.open().recycle_unit(shop.units[1]));
    CHECK(w.open().put_in_tray(shop.units[5], "A1").value() == 1);
    const auto manifest = w.open().recycling_manifest();
    REQUIRE(manifest.size() == 2);
    const double mass = w.library().model(shop.model())->mass_kg;
    for (const ManifestLine& line : manifest) {
        CHECK(line.units == 1);
        CHECK(line.mass_kg == Approx(mass));
        CHECK(line.without_mass == 0);
    }
    CHECK(manifest[0].damaged != manifest[1].damaged);
    CHECK(OpenService::manifest_csv(manifest).find(",damaged,1,") != std::string::npos);
    for (const YieldBy by : {YieldBy::lot, YieldBy::source, YieldBy::model}) {
        const auto rows = w.open().yields(by);
        REQUIRE(rows.size() == 1);
        CHECK(rows[0].units == 6);
        CHECK(rows[0].scrap == 2);
        CHECK(rows[0].undecided == 4);
    }
    CHECK(w.open().yields(YieldBy::source)[0].of == "trail lanterns");
}

TEST_CASE("Mixed packs: a model for each unit, of the pack's chemistry only") {
    OpenShop shop;
    Workshop& w = *shop.workshop;
    CHECK(w.open().set_unit_model(shop.units[2], "X-unknown"));
    CHECK(w.unit(shop.units[2])->record.model == "X-unknown");
    for (const auto& [id, m] : w.library().models)
        if (m.chemistry != "nmc") {
            CHECK_FALSE(w.open().set_unit_model(shop.units[2], id));
            break;
        }
    CHECK_FALSE(w.open().set_unit_model(shop.units[2], ""));
}

TEST_CASE("Photos: pictures only, up to their limit; teardown steps tick and untick") {
    OpenShop shop;
    Workshop& w = *shop.workshop;
    const std::string picture = std::string("\x89PNG\r\n\x1A\n", 8) + std::string(100, 'x');
    CHECK(w.open().attach_photo(shop.pack, "/somewhere/strip.png", picture));
    REQUIRE(w.open().photos(shop.pack).size() == 1);
    CHECK(w.open().photos(shop.pack)[0].name == "strip.png");
    CHECK_FALSE(w.open().attach_photo(shop.pack, "notes.txt", "hello"));
    CHECK_FALSE(w.open().attach_photo(shop.pack, "big.png", picture + std::string(9 * 1024 * 1024, 'x')));
    const exchange::TeardownPlan* plan = w.open().teardown_plan(*w.pack(shop.pack));
    REQUIRE(plan != nullptr);
    CHECK(plan->fits == "any");
    CHECK_FALSE(w.open().step_done(shop.pack, plan->steps[0].id));
    CHECK(w.open().tick_step(shop.pack, plan->steps[0].id, true));
    CHECK(w.open().step_done(shop.pack, plan->steps[0].id));
    CHECK(w.open().tick_step(shop.pack, plan->steps[0].id, false));
    CHECK_FALSE(w.open().step_done(shop.pack, plan->steps[0].id));
    Assembly big;
    big.chemistry = "nmc";
    big.layout = {20, 1, 1};
    CHECK(w.open().teardown_plan(big)->fits == "high-voltage");
    big.chemistry = "nimh";
    big.layout = {4, 1, 6};
    CHECK(w.open().teardown_plan(big)->fits == "modules");
}

TEST_CASE("A strip drawing: the usual one first, kept as drawn, gaps named") {
    OpenShop shop;
    Workshop& w = *shop.workshop;
    CHECK_FALSE(w.open().strips_drawn(shop.pack));
    StripDrawing drawing = w.open().strip_drawing(shop.pack);
    CHECK(drawing == StripDrawing::usual(3));
    CHECK(drawing.front == std::vector<std::pair<int, int>>{{1, 2}});
    CHECK(drawing.back == std::vector<std::pair<int, int>>{{2, 3}});
    CHECK(drawing.gaps(3).empty());
    drawing.toggle(StripDrawing::Face::back, 3, 2); // taken away
    drawing.toggle(StripDrawing::Face::front, 3, 1);
    drawing.toggle(StripDrawing::Face::front, 2, 2); // nothing
    drawing.free_to_slide = StripDrawing::Face::back;
    CHECK(drawing.gaps(3) == std::vector<int>{2});
    CHECK(w.open().keep_strip_drawing(shop.pack, drawing));
    CHECK(w.open().strips_drawn(shop.pack));
    const std::string path = w.path();
    shop.workshop.reset();
    auto again = Workshop::open(path);
    REQUIRE(again);
    CHECK(again.value()->open().strip_drawing(shop.pack) == drawing);
}

TEST_CASE("N29: a plan of the shop's own serves its kind of pack, never in the place of the one over 60 V") {
    const OpenShop shop;
    Workshop& w = *shop.workshop;
    Assembly lantern = *w.pack(shop.pack);
    exchange::TeardownPlan own = *w.open().teardown_plan(lantern);
    REQUIRE(own.fits == "any");
    own.id = "lanterns";
    own.kind = "trail lanterns";
    own.steps.front().text = "Four screws under the label.";
    REQUIRE(w.catalogue().save_teardown_plan(exchange::write_teardown_plan(own)));
    CHECK(w.open().teardown_plan(lantern)->id == "lanterns");
    CHECK(w.open().teardown_plan(lantern)->kind == "trail lanterns");
    Assembly mower = lantern;
    mower.lot = w.receive().add_lot({0, "MOW-01", "municipal robot mowers", "", "", {}}).value();
    CHECK(w.open().teardown_plan(mower)->kind.empty());
    lantern.layout = {20, 1, 1}; // 84 V
    CHECK(w.open().teardown_plan(lantern)->fits == "high-voltage");
}

TEST_CASE("N29: parts found in a pack read back from their line, and are kept with the pack") {
    const FoundParts parts{{FoundPart::board, "box 3; its leads cut"}, {FoundPart::wires, "two, under cells 4 and 5"}};
    const std::string line = write_found_parts(parts);
    CHECK(line == "board: box 3, its leads cut; wires: two, under cells 4 and 5");
    CHECK(write_found_parts(read_found_parts(line)) == line);
    CHECK(read_found_parts("moon: cheese; board; ; sensor: on the case").size() == 1);
    CHECK(write_found_parts({{FoundPart::sensor, ""}}).empty());
    const OpenShop shop;
    Workshop& w = *shop.workshop;
    REQUIRE(w.receive().note_particulars(shop.pack, 0, {{ParticularKind::parts_found, line}}));
    const auto again = Workshop::open(shop.folder.file("w.ingot"));
    // The file is this bench's: another reads it.
    const auto known = again.value()->receive().particulars(shop.pack);
    CHECK(read_found_parts(known.at(ParticularKind::parts_found)).at(FoundPart::board) == "box 3, its leads cut");
}
