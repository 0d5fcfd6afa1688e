// The arithmetic of the routes against tables worked by hand. The prices are made up; what is multiplied with what, and
// which routes a shop weighs, is common practice, no source.
#include "core/worth/worth.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <limits>

using namespace ingot;

namespace {

using R = WorthRoute;

// Ten units of 10 Wh, two of them dead, a repaired pack holds 80 %. No freight, no waiting: cases add their own.
WorthCase ten() {
    WorthCase c;
    c.pack = {10, 2, 10, 2, 0, {}, {}};
    c.prices = {20, 1.5, 25, 30, 8, 0};
    c.hours = {1.5, 0.25, 0.1, 0.5, 0.12, 0};
    for (RouteTerms& t : c.terms) {
        t.years = 2;
        t.chance = 0.75;
    }
    const auto set = [&](R route, double price, double kept, double years, double chance, double hours = 0) {
        RouteTerms& t = c.of(route);
        t.price = price;
        t.kept_share = kept;
        t.years = years;
        t.chance = chance;
        t.extra_hours = hours;
    };
    set(R::repair_from_stock, 0, 0.8, 2, 0.75);
    set(R::repair_from_donors, 1, 0.8, 1.5, 0.70);
    set(R::repair_with_bought_units, 4, 0.8, 2, 0.75);
    set(R::rebuild, 6, 1, 5, 0.92);
    set(R::convert, 0, 1, 6, 0.80, 3);
    set(R::buy_new, 150, 1, 5, 0.99, 0.3);
    set(R::buy_reconditioned, 80, 0.8, 2, 0.85, 0.3);
    set(R::break_for_units, 0, 0.8, 3, 0.5);
    return c;
}

const RouteFigures& of(const WorthResult& result, WorthRoute route) {
    return result.routes[static_cast<std::size_t>(route)];
}

WorthResult weighed(const WorthCase& c) {
    const auto result = weigh_routes(c);
    REQUIRE(result);
    return result.value();
}

} // namespace

TEST_CASE("Every route's parts, hours and cost, worked by hand") {
    const WorthResult r = weighed(ten());
    // 2 x 4 + 8 = 16; 1.5 + 2 x (0.25 + 0.10) + 0.5 = 2.7 h at 20 = 54; 70 for 80 Wh; two years at 75 %.
    const RouteFigures& bought = of(r, R::repair_with_bought_units);
    CHECK(bought.parts == Approx(16));
    CHECK(bought.hours == Approx(2.7));
    CHECK(bought.cost == Approx(70));
    CHECK(bought.wh == Approx(80));
    CHECK(bought.cost_per_wh == Approx(0.875));
    CHECK(bought.cost_per_wh_year == Approx(70.0 / (80 * 2 * 0.75)));
    // 10 x 6 + 8 = 68; 1.5 + 10 x 0.12 + 0.5 = 3.2 h = 64; the 8 good ones bring 12 but take 0.8 h = 16: nothing.
    const RouteFigures& rebuild = of(r, R::rebuild);
    CHECK(rebuild.parts == Approx(68));
    CHECK(rebuild.left_over == Approx(0));
    CHECK(rebuild.cost == Approx(132));
    CHECK(rebuild.cost_per_wh_year == Approx(132 / (100 * 5 * 0.92)));
    // 150 and 0.3 h.
    CHECK(of(r, R::buy_new).cost == Approx(156));
    CHECK(of(r, R::buy_reconditioned).cost == Approx(86));
    CHECK(of(r, R::buy_reconditioned).wh == Approx(80));
    CHECK_FALSE(of(r, R::repair_from_stock).possible);
    CHECK(of(r, R::repair_from_donors).possible);
    CHECK(std::string(of(r, R::convert).obstacle) == "no-price");
    CHECK(std::string(of(r, R::break_for_units).obstacle) == "not-wanted");
}

