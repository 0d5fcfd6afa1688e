// A pack under a load, against ngspice and against what must hold of any pack.
#include "core/build/pack_in_use.h"

#include "exchange/library_toml.h"
#include "exchange/pack_design_json.h"
#include "exchange/spice_netlist.h"
#include "spice.h"

#include "core/cells/random.h"

using namespace ingot;

namespace {

const exchange::Library& shipped_library() {
    static const exchange::Library library = exchange::read_library(INGOT_SOURCE_DIR "/data").value();
    return library;
}
const Chemistry& chemistry(const std::string& id) {
    return *shipped_library().chemistry(id);
}

PackDesign uneven(int series, int parallel, std::uint64_t seed, bool pairs) {
    Random random(seed);
    PackDesign design;
    design.joint_ohm = 0.0026;
    for (int s = 0; s < series; ++s) {
        auto& group = design.groups.emplace_back();
        for (int p = 0; p < parallel; ++p) {
            PackDesign::Cell cell;
            cell.capacity_ah = 2.1 + 0.5 * random.unit();
            cell.resistance_ohm = 0.03 + 0.03 * random.unit();
            cell.soc = 0.95 + 0.05 * random.unit();
            if (pairs) {
                cell.r1_ohm = 0.01 + 0.02 * random.unit();
                cell.c1_f = 600 + 900 * random.unit();
            }
            group.push_back(cell);
        }
    }
    return design;
}

PackRun run_of(const PackDesign& design, const Chemistry& c, const PackLoad& load, double until_v,
               std::optional<double> step_s = {}) {
    const auto run = run_pack(design, c, load, {until_v, step_s});
    REQUIRE(run);
    return run.value();
}

} // namespace

TEST_CASE("A pack in use equals ngspice: unequal cells, RC pairs, strips, steps of current and of power") {
    struct Case {
        int series, parallel;
        bool pairs;
        PackLoad load;
    };
    const Case cases[] = {
        {1, 1, false, {false, {{0, 2.0}}}},
        {2, 2, true, {false, {{0, 5.0}, {30, 0.0}, {60, 2.0}}}},
        {7, 4, true, {false, {{0, 12.0}, {300, 2.0}, {600, 6.0}}}},
        {3, 2, true, {true, {{0, 60.0}, {120, 10.0}}}},
    };
    for (const Case& c : cases) {
        INFO(c.series << "S" << c.parallel << "P");
        const PackDesign design = uneven(c.series, c.parallel, 5, c.pairs);
        const PackRun run = run_of(design, chemistry("nmc"), c.load, 3.0);
        CHECK(std::fabs(run.energy_balance) < 1e-6);
        const tests::Spice spice(exchange::write_spice_netlist(design, chemistry("nmc"), c.load, run.run_time_s + 60));
        const auto terminal = tests::Spice::vector("terminal");
        std::size_t compared = 0;
        for (const auto& sample : run.curve) {
            // Beside an edge of the load the two sample on different sides of it.
            const double period = c.load.levels.size() == 1 ? 1e9
                                                            : 2 * c.load.levels.back().from_s -
                                                                  c.load.levels[c.load.levels.size() - 2].from_s;
            const double within = std::fmod(sample.time_s, period);
            bool edge = sample.time_s < 1 || within < 1.5 || within > period - 1.5;
            for (const auto& level : c.load.levels)
                edge |= std::fabs(within - level.from_s) < 1.5;
            if (edge)
                continue;
            ++compared;
            CHECK(sample.terminal_v == Approx(spice.at(terminal, sample.time_s)).epsilon(0.001));
        }
        CHECK(compared > 50);
        // And it ends when the circuit's lowest group passes 3.0 V.
        double ends = 1e9;
        for (int g = 1; g <= c.series; ++g) {
            const auto plus = tests::Spice::vector("g" + std::to_string(g));
            const auto minus =
                g == 1 ? std::vector<double>(plus.size(), 0) : tests::Spice::vector("g" + std::to_string(g - 1));
            for (std::size_t i = 0; i < plus.size(); ++i)
                if (plus[i] - minus[i] <= 3.0) {
                    ends = std::min(ends, spice.time()[i]);
                    break;
                }
        }
        CHECK(run.run_time_s == Approx(ends).epsilon(0.001));
    }
}

