// Several builds from one pool: against an exact solver on small cases, and what must hold of any.
#include "core/match/allot.h"

#include "core/cells/random.h"

#include "glpk_program.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <set>

using namespace ingot;

namespace {

// The largest sum of usable capacities (each counted up to what is wanted), in mAh, by mixed-integer programming:
// x[u][g] binary over the groups of all builds, each group full, its sum at least its build's z.
double best_sum_by_glpk(const AllotProblem& p) {
    const int n = static_cast<int>(p.pool.size());
    std::vector<int> build_of;
    for (std::size_t b = 0; b < p.builds.size(); ++b)
        for (int g = 0; g < p.builds[b].series; ++g)
            build_of.push_back(static_cast<int>(b));
    const int groups = static_cast<int>(build_of.size());
    const int builds = static_cast<int>(p.builds.size());
    const tests::GlpkProgram program(n * groups + builds);
    glp_prob* lp = program.lp();
    const auto x = [&](int u, int g) { return u * groups + g + 1; };
    const auto z = [&](int b) { return n * groups + b + 1; };
    for (int u = 0; u < n; ++u)
        for (int g = 0; g < groups; ++g)
            glp_set_col_kind(lp, x(u, g), GLP_BV);
    for (int b = 0; b < builds; ++b) {
        const auto& wanted = p.builds[static_cast<std::size_t>(b)].wanted_ah;
        glp_set_col_bnds(lp, z(b), wanted ? GLP_DB : GLP_LO, 0, wanted ? *wanted * 1000 : 0);
        glp_set_obj_coef(lp, z(b), 1);
    }
    const auto row = [&](auto&&... terms) { program.row(std::forward<decltype(terms)>(terms)...); };
    for (int u = 0; u < n; ++u) {
        std::vector<int> columns;
        for (int g = 0; g < groups; ++g)
            columns.push_back(x(u, g));
        row(columns, std::vector<double>(columns.size(), 1.0), GLP_UP, 0, 1);
    }
    for (int g = 0; g < groups; ++g) {
        std::vector<int> columns;
        std::vector<double> sums;
        for (int u = 0; u < n; ++u) {
            columns.push_back(x(u, g));
            sums.push_back(std::round(*p.pool[static_cast<std::size_t>(u)].capacity_ah * 1000));
        }
        const int across = p.builds[static_cast<std::size_t>(build_of[static_cast<std::size_t>(g)])].parallel;
        row(columns, std::vector<double>(columns.size(), 1.0), GLP_FX, across, across);
        columns.push_back(z(build_of[static_cast<std::size_t>(g)]));
        sums.push_back(-1);
        row(columns, sums, GLP_LO, 0, 0);
    }
    return program.best([](glp_iocp& options) {
        options.mip_gap = 1e-4;
        options.tm_lim = 20'000;
    });
}

std::vector<MatchUnit> some_pool(int units, std::uint64_t seed, const std::string& chemistry = "") {
    Random random(seed);
    std::vector<MatchUnit> out;
    for (int u = 0; u < units; ++u) {
        MatchUnit unit;
        unit.id = chemistry + "u" + std::to_string(u);
        unit.capacity_ah = std::round(1600 + 900 * random.unit()) / 1000;
        unit.resistance_ohm = 0.03 + 0.03 * random.unit();
        unit.model = random.below(2) == 0 ? "A" : "B";
        unit.chemistry = chemistry;
        out.push_back(unit);
    }
    return out;
}

AllotBuild build(const std::string& id, int series, int parallel, int priority = 1) {
    AllotBuild out;
    out.id = id;
    out.series = series;
    out.parallel = parallel;
    out.priority = priority;
    out.give_up = 0;
    return out;
}

AllotResult allotted(const AllotProblem& problem) {
    const auto result = allot(problem);
    REQUIRE(result);
    // No unit twice, every group full, the figures are those of the groups.
    std::set<std::size_t> used;
    for (std::size_t b = 0; b < problem.builds.size(); ++b) {
        const Allotted& out = result.value().builds[b];
        if (!out.filled) {
            CHECK(out.match.groups.empty());
            continue;
        }
        REQUIRE(out.match.groups.size() == static_cast<std::size_t>(problem.builds[b].series));
        double least = 1e9;
        for (const GroupSums& group : out.match.groups) {
            CHECK(group.units.size() == static_cast<std::size_t>(problem.builds[b].parallel));
            double sum = 0;
            for (const std::size_t u : group.units) {
                CHECK(used.insert(u).second);
                sum += *problem.pool[u].capacity_ah;
            }
            least = std::min(least, sum);
        }
        CHECK(out.match.usable_ah == Approx(least));
        const double counted = std::min(least, problem.builds[b].wanted_ah.value_or(least));
        CHECK(counted <= out.bound_ah + 1e-9);
    }
    CHECK(used.size() + result.value().left.size() == problem.pool.size());
    CHECK(result.value().usable_ah <= result.value().bound_ah + 1e-9);
    return result.value();
}

} // namespace

