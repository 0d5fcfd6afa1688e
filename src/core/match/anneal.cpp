// Single exchanges, between groups and with the stock, hot at first. An exchange is costed in constant time: each
// quantity remembers its three highest and lowest groups, of which an exchange touches two.
#include "core/match/arena.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>

namespace ingot::matching {

namespace {

constexpr std::size_t none = std::numeric_limits<std::size_t>::max();

// Two groups and what they would hold; a single one when both are the same.
struct Touched {
    std::size_t a = 0, b = 0;
    double at_a = 0, at_b = 0;
};

struct GroupSpread {
    double low = 0, high = 0;
    double mean = 0;
    double deviation = 0; // root mean square
};

// One quantity of all groups.
class GroupQuantity {
public:
    void add(double value) {
        at_.push_back(value);
        total_ += value;
        squares_ += value * value;
    }
    [[nodiscard]] double of(std::size_t group) const { return at_[group]; }

    void rank() {
        highest_.fill(none);
        lowest_.fill(none);
        for (std::size_t i = 0; i < at_.size(); ++i) {
            insert(highest_, i, [&](std::size_t x, std::size_t y) { return at_[x] > at_[y]; });
            insert(lowest_, i, [&](std::size_t x, std::size_t y) { return at_[x] < at_[y]; });
        }
    }
    [[nodiscard]] GroupSpread with(const Touched& t) const {
        GroupSpread shape{std::min(t.at_a, t.at_b), std::max(t.at_a, t.at_b), 0, 0};
        for (const std::size_t i : highest_)
            if (i != none && i != t.a && i != t.b) {
                shape.high = std::max(shape.high, at_[i]);
                break;
            }
        for (const std::size_t i : lowest_)
            if (i != none && i != t.a && i != t.b) {
                shape.low = std::min(shape.low, at_[i]);
                break;
            }
        double total = total_ + t.at_a - at_[t.a];
        double squares = squares_ + t.at_a * t.at_a - at_[t.a] * at_[t.a];
        if (t.a != t.b) {
            total += t.at_b - at_[t.b];
            squares += t.at_b * t.at_b - at_[t.b] * at_[t.b];
        }
        const auto n = static_cast<double>(at_.size());
        shape.mean = total / n;
        shape.deviation = std::sqrt(std::max(0.0, squares / n - shape.mean * shape.mean));
        return shape;
    }
    void take(const Touched& t) {
        set(t.a, t.at_a);
        if (t.b != t.a)
            set(t.b, t.at_b);
        rank();
    }

private:
    template <class Before> static void insert(std::array<std::size_t, 3>& order, std::size_t i, Before&& before) {
        for (std::size_t k = 0; k < order.size(); ++k)
            if (order[k] == none || before(i, order[k])) {
                for (std::size_t m = order.size() - 1; m > k; --m)
                    order[m] = order[m - 1];
                order[k] = i;
                return;
            }
    }
    void set(std::size_t group, double value) {
        total_ += value - at_[group];
        squares_ += value * value - at_[group] * at_[group];
        at_[group] = value;
    }

    std::vector<double> at_;
    double total_ = 0;
    double squares_ = 0;
    std::array<std::size_t, 3> highest_{};
    std::array<std::size_t, 3> lowest_{};
};

struct WalkCost {
    double levelness = 0; // and what is missing under the floor
    double guide = 0;     // what is walked down
    bool holds = false;   // the floor is kept
};

struct UnitExchange {
    Touched capacity, conductance, leak;
};

class WalkedGroups {
public:
    WalkedGroups(const Arena& arena, const Slots& slots, long floor_mah)
        : arena_(arena), floor_(static_cast<double>(floor_mah)) {
        for (const Sums& s : sums_of(arena, slots)) {
            c_.add(static_cast<double>(s.capacity));
            g_.add(s.conductance);
            l_.add(s.leak);
        }
        c_.rank();
        g_.rank();
        l_.rank();
        has_conductance_ =
            std::any_of(arena.conductance.begin(), arena.conductance.end(), [](double g) { return g > 0; });
    }

    // Group a gives `out` for `in`; group b the other way round, unless it is the stock (b = a).
    [[nodiscard]] UnitExchange exchange(std::size_t a, std::size_t b, int out, int in) const {
        const auto o = static_cast<std::size_t>(out);
        const auto i = static_cast<std::size_t>(in);
        const auto touched = [&](const GroupQuantity& q, double more) {
            const double at_a = q.of(a) + more;
            return Touched{a, b, at_a, a == b ? at_a : q.of(b) - more};
        };
        return {touched(c_, arena_.capacity_mah[i] - arena_.capacity_mah[o]),
                touched(g_, arena_.conductance[i] - arena_.conductance[o]),
                touched(l_, arena_.leak[i] - arena_.leak[o])};
    }