TEST_CASE("A lone cell without resistance to speak of gives its charge: 2.5 Ah at 1 A last 9,000 s") {
    PackDesign design;
    design.groups = {{{"a", 2.5, 1e-6, 1, 0, 0}}};
    const PackRun run = run_of(design, chemistry("nmc"), {false, {{0, 1.0}}}, 2.0);
    CHECK(run.reason == EndReason::empty);
    CHECK(run.run_time_s == Approx(9000).margin(0.01));
    CHECK(run.usable_ah == Approx(2.5).epsilon(1e-6));
    // The integral of the curve, by hand: trapezoids between its points.
    const auto& ocv = chemistry("nmc").ocv;
    double mean = 0;
    for (std::size_t i = 1; i < ocv.soc().size(); ++i)
        mean += (ocv.soc()[i] - ocv.soc()[i - 1]) * (ocv.ocv_v()[i] + ocv.ocv_v()[i - 1]) / 2;
    CHECK(run.usable_wh == Approx(2.5 * mean).epsilon(1e-5));
}

TEST_CASE("Currents at the first moment are those of the closed form (V75)") {
    PackDesign design;
    design.groups = {{{"a", 2.5, 0.030, 1, 0, 0}, {"b", 2.5, 0.050, 1, 0, 0}, {"c", 2.5, 0.040, 1, 0, 0}}};
    const PackRun run = run_of(design, chemistry("nmc"), {false, {{0, 10.0}}}, 4.0); // ends at once: 10 A sag below
    CHECK(run.cells[0][0].peak_a == Approx(4.25532).margin(1e-5));
}

TEST_CASE("What must hold of any pack: symmetry, scaling, the weakest group ends it") {
    const Chemistry& nmc = chemistry("nmc");
    const PackDesign design = uneven(4, 3, 11, true);
    const PackLoad load{false, {{0, 6.0}, {100, 1.0}}};
    const PackRun run = run_of(design, nmc, load, 3.0);
    // The order of groups and of cells in them does not matter.
    PackDesign turned = design;
    std::reverse(turned.groups.begin(), turned.groups.end());
    for (auto& group : turned.groups)
        std::reverse(group.begin(), group.end());
    const PackRun other = run_of(turned, nmc, load, 3.0);
    CHECK(other.run_time_s == Approx(run.run_time_s).epsilon(1e-9));
    CHECK(other.ended_by == 3 - run.ended_by);
    CHECK(other.cells[3][2].mean_a == Approx(run.cells[0][0].mean_a).epsilon(1e-9));
    // Twice everything across: twice the charge, the same time.
    PackDesign doubled = design;
    for (auto& group : doubled.groups) {
        const auto once = group;
        group.insert(group.end(), once.begin(), once.end());
    }
    doubled.joint_ohm /= 2;
    const PackRun twice = run_of(doubled, nmc, {false, {{0, 12.0}, {100, 2.0}}}, 3.0);
    CHECK(twice.run_time_s == Approx(run.run_time_s).epsilon(1e-9));
    CHECK(twice.usable_wh == Approx(2 * run.usable_wh).epsilon(1e-9));
    // Cells that are alike share alike, and V62: groups that are full together give what the smallest holds.
    PackDesign groups;
    for (const double ah : {9.8, 10.1, 9.2, 10.0})
        groups.groups.push_back({{"", ah, 1e-5, 1, 0, 0}});
    const PackRun smallest = run_of(groups, nmc, {false, {{0, 1.0}}}, 2.5);
    CHECK(smallest.usable_ah == Approx(9.2).epsilon(1e-4));
    CHECK(smallest.ended_by == 2);
    CHECK(smallest.groups[1].left_ah == Approx(0.9).epsilon(1e-3));
    // A finer step changes nothing that is shown.
    CHECK(run_of(design, nmc, load, 3.0, 0.1).run_time_s == Approx(run.run_time_s).epsilon(2e-6));
}

TEST_CASE("A load that never ends the pack, and power that cannot be drawn") {
    const PackDesign design = uneven(2, 1, 3, false);
    const Chemistry& nmc = chemistry("nmc");
    for (const PackLoad& load : {PackLoad{false, {{0, 0.0}}}, PackLoad{false, {{0, -1.0}}},
                                 PackLoad{false, {{0, 1.0}, {10, -1.0}}}, PackLoad{true, {{0, 0.0}, {5, 0.0}}}}) {
        const auto run = run_pack(design, nmc, load, {3.0, {}});
        REQUIRE_FALSE(run);
        CHECK(run.problem().sentence.english().find("never") != std::string::npos);
    }
    const auto fierce = run_pack(design, nmc, {true, {{0, 1e5}}}, {3.0, {}});
    REQUIRE(fierce);
    CHECK(fierce.value().reason == EndReason::power);
    CHECK(fierce.value().run_time_s == 0);
    // A small load is marched in long steps: half a year in far less than a second, the charge kept.
    const PackRun slow = run_of(design, nmc, {false, {{0, 0.0005}}}, 3.0);
    CHECK(slow.run_time_s > 100 * 86400.0);
    CHECK(slow.usable_ah == Approx(0.0005 * slow.run_time_s / 3600).epsilon(1e-6));
}

