// From the design to the last weld: figures that make sense, the currents in the metal, what a slipped tool bridges.
#include "core/build/build_steps.h"
#include "core/build/design.h"
#include "core/build/pack_joints.h"
#include "core/build/refill_joints.h"
#include "core/build/sizing.h"
#include "core/cells/random.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

using namespace ingot;

namespace {

using Face = StripDrawing::Face;

Layout laid_out(int series, int parallel, bool staggered = false) {
    LayoutProblem problem;
    for (int s = 0; s < series; ++s) {
        auto& group = problem.groups.emplace_back();
        for (int p = 0; p < parallel; ++p)
            group.push_back(std::to_string(s + 1) + "." + std::to_string(p + 1));
    }
    problem.diameter_m = 0.0185;
    problem.case_width_m = problem.case_height_m = 1;
    problem.staggered = staggered;
    const auto proposals = propose_layouts(problem);
    REQUIRE(proposals);
    return proposals.value().front();
}

std::vector<JoinedCell> alike(const Layout& layout, double volts, double ohm) {
    return std::vector<JoinedCell>(layout.cells.size(), JoinedCell{volts, ohm});
}

// Pure nickel, 0.15 x 8 mm.
const StripStock nickel_strip{0.008, 0.00015, 6.93e-8, 1, 1};

const BuildStep& at(const std::vector<BuildStep>& steps, BuildTask task) {
    for (const BuildStep& step : steps)
        if (step.task == task)
            return step;
    FAIL("there is no step " << code(task));
    throw 0;
}

// The most that can be bridged on a face when these pieces are welded, found the long way: every pair of conductors is
// put together through the contact, one after the other, and the circuit solved with the strips' solver.
struct Bridged {
    double volts = 0, amperes = 0;
};
Bridged by_trying(const Layout& layout, const std::vector<JoinedCell>& cells, const std::vector<char>& welded,
                  Face face, bool leads_out) {
    const std::size_t n = layout.cells.size();
    std::vector<std::size_t> net(2 * n);
    std::iota(net.begin(), net.end(), std::size_t{0});
    const auto end = [&](std::size_t cell, Face at_face) { return (at_face == Face::front ? 0 : n) + cell; };
    for (std::size_t p = 0; p < layout.pieces.size(); ++p)
        if (welded[p] != 0)
            for (const std::size_t cell : layout.pieces[p].cells) {
                const std::size_t from = net[end(cell, layout.pieces[p].face)];
                const std::size_t to = net[end(layout.pieces[p].cells.front(), layout.pieces[p].face)];
                std::replace(net.begin(), net.end(), from, to);
            }
    std::vector<StripCell> sources;
    std::vector<std::size_t> bare;
    for (std::size_t c = 0; c < n; ++c) {
        const Face plus = layout.cells[c].plus;
        const Face minus = plus == Face::front ? Face::back : Face::front;
        sources.push_back({std::to_string(c), std::to_string(net[end(c, plus)]), std::to_string(net[end(c, minus)]),
                           cells[c].voltage_v, cells[c].resistance_ohm});
        bare.push_back(net[end(c, face)]);
        if (plus == face)
            bare.push_back(net[end(c, minus)]); // its can
        if (leads_out)
            bare.insert(bare.end(), {net[end(c, plus)], net[end(c, minus)]});
    }
    // The cells that hang together with a net; others would float.
    const auto chain_of = [&](std::size_t start) {
        std::set<std::string> reached{std::to_string(start)};
        std::vector<StripCell> chain;
        for (bool more = true; more;) {
            more = false;
            for (const StripCell& cell : sources)
                if (reached.contains(cell.plus) != reached.contains(cell.minus)) {
                    reached.insert(cell.plus);
                    reached.insert(cell.minus);
                    more = true;
                }
        }
        for (const StripCell& cell : sources)
            if (reached.contains(cell.plus))
                chain.push_back(cell);
        return std::pair(chain, reached);
    };
    std::sort(bare.begin(), bare.end());
    bare.erase(std::unique(bare.begin(), bare.end()), bare.end());
    Bridged worst;
    for (const std::size_t a : bare)
        for (const std::size_t b : bare) {
            if (a <= b)
                continue;
            const auto [chain, reached] = chain_of(a);
            if (!reached.contains(std::to_string(b)))
                continue;
            // As a load of nothing between the two, through a contact and, to read the volts, through a megohm.
            const auto drawn = [&, &circuit = chain](double ohm) -> std::optional<double> {
                const auto solved = solve_strips({{"contact", std::to_string(a), std::to_string(b), ohm, std::nullopt}},
                                                 circuit, {0, std::to_string(a), std::to_string(b)});
                return solved ? std::optional(std::fabs(solved.value().pieces.front().current_a)) : std::nullopt;
            };
            constexpr double megohm = 1e6;
            const auto through = drawn(contact_ohm);
            const auto trickle = drawn(megohm);
            REQUIRE(through);
            REQUIRE(trickle);
            const double volts = *trickle * megohm;
            if (volts > worst.volts + 1e-3 || (volts > worst.volts - 1e-3 && *through > worst.amperes))
                worst = {volts, *through};
        }
    return worst;
}

} // namespace

