#include "core/match/allot.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace ingot {

namespace {

constexpr double mah_in_ah = 1000;

int in_mah(double ah) {
    return static_cast<int>(std::lround(ah * mah_in_ah));
}

class Allotment {
public:
    Allotment(const AllotProblem& problem, const AllotObserver& observer, bool groups = true)
        : problem_(problem), observer_(observer), groups_(groups) {
        result_.builds.resize(problem.builds.size());
        taken_by_.assign(problem.pool.size(), none);
        for (std::size_t u = 0; u < problem.pool.size(); ++u)
            if (problem.pool[u].capacity_ah && *problem.pool[u].capacity_ah > 0)
                by_capacity_.push_back(u);
        std::stable_sort(by_capacity_.begin(), by_capacity_.end(),
                         [&](std::size_t a, std::size_t b) { return capacity(a) > capacity(b); });
    }

    AllotResult run() {
        std::set<int> priorities;
        for (const AllotBuild& build : problem_.builds)
            priorities.insert(build.priority);
        for (const int priority : priorities)
            serve(priority);
        for (std::size_t u = 0; u < problem_.pool.size(); ++u)
            if (taken_by_[u] == none)
                result_.left.push_back(u);
        return std::move(result_);
    }

private:
    static constexpr std::size_t none = static_cast<std::size_t>(-1);

    [[nodiscard]] double capacity(std::size_t unit) const { return *problem_.pool[unit].capacity_ah; }
    [[nodiscard]] static std::size_t size_of(const AllotBuild& build) {
        return static_cast<std::size_t>(build.series) * static_cast<std::size_t>(build.parallel);
    }

    // Units a build may take now, strongest first.
    [[nodiscard]] std::vector<std::size_t> candidates(const AllotBuild& build, const std::string& chemistry,
                                                      bool model_only) const {
        std::vector<std::size_t> out;
        for (const std::size_t u : by_capacity_) {
            const MatchUnit& unit = problem_.pool[u];
            const bool fits = taken_by_[u] == none && unit.chemistry == chemistry &&
                              (build.may_use.empty() || build.may_use[u] != 0) &&
                              (!model_only || build.model.empty() || unit.model == build.model);
            if (fits)
                out.push_back(u);
        }
        return out;
    }
    [[nodiscard]] long bound_of(const std::vector<std::size_t>& units, const AllotBuild& build) const {
        if (units.size() < size_of(build))
            return 0;
        std::vector<int> mah;
        mah.reserve(units.size());
        for (const std::size_t u : units)
            mah.push_back(in_mah(capacity(u)));
        return usable_bound_mah(std::move(mah), build.series, build.parallel);
    }

    // The chemistry that serves a build best: the one that can fill it with the highest bound.
    [[nodiscard]] std::string chemistry_for(const AllotBuild& build) const {
        if (!build.chemistry.empty())
            return build.chemistry;
        std::set<std::string> all;
        for (const std::size_t u : by_capacity_)
            all.insert(problem_.pool[u].chemistry);
        std::string best;
        long highest = -1;
        std::size_t most = 0;
        for (const std::string& chemistry : all) {
            const auto units = candidates(build, chemistry, !build.model_first);
            const long bound = bound_of(units, build);
            if (bound > highest || (bound == highest && units.size() > most)) {
                best = chemistry;
                highest = bound;
                most = units.size();
            }
        }
        return best;
    }

    // The strongest go where they count most: a further Ah in a group counts 1/S in usable capacity. Builds that want
    // only so much come last, and take the weakest that suffice.
    [[nodiscard]] std::vector<std::size_t> order_of(const std::vector<std::size_t>& builds) const {
        std::vector<std::size_t> out = builds;
        std::stable_sort(out.begin(), out.end(), [&](std::size_t a, std::size_t b) {
            const AllotBuild& x = problem_.builds[a];
            const AllotBuild& y = problem_.builds[b];
            const bool x_wants = x.wanted_ah.has_value();
            const bool y_wants = y.wanted_ah.has_value();
            if (x_wants != y_wants)
                return x_wants; // they leave the strongest to the others
            if (x_wants)
                return *x.wanted_ah / x.parallel > *y.wanted_ah / y.parallel;
            return x.series < y.series;
        });
        return out;
    }

    void serve(int priority) {
        std::vector<std::size_t> builds;
        for (std::size_t b = 0; b < problem_.builds.size(); ++b)
            if (problem_.builds[b].priority == priority)
                builds.push_back(b);
        for (const std::size_t b : builds) {
            const AllotBuild& build = problem_.builds[b];
            Allotted& out = result_.builds[b];
            out.chemistry = chemistry_for(build);
            const auto units = candidates(build, out.chemistry, !build.model_first);
            if (units.size() < size_of(build))
                out.lacking = size_of(build) - units.size();
            out.at_most_ah = static_cast<double>(bound_of(units, build)) / mah_in_ah;
            out.bound_ah = build.wanted_ah ? std::min(out.at_most_ah, *build.wanted_ah) : out.at_most_ah;
        }
        const double joint = joint_bound(builds);
        const std::vector<std::size_t> order = order_of(builds);
        // What the wanting builds leave must still fill the others: the strongest are kept for those.
        for (const std::size_t b : order)
            take_window(b, reserved_after(order, b));
        for (const std::size_t b : order)
            if (groups_)
                match_build(b);
        double usable = 0;
        for (const std::size_t b : builds) {
            const Allotted& out = result_.builds[b];
            if (out.filled)
                usable += std::min(out.match.usable_ah, problem_.builds[b].wanted_ah.value_or(out.match.usable_ah));
        }
        result_.usable_ah += usable;
        result_.bound_ah += std::max(joint, usable);
    }

