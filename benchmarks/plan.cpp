// How near the bound does the bay plan end, and with how many visits, against the naive plan (first every other module
// of the row, then the rest) in the same run?
//
//   benchmark_plan [ROUNDS]
#include "core/plan/bay_plan.h"

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <random>
#include <string>

namespace {

using namespace ingot;

PlanProblem modules(int bays, std::uint64_t seed, double middle_h) {
    std::mt19937_64 engine(seed);
    std::normal_distribution<double> about(1, 0.03);
    PlanProblem problem;
    problem.bays = bays;
    problem.attended.open_h = 8;
    problem.attended.close_h = 18;
    problem.attended.begin_hour = 8;
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

void report(const char* what, const PlanProblem& problem) {
    const auto start = std::chrono::steady_clock::now();
    const auto plan = plan_bays(problem);
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    const auto naive = plan_skip_one(problem);
    if (!plan || !naive) {
        std::printf("%s: %s\n", what, plan.problem().sentence.english().c_str());
        std::exit(1);
    }
    const auto objection = objection_to_plan(problem, plan.value());
    std::printf("%-34s end %7.2f h, bound %7.2f h, ratio %.4f, visits %3d | naive %.4f, %3d | %.2f s%s\n", what,
                plan.value().makespan_h, plan.value().bound_h, plan.value().makespan_h / plan.value().bound_h,
                plan.value().visits, naive.value().makespan_h / plan.value().bound_h, naive.value().visits, seconds,
                objection ? objection->c_str() : "");
}

} // namespace

int main(int argc, char** argv) {
    const int rounds = argc > 1 ? std::atoi(argv[1]) : 2;
    for (int round = 0; round < rounds; ++round)
        for (const double middle_h : {23.0, 24.0, 21.0, 26.5})
            for (const int bays : {4, 8}) {
                const auto seed = static_cast<std::uint64_t>(100 + round);
                const std::string name =
                    std::to_string(bays) + " bays, " + std::to_string(middle_h).substr(0, 4) + " h";
                PlanProblem problem = modules(bays, seed, middle_h);
                report((name + ", free supply").c_str(), problem);
                problem.supply_a = 3.0 * bays / 2;
                report((name + ", half charge").c_str(), problem);
                problem.supply_a.reset();
                problem.attended.days = {true, true, true, true, true, false, false};
                report((name + ", Mon-Fri").c_str(), problem);
            }
    PlanProblem cells;
    cells.bays = 16;
    cells.attended.open_h = 8;
    cells.attended.close_h = 18;
    cells.attended.begin_hour = 8;
    std::mt19937_64 engine(5);
    std::uniform_real_distribution<double> hours(5, 9);
    for (int n = 0; n < 300; ++n) {
        PlanJob job;
        job.unit = "C" + std::to_string(n);
        job.duration_h = hours(engine);
        cells.jobs.push_back(job);
    }
    report("300 cells on 16 bays", cells);
}
