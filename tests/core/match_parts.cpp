// The matcher's parts on their own: what each must never do, whatever pool it is given.
#include "benchmarks/match_pools.h"
#include "core/match/arena.h"
#include "core/match/thrift.h"
#include "sanitized.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

using namespace ingot;
using namespace ingot::matching;

namespace {

// An arena of a random pool, sorted as the search sorts it.
Arena arena_of(int units, int series, int parallel, unsigned seed) {
    const MatchProblem problem = pools::random_pool(units, series, parallel, seed);
    std::vector<std::size_t> order(problem.pool.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return *problem.pool[a].capacity_ah > *problem.pool[b].capacity_ah;
    });
    Arena arena;
    arena.series = series;
    arena.parallel = parallel;
    arena.leak_scale = 0.1 / (parallel * 0.0006);
    for (const std::size_t u : order) {
        arena.capacity_mah.push_back(static_cast<int>(std::lround(*problem.pool[u].capacity_ah * 1000)));
        arena.conductance.push_back(1 / *problem.pool[u].resistance_ohm);
        arena.leak.push_back(*problem.pool[u].self_discharge_ah_per_day);
        arena.pool_index.push_back(u);
        arena.locked_to.push_back(-1);
    }
    return arena;
}

void check_distinct(const Arena& arena, const Slots& slots) {
    REQUIRE(static_cast<int>(slots.size()) == arena.wanted());
    std::set<int> seen;
    for (const int u : slots) {
        CHECK(u >= 0);
        CHECK(u < arena.size());
        CHECK(seen.insert(u).second);
    }
}

Level level_of_slots(const Arena& arena, const Slots& slots) {
    return level_of(arena, sums_of(arena, slots));
}

const StillWanted always = [] { return true; };

} // namespace

TEST_CASE("The generator is the same everywhere and spreads evenly") {
    Random a(7);
    Random b(7);
    Random c(8);
    bool differs = false;
    for (int i = 0; i < 100; ++i) {
        const auto x = a.next();
        CHECK(x == b.next());
        differs |= x != c.next();
    }
    CHECK(differs);
    std::vector<int> bins(10, 0);
    Random r(1);
    constexpr int draws = 100'000;
    for (int i = 0; i < draws; ++i) {
        const int k = r.below(10);
        REQUIRE(k >= 0);
        REQUIRE(k < 10);
        ++bins[static_cast<std::size_t>(k)];
        const double u = r.unit();
        REQUIRE(u > 0);
        REQUIRE(u <= 1);
    }
    // Chi-squared over ten bins, nine degrees of freedom: 27.9 is passed once in a thousand (statistical table).
    double chi = 0;
    for (const int n : bins)
        chi += std::pow(n - draws / 10.0, 2) / (draws / 10.0);
    CHECK(chi < 27.9);
}

TEST_CASE("Dealing uses each chosen unit once and puts locked ones where they belong") {
    for (unsigned seed = 1; seed <= 5; ++seed) {
        Arena arena = arena_of(40, 5, 4, seed);
        arena.locked_to[3] = 2;
        arena.locked_to[17] = 2;
        arena.locked_to[39] = 0; // the smallest of all
        const auto chosen = largest(arena, {});
        CHECK(std::find(chosen.begin(), chosen.end(), 39) != chosen.end());
        const Slots slots = deal(arena, chosen);
        check_distinct(arena, slots);
        const auto group_of = [&](int unit) {
            return static_cast<int>(std::find(slots.begin(), slots.end(), unit) - slots.begin()) / arena.parallel;
        };
        CHECK(group_of(3) == 2);
        CHECK(group_of(17) == 2);
        CHECK(group_of(39) == 0);
    }
}

TEST_CASE("The largest units, leaving out those to avoid while enough others remain") {
    const Arena arena = arena_of(20, 2, 3, 1);
    std::vector<char> avoid(20, 0);
    avoid[0] = avoid[2] = 1;
    CHECK(largest(arena, avoid) == std::vector<int>{1, 3, 4, 5, 6, 7});
    std::fill(avoid.begin(), avoid.end(), static_cast<char>(1));
    CHECK(largest(arena, avoid) == std::vector<int>{0, 1, 2, 3, 4, 5}); // nothing else is there
}