TEST_CASE("Several builds: close to the exact optimum, never above it, the bound never below") {
    struct Case {
        std::vector<AllotBuild> builds;
        int units;
    };
    std::vector<Case> cases;
    cases.push_back({{build("a", 2, 2), build("b", 2, 1)}, 9});
    cases.push_back({{build("a", 3, 1), build("b", 2, 2)}, 9});
    cases.push_back({{build("a", 2, 2), build("b", 2, 2)}, 10});
    cases.push_back({{build("a", 1, 3), build("b", 4, 1)}, 8});
    cases.push_back({{build("a", 2, 2), build("b", 2, 2)}, 10});
    cases.back().builds[1].wanted_ah = 3.6;
    double worst = 1;
    for (const Case& c : cases)
        for (std::uint64_t seed = 1; seed <= 4; ++seed) {
            AllotProblem problem;
            problem.pool = some_pool(c.units, seed);
            problem.builds = c.builds;
            const AllotResult found = allotted(problem);
            const double best = best_sum_by_glpk(problem) / 1000;
            INFO(c.builds[0].series << "S" << c.builds[0].parallel << "P seed " << seed);
            CHECK(found.usable_ah <= best + 1e-3);
            CHECK(found.bound_ah >= best - 1e-3);
            worst = std::min(worst, found.usable_ah / best);
        }
    CHECK(worst >= 0.96);
}

TEST_CASE("A higher priority is served as if the lower were not there") {
    AllotProblem problem;
    problem.pool = some_pool(60, 8);
    problem.builds = {build("second", 4, 3, 2), build("first", 7, 2, 1), build("third", 30, 2, 3)};
    const AllotResult all = allotted(problem);
    AllotProblem alone = problem;
    alone.builds = {problem.builds[1]};
    CHECK(all.builds[1].match.usable_ah == Approx(allotted(alone).builds[0].match.usable_ah));
    CHECK(all.builds[0].filled);
    CHECK_FALSE(all.builds[2].filled);
    CHECK(all.builds[2].lacking == 60 - (60 - 14 - 12));
    CHECK(all.left.size() == 60 - 14 - 12);
}

TEST_CASE("A build takes no more than it wants, and leaves the strong ones") {
    AllotProblem problem;
    problem.pool = some_pool(60, 9);
    problem.builds = {build("lantern", 4, 2), build("mower", 7, 2)};
    problem.builds[0].wanted_ah = 3.7;
    const AllotResult result = allotted(problem);
    CHECK(result.builds[0].match.usable_ah >= 3.7);
    CHECK(result.builds[0].match.usable_ah < 3.7 * 1.02);
    AllotProblem alone = problem;
    alone.builds = {problem.builds[1]};
    CHECK(result.builds[1].match.usable_ah == Approx(allotted(alone).builds[0].match.usable_ah).epsilon(1e-3));
    // What cannot be reached comes as near as it can.
    problem.builds[0].wanted_ah = 9.0;
    problem.builds.pop_back();
    CHECK(allotted(problem).builds[0].match.usable_ah > 4.4);
}

