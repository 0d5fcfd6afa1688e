// N18: blocks: a device reads several units in series by one tap, the bench reads each of them.
#include "workshop/workshop.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <set>

using namespace ingot;
using tests::Temporary;

namespace {

struct BlockShop {
    Temporary folder;
    std::string file = folder.file("w.ingot");
    std::unique_ptr<Workshop> shop = tests::new_shop(file, "Blocks");
    Id pack = 0;

    BlockShop() {
        const Id lot = shop->receive().add_lot({0, "BUO-09", "", "", "", {}}).value();
        Assembly p;
        p.lot = lot;
        p.label = "buoy row";
        p.chemistry = "nimh";
        p.layout = {17, 1, 6, 2};
        p.claim.capacity_ah = 6.5;
        p.state = AssemblyState::in_triage;
        pack = shop->receive().add_pack(p).value();
        REQUIRE(shop->receive().pass_gate(pack));
    }
    // As the device's snapshot says it: each block, one a cell's worth low.
    void snapshot(int low, double low_v) const {
        for (int block = 1; block <= 17; ++block)
            REQUIRE(shop->triage().record_group_reading(pack, block, block == low ? low_v : 15.9 + 0.02 * (block % 3),
                                                        Condition::rest, "device", {}));
    }
    void read_unit(int block, int place, double volts) const {
        Measurement m;
        m.subject = {0, pack, block, place};
        m.value = volts;
        REQUIRE(shop->triage().record(m, ""));
    }
};

} // namespace

TEST_CASE("N18: 17 blocks of two modules: a block's voltage is of twelve cells, the pack's of 204") {
    BlockShop b;
    const Assembly& pack = *b.shop->pack(b.pack);
    CHECK(pack.layout.cells_per_tap() == 12);
    CHECK(pack.layout.cells_in_series() == 204);
    CHECK(pack.layout.units() == 34);
    CHECK(b.shop->receive().needs_gate(pack));
    b.snapshot(0, 0);
    // 15.9 V is a working block of twelve cells; a pair of six-cell modules that was taken for one module would be
    // over.
    for (const auto& finding : b.shop->triage().result(b.pack).groups)
        CHECK(finding.state == GroupState::working);
    // A block reads no more than twelve full cells.
    CHECK_FALSE(b.shop->triage().record_group_reading(b.pack, 3, 31.0, Condition::rest, "meter", {}));
    // The file keeps it.
    b.shop.reset();
    b.shop = std::move(Workshop::open(b.file).value());
    CHECK(b.shop->pack(b.pack)->layout == PackLayout{17, 1, 6, 2});
}

TEST_CASE("N18: the block that lacks a cell is named from the device's figures, its module from the bench's") {
    BlockShop b;
    b.snapshot(6, 14.65); // one of its twelve cells is dead
    const auto& said = b.shop->triage().explained(b.pack);
    REQUIRE_FALSE(said.explanations.empty());
    const Explanation& first = said.explanations.front();
    CHECK(first.fault == Fault::dead_group);
    CHECK(first.groups == std::vector<int>{6});
    // Each module of the block is read by itself, without cutting anything; both stand in one case.
    b.read_unit(6, 1, 7.96);
    b.read_unit(6, 2, 6.69);
    CHECK_FALSE(b.shop->triage().record(
        [&] {
            Measurement m;
            m.subject = {0, b.pack, 6, 3};
            m.value = 7.9;
            return m;
        }(),
        "")); // a block of two has no third
    const auto& known = b.shop->triage().triage_case(b.pack);
    CHECK(known.units.size() == 2);
    const auto& settled = b.shop->triage().explained(b.pack);
    CHECK(settled.explanations.front().groups == std::vector<int>{6});
    bool named = false;
    for (const Way& way : b.shop->triage().ways(b.pack))
        if (way.way == WayForward::swap_unit)
            named = way.odd_units == std::vector<std::string>{"2"};
    CHECK(named);
}

TEST_CASE("N18: a block opens into its modules, each with its own code and place") {
    BlockShop b;
    REQUIRE(b.shop->receive().set_state(b.pack, AssemblyState::to_open));
    const auto units = b.shop->open().open_pack(b.pack, "K4", "G65M", "T1").value();
    REQUIRE(units.size() == 34);
    std::set<std::pair<int, int>> places;
    for (const Id unit : units) {
        const UnitState& state = *b.shop->unit(unit);
        places.insert({state.record.group, state.record.place});
        CHECK(state.reference.cells_in_series == 6); // the module's own, not the block's
    }
    CHECK(places.size() == 34);
    CHECK(places.contains({17, 2}));
    CHECK_FALSE(places.contains({17, 3}));
}

TEST_CASE("N18: what was taken for modules turns out to be blocks: the layout is corrected with a trail") {
    BlockShop b;
    REQUIRE(b.shop->receive().correct_layout(b.pack, {17, 1, 12, 1}, "no tap was seen between"));
    CHECK(b.shop->pack(b.pack)->layout.units() == 17);
    REQUIRE(b.shop->receive().correct_layout(b.pack, {17, 1, 6, 2}, "the lid shows two modules a sensor"));
    CHECK(b.shop->pack(b.pack)->layout.units() == 34);
    CHECK_FALSE(b.shop->receive().correct_layout(b.pack, {17, 1, 6, 13}, "too many"));
    const auto events = b.shop->ledger().events_of("buoy row");
    CHECK(std::count_if(events.begin(), events.end(), [](const Event& e) { return e.what == "layout corrected"; }) ==
          2);
}