TEST_CASE("A pack's design and load from files, with objections that name the place") {
    const auto design = exchange::read_pack_design(
        R"({"chemistry": "lfp", "joint_ohm": 0.002, "temperature_c": 21,
            "groups": [[{"cell": "a", "capacity_ah": 6, "resistance_ohm": 0.01, "soc": null}]]})",
        "d.json");
    REQUIRE(design);
    CHECK(design.value().chemistry == "lfp");
    CHECK(design.value().design.groups[0][0].soc == 1);
    CHECK(design.value().design.temperature_c == Approx(21));
    const auto why = [](const std::string& text) {
        return exchange::read_pack_design(text, "d.json").problem().text();
    };
    CHECK(why("{\n\"chemistry\": \"nmc\",\n oops}").find("d.json:3: ") == 0);
    CHECK(why("[]").find("d.json:1: ") == 0);
    CHECK(why(R"({"chemistry": "nmc"})").find("\"groups\" is missing") != std::string::npos);
    CHECK(why(R"({"chemistry": "nmc", "groups": [[]]})").find("groups[0]") != std::string::npos);
    CHECK(why(R"({"chemistry": "nmc", "groups": [[{"capacity_ah": 2}]]})").find("resistance_ohm") != std::string::npos);
    CHECK(why(R"({"chemistry": "nmc", "groups": [[{"capacity_ah": 2, "resistance_ohm": 1, "soc": 90}]]})")
              .find("0 to 1") != std::string::npos);
    CHECK(
        why(R"({"chemistry": "nmc", "groups": [[{"capacity_ah": 2, "resistance_ohm": 1, "sock": 1}]]})").find("sock") !=
        std::string::npos);
    const auto load = exchange::read_pack_load("Time / min;Power / kW\n0;0,5\n2;0\n", "l.csv");
    REQUIRE(load);
    CHECK(load.value().power);
    CHECK(load.value().levels[1].from_s == 120);
    CHECK(load.value().levels[0].value == 500);
    const auto bad = [](const std::string& text) { return exchange::read_pack_load(text, "l.csv").problem().text(); };
    CHECK(bad("Time / s,Current / A\n5,1\n5,2\n").find("l.csv:3: ") == 0);
    CHECK(bad("Time / s\n5\n").find("one of them") != std::string::npos);
    CHECK(bad("Time / s,Current / A\n").find("no level") != std::string::npos);
}

TEST_CASE("A run that is cut short ends there: so much charge as flowed, at rest nothing, and a pack's own end first") {
    const PackDesign design = uneven(3, 2, 11, true);
    const PackLoad load{false, {{0, 2.0}}};
    const auto cut = run_pack(design, chemistry("nmc"), load, {3.0, std::nullopt, 600.0});
    REQUIRE(cut);
    CHECK(cut.value().run_time_s == Approx(600));
    CHECK(cut.value().reason == EndReason::time);
    CHECK(std::string(code(EndReason::time)) == "time");
    CHECK(cut.value().usable_ah == Approx(2.0 * 600 / 3600));
    CHECK(std::fabs(cut.value().energy_balance) < 1e-6);
    // Between two levels, and where nothing ever flows: no objection, it only stands.
    const PackLoad steps{false, {{0, 2.0}, {300, 0.0}, {600, 1.0}}};
    CHECK(run_pack(design, chemistry("nmc"), steps, {3.0, std::nullopt, 600.0}).value().usable_ah ==
          Approx(2.0 * 300 / 3600));
    const auto still = run_pack(design, chemistry("nmc"), {false, {{0, 0.0}}}, {3.0, std::nullopt, 50.0});
    REQUIRE(still);
    CHECK(still.value().usable_ah == Approx(0).margin(1e-9));
    const PackRun whole = run_of(design, chemistry("nmc"), load, 3.0);
    const auto longer = run_pack(design, chemistry("nmc"), load, {3.0, std::nullopt, whole.run_time_s * 2});
    CHECK(longer.value().reason == EndReason::cutoff);
    CHECK(longer.value().run_time_s == Approx(whole.run_time_s));
    // What its cells lose on average is what the energy says.
    double lost_w = 0;
    for (const auto& group : whole.cells)
        for (const PackRun::Cell& cell : group)
            lost_w += cell.loss_w;
    CHECK(lost_w > 0);
    CHECK(lost_w * whole.run_time_s / 3600 < whole.usable_wh);
}