    // Whole units that builds without a wish will need, by chemistry: a wanting build does not touch so many of the
    // strongest unless it must.
    [[nodiscard]] std::size_t reserved_after(const std::vector<std::size_t>& order, std::size_t b) const {
        std::size_t out = 0;
        bool after = false;
        for (const std::size_t other : order) {
            const bool same = result_.builds[other].chemistry == result_.builds[b].chemistry;
            if (after && same && !problem_.builds[other].wanted_ah)
                out += size_of(problem_.builds[other]);
            after |= other == b;
        }
        return out;
    }

    void take_window(std::size_t b, std::size_t reserved) {
        const AllotBuild& build = problem_.builds[b];
        Allotted& out = result_.builds[b];
        const std::size_t size = size_of(build);
        auto units = candidates(build, out.chemistry, true);
        if (units.size() < size)
            units = candidates(build, out.chemistry, !build.model_first);
        if (units.size() < size) {
            out.lacking = size - units.size();
            return;
        }
        std::size_t from = 0;
        if (build.wanted_ah) {
            // The weakest window whose bound reaches what is wanted; a little more, because groups are never quite
            // level.
            constexpr double spare = 1.002;
            const auto wanted = static_cast<long>(std::ceil(*build.wanted_ah * mah_in_ah * spare));
            std::size_t low = 0;
            std::size_t high = units.size() - size;
            while (low < high) { // the bound falls as the window goes down
                const std::size_t half = (low + high + 1) / 2;
                if (window_bound(units, half, build) >= wanted)
                    low = half;
                else
                    high = half - 1;
            }
            from = low;
            if (window_bound(units, from, build) < wanted)
                from = std::min(reserved_from(units.size(), size, reserved), from);
        }
        for (std::size_t k = from; k < from + size; ++k)
            taken_by_[units[k]] = b;
        out.filled = true;
        out.lacking = 0;
    }
    static std::size_t reserved_from(std::size_t units, std::size_t size, std::size_t reserved) {
        return units >= size + reserved ? reserved : 0;
    }
    [[nodiscard]] long window_bound(const std::vector<std::size_t>& units, std::size_t from,
                                    const AllotBuild& build) const {
        const auto begin = units.begin() + static_cast<std::ptrdiff_t>(from);
        return bound_of({begin, begin + static_cast<std::ptrdiff_t>(size_of(build))}, build);
    }

    // Matches a build from its own units and from those that nobody has: to level it and to leave leakers out.
    void match_build(std::size_t b) {
        Allotted& out = result_.builds[b];
        if (!out.filled)
            return;
        const AllotBuild& build = problem_.builds[b];
        std::vector<std::size_t> own;
        double least = 1e300;
        for (std::size_t u = 0; u < problem_.pool.size(); ++u)
            if (taken_by_[u] == b) {
                own.push_back(u);
                least = std::min(least, capacity(u));
            }
        std::vector<std::size_t> members = own;
        const bool all_of_model = std::all_of(own.begin(), own.end(), [&](std::size_t u) {
            return build.model.empty() || problem_.pool[u].model == build.model;
        });
        const double weakest = least * (1 - weakest_spare);
        const double strongest = strongest_spare(build, own);
        for (const std::size_t u : candidates(build, out.chemistry, !build.model_first || all_of_model))
            if (capacity(u) >= weakest && capacity(u) <= strongest)
                members.push_back(u);
        MatchProblem problem;
        problem.series = build.series;
        problem.parallel = build.parallel;
        problem.give_up = build.give_up;
        problem.seed = problem_.seed;
        // Many builds share the time that one would have.
        constexpr double as_for = 4;
        problem.effort = problem_.effort * std::min(1.0, as_for / static_cast<double>(problem_.builds.size()));
        for (const std::size_t u : members)
            problem.pool.push_back(problem_.pool[u]);
        const auto attempt = [&] {
            return match(problem, MatchWay::search,
                         [&](const MatchProgress&) { return !observer_ || observer_(done_, total()); });
        };
        auto matched = attempt();
        // What is wanted is not given up for levelness.
        if (matched && build.wanted_ah && matched.value().usable_ah < *build.wanted_ah && build.give_up > 0) {
            problem.give_up = 0;
            matched = attempt();
        }
        ++done_;
        if (!matched) { // cannot be: enough units, one chemistry
            out.filled = false;
            return;
        }
        for (const std::size_t u : own)
            taken_by_[u] = none;
        out.match = matched.value();
        for (GroupSums& group : out.match.groups)
            for (std::size_t& u : group.units) {
                u = members[u];
                taken_by_[u] = b;
            }
    }
    static constexpr double weakest_spare = 0.03; // units a little under the weakest may still serve to level
    // A build that wants only so much is not given stronger units of the stock than it has.
    [[nodiscard]] double strongest_spare(const AllotBuild& build, const std::vector<std::size_t>& own) const {
        if (!build.wanted_ah)
            return 1e300;
        double most = 0;
        for (const std::size_t u : own)
            most = std::max(most, capacity(u));
        return most;
    }
    [[nodiscard]] std::size_t total() const { return problem_.builds.size(); }

