#include "benchmarks/match_pools.h"
#include "core/match/problem.h"
#include "sanitized.h"

#include <catch2/catch.hpp>

#include <chrono>
#include <numeric>
#include <set>
#include <tuple>

using namespace ingot;

namespace {

MatchProblem of_mah(const std::vector<int>& capacities, int series, int parallel) {
    MatchProblem p;
    p.series = series;
    p.parallel = parallel;
    for (std::size_t i = 0; i < capacities.size(); ++i) {
        MatchUnit u;
        u.id = "U" + std::to_string(i);
        u.capacity_ah = capacities[i] / 1000.0;
        p.pool.push_back(u);
    }
    return p;
}

std::vector<std::vector<std::size_t>> groups_of(const MatchResult& r) {
    std::vector<std::vector<std::size_t>> groups;
    for (const auto& g : r.groups)
        groups.push_back(g.units);
    return groups;
}

// What must hold of any answer, whatever the way.
void check_invariants(const MatchProblem& problem, const MatchResult& r) {
    REQUIRE(r.groups.size() == static_cast<std::size_t>(problem.series));
    std::set<std::size_t> used;
    for (const auto& g : r.groups) {
        REQUIRE(g.units.size() == static_cast<std::size_t>(problem.parallel));
        for (const std::size_t u : g.units) {
            REQUIRE(u < problem.pool.size());
            CHECK(used.insert(u).second);
            CHECK(std::find(problem.excluded.begin(), problem.excluded.end(), u) == problem.excluded.end());
        }
    }
    for (const auto& lock : problem.locks) {
        const auto& g = r.groups[lock.group].units;
        CHECK(std::find(g.begin(), g.end(), lock.unit) != g.end());
    }
    // Recomputed here from the pool, without the matcher's code.
    double low = 1e9;
    double high = 0;
    double total = 0;
    for (const auto& g : r.groups) {
        double sum = 0;
        for (const std::size_t u : g.units)
            sum += *problem.pool[u].capacity_ah;
        CHECK(sum == Approx(g.capacity_ah).margin(1e-9));
        low = std::min(low, sum);
        high = std::max(high, sum);
        total += sum;
    }
    CHECK(r.usable_ah == Approx(low).margin(1e-9));
    CHECK(r.capacity_spread == Approx((high - low) / (total / problem.series)).margin(1e-9));
    CHECK(r.stranded_ah == Approx(total - problem.series * low).margin(1e-9));
    CHECK(r.usable_ah <= r.bound_ah + 1e-9);
    CHECK(r.best_usable_ah <= r.bound_ah + 1e-9);
    CHECK(r.usable_ah <= r.best_usable_ah + 1e-9);
}

} // namespace

TEST_CASE("Small partitions whose best smallest group is known by brute force over every partition") {
    // Computed by enumerating all partitions (35 to 1,401,400 of them).
    struct Known {
        std::vector<int> mah;
        int series, parallel, best;
    };
    const Known known[] = {
        {{2513, 2488, 2467, 2431, 2390, 2344, 2287, 2210}, 2, 4, 9555},
        {{2520, 2490, 2455, 2450, 2410, 2385, 2360, 2310, 2275, 2240, 2190, 2105}, 4, 3, 7035},
        {{2550, 2515, 2265, 2260, 2255, 2190, 2155, 1880, 1840}, 3, 3, 6620},
        {{2610, 2585, 2560, 2530, 2490, 2455, 2430, 2400, 2365, 2310, 2280, 2215, 2150, 2070, 1940}, 5, 3, 7070},
        {{2580, 2555, 2520, 2490, 2465, 2440, 2410, 2385, 2340, 2290, 2245, 2190, 2105, 1980}, 4, 3, 7215}};
    for (const Known& k : known) {
        MatchProblem p = of_mah(k.mah, k.series, k.parallel);
        p.give_up = 0;
        const auto r = match(p);
        REQUIRE(r.ok());
        CHECK(std::lround(r.value().usable_ah * 1000) == k.best);
        CHECK(r.value().proved);
        check_invariants(p, r.value());
    }
}