TEST_CASE("A design keeps what is known; nothing else is filled in, and what makes no sense is refused") {
    BuildDesign design;
    CHECK_FALSE(design.device());
    CHECK_FALSE(design.number(DesignFigure::off_v));
    REQUIRE(design.set(DesignFigure::nominal_v, "24"));
    REQUIRE(design.set(DesignFigure::charger_v, "31"));
    REQUIRE(design.device());
    CHECK(design.device()->nominal_v == 24);
    CHECK_FALSE(design.device()->off_v);
    CHECK_FALSE(design.device()->charger_kind);
    CHECK_FALSE(design.set(DesignFigure::charger_kind, "quick"));
    REQUIRE(design.set(DesignFigure::charger_kind, "minus-dv"));
    CHECK(design.device()->charger_kind == ChargerKind::minus_dv);
    const auto refused = design.set(DesignFigure::off_v, "-3");
    REQUIRE_FALSE(refused);
    CHECK(refused.problem().sentence.english().find("0.1 to 1000 V") != std::string::npos);
    CHECK_FALSE(design.set(DesignFigure::off_v, "20 V"));
    CHECK_FALSE(design.set(DesignFigure::off_v, "nan"));
    REQUIRE(design.set(DesignFigure::charger_v, ""));
    CHECK_FALSE(design.knows(DesignFigure::charger_v));
    // A refill names its pack and places; places alone are none, and neither are words.
    REQUIRE(design.set(DesignFigure::refill_groups, "3,7"));
    CHECK_FALSE(design.refills());
    REQUIRE(design.set(DesignFigure::refill_pack, "MOW-02 \u00B7 pack 3"));
    CHECK(design.refill_groups() == std::vector<int>{3, 7});
    for (const char* wrong : {"3,", ",3", "0", "3;7", "3.5", "three", "1000"})
        CHECK_FALSE(design.set(DesignFigure::refill_groups, wrong));
    CHECK(design.refill_groups() == std::vector<int>{3, 7}); // a refusal changes nothing
    REQUIRE(design.set(DesignFigure::balance_a, "0.06"));
    CHECK_FALSE(design.set(DesignFigure::charger_a, "0"));
    for (int f = 0; f < design_figure_count; ++f) {
        const auto figure = static_cast<DesignFigure>(f);
        CHECK(design_figure_from(code(figure)) == figure);
    }
    for (int t = 0; t < build_task_count; ++t)
        CHECK(build_task_from(code(static_cast<BuildTask>(t))) == static_cast<BuildTask>(t));
}

TEST_CASE("The end bar of a row of four carries one, two, three cells, its lead all four") {
    const Layout layout = laid_out(1, 4);
    const auto joints = load_joints(layout, alike(layout, 3.6, 0.5), nickel_strip, 4);
    REQUIRE(joints);
    for (std::size_t p = 0; p < layout.pieces.size(); ++p)
        // With cells of half an ohm the strips decide nothing. A bar's lead stands at one end of it.
        CHECK(joints.value().pieces[p].current_a ==
              Approx(layout.pieces[p].kind == LayoutPiece::Kind::lead ? 4.0 : 3.0).margin(0.02));
    CHECK(layout.pieces[joints.value().worst].kind == LayoutPiece::Kind::lead);
    double sum = 0;
    for (const double a : joints.value().cell_a)
        sum += a;
    CHECK(sum == Approx(4));
    CHECK(joints.value().drop_v * 4 == Approx(joints.value().loss_w));
    // Twice the layers at the ends: half the density there, half the loss.
    StripStock doubled = nickel_strip;
    doubled.end_layers = 2;
    const auto thick = load_joints(layout, alike(layout, 3.6, 0.5), doubled, 4);
    REQUIRE(thick);
    CHECK(thick.value().pieces[joints.value().worst].density_a_per_m2 ==
          Approx(joints.value().pieces[joints.value().worst].density_a_per_m2 / 2));
    CHECK(thick.value().loss_w == Approx(joints.value().loss_w / 2).epsilon(0.01));
}

