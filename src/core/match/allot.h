// Several builds from one pool: who gets which units, by priority, each no more than it needs; then each is matched.
// See docs/methods/match.md.
#pragma once

#include "core/match/problem.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct AllotBuild {
    std::string id;
    int series = 1;                  // 1..200
    int parallel = 1;                // 1..500
    int priority = 1;                // 1 first
    std::string chemistry;           // empty: the one that serves it best
    std::string model;               // empty: any
    bool model_first = false;        // the model is liked, not demanded: as in a refill beside survivors
    std::optional<double> wanted_ah; // usable capacity; more counts nothing
    double give_up = 0.005;
    std::vector<char> may_use; // for each unit of the pool, by duty; empty: all
};

struct AllotProblem {
    std::vector<MatchUnit> pool;
    std::vector<AllotBuild> builds;
    std::uint64_t seed = 1;
    double effort = 1.0; // of the matching, see MatchProblem
};

struct Allotted {
    bool filled = false;
    std::size_t lacking = 0; // units, where it could not be filled
    std::string chemistry;   // the one taken
    MatchResult match;       // groups index the pool; nothing where not filled
    double at_most_ah = 0;   // no choice gives it more, from what higher priorities left
    double bound_ah = 0;     // the same, no higher than wanted
};

struct AllotResult {
    std::vector<Allotted> builds;  // as in the problem
    std::vector<std::size_t> left; // units that no build took
    double usable_ah = 0;          // sum over builds, each counted up to what it wants
    double bound_ah = 0;           // of that sum: no allotment by these priorities exceeds it
};

// `done` of `of` builds are matched; return false to stop matching better: what is there is returned.
using AllotObserver = std::function<bool(std::size_t done, std::size_t of)>;

// Objects to: no build, sizes out of range, a build that names a chemistry which no unit has. Within one priority the
// sum of usable capacities counts; a lower priority never takes from a higher. Same problem and seed: same answer.
[[nodiscard]] Result<AllotResult> allot(const AllotProblem& problem, const AllotObserver& observer = {});

// Where a build stands among the others: the most it could have if it were served first, and what each build above it
// costs: how much more it could have at most if that one were not there. By bounds and whole windows of units, without
// matching: quick. Ah of usable capacity.
struct AllotCost {
    std::size_t build = 0; // index into the problem's builds
    double ah = 0;         // >= 0
};
struct AllotStanding {
    double at_most_ah = 0;
    double if_first_ah = 0;
    std::vector<AllotCost> above; // by priority
};
// `build` is an index into the problem's builds; throws std::out_of_range.
[[nodiscard]] AllotStanding standing_of(const AllotProblem& problem, std::size_t build);

} // namespace ingot
