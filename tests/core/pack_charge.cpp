// A pack on its charger and on the shelf: by hand, by energy and charge, and by what must hold of any pack.
#include "core/build/pack_charge.h"
#include "core/cells/random.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace ingot;

namespace {

Chemistry charging_nmc() {
    Chemistry c;
    c.charge_limit_v = 4.20;
    c.charge_tolerance_v = 0.03;
    c.test_cutoff_v = 3.0;
    c.ocv = OcvCurve({0, 0.05, 0.2, 0.4, 0.6, 0.8, 1.0}, {3.0, 3.38, 3.55, 3.65, 3.80, 3.98, 4.18});
    return c;
}

ChargeDesign seven() {
    ChargeDesign d;
    d.groups.assign(7, {8.0, 0.012, 0.4, 1});
    d.charger_v = 29.4;
    d.charger_a = 4;
    d.balance_a = 0.06;
    return d;
}

} // namespace

TEST_CASE(
    "A level pack fills at its charger's voltage: the current tapers, the charge closes, nothing is left to level") {
    const auto run = charge_pack(seven(), charging_nmc());
    REQUIRE(run);
    const ChargeRun& r = run.value();
    CHECK(r.end == ChargeEnd::full);
    CHECK(r.highest_v == Approx(4.20).margin(1e-3)); // the charger holds 29.4 V over seven
    CHECK(r.charged_ah == Approx((r.soc[0] - 0.4) * 8));
    CHECK(r.hours > (r.soc[0] - 0.4) * 8 / 4); // no faster than its current
    CHECK(*r.balance_hours == Approx(0).margin(1e-9));
    // Twice the current is quicker, and ends with less in it: what the resistance takes at the end is larger.
    ChargeDesign quick = seven();
    quick.charger_a = 8;
    const ChargeRun q = charge_pack(quick, charging_nmc()).value();
    CHECK(q.hours < r.hours);
    CHECK(q.charged_ah < r.charged_ah);
    // In blocks of two cells over half the groups: the same pack, half the groups with twice the volts.
    ChargeDesign blocks = seven();
    blocks.groups.assign(7, {8.0, 0.024, 0.4, 2});
    blocks.charger_v = 58.8;
    const ChargeRun b = charge_pack(blocks, charging_nmc()).value();
    CHECK(b.charged_ah == Approx(r.charged_ah));
    CHECK(b.highest_v == Approx(r.highest_v));
}

TEST_CASE("A group that was joined high stops the charge, and the board needs hours to level it") {
    ChargeDesign d = seven();
    d.groups[5].soc = 0.46; // 6 % of 8 Ah
    const ChargeRun run = charge_pack(d, charging_nmc()).value();
    CHECK(run.end == ChargeEnd::group_full);
    CHECK(run.first_full == 5);
    CHECK(run.highest_v >= 4.23);
    CHECK(run.lowest_v < 4.20);
    CHECK(*run.balance_hours == Approx(0.06 * 8 / 0.06).epsilon(1e-6)); // 0.48 Ah at 60 mA: 8 h
    CHECK(run.unused_ah > 0.2);
    // The order of the groups does not matter.
    std::reverse(d.groups.begin(), d.groups.end());
    const ChargeRun turned = charge_pack(d, charging_nmc()).value();
    CHECK(turned.first_full == 1);
    CHECK(turned.hours == run.hours);
    // A charger that ends lower leaves it alone, and every group short.
    d.charger_v = 28.7;
    CHECK(charge_pack(d, charging_nmc()).value().end == ChargeEnd::full);
    // Without a board that levels nothing is said of hours.
    d.balance_a.reset();
    CHECK_FALSE(charge_pack(d, charging_nmc()).value().balance_hours);
}

TEST_CASE("What no charge can be computed of is refused") {
    Chemistry nickel = charging_nmc();
    nickel.charge_limit_v.reset();
    CHECK_FALSE(charge_pack(seven(), nickel));
    ChargeDesign d = seven();
    d.charger_a = 0;
    CHECK_FALSE(charge_pack(d, charging_nmc()));
    d = seven();
    d.groups[0].soc = 1.2;
    CHECK_FALSE(charge_pack(d, charging_nmc()));
    CHECK_FALSE(charge_pack({}, charging_nmc()));
    CHECK_FALSE(leave_on_shelf({}, charging_nmc(), 0.5, 0));
    CHECK_FALSE(leave_on_shelf({{8, -1}}, charging_nmc(), 0.5, 0));
}

TEST_CASE("On the shelf the leakiest group goes down first; what draws from all takes none apart") {
    const Chemistry c = charging_nmc();
    // 8 Ah at half: 4 mAh a day take a hundredth in twenty days.
    std::vector<ShelfGroup> groups{{8, 0.0004}, {8, 0.0044}, {8, 0.0004}};
    const ShelfStay stay = leave_on_shelf(groups, c, 0.5, 0).value();
    CHECK(stay.lowest == 1);
    CHECK(*stay.balance_days == Approx(0.03 * 8 / 0.0040));
    CHECK_FALSE(stay.empty_days); // 0.5 of 8 Ah lasts longer than two years
    CHECK(stay.points.size() == 25);
    CHECK(stay.points.front().highest_v == stay.points.front().lowest_v);
    CHECK(stay.points.back().highest_v > stay.points.back().lowest_v);
    // A board that draws 1 mA: 24 mAh a day of each.
    const ShelfStay drawn = leave_on_shelf(groups, c, 0.5, 0.001).value();
    CHECK(*drawn.balance_days == Approx(*stay.balance_days));
    CHECK(*drawn.empty_days == Approx(0.5 * 8 / (0.0044 + 0.024)));
    Random random(3);
    for (int k = 0; k < 50; ++k) {
        std::vector<ShelfGroup> any;
        for (int g = 0; g < 6; ++g)
            any.push_back({2 + 8 * random.unit(), 0.01 * random.unit()});
        const ShelfStay one = leave_on_shelf(any, c, 0.6, 0.0002).value();
        for (ShelfGroup& group : any) { // twice the cells, twice the leak, twice the draw: nothing changes
            group.capacity_ah *= 2;
            group.leak_ah_per_day *= 2;
        }
        const ShelfStay twice = leave_on_shelf(any, c, 0.6, 0.0004).value();
        CHECK(twice.lowest == one.lowest);
        CHECK(twice.points.back().lowest_v == Approx(one.points.back().lowest_v));
        for (std::size_t i = 1; i < one.points.size(); ++i)
            CHECK(one.points[i].lowest_v <= one.points[i - 1].lowest_v);
    }
}
