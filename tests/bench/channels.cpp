// Several units in series, and a pack by its terminals, on a bay of a tester (N28).
#include "bench_process.h"
#include "bench_shop.h"
#include "workshop/bays.h"

#include <catch2/catch.hpp>

using namespace ingot;
using namespace ingot::tests;

namespace {

const QStringList wide{QStringLiteral("--most-v"), QStringLiteral("60"), QStringLiteral("--rate"),
                       QStringLiteral("10000")};

void attach_wide(Bays& bays, const SimProcess& sim) {
    bays.set_rate(10'000);
    bays.set_sample_interval(60);
    bays.set_poll_interval(20);
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    bays.set_room(20);
}

// A whole pack, as it came in.
Id add_pack(BenchShop& shop, const char* label, const char* chemistry, PackLayout layout, double claimed_ah) {
    const Id lot = shop.workshop->receive().add_lot({0, "LAN-02", "", "", "", {}}).value();
    Assembly p;
    p.lot = lot;
    p.label = label;
    p.chemistry = chemistry;
    p.layout = layout;
    p.claim.capacity_ah = claimed_ah;
    return shop.workshop->receive().add_pack(p).value();
}

} // namespace

TEST_CASE("bays: N28: three modules in series are conditioned on one bay; what they gave is no unit's capacity") {
    BenchShop shop;
    const SimProcess sim(shop.folder, wide);
    Bays bays(*shop.workshop);
    attach_wide(bays, sim);
    const OnChannel three = OnChannel::in_series({shop.modules[0], shop.modules[1], shop.modules[2]});
    CHECK_FALSE(bays.put_in(OnChannel::in_series({shop.modules[0], shop.cells[0]}), 1, "ni-conditioning"));
    CHECK_FALSE(bays.put_in(three, 1, "ni-capacity"));
    REQUIRE(bays.put_in(three, 1, "ni-conditioning"));
    CHECK_FALSE(bays.put_in(shop.modules[1], 2, "ni-conditioning")); // it stands in bay 1
    REQUIRE(wait_until([&] { return bays.bays()[0].look == BayLook::running; }));
    // Three times a module: about 24 V, which is what the tester read before current flowed.
    CHECK(*bays.bays()[0].found_v > 18);
    CHECK(bays.bay_of(shop.modules[2])->bay == 1);
    CHECK(bays.bays()[0].code == shop.code(shop.modules[0]) + " + 2 in series");
    REQUIRE(wait_until([&] { return bays.bays()[0].look == BayLook::lift_out; }, 90'000));
    CHECK(bays.bays()[0].cycles_ah.size() == 3);
    CHECK(bays.bays()[0].verdict);
    CHECK_FALSE(bays.bays()[0].capacity_ah);
    CHECK(bays.conditioning_rows().empty());
    const LogSamples log = shop.workshop->test().samples(bays.bays()[0].run);
    CHECK(*std::max_element(log.voltage_v.begin(), log.voltage_v.end()) > 24); // charged
    CHECK(*std::min_element(log.voltage_v.begin(), log.voltage_v.end()) > 3 * 6 * 0.9);
    for (std::size_t m = 0; m < 3; ++m) {
        CHECK_FALSE(shop.workshop->unit(shop.modules[m])->facts.capacity_ah);
        CHECK(shop.workshop->test().runs(shop.modules[m]).size() == 1);
    }
    REQUIRE(bays.lift_out(1));
    CHECK(bays.bay_of(shop.modules[1]) == nullptr);
}

TEST_CASE("bays: a pack by its terminals runs on a bay that can bear it, is picked up again, and is measured") {
    BenchShop shop;
    const Id row = add_pack(shop, "lantern row", "nimh", {2, 1, 6}, 6.5);
    const OnChannel pack = OnChannel::of_assembly(row);
    {
        const SimProcess narrow(shop.folder, {QStringLiteral("--most-v"), QStringLiteral("12")}, "narrow");
        Bays bays(*shop.workshop);
        attach_wide(bays, narrow);
        CHECK_FALSE(bays.put_in(pack, 1, "ni-capacity")); // 12 cells are more than its volts
        REQUIRE(bays.forget(narrow.address()));
    }
    const SimProcess sim(shop.folder, wide);
    {
        Bays bays(*shop.workshop);
        attach_wide(bays, sim);
        REQUIRE(bays.put_in(pack, 2, "ni-capacity"));
        REQUIRE(wait_until([&] { return bays.bays()[1].look == BayLook::running; }));
        CHECK(bays.bays()[1].code == "lantern row");
        CHECK_FALSE(bays.put_in(pack, 3, "ni-capacity"));
    }
    Bays bays(*shop.workshop); // as after a restart
    attach_wide(bays, sim);
    REQUIRE(wait_until([&] { return bays.bay_of_assembly(row) != nullptr; }));
    REQUIRE(wait_until([&] { return bays.bay_of_assembly(row)->look == BayLook::lift_out; }, 90'000));
    REQUIRE(bays.bay_of_assembly(row)->capacity_ah);
    const Id run = bays.bay_of_assembly(row)->run;
    int capacities = 0;
    for (const Measurement& m : shop.workshop->inventory().measurements(row)) {
        CHECK(m.run == run);
        CHECK(m.subject == Subject{0, row, 0, 0});
        if (m.quantity != Quantity::capacity)
            continue;
        ++capacities;
        CHECK(m.value > 0.5 * 6.5);
        CHECK(m.value < 6.6);
        CHECK(*m.conditions.cutoff_v == Approx(12).margin(0.3));
    }
    CHECK(capacities == 1);
    CHECK(shop.workshop->test().runs_of_assembly(row).size() == 1);
    REQUIRE(bays.lift_out(2));
    CHECK(bays.bay_of_assembly(row) == nullptr);
}

TEST_CASE("bays: a pack that runs hot is held apart as a whole") {
    BenchShop shop;
    const Id stick = add_pack(shop, "mower stick", "nmc", {4, 1, 1}, 2.6);
    REQUIRE(shop.workshop->receive().note_particulars(stick, 0, {{ParticularKind::board, "4S"}}));
    const SimProcess sim(shop.folder, wide);
    Bays bays(*shop.workshop);
    attach_wide(bays, sim);
    bays.set_fault("mower stick", "overheating");
    REQUIRE(bays.put_in(OnChannel::of_assembly(stick), 1, "li-capacity"));
    REQUIRE(wait_until([&] { return bays.bays()[0].look == BayLook::stopped; }, 90'000));
    CHECK(bays.bays()[0].stop == bench::StepEnd::hot);
    CHECK(shop.workshop->receive().pack_quarantined(stick));
    REQUIRE(bays.lift_out(1));
    CHECK_FALSE(bays.put_in(OnChannel::of_assembly(stick), 1, "li-capacity"));
}
