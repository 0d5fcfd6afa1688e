// A build from its design to the last weld, as the shop's steps: what is refused, what is kept, what is joined.
#include "workshop/build_wording.h"
#include "workshop/wording.h"

#include "shop.h"
#include "temporary.h"
#include "workshop/workshop.h"

#include <catch2/catch.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

// Twelve lithium cells of a lantern pack, measured, reserved as 4S3P and, if wanted, taken.
struct BuildShop {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Build");
    std::vector<Id> cells;
    Id build = 0;

    explicit BuildShop(bool measured = true) {
        cells = tests::lantern_cells(*shop, {4, 3, 1});
        if (measured)
            for (std::size_t c = 0; c < cells.size(); ++c) {
                read(c, Quantity::voltage, 3.640 + 0.001 * static_cast<double>(c % 3));
                read(c, Quantity::dc_resistance, 0.050 + 0.001 * static_cast<double>(c % 4));
                read(c, Quantity::capacity, 2.20 + 0.01 * static_cast<double>(c % 5));
            }
        std::vector<std::vector<Id>> groups(4);
        for (std::size_t c = 0; c < cells.size(); ++c)
            groups[c / 3].push_back(cells[c]);
        build = shop->match().reserve(4, 3, groups, std::nullopt, 0).value();
    }
    void read(std::size_t cell, Quantity quantity, double value) const {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        if (quantity == Quantity::voltage)
            m.resolution = 0.001;
        REQUIRE(shop->test().record_reading(cells[cell], m));
    }
    void take_all() const {
        for (const Id cell : cells)
            REQUIRE(shop->build().take(build, cell));
    }
    void set(DesignFigure figure, const char* value) const { REQUIRE(shop->build().set_figure(build, figure, value)); }
    [[nodiscard]] std::string refusal(BuildTask task, int item) const {
        const auto done = shop->build().tick(build, task, item);
        REQUIRE_FALSE(done);
        return done.problem().sentence.english();
    }
    void tick(BuildTask task, int item = 1) const {
        const auto done = shop->build().tick(build, task, item);
        INFO(code(task) << " " << item << (done ? std::string() : done.problem().sentence.english()));
        REQUIRE(done);
    }
    void tick_all_to(BuildTask last) const {
        if (last >= BuildTask::board) // what protects it is known by then
            set(DesignFigure::board_kind, "board");
        while (const auto next = shop->build().next_item(build)) {
            if (next->first > last)
                return;
            tick(next->first, next->second);
        }
    }
};

} // namespace

