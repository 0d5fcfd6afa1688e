#include "core/match/arena.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <numeric>

namespace ingot::matching {

namespace {

// A capacity missing under the floor costs this much levelness per share of the mean: far more than it can buy.
constexpr double floor_price = 30.0;

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
};

struct Range {
    double low;
    double high;
};

Range range_with(const std::vector<double>& column, std::size_t a, double at_a, std::size_t b, double at_b) {
    Range range{std::min(at_a, at_b), std::max(at_a, at_b)};
    for (std::size_t i = 0; i < column.size(); ++i) {
        const double v = i == a ? at_a : (i == b ? at_b : column[i]);
        range.low = v < range.low ? v : range.low;
        range.high = v > range.high ? v : range.high;
    }
    return range;
}

struct Change {
    std::size_t a = 0, b = 0; // groups; equal when only one changes
    Sums at_a, at_b;          // their new sums
    double total_c = 0, total_g = 0;
};

double cost_of(const Arena& arena, const Columns& columns, const Change& change, double floor) {
    const auto n = static_cast<double>(columns.c.size());
    const Range c = range_with(columns.c, change.a, static_cast<double>(change.at_a.capacity), change.b,
                               static_cast<double>(change.at_b.capacity));
    double cost = (c.high - c.low) * n / change.total_c;
    if (c.low < floor)
        cost += floor_price * (floor - c.low) * n / change.total_c;
    if (change.total_g > 0) {
        const Range g = range_with(columns.g, change.a, change.at_a.conductance, change.b, change.at_b.conductance);
        cost += (g.high - g.low) * n / change.total_g;
    }
    if (arena.leak_scale > 0) {
        const Range l = range_with(columns.l, change.a, change.at_a.leak, change.b, change.at_b.leak);
        cost += arena.leak_scale * (l.high - l.low);
    }
    return cost;
}

Sums column_sums(const Columns& columns, std::size_t g) {
    return {std::lround(columns.c[g]), columns.g[g], columns.l[g]};
}

Sums moved(const Sums& from, const Arena& arena, int out, int in) {
    const auto o = static_cast<std::size_t>(out);
    const auto i = static_cast<std::size_t>(in);
    return {from.capacity + arena.capacity_mah[i] - arena.capacity_mah[o],
            from.conductance + arena.conductance[i] - arena.conductance[o], from.leak + arena.leak[i] - arena.leak[o]};
}

void apply(Columns& columns, const Change& change) {
    columns.c[change.a] = static_cast<double>(change.at_a.capacity);
    columns.g[change.a] = change.at_a.conductance;
    columns.l[change.a] = change.at_a.leak;
    columns.c[change.b] = static_cast<double>(change.at_b.capacity);
    columns.g[change.b] = change.at_b.conductance;
    columns.l[change.b] = change.at_b.leak;
    columns.total_c = change.total_c;
    columns.total_g = change.total_g;
}

bool is_locked(const Arena& arena, int unit) {
    return arena.locked_to[static_cast<std::size_t>(unit)] >= 0;
}

} // namespace

