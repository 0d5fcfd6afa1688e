#include "core/plan/bay_plan.h"

#include "core/cells/random.h"
#include "core/plan/placing.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace ingot {

namespace {

using plan_detail::Timing;
using plan_detail::tolerance_h;

// What a plan costs, the weightiest first.
struct Cost {
    double lateness_h = 0;
    double makespan_h = 0;
    int moved = 0;
    double lifted_sum_h = 0; // these two lead the search where the end alone does not
    double bays_end_h = 0;   // sum over bays of their last lift
};

Cost cost_of(const PlanProblem& problem, const std::vector<PlacedJob>& jobs) {
    Cost cost;
    std::vector<double> ends(static_cast<std::size_t>(problem.bays), 0.0);
    for (const PlacedJob& placed : jobs) {
        const PlanJob& job = problem.jobs[placed.job];
        cost.makespan_h = std::max(cost.makespan_h, placed.lifted_h);
        cost.lifted_sum_h += placed.lifted_h;
        double& end = ends[static_cast<std::size_t>(placed.bay)];
        end = std::max(end, placed.lifted_h);
        if (job.due_h)
            cost.lateness_h += std::max(0.0, placed.lifted_h - *job.due_h);
        if (job.before_start_h && !job.start_h)
            cost.moved += std::fabs(*job.before_start_h - placed.start_h) > tolerance_h ||
                          (job.before_bay && *job.before_bay != placed.bay);
    }
    cost.bays_end_h = std::accumulate(ends.begin(), ends.end(), 0.0);
    return cost;
}

bool better(const Cost& a, const Cost& b) {
    if (std::fabs(a.lateness_h - b.lateness_h) > tolerance_h)
        return a.lateness_h < b.lateness_h;
    if (std::fabs(a.makespan_h - b.makespan_h) > tolerance_h)
        return a.makespan_h < b.makespan_h;
    return a.moved < b.moved;
}

// One number for the annealing.
double energy(const Cost& cost, std::size_t jobs, int bays) {
    constexpr double lateness_weight = 10;
    constexpr double moved_weight = 0.02;
    constexpr double sum_weight = 0.01;
    constexpr double bays_weight = 0.5;
    return lateness_weight * cost.lateness_h + cost.makespan_h + moved_weight * cost.moved +
           sum_weight * cost.lifted_sum_h / static_cast<double>(std::max<std::size_t>(1, jobs)) +
           bays_weight * cost.bays_end_h / bays;
}

using Order = std::vector<std::size_t>;

std::vector<Order> first_orders(const PlanProblem& problem, const Order& free) {
    const auto sorted = [&](auto less) {
        Order order = free;
        std::stable_sort(order.begin(), order.end(), less);
        return order;
    };
    const auto& jobs = problem.jobs;
    const auto place = [&](std::size_t j) { return jobs[j].position.value_or(0); };
    std::vector<Order> orders;
    constexpr double never = 1e12;
    orders.push_back(sorted([&](auto a, auto b) { // as it was before
        return jobs[a].before_start_h.value_or(never) < jobs[b].before_start_h.value_or(never);
    }));
    orders.push_back(sorted([&](auto a, auto b) { return jobs[a].duration_h > jobs[b].duration_h; }));
    orders.push_back(sorted([&](auto a, auto b) { return jobs[a].duration_h < jobs[b].duration_h; }));
    orders.push_back(sorted([&](auto a, auto b) { return place(a) % 2 > place(b) % 2; }));
    orders.push_back(sorted([&](auto a, auto b) {
        return place(a) % 2 != place(b) % 2 ? place(a) % 2 > place(b) % 2 : jobs[a].duration_h > jobs[b].duration_h;
    }));
    orders.push_back(
        sorted([&](auto a, auto b) { return jobs[a].due_h.value_or(never) < jobs[b].due_h.value_or(never); }));
    return orders;
}

long usual_tries(std::size_t jobs) {
    // A try costs about the square of the jobs; this keeps 30 modules near a second and 300 cells under two.
    const double work = jobs > 100 ? 1.2e7 : 2.2e7;
    constexpr long least = 400;
    constexpr long most = 60'000;
    const double n = static_cast<double>(std::max<std::size_t>(1, jobs));
    return std::clamp(static_cast<long>(work / (n * n)), least, most);
}

struct Found {
    Order order;
    std::vector<PlacedJob> jobs;
    Cost cost;
};

// Annealing over the order in which jobs are placed: swap two or move one elsewhere.
Found search(const PlanProblem& problem, const Order& free, const Timing& timing, long tries, double bound_h,
             const PlanObserver& observer) {
    Found best;
    const auto evaluate = [&](const Order& order) {
        Found found{order, plan_detail::place_in_order(problem, order, timing), {}};
        found.cost = cost_of(problem, found.jobs);
        return found;
    };
    bool first = true;
    for (const Order& order : first_orders(problem, free)) {
        Found found = evaluate(order);
        if (first || better(found.cost, best.cost))
            best = std::move(found);
        first = false;
    }
    if (free.size() < 2)
        return best;
    const auto done = [&] {
        return best.cost.lateness_h <= tolerance_h && best.cost.makespan_h <= bound_h + tolerance_h &&
               best.cost.moved == 0;
    };
    constexpr std::uint64_t seed = 20'260'105;
    Random dice(seed);
    const auto below = [&](std::size_t n) { return static_cast<std::size_t>(dice.below(static_cast<int>(n))); };
    Order order = best.order;
    double now = energy(best.cost, free.size(), problem.bays);
    const double hot = std::max(0.5, 0.01 * best.cost.makespan_h);
    constexpr double cold = 0.01;
    constexpr int told_every = 64;
    for (long n = 0; n < tries && !done(); ++n) {
        if (n % told_every == 0 && observer && !observer(best.cost.makespan_h))
            break;
        const double temperature = hot * std::pow(cold / hot, static_cast<double>(n) / static_cast<double>(tries));
        Order changed = order;
        const std::size_t a = below(changed.size());
        const std::size_t b = below(changed.size());
        if (a == b)
            continue;
        if (dice.below(2) == 0) {
            std::swap(changed[a], changed[b]);
        } else {
            const std::size_t job = changed[a];
            changed.erase(changed.begin() + static_cast<std::ptrdiff_t>(a));
            changed.insert(changed.begin() + static_cast<std::ptrdiff_t>(b), job);
        }
        Found found = evaluate(changed);
        const double then = energy(found.cost, free.size(), problem.bays);
        const double dare = dice.unit();
        if (then <= now || dare < std::exp((now - then) / temperature)) {
            order = changed;
            now = then;
        }
        if (better(found.cost, best.cost))
            best = std::move(found);
    }
    return best;
}

bool as_good(const Cost& a, const Cost& b) {
    return a.lateness_h <= b.lateness_h + tolerance_h && a.makespan_h <= b.makespan_h + tolerance_h &&
           a.moved <= b.moved;
}

// Without a later end: come at coarser moments, then put off each visit to the next one.
void lessen_visits(const PlanProblem& problem, Found& best, const Order& free, double bound_h, long tries) {
    int visits = count_visits(best.jobs);
    constexpr std::array coarse_h{5.0, 2.5, 2.0, 1.0, 0.5, 0.25};
    constexpr long share = 12; // of the tries, for each coarseness
    for (const double grid : coarse_h) {
        Timing timing;
        timing.grid_h = grid;
        Found found = search(problem, free, timing, tries / share, bound_h, {});
        if (as_good(found.cost, best.cost) && count_visits(found.jobs) < visits) {
            visits = count_visits(found.jobs);
            best = std::move(found);
        }
    }
    constexpr int rounds = 3;
    constexpr std::size_t most_moments = 700;
    for (int round = 0; round < rounds; ++round) {
        const int before = visits;
        std::vector<double> moments = plan_detail::moments_of(best.jobs);
        if (moments.size() > most_moments)
            return;
        for (std::size_t m = moments.size(); m-- > 1;) {
            auto moved = plan_detail::put_off(problem, best.jobs, moments[m - 1], moments[m]);
            if (!moved)
                continue;
            const Cost cost = cost_of(problem, *moved);
            const int fewer = count_visits(*moved);
            if (fewer < visits && as_good(cost, best.cost)) {
                best.jobs = std::move(*moved);
                best.cost = cost;
                visits = fewer;
                moments = plan_detail::moments_of(best.jobs);
                m = std::min(m + 1, moments.size());
            }
        }
        if (visits == before)
            return;
    }
}

BayPlan as_plan(const PlanProblem& problem, std::vector<PlacedJob> jobs, double bound_h) {
    BayPlan plan;
    const Cost cost = cost_of(problem, jobs);
    plan.makespan_h = cost.makespan_h;
    plan.lateness_h = cost.lateness_h;
    plan.moved = cost.moved;
    plan.bound_h = std::min(bound_h, cost.makespan_h);
    plan.visits = count_visits(jobs);
    std::sort(jobs.begin(), jobs.end(), [](const PlacedJob& a, const PlacedJob& b) {
        return a.start_h != b.start_h ? a.start_h < b.start_h : a.bay < b.bay;
    });
    plan.jobs = std::move(jobs);
    return plan;
}

Order free_jobs(const PlanProblem& problem) {
    Order free;
    for (std::size_t j = 0; j < problem.jobs.size(); ++j)
        if (!problem.jobs[j].start_h)
            free.push_back(j);
    return free;
}

} // namespace