TEST_CASE("A build is joined step by step: nothing is welded past its gate, and the file keeps every tick") {
    const BuildShop s;
    CHECK(s.refusal(BuildTask::rings, 1).find("take all its units") != std::string::npos);
    s.take_all();
    CHECK(s.refusal(BuildTask::board, 1).find("First:") != std::string::npos);
    CHECK(s.refusal(BuildTask::gate, 1).find("not ticked") != std::string::npos);
    CHECK(s.refusal(BuildTask::rings, 2).find("1 items") != std::string::npos);
    s.tick_all_to(BuildTask::polarity);
    // One unit stands 0.15 V above its siblings: its group waits, the others go on.
    s.read(4, Quantity::voltage, 3.790);
    const auto gate = s.shop->build().gate(s.build);
    CHECK_FALSE(gate[1].passes);
    REQUIRE(gate[1].plan);
    REQUIRE(gate[1].plan->bring.size() == 1);
    CHECK(gate[1].units[gate[1].plan->bring[0].member] == s.shop->unit(s.cells[4])->code());
    CHECK(*gate[1].plan->bring[0].charge_ah < 0); // drained
    CHECK(s.refusal(BuildTask::parallel_front, 2).find("gate of group 2 is shut") != std::string::npos);
    s.tick(BuildTask::parallel_front, 1);
    CHECK(s.shop->build().next_item(s.build) == std::pair(BuildTask::parallel_front, 3));
    CHECK(s.refusal(BuildTask::links_front, 1).find("bars") != std::string::npos);
    // Brought down and read again.
    s.read(4, Quantity::voltage, 3.642);
    s.tick(BuildTask::parallel_front, 2);
    s.tick_all_to(BuildTask::parallel_back);
    // Welded units neither go back to their tray nor to stock.
    CHECK_FALSE(s.shop->build().put_back(s.build, s.cells[0]));
    CHECK_FALSE(s.shop->build().give_up(s.build));
    // What stands on a step keeps it.
    const auto kept = s.shop->build().take_back(s.build, BuildTask::parallel_front, 1);
    REQUIRE_FALSE(kept);
    CHECK(kept.problem().sentence.english().find("stands on it") != std::string::npos);
    REQUIRE(s.shop->build().take_back(s.build, BuildTask::parallel_back, 4));
    CHECK_FALSE(s.shop->build().take_back(s.build, BuildTask::parallel_back, 4));
    s.tick(BuildTask::parallel_back, 4);
    // The first sense lead goes first.
    s.tick_all_to(BuildTask::links_back);
    CHECK(s.refusal(BuildTask::sense_leads, 3).find("lead 0") != std::string::npos);
    s.tick_all_to(BuildTask::board);
    CHECK(s.shop->build_of(s.build)->state == AssemblyState::taken);
    s.tick(BuildTask::cover);
    CHECK(s.shop->build_of(s.build)->state == AssemblyState::joined);
    CHECK_FALSE(s.shop->build().next_item(s.build));
    for (const Id cell : s.cells)
        CHECK(s.shop->unit(cell)->record.whereabouts == Whereabouts::built);
    CHECK_FALSE(s.shop->build().give_up(s.build));
    const auto reader = Workshop::open(s.shop->path()).value();
    CHECK(reader->build().ticks(s.build) == s.shop->build().ticks(s.build));
    CHECK(reader->build_of(s.build)->state == AssemblyState::joined);
    // The last tick was too early: the pack is open again, its units are the bench's.
    REQUIRE(s.shop->build().take_back(s.build, BuildTask::cover, 1));
    CHECK(s.shop->build_of(s.build)->state == AssemblyState::taken);
    for (const Id cell : s.cells)
        CHECK(s.shop->unit(cell)->record.whereabouts == Whereabouts::reserved);
}

TEST_CASE("N46: what is not read afresh opens no gate, and nothing is filled in for what was not measured") {
    const BuildShop s(false);
    s.take_all();
    s.tick_all_to(BuildTask::polarity);
    for (const auto& group : s.shop->build().gate(s.build)) {
        CHECK_FALSE(group.passes);
        CHECK_FALSE(group.plan);
        CHECK(group.unread.size() == 3);
    }
    CHECK_FALSE(s.shop->build().next_item(s.build));
    const BuildQuestion bare = s.shop->build().question(s.build);
    CHECK(bare.unread.size() == 12);
    CHECK(bare.without_resistance.size() == 12);
    CHECK(bare.without_capacity.size() == 12);
    CHECK_FALSE(bare.stock);
    const BuildPlan plan = plan_build(bare);
    REQUIRE(plan.now() != nullptr); // where they stand needs no measurement
    CHECK_FALSE(plan.now()->joints);
    CHECK(plan.joins_as_designed);
    // The room is not measured: they stand in the corner of what they need, where they can be seen.
    for (const LayoutProposal& proposal : plan.proposals)
        for (const LayoutCell& cell : proposal.layout.cells) {
            CHECK(cell.x_m > 0);
            CHECK(cell.y_m > 0);
            CHECK(cell.x_m < proposal.layout.size_m[0]);
            CHECK(cell.y_m < proposal.layout.size_m[1]);
        }
    REQUIRE_FALSE(plan.steps.empty());
    CHECK(plan.steps.back().here->volts == Approx(4 * bare.chemistry.full_v)); // unread ones count as full: the worst
    s.set(DesignFigure::load_w, "20");
    const BuildRun run = run_build(s.shop->build().question(s.build));
    CHECK(run.variants.empty());
    CHECK(wording::sentence(run.objection).contains(QString::fromStdString(bare.without_resistance.front())));
    // An ampere through one of them, and its voltage holds no more.
    const BuildShop read;
    read.take_all();
    CHECK(read.shop->build().question(read.build).unread.empty());
    CHECK(read.shop->build().gate(read.build)[0].passes);
}

