// The bay plan: its rules on random cases, its end against GLPK's optimum on small ones, the figures it is meant to
// hold.
#include "core/plan/bay_plan.h"

#include <catch2/catch.hpp>
#include <glpk.h>

#include <cmath>
#include <random>

using namespace ingot;

namespace {

AttendedHours shift(double open, double close, double begin) {
    AttendedHours hours;
    hours.open_h = open;
    hours.close_h = close;
    hours.begin_hour = begin;
    return hours;
}

PlanProblem row_of_modules(int bays, std::uint64_t seed, double middle_h = 23) {
    std::mt19937_64 engine(seed);
    std::normal_distribution<double> about(1, 0.03);
    PlanProblem problem;
    problem.bays = bays;
    problem.attended = shift(8, 18, 8);
    for (int n = 1; n <= 30; ++n) {
        PlanJob job;
        job.unit = "M" + std::to_string(n);
        job.duration_h = middle_h * about(engine);
        job.position = n;
        job.charge_a = 3;
        problem.jobs.push_back(job);
    }
    return problem;
}

BayPlan planned(const PlanProblem& problem, const PlanOptions& options = {}) {
    const auto result = plan_bays(problem, options);
    if (!result)
        FAIL(result.problem().sentence.english());
    const auto objection = objection_to_plan(problem, result.value());
    INFO(objection.value_or(""));
    CHECK_FALSE(objection);
    CHECK(result.value().bound_h <= result.value().makespan_h + 1e-6);
    CHECK(result.value().visits == count_visits(result.value().jobs));
    return result.value();
}

// The earliest end by a time-indexed integer programme: whole hours, so that every start is on the grid.
double optimum(const PlanProblem& problem, int horizon) {
    glp_term_out(GLP_OFF);
    glp_prob* lp = glp_create_prob();
    glp_set_obj_dir(lp, GLP_MIN);
    const int end = glp_add_cols(lp, 1);
    glp_set_col_bnds(lp, end, GLP_LO, 0, 0);
    glp_set_obj_coef(lp, end, 1);
    struct Start {
        std::size_t job;
        int from, to, lifted, column;
    };
    std::vector<Start> starts;
    for (std::size_t j = 0; j < problem.jobs.size(); ++j)
        for (int t = 0; t < horizon; ++t) {
            if (!problem.attended.attended(t))
                continue;
            const int to = t + static_cast<int>(problem.jobs[j].duration_h);
            const int column = glp_add_cols(lp, 1);
            glp_set_col_kind(lp, column, GLP_BV);
            starts.push_back({j, t, to, static_cast<int>(std::lround(problem.attended.next(to))), column});
        }
    const auto row = [&](int type, double bound, const std::vector<std::pair<int, double>>& terms) {
        if (terms.empty())
            return;
        const int i = glp_add_rows(lp, 1);
        glp_set_row_bnds(lp, i, type, bound, bound);
        std::vector<int> columns{0};
        std::vector<double> values{0};
        for (const auto& [column, value] : terms) {
            columns.push_back(column);
            values.push_back(value);
        }
        glp_set_mat_row(lp, i, static_cast<int>(terms.size()), columns.data(), values.data());
    };
    for (std::size_t j = 0; j < problem.jobs.size(); ++j) {
        std::vector<std::pair<int, double>> once;
        std::vector<std::pair<int, double>> ends{{end, 1}};
        for (const Start& s : starts)
            if (s.job == j) {
                once.emplace_back(s.column, 1);
                ends.emplace_back(s.column, -s.lifted);
            }
        row(GLP_FX, 1, once);
        row(GLP_LO, 0, ends);
    }
    for (int h = 0; h < horizon + 48; ++h) {
        std::vector<std::pair<int, double>> taken;
        std::vector<std::pair<int, double>> drawn;
        for (const Start& s : starts) {
            if (s.from <= h && h < s.lifted)
                taken.emplace_back(s.column, 1);
            if (s.from <= h && h < s.to && problem.jobs[s.job].charge_a > 0)
                drawn.emplace_back(s.column, problem.jobs[s.job].charge_a);
        }
        row(GLP_UP, problem.bays, taken);
        if (problem.supply_a)
            row(GLP_UP, *problem.supply_a, drawn);
        for (std::size_t a = 0; a < problem.jobs.size(); ++a)
            for (std::size_t b = a + 1; b < problem.jobs.size(); ++b) {
                const auto& one = problem.jobs[a].position;
                const auto& other = problem.jobs[b].position;
                if (!one || !other || std::abs(*one - *other) != 1)
                    continue;
                std::vector<std::pair<int, double>> both;
                for (const Start& s : starts)
                    if ((s.job == a || s.job == b) && s.from <= h && h < s.to)
                        both.emplace_back(s.column, 1);
                row(GLP_UP, 1, both);
            }
    }
    glp_iocp options;
    glp_init_iocp(&options);
    options.presolve = GLP_ON;
    options.tm_lim = 60'000;
    REQUIRE(glp_intopt(lp, &options) == 0);
    const double value = glp_mip_obj_val(lp);
    glp_delete_prob(lp);
    return value;
}

} // namespace