TEST_CASE("The lower bound never exceeds the levelness of any completion") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const Arena arena = arena_of(30, 5, 3, seed);
        const auto sums = sums_of(arena, deal(arena, largest(arena, {})));
        const double full = level_of(arena, sums).levelness;
        Extremes extremes;
        for (const Sums& s : sums) {
            extremes.add(s);
            CHECK(extremes.lower_bound(arena.leak_scale) <= full + 1e-12);
        }
    }
    CHECK(Extremes{}.lower_bound(1) == 0);
}

TEST_CASE("Which answer is better: the floor first, then levelness") {
    CHECK(better({100, 0.5}, {90, 0.1}, 100));
    CHECK_FALSE(better({90, 0.1}, {100, 0.5}, 100));
    CHECK(better({100, 0.1}, {120, 0.5}, 100)); // both hold the floor
    CHECK_FALSE(better({100, 0.5}, {100, 0.5}, 100));
}

TEST_CASE("The exact search for usable capacity: reaches the bound or proves that it cannot") {
    for (unsigned seed = 1; seed <= 10; ++seed) {
        const Arena arena = arena_of(14, 3, 3, seed);
        const long bound = usable_bound_mah(arena.capacity_mah, 3, 3);
        const ExactResult r = maximise_usable(arena, bound, 0, 5'000'000);
        REQUIRE(r.exhausted);
        check_distinct(arena, r.slots);
        CHECK(level_of_slots(arena, r.slots).usable_mah == r.usable_mah);
        CHECK(r.usable_mah <= bound);
        // Nothing above what it says can be found, and what it says is found again.
        CHECK(maximise_usable(arena, bound, r.usable_mah, 5'000'000).slots.empty());
        CHECK(maximise_usable(arena, bound, r.usable_mah - 1, 5'000'000).usable_mah == r.usable_mah);
    }
}

TEST_CASE("A spent node budget is admitted") {
    const Arena arena = arena_of(40, 8, 4, 2);
    const long bound = usable_bound_mah(arena.capacity_mah, 8, 4);
    const ExactResult r = maximise_usable(arena, bound, 0, 50);
    CHECK_FALSE(r.exhausted);
}

TEST_CASE("Exact levelling is never worse than what is known, and holds the floor") {
    for (unsigned seed = 1; seed <= 8; ++seed) {
        const Arena arena = arena_of(12, 3, 3, seed);
        const Slots start = deal(arena, largest(arena, {}));
        const Level known = level_of_slots(arena, start);
        const ExactResult r = level_exactly(arena, known.usable_mah, known.levelness, 2'000'000);
        if (r.slots.empty())
            continue; // the deal was the best already
        check_distinct(arena, r.slots);
        const Level found = level_of_slots(arena, r.slots);
        CHECK(found.levelness < known.levelness);
        CHECK(found.levelness == Approx(r.levelness));
        CHECK(found.usable_mah >= known.usable_mah);
    }
}

TEST_CASE("Annealing keeps units distinct, locks in place and stays among its candidates") {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        Arena arena = arena_of(60, 6, 4, seed);
        arena.locked_to[1] = 3;
        const Slots start = deal(arena, largest(arena, {}));
        AnnealPlan plan;
        plan.floor_mah = level_of_slots(arena, start).usable_mah * 99 / 100;
        plan.moves = 20'000;
        plan.candidates = 40;
        plan.seed = seed;
        const Slots found = anneal(arena, start, plan, always);
        check_distinct(arena, found);
        CHECK(*std::max_element(found.begin(), found.end()) < 40);
        const auto at = static_cast<int>(std::find(found.begin(), found.end(), 1) - found.begin());
        CHECK(at / arena.parallel == 3);
        CHECK(level_of_slots(arena, found).levelness < level_of_slots(arena, start).levelness);
        CHECK(level_of_slots(arena, found).usable_mah >= plan.floor_mah);
        CHECK(anneal(arena, start, plan, always) == found);
    }
}