TEST_CASE("The serpentine deal, worked by hand") {
    // Sorted down and dealt 1..S, S..1: smallest group and spread of the first and third set above.
    const auto r = match(of_mah({2513, 2488, 2467, 2431, 2390, 2344, 2287, 2210}, 2, 4), MatchWay::deal).value();
    CHECK(std::lround(r.usable_ah * 1000) == 9544);
    CHECK(std::lround(r.stranded_ah * 1000) == 42);
    const auto m3 = match(of_mah({2550, 2515, 2265, 2260, 2255, 2190, 2155, 1880, 1840}, 3, 3), MatchWay::deal).value();
    CHECK(std::lround(m3.usable_ah * 1000) == 6365);
}

TEST_CASE("Series groups 9.80, 10.10, 9.20, 10.00 Ah: the weakest decides") {
    MatchProblem p = of_mah({9800, 10100, 9200, 10000}, 4, 1);
    const auto r = match(p).value();
    CHECK(r.usable_ah == Approx(9.2));
    CHECK(r.stranded_ah == Approx(0.6 + 0.9 + 0.8));
}

TEST_CASE("The bound is never exceeded and is the plain one for alike units") {
    CHECK(usable_bound_mah({1000, 1000, 1000, 1000}, 2, 2) == 2000);
    CHECK(usable_bound_mah({9000, 100, 100, 100}, 2, 2) == 200); // one giant helps one group only
    CHECK(usable_bound_mah({1000}, 2, 2) == 0);
}

TEST_CASE("Random pools: invariants for every way, size and give-up") {
    struct Size {
        int units, series, parallel;
    };
    const Size sizes[] = {{24, 4, 3}, {61, 7, 4},   {40, 10, 1},  {30, 1, 6},
                          {50, 6, 2}, {120, 13, 5}, {200, 10, 9}, {400, 14, 20}};
    for (const Size& s : sizes)
        for (unsigned seed = 1; seed <= 3; ++seed)
            for (const double give_up : {0.0, 0.005}) {
                MatchProblem p = pools::random_pool(s.units, s.series, s.parallel, seed);
                p.give_up = give_up;
                p.effort = 0.2;
                CAPTURE(s.units, s.series, s.parallel, seed, give_up);
                const auto r = match(p);
                REQUIRE(r.ok());
                check_invariants(p, r.value());
                CHECK(r.value().usable_ah >= (1 - give_up) * r.value().best_usable_ah - 1e-9);
                const auto deal = match(p, MatchWay::deal).value();
                check_invariants(p, deal);
                CHECK(r.value().best_usable_ah >= deal.usable_ah - 1e-9);
                if (const auto twins = match(p, MatchWay::twins); twins.ok()) {
                    check_invariants(p, twins.value());
                    std::set<std::string> models;
                    for (const auto& g : twins.value().groups)
                        for (const auto u : g.units)
                            models.insert(p.pool[u].model);
                    CHECK(models.size() == 1);
                }
            }
}

TEST_CASE("Locks hold and excluded units stay out") {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        MatchProblem p = pools::random_pool(61, 7, 4, seed);
        p.locks = {{0, 2}, {1, 2}, {5, 6}};
        p.excluded = {2, 3, 4};
        for (const double give_up : {0.0, 0.005}) {
            p.give_up = give_up;
            const auto r = match(p);
            REQUIRE(r.ok());
            check_invariants(p, r.value());
        }
    }
    MatchProblem large = pools::random_pool(400, 5, 30, 7);
    large.locks = {{10, 0}, {11, 4}};
    check_invariants(large, match(large).value());
}

TEST_CASE("Same seed, same answer; giving up levels the groups") {
    MatchProblem p = pools::random_pool(120, 10, 4, 3);
    const auto a = match(p).value();
    const auto b = match(p).value();
    CHECK(groups_of(a) == groups_of(b));
    p.give_up = 0;
    const auto strict = match(p).value();
    CHECK(strict.proved);
    CHECK(strict.usable_ah == Approx(strict.bound_ah));
    CHECK(a.levelness < strict.levelness / 2);
    CHECK(a.best_usable_ah == Approx(strict.usable_ah));
}

