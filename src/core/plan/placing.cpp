#include "core/plan/placing.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace ingot::plan_detail {

namespace {

// The neighbours of each job in its clamped row.
std::vector<std::vector<std::size_t>> neighbours_of(const PlanProblem& problem) {
    std::map<std::pair<std::string, int>, std::vector<std::size_t>> at;
    for (std::size_t j = 0; j < problem.jobs.size(); ++j)
        if (problem.jobs[j].position)
            at[{problem.jobs[j].row, *problem.jobs[j].position}].push_back(j);
    std::vector<std::vector<std::size_t>> out(problem.jobs.size());
    for (const auto& [place, here] : at)
        for (const int side : {-1, 1})
            if (const auto there = at.find({place.first, place.second + side}); there != at.end())
                for (const std::size_t j : here)
                    out[j].insert(out[j].end(), there->second.begin(), there->second.end());
    return out;
}

class Table {
public:
    Table(const PlanProblem& problem, const Timing& timing)
        : problem_(problem), timing_(timing), neighbours_(neighbours_of(problem)),
          bays_(static_cast<std::size_t>(problem.bays)), placed_(problem.jobs.size()) {
        for (std::size_t j = 0; j < problem.jobs.size(); ++j)
            if (problem.jobs[j].start_h)
                put_fixed(j);
    }

    // The earliest moment at or after `at_h` at which somebody comes.
    [[nodiscard]] double next(double at_h) const {
        double moment = problem_.attended.next(at_h);
        if (timing_.grid_h <= 0)
            return moment;
        constexpr double day_h = 24;
        for (int tried = 0; tried < 9; ++tried) {
            const double clock = moment + problem_.attended.begin_hour;
            const double open = std::floor((clock + tolerance_h) / day_h) * day_h + problem_.attended.open_h;
            const double steps = std::ceil((clock - open) / timing_.grid_h - tolerance_h);
            const double snapped = open + steps * timing_.grid_h - problem_.attended.begin_hour;
            const double attended = problem_.attended.next(std::max(snapped, at_h));
            if (std::fabs(attended - snapped) <= tolerance_h)
                return attended;
            moment = attended;
        }
        return moment;
    }

    void place(std::size_t j, double not_before_h = 0) {
        const PlanJob& job = problem_.jobs[j];
        double t = next(std::max(0.0, not_before_h));
        constexpr double never_h = 1e12; // no bay will ever take it: plan_rules refuses such a problem
        while (t < never_h) {
            const double end = t + job.duration_h;
            if (const double later = blocked_until(j, t, end); later > t) {
                t = next(later);
                continue;
            }
            const double lifted = next(end);
            double later = 0;
            const int bay = free_bay(job, t, lifted, later);
            if (bay < 0) {
                t = next(later);
                continue;
            }
            put({j, bay, t, end, lifted});
            return;
        }
    }

    // On its bay, not before a moment, lifted not before another; false if the bay or a rule does not allow it there.
    [[nodiscard]] bool place_there(std::size_t j, int bay, double not_before_h, double lifted_not_before_h) {
        const PlanJob& job = problem_.jobs[j];
        double t = next(not_before_h);
        for (const PlacedJob& other : bays_[static_cast<std::size_t>(bay)])
            t = std::max(t, other.lifted_h);
        t = next(t);
        constexpr int most = 50;
        for (int tried = 0; tried < most; ++tried) {
            const double end = t + job.duration_h;
            const double later = blocked_until(j, t, end);
            if (later <= t) {
                put({j, bay, t, end, next(std::max(end, lifted_not_before_h))});
                return true;
            }
            t = next(later);
        }
        return false;
    }

    [[nodiscard]] std::vector<PlacedJob> result() const {
        std::vector<PlacedJob> out;
        for (const auto& bay : bays_)
            out.insert(out.end(), bay.begin(), bay.end());
        return out;
    }

private:
    void put(const PlacedJob& placed) {
        auto& bay = bays_[static_cast<std::size_t>(placed.bay)];
        bay.insert(std::upper_bound(bay.begin(), bay.end(), placed,
                                    [](const PlacedJob& a, const PlacedJob& b) { return a.start_h < b.start_h; }),
                   placed);
        placed_[placed.job] = placed;
    }

    void put_fixed(std::size_t j) {
        const PlanJob& job = problem_.jobs[j];
        const double end = *job.start_h + job.duration_h;
        put({j, job.bay.value_or(0), *job.start_h, end, problem_.attended.next(std::max(end, 0.0))});
    }

