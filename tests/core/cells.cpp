#include "core/cells/chemistry.h"
#include "core/cells/claim.h"
#include "core/cells/unit_code.h"
#include "core/measure/measurement.h"

#include <catch2/catch.hpp>

#include <tuple>

using namespace ingot;

namespace {

// Representative open-circuit voltages of a rested NMC cell by state of charge (common practice, no source).
OcvCurve nmc_curve() {
    return {{0, .05, .10, .15, .20, .25, .30, .35, .40, .45, .50, .55, .60, .65, .70, .75, .80, .85, .90, .95, 1},
            {3.000, 3.300, 3.430, 3.500, 3.550, 3.585, 3.615, 3.640, 3.665, 3.695, 3.730,
             3.770, 3.820, 3.870, 3.920, 3.965, 4.010, 4.055, 4.100, 4.140, 4.190}};
}

Chemistry cells_nmc() {
    Chemistry c;
    c.id = "nmc";
    c.lithium = true;
    c.nominal_low_v = 3.6;
    c.nominal_high_v = 3.7;
    c.full_v = 4.2;
    c.test_cutoff_v = 3.0;
    c.floor_v = 2.5;
    c.bands = {0.5, 2.0, 3.0, 4.2, 4.23};
    return c;
}

CellFormat format_18650() {
    CellFormat f;
    f.id = "18650";
    f.capacities.push_back({{"nmc", "lco"}, 1.1, 3.6, 3.7, 4.44});
    return f;
}

} // namespace

TEST_CASE("Every unit code reads back, and its parts are kept") {
    for (const char* roll : {"K4", "F2", "Z9", "A0"})
        for (int number : {0, 1, 9, 193, 4000, 9999}) {
            const UnitCode code{roll, number};
            const auto read = parse_unit_code(code.text());
            REQUIRE(read.ok());
            CHECK(read.value() == code);
        }
}

TEST_CASE("A unit code catches any single wrong character and any swap of two neighbours") {
    for (int number = 0; number < 10000; number += 37) {
        const std::string code = UnitCode{"K4", number}.text();
        std::string flat;
        for (const char c : code)
            if (c != '-')
                flat += c;
        for (std::size_t i = 0; i < flat.size(); ++i) {
            for (const char other : unit_code_alphabet) {
                if (other == flat[i])
                    continue;
                std::string wrong = flat;
                wrong[i] = other;
                REQUIRE_FALSE(parse_unit_code(wrong).ok());
            }
            if (i + 1 < flat.size() && flat[i] != flat[i + 1]) {
                std::string swapped = flat;
                std::swap(swapped[i], swapped[i + 1]);
                REQUIRE_FALSE(parse_unit_code(swapped).ok());
            }
        }
    }
}

TEST_CASE("A unit code is read however it is typed") {
    const std::string code = UnitCode{"K4", 193}.text();
    std::string small = code;
    for (char& c : small)
        c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    CHECK(parse_unit_code(small).ok());
    CHECK(parse_unit_code(std::string("K4O193") + code.back()).ok());   // the letter O for the figure
    CHECK(parse_unit_code(std::string("k4 0l93 ") + code.back()).ok()); // a small L for the figure 1
    for (const char* wrong : {"", "K4", "K4-0193", "44-0193-T", "K4-01X3-T", "K4-0193-TT", "hello", "K4-0193-\xC3\xA4"})
        CHECK_FALSE(parse_unit_code(wrong).ok());
    CHECK(parse_unit_code("K4-0193-0").problem().sentence.english().find("check character") != std::string::npos);
}

TEST_CASE("State of charge, voltage and slope on the NMC curve") {
    const OcvCurve curve = nmc_curve();
    // Check values computed from this table by linear interpolation, by a second program.
    CHECK(curve.soc_at(3.900) == Approx(0.68).margin(1e-4));
    CHECK(curve.ocv_at(0.42) == Approx(3.6770).margin(1e-4));
    CHECK(curve.slope_at(3.900) * 10 == Approx(10.0).margin(1e-3)); // mV per %
    // Loss of 0.5 mV a day at 3.9 V and 2.5 Ah: 0.05 % a day, 1.25 mAh a day.
    const double share_per_day = 0.0005 / curve.slope_at(3.900);
    CHECK(share_per_day * 100 == Approx(0.05).margin(1e-5));
    CHECK(share_per_day * 2500 == Approx(1.25).margin(1e-4));
    CHECK(curve.soc_at(4.180) == Approx(0.99).margin(1e-5));
    CHECK(curve.soc_at(4.125) == Approx(0.93125).margin(1e-5));
    CHECK(curve.soc_at(4.000) == Approx(0.78889).margin(1e-5));
    CHECK(curve.soc_at(3.430) == Approx(0.10).margin(1e-6));
    // On a knot: the mean of both sides; outside: the end segments.
    CHECK(curve.slope_at(3.820) == Approx((0.050 / 0.05 + 0.050 / 0.05) / 2));
    CHECK(curve.slope_at(3.430) == Approx((0.130 / 0.05 + 0.070 / 0.05) / 2));
    CHECK(curve.soc_at(5.0) == 1.0);
    CHECK(curve.soc_at(0.0) == 0.0);
    CHECK(curve.slope_at(9.0) == Approx(0.050 / 0.05));
    CHECK_THROWS_AS(OcvCurve({0, 1}, {3, 3}), std::invalid_argument);
    CHECK_THROWS_AS(OcvCurve({0}, {3}), std::invalid_argument);
}

