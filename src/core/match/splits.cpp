// Groups taken apart together: complete splits of two, exact levelling of a few.
#include "core/match/arena.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <numeric>

namespace ingot::matching {

namespace {

// All groups' sums in columns, for quick extremes.
struct Columns {
    std::vector<double> c, g, l;
    double total_c = 0;
    double total_g = 0;

    explicit Columns(const std::vector<Sums>& sums) {
        for (const Sums& s : sums) {
            c.push_back(static_cast<double>(s.capacity));
            g.push_back(s.conductance);
            l.push_back(s.leak);
            total_c += c.back();
            total_g += g.back();
        }
    }
    [[nodiscard]] Sums of(std::size_t group) const { return {std::lround(c[group]), g[group], l[group]}; }
    void set(std::size_t group, const Sums& sums) {
        c[group] = static_cast<double>(sums.capacity);
        g[group] = sums.conductance;
        l[group] = sums.leak;
    }
};

// Sums of all subsets of up to 8 units, by bit mask.
struct SubsetTable {
    std::array<Sums, 256> sums{};
    std::array<std::vector<std::uint8_t>, 9> by_count;

    SubsetTable(const Arena& arena, const int* units, int count) {
        for (auto& masks : by_count)
            masks.reserve(70);
        by_count[0].push_back(0);
        for (unsigned mask = 1; mask < (1U << static_cast<unsigned>(count)); ++mask) {
            const auto low = static_cast<std::size_t>(std::countr_zero(mask));
            const auto u = static_cast<std::size_t>(units[low]);
            const Sums& rest = sums[mask & (mask - 1)];
            sums[mask] = {rest.capacity + arena.capacity_mah[u], rest.conductance + arena.conductance[u],
                          rest.leak + arena.leak[u]};
            by_count[static_cast<std::size_t>(std::popcount(mask))].push_back(static_cast<std::uint8_t>(mask));
        }
    }
};

// The other groups' extremes and the fixed means, so that a split of two groups is costed in constant time.
struct SplitCost {
    double low_c = 1e300, high_c = -1e300, low_g = 1e300, high_g = -1e300, low_l = 1e300, high_l = -1e300;
    double per_c = 0, per_g = 0, leak_scale = 0, floor = 0;

