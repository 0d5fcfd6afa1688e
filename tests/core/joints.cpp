// Before the weld: what to bring where, which piece carries what, which chemistry could take whose place.
#include "core/build/bringing.h"
#include "core/build/conversion.h"
#include "core/build/strip_network.h"
#include "core/cells/random.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <map>

using namespace ingot;

namespace {

// Two invented chemistries with the voltages that data sheets usually name; the shipped ones are tested by the shell.
Chemistry lithium() {
    Chemistry c;
    c.id = "li";
    c.nominal_low_v = 3.6;
    c.full_v = 4.2;
    c.charge_limit_v = 4.2;
    c.charge_tolerance_v = 0.05;
    c.test_cutoff_v = 3.0;
    c.lithium = true;
    c.voltage_tells_charge = true;
    c.bands = {0.5, 2.0, 3.0, 4.2, 4.23};
    c.ocv = OcvCurve({0, 0.5, 1}, {3.0, 3.7, 4.2});
    return c;
}
Chemistry nickel() {
    Chemistry c;
    c.id = "ni";
    c.nominal_low_v = 1.2;
    c.full_v = 1.45;
    c.charge_reaches_v = 1.5;
    c.test_cutoff_v = 1.0;
    c.bands = {0.2, 0.9, 1.1, 1.5, 1.6};
    c.ocv = OcvCurve({0, 1}, {1.18, 1.40});
    return c;
}
constexpr JoinLimits usual{0.010, 0.050, 0.300, 0.5}; // common practice, no source

std::vector<ConversionClash> codes(const ConversionDesign& design) {
    std::vector<ConversionClash> out;
    for (const Clash& clash : design.clashes)
        out.push_back(clash.clash);
    return out;
}

const ConversionDesign& design_of(const std::vector<ConversionDesign>& all, const std::string& id, int series) {
    for (const auto& design : all)
        if (design.chemistry == id && design.series == series)
            return design;
    FAIL(id << " " << series << "S is not proposed");
    throw 0;
}

} // namespace

TEST_CASE("Joining: what would flow, and the units that must move (V44)") {
    const Chemistry li = lithium();
    GroupToJoin group;
    group.members = {{3.70, 0.03, 2.5}, {3.68, 0.05, 2.5}, {3.72, 0.04, 2.5}};
    const JoinPlan close = plan_joining(group, li, usual);
    CHECK(close.common_v == Approx(3.701277).margin(1e-6));
    CHECK(close.current_a[2] == Approx(0.46809).margin(1e-5));
    CHECK(close.worst == 2);
    CHECK(close.advice == JoinAdvice::join);
    CHECK(close.bring.empty());
    // One far above the others: it alone moves, down to where they are.
    group.members = {{3.70, 0.05, 2.5}, {3.90, 0.05, 2.5}, {3.71, 0.05, 2.5}, {3.70, 0.05, 2.5}};
    const JoinPlan one = plan_joining(group, li, usual);
    CHECK(one.advice == JoinAdvice::through_resistor);
    REQUIRE(one.bring.size() == 1);
    CHECK(one.bring[0].member == 1);
    CHECK(one.bring[0].to_v == Approx(3.70));
    CHECK(*one.bring[0].charge_ah == Approx(-2.5 * 0.2)); // 0.2 V on a slope of 1 V for the whole
    group.members[1].voltage_v = 4.1;
    CHECK(plan_joining(group, li, usual).advice == JoinAdvice::bring_to_voltage);
    // V44: 2.5 Ah through 110 mOhm bear 0.1375 V; the rule of 0.05 V is stricter, the ampere rule is met at 22 mOhm.
    GroupToJoin pair;
    pair.members = {{3.74, 0.011, 2.5}, {3.70, 0.011, 2.5}};
    const JoinPlan fierce = plan_joining(pair, li, usual);
    CHECK(fierce.largest_a == Approx(1.81818).margin(1e-5));
    CHECK(fierce.advice == JoinAdvice::through_resistor); // never joined: over half the capacity an hour
    REQUIRE(fierce.bring.size() == 1);
    pair.members[0].capacity_ah = pair.members[1].capacity_ah = std::nullopt;
    CHECK(plan_joining(pair, li, usual).advice == JoinAdvice::join); // nobody knows what it bears
}

