// Many units a group: exchange two units of one group for two of another, chosen among all pairs whose capacities
// differ by exactly what has to move, for the pair that also moves conductance and leak best.
#include "core/match/arena.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ingot::matching {

namespace {

constexpr int most_sampled = 40;
// Groups nearer than this to the mean, as a share of the levelness, are left alone.
constexpr double near_enough = 2e-5;
// What each mAh under the floor costs: more than any gain in conductance or leak that is left at the end.
constexpr double floor_price_per_mah = 1e-3;

struct Means {
    double c = 0, g = 0, l = 0;
    double floor = 0;
};

// How far a group is from the mean, as its share of the levelness.
double distance(const Sums& s, const Means& mean, double leak_scale) {
    const auto c = static_cast<double>(s.capacity);
    double d = std::fabs(c - mean.c) / mean.c;
    if (c < mean.floor)
        d += floor_price_per_mah * (mean.floor - c);
    if (mean.g > 0)
        d += std::fabs(s.conductance - mean.g) / mean.g;
    return d + leak_scale * std::fabs(s.leak - mean.l);
}

struct Pair {
    int first = 0, second = 0; // positions inside the group
    Sums sums;
};

std::vector<Pair> pairs_of(const Arena& arena, const int* group, int parallel, Random& random) {
    std::vector<int> positions(static_cast<std::size_t>(parallel));
    std::iota(positions.begin(), positions.end(), 0);
    const int sampled = std::min(parallel, most_sampled);
    for (int i = 0; i < sampled && parallel > sampled; ++i) {
        const int other = i + random.below(parallel - i);
        std::swap(positions[static_cast<std::size_t>(i)], positions[static_cast<std::size_t>(other)]);
    }
    std::vector<Pair> pairs;
    const auto count = static_cast<std::size_t>(sampled);
    pairs.reserve(count * (count - 1) / 2);
    for (int i = 0; i < sampled; ++i) {
        const int pi = positions[static_cast<std::size_t>(i)];
        const auto u = static_cast<std::size_t>(group[pi]);
        if (arena.locked_to[u] >= 0)
            continue;
        for (int j = i + 1; j < sampled; ++j) {
            const int pj = positions[static_cast<std::size_t>(j)];
            const auto w = static_cast<std::size_t>(group[pj]);
            if (arena.locked_to[w] >= 0)
                continue;
            pairs.push_back({pi,
                             pj,
                             {arena.capacity_mah[u] + arena.capacity_mah[w],
                              arena.conductance[u] + arena.conductance[w], arena.leak[u] + arena.leak[w]}});
        }
    }
    return pairs;
}

// Pairs by capacity: bucket b holds those whose capacity is low + b.
struct Buckets {
    long low = 0;
    std::vector<int> start;
    std::vector<Pair> pairs;