TEST_CASE("N8: stock is wanted: only breaking and recycling count, and what a unit taken out costs is said") {
    WorthCase c = ten();
    c.aim = WorthAim::stock;
    c.prices.hour = 2;
    const WorthResult r = weighed(c);
    // 1.5 + 8 x 0.1 = 2.3 h at 2 = 4.6; half of the 8 pass at 1.5: 6.
    CHECK(of(r, R::break_for_units).hours == Approx(2.3));
    CHECK(of(r, R::break_for_units).left_over == Approx(6));
    CHECK(of(r, R::break_for_units).cost == Approx(-1.4));
    CHECK(of(r, R::break_for_units).wh == Approx(64));
    CHECK(*r.unit_cost == Approx(4.6 / 4));
    CHECK(r.winner == R::break_for_units);
    for (int route = 0; route < route_count; ++route)
        CHECK(of(r, static_cast<R>(route)).possible == !gives_device(static_cast<R>(route)));
    // At the full rate the hands cost more than the units bring: 46 against nothing.
    c.prices.hour = 20;
    CHECK(weighed(c).winner == R::recycle);
    // A pack dead all through has nothing to take out.
    c.pack.units_to_replace = 10;
    CHECK(std::string(of(weighed(c), R::break_for_units).obstacle) == "nothing-left");
    CHECK_FALSE(weighed(c).unit_cost);
}

TEST_CASE("What is left over counts when it pays the hands") {
    WorthCase c = ten();
    c.prices.hour = 2;
    const auto r = weighed(c);
    // 8 x 1.5 - 0.8 h x 2 = 10.4 of a rebuilt pack; of one that must be opened for it 8 x 1.5 - 2.3 h x 2 = 7.4.
    CHECK(of(r, R::rebuild).left_over == Approx(10.4));
    CHECK(of(r, R::buy_new).left_over == Approx(7.4));
    CHECK(of(r, R::rebuild).cost == Approx(64));
    // Break-even: 64 / 460 a Wh and year, times 120, less 8 + 5.4, for two units.
    REQUIRE(r.break_even_unit);
    CHECK(*r.break_even_unit == Approx((64.0 / 460 * 120 - 13.4) / 2));
    WorthCase at_even = c;
    at_even.of(R::repair_with_bought_units).price = *r.break_even_unit;
    const auto even = weighed(at_even);
    CHECK(of(even, R::repair_with_bought_units).cost_per_wh_year == Approx(of(even, R::rebuild).cost_per_wh_year));
    CHECK_FALSE(weighed(ten()).break_even_unit); // at 20 an hour not even for nothing
}

TEST_CASE("N8: no charger at hand burdens every route that needs one, and only those") {
    WorthCase c = ten();
    c.of(R::whole_device).price = 300;
    c.of(R::whole_device).charger = WorthPart::none; // it brings its own
    c.of(R::convert).price = 3;
    c.of(R::convert).charger = WorthPart::new_one;
    const WorthResult unknown = weighed(c);
    c.pack.charger_at_hand = true;
    const WorthResult there = weighed(c);
    c.pack.charger_at_hand = false;
    const WorthResult missing = weighed(c);
    for (const R route :
         {R::repair_from_donors, R::repair_with_bought_units, R::rebuild, R::buy_new, R::buy_reconditioned}) {
        CHECK(of(missing, route).cost == Approx(of(there, route).cost + 30));
        CHECK(of(unknown, route).cost == Approx(of(there, route).cost)); // nobody knows: nothing is made up
        CHECK(of(missing, route).charger == 30);
    }
    CHECK(of(missing, R::whole_device).cost == Approx(of(there, R::whole_device).cost));
    CHECK(of(there, R::convert).charger == 30); // another chemistry, another charger
    CHECK(of(missing, R::convert).cost == Approx(of(there, R::convert).cost));
    // A dead board burdens what goes on using it.
    c.of(R::rebuild).board = WorthPart::old_one;
    c.pack.board_sound = false;
    CHECK(of(weighed(c), R::rebuild).cost == Approx(of(missing, R::rebuild).cost + 25));
}

TEST_CASE("N8: 20 nickel cells become 5 lithium ones, or 6") {
    // 20 cells of 1.2 V and 2.0 Ah: 48 Wh. Lithium of 3.6 V, 2.5 Ah: 9 Wh each.
    WorthCase c = ten();
    c.pack = {20, 20, 2.4, 0, 0, true, {}};
    RouteTerms& convert = c.of(R::convert);
    convert.price = 5;
    convert.units = 5;
    convert.unit_wh = 9;
    convert.charger = WorthPart::new_one;
    convert.board = WorthPart::new_one;
    // 5 x 5 + 8 + 30 + 25 = 88; 1.5 + 5 x 0.12 + 3 + 0.5 = 5.6 h = 112; nothing is left over.
    const WorthResult five = weighed(c);
    CHECK(of(five, R::convert).parts == Approx(88));
    CHECK(of(five, R::convert).hours == Approx(5.6));
    CHECK(of(five, R::convert).cost == Approx(200));
    CHECK(of(five, R::convert).wh == Approx(45));
    convert.units = 6; // one more: 5 and 0.12 h dearer, 9 Wh more
    const WorthResult six = weighed(c);
    CHECK(of(six, R::convert).cost == Approx(200 + 5 + 2.4));
    CHECK(of(six, R::convert).wh == Approx(54));
    CHECK(of(six, R::convert).cost_per_wh < of(five, R::convert).cost_per_wh);
}