    // Only the extremes make the levelness, which leaves a walk blind among the groups between them: half of what is
    // walked down is the groups' deviation, by so much that both are alike for groups of a usual spread. Nothing is
    // when it comes to more than `most`, which most exchanges do by their capacity alone.
    [[nodiscard]] std::optional<WalkCost> cost(const UnitExchange& e, double most) const {
        constexpr double deviations = 3;
        WalkCost cost;
        const auto add = [&](const GroupSpread& shape, double scale) {
            const double spread = (shape.high - shape.low) * scale;
            cost.levelness += spread;
            cost.guide += 0.5 * (spread + shape.deviation * deviations * scale);
            return cost.guide <= most;
        };
        const GroupSpread c = c_.with(e.capacity);
        const double per_mah = 1 / c.mean;
        cost.holds = c.low >= floor_;
        if (!cost.holds)
            cost.levelness = cost.guide = floor_price * (floor_ - c.low) * per_mah;
        if (!add(c, per_mah))
            return std::nullopt;
        if (has_conductance_) {
            const GroupSpread g = g_.with(e.conductance);
            if (!add(g, 1 / g.mean))
                return std::nullopt;
        }
        if (arena_.leak_scale > 0 && !add(l_.with(e.leak), arena_.leak_scale))
            return std::nullopt;
        return cost;
    }
    void take(const UnitExchange& e) {
        c_.take(e.capacity);
        g_.take(e.conductance);
        l_.take(e.leak);
    }

private:
    const Arena& arena_;
    double floor_;
    bool has_conductance_ = false;
    GroupQuantity c_, g_, l_;
};

bool is_locked(const Arena& arena, int unit) {
    return arena.locked_to[static_cast<std::size_t>(unit)] >= 0;
}

Slots stock_of(const Arena& arena, const Slots& slots, const AnnealPlan& plan) {
    std::vector<char> taken(static_cast<std::size_t>(arena.size()), 0);
    for (const int u : slots)
        taken[static_cast<std::size_t>(u)] = 1;
    Slots stock;
    for (int i = 0; i < std::min(plan.candidates, arena.size()); ++i) {
        const auto u = static_cast<std::size_t>(i);
        if (taken[u] == 0 && (plan.avoid.empty() || plan.avoid[u] == 0))
            stock.push_back(i);
    }
    return stock;
}

} // namespace

Slots anneal(const Arena& arena, const Slots& start, const AnnealPlan& plan, const StillWanted& still_wanted) {
    Random random(plan.seed);
    Slots slots = start;
    Slots stock = stock_of(arena, slots, plan);
    const int used = arena.wanted();
    const auto parallel = static_cast<std::size_t>(arena.parallel);
    WalkedGroups groups(arena, slots, plan.floor_mah);
    WalkCost cost = *groups.cost(groups.exchange(0, 0, slots[0], slots[0]), std::numeric_limits<double>::infinity());
    WalkCost best_cost = cost;
    Slots best = slots;
    const double cooling =
        std::pow(plan.end_heat / plan.start_heat, 1.0 / static_cast<double>(std::max(1L, plan.moves / 256)));
    double heat = plan.start_heat;
    const int stock_share = stock.empty() ? 0 : 96; // of 256 moves
    for (long move = 0; move < plan.moves; ++move) {
        if ((move & 255) == 0) {
            heat *= cooling;
            if ((move & 4095) == 0 && !still_wanted())
                break;
        }
        const auto p = static_cast<std::size_t>(random.below(used));
        const int out = slots[p];
        const bool with_stock = random.below(256) < stock_share;
        if (is_locked(arena, out))
            continue;
        Slots& from = with_stock ? stock : slots;
        const auto q = static_cast<std::size_t>(random.below(static_cast<int>(from.size())));
        const int in = from[q];
        const std::size_t a = p / parallel;
        const std::size_t b = with_stock ? a : q / parallel;
        if (!with_stock && (a == b || is_locked(arena, in)))
            continue;
        const UnitExchange exchange = groups.exchange(a, b, out, in);
        const auto tried = groups.cost(exchange, cost.guide - heat * std::log(random.unit()));
        if (!tried)
            continue;
        std::swap(slots[p], from[q]);
        groups.take(exchange);
        cost = *tried;
        // What breaks the floor never stands before what holds it, however level it is: it could not be used.
        if (cost.holds != best_cost.holds ? cost.holds : cost.levelness < best_cost.levelness - 1e-12) {
            best_cost = cost;
            best = slots;
        }
    }
    return best;
}

} // namespace ingot::matching