TEST_CASE("Joining: a reversed unit, a deep one, modules, a chemistry whose voltage tells no charge") {
    GroupToJoin group;
    group.members = {{-3.7, 0.05, 2.5}, {3.7, 0.05, 2.5}, {3.7, 0.05, 2.5}};
    const JoinPlan reversed = plan_joining(group, lithium(), usual);
    CHECK(reversed.advice == JoinAdvice::bring_to_voltage);
    CHECK(reversed.reversed == std::vector<std::size_t>{0});
    CHECK(reversed.bring.empty());
    // The meeting voltage never lies under the usual range, whatever most of the units say.
    group.members = {{1.2, 0.05, 2.5}, {1.3, 0.05, 2.5}, {3.7, 0.05, 2.5}};
    const JoinPlan deep = plan_joining(group, lithium(), usual);
    CHECK(deep.deep == std::vector<std::size_t>{0, 1});
    for (const Bringing& bring : deep.bring)
        CHECK(bring.to_v >= 3.0);
    // Six cells in series: 0.24 V is 40 mV a cell.
    GroupToJoin modules;
    modules.cells_per_unit = 6;
    modules.members = {{7.80, 0.02, {}}, {8.04, 0.02, {}}};
    const JoinPlan near = plan_joining(modules, nickel(), usual);
    CHECK(near.spread_v == Approx(0.04));
    CHECK(near.advice == JoinAdvice::join);
    modules.members[1].voltage_v = 8.4;
    const JoinPlan far = plan_joining(modules, nickel(), usual);
    REQUIRE(far.bring.size() == 1);
    CHECK_FALSE(far.bring[0].charge_ah);
    CHECK(far.bring[0].to_v == Approx(7.8));
}

TEST_CASE("Joining: no other meeting voltage moves less charge, and after it nothing flows hard") {
    Random random(7);
    const Chemistry li = lithium();
    for (int n = 0; n < 200; ++n) {
        GroupToJoin group;
        const int units = 2 + random.below(7);
        for (int i = 0; i < units; ++i)
            group.members.push_back({3.1 + random.unit(), 0.02 + 0.05 * random.unit(), 1.5 + 2 * random.unit()});
        const JoinPlan plan = plan_joining(group, li, usual);
        if (plan.bring.empty())
            continue;
        const double meet = plan.bring[0].to_v;
        const auto moved_to = [&](double volts) {
            double out = 0;
            for (const auto& m : group.members)
                out += *m.capacity_ah * std::fabs(li.ocv.soc_at(volts) - li.ocv.soc_at(m.voltage_v));
            return out;
        };
        for (double v = 3.1; v <= 4.1; v += 0.01)
            CHECK(moved_to(v) >= moved_to(meet) - 1e-9);
        double low = meet;
        double high = meet;
        std::vector<JoinMember> after;
        for (std::size_t i = 0; i < group.members.size(); ++i) {
            double volts = group.members[i].voltage_v;
            for (const Bringing& bring : plan.bring)
                if (bring.member == i)
                    volts = bring.to_v;
            low = std::min(low, volts);
            high = std::max(high, volts);
            after.push_back({volts, group.members[i].resistance_ohm});
        }
        CHECK(high - low <= usual.largest_v + 1e-9);
        const auto amps = share_current(after).current_a;
        for (std::size_t i = 0; i < amps.size(); ++i)
            CHECK(std::fabs(amps[i]) <= 0.5 * *group.members[i].capacity_ah + 1e-6);
    }
}