TEST_CASE("N8: two lead blocks become 14 nickel cells: no board, another charger") {
    // Two blocks of 12 V would be 24 V; here 2 x 6 V and 7 Ah: 42 Wh a block, both tired.
    WorthCase c = ten();
    c.pack = {2, 2, 42, 0, 0, true, {}};
    RouteTerms& convert = c.of(R::convert);
    convert.price = 4;
    convert.units = 14;
    convert.unit_wh = 4.8;
    convert.charger = WorthPart::new_one;
    c.of(R::rebuild).price = 18; // two new blocks
    const WorthResult r = weighed(c);
    // 14 x 4 + 8 + 30 = 94; 1.5 + 14 x 0.12 + 3 + 0.5 = 6.68 h = 133.6.
    CHECK(of(r, R::convert).parts == Approx(94));
    CHECK(of(r, R::convert).board == 0);
    CHECK(of(r, R::convert).cost == Approx(227.6));
    CHECK(of(r, R::convert).wh == Approx(67.2));
    // 2 x 18 + 8 = 44; 1.5 + 2 x 0.12 + 0.5 = 2.24 h = 44.8: keeping the chemistry is the cheaper Wh.
    CHECK(of(r, R::rebuild).cost == Approx(88.8));
    CHECK(of(r, R::rebuild).wh == Approx(84));
}

TEST_CASE("N8: a rebuild with larger units against a bought pack of another size, and two smaller ones") {
    WorthCase c = ten();
    RouteTerms& larger = c.of(R::rebuild_other_size);
    larger.price = 9;
    larger.unit_wh = 14; // ten of them
    larger.years = 5;
    larger.chance = 0.9;
    RouteTerms& other = c.of(R::buy_other_size);
    other.price = 110;
    other.piece_wh = 60;
    other.years = 5;
    other.chance = 0.95;
    other.extra_hours = 0.5;
    const WorthResult r = weighed(c);
    // 10 x 9 + 8 = 98; 3.2 h = 64; 140 Wh.
    CHECK(of(r, R::rebuild_other_size).cost == Approx(162));
    CHECK(of(r, R::rebuild_other_size).wh == Approx(140));
    CHECK(of(r, R::rebuild_other_size).cost_per_wh_year == Approx(162 / (140 * 5 * 0.9)));
    // 110 + 0.5 h = 120 for 60 Wh; two of them 230 for 120 Wh.
    CHECK(of(r, R::buy_other_size).cost == Approx(120));
    CHECK(of(r, R::buy_other_size).wh == Approx(60));
    other.pieces = 2;
    const WorthResult two = weighed(c);
    CHECK(of(two, R::buy_other_size).cost == Approx(230));
    CHECK(of(two, R::buy_other_size).wh == Approx(120));
    CHECK(of(two, R::rebuild_other_size).cost_per_wh_year < of(two, R::buy_other_size).cost_per_wh_year);
    other.price = 0;
    CHECK_FALSE(of(weighed(c), R::buy_other_size).possible);
}