TEST_CASE("Chemistry, model, duty: what a build may use") {
    AllotProblem problem;
    problem.pool = some_pool(20, 1, "nmc");
    for (MatchUnit unit : some_pool(30, 2, "lfp")) {
        unit.capacity_ah = *unit.capacity_ah + 2.0;
        problem.pool.push_back(unit);
    }
    problem.builds = {build("any", 4, 2), build("nmc", 2, 2), build("one model", 3, 1)};
    problem.builds[1].chemistry = "nmc";
    problem.builds[2].model = "B";
    const AllotResult result = allotted(problem);
    CHECK(result.builds[0].chemistry == "lfp"); // serves it best
    for (std::size_t b = 0; b < 3; ++b)
        for (const GroupSums& group : result.builds[b].match.groups)
            for (const std::size_t u : group.units) {
                CHECK(problem.pool[u].chemistry == result.builds[b].chemistry);
                if (b == 2)
                    CHECK(problem.pool[u].model == "B");
            }
    problem.builds.resize(1);
    problem.builds[0].may_use.assign(problem.pool.size(), 0);
    CHECK(allotted(problem).builds[0].lacking == 8);
    // A liked model gives way where it does not suffice.
    problem.builds[0] = build("refill", 4, 2);
    problem.builds[0].chemistry = "nmc";
    problem.builds[0].model = "B";
    problem.builds[0].model_first = true;
    CHECK(allotted(problem).builds[0].filled);
    problem.builds[0].chemistry = "pb-agm";
    CHECK_FALSE(allot(problem));
    problem.builds.clear();
    CHECK_FALSE(allot(problem));
}

TEST_CASE("Same problem and seed, same answer; stopped, still a whole one") {
    AllotProblem problem;
    problem.pool = some_pool(200, 12);
    problem.builds = {build("a", 7, 4), build("b", 10, 3), build("c", 13, 2, 2)};
    const AllotResult once = allotted(problem);
    const AllotResult again = allotted(problem);
    for (std::size_t b = 0; b < 3; ++b)
        for (std::size_t g = 0; g < once.builds[b].match.groups.size(); ++g)
            CHECK(once.builds[b].match.groups[g].units == again.builds[b].match.groups[g].units);
    const auto stopped = allot(problem, [](std::size_t, std::size_t) { return false; });
    REQUIRE(stopped);
    for (const Allotted& b : stopped.value().builds)
        CHECK(b.filled);
}

TEST_CASE("What one build costs another: nothing above it, no cost; without those above, what it would have first") {
    for (std::uint64_t seed = 1; seed <= 5; ++seed) {
        AllotProblem problem;
        problem.pool = some_pool(60, seed);
        problem.builds = {build("third", 4, 4, 3), build("first", 7, 2, 1), build("second", 2, 5, 2)};
        const AllotStanding first = standing_of(problem, 1);
        CHECK(first.above.empty());
        CHECK(first.at_most_ah == Approx(first.if_first_ah));
        CHECK(first.at_most_ah == Approx(allotted(problem).builds[1].at_most_ah));
        const AllotStanding third = standing_of(problem, 0);
        REQUIRE(third.above.size() == 2);
        CHECK(third.above[0].build == 1); // by priority
        CHECK(third.above[1].build == 2);
        CHECK(third.if_first_ah >= third.at_most_ah);
        AllotProblem alone = problem;
        alone.builds = {problem.builds[0]};
        CHECK(third.if_first_ah == Approx(allotted(alone).builds[0].at_most_ah));
        for (const AllotCost& cost : third.above) {
            CHECK(cost.ah >= 0);
            CHECK(third.at_most_ah + cost.ah <= third.if_first_ah + 1e-9); // one fewer above never gives more than none
        }
    }
    // Two that want the same four of five units: the second has what the first leaves.
    AllotProblem two;
    for (const double ah : {2.0, 2.0, 2.0, 2.0, 1.0, 1.0, 1.0, 1.0}) {
        MatchUnit unit;
        unit.id = "u" + std::to_string(two.pool.size());
        unit.capacity_ah = ah;
        unit.chemistry = "nmc";
        two.pool.push_back(unit);
    }
    two.builds = {build("a", 2, 2, 1), build("b", 2, 2, 2)};
    const AllotStanding second = standing_of(two, 1);
    CHECK(second.if_first_ah == Approx(4.0));
    CHECK(second.at_most_ah == Approx(2.0));
    CHECK(second.above.at(0).ah == Approx(2.0));
}