    SplitCost(const Arena& arena, const Columns& columns, std::size_t a, std::size_t b, long floor_mah)
        : leak_scale(arena.leak_scale), floor(static_cast<double>(floor_mah)) {
        const auto n = static_cast<double>(columns.c.size());
        per_c = n / columns.total_c;
        per_g = columns.total_g > 0 ? n / columns.total_g : 0;
        for (std::size_t i = 0; i < columns.c.size(); ++i) {
            if (i == a || i == b)
                continue;
            low_c = std::min(low_c, columns.c[i]);
            high_c = std::max(high_c, columns.c[i]);
            low_g = std::min(low_g, columns.g[i]);
            high_g = std::max(high_g, columns.g[i]);
            low_l = std::min(low_l, columns.l[i]);
            high_l = std::max(high_l, columns.l[i]);
        }
    }
    [[nodiscard]] double of(const Sums& a, const Sums& b) const {
        const auto ca = static_cast<double>(a.capacity);
        const auto cb = static_cast<double>(b.capacity);
        const double low = std::min({low_c, ca, cb});
        double cost = (std::max({high_c, ca, cb}) - low) * per_c;
        if (low < floor)
            cost += floor_price * (floor - low) * per_c;
        cost += (std::max({high_g, a.conductance, b.conductance}) - std::min({low_g, a.conductance, b.conductance})) *
                per_g;
        cost += leak_scale * (std::max({high_l, a.leak, b.leak}) - std::min({low_l, a.leak, b.leak}));
        return cost;
    }
};

struct Split {
    unsigned keep = 0; // of group a
    unsigned take = 0; // from group b
    Sums at_a, at_b;
    double cost = 0;
    bool found = false;
};

// hot: a random split within the threshold; cold: the best one that is better than `threshold`.
Split find_split(const SubsetTable& a, const SubsetTable& b, const SplitCost& cost, int parallel, double threshold,
                 bool hot, Random& random) {
    const unsigned all = (1U << static_cast<unsigned>(parallel)) - 1;
    const Sums total{a.sums[all].capacity + b.sums[all].capacity, a.sums[all].conductance + b.sums[all].conductance,
                     a.sums[all].leak + b.sums[all].leak};
    // Splits that only drop the weaker of the two far under the floor are not worth costing.
    const long least = std::min({static_cast<long>(cost.floor), a.sums[all].capacity, b.sums[all].capacity});
    Split best;
    int seen = 0;
    const auto look_at = [&](unsigned ma, unsigned mb) {
        const long ca = a.sums[ma].capacity + b.sums[mb].capacity;
        if (ca < least || total.capacity - ca < least || ma == all || ma == 0)
            return;
        const Sums at_a{ca, a.sums[ma].conductance + b.sums[mb].conductance, a.sums[ma].leak + b.sums[mb].leak};
        const Sums at_b{total.capacity - ca, total.conductance - at_a.conductance, total.leak - at_a.leak};
        const double tried = cost.of(at_a, at_b);
        if (tried < threshold && (hot ? random.below(++seen) == 0 : (!best.found || tried < best.cost)))
            best = {ma, mb, at_a, at_b, tried, true};
    };
    constexpr int exhaustive_parallel = 5; // of more, a hot round looks at some splits only: any that fits will do
    if (hot && parallel > exhaustive_parallel) {
        constexpr int sampled = 250;
        for (int i = 0; i < sampled; ++i) {
            const auto ma = static_cast<unsigned>(random.below(static_cast<int>(all) + 1));
            const auto& others = b.by_count[static_cast<std::size_t>(parallel - std::popcount(ma))];
            look_at(ma, others[static_cast<std::size_t>(random.below(static_cast<int>(others.size())))]);
        }
        return best;
    }
    for (int kept = 0; kept <= parallel; ++kept)
        for (const unsigned ma : a.by_count[static_cast<std::size_t>(kept)])
            for (const unsigned mb : b.by_count[static_cast<std::size_t>(parallel - kept)])
                look_at(ma, mb);
    return best;
}

void apply_split(Slots& slots, std::size_t a, std::size_t b, std::size_t parallel, const Split& split) {
    Slots new_a;
    Slots new_b;
    for (std::size_t i = 0; i < parallel; ++i) {
        ((split.keep >> i) & 1U ? new_a : new_b).push_back(slots[a * parallel + i]);
        ((split.take >> i) & 1U ? new_a : new_b).push_back(slots[b * parallel + i]);
    }
    std::copy(new_a.begin(), new_a.end(), slots.begin() + static_cast<std::ptrdiff_t>(a * parallel));
    std::copy(new_b.begin(), new_b.end(), slots.begin() + static_cast<std::ptrdiff_t>(b * parallel));
}

} // namespace

Slots resplit_pairs(const Arena& arena, const Slots& start, long floor_mah, int rounds, double heat, std::uint64_t seed,
                    const StillWanted& still_wanted) {
    constexpr int most_parallel = 8;
    if (arena.parallel > most_parallel || arena.parallel < 2 || arena.series < 2 || arena.has_locks())
        return start;
    Random random(seed);
    Slots slots = start;
    Columns columns(sums_of(arena, slots));
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    const auto cost_now = [&] { return SplitCost(arena, columns, 0, 1, floor_mah).of(columns.of(0), columns.of(1)); };
    double cost = cost_now();
    double best_cost = cost;
    Slots best = slots;
    int idle = 0;
    for (int round = 0; round < rounds; ++round) {
        if ((round & 15) == 0 && !still_wanted())
            break;
        const double share = static_cast<double>(round) / rounds;
        const double now_hot = heat * (1 - share) * (1 - share);
        const bool hot = heat > 0 && share < 0.9;
        auto a = static_cast<std::size_t>(random.below(arena.series));
        auto b = static_cast<std::size_t>(random.below(arena.series));
        if (random.below(2) == 0) { // the two that make the spread
            const auto& spread = columns.total_g > 0 ? columns.g : columns.c;
            const auto& column = arena.leak_scale > 0 && random.below(3) == 0 ? columns.l : spread;
            a = static_cast<std::size_t>(std::max_element(column.begin(), column.end()) - column.begin());
            if (random.below(2) == 0)
                b = static_cast<std::size_t>(std::min_element(column.begin(), column.end()) - column.begin());
        }
        if (a == b)
            continue;
        const SubsetTable of_a(arena, &slots[a * parallel], arena.parallel);
        const SubsetTable of_b(arena, &slots[b * parallel], arena.parallel);
        const SplitCost split_cost(arena, columns, a, b, floor_mah);
        const double threshold = hot ? cost - now_hot * std::log(random.unit()) : cost - 1e-12;
        const Split split = find_split(of_a, of_b, split_cost, arena.parallel, threshold, hot, random);
        if (!split.found) {
            if (!hot && ++idle > 4 * arena.series * arena.series)
                break;
            continue;
        }
        idle = 0;
        apply_split(slots, a, b, parallel, split);
        columns.set(a, split.at_a);
        columns.set(b, split.at_b);
        cost = split.cost;
        if (cost < best_cost - 1e-12) {
            best_cost = cost;
            best = slots;
        }
    }
    return best;
}

Slots relevel_subsets(const Arena& arena, const Slots& start, long floor_mah, int groups_at_once, int rounds,
                      std::uint64_t seed, const StillWanted& still_wanted) {
    Slots slots = start;
    if (arena.has_locks() || arena.series < 2)
        return slots;
    Random random(seed);
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    const int at_once = std::min(groups_at_once, arena.series);
    for (int round = 0; round < rounds; ++round) {
        if (!still_wanted())
            break;
        const std::vector<Sums> sums = sums_of(arena, slots);
        // The two groups that make the widest spread, and others at random.
        std::vector<std::size_t> order(sums.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        const bool by_leak = arena.leak_scale > 0 && random.below(3) == 0;
        const auto key = [&](std::size_t g) { return by_leak ? sums[g].leak : sums[g].conductance; };
        const auto [low, high] = std::minmax_element(order.begin(), order.end(),
                                                     [&](std::size_t x, std::size_t y) { return key(x) < key(y); });
        std::vector<std::size_t> subset{*low};
        if (*high != *low)
            subset.push_back(*high);
        while (static_cast<int>(subset.size()) < at_once) {
            const auto g = static_cast<std::size_t>(random.below(arena.series));
            if (std::find(subset.begin(), subset.end(), g) == subset.end())
                subset.push_back(g);
        }
        Extremes context;
        Extremes all;
        for (std::size_t g = 0; g < sums.size(); ++g) {
            all.add(sums[g]);
            if (std::find(subset.begin(), subset.end(), g) == subset.end())
                context.add(sums[g]);
        }
        // Units of the subset, and units in stock that could stand in for them within the budget.
        std::vector<int> units;
        long total = 0;
        for (const std::size_t g : subset) {
            for (std::size_t i = 0; i < parallel; ++i)
                units.push_back(slots[g * parallel + i]);
            total += sums[g].capacity;
        }
        const long budget = total - static_cast<long>(subset.size()) * floor_mah;
        const int smallest =
            arena.capacity_mah[static_cast<std::size_t>(*std::max_element(units.begin(), units.end()))];
        std::vector<char> in_use(static_cast<std::size_t>(arena.size()), 0);
        for (const int u : slots)
            in_use[static_cast<std::size_t>(u)] = 1;
        constexpr std::size_t most_extra = 6;
        std::size_t extra = 0;
        for (int i = 0; i < arena.size() && extra < most_extra; ++i) {
            const auto u = static_cast<std::size_t>(i);
            if (in_use[u] == 0 && arena.capacity_mah[u] >= smallest - budget) {
                units.push_back(i);
                ++extra;
            }
        }
        std::sort(units.begin(), units.end());
        Arena part;
        part.series = static_cast<int>(subset.size());
        part.parallel = arena.parallel;
        part.leak_scale = arena.leak_scale;
        for (const int i : units) {
            const auto u = static_cast<std::size_t>(i);
            part.capacity_mah.push_back(arena.capacity_mah[u]);
            part.conductance.push_back(arena.conductance[u]);
            part.leak.push_back(arena.leak[u]);
            part.locked_to.push_back(-1);
        }
        constexpr long nodes = 30'000;
        const double known = all.lower_bound(arena.leak_scale);
        const ExactResult found = level_exactly(part, floor_mah, known, nodes, context);
        if (found.slots.empty())
            continue;
        for (std::size_t k = 0; k < found.slots.size(); ++k)
            slots[subset[k / parallel] * parallel + k % parallel] = units[static_cast<std::size_t>(found.slots[k])];
    }
    return slots;
}

} // namespace ingot::matching