TEST_CASE("A layout carries its current: the end bar is too thin, and what mends it is worked out") {
    const BuildShop s;
    for (const auto& [figure, value] : {std::pair(DesignFigure::case_width_m, "0.09"),
                                        {DesignFigure::case_height_m, "0.07"},
                                        {DesignFigure::strip_width_m, "0.008"},
                                        {DesignFigure::strip_thickness_m, "0.00015"},
                                        {DesignFigure::strip_material, "nickel"},
                                        {DesignFigure::continuous_a, "15"},
                                        {DesignFigure::welder_thickest_m, "0.00015"}})
        s.set(figure, value);
    CHECK_FALSE(s.shop->build().set_figure(s.build, DesignFigure::strip_material, "gold"));
    CHECK_FALSE(s.shop->build().set_figure(s.build, DesignFigure::strip_width_m, "8"));
    const BuildPlan plan = plan_build(s.shop->build().question(s.build));
    REQUIRE(plan.now() != nullptr);
    REQUIRE(plan.now()->joints);
    CHECK(plan.now()->layout.fits);
    const PackJoints& joints = *plan.now()->joints;
    CHECK(joints.pieces[joints.worst].density_a_per_m2 == Approx(15 / (0.008 * 0.00015)).epsilon(1e-6)); // the lead
    REQUIRE(plan.remedies.size() >= 2);
    CHECK(plan.remedies[0].kind == RemedyKind::end_layer);
    CHECK(plan.remedies[0].welder_fits);
    CHECK(plan.remedies[0].joints.pieces[plan.remedies[0].joints.worst].density_a_per_m2 <
          0.7 * joints.pieces[joints.worst].density_a_per_m2);
    for (const Remedy& remedy : plan.remedies) // each makes the worst piece better
        CHECK(remedy.joints.pieces[remedy.joints.worst].density_a_per_m2 <
              joints.pieces[joints.worst].density_a_per_m2);
    for (const Remedy& remedy : plan.remedies)
        CHECK(remedy.welder_fits == (remedy.kind != RemedyKind::thicker));
    // Taken, it is what is planned next; another proposal is kept with it.
    s.set(DesignFigure::end_layers, "2");
    CHECK(plan_build(s.shop->build().question(s.build)).now()->joints->drop_v < joints.drop_v);
    const std::string other = arrangement_of(plan.proposals.back().layout);
    s.set(DesignFigure::arrangement, other.c_str());
    const BuildPlan again = plan_build(s.shop->build().question(s.build));
    CHECK(arrangement_of(again.now()->layout) == other);
    const auto reader = Workshop::open(s.shop->path()).value();
    CHECK(reader->build().design(s.build).word(DesignFigure::arrangement) == other);
    // How long it runs on what was measured: more strip helps a little, a heavier load costs.
    s.set(DesignFigure::load_w, "40");
    s.set(DesignFigure::off_v, "12");
    const BuildRun run = run_build(s.shop->build().question(s.build));
    REQUIRE(run.variants.size() == 4);
    CHECK(run.variants[0].joints_known);
    const double as_built = run.variants[0].run.run_time_s;
    // 4 x 3 cells of 2.2 Ah at about 3.6 V: 95 Wh.
    CHECK(run.variants[0].run.usable_wh == Approx(95).epsilon(0.07));
    CHECK(as_built == Approx(run.variants[0].run.usable_wh / 40 * 3600).epsilon(0.01));
    CHECK(run.variants[1].run.run_time_s > 1.3 * as_built); // a third more cells
    CHECK(run.variants[2].run.run_time_s > as_built);
    CHECK(run.variants[3].run.run_time_s < as_built / 1.09);
    CHECK(run.variants[0].run.groups.size() == 4);
}