TEST_CASE("Strips: resistance of a piece (V46, V47) and currents by hand") {
    CHECK(StripSize{0.02, 0.008, 0.00015, 1, 6.93e-8}.resistance_ohm() == Approx(0.001155).epsilon(1e-9));
    CHECK(StripSize{0.02, 0.008, 0.00015, 2, 6.93e-8}.resistance_ohm() == Approx(0.0005775).epsilon(1e-9));
    CHECK(StripSize{0.1, 0.008, 0.00015, 1, 1.40e-7}.resistance_ohm() == Approx(0.011667).margin(1e-6));
    // V73: three unequal cells on one bus under 10 A, joined by pieces of next to nothing.
    const std::vector<StripCell> cells = {
        {"1", "a", "0", 3.70, 0.030}, {"2", "b", "0", 3.68, 0.050}, {"3", "c", "0", 3.72, 0.040}};
    const std::vector<StripPiece> bus = {
        {"p1", "a", "bus", 1e-9, {}}, {"p2", "b", "bus", 1e-9, {}}, {"p3", "c", "bus", 1e-9, {}}};
    const auto solved = solve_strips(bus, cells, {10, "bus", "0"});
    REQUIRE(solved);
    CHECK(solved.value().terminal_v == Approx(3.573617).margin(1e-6));
    CHECK(solved.value().cell_a[0] == Approx(4.21277).margin(1e-5));
    CHECK(solved.value().pieces[1].current_a == Approx(2.12766).margin(1e-4));
    // Ideal sources in series with a piece: 2 V over 0.5 ohm and the load's 1 A.
    const auto ideal = solve_strips({{"p", "m", "n", 0.5, {}}}, {{"x", "m", "0", 2.0, 0}}, {1, "n", "0"});
    REQUIRE(ideal);
    CHECK(ideal.value().terminal_v == Approx(1.5));
    CHECK(ideal.value().cell_a[0] == Approx(1.0));
    CHECK(ideal.value().strip_loss_w == Approx(0.5));
    CHECK(ideal.value().worst == std::size_t{0});
}

TEST_CASE("Strips: Kirchhoff's laws and energy hold in any network") {
    Random random(3);
    for (int n = 0; n < 60; ++n) {
        const int nodes = 3 + random.below(30);
        const auto name = [](int i) { return "n" + std::to_string(i); };
        std::vector<StripPiece> pieces;
        for (int i = 1; i < nodes; ++i)
            pieces.push_back(
                {"p" + std::to_string(i), name(random.below(i)), name(i), 1e-4 + 1e-2 * random.unit(), {}});
        for (int i = 0; i < nodes; ++i) {
            const int a = random.below(nodes);
            const int b = random.below(nodes);
            if (a != b)
                pieces.push_back({"q" + std::to_string(i), name(a), name(b), 1e-4 + 1e-2 * random.unit(), 1e-6});
        }
        std::vector<StripCell> cells;
        for (int i = 0; i < nodes / 2; ++i) {
            const int a = random.below(nodes);
            cells.push_back({"c" + std::to_string(i), name(a), name((a + 1) % nodes), 3 + random.unit(), 0.05});
        }
        const double load = 20 * random.unit();
        const auto solved = solve_strips(pieces, cells, {load, name(nodes - 1), name(0)});
        REQUIRE(solved);
        std::map<std::string, double> out_of;
        double losses = solved.value().strip_loss_w;
        double driven = 0;
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            out_of[pieces[i].from] += solved.value().pieces[i].current_a;
            out_of[pieces[i].to] -= solved.value().pieces[i].current_a;
        }
        for (std::size_t i = 0; i < cells.size(); ++i) {
            const double amps = solved.value().cell_a[i];
            out_of[cells[i].plus] -= amps;
            out_of[cells[i].minus] += amps;
            losses += amps * amps * cells[i].resistance_ohm;
            driven += amps * cells[i].voltage_v;
        }
        out_of[name(nodes - 1)] += load;
        out_of[name(0)] -= load;
        for (const auto& [node, amps] : out_of)
            CHECK(std::fabs(amps) < 1e-9 * (1 + load) * 100);
        CHECK(driven == Approx(losses + load * solved.value().terminal_v).epsilon(1e-9));
    }
}

