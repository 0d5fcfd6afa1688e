// Small cases against an exact solver (GLPK's mixed-integer optimiser) and against plain enumeration.
#include "benchmarks/match_pools.h"
#include "core/match/problem.h"

#include "glpk_program.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace ingot;

namespace {

// Largest smallest group sum in mAh by mixed-integer programming: x[u][g] binary, each unit once at most, each group P
// units, every group sum at least z, z as large as can be.
long optimum_by_glpk(const MatchProblem& p) {
    const int n = static_cast<int>(p.pool.size());
    const int s = p.series;
    const tests::GlpkProgram program(n * s + 1);
    glp_prob* lp = program.lp();
    const auto x = [&](int u, int g) { return u * s + g + 1; };
    const int z = n * s + 1;
    for (int u = 0; u < n; ++u)
        for (int g = 0; g < s; ++g)
            glp_set_col_kind(lp, x(u, g), GLP_BV);
    glp_set_col_bnds(lp, z, GLP_LO, 0, 0);
    glp_set_obj_coef(lp, z, 1);
    const auto row = [&](auto&&... terms) { program.row(std::forward<decltype(terms)>(terms)...); };
    for (int u = 0; u < n; ++u) {
        std::vector<int> columns;
        for (int g = 0; g < s; ++g)
            columns.push_back(x(u, g));
        row(columns, std::vector<double>(static_cast<std::size_t>(s), 1.0), GLP_UP, 0, 1);
    }
    for (int g = 0; g < s; ++g) {
        std::vector<int> columns;
        std::vector<double> sums;
        for (int u = 0; u < n; ++u) {
            columns.push_back(x(u, g));
            sums.push_back(std::round(*p.pool[static_cast<std::size_t>(u)].capacity_ah * 1000));
        }
        row(columns, std::vector<double>(static_cast<std::size_t>(n), 1.0), GLP_FX, p.parallel, p.parallel);
        columns.push_back(z);
        sums.push_back(-1);
        row(columns, sums, GLP_LO, 0, 0);
    }
    return std::lround(program.best([](glp_iocp&) {}));
}

// Every way to choose and group, by plain recursion: the largest smallest sum, and the least levelness at or above a
// floor.
struct Enumerated {
    double best_usable = 0;
    double least_levelness = 1e9;
};
void enumerate(const MatchProblem& p, std::vector<std::vector<std::size_t>>& groups, std::size_t unit, double floor,
               Enumerated& out) {
    bool full = true;
    for (const auto& g : groups)
        full &= g.size() == static_cast<std::size_t>(p.parallel);
    if (full) {
        const MatchResult r = figures_of(p, groups);
        out.best_usable = std::max(out.best_usable, r.usable_ah);
        if (r.usable_ah >= floor - 1e-9)
            out.least_levelness = std::min(out.least_levelness, r.levelness);
        return;
    }
    if (unit == p.pool.size())
        return;
    bool empty_seen = false;
    for (auto& g : groups) {
        if (g.size() == static_cast<std::size_t>(p.parallel) || (g.empty() && empty_seen))
            continue;
        empty_seen |= g.empty(); // groups are alike: the first empty one stands for all
        g.push_back(unit);
        enumerate(p, groups, unit + 1, floor, out);
        g.pop_back();
    }
    enumerate(p, groups, unit + 1, floor, out);
}

} // namespace

TEST_CASE("Usable capacity equals the exact solver's optimum") {
    struct Size {
        int units, series, parallel;
    };
    for (const Size& s : {Size{8, 2, 3}, Size{9, 3, 2}, Size{10, 3, 3}, Size{9, 4, 2}})
        for (unsigned seed = 1; seed <= 4; ++seed) {
            MatchProblem p = pools::random_pool(s.units, s.series, s.parallel, seed + 100);
            p.give_up = 0;
            CAPTURE(s.units, s.series, s.parallel, seed);
            const auto r = match(p).value();
            CHECK(std::lround(r.usable_ah * 1000) == optimum_by_glpk(p));
            CHECK(r.proved);
        }
}

TEST_CASE("Levelness is the least there is, strict and with something given up") {
    struct Size {
        int units, series, parallel;
    };
    for (const Size& s : {Size{8, 2, 3}, Size{8, 3, 2}, Size{9, 2, 4}})
        for (unsigned seed = 1; seed <= 5; ++seed)
            for (const double give_up : {0.0, 0.01, 0.05}) {
                MatchProblem p = pools::random_pool(s.units, s.series, s.parallel, seed + 200);
                p.give_up = give_up;
                CAPTURE(s.units, s.series, s.parallel, seed, give_up);
                std::vector<std::vector<std::size_t>> groups(static_cast<std::size_t>(s.series));
                Enumerated first;
                enumerate(p, groups, 0, 1e9, first);
                // The floor is in whole mAh, as the search takes it.
                const double floor = std::ceil((1 - give_up) * std::round(first.best_usable * 1000) - 1e-9) / 1000;
                Enumerated second;
                enumerate(p, groups, 0, floor, second);
                const auto r = match(p).value();
                CHECK(r.best_usable_ah == Approx(first.best_usable).margin(1e-9));
                CHECK(r.levelness == Approx(second.least_levelness).margin(1e-9));
            }
}