TEST_CASE("N8: modules of a 28-module pack one by one, reconditioned with core deposit, or new") {
    WorthCase c = ten();
    c.pack = {28, 3, 46.8, 0, 0, true, {}}; // 7.2 V, 6.5 Ah
    c.prices.stock_unit = 0;                // a tired module brings nothing
    c.of(R::rebuild).price = 0;             // no module of it is made any more
    c.of(R::repair_with_bought_units).price = 30;
    c.of(R::repair_with_bought_units).freight = 12;
    RouteTerms& reconditioned = c.of(R::buy_reconditioned);
    reconditioned.price = 700;
    reconditioned.core_deposit = 250;
    reconditioned.freight = 60;
    reconditioned.waiting_days = 7;
    c.of(R::buy_new).price = 1900;
    const WorthResult r = weighed(c);
    // 3 x 30 + 8 + 12 = 110; 1.5 + 3 x 0.35 + 0.5 = 3.05 h = 61.
    CHECK(of(r, R::repair_with_bought_units).cost == Approx(171));
    CHECK(of(r, R::repair_with_bought_units).wh == Approx(28 * 46.8 * 0.8));
    // 700 + 250 + 60 and 0.3 h = 1016; the deposit comes back: 766.
    CHECK(of(r, R::buy_reconditioned).parts == Approx(1010));
    CHECK(of(r, R::buy_reconditioned).left_over == Approx(250));
    CHECK(of(r, R::buy_reconditioned).cost == Approx(766));
    CHECK(of(r, R::buy_reconditioned).days == 7);
    CHECK(of(r, R::buy_new).cost == Approx(1906));
    CHECK(r.winner == R::repair_with_bought_units);
    // Whether modules one by one win hangs on how long they last: three months do not beat five years.
    c.of(R::repair_with_bought_units).years = 0.25;
    CHECK(weighed(c).winner != R::repair_with_bought_units);
    // Waiting burdens where a day without the device counts.
    c.hours.day_waited = 1;
    CHECK(of(weighed(c), R::buy_reconditioned).time_mark < of(r, R::buy_reconditioned).time_mark);
}

TEST_CASE("N8: a one-cell device: a new cell, or the device") {
    WorthCase c = ten();
    c.pack = {1, 1, 7.4, 0, 0, true, true};
    c.prices.strip_and_sundries = 1;
    c.hours = {0.4, 0.2, 0.1, 0.2, 0.1, 0};
    c.of(R::rebuild).price = 6;
    c.of(R::whole_device).price = 60;
    c.of(R::whole_device).charger = WorthPart::none;
    c.of(R::whole_device).years = 5;
    c.of(R::whole_device).chance = 0.99;
    const WorthResult r = weighed(c);
    // 6 + 1; 0.4 + 0.1 + 0.2 = 0.7 h = 14: 21.
    CHECK(of(r, R::rebuild).cost == Approx(21));
    CHECK(of(r, R::rebuild).wh == Approx(7.4));
    CHECK(of(r, R::whole_device).cost == Approx(60));
    CHECK(of(r, R::rebuild).cost_per_wh_year < of(r, R::whole_device).cost_per_wh_year);
    CHECK(r.winner == R::rebuild);
}

TEST_CASE("N8: another kind of pack as donor, and another pack with an adapter") {
    WorthCase c = ten();
    c.pack.donors_at_hand = 0;
    c.of(R::other_kind_as_donor).price = 2.5;
    c.of(R::other_kind_as_donor).kept_share = 0.7;
    c.of(R::adapter).price = 45;
    c.of(R::adapter).piece_wh = 90;
    c.of(R::adapter).charger = WorthPart::new_one;
    const WorthResult r = weighed(c);
    CHECK(std::string(of(r, R::repair_from_donors).obstacle) == "no-donors");
    // 2 x 2.5 + 8 = 13; 2.7 h = 54.
    CHECK(of(r, R::other_kind_as_donor).cost == Approx(67));
    CHECK(of(r, R::other_kind_as_donor).wh == Approx(70));
    // 45 + 30, no hands.
    CHECK(of(r, R::adapter).cost == Approx(75));
    CHECK(of(r, R::adapter).wh == Approx(90));
}

TEST_CASE("N8: stock that lies there is used at what it would bring") {
    WorthCase c = ten();
    c.pack.stock_at_hand = 2;
    // 2 x 1.5 + 8 = 11; 54 of hands.
    CHECK(of(weighed(c), R::repair_from_stock).cost == Approx(65));
    c.pack.stock_at_hand = 1;
    CHECK(std::string(of(weighed(c), R::repair_from_stock).obstacle) == "no-stock");
    c.pack.units_to_replace = 0;
    CHECK(std::string(of(weighed(c), R::repair_from_stock).obstacle) == "nothing-to-replace");
}