    // Usable capacity is at most the mean of the group sums: one Ah counts 1/S. The largest units where it counts most,
    // whatever chemistry or model is asked for, is the most that one priority can reach; nor more than each alone.
    [[nodiscard]] double joint_bound(const std::vector<std::size_t>& builds) const {
        double alone = 0;
        std::map<std::string, std::vector<std::size_t>> by_chemistry;
        for (const std::size_t b : builds)
            if (result_.builds[b].lacking == 0) {
                alone += result_.builds[b].bound_ah;
                by_chemistry[result_.builds[b].chemistry].push_back(b);
            }
        double together = 0;
        for (auto& [chemistry, members] : by_chemistry) {
            std::stable_sort(members.begin(), members.end(), [&](std::size_t x, std::size_t y) {
                return problem_.builds[x].series < problem_.builds[y].series;
            });
            AllotBuild any;
            const auto units = candidates(any, chemistry, false);
            std::size_t next = 0;
            for (const std::size_t b : members) {
                double sum = 0;
                for (std::size_t k = 0; k < size_of(problem_.builds[b]) && next < units.size(); ++k)
                    sum += capacity(units[next++]);
                together += sum / problem_.builds[b].series;
            }
        }
        return std::min(alone, together);
    }

    const AllotProblem& problem_;
    const AllotObserver& observer_;
    AllotResult result_;
    std::vector<std::size_t> taken_by_; // build, or none
    std::vector<std::size_t> by_capacity_;
    std::size_t done_ = 0;
    bool groups_; // false: who gets which units, and no more
};

// The most that is left for the last of `problem`, whatever it wants.
double left_for_last(AllotProblem& problem) {
    problem.builds.back().wanted_ah.reset();
    const AllotObserver nobody;
    return Allotment(problem, nobody, false).run().builds.back().at_most_ah;
}

} // namespace

Result<AllotResult> allot(const AllotProblem& problem, const AllotObserver& observer) {
    const auto objection = [](Sentence sentence) { return Problem{"", 0, std::move(sentence)}; };
    if (problem.builds.empty())
        return objection(said("there is no build. Give one line for each."));
    constexpr int most_series = 200;
    constexpr int most_parallel = 500;
    std::set<std::string> chemistries;
    for (const MatchUnit& unit : problem.pool)
        chemistries.insert(unit.chemistry);
    for (const AllotBuild& build : problem.builds) {
        if (build.series < 1 || build.series > most_series || build.parallel < 1 || build.parallel > most_parallel)
            return objection(said("build {}: 1 to 200 in series, 1 to 500 in parallel.", build.id));
        if (!build.chemistry.empty() && !chemistries.contains(build.chemistry))
            return objection(said("build {} wants {}, of which the pool has none.", build.id, build.chemistry));
        if (!build.may_use.empty() && build.may_use.size() != problem.pool.size())
            return objection(said("build {}: which units it may use is not said for all.", build.id));
    }
    return Allotment(problem, observer).run();
}

AllotStanding standing_of(const AllotProblem& problem, std::size_t build) {
    const AllotBuild& asked = problem.builds.at(build);
    std::vector<std::size_t> above;
    for (std::size_t b = 0; b < problem.builds.size(); ++b)
        if (b != build && std::pair(problem.builds[b].priority, b) < std::pair(asked.priority, build))
            above.push_back(b);
    std::stable_sort(above.begin(), above.end(), [&](std::size_t a, std::size_t b) {
        return problem.builds[a].priority < problem.builds[b].priority;
    });
    AllotProblem some;
    some.pool = problem.pool;
    const auto left_beside = [&](std::optional<std::size_t> without) {
        some.builds.clear();
        for (const std::size_t b : above)
            if (b != without)
                some.builds.push_back(problem.builds[b]);
        some.builds.push_back(asked);
        for (std::size_t i = 0; i < some.builds.size(); ++i)
            some.builds[i].priority = static_cast<int>(i);
        return left_for_last(some);
    };
    AllotStanding out;
    out.at_most_ah = left_beside(std::nullopt);
    for (const std::size_t b : above)
        out.above.push_back({b, std::max(0.0, left_beside(b) - out.at_most_ah)});
    above.clear();
    out.if_first_ah = left_beside(std::nullopt);
    return out;
}

} // namespace ingot
