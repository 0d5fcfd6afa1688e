// Unsafe designs, refused with the reason and the figure. Limits are facts of the trade (common practice, no source)
// unless a source is named.
#include "core/build/build_safety.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <functional>

using namespace ingot;

namespace {

Chemistry lithium() {
    Chemistry c;
    c.id = "nmc";
    c.usual_nominal_v = 3.6;
    c.full_v = 4.2;
    c.charge_limit_v = 4.2;
    c.charge_tolerance_v = 0.05;
    c.test_cutoff_v = 3.0;
    c.lithium = true;
    c.voltage_tells_charge = true;
    c.ocv = OcvCurve({0.0, 0.5, 1.0}, {3.0, 3.65, 4.2});
    return c;
}

Chemistry nickel() {
    Chemistry c;
    c.id = "nimh";
    c.usual_nominal_v = 1.2;
    c.full_v = 1.4;
    c.charge_reaches_v = 1.5;
    c.test_cutoff_v = 1.0;
    c.ocv = OcvCurve({0.0, 0.5, 1.0}, {1.1, 1.28, 1.4});
    return c;
}

// A mower's 7S4P as it should be: nothing to object to.
SafetyQuestion safe_mower() {
    SafetyQuestion q;
    q.chemistry = lithium();
    q.series = 7;
    q.parallel = 4;
    q.continuous_rating_a = 5;
    q.diameter_m = 0.0186;
    q.height_m = 0.0652;
    for (const auto& [figure, value] : {std::pair(DesignFigure::board_kind, "board"),
                                        {DesignFigure::board, "7S 20 A, wakes on a charger"},
                                        {DesignFigure::continuous_a, "15"},
                                        {DesignFigure::fuse_a, "20"},
                                        {DesignFigure::wire_mm2, "2.5"},
                                        {DesignFigure::joining, "weld"},
                                        {DesignFigure::strip_thickness_m, "0.00015"},
                                        {DesignFigure::welder_thickest_m, "0.00015"},
                                        {DesignFigure::nominal_v, "25.2"},
                                        {DesignFigure::bears_v, "30"},
                                        {DesignFigure::charger_v, "29.4"},
                                        {DesignFigure::charger_kind, "cc-cv"}})
        REQUIRE(q.design.set(figure, value).ok());
    return q;
}

std::vector<Unsafe> refused(const SafetyQuestion& q) {
    std::vector<Unsafe> out;
    bool minded = false;
    for (const UnsafeFinding& f : hold_safe(q, true)) {
        if (f.refuses) {
            CHECK_FALSE(minded); // what refuses stands first
            out.push_back(f.what);
        } else
            minded = true;
    }
    return out;
}

} // namespace

TEST_CASE("A design that is safe is not objected to; unknown figures are not held against it") {
    CHECK(refused(safe_mower()).empty());
    SafetyQuestion bare;
    bare.chemistry = nickel();
    CHECK(hold_safe(bare, true).empty());
    bare.chemistry = lithium();
    CHECK(hold_safe(bare, false).empty());
    CHECK(refused(bare) == std::vector{Unsafe::board_not_known});
}