TEST_CASE("attended hours: the next moment somebody is there") {
    AttendedHours hours = shift(8, 18, 8); // begins at 08:00
    CHECK(hours.next(0) == 0);
    CHECK(hours.next(9.5) == 9.5);
    CHECK(hours.next(10) == 24); // 18:00: gone
    CHECK(hours.next(23) == 24);
    CHECK(hours.closes_after(3) == 10);
    CHECK(hours.attended(5));
    CHECK_FALSE(hours.attended(12));
    hours.days = {true, true, true, true, true, false, false};
    CHECK(hours.next(4 * 24 + 9) == 4 * 24 + 9); // Friday 17:00
    CHECK(hours.next(5 * 24) == 7 * 24);         // Saturday to Monday
    hours.begin_day = 4;                         // begins on a Friday
    CHECK(hours.next(24) == 3 * 24);
    hours.begin_hour = 20;
    CHECK(hours.next(0) == 60); // Friday 20:00 to Monday 08:00
    AttendedHours always;
    CHECK(always.always());
    CHECK(always.next(77.25) == 77.25);
    always.days = {true, true, true, true, true, false, false}; // round the clock, but not at the weekend
    CHECK(always.next(4 * 24 + 23.9) == 4 * 24 + 23.9);
    CHECK(always.next(5 * 24 + 0.5) == 7 * 24);
    CHECK(always.closes_after(24) == 5 * 24);
}

TEST_CASE("plan: random cases keep every rule, the same each time") {
    std::mt19937_64 engine(11);
    const auto uniform = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(engine);
    };
    for (int round = 0; round < 60; ++round) {
        PlanProblem problem;
        problem.bays = static_cast<int>(uniform(1, 6));
        problem.attended = shift(uniform(6, 9), uniform(12, 20), uniform(0, 24));
        problem.attended.begin_day = static_cast<int>(uniform(0, 7));
        if (round % 3 == 0)
            problem.attended.days = {true, true, false, true, true, false, false};
        if (round % 4 == 0)
            problem.supply_a = 7;
        const int jobs = static_cast<int>(uniform(1, 14));
        for (int n = 0; n < jobs; ++n) {
            PlanJob job;
            job.unit = "U" + std::to_string(n);
            job.duration_h = uniform(0.3, 40);
            if (round % 2 == 0)
                job.position = n;
            job.charge_a = uniform(0, 5);
            if (n % 5 == 4) {
                job.unattended = false;
                job.duration_h = uniform(0.3, 2.9);
            }
            if (n % 6 == 5)
                job.due_h = uniform(20, 80);
            if (n % 4 == 1) { // only one instrument can do it
                job.fits.assign(static_cast<std::size_t>(problem.bays), false);
                job.fits[static_cast<std::size_t>(n % problem.bays)] = true;
            }
            problem.jobs.push_back(job);
        }
        PlanOptions quick;
        quick.tries = 200;
        const BayPlan a = planned(problem, quick);
        const BayPlan b = planned(problem, quick);
        REQUIRE(a.jobs.size() == b.jobs.size());
        for (std::size_t i = 0; i < a.jobs.size(); ++i) {
            CHECK(a.jobs[i].job == b.jobs[i].job);
            CHECK(a.jobs[i].start_h == b.jobs[i].start_h);
        }
        const auto naive = plan_skip_one(problem);
        REQUIRE(naive);
        CHECK_FALSE(objection_to_plan(problem, naive.value()));
    }
}

