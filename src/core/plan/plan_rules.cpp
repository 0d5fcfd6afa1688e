// What no plan can beat, what a plan must keep, and what cannot be planned at all.
#include "core/plan/placing.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace ingot {

namespace {

using plan_detail::tolerance_h;

int bays_in_use(const PlanProblem& problem) {
    int bays = problem.bays;
    for (std::size_t b = 0; b < problem.out_of_use.size(); ++b)
        bays -= problem.out_of_use[b] && static_cast<int>(b) < problem.bays;
    return std::max(bays, 1);
}

// The earliest end of a chain of jobs on one bay, over all orders: starting earlier never ends later, so the best end
// of each subset is enough.
double best_chain(const AttendedHours& attended, const std::vector<double>& durations) {
    const std::size_t n = durations.size();
    std::vector<double> end(std::size_t{1} << n, 1e300);
    end[0] = attended.next(0);
    for (std::size_t set = 1; set < end.size(); ++set)
        for (std::size_t j = 0; j < n; ++j)
            if ((set >> j & 1U) != 0)
                end[set] = std::min(end[set], attended.next(end[set ^ (std::size_t{1} << j)] + durations[j]));
    return end.back();
}

// The same for chains too long for all orders: no chain is shorter than its work, nor than as many of its shortest job.
double least_chain(const AttendedHours& attended, const std::vector<double>& durations) {
    constexpr std::size_t most = 15;
    if (durations.size() <= most)
        return best_chain(attended, durations);
    const double begin = attended.next(0);
    const double work = std::accumulate(durations.begin(), durations.end(), 0.0);
    double t = begin;
    for (std::size_t i = 0; i < durations.size(); ++i)
        t = attended.next(t + durations.front());
    return std::max(attended.next(begin + work), t);
}

} // namespace

double plan_bound(const PlanProblem& problem) {
    const AttendedHours& attended = problem.attended;
    const double begin = attended.next(0);
    double bound = 0;
    std::vector<double> durations;
    std::vector<double> charges;
    double work = 0;
    double charge_work = 0;
    std::map<std::pair<std::string, int>, double> in_row;
    for (const PlanJob& job : problem.jobs) {
        if (job.start_h) {
            bound = std::max(bound, attended.next(std::max(0.0, *job.start_h + job.duration_h)));
            continue;
        }
        durations.push_back(job.duration_h);
        charges.push_back(job.charge_a);
        work += job.duration_h;
        charge_work += job.duration_h * job.charge_a;
        bound = std::max(bound, attended.next(begin + job.duration_h));
        if (job.position)
            in_row[{job.row, *job.position}] = job.duration_h;
    }
    if (durations.empty())
        return bound;
    std::sort(durations.begin(), durations.end());
    std::sort(charges.begin(), charges.end());
    int at_once = bays_in_use(problem);
    if (problem.supply_a) {
        double sum = 0;
        int fit = 0;
        for (const double a : charges) {
            sum += a;
            if (sum > *problem.supply_a * (1 + 1e-9))
                break;
            ++fit;
        }
        at_once = std::clamp(at_once, 1, std::max(1, fit));
        if (*problem.supply_a > 0)
            bound = std::max(bound, attended.next(begin + charge_work / *problem.supply_a));
    }
    bound = std::max(bound, attended.next(begin + work / at_once));
    // Some bay runs at least this many, and never less than the shortest ones.
    const auto chain = (durations.size() + static_cast<std::size_t>(at_once) - 1) / static_cast<std::size_t>(at_once);
    bound = std::max(
        bound, least_chain(attended, {durations.begin(), durations.begin() + static_cast<std::ptrdiff_t>(chain)}));
    // So many bays run that many; the fullest of them carries their mean. Or one runs one job more.
    const std::size_t full_bays = durations.size() - (chain - 1) * static_cast<std::size_t>(at_once);
    if (chain * full_bays < durations.size() || chain + 1 > durations.size()) {
        const auto last = durations.begin() + static_cast<std::ptrdiff_t>(chain * full_bays);
        const double mean = std::accumulate(durations.begin(), last, 0.0) / static_cast<double>(full_bays);
        const auto longer_last = durations.begin() + static_cast<std::ptrdiff_t>(std::min(chain + 1, durations.size()));
        const double longer = std::accumulate(durations.begin(), longer_last, 0.0);
        bound = std::max(bound, attended.next(begin + (chain + 1 > durations.size() ? mean : std::min(mean, longer))));
    }
    for (const auto& [place, duration] : in_row)
        if (const auto next = in_row.find({place.first, place.second + 1}); next != in_row.end())
            bound = std::max(bound, best_chain(attended, {duration, next->second}));
    return bound;
}