TEST_CASE("Joints of a pack obey energy and scale with the load") {
    Random random(11);
    for (const auto& [series, parallel] : {std::pair{7, 4}, {3, 1}, {5, 2}, {13, 3}}) {
        const Layout layout = laid_out(series, parallel, parallel > 2);
        std::vector<JoinedCell> cells;
        for (std::size_t c = 0; c < layout.cells.size(); ++c)
            cells.push_back({3.7, (0.02 + (0.06 - 0.02) * random.unit())});
        const auto one = load_joints(layout, cells, nickel_strip, 1);
        const auto ten = load_joints(layout, cells, nickel_strip, 10);
        REQUIRE(one);
        REQUIRE(ten);
        CHECK(ten.value().loss_w == Approx(100 * one.value().loss_w).epsilon(1e-6));
        CHECK(ten.value().warmest_k == Approx(100 * one.value().warmest_k).epsilon(1e-6));
        CHECK(ten.value().worst == one.value().worst);
        // What the cells give is what the load and the metal take.
        double given = 0;
        for (std::size_t c = 0; c < cells.size(); ++c)
            given += ten.value().cell_a[c] * (cells[c].voltage_v - ten.value().cell_a[c] * cells[c].resistance_ohm);
        std::vector<double> group(static_cast<std::size_t>(series), 0);
        for (std::size_t c = 0; c < cells.size(); ++c)
            group[layout.cells[c].group] += ten.value().cell_a[c];
        for (const double a : group)
            CHECK(a == Approx(10).epsilon(1e-6));
        CHECK(given > ten.value().loss_w);
        double pieces = 0;
        for (const PieceLoad& piece : ten.value().pieces)
            pieces += piece.loss_w;
        CHECK(pieces == Approx(ten.value().loss_w).epsilon(1e-9));
    }
    const Layout layout = laid_out(2, 2);
    auto cells = alike(layout, 3.6, 0.05);
    cells[1].resistance_ohm = 0;
    CHECK_FALSE(load_joints(layout, cells, nickel_strip, 1));
    CHECK_FALSE(load_joints(layout, alike(layout, 3.6, 0.05), {0.008, 0, 6.93e-8, 1, 1}, 1));
}

TEST_CASE("A strip between two welds warms as a fin does") {
    const StripSize tab{0.040, 0.008, 0.00015, 1, 6.93e-8};
    // So short that no air counts: q L^2 / 8, the parabola of handbooks, with Wiedemann and Franz's conductivity.
    const StripSize shorter{0.004, 0.008, 0.00015, 1, 6.93e-8};
    const double k = 2.44e-8 * 293 / 6.93e-8;
    CHECK(k == Approx(91).epsilon(0.15)); // nickel at room temperature, W/mK, handbooks of physics
    CHECK(2.44e-8 * 293 / 1.724e-8 == Approx(400).epsilon(0.05)); // copper, the same
    const double q = 15.0 * 15.0 * 6.93e-8 / (shorter.area_m2() * shorter.area_m2() * k);
    CHECK(strip_warming_k(shorter, 15) == Approx(q * 0.004 * 0.004 / 8).epsilon(0.005));
    // So long that the ends count for nothing: all heat leaves through one face.
    const StripSize longer{2, 0.008, 0.00015, 1, 6.93e-8};
    CHECK(strip_warming_k(longer, 5) == Approx(25 * 6.93e-8 / longer.area_m2() / (10 * longer.width_m)).epsilon(1e-6));
    CHECK(strip_warming_k(tab, 15) > 15);
    CHECK(strip_warming_k(tab, 15) < 25);
    CHECK(strip_warming_k(tab, 30) == Approx(4 * strip_warming_k(tab, 15)));
}

