#include "core/build/joining.h"

#include <catch2/catch.hpp>

#include <array>

using namespace ingot;

TEST_CASE("Three unequal cells in parallel, against a circuit simulator") {
    // The same netlist run in ngspice 39 gave v(bus) = 3.57362, i = 4.21277, 2.12766, 3.65957 A.
    const std::array<JoinMember, 3> cells{{{3.70, 0.030}, {3.68, 0.050}, {3.72, 0.040}}};
    const auto loaded = share_current(cells, 10.0);
    CHECK(loaded.voltage_v == Approx(3.573617).margin(1e-6));
    CHECK(loaded.current_a[0] == Approx(4.21277).margin(1e-5));
    CHECK(loaded.current_a[1] == Approx(2.12766).margin(1e-5));
    CHECK(loaded.current_a[2] == Approx(3.65957).margin(1e-5));
    // No load: the sum is zero and cell 2 is being charged.
    const auto idle = share_current(cells);
    CHECK(idle.voltage_v == Approx(3.701277).margin(1e-6));
    CHECK(idle.current_a[0] == Approx(-0.04255).margin(1e-5));
    CHECK(idle.current_a[1] == Approx(-0.42553).margin(1e-5));
    CHECK(idle.current_a[2] == Approx(0.46809).margin(1e-5));
}

TEST_CASE("Equal voltages share by conductance") {
    const std::array<JoinMember, 3> cells{{{3.7, 0.030}, {3.7, 0.050}, {3.7, 0.040}}};
    const auto r = share_current(cells, 10.0);
    CHECK(r.current_a[0] == Approx(4.25532).margin(1e-5));
    CHECK(r.current_a[1] == Approx(2.55319).margin(1e-5));
    CHECK(r.current_a[2] == Approx(3.19149).margin(1e-5));
}

TEST_CASE("Two cells half a volt apart") {
    // 4.10 V and 3.60 V, 50 mOhm each, 10 mOhm link (put half on each side): 4.5455 A at once.
    const std::array<JoinMember, 2> cells{{{4.10, 0.055}, {3.60, 0.055}}};
    CHECK(share_current(cells).current_a[0] == Approx(4.5455).margin(1e-4));
    // A group of four and one of three at 0.1 V difference, 40 mOhm a cell: 4.2857 A.
    const std::array<JoinMember, 2> groups{{{3.8, 0.040 / 4}, {3.7, 0.040 / 3}}};
    CHECK(share_current(groups).current_a[0] == Approx(4.2857).margin(1e-4));
}

constexpr JoinLimits limits{0.010, 0.050, 0.300, 0.5}; // common practice, no source

TEST_CASE("Advice before joining") {
    const auto check = [](std::vector<double> volts, double ohm = 0.05, double rated = 2.5) {
        std::vector<JoinUnit> units;
        for (const double v : volts)
            units.push_back({v, ohm, rated});
        return check_joining(units, limits);
    };
    CHECK(check({3.700, 3.705, 3.710}).advice == JoinAdvice::join);
    CHECK(check({3.700, 3.745}).advice == JoinAdvice::within_limit);
    CHECK(check({3.700, 3.760}).advice == JoinAdvice::through_resistor);
    CHECK(check({3.70, 4.10}).advice == JoinAdvice::bring_to_voltage);
    // 40 mV over two very low resistances drives more than half the rated capacity an hour.
    const auto fierce = check({3.70, 3.74}, 0.004);
    CHECK(*fierce.largest_current_a == Approx(5.0).margin(1e-6));
    CHECK(fierce.current_limit_a == Approx(1.25));
    CHECK(fierce.advice == JoinAdvice::through_resistor);
}

TEST_CASE("Units without a voltage or resistance are asked for") {
    const std::vector<JoinUnit> units{{3.70, 0.05, 2.5}, {{}, 0.05, 2.5}, {3.70, {}, 2.5}};
    const auto r = check_joining(units, limits);
    CHECK(r.unknown == 2);
    CHECK(r.advice == JoinAdvice::unknown);
    CHECK(check_joining({}, limits).advice == JoinAdvice::unknown);
}