TEST_CASE("plan: within 2 % of GLPK's optimum on small cases") {
    std::mt19937_64 engine(3);
    double worst = 1;
    for (int round = 0; round < 10; ++round) {
        PlanProblem problem;
        problem.bays = 2 + round % 2;
        problem.attended = shift(8, 18, 8);
        for (int n = 0; n < 6; ++n) {
            PlanJob job;
            job.unit = "U" + std::to_string(n);
            job.duration_h = static_cast<double>(3 + engine() % 9);
            if (round % 2 == 0)
                job.position = n;
            job.charge_a = 2;
            problem.jobs.push_back(job);
        }
        if (round % 3 == 2)
            problem.supply_a = 4;
        const BayPlan plan = planned(problem);
        const double best = optimum(problem, 60);
        CHECK(plan.makespan_h >= best - 1e-6);
        CHECK(plan.bound_h <= best + 1e-6);
        worst = std::max(worst, plan.makespan_h / best);
    }
    CHECK(worst <= 1.02);
}

TEST_CASE("plan: 30 clamped modules end near the bound, with fewer visits than the naive plan") {
    for (const int bays : {4, 8})
        for (const std::uint64_t seed : {1U, 2U}) {
            PlanProblem problem = row_of_modules(bays, seed);
            BayPlan plan = planned(problem);
            CHECK(plan.makespan_h <= 1.01 * plan.bound_h);
            CHECK(plan.visits < plan_skip_one(problem).value().visits);
            problem.supply_a = 3.0 * bays / 2;
            plan = planned(problem);
            CHECK(plan.makespan_h <= 1.03 * plan.bound_h);
            problem.supply_a.reset();
            problem.attended.days = {true, true, true, true, true, false, false};
            plan = planned(problem);
            CHECK(plan.makespan_h <= 1.05 * plan.bound_h);
        }
}

TEST_CASE("plan: what runs already and what the person insists on stays put") {
    PlanProblem problem = row_of_modules(4, 7);
    problem.jobs[0].start_h = -5; // runs since five hours
    problem.jobs[0].bay = 2;
    problem.jobs[9].start_h = 24;
    problem.jobs[9].bay = 1;
    problem.out_of_use = {false, false, false, true};
    const BayPlan plan = planned(problem, {400, true});
    for (const PlacedJob& job : plan.jobs) {
        CHECK(job.bay != 3);
        if (job.job == 0) {
            CHECK(job.start_h == -5);
            CHECK(job.bay == 2);
        }
        if (job.job == 9) {
            CHECK(job.start_h == 24);
            CHECK(job.bay == 1);
        }
    }
}

TEST_CASE("K15: nothing is planned on a bay that is out of use, not even when it is insisted on") {
    PlanProblem problem = row_of_modules(4, 7);
    problem.out_of_use = {false, true, false, false};
    problem.jobs[3].start_h = 24;
    problem.jobs[3].bay = 1;
    problem.jobs[5].bay = 1; // without a time: no bay but this one would ever be looked at
    const BayPlan plan = planned(problem, {50, false});
    CHECK(plan.jobs.size() == problem.jobs.size());
    for (const PlacedJob& job : plan.jobs)
        CHECK(job.bay != 1);
}

