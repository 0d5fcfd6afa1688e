// Matching: choose S x P units of a pool and group them, so that the weakest group is as strong as it can be and the
// groups are level in capacity, conductance and self-discharge. This header is what the rest of Ingot uses.
//
// Levelness J = capacity spread + conductance spread + w * leak spread / (P * median leak of the pool), w = 0.1;
// spread = (largest - smallest) / mean of the group sums for capacity and conductance, largest - smallest for leak.
// See docs/methods/match.md.
#pragma once

#include "core/cells/problem.h"
#include "core/measure/facts.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct MatchUnit {
    std::string id;
    std::optional<Fact> capacity_ah;               // > 0
    std::optional<Fact> resistance_ohm;            // > 0, all by one method
    std::optional<Fact> self_discharge_ah_per_day; // may be 0
    std::optional<Fact> voltage_v;
    std::string model;
    std::string chemistry;
    std::optional<double> continuous_a; // what it may give for as long as it lasts
    std::string origin;                 // the group of a pack that it came out of; empty: none
};

enum class Demand { one_model_per_group, whole_origins, apart, join_window, load };
inline constexpr int demand_count = 5;
[[nodiscard]] const char* code(Demand demand);

// What a person asks of a match beside levelness. All are kept where they can be; none is kept in secret.
struct MatchDemands {
    bool one_model_per_group = false;
    bool whole_origins = false;                             // units of one origin are used together, or not at all
    std::vector<std::pair<std::size_t, std::size_t>> apart; // pairs that share no group
    std::optional<double> join_window_v;                    // voltages within a group differ by no more, V
    std::optional<double> load_a; // of the pack: no unit's share is more than it may give; a unit of which that is not
                                  // known takes no part
    [[nodiscard]] bool any() const {
        return one_model_per_group || whole_origins || !apart.empty() || join_window_v || load_a;
    }
    [[nodiscard]] bool asks(Demand demand) const;
    void drop(Demand demand);
};

struct MatchLock {
    std::size_t unit = 0;  // index into the pool
    std::size_t group = 0; // 0-based
};

enum class MatchWay { search, twins, voltage_only, deal };
[[nodiscard]] const char* code(MatchWay way);

struct MatchProblem {
    std::vector<MatchUnit> pool;
    int series = 1;         // S, 1..200
    int parallel = 1;       // P, 1..500
    double give_up = 0.005; // share of the best usable capacity that may be spent on levelness, 0..0.2
    std::vector<MatchLock> locks;
    std::vector<std::size_t> excluded;
    std::uint64_t seed = 1;
    MatchDemands demands; // heard by the search
    double leak_weight = 0.1;
    double effort = 1.0; // scales every iteration budget
    // An answer to go on from: groups of indices into the pool. It stands until a better one is found; where it does
    // not fit (other S x P, locks, excluded units, no capacity) it is not heard.
    std::vector<std::vector<std::size_t>> go_on_from;
};
// For somebody who waits for one answer, and may stop it: without it the tail over pools is long
// (docs/methods/match.md).
inline constexpr double patient_effort = 6;

struct GroupSums {
    double capacity_ah = 0;
    std::optional<double> conductance_s;
    std::optional<double> leak_ah_per_day;
    std::vector<std::size_t> units; // indices into the pool
};

enum class MatchNote {
    resistance_unknown,           // too few resistances: conductance is not levelled
    self_discharge_unknown,       // too few self-discharge values: leak is not levelled
    units_without_capacity,       // left out
    units_without_resistance,     // counted at the middle of their model
    units_without_self_discharge, // counted at the pool's median
    unlike_capacities,            // used, but measured under other conditions than most of the pool
    demands_not_met,              // so many breaches are left: no choice that keeps them was found
    units_without_asked_figure,   // left out: a demand needs a voltage or a current that nobody knows
    stopped,                      // by the person or a time limit: the best so far
};
[[nodiscard]] const char* code(MatchNote note);

struct MatchResult {
    MatchWay way = MatchWay::search;
    std::vector<GroupSums> groups;
    double usable_ah = 0;
    double bound_ah = 0;       // no choice exceeds it
    double best_usable_ah = 0; // best found by the search
    bool proved = false;       // best_usable_ah is the optimum at whole mAh
    double capacity_spread = 0;
    std::optional<double> conductance_spread;
    std::optional<double> leak_spread_ah_per_day;
    double stranded_ah = 0;
    double levelness = 0;
    std::vector<std::pair<MatchNote, int>> notes; // with a count
};

// Called from the searching thread. `best` is a complete answer; return false to stop.
struct MatchProgress {
    double share_done = 0;
    const MatchResult* best = nullptr;
};
using MatchObserver = std::function<bool(const MatchProgress&)>;

// Same problem and seed: same answer, unless the observer stops it. Objects to: too few units, more than one
// chemistry, locks that contradict each other, way `voltage_only` without voltages.
[[nodiscard]] Result<MatchResult> match(const MatchProblem& problem, MatchWay way = MatchWay::search,
                                        const MatchObserver& observer = {});

// The figures of any grouping (indices into the pool), recomputed from the units. Throws std::invalid_argument if the
// grouping is not S groups of P distinct units of the pool.
[[nodiscard]] MatchResult figures_of(const MatchProblem& problem, const std::vector<std::vector<std::size_t>>& groups);

// Which demands a grouping breaks: `count` units too many (one model, window, load), pairs (apart) or units that are
// missing or alone (origins).
struct Breach {
    Demand demand{};
    int group = -1; // from 0; -1: the pack
    int count = 0;
};
[[nodiscard]] std::vector<Breach> breaches_of(const MatchProblem& problem,
                                              const std::vector<std::vector<std::size_t>>& groups);

// No choice of S x P units has a larger smallest group sum: for each k < S, the k largest units sit in at most k
// groups, so the other S - k groups share what the next (S - k) P units hold. Capacities in mAh, any order.
[[nodiscard]] long usable_bound_mah(std::vector<int> capacities_mah, int series, int parallel);

} // namespace ingot