TEST_CASE("The weights decide") {
    WorthCase c = ten();
    c.weights = {1, 0, 0};
    const auto money = weighed(c);
    REQUIRE(money.winner);
    for (const RouteFigures& f : money.routes)
        if (f.possible)
            CHECK(of(money, *money.winner).cost_per_wh_year <= f.cost_per_wh_year + 1e-12);
    c.weights = {0, 1, 0};
    CHECK(of(weighed(c), R::buy_new).time_mark == Approx(1));
    c.weights = {0, 0, 5};
    CHECK(weighed(c).winner == R::buy_new); // 0.99 is the best chance
}

TEST_CASE("N8: every sentence about a route is true when the figure is put there") {
    int said = 0;
    std::array<int, 6> of_figure{};
    for (const double hour : {2.0, 8.0, 20.0})
        for (const double new_pack : {60.0, 120.0, 150.0})
            for (const double day : {0.0, 0.3}) {
                WorthCase c = ten();
                c.prices.hour = hour;
                c.hours.day_waited = day;
                c.of(R::buy_new).price = new_pack;
                c.of(R::buy_new).waiting_days = 4;
                c.of(R::convert).price = 4;
                c.pack.stock_at_hand = 3;
                const WorthResult r = weighed(c);
                REQUIRE(r.winner);
                for (const TurningPoint& t : r.turning_points) {
                    INFO(code(t.route) << " " << code(t.figure) << " " << t.more << " " << t.value << " now " << t.now);
                    ++said;
                    ++of_figure[static_cast<std::size_t>(t.figure)];
                    CHECK(t.wins == (t.route == *r.winner));
                    WorthCase tried = c;
                    CHECK(figure_of(tried, t.route, t.figure) == t.now);
                    // Just on the side that is said it wins; a step and a half beyond the value it does not.
                    const bool share =
                        t.figure == TurningPoint::Figure::kept_share || t.figure == TurningPoint::Figure::chance;
                    const double step =
                        t.figure == TurningPoint::Figure::extra_hours || t.figure == TurningPoint::Figure::years ? 0.1
                                                                                                                 : 0.01;
                    figure_of(tried, t.route, t.figure) = t.value + (t.more ? 1 : -1) * step / 2;
                    CHECK(weighed(tried).winner == t.route);
                    const double beyond = t.value - (t.more ? 1.5 : -1.5) * step;
                    if (beyond > 0 && (!share || beyond <= 1)) {
                        figure_of(tried, t.route, t.figure) = beyond;
                        CHECK(weighed(tried).winner != t.route);
                    }
                }
            }
    CHECK(said > 60);
    for (const int count : of_figure)
        CHECK(count > 0);
}

TEST_CASE("N8: a shop's own jobs teach its hours, once there are three") {
    std::vector<JobDone> jobs{{R::rebuild, 3.3, 3.0}, {R::rebuild, 4.5, 3.0}, {R::buy_new, 1, 0.3}};
    CHECK_FALSE(hours_factor(jobs, R::rebuild));
    jobs.push_back({R::rebuild, 12, 3.0}); // an outlier among the middle
    CHECK(*hours_factor(jobs, R::rebuild) == Approx(1.5));
    CHECK_FALSE(hours_factor(jobs, R::buy_new));
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
    bad([](WorthCase& c) { c.of(R::repair_from_stock).kept_share = 1.2; });
    bad([](WorthCase& c) { c.prices.hour = -1; });
    bad([](WorthCase& c) { c.prices.recycling = std::numeric_limits<double>::infinity(); });
    bad([](WorthCase& c) { c.hours.prove = std::numeric_limits<double>::quiet_NaN(); });
    bad([](WorthCase& c) { c.of(R::rebuild).years = 0; });
    bad([](WorthCase& c) { c.of(R::rebuild).chance = 1.5; });
    bad([](WorthCase& c) { c.of(R::buy_new).pieces = 0; });
    bad([](WorthCase& c) { c.of(R::buy_new).freight = -1; });
    bad([](WorthCase& c) { c.weights = {0, 0, 0}; });
    for (int r = 0; r < route_count; ++r)
        CHECK(route_from(code(static_cast<WorthRoute>(r))) == static_cast<WorthRoute>(r));
    for (const WorthPart part : {WorthPart::none, WorthPart::old_one, WorthPart::new_one})
        CHECK(part_from(code(part)) == part);
    CHECK(aim_from("stock") == WorthAim::stock);
    CHECK_FALSE(aim_from("fame"));
}
