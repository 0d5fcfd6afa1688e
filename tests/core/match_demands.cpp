// What a person asks of a match: kept, as well as it can be, and told where it cannot. Small cases against complete
// enumeration.
#include "benchmarks/match_pools.h"
#include "core/match/exchange.h"
#include "core/match/problem.h"
#include "sanitized.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <functional>

using namespace ingot;

namespace {

using Groups = std::vector<std::vector<std::size_t>>;

Groups units_by_group(const MatchResult& result) {
    Groups out;
    for (const GroupSums& group : result.groups)
        out.push_back(group.units);
    return out;
}

MatchProblem asked_pool(int units, int series, int parallel, unsigned seed) {
    MatchProblem p = pools::random_pool(units, series, parallel, seed);
    for (std::size_t u = 0; u < p.pool.size(); ++u) {
        p.pool[u].voltage_v = 3.60 + 0.01 * static_cast<double>((u * 7) % 12);
        p.pool[u].continuous_a = 2.0 + static_cast<double>(u % 3);
        p.pool[u].origin = "P" + std::to_string(u / 2);
    }
    return p;
}

// The largest usable capacity of any choice that keeps the demands; 0: none does.
double best_by_enumeration(const MatchProblem& p) {
    double best = 0;
    Groups groups(static_cast<std::size_t>(p.series));
    std::function<void(std::size_t)> place = [&](std::size_t unit) {
        const auto full = [&](const auto& g) { return g.size() == static_cast<std::size_t>(p.parallel); };
        if (std::all_of(groups.begin(), groups.end(), full)) {
            if (breaches_of(p, groups).empty())
                best = std::max(best, figures_of(p, groups).usable_ah);
            return;
        }
        if (unit == p.pool.size())
            return;
        bool emptied = false;
        for (auto& group : groups) {
            if (full(group) || (group.empty() && emptied))
                continue;
            emptied |= group.empty(); // empty groups are alike
            group.push_back(unit);
            place(unit + 1);
            group.pop_back();
        }
        place(unit + 1);
    };
    place(0);
    return best;
}

void check_against_enumeration(const std::function<void(MatchDemands&, unsigned)>& ask) {
    int possible = 0;
    for (unsigned seed = 1; seed <= 12; ++seed) {
        MatchProblem p = asked_pool(9, 3, 2, seed);
        p.give_up = 0;
        ask(p.demands, seed);
        const double best = best_by_enumeration(p);
        const auto found = match(p);
        REQUIRE(found);
        const auto breaches = breaches_of(p, units_by_group(found.value()));
        CAPTURE(seed, best, found.value().usable_ah);
        if (best > 0) {
            ++possible;
            CHECK(breaches.empty());
            CHECK(found.value().usable_ah == Approx(best).epsilon(1e-6));
        } else {
            CHECK_FALSE(breaches.empty());
            CHECK(std::any_of(found.value().notes.begin(), found.value().notes.end(),
                              [](const auto& note) { return note.first == MatchNote::demands_not_met; }));
        }
    }
    CHECK(possible >= 5); // else the cases prove nothing
}

} // namespace

TEST_CASE("One model in each group: the best of all choices that keep it") {
    check_against_enumeration([](MatchDemands& d, unsigned) { d.one_model_per_group = true; });
}

TEST_CASE("Pairs kept apart: the best of all choices that keep them") {
    check_against_enumeration([](MatchDemands& d, unsigned seed) {
        for (std::size_t a = 0; a < 9; ++a)
            for (std::size_t b = a + 1; b < 9; ++b)
                if ((a * 5 + b * 3 + seed) % 4 == 0)
                    d.apart.emplace_back(a, b);
    });
}

TEST_CASE("A window of voltages in each group: the best of all choices that keep it") {
    check_against_enumeration([](MatchDemands& d, unsigned) { d.join_window_v = 0.03; });
}

TEST_CASE("No unit's share above what it may give: the best of all choices that keep it") {
    check_against_enumeration([](MatchDemands& d, unsigned) { d.load_a = 5.2; });
}

TEST_CASE("Units of one origin go together or not at all: the best of all choices that keep it") {
    check_against_enumeration([](MatchDemands& d, unsigned) { d.whole_origins = true; });
}