TEST_CASE("A change of chemistry is held against the device; what was in it is kept only when that is known") {
    const BuildShop s;
    CHECK(s.shop->build().conversions_for(s.build).empty()); // the device is not known
    s.set(DesignFigure::nominal_v, "14.4");
    auto designs = s.shop->build().conversions_for(s.build);
    REQUIRE_FALSE(designs.empty());
    for (const ConversionDesign& design : designs)
        CHECK(design.verdict != ConversionVerdict::keep);
    s.set(DesignFigure::charger_v, "18.6");
    s.set(DesignFigure::charger_kind, "minus-dv");
    s.set(DesignFigure::old_chemistry, "nimh");
    s.set(DesignFigure::old_series, "12");
    CHECK_FALSE(s.shop->build().set_figure(s.build, DesignFigure::old_chemistry, "unobtainium"));
    designs = s.shop->build().conversions_for(s.build);
    CHECK(designs.front().verdict == ConversionVerdict::keep);
    CHECK(designs.front().chemistry == "nimh");
    const auto own = std::find_if(designs.begin(), designs.end(),
                                  [](const ConversionDesign& d) { return d.chemistry == "nmc" && d.series == 4; });
    REQUIRE(own != designs.end());
    CHECK(own->verdict == ConversionVerdict::changes);
    CHECK(std::any_of(own->clashes.begin(), own->clashes.end(),
                      [](const Clash& c) { return c.clash == ConversionClash::charger_over_limit; }));
    // 18.6 V on four cells are 4.65 V each.
    CHECK(*own->charger_per_cell_v == Approx(4.65));
    // The stock that could fill it: the cells are reserved, so nothing is left.
    CHECK(s.shop->build().fillings(s.build, "nmc", 4).empty());
    REQUIRE(s.shop->build().give_up(s.build));
    const auto fillings = s.shop->build().fillings(s.build, "nmc", 4);
    REQUIRE(fillings.size() == 1);
    CHECK(fillings[0].stock.in_stock == 12);
}

TEST_CASE("Groups of unlike size are refused with the reason, not laid out and not run") {
    const BuildShop s;
    REQUIRE(s.shop->build().give_up(s.build));
    const auto odd =
        s.shop->match().reserve(2, 3, {{s.cells[0], s.cells[1], s.cells[2]}, {s.cells[3]}}, std::nullopt, 0);
    REQUIRE(odd);
    REQUIRE(s.shop->build().set_figure(odd.value(), DesignFigure::load_w, "20"));
    const BuildQuestion question = s.shop->build().question(odd.value());
    CHECK(plan_build(question).objection.english().find("unlike size") != std::string::npos);
    const BuildRun run = run_build(question);
    CHECK(run.variants.empty());
    CHECK(run.objection.english().find("unlike size") != std::string::npos);
}

TEST_CASE("Modules have no layout, but their steps and hazards are known") {
    const Temporary folder;
    const auto shop = tests::new_shop(folder.file("m.ingot"), "Modules");
    const Id lot = shop->receive().add_lot({0, "BUOY", "", "", "", {}}).value();
    Assembly p;
    p.lot = lot;
    p.label = "row";
    p.chemistry = "nimh";
    p.layout = {4, 1, 6};
    const Id id = shop->receive().add_pack(p).value();
    REQUIRE(shop->receive().set_state(id, AssemblyState::to_open));
    const auto modules = shop->open().open_pack(id, "M1", "row module", "S1").value();
    std::vector<std::vector<Id>> groups;
    for (const Id module : modules) {
        Measurement m;
        m.quantity = Quantity::voltage;
        m.value = 7.8;
        REQUIRE(shop->test().record_reading(module, m));
        m.quantity = Quantity::dc_resistance;
        m.value = 0.020;
        REQUIRE(shop->test().record_reading(module, m));
        m.quantity = Quantity::capacity;
        m.value = 6.0;
        REQUIRE(shop->test().record_reading(module, m));
        groups.push_back({module});
    }
    const auto reserved = shop->match().reserve(4, 1, groups, std::nullopt, 0);
    REQUIRE(reserved);
    const Id build = reserved.value();
    const BuildPlan plan = plan_build(shop->build().question(build));
    CHECK(plan.now() == nullptr);
    REQUIRE(plan.row.size() == 4); // they stand in one row, as reserved
    CHECK(plan.row[2] == shop->unit(groups[2].front())->code());
    REQUIRE_FALSE(plan.steps.empty());
    CHECK(plan.steps.back().here->volts == Approx(4 * 7.8));
    for (const BuildStep& step : plan.steps) {
        CHECK(step.task != BuildTask::gate); // nothing stands in parallel
        CHECK((!step.here || !step.here->rim));
    }
    REQUIRE(shop->build().set_figure(build, DesignFigure::continuous_a, "6"));
    const BuildRun run = run_build(shop->build().question(build));
    REQUIRE_FALSE(run.variants.empty());
    CHECK(run.variants[0].run.groups.size() == 4);                       // modules, not their cells
    CHECK(run.variants[0].run.run_time_s == Approx(3600).epsilon(0.06)); // 6 Ah at 6 A
    CHECK_FALSE(run.variants[0].joints_known);
    CHECK_FALSE(run.variants[0].warmth); // no place is known of a module
    CHECK_FALSE(run.variants[0].warmth_objection.empty());
    // Its bars, once they are read: three of 2 milliohm take 36 mV at 6 A.
    REQUIRE(shop->build().set_figure(build, DesignFigure::bar_ohm, "0.002"));
    const BuildRun with_bars = run_build(shop->build().question(build));
    CHECK(with_bars.variants[0].joints_known);
    CHECK(run.variants[0].run.curve.front().terminal_v - with_bars.variants[0].run.curve.front().terminal_v ==
          Approx(0.036).epsilon(0.01));
    for (const Id module : modules)
        REQUIRE(shop->build().take(build, module));
    while (const auto next = shop->build().next_item(build))
        REQUIRE(shop->build().tick(build, next->first, next->second));
    CHECK(shop->build_of(build)->state == AssemblyState::joined);
}