int count_visits(const std::vector<PlacedJob>& jobs) {
    return static_cast<int>(plan_detail::moments_of(jobs).size());
}

namespace {

// Nothing is planned on a bay that is out of use or that cannot do it, not even what is insisted on: it is planned as
// if nobody insisted.
PlanProblem without_dead_bays(PlanProblem problem) {
    for (PlanJob& job : problem.jobs) {
        const auto dead = [&](int bay) {
            return bay >= 0 && ((static_cast<std::size_t>(bay) < problem.out_of_use.size() &&
                                 problem.out_of_use[static_cast<std::size_t>(bay)]) ||
                                !job.fits_on(bay));
        };
        if (!job.bay && !(job.start_h && dead(0)))
            continue;
        if (dead(job.bay.value_or(0))) {
            job.bay.reset();
            job.start_h.reset();
        }
    }
    return problem;
}

} // namespace

Result<BayPlan> plan_bays(const PlanProblem& as_wanted, const PlanOptions& options, const PlanObserver& observer) {
    const PlanProblem problem = without_dead_bays(as_wanted);
    if (auto objection = plan_detail::objection_to_problem(problem))
        return *objection;
    const double bound = plan_bound(problem);
    const Order free = free_jobs(problem);
    const long tries = options.tries > 0 ? options.tries : usual_tries(free.size());
    Found best = search(problem, free, {}, tries, bound, observer);
    if (options.fewer_visits && !free.empty())
        lessen_visits(problem, best, free, bound, tries);
    return as_plan(problem, std::move(best.jobs), bound);
}

Result<BayPlan> plan_skip_one(const PlanProblem& as_wanted) {
    const PlanProblem problem = without_dead_bays(as_wanted);
    if (auto objection = plan_detail::objection_to_problem(problem))
        return *objection;
    Order order = free_jobs(problem);
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        const int pa = problem.jobs[a].position.value_or(0);
        const int pb = problem.jobs[b].position.value_or(0);
        return (pa + 1) % 2 != (pb + 1) % 2 ? pa % 2 > pb % 2 : pa < pb;
    });
    return as_plan(problem, plan_detail::place_in_order(problem, order, {}), plan_bound(problem));
}

} // namespace ingot