TEST_CASE("Annealing leaves in stock what is to be avoided, and never trades the floor for levelness") {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        // Ten large leakers: the levelness that they cost is worth far more than the floor's price.
        Arena arena = arena_of(60, 6, 4, seed);
        for (std::size_t i = 0; i < 10; ++i)
            arena.leak[2 * i] = 0.030;
        const Slots start = deal(arena, largest(arena, {}));
        AnnealPlan plan;
        plan.floor_mah = level_of_slots(arena, start).usable_mah;
        plan.moves = 50'000;
        plan.candidates = 60;
        plan.seed = seed;
        plan.start_heat = 0.02;
        plan.end_heat = 0.0001;
        CHECK(level_of_slots(arena, anneal(arena, start, plan, always)).usable_mah >= plan.floor_mah);
        plan.avoid.assign(60, 0);
        plan.avoid[40] = plan.avoid[43] = 1;
        plan.floor_mah = plan.floor_mah * 9 / 10;
        const Slots found = anneal(arena, start, plan, always);
        CHECK(std::find(found.begin(), found.end(), 40) == found.end());
        CHECK(std::find(found.begin(), found.end(), 43) == found.end());
    }
}

TEST_CASE("Annealing stops when told") {
    const Arena arena = arena_of(60, 6, 4, 1);
    const Slots start = deal(arena, largest(arena, {}));
    AnnealPlan plan;
    plan.moves = 100'000'000;
    plan.candidates = 60;
    int pulses = 0;
    const Slots found = anneal(arena, start, plan, [&] { return ++pulses < 3; });
    CHECK(pulses == 3);
    check_distinct(arena, found);
}

TEST_CASE("Re-splits of pairs hold the floor once it is reached, and only get better when cold") {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        const Arena arena = arena_of(80, 8, 6, seed);
        const Slots start = level_large(arena, deal(arena, largest(arena, {})), 0, 50, 1, always);
        const Level before = level_of_slots(arena, start);
        for (const double heat : {0.0, 0.01}) {
            const Slots found = resplit_pairs(arena, start, before.usable_mah, 300, heat, seed, always);
            check_distinct(arena, found);
            CHECK(level_of_slots(arena, found).usable_mah >= before.usable_mah);
            CHECK(level_of_slots(arena, found).levelness <= before.levelness + 1e-12);
            // The same units, grouped otherwise.
            CHECK(std::set<int>(found.begin(), found.end()) == std::set<int>(start.begin(), start.end()));
        }
    }
}

TEST_CASE("Re-splits and re-levelling leave alone what they are not made for") {
    Arena wide = arena_of(60, 3, 12, 1);
    const Slots start = deal(wide, largest(wide, {}));
    CHECK(resplit_pairs(wide, start, 0, 100, 0, 1, always) == start); // more than eight in parallel
    Arena locked = arena_of(30, 3, 4, 1);
    locked.locked_to[0] = 0;
    const Slots dealt = deal(locked, largest(locked, {}));
    CHECK(resplit_pairs(locked, dealt, 0, 100, 0, 1, always) == dealt);
    CHECK(relevel_subsets(locked, dealt, 0, 3, 10, 1, always) == dealt);
    const Arena single = arena_of(10, 1, 4, 1);
    const Slots one = deal(single, largest(single, {}));
    CHECK(level_large(single, one, 0, 10, 1, always) == one);
}

TEST_CASE("Re-levelling a few groups at a time never makes the whole worse") {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        const Arena arena = arena_of(50, 8, 4, seed);
        const long bound = usable_bound_mah(arena.capacity_mah, 8, 4);
        const ExactResult exact = maximise_usable(arena, bound, 0, 4'000'000);
        REQUIRE_FALSE(exact.slots.empty());
        const Level before = level_of_slots(arena, exact.slots);
        const Slots found = relevel_subsets(arena, exact.slots, before.usable_mah, 4, 40, seed, always);
        check_distinct(arena, found);
        const Level after = level_of_slots(arena, found);
        CHECK(after.usable_mah >= before.usable_mah);
        // It works on a bound of J that lies a hair under it.
        CHECK(after.levelness <= before.levelness * 1.02 + 1e-9);
    }
}

TEST_CASE("Levelling many units a group: same units, far more level, locked ones unmoved") {
    for (unsigned seed = 1; seed <= 3; ++seed) {
        Arena arena = arena_of(700, 6, 50, seed);
        arena.locked_to[4] = 5;
        const Slots start = deal(arena, largest(arena, {}));
        const Level before = level_of_slots(arena, start);
        const Slots found = level_large(arena, start, 0, 200, 1, always);
        check_distinct(arena, found);
        CHECK(std::set<int>(found.begin(), found.end()) == std::set<int>(start.begin(), start.end()));
        CHECK(level_of_slots(arena, found).levelness < before.levelness / 20);
        const auto at = static_cast<int>(std::find(found.begin(), found.end(), 4) - found.begin());
        CHECK(at / arena.parallel == 5);
    }
}