TEST_CASE("Demands together, in shops of usual size, are kept at little cost of capacity") {
    for (unsigned seed = 21; seed < 21 + static_cast<unsigned>(tests::out_of(2, 1)); ++seed) {
        MatchProblem p = asked_pool(160, 7, 4, seed);
        const auto free = match(p);
        p.demands.one_model_per_group = true;
        p.demands.join_window_v = 0.08;
        p.demands.apart = {{0, 1}, {2, 3}, {4, 5}};
        const auto kept = match(p);
        REQUIRE(free);
        REQUIRE(kept);
        CHECK(breaches_of(p, units_by_group(kept.value())).empty());
        CHECK(kept.value().usable_ah <= free.value().best_usable_ah + 1e-9);
        CHECK(kept.value().usable_ah > 0.97 * free.value().best_usable_ah);
        // Chance has little to say in it: the seeds agree on what can be had, and roughly on how level.
        double best_ah = kept.value().best_usable_ah;
        double best = kept.value().levelness;
        for (const std::uint64_t other : {2U, 3U}) {
            p.seed = other;
            const auto again = match(p);
            best_ah = std::max(best_ah, again.value().best_usable_ah);
            best = std::min(best, again.value().levelness);
        }
        CHECK(kept.value().best_usable_ah >= 0.995 * best_ah);
        CHECK(kept.value().levelness <= 2 * best);
    }
}

TEST_CASE("A demand leaves out units of which it cannot know, says so, and keeps locks") {
    MatchProblem p = asked_pool(40, 4, 3, 5);
    for (std::size_t u = 0; u < 10; ++u)
        p.pool[u].voltage_v.reset();
    p.demands.join_window_v = 0.05;
    p.locks = {{12, 2}};
    const auto found = match(p);
    REQUIRE(found);
    for (const GroupSums& group : found.value().groups)
        for (const std::size_t u : group.units)
            CHECK(u >= 10);
    const auto& third = found.value().groups[2].units;
    CHECK(std::find(third.begin(), third.end(), 12U) != third.end());
    const bool said = std::any_of(found.value().notes.begin(), found.value().notes.end(), [](const auto& note) {
        return note.first == MatchNote::units_without_asked_figure && note.second == 10;
    });
    CHECK(said);
}

TEST_CASE("The search for what is asked can be stopped and gives the same answer for the same seed") {
    MatchProblem p = asked_pool(90, 5, 4, 8);
    p.demands.one_model_per_group = true;
    const auto once = match(p);
    const auto again = match(p);
    REQUIRE(once);
    REQUIRE(again);
    CHECK(units_by_group(once.value()) == units_by_group(again.value()));
    const auto stopped = match(p, MatchWay::search, [](const MatchProgress&) { return false; });
    REQUIRE(stopped);
    CHECK(stopped.value().groups.size() == 5);
    MatchProblem on = p; // from there: stopped at once, it still has the earlier answer
    for (const GroupSums& group : once.value().groups)
        on.go_on_from.push_back(group.units);
    on.seed = 5;
    const auto further = match(on);
    REQUIRE(further);
    CHECK(breaches_of(on, units_by_group(further.value())).empty());
    CHECK(further.value().usable_ah >= (1 - p.give_up) * once.value().usable_ah - 1e-9);
    CHECK((further.value().levelness <= once.value().levelness + 1e-12 ||
           further.value().best_usable_ah > once.value().best_usable_ah));
}

TEST_CASE(
    "An exchange is what the figures of the exchanged groups say; the nearest in place is the best of those near") {
    MatchProblem p = asked_pool(60, 4, 3, 9);
    const MatchResult found = match(p).value();
    const std::size_t a = found.groups[0].units[0];
    const std::size_t b = found.groups[2].units[1];
    auto groups = units_by_group(found);
    std::swap(groups[0][0], groups[2][1]);
    const auto swapped = exchanged(p, found, a, b);
    REQUIRE(swapped);
    CHECK(swapped->levelness == Approx(figures_of(p, groups).levelness));
    CHECK(swapped->usable_ah == Approx(figures_of(p, groups).usable_ah));
    CHECK(exchanged(p, *swapped, b, a)->levelness == Approx(found.levelness)); // and back
    CHECK_FALSE(exchanged(p, found, a, a));
    CHECK_FALSE(exchanged(p, found, a, 60));
    p.give_up = 0.2; // so much that nearly every unit of the stock may stand in
    const auto place = nearest_in_place(p, found, a);
    REQUIRE(place);
    double best = 1e9;
    for (std::size_t u = 0; u < p.pool.size(); ++u) // all of the stock: fewer than are looked at
        if (const auto other = exchanged(p, found, a, u)) {
            const auto used = units_by_group(found);
            const bool in_pack = std::any_of(used.begin(), used.end(), [&](const auto& group) {
                return std::find(group.begin(), group.end(), u) != group.end();
            });
            if (!in_pack && other->usable_ah >= found.usable_ah * (1 - p.give_up))
                best = std::min(best, other->levelness);
        }
    CHECK(place->result.levelness <= best * 1.2); // the few beyond the forty nearest may do a little better
    CHECK(place->result.usable_ah >= found.usable_ah * (1 - p.give_up));
    // Nobody is left: nothing.
    for (std::size_t u = 0; u < p.pool.size(); ++u)
        p.excluded.push_back(u);
    CHECK_FALSE(nearest_in_place(p, found, a));
}