Slots anneal(const Arena& arena, const Slots& start, const AnnealPlan& plan, const Pulse& pulse) {
    Random random(plan.seed);
    Slots slots = start;
    const int used = arena.wanted();
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    std::vector<char> in_use(static_cast<std::size_t>(arena.size()), 0);
    for (const int u : slots)
        in_use[static_cast<std::size_t>(u)] = 1;
    Slots stock;
    for (int i = 0; i < std::min(plan.candidates, arena.size()); ++i)
        if (in_use[static_cast<std::size_t>(i)] == 0)
            stock.push_back(i);

    Columns columns(sums_of(arena, slots));
    const auto floor = static_cast<double>(plan.floor_mah);
    Change still;
    still.at_a = still.at_b = column_sums(columns, 0);
    still.total_c = columns.total_c;
    still.total_g = columns.total_g;
    double cost = cost_of(arena, columns, still, floor);
    double best_cost = cost;
    Slots best = slots;
    const double cooling =
        std::pow(plan.end_heat / plan.start_heat, 1.0 / static_cast<double>(std::max(1L, plan.moves / 256)));
    double heat = plan.start_heat;
    const int stock_share = stock.empty() ? 0 : 96; // of 256 moves
    for (long move = 0; move < plan.moves; ++move) {
        if ((move & 255) == 0) {
            heat *= cooling;
            if ((move & 4095) == 0 && !pulse())
                break;
        }
        const auto p = static_cast<std::size_t>(random.below(used));
        const int out = slots[p];
        Change change;
        change.a = p / parallel;
        std::size_t q = 0;
        const bool with_stock = random.below(256) < stock_share;
        if (is_locked(arena, out))
            continue;
        if (with_stock) {
            q = static_cast<std::size_t>(random.below(static_cast<int>(stock.size())));
            const int in = stock[q];
            change.b = change.a;
            change.at_a = change.at_b = moved(column_sums(columns, change.a), arena, out, in);
            change.total_c = columns.total_c + static_cast<double>(change.at_a.capacity) - columns.c[change.a];
            change.total_g = columns.total_g + change.at_a.conductance - columns.g[change.a];
        } else {
            q = static_cast<std::size_t>(random.below(used));
            change.b = q / parallel;
            const int in = slots[q];
            if (change.a == change.b || is_locked(arena, in))
                continue;
            change.at_a = moved(column_sums(columns, change.a), arena, out, in);
            change.at_b = moved(column_sums(columns, change.b), arena, in, out);
            change.total_c = columns.total_c;
            change.total_g = columns.total_g;
        }
        const double tried = cost_of(arena, columns, change, floor);
        if (tried > cost && tried - cost > -heat * std::log(random.unit()))
            continue;
        std::swap(slots[p], with_stock ? stock[q] : slots[q]);
        apply(columns, change);
        cost = tried;
        if (cost < best_cost - 1e-12) {
            best_cost = cost;
            best = slots;
        }
    }
    return best;
}

namespace {

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
    for (int kept = 0; kept <= parallel; ++kept) {
        for (const unsigned ma : a.by_count[static_cast<std::size_t>(kept)]) {
            for (const unsigned mb : b.by_count[static_cast<std::size_t>(parallel - kept)]) {
                const long ca = a.sums[ma].capacity + b.sums[mb].capacity;
                if (ca < least || total.capacity - ca < least || ma == all || ma == 0)
                    continue;
                const Sums at_a{ca, a.sums[ma].conductance + b.sums[mb].conductance, a.sums[ma].leak + b.sums[mb].leak};
                const Sums at_b{total.capacity - ca, total.conductance - at_a.conductance, total.leak - at_a.leak};
                const double tried = cost.of(at_a, at_b);
                if (tried >= threshold)
                    continue;
                if (hot ? random.below(++seen) == 0 : (!best.found || tried < best.cost))
                    best = {ma, mb, at_a, at_b, tried, true};
            }
        }
    }
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
                    const Pulse& pulse) {
    constexpr int most_parallel = 8;
    if (arena.parallel > most_parallel || arena.parallel < 2 || arena.series < 2 || arena.has_locks())
        return start;
    Random random(seed);
    Slots slots = start;
    Columns columns(sums_of(arena, slots));
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    const auto cost_now = [&] {
        return SplitCost(arena, columns, 0, 1, floor_mah).of(column_sums(columns, 0), column_sums(columns, 1));
    };
    double cost = cost_now();
    double best_cost = cost;
    Slots best = slots;
    int idle = 0;
    for (int round = 0; round < rounds; ++round) {
        if ((round & 15) == 0 && !pulse())
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
        Change change{a, b, split.at_a, split.at_b, columns.total_c, columns.total_g};
        apply(columns, change);
        cost = split.cost;
        if (cost < best_cost - 1e-12) {
            best_cost = cost;
            best = slots;
        }
    }
    return best;
}

Slots relevel_subsets(const Arena& arena, const Slots& start, long floor_mah, int groups_at_once, int rounds,
                      std::uint64_t seed, const Pulse& pulse) {
    Slots slots = start;
    if (arena.has_locks() || arena.series < 2)
        return slots;
    Random random(seed);
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    const int at_once = std::min(groups_at_once, arena.series);
    for (int round = 0; round < rounds; ++round) {
        if (!pulse())
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