TEST_CASE("What a slipped tool bridges is what trying every pair of conductors finds") {
    Random random(5);
    for (const auto& [series, parallel] : {std::pair{1, 3}, {2, 1}, {2, 2}, {3, 2}, {4, 3}, {5, 1}}) {
        const Layout layout = laid_out(series, parallel, series == 4);
        std::vector<JoinedCell> cells;
        for (std::size_t c = 0; c < layout.cells.size(); ++c)
            cells.push_back({(3.60 + (3.66 - 3.60) * random.unit()), (0.03 + (0.07 - 0.03) * random.unit())});
        const auto steps = build_steps(layout, cells);
        std::vector<char> welded(layout.pieces.size(), 0);
        bool leads_out = false;
        for (const BuildStep& step : steps) {
            leads_out |= step.task == BuildTask::sense_leads;
            for (const auto& item : step.items)
                for (const std::size_t piece : item.pieces)
                    welded[piece] = 1;
            for (const auto& hazard : {step.here, step.covered}) {
                if (!hazard)
                    continue;
                INFO(series << "S" << parallel << "P " << code(step.task) << " " << code(hazard->face));
                const Bridged tried = by_trying(layout, cells, welded, hazard->face, leads_out);
                CHECK(hazard->volts == Approx(tried.volts).epsilon(2e-4));
                CHECK(hazard->amperes == Approx(tried.amperes).epsilon(0.02));
            }
        }
        CHECK(std::count(welded.begin(), welded.end(), 1) == static_cast<long>(layout.pieces.size()));
    }
}

TEST_CASE("The pack's whole voltage lies bare in the last steps only") {
    const Layout layout = laid_out(7, 4, true);
    const auto steps = build_steps(layout, alike(layout, 3.64, 0.058));
    REQUIRE(at(steps, BuildTask::parallel_front).here);
    CHECK(at(steps, BuildTask::parallel_front).here->volts == Approx(3.64));
    CHECK(at(steps, BuildTask::parallel_front).here->rim); // before any joint there is nothing else to bridge
    // 3.64 V over a group of four 58 mohm cells and the contact.
    CHECK(at(steps, BuildTask::parallel_back).here->amperes == Approx(3.64 / (0.058 / 4 + contact_ohm)).epsilon(1e-6));
    const BuildStep& front = at(steps, BuildTask::links_front);
    CHECK(front.here->volts <= 2 * 3.64 + 1e-9);
    CHECK(front.covered->volts == Approx(2 * 3.64));
    // Seven groups: the pack's minus lies on one face, its plus on the other, until leads bring them together.
    CHECK(at(steps, BuildTask::links_back).here->volts == Approx(6 * 3.64));
    const BareHazard& whole = *at(steps, BuildTask::sense_leads).here;
    CHECK(whole.volts == Approx(7 * 3.64));
    CHECK(whole.amperes == Approx(7 * 3.64 / (7 * 0.058 / 4 + contact_ohm)).epsilon(1e-6));
    CHECK(front.items.size() + at(steps, BuildTask::links_back).items.size() == 6);
    CHECK(at(steps, BuildTask::sense_leads).items.size() == 8);
    double before = 0;
    for (const BuildStep& step : steps) {
        CHECK(step.here->volts >= before - 1e-9); // never higher first
        before = std::min(step.here->volts, 3.64 * 2);
    }
    CHECK(build_steps(laid_out(1, 3), alike(laid_out(1, 3), 3.6, 0.05)).size() < steps.size());
}

TEST_CASE("Steps come in an order that any build can be walked in, and nothing is welded past its gate") {
    for (const auto& [series, parallel] : {std::pair{1, 1}, {1, 4}, {2, 1}, {3, 2}, {7, 4}}) {
        const Layout layout = laid_out(series, parallel);
        BuildTicks done;
        std::vector<bool> gate(static_cast<std::size_t>(series), true);
        for (const BuildStep& step : build_steps(layout, alike(layout, 3.6, 0.05))) {
            CHECK(step.items.size() == build_items(step.task, series, parallel).size());
            for (int i = 1; i <= static_cast<int>(step.items.size()); ++i) {
                INFO(series << "S" << parallel << "P " << code(step.task) << " " << i);
                CHECK_FALSE(missing_before({step.task, i}, done, gate, series, parallel));
                done[{step.task, i}] = "now";
                // What is welded belongs to the groups that the item names.
                for (const std::size_t piece : step.items[static_cast<std::size_t>(i) - 1].pieces)
                    for (const std::size_t cell : layout.pieces[piece].cells) {
                        const auto& groups = step.items[static_cast<std::size_t>(i) - 1].groups;
                        const int group = static_cast<int>(layout.cells[cell].group) + 1;
                        CHECK((groups.empty() || std::find(groups.begin(), groups.end(), group) != groups.end()));
                    }
            }
        }
    }
    using T = BuildTask;
    BuildTicks done{{{T::rings, 1}, "a"}, {{T::holder, 1}, "b"}};
    const std::vector<bool> gate{true, false, true};
    CHECK(missing_before({T::parallel_front, 1}, done, gate, 3, 2) == std::pair(T::polarity, 1));
    done[{T::polarity, 1}] = "c";
    CHECK_FALSE(missing_before({T::parallel_front, 1}, done, gate, 3, 2));
    CHECK(missing_before({T::parallel_front, 2}, done, gate, 3, 2) ==
          std::pair(T::gate, 2)); // the gate holds one group
    CHECK(missing_before({T::board, 1}, done, gate, 3, 2) == std::pair(T::fuse, 1));
    CHECK(missing_before({T::links_back, 1}, done, gate, 3, 2) == std::pair(T::cover_front, 1));
    CHECK(missing_before({T::sense_leads, 2}, done, gate, 1, 1) == std::pair(T::sense_leads, 1));
}