TEST_CASE("Seventeen unsafe designs are refused, each with its reason") {
    const std::vector<std::pair<Unsafe, std::function<void(SafetyQuestion&)>>> designs{
        {Unsafe::board_not_known, [](auto& q) { (void)q.design.set(DesignFigure::board_kind, ""); }},
        {Unsafe::no_board, [](auto& q) { (void)q.design.set(DesignFigure::board_kind, "none"); }},
        {Unsafe::thermal_switch_alone, [](auto& q) { (void)q.design.set(DesignFigure::board_kind, "thermal-switch"); }},
        {Unsafe::board_other_series, [](auto& q) { (void)q.design.set(DesignFigure::board, "6S 20 A"); }},
        {Unsafe::board_too_small, [](auto& q) { (void)q.design.set(DesignFigure::board, "7S, 10 A"); }},
        {Unsafe::charger_over_limit, [](auto& q) { (void)q.design.set(DesignFigure::charger_v, "32"); }},
        {Unsafe::charge_method, [](auto& q) { (void)q.design.set(DesignFigure::charger_kind, "minus-dv"); }},
        {Unsafe::over_device, [](auto& q) { (void)q.design.set(DesignFigure::bears_v, "27"); }},
        {Unsafe::unit_over_current, [](auto& q) { q.continuous_rating_a = 3; }},
        {Unsafe::unit_over_peak,
         [](auto& q) {
             q.peak_rating_a = 8;
             (void)q.design.set(DesignFigure::peak_a, "40");
         }},
        {Unsafe::fuse_under_load, [](auto& q) { (void)q.design.set(DesignFigure::fuse_a, "10"); }},
        {Unsafe::fuse_over_lead, [](auto& q) { (void)q.design.set(DesignFigure::fuse_a, "50"); }},
        {Unsafe::lead_too_thin, [](auto& q) { (void)q.design.set(DesignFigure::wire_mm2, "1.5"); }},
        {Unsafe::solder_on_lithium, [](auto& q) { (void)q.design.set(DesignFigure::joining, "solder-cells"); }},
        {Unsafe::strip_over_welder, [](auto& q) { (void)q.design.set(DesignFigure::strip_thickness_m, "0.0002"); }},
        {Unsafe::spring_over_current,
         [](auto& q) {
             (void)q.design.set(DesignFigure::joining, "holder");
             (void)q.design.set(DesignFigure::spring_a, "1");
         }},
        {Unsafe::mixed_chemistries, [](auto& q) { q.chemistries = 2; }},
    };
    REQUIRE(designs.size() == 17);
    for (const auto& [unsafe, spoil] : designs) {
        CAPTURE(code(unsafe));
        SafetyQuestion q = safe_mower();
        spoil(q);
        const auto found = refused(q);
        CHECK(std::find(found.begin(), found.end(), unsafe) != found.end());
        CHECK(found.size() <= 2); // the charger at 32 V is also above what the device bears
    }
    // A charger that is too high is refused, whether or not somebody knows the device.
    SafetyQuestion alone = safe_mower();
    (void)alone.design.set(DesignFigure::nominal_v, "");
    (void)alone.design.set(DesignFigure::charger_v, "32");
    CHECK(refused(alone) == std::vector{Unsafe::charger_over_limit});
    // Named anew, the charger is right: cc-cv to 29.4 V.
    SafetyQuestion other = safe_mower();
    (void)other.design.set(DesignFigure::charger_kind, "minus-dv");
    (void)other.design.set(DesignFigure::new_charger_v, "29.4");
    CHECK(refused(other).empty());
    (void)other.design.set(DesignFigure::new_charger_v, "31.5");
    CHECK(refused(other) == std::vector{Unsafe::charger_over_limit});
    // Said, not refused: welded without a trial, and bars that cleaning did not mend (N41).
    const auto is_said = [](const SafetyQuestion& asked, Unsafe what) {
        const auto all = hold_safe(asked, true);
        return std::any_of(all.begin(), all.end(),
                           [&](const UnsafeFinding& f) { return f.what == what && !f.refuses; });
    };
    SafetyQuestion joints = safe_mower();
    CHECK(is_said(joints, Unsafe::no_trial_weld));
    (void)joints.design.set(DesignFigure::trial_weld, "60 %, 8 ms: strip tears");
    CHECK_FALSE(is_said(joints, Unsafe::no_trial_weld));
    (void)joints.design.set(DesignFigure::bar_before_ohm, "0.0012");
    CHECK_FALSE(is_said(joints, Unsafe::bars_no_better)); // not read again yet
    (void)joints.design.set(DesignFigure::bar_ohm, "0.0013");
    CHECK(is_said(joints, Unsafe::bars_no_better));
    (void)joints.design.set(DesignFigure::bar_ohm, "0.0003");
    CHECK_FALSE(is_said(joints, Unsafe::bars_no_better));
    // Cell links: 15 A over four units are 3.75 A each, so a wire that melts at 7.5 to 11.25 A: 0.21 to 0.27 mm.
    SafetyQuestion links = safe_mower();
    links.unit_resistance_ohm = 0.040;
    (void)links.design.set(DesignFigure::cell_link_m, "0.00015"); // melts at 4.6 A
    CHECK(refused(links) == std::vector{Unsafe::link_opens_at_work});
    (void)links.design.set(DesignFigure::cell_link_m, "0.00025"); // at 10 A
    CHECK(refused(links).empty());
    CHECK(is_said(links, Unsafe::links_shake));
    CHECK_FALSE(is_said(links, Unsafe::link_never_opens));      // three others push 3 x 3.6 V / 40 mohm = 270 A
    (void)links.design.set(DesignFigure::cell_link_m, "0.002"); // at 226 A
    links.unit_resistance_ohm = 0.060;                          // 180 A
    CHECK(is_said(links, Unsafe::link_never_opens));
    // The figure that says so, and what it is held against.
    SafetyQuestion q = safe_mower();
    (void)q.design.set(DesignFigure::continuous_a, "24");
    for (const UnsafeFinding& f : hold_safe(q, true))
        if (f.what == Unsafe::unit_over_current) {
            CHECK(*f.value == Approx(6));
            CHECK(*f.limit == Approx(5));
        }
}