TEST_CASE("The search can be watched and stopped, and keeps the best so far") {
    MatchProblem p = pools::random_pool(300, 13, 8, 1);
    int answers = 0;
    const auto watched = match(p, MatchWay::search, [&](const MatchProgress& progress) {
        if (progress.best != nullptr) {
            ++answers;
            check_invariants(p, *progress.best);
        }
        return true;
    });
    CHECK(answers >= 3);
    int calls = 0;
    const auto stopped = match(p, MatchWay::search, [&](const MatchProgress&) { return ++calls < 3; });
    REQUIRE(stopped.ok());
    check_invariants(p, stopped.value());
    bool said = false;
    for (const auto& [note, count] : stopped.value().notes)
        said |= note == MatchNote::stopped;
    CHECK(said);
    CHECK(stopped.value().levelness >= watched.value().levelness);
}

TEST_CASE("A search that goes on from an answer never falls behind it, and does not hear one that does not fit") {
    MatchProblem p = pools::random_pool(61, 7, 4, 1);
    const auto thorough = match(p).value();
    MatchProblem hasty = p;
    hasty.effort = 0.02;
    hasty.seed = 2;
    const auto alone = match(hasty).value();
    for (const GroupSums& group : thorough.groups)
        hasty.go_on_from.push_back(group.units);
    const auto further = match(hasty).value();
    check_invariants(hasty, further);
    CHECK(further.levelness <= thorough.levelness + 1e-12);
    CHECK(further.levelness < alone.levelness);
    const std::size_t used = hasty.go_on_from[3][0];
    MatchProblem without = hasty; // the same answer, but one of its units may not be used now
    without.excluded = {used};
    check_invariants(without, match(without).value());
    MatchProblem locked = hasty; // or has to stand elsewhere
    locked.locks = {{used, 0}};
    check_invariants(locked, match(locked).value());
    MatchProblem smaller = hasty; // or the pack is another
    smaller.series = 6;
    check_invariants(smaller, match(smaller).value());
    MatchProblem twice = hasty; // or it names a unit twice, or none of the pool
    twice.go_on_from[0][0] = twice.go_on_from[1][0];
    check_invariants(twice, match(twice).value());
    twice.go_on_from[0][0] = 1'000'000;
    check_invariants(twice, match(twice).value());
}

TEST_CASE("What is not known is said, and nothing is invented from it") {
    MatchProblem p = pools::random_pool(30, 3, 4, 2);
    for (auto& u : p.pool)
        u.resistance_ohm.reset();
    const auto r = match(p).value();
    CHECK_FALSE(r.conductance_spread.has_value());
    CHECK(r.leak_spread_ah_per_day.has_value());
    for (auto& u : p.pool)
        u.self_discharge_ah_per_day.reset();
    const auto bare = match(p).value();
    CHECK_FALSE(bare.leak_spread_ah_per_day.has_value());
    CHECK(bare.levelness == Approx(bare.capacity_spread));
    p.pool[0].capacity_ah.reset();
    for (const auto& g : match(p).value().groups)
        CHECK(std::find(g.units.begin(), g.units.end(), 0U) == g.units.end());
}

TEST_CASE("Objections") {
    MatchProblem p = of_mah({2500, 2400, 2300}, 2, 2);
    CHECK(match(p).problem().sentence.english().find("4 units are needed, 3") != std::string::npos);
    p = of_mah({2500, 2400, 2300, 2200}, 2, 2);
    CHECK_FALSE(match(p, MatchWay::voltage_only).ok());
    p.pool[0].chemistry = "nmc";
    p.pool[1].chemistry = "lfp";
    CHECK(match(p).problem().sentence.english().find("chemistry") != std::string::npos);
    p.pool[1].chemistry = "nmc";
    p.locks = {{0, 0}, {1, 0}, {2, 0}};
    CHECK_FALSE(match(p).ok());
    p.locks = {{0, 0}};
    p.excluded = {0};
    CHECK_FALSE(match(p).ok());
    p.locks = {{9, 0}};
    CHECK_FALSE(match(p).ok());
    CHECK_THROWS_AS(figures_of(p, {{0, 1}, {1, 2}}), std::invalid_argument);
    CHECK_THROWS_AS(figures_of(p, {{0, 1}}), std::invalid_argument);
}

TEST_CASE("Voltage only takes the nearest voltages and groups them in order") {
    MatchProblem p = of_mah({2500, 2400, 2300, 2200, 2100, 2000}, 2, 2);
    const double volts[] = {3.90, 3.70, 3.71, 3.20, 3.72, 3.69};
    for (std::size_t i = 0; i < 6; ++i)
        p.pool[i].voltage_v = volts[i];
    const auto r = match(p, MatchWay::voltage_only).value();
    CHECK(groups_of(r) == std::vector<std::vector<std::size_t>>{{4, 2}, {1, 5}});
}