TEST_CASE("Units that a device needs: the run or the current decides, by hand") {
    Chemistry lithium;
    lithium.usual_nominal_v = 3.6;
    const StockModel model{"H26", 30, 2.2, 5, 0.045, 1};
    // 120 W for 40 minutes are 80 Wh; seven in series hold 7 x 3.6 x 2.2 = 55.44 Wh: two strings, 14 units.
    const auto run = size_pack(7, lithium, model, {std::nullopt, 120, 2400});
    REQUIRE(run);
    CHECK(run->parallel == 2);
    CHECK_FALSE(run->by_current);
    CHECK(run->units == 14);
    CHECK(run->energy_wh == Approx(110.88));
    CHECK(*run->run_s == Approx(110.88 / 120 * 3600));
    CHECK(*run->mass_kg == Approx(0.63));
    CHECK(run->enough);
    // 15 A from units of 5 A: three strings.
    const auto current = size_pack(7, lithium, model, {15, 120, 2400});
    REQUIRE(current);
    CHECK(current->parallel == 3);
    CHECK(current->by_current);
    CHECK_FALSE(size_pack(7, lithium, {"module", 9, 6.0, 0, 0, 6}, {})); // seven is not a number of sixes
    const auto modules = size_pack(12, lithium, {"module", 9, 6.0, 0, 0, 6}, {});
    REQUIRE(modules);
    CHECK(modules->units == 2);
    CHECK_FALSE(modules->run_s);
    CHECK_FALSE(modules->mass_kg);
    CHECK_FALSE(size_pack(7, lithium, {"X", 9, 0, 0, 0, 1}, {})); // nobody measured one
}

TEST_CASE("A refill opens the joints beside its groups; what stands on either side is live end to end") {
    const std::vector<double> volts(13, 3.6);
    const StripDrawing usual = StripDrawing::usual(13);
    const auto runs = refill_runs({4, 5, 9, 13}, volts, usual);
    REQUIRE(runs.size() == 3);
    CHECK((runs[0].first == 4 && runs[0].last == 5));
    REQUIRE(runs[0].below);
    CHECK(runs[0].below->below == 3);
    REQUIRE(runs[0].below->faces.size() == 1);           // front and back in turn
    CHECK(runs[0].below->faces == runs[0].above->faces); // 3 to 4 and 5 to 6, with 4 to 5 on the other
    CHECK(runs[0].above->below == 5);
    CHECK(runs[0].below_v == Approx(3 * 3.6));
    CHECK(runs[0].above_v == Approx(3 * 3.6)); // 6, 7, 8: up to the next opening
    CHECK(runs[1].standing_below == 3);
    CHECK(runs[1].above_v == Approx(3 * 3.6));
    CHECK_FALSE(runs[2].above); // the pack's end: its lead comes off
    CHECK(runs[2].standing_above == 0);
    CHECK(runs[2].above_v == 0);
    // By brute force: every group stands in exactly one of the stretches, or goes out.
    for (int mask = 1; mask < 256; ++mask) {
        std::vector<int> groups;
        std::vector<double> own;
        double stays = 0;
        for (int g = 1; g <= 8; ++g) {
            own.push_back(3.0 + 0.1 * g);
            if ((mask >> (g - 1)) & 1)
                groups.push_back(g);
            else
                stays += own.back();
        }
        const auto all = refill_runs(groups, own, StripDrawing());
        double below = 0;
        int count = 0;
        for (const RefillRun& run : all) {
            below += run.below_v;
            count += run.last - run.first + 1;
            CHECK(run.below.has_value() == (run.first > 1));
            if (run.below)
                CHECK(run.below->faces.empty()); // nobody drew them
        }
        CHECK(count == static_cast<int>(groups.size()));
        CHECK(below + all.back().above_v == Approx(stays));
    }
    CHECK(refill_runs({}, volts, usual).empty());
}