std::optional<Problem> plan_detail::objection_to_problem(const PlanProblem& problem) {
    const auto says = [](Sentence sentence) { return Problem{"", 0, std::move(sentence)}; };
    if (problem.bays < 1)
        return says(said("There is no bay to plan for. Give at least one."));
    if (!problem.out_of_use.empty() &&
        std::count(problem.out_of_use.begin(), problem.out_of_use.end(), true) >= problem.bays)
        return says(said("Every bay is out of use. Close the hazard on one of them first."));
    const AttendedHours& hours = problem.attended;
    if (hours.close_h <= hours.open_h || std::none_of(hours.days.begin(), hours.days.end(), [](bool d) { return d; }))
        return says(said("Nobody is ever at the bench. Give attended hours on at least one day."));
    for (const PlanJob& job : problem.jobs) {
        if (!(job.duration_h > 0) || !std::isfinite(job.duration_h))
            return says(said("The duration of {} is not over 0.", job.unit));
        if (problem.supply_a && job.charge_a > *problem.supply_a * (1 + 1e-9))
            return says(
                said("{} charges with more than the supply gives. Lower its current or raise the supply.", job.unit));
        if (!job.unattended && !hours.always() && job.duration_h > hours.close_h - hours.open_h &&
            !(hours.open_h <= 0 && hours.close_h >= 24))
            return says(said("{} may not run unattended, and no shift is as long as it runs.", job.unit));
        if (job.bay && (*job.bay < 0 || *job.bay >= problem.bays))
            return says(said("{} stands on a bay that is not there.", job.unit));
        bool fits_somewhere = false;
        for (int bay = 0; bay < problem.bays; ++bay)
            fits_somewhere =
                fits_somewhere || (job.fits_on(bay) && (static_cast<std::size_t>(bay) >= problem.out_of_use.size() ||
                                                        !problem.out_of_use[static_cast<std::size_t>(bay)]));
        if (!fits_somewhere)
            return says(said("{} fits on no bay that is in use: its voltage or current is beyond their instruments.",
                             job.unit));
    }
    for (std::size_t a = 0; a < problem.jobs.size(); ++a)
        for (std::size_t b = a + 1; b < problem.jobs.size(); ++b) {
            const PlanJob& one = problem.jobs[a];
            const PlanJob& other = problem.jobs[b];
            if (one.start_h && other.start_h && one.bay.value_or(0) == other.bay.value_or(0) &&
                *one.start_h < *other.start_h + other.duration_h - tolerance_h &&
                *other.start_h < *one.start_h + one.duration_h - tolerance_h)
                return says(said("{} and {} are both wanted on one bay at the same time.", one.unit, other.unit));
        }
    return std::nullopt;
}

std::optional<std::string> objection_to_plan(const PlanProblem& problem, const BayPlan& plan) {
    std::vector<int> seen(problem.jobs.size(), 0);
    for (const PlacedJob& job : plan.jobs) {
        const PlanJob& wanted = problem.jobs[job.job];
        ++seen[job.job];
        const auto says = [&](const char* what) { return wanted.unit + ": " + what; };
        if (job.bay < 0 || job.bay >= problem.bays)
            return says("no such bay");
        if (!wanted.fits_on(job.bay))
            return says("does not fit its bay");
        if (std::fabs(job.end_h - job.start_h - wanted.duration_h) > tolerance_h ||
            job.lifted_h < job.end_h - tolerance_h)
            return says("its times do not fit its duration");
        if (!wanted.start_h && (job.start_h < -tolerance_h || !problem.attended.attended(job.start_h)))
            return says("is put in while nobody is there");
        if (!problem.attended.attended(job.lifted_h))
            return says("is lifted out while nobody is there");
        if (!wanted.start_h && !wanted.unattended &&
            job.end_h > problem.attended.closes_after(job.start_h) + 2 * tolerance_h)
            return says("runs unattended and may not");
        double charge = 0;
        for (const PlacedJob& other : plan.jobs) {
            const PlanJob& beside = problem.jobs[other.job];
            const bool runs_at_once =
                other.start_h < job.end_h - tolerance_h && job.start_h < other.end_h - tolerance_h;
            if (other.start_h <= job.start_h + tolerance_h && other.end_h > job.start_h + tolerance_h)
                charge += beside.charge_a;
            if (other.job == job.job)
                continue;
            if (other.bay == job.bay && other.start_h < job.lifted_h - tolerance_h &&
                job.start_h < other.lifted_h - tolerance_h)
                return says("shares its bay with another");
            if (wanted.position && beside.position && wanted.row == beside.row && runs_at_once &&
                std::abs(*wanted.position - *beside.position) == 1)
                return says("runs beside its neighbour");
        }
        if (problem.supply_a && charge > *problem.supply_a * (1 + 1e-6))
            return says("overloads the supply");
    }
    for (std::size_t j = 0; j < seen.size(); ++j)
        if (seen[j] != 1)
            return problem.jobs[j].unit + ": is planned " + std::to_string(seen[j]) + " times";
    return std::nullopt;
}

} // namespace ingot