TEST_CASE("Group states follow the bands, per cell in series") {
    const Chemistry c = cells_nmc();
    CHECK(state_of(c, 0.49) == GroupState::dead);
    CHECK(state_of(c, 0.50) == GroupState::deep);
    CHECK(state_of(c, 1.999) == GroupState::deep);
    CHECK(state_of(c, 2.0) == GroupState::low);
    CHECK(state_of(c, 3.0) == GroupState::working);
    CHECK(state_of(c, 4.215) == GroupState::working); // the meter may err
    CHECK(state_of(c, 4.24) == GroupState::over);
    CHECK(state_of(c, 22.8, 6) == GroupState::working);
    CHECK(state_of(c, 11.0, 6) == GroupState::deep);
}

TEST_CASE("Capacity adds only in parallel: 6S2P of 2.2 Ah is 4.4 Ah, never 26.4 Ah") { // common practice, no source
    const Chemistry c = cells_nmc();
    const CellFormat f = format_18650();
    CHECK(check_claim({4.4, 21.6}, {6, 2, 1}, c, &f).empty());
    const auto findings = check_claim({26.4, 21.6}, {6, 2, 1}, c, &f);
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].objection == ClaimObjection::added_in_series);
    CHECK(findings[0].per_unit == Approx(13.2));
    CHECK(findings[0].believable == Approx(4.4));
}

TEST_CASE("A format has a largest believable capacity") {
    const Chemistry c = cells_nmc();
    const CellFormat f = format_18650();
    // 9.9 Ah in an 18650 would be 2,008.7 Wh/L; the densest known is about 710 (arithmetic on the outer size).
    const auto absurd = check_claim({9.9, {}}, {1, 1, 1}, c, &f);
    REQUIRE(absurd.size() == 1);
    CHECK(absurd[0].objection == ClaimObjection::impossible_capacity);
    const auto doubtful = check_claim({4.0, {}}, {1, 1, 1}, c, &f);
    REQUIRE(doubtful.size() == 1);
    CHECK(doubtful[0].objection == ClaimObjection::doubtful_capacity);
    CHECK(check_claim({3.5, {}}, {1, 1, 1}, c, &f).empty());
    CHECK(check_claim({99.0, {}}, {1, 1, 1}, c, nullptr).empty()); // nothing is known of the format
}

TEST_CASE("N1: labels print nominal or full volts, rounded or cut; a count that does not fit is told what would") {
    // common practice, no source: what is printed on packs of these counts
    const Chemistry c = cells_nmc();
    for (const auto& [volts, series, meaning] :
         {std::tuple{18.0, 5, LabelVoltage::nominal}, std::tuple{18.5, 5, LabelVoltage::nominal},
          std::tuple{21.0, 5, LabelVoltage::full}, std::tuple{20.0, 5, LabelVoltage::just_under_full},
          std::tuple{8.4, 2, LabelVoltage::full}, std::tuple{7.2, 2, LabelVoltage::nominal},
          std::tuple{14.0, 4, LabelVoltage::nominal}, std::tuple{16.8, 4, LabelVoltage::full},
          std::tuple{40.0, 10, LabelVoltage::just_under_full}, std::tuple{42.0, 10, LabelVoltage::full},
          std::tuple{36.0, 10, LabelVoltage::nominal}, std::tuple{24.0, 7, LabelVoltage::nominal}}) {
        CAPTURE(volts, series);
        CHECK(label_voltage(volts, series, c) == meaning);
        CHECK(check_claim({{}, volts}, {series, 1, 1}, c, nullptr).empty());
    }
    Chemistry lfp = c;
    lfp.nominal_low_v = 3.2;
    lfp.nominal_high_v = 3.3;
    lfp.full_v = 3.65;
    CHECK(label_voltage(12.0, 4, lfp) == LabelVoltage::nominal);
    CHECK(label_voltage(14.0, 4, lfp));
    CHECK(label_voltage(14.6, 4, lfp) == LabelVoltage::full);
    CHECK(label_voltage(12.8, 4, lfp) == LabelVoltage::nominal);
    // Four volts each, but ten of 3.6 V is what everybody means by it.
    CHECK_FALSE(label_voltage(36.0, 9, c));
    for (const int wrong : {4, 6, 7})
        CHECK_FALSE(label_voltage(20.0, wrong, c));
    const auto doubted = check_claim({{}, 20.0}, {7, 1, 1}, c, nullptr);
    REQUIRE(doubted.size() == 1);
    CHECK(doubted[0].fitting_series == 6);
    CHECK(doubted[0].fitting_full == 5);
}