TEST_CASE("The strongest group goes to the warm middle, least ohms to the edge; nothing welded is moved") {
    const BuildShop s;
    s.set(DesignFigure::case_width_m, "0.09");
    s.set(DesignFigure::case_height_m, "0.09");
    BuildService& build = s.shop->build();
    const BuildPlan plan = plan_build(build.question(s.build));
    const Layout* layout = plan.now() == nullptr ? nullptr : &plan.now()->layout;
    const auto seats = build.heat_seats(s.build, layout);
    REQUIRE(seats.objection.empty());
    REQUIRE(seats.moved > 0);
    s.take_all();
    s.tick(BuildTask::rings, 1);
    const BuildSheet before = build.sheet(s.build);
    std::vector<std::vector<Id>> old(4);
    for (const BuildLine& line : before.lines)
        old[static_cast<std::size_t>(line.group - 1)].push_back(line.unit);
    REQUIRE(build.arrange(s.build, seats.order));
    const BuildSheet after = build.sheet(s.build);
    REQUIRE(after.lines.size() == 12);
    CHECK(after.taken == 12); // they lie at the bench as before
    for (const BuildLine& line : after.lines)
        CHECK(line.unit ==
              seats.order[static_cast<std::size_t>(line.group - 1)][static_cast<std::size_t>(line.place - 1)]);
    CHECK(build.ticks(s.build).empty()); // what was seen was seen of other units
    CHECK(build.heat_seats(s.build, layout).moved == 0);
    // In a row of four groups the middle two are the strongest.
    const auto row = build.heat_seats(s.build, nullptr);
    std::vector<double> ah(4, 0);
    for (std::size_t g = 0; g < 4; ++g)
        for (const Id unit : row.order[g])
            ah[g] += s.shop->unit(unit)->facts.capacity_ah->value;
    CHECK(std::min(ah[1], ah[2]) >= std::max(ah[0], ah[3]) - 1e-9);
    // The file keeps it, and it goes back.
    const auto again = Workshop::open(s.shop->path()).value();
    CHECK(again->build().sheet(s.build).lines.front().unit == after.lines.front().unit);
    REQUIRE(build.arrange(s.build, old));
    for (std::size_t i = 0; i < 12; ++i)
        CHECK(build.sheet(s.build).lines[i].unit == before.lines[i].unit);
    // One unit twice, one missing, one of another build: refused, and nothing moved.
    auto twice = old;
    twice[0][0] = twice[1][0];
    CHECK_FALSE(build.arrange(s.build, twice));
    auto missing = old;
    missing[3].pop_back();
    CHECK_FALSE(build.arrange(s.build, missing));
    CHECK(build.sheet(s.build).lines.size() == 12);
    s.tick_all_to(BuildTask::gate);
    while (const auto next = build.next_item(s.build)) {
        s.tick(next->first, next->second);
        if (next->first > BuildTask::gate)
            break;
    }
    CHECK_FALSE(build.arrange(s.build, seats.order));
    CHECK_FALSE(BuildShop(false).shop->build().heat_seats(s.build, nullptr).objection.empty()); // not measured
}