TEST_CASE("plan: a module of 24 cells waits for the bay that can do it, and what fits nowhere is said") {
    PlanProblem problem = row_of_modules(4, 7);
    for (std::size_t j = 0; j < problem.jobs.size(); j += 3)
        problem.jobs[j].fits = {false, false, false, true};
    problem.jobs[6].bay = 0; // insisted on where it cannot run: planned as if nobody insisted
    problem.jobs[6].start_h = 24;
    const BayPlan plan = planned(problem, {50, false});
    for (const PlacedJob& job : plan.jobs)
        CHECK((job.job % 3 != 0 || job.bay == 3));
    problem.jobs[0].fits = {false, false, false, false};
    CHECK_FALSE(plan_bays(problem));
    problem.jobs[0].fits = {false, true, false, false};
    problem.out_of_use = {false, true, false, false};
    const auto nowhere = plan_bays(problem);
    REQUIRE_FALSE(nowhere);
    CHECK(nowhere.problem().sentence.english().find("M1 fits on no bay") != std::string::npos);
}

TEST_CASE("plan: a new plan moves little when little has changed") {
    PlanProblem problem = row_of_modules(4, 3, 7); // jobs that end in the day
    for (PlanJob& job : problem.jobs)
        job.position.reset();
    const BayPlan first = planned(problem);
    PlanProblem again = problem;
    for (const PlacedJob& job : first.jobs) {
        again.jobs[job.job].before_start_h = job.start_h;
        again.jobs[job.job].before_bay = job.bay;
    }
    const BayPlan same = planned(again);
    CHECK(same.makespan_h <= first.makespan_h + 1e-6);
    CHECK(same.moved <= 3);
    // The last job takes two hours less: the others need not move.
    again.jobs[first.jobs.back().job].duration_h -= 2;
    CHECK(planned(again).moved <= 4);
}

TEST_CASE("plan: what is due first goes first") {
    PlanProblem problem;
    problem.bays = 1;
    problem.attended = shift(8, 18, 8);
    for (int n = 0; n < 5; ++n) {
        PlanJob job;
        job.unit = "U" + std::to_string(n);
        job.duration_h = 4;
        problem.jobs.push_back(job);
    }
    problem.jobs[4].due_h = 5;
    const BayPlan plan = planned(problem);
    CHECK(plan.lateness_h == Approx(0));
    CHECK(plan.jobs.front().job == 4);
}

TEST_CASE("plan: objections") {
    PlanProblem problem = row_of_modules(2, 1);
    const auto says = [&](const char* words) {
        const auto result = plan_bays(problem);
        REQUIRE_FALSE(result);
        INFO(result.problem().sentence.english());
        CHECK(result.problem().sentence.english().find(words) != std::string::npos);
    };
    SECTION("no bay") {
        problem.bays = 0;
        says("no bay");
    }
    SECTION("nobody there") {
        problem.attended.days = {};
        says("Nobody");
    }
    SECTION("no duration") {
        problem.jobs[3].duration_h = 0;
        says("M4");
    }
    SECTION("more than the supply") {
        problem.supply_a = 2;
        says("supply");
    }
    SECTION("longer than every shift") {
        problem.jobs[2].unattended = false;
        says("may not run unattended");
    }
    SECTION("two on one bay") {
        problem.jobs[1].start_h = 0;
        problem.jobs[2].start_h = 1;
        says("both wanted");
    }
    SECTION("all bays out of use") {
        problem.out_of_use = {true, true};
        says("out of use");
    }
    SECTION("a doctored plan is found out") {
        BayPlan plan = planned(problem, {100, false});
        plan.jobs[1].start_h = 3.3;
        CHECK(objection_to_plan(problem, plan));
        plan = planned(problem, {100, false});
        plan.jobs.pop_back();
        CHECK(objection_to_plan(problem, plan));
        plan = planned(problem, {100, false});
        plan.jobs[1].bay = plan.jobs[0].bay;
        CHECK(objection_to_plan(problem, plan));
    }
}