TEST_CASE("Strips: what cannot be solved is refused with its name") {
    const std::vector<StripCell> cell = {{"c1", "a", "0", 3.7, 0.03}};
    const auto why = [](const auto& pieces, const auto& cells, const StripLoad& load) {
        return solve_strips(pieces, cells, load).problem().sentence.english();
    };
    using Pieces = std::vector<StripPiece>;
    using Cells = std::vector<StripCell>;
    CHECK(why(Pieces{{"far", "x", "y", 1, {}}}, cell, {1, "a", "0"}).find("far") != std::string::npos);
    CHECK(why(Pieces{{"none", "a", "b", 0, {}}}, cell, {1, "b", "0"}).find("none") != std::string::npos);
    CHECK(why(Pieces{}, cell, {1, "z", "0"}).find("z") != std::string::npos);
    CHECK(why(Pieces{}, Cells{{"c1", "a", "0", 3.7, 0}, {"c2", "a", "0", 3.6, 0}}, {1, "a", "0"}).find("c1, c2") !=
          std::string::npos);
    CHECK(why(Pieces{}, Cells{{"c1", "a", "0", 3.7, 0.1}, {"c2", "x", "y", 3.6, 0.1}}, {1, "a", "0"}).find("c2") !=
          std::string::npos);
}

TEST_CASE("Change of chemistry: windows and clashes (V69, V70)") {
    const Chemistry li = lithium();
    const Chemistry ni = nickel();
    DeviceWindow device;
    device.nominal_v = 24;
    device.off_v = 20;
    device.bears_v = 29;
    device.charger_v = 26;
    device.charger_kind = ChargerKind::cc_cv;
    const auto all = conversions(ni, 20, device, {&li, &ni});
    REQUIRE(all.front().chemistry == "ni");
    CHECK(all.front().series == 20);
    CHECK(all.front().verdict == ConversionVerdict::keep);
    CHECK(all.front().empty_v == Approx(20));
    CHECK(all.front().full_v == Approx(28));
    CHECK(all.front().charge_v == Approx(30));
    CHECK(codes(all.front()) == std::vector{ConversionClash::charge_method, ConversionClash::charger_never_fills});
    // V69: 26 V on six lithium cells is 4.3333 V a cell, on seven 3.7143 V.
    const auto& six = design_of(all, "li", 6);
    CHECK(*six.charger_per_cell_v == Approx(4.3333).margin(1e-4));
    CHECK(codes(six) == std::vector{ConversionClash::charger_over_limit});
    CHECK(six.verdict == ConversionVerdict::changes);
    CHECK(six.needs_board);
    // V70: off at 20 V leaves six cells at 3.3333 V, under a third; seven go down to 2.8571 V, and full is 29.4 V.
    const auto& seven = design_of(all, "li", 7);
    CHECK(codes(seven) == std::vector{ConversionClash::charger_never_fills, ConversionClash::over_device,
                                      ConversionClash::runs_too_low});
    CHECK(seven.verdict == ConversionVerdict::clash);
    CHECK(*seven.clashes[1].value == Approx(29.4));
    CHECK(*seven.clashes[2].value == Approx(2.8571).margin(1e-4));
    // Five would fit by nominal voltage (18 V) but go off with most of the charge left.
    const auto& five = design_of(all, "li", 5);
    CHECK(std::find_if(five.clashes.begin(), five.clashes.end(), [](const Clash& c) {
              return c.clash == ConversionClash::unused_charge && *c.value > 1.0 / 3;
          }) != five.clashes.end());
    // 0.7 to 1.35 of 24 V: 5 to 9 lithium cells, 14 to 27 nickel cells of which 20 is the old one.
    CHECK(all.size() == 1 + 5 + 13);
    for (std::size_t i = 2; i < all.size(); ++i) {
        CHECK(all[i - 1].verdict <= all[i].verdict);
        if (all[i - 1].verdict == all[i].verdict)
            CHECK(std::fabs(all[i - 1].nominal_v - 24) <= std::fabs(all[i].nominal_v - 24) + 1e-9);
    }
    // Nothing known of device or charger: nothing clashes.
    for (const auto& design : conversions(ni, 20, {24, {}, {}, {}, {}}, {&li, &ni}))
        CHECK(design.clashes.empty());
    // A nickel charger never goes on lithium.
    device.charger_kind = ChargerKind::minus_dv;
    CHECK(codes(design_of(conversions(ni, 20, device, {&li}), "li", 6)).at(1) == ConversionClash::charge_method);
}
