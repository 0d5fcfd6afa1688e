// The arithmetic of the routes against tables worked by hand. The prices are made up; what is multiplied with what is
// common practice, no source.
#include "core/worth/worth.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <limits>

using namespace ingot;

namespace {

// Ten units of 10 Wh, two of them dead, a repaired pack holds 80 %.
WorthCase ten() {
    WorthCase c;
    c.pack = {10, 2, 10, 0.8, 2, 0};
    c.prices = {20, 4, 1.5, 1, 6, 25, 8, 0, 0, 0, 30, 0};
    c.hours = {1.5, 0.25, 0.1, 0.5, 0.12, 3, 0.3};
    c.outlook = {{{2.0, 0.75, 0.5},
                  {1.5, 0.70, 0.25},
                  {2.0, 0.75, 0.5},
                  {5.0, 0.92, 1.0},
                  {6.0, 0.80, 1.0},
                  {5.0, 0.99, 2.0},
                  {2.0, 0.85, 0.25},
                  {3.0, 0.50, 0.0}}};
    c.prices.new_pack = 150;
    c.prices.reconditioned_pack = 80;
    return c;
}

const RouteFigures& of(const WorthResult& result, WorthRoute route) {
    return result.routes[static_cast<std::size_t>(route)];
}

} // namespace

TEST_CASE("Every route's parts, hours and cost, worked by hand") {
    const auto weighed = weigh_routes(ten());
    REQUIRE(weighed);
    const WorthResult& r = weighed.value();
    // 2 x 4 + 8 = 16; 1.5 + 2 x (0.25 + 0.10) + 0.5 = 2.7 h at 20 = 54; 70 for 80 Wh; two years at 75 %.
    const RouteFigures& bought = of(r, WorthRoute::repair_with_bought_units);
    CHECK(bought.parts == Approx(16));
    CHECK(bought.hours == Approx(2.7));
    CHECK(bought.cost == Approx(70));
    CHECK(bought.wh == Approx(80));
    CHECK(bought.cost_per_wh == Approx(0.875));
    CHECK(bought.cost_per_wh_year == Approx(70.0 / (80 * 2 * 0.75)));
    // 10 x 6 + 8 = 68; 1.5 + 10 x 0.12 + 0.5 = 3.2 h = 64; the 8 good ones bring 12 but take 0.8 h = 16: nothing.
    const RouteFigures& rebuild = of(r, WorthRoute::rebuild);
    CHECK(rebuild.parts == Approx(68));
    CHECK(rebuild.left_over == Approx(0));
    CHECK(rebuild.cost == Approx(132));
    CHECK(rebuild.cost_per_wh_year == Approx(132 / (100 * 5 * 0.92)));
    // 150 and 0.3 h.
    CHECK(of(r, WorthRoute::buy_new).cost == Approx(156));
    CHECK(of(r, WorthRoute::buy_reconditioned).cost == Approx(86));
    CHECK(of(r, WorthRoute::buy_reconditioned).wh == Approx(80));
    // 1.5 + 8 x 0.1 h.
    CHECK(of(r, WorthRoute::break_for_units).cost == Approx(46));
    CHECK(of(r, WorthRoute::break_for_units).wh == Approx(64));
    CHECK_FALSE(of(r, WorthRoute::repair_from_stock).possible);
    CHECK(of(r, WorthRoute::repair_from_donors).possible);
    CHECK_FALSE(of(r, WorthRoute::convert).possible);
}

TEST_CASE("What is left over counts when it pays the hands") {
    WorthCase c = ten();
    c.prices.hour = 2;
    const auto r = weigh_routes(c).value();
    // 8 x 1.5 - 0.8 h x 2 = 10.4 of a rebuilt pack; of one that must be opened for it 8 x 1.5 - 2.3 h x 2 = 7.4.
    CHECK(of(r, WorthRoute::rebuild).left_over == Approx(10.4));
    CHECK(of(r, WorthRoute::buy_new).left_over == Approx(7.4));
    CHECK(of(r, WorthRoute::rebuild).cost == Approx(64));
    // Break-even: 64 / 460 a Wh and year, times 120, less 8 + 5.4, for two units.
    REQUIRE(r.break_even_unit);
    CHECK(*r.break_even_unit == Approx((64.0 / 460 * 120 - 13.4) / 2));
    WorthCase at_even = c;
    at_even.prices.bought_unit = *r.break_even_unit;
    const auto even = weigh_routes(at_even).value();
    CHECK(of(even, WorthRoute::repair_with_bought_units).cost_per_wh_year ==
          Approx(of(even, WorthRoute::rebuild).cost_per_wh_year));
    CHECK_FALSE(weigh_routes(ten()).value().break_even_unit); // at 20 an hour not even for nothing
}

TEST_CASE("The weights decide, and the turning point really turns it") {
    WorthCase c = ten();
    c.weights = {1, 0, 0};
    const auto money = weigh_routes(c).value();
    REQUIRE(money.winner);
    for (const RouteFigures& f : money.routes)
        if (f.possible)
            CHECK(of(money, *money.winner).cost_per_wh_year <= f.cost_per_wh_year + 1e-12);
    c.weights = {0, 1, 0};
    CHECK(of(weigh_routes(c).value(), WorthRoute::buy_new).time_mark == Approx(1));
    c.weights = {0, 0, 5};
    CHECK(weigh_routes(c).value().winner == WorthRoute::buy_new); // 0.99 is the best chance
    c.weights = {0.6, 0.2, 0.2};
    const auto r = weigh_routes(c).value();
    REQUIRE_FALSE(r.turning_points.empty());
    for (const TurningPoint& t : r.turning_points) {
        WorthCase changed = c;
        if (t.figure == TurningPoint::Figure::hour)
            changed.prices.hour = t.value;
        else if (t.figure == TurningPoint::Figure::new_pack)
            changed.prices.new_pack = t.value;
        else
            continue;
        CHECK(weigh_routes(changed).value().winner == t.winner);
    }
}

TEST_CASE("What worth objects to") {
    const auto bad = [](auto change) {
        WorthCase c = ten();
        change(c);
        CHECK_FALSE(weigh_routes(c));
    };
    bad([](WorthCase& c) { c.pack.units = 0; });
    bad([](WorthCase& c) { c.pack.units_to_replace = 11; });
    bad([](WorthCase& c) { c.pack.unit_wh = 0; });
    bad([](WorthCase& c) { c.pack.kept_share = 1.2; });
    bad([](WorthCase& c) { c.prices.hour = -1; });
    bad([](WorthCase& c) { c.hours.prove = std::numeric_limits<double>::quiet_NaN(); });
    bad([](WorthCase& c) { c.outlook[0].years = 0; });
    bad([](WorthCase& c) { c.outlook[0].chance = 1.5; });
    bad([](WorthCase& c) { c.weights = {0, 0, 0}; });
    WorthCase none = ten();
    none.pack.units_to_replace = 0;
    CHECK_FALSE(of(weigh_routes(none).value(), WorthRoute::repair_with_bought_units).possible);
    for (int r = 0; r < route_count; ++r)
        CHECK(route_from(code(static_cast<WorthRoute>(r))) == static_cast<WorthRoute>(r));
}