TEST_CASE("Stop is heard at once, wherever the search is") {
    using Clock = std::chrono::steady_clock;
    constexpr double heard_s = tests::sanitized ? 2 : 0.25; // 0.1 is asked for; a machine at work gets some more
    double worst = 0;
    for (const auto& [units, series, parallel] :
         {std::tuple{24, 4, 3}, {61, 7, 4}, {120, 10, 4}, {300, 13, 8}, {3000, 14, 80}})
        for (const double give_up : {0.0, 0.005})
            for (const bool asked : {false, true})
                for (const double after_s : {0.0, 0.02, 0.2}) {
                    MatchProblem p = pools::random_pool(units, series, parallel, 3);
                    p.give_up = give_up;
                    p.demands.one_model_per_group = asked;
                    const auto start = Clock::now();
                    const auto since = [&] { return std::chrono::duration<double>(Clock::now() - start).count(); };
                    const auto found =
                        match(p, MatchWay::search, [&](const MatchProgress&) { return since() < after_s; });
                    const double late = since() - after_s;
                    REQUIRE(found);
                    CHECK(found.value().groups.size() == static_cast<std::size_t>(series));
                    INFO(units << " units, give up " << give_up << ", stopped after " << after_s << " s");
                    CHECK(late < heard_s);
                    worst = std::max(worst, late);
                }
    WARN("stop was heard after " << worst * 1000 << " ms at most");
}

TEST_CASE("K9: capacity that is traded buys even resistance from stock, in large groups as in small ones") {
    // Ten spares and one unit of triple resistance, the largest of all: left in stock, the groups are as even as can
    // be.
    for (const int parallel : {8, 10, 16}) {
        std::vector<int> mah;
        for (int i = 0; i < 2 * parallel + 10; ++i)
            mah.push_back(2400 + i % 5);
        mah.back() = 2500;
        MatchProblem problem = of_mah(mah, 2, parallel);
        for (MatchUnit& unit : problem.pool)
            unit.resistance_ohm = 0.040;
        problem.pool.back().resistance_ohm = 0.120;
        problem.give_up = 0.05;
        const MatchResult found = match(problem).value();
        INFO("2S" << parallel << "P");
        REQUIRE(found.conductance_spread);
        CHECK(*found.conductance_spread < 0.001);
        CHECK(found.usable_ah >= 0.95 * found.best_usable_ah - 1e-9);
        check_invariants(problem, found);
    }
}

TEST_CASE("The worst leaker stays in stock even where the floor barely allows it") {
    // Pools of which the bound without the worst leakers lies a few mAh above the floor: groups that hold it must be as
    // level as a partition can be. The truth is the bound of the pool without them.
    for (const unsigned seed : {1002U, 1005U}) {
        MatchProblem problem = pools::random_pool(120, 10, 4, seed);
        problem.give_up = 0.005;
        const MatchResult found = match(problem).value();
        const double floor_ah = 0.995 * found.best_usable_ah;
        CHECK(found.usable_ah >= floor_ah - 1e-9);
        std::vector<double> leaks;
        for (const MatchUnit& unit : problem.pool)
            leaks.push_back(*unit.self_discharge_ah_per_day);
        std::sort(leaks.rbegin(), leaks.rend());
        double least = leaks.front(); // the worst leaker that has to be used
        for (const double limit : leaks) {
            std::vector<int> mah;
            for (const MatchUnit& unit : problem.pool)
                if (*unit.self_discharge_ah_per_day < limit)
                    mah.push_back(static_cast<int>(std::lround(*unit.capacity_ah * 1000)));
            least = limit;
            if (static_cast<double>(usable_bound_mah(mah, 10, 4)) < floor_ah * 1000)
                break;
        }
        INFO("seed " << seed);
        double worst = 0;
        for (const GroupSums& group : found.groups)
            for (const std::size_t u : group.units)
                worst = std::max<double>(worst, *problem.pool[u].self_discharge_ah_per_day);
        constexpr double outlier = 0.005; // Ah a day: the pool's ordinary units lie far below
        CHECK(worst <= std::max(least, outlier));
    }
}
