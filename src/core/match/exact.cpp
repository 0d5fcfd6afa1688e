// Depth-first search over groups with a loss budget.
//
// The largest unit that is left is either put into the next group or left in stock. What the remaining units can hold
// at most, less what the remaining groups need, is the budget of capacity that may still be lost; near the bound it is
// a few mAh, and almost every branch ends at once. Each partition is met once, because each group is led by its largest
// unit.
#include "core/match/arena.h"

#include <algorithm>
#include <limits>

namespace ingot::matching {

namespace {

class Depth {
public:
    enum class Goal { usable, levelness };

    Depth(const Arena& arena, Goal goal, long floor_mah, double known_levelness, long node_budget,
          const Extremes& context, const StillWanted& still_wanted)
        : arena_(arena), goal_(goal), floor_(floor_mah), best_level_(known_levelness), nodes_left_(node_budget),
          still_wanted_(still_wanted) {
        left_.resize(static_cast<std::size_t>(arena.size()));
        for (int i = 0; i < arena.size(); ++i)
            left_[static_cast<std::size_t>(i)] = i;
        extremes_.push_back(context);
        picked_.reserve(static_cast<std::size_t>(arena.wanted()));
        result_.levelness = known_levelness;
    }

    ExactResult run() {
        descend(arena_.series);
        result_.exhausted = nodes_left_ > 0;
        return result_;
    }

private:
    [[nodiscard]] int capacity(int unit) const { return arena_.capacity_mah[static_cast<std::size_t>(unit)]; }
    [[nodiscard]] int left(std::size_t i) const { return left_[i]; }

    // False: the budget is spent, or nobody wants the answer any more.
    bool next_node() {
        constexpr long look = 4096;
        if (--nodes_left_ % look == 0 && still_wanted_ && !still_wanted_())
            nodes_left_ = 0;
        return nodes_left_ > 0;
    }

    // Sum of the largest `groups` x P units that are left, from position `from` on.
    [[nodiscard]] long best_total(std::size_t from, int groups) const {
        long total = 0;
        const std::size_t end = from + static_cast<std::size_t>(groups) * static_cast<std::size_t>(arena_.parallel);
        for (std::size_t i = from; i < end; ++i)
            total += capacity(left_[i]);
        return total;
    }

    // Whether the units that are left can still fill `groups` groups at the floor: the plain total, and the refined
    // bound with the k largest units set aside.
    [[nodiscard]] bool can_fill(int groups) const {
        for (int k = 0; k < groups; ++k) {
            const auto from = static_cast<std::size_t>(k);
            const std::size_t need =
                from + static_cast<std::size_t>(groups - k) * static_cast<std::size_t>(arena_.parallel);
            if (left_.size() < need || best_total(from, groups - k) < static_cast<long>(groups - k) * floor_)
                return false;
            if (k >= 2) // more is rarely the tighter one and costs as much again
                break;
        }
        return true;
    }

    void descend(int groups) {
        if (!next_node())
            return;
        if (groups == 0) {
            complete();
            return;
        }
        if (!can_fill(groups))
            return;
        lead(groups);
        // Leave the largest in stock.
        if (left_.size() > static_cast<std::size_t>(groups) * static_cast<std::size_t>(arena_.parallel)) {
            const int skipped = left_.front();
            left_.erase(left_.begin());
            descend(groups);
            left_.insert(left_.begin(), skipped);
        }
    }

    // Put the largest that is left into a group of its own and try its companions.
    void lead(int groups) {
        const int leader = left_.front();
        left_.erase(left_.begin());
        std::vector<std::size_t> companions;
        companions.reserve(static_cast<std::size_t>(arena_.parallel));
        const Sums sums{capacity(leader), arena_.conductance[static_cast<std::size_t>(leader)],
                        arena_.leak[static_cast<std::size_t>(leader)]};
        picked_.push_back(leader);
        choose(groups, companions, 0, arena_.parallel - 1, sums, capacity(leader) + best_total_with_leader(groups));
        picked_.pop_back();
        left_.insert(left_.begin(), leader);
    }

    [[nodiscard]] long best_total_with_leader(int groups) const {
        long total = 0;
        const std::size_t end = static_cast<std::size_t>(groups) * static_cast<std::size_t>(arena_.parallel) - 1;
        for (std::size_t i = 0; i < end; ++i)
            total += capacity(left_[i]);
        return total;
    }