TEST_CASE("An unsafe design is refused before the first metal: the reason, the figure, and the way on (N43)") {
    const BuildShop s;
    s.take_all();
    s.set(DesignFigure::continuous_a, "10");
    s.set(DesignFigure::fuse_a, "5");
    // What is read and laid out goes on; what joins does not.
    s.tick(BuildTask::rings);
    s.tick(BuildTask::holder);
    s.tick(BuildTask::polarity);
    const std::string fuse = s.refusal(BuildTask::parallel_front, 1);
    CHECK(fuse.find("5.00") != std::string::npos);
    CHECK(fuse.find("10.00") != std::string::npos);
    s.set(DesignFigure::fuse_a, "15");
    s.tick(BuildTask::parallel_front);
    s.set(DesignFigure::joining, "solder-cells");
    CHECK(s.refusal(BuildTask::parallel_front, 2).find("Nobody solders on a lithium cell") != std::string::npos);
    s.set(DesignFigure::joining, "weld");
    s.tick_all_to(BuildTask::fuse);
    // The board's own step asks which it is; a thermal switch is none, its old one left in it is a school.
    CHECK(s.refusal(BuildTask::board, 1).find("Say at Need") != std::string::npos);
    s.set(DesignFigure::board_kind, "none");
    CHECK(s.refusal(BuildTask::board, 1).find("No board is not an option") != std::string::npos);
    s.set(DesignFigure::board_kind, "thermal-switch");
    CHECK(s.refusal(BuildTask::board, 1).find("thermal switch") != std::string::npos);
    s.set(DesignFigure::board_kind, "left-in-pack");
    const auto minded = s.shop->build().safety(s.build, true);
    REQUIRE(minded.size() == 1);
    CHECK_FALSE(minded[0].refuses);
    CHECK(wording::unsafe(minded[0]).contains(QStringLiteral("balance leads")));
    s.tick(BuildTask::board);
    s.tick(BuildTask::cover);
    CHECK(s.shop->build_of(s.build)->state == AssemblyState::joined);
}

TEST_CASE(
    "What a hand moved is kept with its arrangement, left out in another one, and stays once something is welded") {
    const BuildShop s;
    s.set(DesignFigure::case_width_m, "0.12");
    s.set(DesignFigure::case_height_m, "0.12");
    const auto plan = [&] { return plan_build(s.shop->build().question(s.build)); };
    const BuildPlan proposed = plan();
    const std::string here = arrangement_of(proposed.now()->layout);
    s.set(DesignFigure::by_hand, (here + ": cell 2.1 1.5 -0.5; lead plus 4.2").c_str());
    const BuildPlan moved = plan();
    CHECK(moved.not_moved.empty());
    CHECK(moved.now()->layout.cells[3].x_m == Approx(proposed.now()->layout.cells[3].x_m + 0.0015));
    CHECK(moved.as_proposed.cells[3].x_m == Approx(proposed.now()->layout.cells[3].x_m));
    CHECK(moved.joins_as_designed);
    // Beside the window the same is worked out from the proposal, move by move.
    const auto live = with_moves(proposed, s.shop->build().question(s.build),
                                 layout_moves_from(here + ": cell 2.1 1.5 -0.5; lead plus 4.2").value());
    REQUIRE(live);
    for (std::size_t c = 0; c < 12; ++c)
        CHECK(live.value().now()->layout.cells[c].x_m == Approx(moved.now()->layout.cells[c].x_m));
    CHECK(live.value().now()->layout.strip_length_m == Approx(moved.now()->layout.strip_length_m));
    // Refused with the reason, nothing half done: a sentence that is none, and a place that is not there is said.
    const auto wrong = s.shop->build().set_figure(s.build, DesignFigure::by_hand, "cell 2.1");
    REQUIRE_FALSE(wrong);
    CHECK_THAT(wrong.problem().sentence.english(), Catch::Contains("\"cell 3.2 0.5 -1\""));
    CHECK(s.shop->build().design(s.build).word(DesignFigure::by_hand).find("lead plus 4.2") != std::string::npos);
    s.set(DesignFigure::by_hand, (here + ": cell 9.1 1 1").c_str());
    CHECK_THAT(plan().not_moved.english(), Catch::Contains("no place 9.1"));
    // Another arrangement.
    std::string other;
    for (const LayoutProposal& one : proposed.proposals)
        if (arrangement_of(one.layout) != here)
            other = arrangement_of(one.layout);
    REQUIRE(!other.empty());
    s.set(DesignFigure::by_hand, (here + ": cell 2.1 1.5 -0.5").c_str());
    s.set(DesignFigure::arrangement, other.c_str());
    CHECK_THAT(plan().not_moved.english(), Catch::Contains(here));
    s.set(DesignFigure::arrangement, here.c_str());
    CHECK(plan().not_moved.empty());
    s.take_all();
    s.tick_all_to(BuildTask::parallel_front);
    const auto late = s.shop->build().set_figure(s.build, DesignFigure::by_hand, "");
    REQUIRE_FALSE(late);
    CHECK_THAT(late.problem().sentence.english(), Catch::Contains("welded"));
}