TEST_CASE("Figures agree between the working form and the public one") {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        MatchProblem problem = pools::random_pool(30, 4, 3, seed);
        const auto r = match(problem, MatchWay::deal).value();
        // J by the formula of docs/methods/match.md, from the pool alone.
        std::vector<double> leaks;
        for (const auto& u : problem.pool)
            leaks.push_back(*u.self_discharge_ah_per_day);
        std::sort(leaks.begin(), leaks.end());
        const double middle = (leaks[14] + leaks[15]) / 2;
        std::vector<double> c, g, l;
        for (const auto& group : r.groups) {
            c.push_back(0);
            g.push_back(0);
            l.push_back(0);
            for (const auto u : group.units) {
                c.back() += *problem.pool[u].capacity_ah;
                g.back() += 1 / *problem.pool[u].resistance_ohm;
                l.back() += *problem.pool[u].self_discharge_ah_per_day;
            }
        }
        const auto spread = [](const std::vector<double>& v) {
            return *std::max_element(v.begin(), v.end()) - *std::min_element(v.begin(), v.end());
        };
        const auto mean = [](const std::vector<double>& v) {
            return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
        };
        const double j = spread(c) / mean(c) + spread(g) / mean(g) + 0.1 * spread(l) / (3 * middle);
        CHECK(r.levelness == Approx(j).epsilon(1e-9));
    }
}

TEST_CASE("The refined bound holds for every choice on small pools") {
    // All ways to choose and group five of two in pools of twelve, at random: none exceeds the bound.
    Random random(3);
    for (unsigned seed = 1; seed <= 10; ++seed) {
        const Arena arena = arena_of(12, 5, 2, seed);
        const long bound = usable_bound_mah(arena.capacity_mah, 5, 2);
        std::vector<int> order(12);
        std::iota(order.begin(), order.end(), 0);
        for (int draw = 0; draw < 2000; ++draw) {
            for (int i = 11; i > 0; --i)
                std::swap(order[static_cast<std::size_t>(i)], order[static_cast<std::size_t>(random.below(i + 1))]);
            const Slots slots(order.begin(), order.begin() + 10);
            CHECK(level_of_slots(arena, slots).usable_mah <= bound);
        }
    }
}

TEST_CASE(
    "Thrift: what a build can do without stays in stock, strongest first, and the rest still gives what is wanted") {
    for (unsigned seed = 1; seed <= static_cast<unsigned>(tests::out_of(12, 2)); ++seed) {
        MatchProblem problem = pools::random_pool(61, 7, 4, 400 + seed);
        problem.give_up = 0.005;
        const double best = match(problem).value().usable_ah;
        const double wanted = 0.85 * best;
        const auto spared = spare_strongest(problem, wanted);
        REQUIRE_FALSE(spared.empty());
        double weakest_spared = 1e9;
        for (const std::size_t u : spared)
            weakest_spared = std::min(weakest_spared, problem.pool[u].capacity_ah->value);
        problem.excluded = spared;
        const MatchResult thrifty = match(problem).value();
        CHECK(thrifty.usable_ah >= wanted);
        CHECK(thrifty.usable_ah < best);
        for (const GroupSums& group : thrifty.groups)
            for (const std::size_t u : group.units)
                CHECK(*problem.pool[u].capacity_ah <= weakest_spared);
        // One more spared and the bound itself falls short of it.
        CHECK(thrifty.bound_ah * (1 - problem.give_up) < wanted * 1.02);
        // More than the pool gives: nothing is spared. A locked unit stays, however strong.
        problem.excluded.clear();
        CHECK(spare_strongest(problem, 1.01 * best).empty());
        problem.locks = {{spared.front(), 0}};
        const auto without_lock = spare_strongest(problem, wanted);
        CHECK(std::find(without_lock.begin(), without_lock.end(), spared.front()) == without_lock.end());
        problem.demands.one_model_per_group = true;
        CHECK(spare_strongest(problem, wanted).empty());
    }
}