TEST_CASE("N40: nickel may be soldered on the cells by that school; strip in a holder needs no welder") {
    SafetyQuestion q = safe_mower();
    q.chemistry = nickel();
    q.series = 20;
    q.design = {};
    (void)q.design.set(DesignFigure::joining, "solder-cells");
    CHECK(refused(q).empty());
    q = safe_mower();
    (void)q.design.set(DesignFigure::joining, "holder");
    (void)q.design.set(DesignFigure::strip_thickness_m, "0.0003");
    CHECK(refused(q).empty());
}

TEST_CASE(
    "N43: the old board left in the pack with a charger on balance leads is a school with its cautions; none is none") {
    SafetyQuestion q = safe_mower();
    (void)q.design.set(DesignFigure::board_kind, "left-in-pack");
    CHECK(refused(q).empty());
    const auto all = hold_safe(q, true);
    CHECK(std::any_of(all.begin(), all.end(), [](const auto& f) { return f.what == Unsafe::balance_charger; }));
    (void)q.design.set(DesignFigure::board, "5S 20 A"); // it has to be this pack's
    CHECK(refused(q) == std::vector{Unsafe::board_other_series});
}

TEST_CASE("N44: a lithium cell in a holder that takes 1.5 V cells, too, is to be marked") {
    SafetyQuestion q = safe_mower();
    q.series = q.parallel = 1;
    q.design = {};
    (void)q.design.set(DesignFigure::board_kind, "board");
    (void)q.design.set(DesignFigure::joining, "holder");
    q.diameter_m = 0.0142; // as the usual 1.5 V cell of 14.5 by 50.5 mm
    q.height_m = 0.0505;
    const auto marked = [&] {
        const auto all = hold_safe(q, true);
        return std::any_of(all.begin(), all.end(),
                           [](const auto& f) { return f.what == Unsafe::holder_of_other_cells; });
    };
    CHECK(marked());
    q.diameter_m = 0.0186; // no such cell is of this size
    q.height_m = 0.0652;
    CHECK_FALSE(marked());
    q.diameter_m = 0.0142;
    q.height_m = 0.0505;
    q.chemistry = nickel(); // it takes those anyway
    CHECK_FALSE(marked());
}

TEST_CASE("What is written of a board is read: cells and amperes, in any order, with comma or point") {
    CHECK(*board_words("7S 20 A, wakes on a charger").series == 7);
    CHECK(*board_words("7S 20 A, wakes on a charger").continuous_a == 20);
    CHECK(*board_words("12,5A 13s").continuous_a == Approx(12.5));
    CHECK(*board_words("12,5A 13s").series == 13);
    CHECK_FALSE(board_words("60 mA balance").continuous_a);
    CHECK_FALSE(board_words("from the old one").series);
    CHECK_FALSE(board_words("").series);
    CHECK_FALSE(board_words("4 sets").series);
    for (int k = 0; k < board_kind_count; ++k)
        CHECK(board_kind_from(code(static_cast<BoardKind>(k))) == static_cast<BoardKind>(k));
    for (int k = 0; k < joining_kind_count; ++k)
        CHECK(joining_kind_from(code(static_cast<JoiningKind>(k))) == static_cast<JoiningKind>(k));
    CHECK_FALSE(board_kind_from("hope"));
    BuildDesign design;
    CHECK_FALSE(design.set(DesignFigure::board_kind, "hope").ok());
    CHECK_FALSE(design.set(DesignFigure::joining, "glue").ok());
}
