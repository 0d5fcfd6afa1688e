// The matcher's working form: flat arrays, capacities in whole mAh, sorted from the largest down. Not a public header.
#pragma once

#include "core/cells/random.h"
#include "core/cells/still_wanted.h"
#include "core/match/problem.h"

#include <cstdint>
#include <vector>

namespace ingot::matching {

struct Arena {
    int series = 1;
    int parallel = 1;
    std::vector<int> capacity_mah;   // falling
    std::vector<double> conductance; // S; all 0 when not levelled
    std::vector<double> leak;        // Ah per day; all 0 when not levelled
    std::vector<std::size_t> pool_index;
    std::vector<int> locked_to; // group or -1
    double leak_scale = 0;      // weight / (P * median leak); 0 when not levelled
    [[nodiscard]] int size() const { return static_cast<int>(capacity_mah.size()); }
    [[nodiscard]] int wanted() const { return series * parallel; }
    [[nodiscard]] bool has_locks() const;
};

struct Sums {
    long capacity = 0;
    double conductance = 0;
    double leak = 0;
};

// A capacity missing under the floor costs a search this much levelness per share of the mean: far more than it can buy
// among units that leak as usual.
inline constexpr double floor_price = 30.0;

// Group of each slot: slots [g*P, (g+1)*P) are group g; values are arena indices.
using Slots = std::vector<int>;

struct Level {
    long usable_mah = 0;
    double levelness = 0;
};

// Running extremes of the three sums over groups.
struct Extremes {
    long low_c = 0, high_c = 0;
    double low_g = 0, high_g = 0, low_l = 0, high_l = 0;
    bool empty = true;
    void add(const Sums& sums);
    // At most the levelness that any completion of these groups can have: the mean is never above the largest.
    [[nodiscard]] double lower_bound(double leak_scale) const;
};

[[nodiscard]] std::vector<Sums> sums_of(const Arena& arena, const Slots& slots);
[[nodiscard]] Level level_of(const Arena& arena, const std::vector<Sums>& sums);
// True if `a` is the better answer above the floor: a usable below the floor never beats one that holds it.
[[nodiscard]] bool better(const Level& a, const Level& b, long floor_mah);

// The largest units dealt out to and fro: 1..S, S..1. Locked units go first, to their groups.
[[nodiscard]] Slots deal(const Arena& arena, const std::vector<int>& chosen);
// The largest S x P units (locked ones included), leaving out those marked in `avoid` while enough others remain.
[[nodiscard]] std::vector<int> largest(const Arena& arena, const std::vector<char>& avoid);

// --- exact.cpp: depth-first search with a loss budget; no locks ---
struct ExactResult {
    Slots slots; // empty if nothing better than asked was found
    long usable_mah = 0;
    double levelness = 0;
    bool exhausted = true; // false: the node budget ran out, or it was stopped
    long nodes = 0;
};
// Largest smallest group sum; `known_mah` is already reached by somebody.
[[nodiscard]] ExactResult maximise_usable(const Arena& arena, long bound_mah, long known_mah, long node_budget,
                                          const StillWanted& still_wanted = {});
// Least levelness with every group at or above the floor, better than `known_levelness`. `context` holds other groups
// that are fixed and count in the spread.
[[nodiscard]] ExactResult level_exactly(const Arena& arena, long floor_mah, double known_levelness, long node_budget,
                                        const Extremes& context = {}, const StillWanted& still_wanted = {});

// --- anneal.cpp ---
struct AnnealPlan {
    long floor_mah = 0;
    long moves = 0;
    double start_heat = 0.02; // in levelness
    double end_heat = 0.0001;
    int candidates = 0;      // arena indices below this may be used
    std::vector<char> avoid; // of them, not these; empty: all
    std::uint64_t seed = 1;
};
[[nodiscard]] Slots anneal(const Arena& arena, const Slots& start, const AnnealPlan& plan,
                           const StillWanted& still_wanted);
// Complete re-splits of pairs of groups (P up to 8), hot at first, always at or above the floor once reached.
[[nodiscard]] Slots resplit_pairs(const Arena& arena, const Slots& start, long floor_mah, int rounds, double heat,
                                  std::uint64_t seed, const StillWanted& still_wanted);
// Exact re-levelling of a few groups at a time, the others fixed.
[[nodiscard]] Slots relevel_subsets(const Arena& arena, const Slots& start, long floor_mah, int groups_at_once,
                                    int rounds, std::uint64_t seed, const StillWanted& still_wanted);

// --- level_large.cpp: many units a group ---
[[nodiscard]] Slots level_large(const Arena& arena, const Slots& start, long floor_mah, int rounds, std::uint64_t seed,
                                const StillWanted& still_wanted);

} // namespace ingot::matching
