// Which unit on which bay, when: the plan with the earliest end, then the fewest visits.
//
// A job is put in at an attended moment, runs (on unattended, unless it may not), and keeps its bay until it is lifted
// out, again at an attended moment. Units at neighbouring places of a clamped row never run at once; the charge
// currents of running jobs share one supply. List scheduling improved by local search, budgeted by tries and not by the
// clock, so that the same jobs give the same plan; the bounds are exact. See docs/methods/plan.md.
#pragma once

#include "core/cells/problem.h"
#include "core/plan/calendar.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct PlanJob {
    std::string unit;
    double duration_h = 0;       // over 0
    std::optional<int> position; // in a clamped row: n and n + 1 are neighbours
    double charge_a = 0;         // what it may draw from the supply, all the time it runs
    std::string row;             // positions count within one row
    bool unattended = true;      // may run while nobody is there
    std::optional<double> due_h; // wanted by then
    std::vector<bool> fits;      // by bay: what its instrument can do; empty: it fits any
    // Running already, or insisted on by the person.
    std::optional<double> start_h; // may be negative: it runs since then
    std::optional<int> bay;        // from 0
    // Where the plan had it before: a new plan moves as little as it can.
    std::optional<double> before_start_h;
    std::optional<int> before_bay;

    [[nodiscard]] bool fits_on(int on_bay) const {
        const auto b = static_cast<std::size_t>(on_bay);
        return b >= fits.size() || fits[b];
    }
};

struct PlanProblem {
    std::vector<PlanJob> jobs;
    int bays = 1;
    AttendedHours attended;
    std::optional<double> supply_a;
    std::vector<bool> out_of_use; // by bay; empty: all in use
};

struct PlacedJob {
    std::size_t job = 0; // index into the problem's jobs
    int bay = 0;
    double start_h = 0, end_h = 0, lifted_h = 0;
};

struct BayPlan {
    std::vector<PlacedJob> jobs; // by start, then bay
    double makespan_h = 0;       // until the last is lifted out
    double bound_h = 0;          // no plan ends earlier
    int visits = 0;              // distinct moments at which something is put in or lifted out
    double lateness_h = 0;       // sum over jobs that are lifted after they are due
    int moved = 0;               // jobs that stand elsewhere than before
};

struct PlanOptions {
    long tries = 0;           // 0: by the number of jobs
    bool fewer_visits = true; // after the end
};
// Told the best end so far; returns false to stop.
using PlanObserver = std::function<bool(double best_makespan_h)>;

// Problems: no bay, no attended hour, a duration that is not over 0, a job that the supply can never carry, one that
// may not run unattended and outlasts every shift, one that fits on no bay in use, two insisted jobs that collide.
[[nodiscard]] Result<BayPlan> plan_bays(const PlanProblem& problem, const PlanOptions& options = {},
                                        const PlanObserver& observer = {});

// The naive plan in the same terms: first the odd places of the row, then the even ones, each as early as it can.
[[nodiscard]] Result<BayPlan> plan_skip_one(const PlanProblem& problem);

// No plan can end earlier than this.
[[nodiscard]] double plan_bound(const PlanProblem& problem);

// Says what is wrong with a plan; nothing if it keeps every rule.
[[nodiscard]] std::optional<std::string> objection_to_plan(const PlanProblem& problem, const BayPlan& plan);

[[nodiscard]] int count_visits(const std::vector<PlacedJob>& jobs);

} // namespace ingot