    // Companions in falling order, from position `from` on. `total`: what all remaining groups can hold together, so
    // that this group may take at most total - (groups - 1) * floor.
    void choose(int groups, std::vector<std::size_t>& companions, std::size_t from, int wanted, const Sums& sums,
                long total) {
        if (nodes_left_ <= 0)
            return;
        if (wanted == 0) {
            if (sums.capacity >= floor_)
                take(groups, companions, sums);
            return;
        }
        const long least = floor_ - sums.capacity;
        const long most = total - static_cast<long>(groups - 1) * floor_ - sums.capacity;
        const auto w = static_cast<std::size_t>(wanted);
        const std::size_t size = left_.size();
        long tail = 0; // the smallest wanted-1 units: what must be added at least
        for (std::size_t i = 0; i + 1 < w; ++i)
            tail += capacity(left_[size - 1 - i]);
        for (std::size_t i = from; i + w <= size; ++i) {
            const int c = capacity(left_[i]);
            long head = 0; // this and the next wanted-1 units: what can be reached at most
            for (std::size_t k = 0; k < w; ++k)
                head += capacity(left_[i + k]);
            if (head < least)
                return;
            if (c + tail > most)
                continue;
            if (!next_node())
                return;
            companions.push_back(i);
            const auto u = static_cast<std::size_t>(left_[i]);
            choose(groups, companions, i + 1, wanted - 1,
                   {sums.capacity + c, sums.conductance + arena_.conductance[u], sums.leak + arena_.leak[u]}, total);
            companions.pop_back();
        }
    }

    void take(int groups, const std::vector<std::size_t>& companions, const Sums& sums) {
        Extremes extremes = extremes_.back();
        extremes.add(sums);
        if (goal_ == Goal::levelness && extremes.lower_bound(arena_.leak_scale) >= best_level_)
            return;
        std::vector<int> saved = left_;
        for (std::size_t i = companions.size(); i-- > 0;) {
            picked_.push_back(left_[companions[i]]);
            left_.erase(left_.begin() + static_cast<std::ptrdiff_t>(companions[i]));
        }
        extremes_.push_back(extremes);
        group_sums_.push_back(sums);
        descend(groups - 1);
        group_sums_.pop_back();
        extremes_.pop_back();
        picked_.resize(picked_.size() - companions.size());
        left_ = std::move(saved);
    }

    void complete() {
        if (goal_ == Goal::usable) {
            const long usable = extremes_.back().low_c;
            result_.slots = picked_;
            result_.usable_mah = usable;
            floor_ = usable + 1;
            return;
        }
        // With fixed groups around, their sums are not known here: the lower bound stands for the levelness.
        const double levelness = extremes_.front().empty ? level_of(arena_, group_sums_).levelness
                                                         : extremes_.back().lower_bound(arena_.leak_scale);
        if (levelness < best_level_ - 1e-12) {
            best_level_ = levelness;
            result_.slots = picked_;
            result_.levelness = levelness;
            result_.usable_mah = extremes_.back().low_c;
        }
    }

    const Arena& arena_;
    Goal goal_;
    long floor_;
    double best_level_;
    long nodes_left_;
    const StillWanted& still_wanted_;
    std::vector<int> left_; // arena indices, falling capacity
    std::vector<int> picked_;
    std::vector<Extremes> extremes_;
    std::vector<Sums> group_sums_;
    ExactResult result_;
};

} // namespace

ExactResult maximise_usable(const Arena& arena, long bound_mah, long known_mah, long node_budget,
                            const StillWanted& still_wanted) {
    // From the bound down in growing steps: near the bound the budget is small and failing is cheap.
    ExactResult result;
    result.usable_mah = known_mah;
    long nodes = node_budget;
    for (long step = 0; known_mah < bound_mah; step = 2 * step + 1) {
        const long floor = std::max(known_mah + 1, bound_mah - step);
        ExactResult tried = Depth(arena, Depth::Goal::usable, floor, 0, nodes, {}, still_wanted).run();
        if (!tried.slots.empty()) {
            result.slots = tried.slots;
            result.usable_mah = tried.usable_mah;
            result.exhausted = tried.exhausted || tried.usable_mah == bound_mah;
            return result;
        }
        if (!tried.exhausted) {
            result.exhausted = false;
            return result;
        }
        if (floor == known_mah + 1)
            break;
    }
    result.exhausted = true;
    return result;
}

ExactResult level_exactly(const Arena& arena, long floor_mah, double known_levelness, long node_budget,
                          const Extremes& context, const StillWanted& still_wanted) {
    return Depth(arena, Depth::Goal::levelness, floor_mah, known_levelness, node_budget, context, still_wanted).run();
}

} // namespace ingot::matching