    // A moment before which the job cannot run as wanted; `t` itself when nothing stands in the way.
    [[nodiscard]] double blocked_until(std::size_t j, double t, double end) const {
        const PlanJob& job = problem_.jobs[j];
        if (!job.unattended) {
            const double closes = problem_.attended.closes_after(t);
            if (end > closes + tolerance_h)
                return closes + tolerance_h;
        }
        for (const std::size_t n : neighbours_[j])
            if (placed_[n] && placed_[n]->start_h < end - tolerance_h && placed_[n]->end_h > t + tolerance_h)
                return placed_[n]->end_h;
        if (!problem_.supply_a || job.charge_a <= 0)
            return t;
        return supply_blocks(job.charge_a, t, end);
    }

    [[nodiscard]] double supply_blocks(double charge_a, double t, double end) const {
        running_.clear();
        for (const auto& bay : bays_)
            for (const PlacedJob& other : bay)
                if (other.start_h < end - tolerance_h && other.end_h > t + tolerance_h &&
                    problem_.jobs[other.job].charge_a > 0)
                    running_.push_back(&other);
        // The sum peaks at `t` or when one of them starts.
        const auto overloaded = [&](double moment) {
            double sum = charge_a;
            for (const PlacedJob* other : running_)
                if (other->start_h <= moment + tolerance_h && other->end_h > moment + tolerance_h)
                    sum += problem_.jobs[other->job].charge_a;
            return sum > *problem_.supply_a * (1 + 1e-9);
        };
        bool over = overloaded(t);
        for (const PlacedJob* other : running_)
            over = over || (other->start_h > t && overloaded(other->start_h));
        if (!over)
            return t;
        double first = 1e300;
        for (const PlacedJob* other : running_)
            first = std::min(first, other->end_h);
        return first;
    }

    // The bay that has waited least, so that long gaps stay open; -1 and the next moment to try if none is free.
    [[nodiscard]] int free_bay(const PlanJob& job, double t, double lifted, double& later) const {
        int best = -1;
        double since = -1e300;
        later = 1e300;
        for (std::size_t b = 0; b < bays_.size(); ++b) {
            if (b < problem_.out_of_use.size() && problem_.out_of_use[b])
                continue;
            if (!job.fits_on(static_cast<int>(b)) || (job.bay && *job.bay != static_cast<int>(b)))
                continue;
            double before = -1e200;
            bool free = true;
            for (const PlacedJob& other : bays_[b]) {
                if (other.lifted_h <= t + tolerance_h) {
                    before = std::max(before, other.lifted_h);
                } else if (other.start_h < lifted - tolerance_h) {
                    free = false;
                    later = std::min(later, other.lifted_h);
                    break;
                } else {
                    break;
                }
            }
            const bool wanted = free && job.before_bay && *job.before_bay == static_cast<int>(b);
            if (free && (before > since || wanted)) {
                since = wanted ? 1e300 : before;
                best = static_cast<int>(b);
            }
        }
        return best;
    }

    const PlanProblem& problem_;
    Timing timing_;
    std::vector<std::vector<std::size_t>> neighbours_;
    std::vector<std::vector<PlacedJob>> bays_; // each by start
    std::vector<std::optional<PlacedJob>> placed_;
    mutable std::vector<const PlacedJob*> running_;
};

} // namespace

std::vector<PlacedJob> place_in_order(const PlanProblem& problem, const std::vector<std::size_t>& order,
                                      const Timing& timing) {
    Table table(problem, timing);
    for (const std::size_t j : order)
        table.place(j);
    return table.result();
}

std::optional<std::vector<PlacedJob>> put_off(const PlanProblem& problem, const std::vector<PlacedJob>& jobs,
                                              double from_h, double to_h) {
    const auto at = [](double a, double b) { return std::fabs(a - b) <= tolerance_h; };
    std::vector<PlacedJob> sorted = jobs;
    std::stable_sort(sorted.begin(), sorted.end(),
                     [](const PlacedJob& a, const PlacedJob& b) { return a.start_h < b.start_h; });
    Table table(problem, {});
    for (const PlacedJob& job : sorted) {
        if (problem.jobs[job.job].start_h)
            continue;
        const double start = at(job.start_h, from_h) ? to_h : job.start_h;
        const double lifted = at(job.lifted_h, from_h) ? to_h : job.lifted_h;
        if (!table.place_there(job.job, job.bay, start, lifted))
            return std::nullopt;
    }
    return table.result();
}

std::vector<double> moments_of(const std::vector<PlacedJob>& jobs) {
    std::vector<double> all;
    all.reserve(jobs.size() * 2);
    for (const PlacedJob& job : jobs) {
        if (job.start_h >= 0) // what runs already was put in before
            all.push_back(job.start_h);
        all.push_back(job.lifted_h);
    }
    std::sort(all.begin(), all.end());
    std::vector<double> out;
    for (const double moment : all)
        if (out.empty() || moment - out.back() > tolerance_h)
            out.push_back(moment);
    return out;
}

} // namespace ingot::plan_detail