TEST_CASE("N1: doubted volts never discard the claimed capacity") {
    const Chemistry c = cells_nmc();
    const CellFormat f = format_18650();
    REQUIRE(check_claim({5.2, 48.0}, {7, 2, 1}, c, &f).size() == 1);
    CHECK(*believable_unit_ah({5.2, 48.0}, {7, 2, 1}, c, &f) == Approx(2.6));
    CHECK_FALSE(believable_unit_ah({19.8, 25.2}, {7, 2, 1}, c, &f));
    CHECK_FALSE(believable_unit_ah({{}, 25.2}, {7, 2, 1}, c, &f));
}

TEST_CASE("N2: 9.9 Ah on 6S1P is no cell's capacity, not six good ones added up") {
    const Chemistry c = cells_nmc();
    const CellFormat f = format_18650();
    const auto printed = check_claim({9.9, 21.6}, {6, 1, 1}, c, &f);
    REQUIRE(printed.size() == 1);
    CHECK(printed[0].objection == ClaimObjection::impossible_capacity);
    const auto added = check_claim({15.6, 21.6}, {6, 1, 1}, c, &f); // six of 2.6 Ah
    REQUIRE(added.size() == 1);
    CHECK(added[0].objection == ClaimObjection::added_in_series);
    CHECK(added[0].believable == Approx(2.6));
}

TEST_CASE("Nominal voltage must fit the cells in series") {
    const Chemistry c = cells_nmc();
    CHECK(check_claim({{}, 25.2}, {7, 4, 1}, c, nullptr).empty()); // 7 x 3.6
    CHECK(check_claim({{}, 25.9}, {7, 4, 1}, c, nullptr).empty()); // 7 x 3.7
    CHECK(check_claim({{}, 36.0}, {10, 4, 1}, c, nullptr).empty());
    const auto findings = check_claim({{}, 36.0}, {7, 4, 1}, c, nullptr);
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].objection == ClaimObjection::voltage_misfit);
    CHECK(findings[0].fitting_series == 10);
    CHECK(findings[0].believable == Approx(25.2));
}

TEST_CASE("Most cells in series that stay at or under 60 V on charge") {
    // 60 V d.c.: class B limit of UN R100 and ISO 6469-3 (from memory). 14 lithium cells at 4.20 V, 40 nickel at 1.50
    // V.
    Chemistry c = cells_nmc();
    CHECK(full_voltage({14, 1, 1}, c) <= touch_limit_v);
    CHECK(full_voltage({15, 1, 1}, c) > touch_limit_v);
    c.full_v = 1.5;
    CHECK(full_voltage({40, 1, 1}, c) <= touch_limit_v);
    CHECK(full_voltage({41, 1, 1}, c) > touch_limit_v);
    CHECK(full_voltage({14, 1, 6}, c) > touch_limit_v); // modules count all their cells
}

TEST_CASE("Readings outside belief are named") {
    CHECK(check_plausible(Quantity::voltage, 3.7, 4.8) == Implausible::none);
    CHECK(check_plausible(Quantity::voltage, 37.0, 4.8) == Implausible::too_high);
    CHECK(check_plausible(Quantity::voltage, -1.2, 4.8) == Implausible::none);      // a reversed cell reads negative
    CHECK(check_plausible(Quantity::capacity, 2450, 4.8) == Implausible::too_high); // mAh for Ah
    CHECK(check_plausible(Quantity::capacity, -2.4, 4.8) == Implausible::negative);
    CHECK(check_plausible(Quantity::dc_resistance, 45, 4.8) == Implausible::too_high); // mOhm for ohm
    CHECK(check_plausible(Quantity::dc_resistance, 0.00001, 4.8) == Implausible::too_low);
    for (const auto q : {Quantity::voltage, Quantity::dc_resistance, Quantity::ac_resistance, Quantity::capacity,
                         Quantity::self_discharge, Quantity::temperature})
        CHECK(quantity_from(code(q)) == q);
    CHECK_FALSE(quantity_from("voltages").has_value());
    CHECK(condition_from("end-of-charge") == Condition::end_of_charge);
}