    explicit Buckets(const std::vector<Pair>& from) {
        if (from.empty())
            return;
        const auto by_capacity = [](const Pair& x, const Pair& y) { return x.sums.capacity < y.sums.capacity; };
        const auto [least, most] = std::minmax_element(from.begin(), from.end(), by_capacity);
        low = least->sums.capacity;
        start.assign(static_cast<std::size_t>(most->sums.capacity - low) + 2, 0);
        for (const Pair& p : from)
            ++start[static_cast<std::size_t>(p.sums.capacity - low) + 1];
        std::partial_sum(start.begin(), start.end(), start.begin());
        pairs.resize(from.size());
        std::vector<int> next(start.begin(), start.end() - 1);
        for (const Pair& p : from)
            pairs[static_cast<std::size_t>(next[static_cast<std::size_t>(p.sums.capacity - low)]++)] = p;
    }
};

struct Exchange {
    Pair from_a, from_b;
    double distance = 0;
    bool found = false;
};

Sums after(const Sums& group, const Sums& out, const Sums& in) {
    return {group.capacity - out.capacity + in.capacity, group.conductance - out.conductance + in.conductance,
            group.leak - out.leak + in.leak};
}

Exchange best_exchange(const Arena& arena, const Slots& slots, const std::vector<Sums>& sums, std::size_t a,
                       std::size_t b, const Means& mean, Random& random) {
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    const auto of_a = pairs_of(arena, &slots[a * parallel], arena.parallel, random);
    const Buckets of_b(pairs_of(arena, &slots[b * parallel], arena.parallel, random));
    Exchange best;
    best.distance = distance(sums[a], mean, arena.leak_scale) + distance(sums[b], mean, arena.leak_scale) - 1e-12;
    if (of_a.empty() || of_b.pairs.empty())
        return best;
    const long level = std::lround(mean.c);
    // What may move from a to b: so that a is level, so that b is, or so that both are alike.
    std::vector<long> wanted;
    for (const long target :
         {sums[a].capacity - level, level - sums[b].capacity, (sums[a].capacity - sums[b].capacity) / 2})
        for (long d = -1; d <= 1; ++d)
            wanted.push_back(target + d);
    std::sort(wanted.begin(), wanted.end());
    wanted.erase(std::unique(wanted.begin(), wanted.end()), wanted.end());
    const auto buckets = static_cast<long>(of_b.start.size()) - 1;
    for (const Pair& pa : of_a) {
        for (const long move : wanted) {
            const long bucket = pa.sums.capacity - move - of_b.low;
            if (bucket < 0 || bucket >= buckets)
                continue;
            for (int i = of_b.start[static_cast<std::size_t>(bucket)];
                 i < of_b.start[static_cast<std::size_t>(bucket) + 1]; ++i) {
                const Pair& pb = of_b.pairs[static_cast<std::size_t>(i)];
                const double tried = distance(after(sums[a], pa.sums, pb.sums), mean, arena.leak_scale) +
                                     distance(after(sums[b], pb.sums, pa.sums), mean, arena.leak_scale);
                if (tried < best.distance)
                    best = {pa, pb, tried, true};
            }
        }
    }
    return best;
}

// The partner whose own distance would cancel most of a's.
std::vector<std::size_t> partners_of(std::size_t a, const std::vector<Sums>& sums, const Means& mean,
                                     double leak_scale) {
    std::vector<std::pair<double, std::size_t>> gains;
    for (std::size_t b = 0; b < sums.size(); ++b) {
        if (b == a)
            continue;
        const Sums joint{(sums[a].capacity + sums[b].capacity) / 2, (sums[a].conductance + sums[b].conductance) / 2,
                         (sums[a].leak + sums[b].leak) / 2};
        gains.emplace_back(2 * distance(joint, mean, leak_scale) - distance(sums[b], mean, leak_scale), b);
    }
    std::sort(gains.begin(), gains.end());
    std::vector<std::size_t> partners;
    partners.reserve(gains.size());
    for (const auto& [gain, b] : gains)
        partners.push_back(b);
    return partners;
}

} // namespace

Slots level_large(const Arena& arena, const Slots& start, long floor_mah, int rounds, std::uint64_t seed,
                  const StillWanted& still_wanted) {
    Slots slots = start;
    if (arena.series < 2 || arena.parallel < 2)
        return slots;
    std::vector<Sums> sums = sums_of(arena, slots);
    Means mean;
    mean.floor = static_cast<double>(floor_mah);
    for (const Sums& s : sums) {
        mean.c += static_cast<double>(s.capacity) / arena.series;
        mean.g += s.conductance / arena.series;
        mean.l += s.leak / arena.series;
    }
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    Random random(seed);
    Slots best = slots;
    Level best_level = level_of(arena, sums);
    std::vector<char> settled(sums.size(), 0);
    constexpr std::size_t partners_tried = 3;
    for (int round = 0; round < rounds && still_wanted(); ++round) {
        std::size_t worst = sums.size();
        double farthest = near_enough;
        for (std::size_t g = 0; g < sums.size(); ++g) {
            const double d = distance(sums[g], mean, arena.leak_scale);
            if (settled[g] == 0 && d > farthest) {
                farthest = d;
                worst = g;
            }
        }
        if (worst == sums.size())
            break;
        const auto partners = partners_of(worst, sums, mean, arena.leak_scale);
        bool moved = false;
        for (std::size_t k = 0; k < std::min(partners_tried, partners.size()) && !moved; ++k) {
            const std::size_t b = partners[k];
            const Exchange exchange = best_exchange(arena, slots, sums, worst, b, mean, random);
            if (!exchange.found)
                continue;
            const auto at = [&](std::size_t group, int position) -> int& {
                return slots[group * parallel + static_cast<std::size_t>(position)];
            };
            std::swap(at(worst, exchange.from_a.first), at(b, exchange.from_b.first));
            std::swap(at(worst, exchange.from_a.second), at(b, exchange.from_b.second));
            sums[worst] = after(sums[worst], exchange.from_a.sums, exchange.from_b.sums);
            sums[b] = after(sums[b], exchange.from_b.sums, exchange.from_a.sums);
            settled[b] = 0;
            moved = true;
        }
        if (!moved)
            settled[worst] = 1;
        const Level now = level_of(arena, sums);
        if (better(now, best_level, floor_mah)) {
            best_level = now;
            best = slots;
        }
    }
    return best;
}

} // namespace ingot::matching
