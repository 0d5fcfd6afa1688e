// Wires and fuse wires against the standards' own figures.
#include "core/build/wires.h"

#include <catch2/catch.hpp>

#include <numbers>

using namespace ingot;

TEST_CASE("Sections and resistances of IEC 60228, class 5, and the thinnest that carries a current") {
    const auto wires = standard_wires();
    REQUIRE(wires.size() == 15);
    for (std::size_t i = 1; i < wires.size(); ++i) {
        CHECK(wires[i].section_mm2 > wires[i - 1].section_mm2);
        CHECK(wires[i].ohm_per_m < wires[i - 1].ohm_per_m);
    }
    // IEC 60228, table 3: 39.0, 7.98 and 0.780 ohm a kilometre for 0.5, 2.5 and 25 mm2.
    CHECK(wires[0].ohm_per_m == Approx(0.0390));
    CHECK(wires[4].section_mm2 == 2.5);
    CHECK(wires[4].ohm_per_m == Approx(0.00798));
    CHECK(wires[9].ohm_per_m == Approx(0.000780));
    // No wire is better than pure copper of its section (1/58 ohm mm2/m, IEC 60028).
    for (const StandardWire& wire : wires)
        CHECK(wire.ohm_per_m > 1.0 / 58 / wire.section_mm2);
    CHECK(wire_for(12, 8e6)->section_mm2 == 1.5); // 12 A at 8 A/mm2 want exactly 1.5
    CHECK(wire_for(12.1, 8e6)->section_mm2 == 2.5);
    CHECK_FALSE(wire_for(1000, 8e6));
}

TEST_CASE("Gauge numbers by ASTM B258: 10, 18 and 30; the thinnest that is thick enough") {
    CHECK(gauge_diameter_m(10) * 1000 == Approx(2.58819).epsilon(1e-5));
    CHECK(gauge_diameter_m(18) * 1000 == Approx(1.02369).epsilon(1e-5));
    CHECK(gauge_diameter_m(30) * 1000 == Approx(0.254639).epsilon(1e-5));
    CHECK(gauge_diameter_m(-3) / 0.0254 == Approx(0.46)); // 4/0
    CHECK(gauge_diameter_m(36) / 0.0254 == Approx(0.005));
    const double d = gauge_diameter_m(18) * 1000;
    CHECK(std::numbers::pi / 4 * d * d == Approx(0.823047).epsilon(1e-5));
    CHECK(*gauge_for(0.8230) == 18);
    CHECK(*gauge_for(0.8231) == 17);
    CHECK(*gauge_for(2.5) == 13); // 2.62 mm2
    CHECK_FALSE(gauge_for(120));
}

TEST_CASE("What melts a copper wire: Preece in steady air, Onderdonk within a second") {
    CHECK(copper_melts_at_a(0.0001) == Approx(2.52982));
    CHECK(copper_melts_at_a(0.0002) == Approx(7.15542));
    CHECK(copper_melts_at_a(0.0005) == Approx(28.28427));
    CHECK(copper_that_melts_at_m(10) == Approx(0.00025));
    for (const double a : {0.5, 3.0, 40.0})
        CHECK(copper_melts_at_a(copper_that_melts_at_m(a)) == Approx(a));
    // Gauge 30 in air of 25 degC, a second and a tenth of it.
    CHECK(copper_melts_within_a(gauge_diameter_m(30), 1, 25) == Approx(14.70333).epsilon(1e-4));
    CHECK(copper_melts_within_a(gauge_diameter_m(30), 0.1, 25) == Approx(46.49602).epsilon(1e-4));
    CHECK(copper_melts_within_a(0.0002, 1, 25) == Approx(9.07039).epsilon(1e-4));
}