TEST_CASE("A holder's springs stand in series with each unit, and more than they bear is refused") {
    const BuildShop s;
    for (const auto& [figure, value] : {std::pair(DesignFigure::strip_width_m, "0.008"),
                                        {DesignFigure::strip_thickness_m, "0.00015"},
                                        {DesignFigure::strip_material, "nickel"},
                                        {DesignFigure::continuous_a, "12"}})
        s.set(figure, value);
    const double bare = s.shop->build().question(s.build).units.front().resistance_ohm;
    CHECK(plan_build(s.shop->build().question(s.build)).now()->joints);
    s.set(DesignFigure::spring_ohm, "0.012");
    CHECK(s.shop->build().question(s.build).units.front().resistance_ohm == Approx(bare)); // welded: no springs
    s.set(DesignFigure::joining, "holder");
    CHECK(s.shop->build().question(s.build).units.front().resistance_ohm == Approx(bare + 0.024));
    CHECK_FALSE(plan_build(s.shop->build().question(s.build)).now()->joints); // no strip carries anything
    const auto refused = [&] {
        for (const UnsafeFinding& f : s.shop->build().safety(s.build, false))
            if (f.what == Unsafe::spring_over_current)
                return f.refuses && *f.value == Approx(4.0) && *f.limit == Approx(3.0);
        return false;
    };
    CHECK_FALSE(refused());
    s.set(DesignFigure::spring_a, "3");
    CHECK(refused()); // 12 A over three in parallel
    s.set(DesignFigure::spring_a, "5");
    CHECK_FALSE(refused());
}

TEST_CASE("Flat cells of the shop's own format are laid out in stacks; a format without sizes is refused") {
    const BuildShop s;
    const std::string pouch = "[[format]]\nid = \"pouch-60x8\"\nbroad_mm = 60.0\nthick_mm = 8.0\nheight_mm = 95.0\n"
                              "source = \"measured here\"\n";
    const auto kept = s.shop->catalogue().save_entry(exchange::EntryKind::format, pouch);
    REQUIRE(kept);
    const auto none = s.shop->catalogue().save_entry(
        exchange::EntryKind::format, "[[format]]\nid = \"x\"\nheight_mm = 95.0\nsource = \"measured here\"\n");
    REQUIRE_FALSE(none);
    CHECK(s.shop->library().format("x") == nullptr);
    UnitModel model = *s.shop->library().model(s.shop->unit(s.cells[0])->record.model);
    model.format = "pouch-60x8";
    REQUIRE(s.shop->catalogue().save_model(model));
    const BuildQuestion question = s.shop->build().question(s.build);
    CHECK_FALSE(question.diameter_m);
    REQUIRE(question.flat_m);
    const BuildPlan plan = plan_build(question);
    REQUIRE(plan.now() != nullptr);
    CHECK(plan.now()->layout.flat);
    CHECK(plan.joins_as_designed);
    CHECK(*plan.gap_m == Approx(0.001));
    CHECK_FALSE(plan.steps.empty());
    CHECK(plan.covers.rings == 0);
}
