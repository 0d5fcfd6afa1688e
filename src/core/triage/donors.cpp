#include "core/triage/donors.h"

#include "core/triage/groups.h"

#include <boost/dynamic_bitset.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>
#include <set>

namespace ingot {

namespace {

using Set = boost::dynamic_bitset<>;

// Good groups, renumbered 0..n-1.
struct Good {
    std::vector<std::size_t> original;
    std::vector<int> pack;                   // index of the pack
    std::vector<double> volts, log_capacity; // log capacity: NaN where not known
    std::vector<int> model;                  // numbered
    [[nodiscard]] int size() const { return static_cast<int>(original.size()); }
};

struct Packs {
    std::vector<std::string> names;
    std::vector<std::vector<std::size_t>> groups; // indices of the input, by place
    std::vector<int> good;                        // how many of them
};

struct Windows {
    double volts = std::numeric_limits<double>::infinity();
    double log_capacity = std::numeric_limits<double>::infinity();
    bool one_model = false;
};

// ---- Which groups may stand together: a window in volts and in capacity, of one model. ----

bool inside(double value, double from, double width) {
    constexpr double rounding = 1e-9;
    return std::isnan(value) || (value >= from - rounding && value <= from + width + rounding);
}

// Evenly chosen from the sorted values, at most `most`.
std::vector<double> thinned(std::vector<double> values, std::size_t most, bool& complete) {
    std::sort(values.begin(), values.end());
    values.erase(std::unique(values.begin(), values.end()), values.end());
    if (values.size() <= most)
        return values;
    complete = false;
    std::vector<double> out;
    for (std::size_t i = 0; i < most; ++i)
        out.push_back(values[i * (values.size() - 1) / (most - 1)]);
    return out;
}

// Sets of groups that may all stand together and cannot be extended, at least `least` strong. In a large shop not all
// of them: `complete` says whether it was.
std::vector<Set> maximal_sets(const Good& good, const Windows& windows, int least, bool& complete) {
    constexpr std::size_t most_starts = 90; // of windows, in each direction
    constexpr std::size_t most_filtered = 3000;
    complete = true;
    std::map<int, std::vector<int>> classes;
    for (int i = 0; i < good.size(); ++i)
        classes[windows.one_model ? good.model[static_cast<std::size_t>(i)] : 0].push_back(i);
    std::vector<Set> out;
    for (const auto& [model, members] : classes) {
        std::set<Set> candidates;
        std::vector<double> from_volts{-1e9};
        std::vector<double> from_capacity{-1e9};
        if (std::isfinite(windows.volts)) {
            from_volts.clear();
            for (const int i : members)
                from_volts.push_back(good.volts[static_cast<std::size_t>(i)]);
        }
        if (std::isfinite(windows.log_capacity)) {
            from_capacity.clear();
            for (const int i : members)
                if (!std::isnan(good.log_capacity[static_cast<std::size_t>(i)]))
                    from_capacity.push_back(good.log_capacity[static_cast<std::size_t>(i)]);
            if (from_capacity.empty())
                from_capacity.push_back(0);
        }
        const std::size_t starts = members.size() > most_starts ? most_starts / 2 : most_starts;
        from_volts = thinned(std::move(from_volts), starts, complete);
        from_capacity = thinned(std::move(from_capacity), starts, complete);
        const double volts_width = std::isfinite(windows.volts) ? windows.volts : 1e12;
        const double capacity_width = std::isfinite(windows.log_capacity) ? windows.log_capacity : 1e12;
        for (const double v : from_volts)
            for (const double c : from_capacity) {
                Set set(static_cast<std::size_t>(good.size()));
                for (const int i : members) {
                    const auto k = static_cast<std::size_t>(i);
                    if (inside(good.volts[k], v, volts_width) && inside(good.log_capacity[k], c, capacity_width))
                        set.set(k);
                }
                if (static_cast<int>(set.count()) >= least)
                    candidates.insert(std::move(set));
            }
        std::vector<Set> ordered(candidates.begin(), candidates.end());
        std::stable_sort(ordered.begin(), ordered.end(),
                         [](const Set& a, const Set& b) { return a.count() > b.count(); });
        const std::size_t start = out.size();
        const bool filter = ordered.size() <= most_filtered;
        for (const Set& set : ordered) {
            if (filter && std::any_of(out.begin() + static_cast<std::ptrdiff_t>(start), out.end(),
                                      [&](const Set& larger) { return set.is_subset_of(larger); }))
                continue;
            out.push_back(set);
        }
    }
    return out;
}

// ---- Giving each chosen set its groups: a flow. ----

// Groups to slots, each slot taking `series` of the groups in its set; cheapest in groups that leave their pack.
// Successive shortest paths; costs are 0 (own group) and 1.
class Flow {
public:
    Flow(const Good& good, int series) : good_(good), series_(series) {}

    // Slot of each group, -1 for none; nothing where the slots cannot all be filled. `host`: pack of each slot, or -1.
    std::optional<std::vector<int>> fill(const std::vector<const Set*>& slots, const std::vector<int>& host) {
        const int n = good_.size();
        const int k = static_cast<int>(slots.size());
        std::vector<int> slot_of(static_cast<std::size_t>(n), -1);
        std::vector<int> held(static_cast<std::size_t>(k), 0);
        const auto cost = [&](int g, int s) {
            return host[static_cast<std::size_t>(s)] == good_.pack[static_cast<std::size_t>(g)] ? 0 : 1;
        };
        // Own groups first: they cost nothing.
        for (int g = 0; g < n; ++g)
            for (int s = 0; s < k; ++s)
                if (cost(g, s) == 0 && slots[static_cast<std::size_t>(s)]->test(static_cast<std::size_t>(g)) &&
                    held[static_cast<std::size_t>(s)] < series_) {
                    slot_of[static_cast<std::size_t>(g)] = s;
                    ++held[static_cast<std::size_t>(s)];
                    break;
                }
        for (int s = 0; s < k; ++s)
            while (held[static_cast<std::size_t>(s)] < series_)
                if (!augment(s, slots, slot_of, held, cost))
                    return std::nullopt;
        return slot_of;
    }

    // Room for one more slot, at any cost? Changes `slot_of` only when there is.
    bool extend(const std::vector<const Set*>& slots, std::vector<int>& slot_of) const {
        const auto s = slots.size() - 1;
        std::vector<int> tried = slot_of;
        for (int i = 0; i < series_; ++i)
            if (!reach(s, slots, tried))
                return false;
        slot_of = std::move(tried);
        return true;
    }

private:
    bool reach(std::size_t s, const std::vector<const Set*>& slots, std::vector<int>& slot_of) const {
        std::vector<int> through(slots.size(), -1);                // group that would leave the slot ...
        std::vector<std::size_t> into(slots.size(), slots.size()); // ... for this one
        std::vector<bool> seen(slots.size(), false);
        std::vector<std::size_t> queue{s};
        seen[s] = true;
        for (std::size_t q = 0; q < queue.size(); ++q) {
            const std::size_t t = queue[q];
            for (auto g = slots[t]->find_first(); g != Set::npos; g = slots[t]->find_next(g)) {
                const int owner = slot_of[g];
                if (owner < 0) {
                    auto moving = static_cast<int>(g);
                    std::size_t at = t;
                    while (true) {
                        const int displaced = through[at];
                        const std::size_t next = into[at];
                        slot_of[static_cast<std::size_t>(moving)] = static_cast<int>(at);
                        if (at == s)
                            return true;
                        moving = displaced;
                        at = next;
                    }
                }
                const auto o = static_cast<std::size_t>(owner);
                if (!seen[o]) {
                    seen[o] = true;
                    through[o] = static_cast<int>(g);
                    into[o] = t;
                    queue.push_back(o);
                }
            }
        }
        return false;
    }

    // One more group for slot `s`, at least cost (Bellman-Ford over slots).
    template <class Cost>
    bool augment(int s, const std::vector<const Set*>& slots, std::vector<int>& slot_of, std::vector<int>& held,
                 const Cost& cost) {
        const int n = good_.size();
        const int k = static_cast<int>(slots.size());
        constexpr int far = std::numeric_limits<int>::max() / 4;
        std::vector<int> distance(static_cast<std::size_t>(k), far);
        std::vector<int> by_group(static_cast<std::size_t>(k), -1); // taken from that slot ...
        std::vector<int> to_slot(static_cast<std::size_t>(k), -1);  // ... into this one
        distance[static_cast<std::size_t>(s)] = 0;
        for (bool changed = true; changed;) {
            changed = false;
            for (int g = 0; g < n; ++g) {
                const int owner = slot_of[static_cast<std::size_t>(g)];
                if (owner < 0)
                    continue;
                for (int t = 0; t < k; ++t) {
                    if (t == owner || distance[static_cast<std::size_t>(t)] == far ||
                        !slots[static_cast<std::size_t>(t)]->test(static_cast<std::size_t>(g)))
                        continue;
                    const int d = distance[static_cast<std::size_t>(t)] + cost(g, t) - cost(g, owner);
                    if (d < distance[static_cast<std::size_t>(owner)]) {
                        distance[static_cast<std::size_t>(owner)] = d;
                        by_group[static_cast<std::size_t>(owner)] = g;
                        to_slot[static_cast<std::size_t>(owner)] = t;
                        changed = true;
                    }
                }
            }
        }
        int best = far;
        int free_group = -1;
        int into = -1;
        for (int g = 0; g < n; ++g)
            if (slot_of[static_cast<std::size_t>(g)] < 0)
                for (int t = 0; t < k; ++t)
                    if (distance[static_cast<std::size_t>(t)] < far &&
                        slots[static_cast<std::size_t>(t)]->test(static_cast<std::size_t>(g)) &&
                        distance[static_cast<std::size_t>(t)] + cost(g, t) < best) {
                        best = distance[static_cast<std::size_t>(t)] + cost(g, t);
                        free_group = g;
                        into = t;
                    }
        if (free_group < 0)
            return false;
        int moving = free_group;
        while (true) {
            const int displaced = into == s ? -1 : by_group[static_cast<std::size_t>(into)];
            const int next = into == s ? -1 : to_slot[static_cast<std::size_t>(into)];
            slot_of[static_cast<std::size_t>(moving)] = into;
            if (into == s)
                break;
            moving = displaced;
            into = next;
        }
        ++held[static_cast<std::size_t>(s)];
        return true;
    }

    const Good& good_;
    int series_;
};

// ---- Which pack takes which set: an assignment. ----

// Largest total weight of a matching of rows to distinct columns (rows <= columns). Returns the column of each row.
// The classical shortest augmenting path method with potentials.
std::vector<int> best_assignment(const std::vector<std::vector<int>>& weight) {
    const auto rows = weight.size();
    const auto columns = rows == 0 ? 0 : weight.front().size();
    constexpr int far = std::numeric_limits<int>::max() / 4;
    std::vector<int> u(rows + 1, 0), v(columns + 1, 0);
    std::vector<std::size_t> row_of(columns + 1, 0), way(columns + 1, 0);
    for (std::size_t r = 1; r <= rows; ++r) {
        row_of[0] = r;
        std::size_t column = 0;
        std::vector<int> least(columns + 1, far);
        std::vector<bool> used(columns + 1, false);
        do {
            used[column] = true;
            const std::size_t at = row_of[column];
            int delta = far;
            std::size_t next = 0;
            for (std::size_t c = 1; c <= columns; ++c) {
                if (used[c])
                    continue;
                const int reduced = -weight[at - 1][c - 1] - u[at] - v[c];
                if (reduced < least[c]) {
                    least[c] = reduced;
                    way[c] = column;
                }
                if (least[c] < delta) {
                    delta = least[c];
                    next = c;
                }
            }
            for (std::size_t c = 0; c <= columns; ++c)
                if (used[c]) {
                    u[row_of[c]] += delta;
                    v[c] -= delta;
                } else {
                    least[c] -= delta;
                }
            column = next;
        } while (row_of[column] != 0);
        do {
            const std::size_t before = way[column];
            row_of[column] = row_of[before];
            column = before;
        } while (column != 0);
    }
    std::vector<int> out(rows, -1);
    for (std::size_t c = 1; c <= columns; ++c)
        if (row_of[c] != 0)
            out[row_of[c] - 1] = static_cast<int>(c) - 1;
    return out;
}

// A plan inside the search: which slot and which pack.
struct Choice {
    std::vector<int> host;    // of each slot
    std::vector<int> slot_of; // of each good group
    int moved = std::numeric_limits<int>::max();
    [[nodiscard]] int packs() const { return static_cast<int>(host.size()); }
    [[nodiscard]] bool better_than(const Choice& other) const {
        return packs() != other.packs() ? packs() > other.packs() : moved < other.moved;
    }
};

class Search {
public:
    Search(const Good& good, const Packs& packs, int series, const Windows& windows, const DonorObserver& observer)
        : good_(good), packs_(packs), series_(series), windows_(windows), observer_(observer), flow_(good, series) {
        sets_ = maximal_sets(good, windows, series, sets_complete_);
        own_.assign(sets_.size(), std::vector<int>(packs.names.size(), 0));
        for (std::size_t b = 0; b < sets_.size(); ++b) {
            for (int g = 0; g < good.size(); ++g)
                if (sets_[b].test(static_cast<std::size_t>(g)))
                    ++own_[b][static_cast<std::size_t>(good.pack[static_cast<std::size_t>(g)])];
            for (int& count : own_[b])
                count = std::min(count, series);
        }
    }

    Choice run(bool& proved) {
        keep_most();
        greedy();
        most_ = sets_complete_ ? most_possible() : good_.size() / series_;
        proved_ = sets_complete_;
        if (sets_complete_) {
            std::vector<std::size_t> chosen;
            descend(chosen, std::vector<int>(static_cast<std::size_t>(good_.size()), -1), 0, most_);
        }
        proved = proved_ && nodes_ < most_nodes && !stopped_;
        if (!proved && best_.packs() < most_)
            rebuild_parts();
        if (best_.packs() == 0) {
            best_.moved = 0;
            best_.slot_of.assign(static_cast<std::size_t>(good_.size()), -1);
        }
        // As good as the bounds allow; they hold only when every window is listed.
        if (!proved && sets_complete_ && best_.packs() == most_ && best_.moved == least_moved(best_.packs()))
            proved = true;
        return best_;
    }

private:
    static constexpr long most_nodes = 400000;
    static constexpr int most_tried = 400;

    // No more than the good groups of each connected family of sets allow.
    int most_possible() const {
        std::vector<Set> families;
        for (const Set& set : sets_) {
            Set joined = set;
            for (std::size_t f = 0; f < families.size();)
                if (families[f].intersects(joined)) {
                    joined |= families[f];
                    families.erase(families.begin() + static_cast<std::ptrdiff_t>(f));
                } else {
                    ++f;
                }
            families.push_back(std::move(joined));
        }
        int most = 0;
        for (const Set& family : families)
            most += static_cast<int>(family.count()) / series_;
        return std::min(most, static_cast<int>(packs_.names.size()));
    }

    // Fewer moves than this cannot be, whatever the sets: the packs that can keep most of their own groups.
    int least_moved(int count) const {
        std::vector<int> kept(packs_.names.size(), 0);
        for (const auto& own : own_)
            for (std::size_t p = 0; p < kept.size(); ++p)
                kept[p] = std::max(kept[p], own[p]);
        std::sort(kept.begin(), kept.end(), std::greater<>());
        return count * series_ - std::accumulate(kept.begin(), kept.begin() + count, 0);
    }

    void offer(const std::vector<std::size_t>& chosen) {
        std::vector<const Set*> slots;
        std::vector<std::vector<int>> weight;
        for (const std::size_t b : chosen) {
            slots.push_back(&sets_[b]);
            weight.push_back(own_[b]);
        }
        if (chosen.size() > packs_.names.size())
            return;
        const auto host = best_assignment(weight);
        int kept = 0;
        for (std::size_t s = 0; s < chosen.size(); ++s)
            kept += weight[s][static_cast<std::size_t>(host[s])];
        const int count = static_cast<int>(chosen.size());
        const int at_least = count * series_ - kept;
        if (count == best_.packs() && at_least >= best_.moved)
            return;
        auto filled = flow_.fill(slots, host);
        if (!filled)
            return;
        Choice made;
        made.host = host;
        made.slot_of = std::move(*filled);
        made.moved = 0;
        for (std::size_t g = 0; g < made.slot_of.size(); ++g)
            if (made.slot_of[g] >= 0)
                made.moved += host[static_cast<std::size_t>(made.slot_of[g])] != good_.pack[g];
        if (made.moved > at_least) // another assignment might do better with these sets: not proved
            proved_ = false;
        if (made.better_than(best_))
            best_ = std::move(made);
    }

    // Multisets of sets in rising order.
    void descend(std::vector<std::size_t>& chosen, const std::vector<int>& filled, std::size_t from, int most) {
        if (++nodes_ >= most_nodes || stopped_)
            return;
        if (observer_ && nodes_ % 256 == 0 && !observer_()) {
            stopped_ = true;
            return;
        }
        if (best_.packs() == most && best_.moved <= least_moved(most))
            return;
        const int depth = static_cast<int>(chosen.size());
        if (depth > 0 && depth >= best_.packs())
            offer(chosen);
        if (depth == most)
            return;
        for (std::size_t b = from; b < sets_.size(); ++b) {
            // What the sets from here on can still take.
            chosen.push_back(b);
            std::vector<int> more = filled;
            if (best_.packs() == most && most * series_ - most_kept(chosen, b, most) >= best_.moved) {
                chosen.pop_back();
                continue;
            }
            if (reachable(chosen, b) >= std::max(best_.packs(), 1) && feasible(chosen, more))
                descend(chosen, more, b, most);
            chosen.pop_back();
            if (nodes_ >= most_nodes || stopped_)
                return;
        }
    }

    // `filled`: of the sets before the last.
    bool feasible(const std::vector<std::size_t>& chosen, std::vector<int>& filled) const {
        std::vector<const Set*> slots;
        slots.reserve(chosen.size());
        for (const std::size_t b : chosen)
            slots.push_back(&sets_[b]);
        return flow_.extend(slots, filled);
    }

    // Groups that can stay where they are, at most, when sets from `from` on are added up to `count`.
    int most_kept(const std::vector<std::size_t>& chosen, std::size_t from, int count) {
        if (kept_from_.empty()) {
            const std::size_t packs = packs_.names.size();
            std::vector<int> best(packs, 0);
            kept_from_.resize(sets_.size() + 1);
            for (std::size_t b = sets_.size(); b-- > 0;) {
                for (std::size_t p = 0; p < packs; ++p)
                    best[p] = std::max(best[p], own_[b][p]);
                kept_from_[b] = best;
                std::sort(kept_from_[b].begin(), kept_from_[b].end(), std::greater<>());
                std::partial_sum(kept_from_[b].begin(), kept_from_[b].end(), kept_from_[b].begin());
            }
        }
        int kept = 0;
        for (const std::size_t b : chosen)
            kept += *std::max_element(own_[b].begin(), own_[b].end());
        const int rest = count - static_cast<int>(chosen.size());
        return kept + (rest > 0 ? kept_from_[from][static_cast<std::size_t>(rest - 1)] : 0);
    }

    // Packs in all that the chosen sets and the sets from `from` on could make at most.
    int reachable(const std::vector<std::size_t>& chosen, std::size_t from) {
        if (suffix_.empty()) {
            suffix_.assign(sets_.size() + 1, Set(static_cast<std::size_t>(good_.size())));
            for (std::size_t b = sets_.size(); b-- > 0;)
                suffix_[b] = suffix_[b + 1] | sets_[b];
        }
        Set all = suffix_[from];
        for (const std::size_t b : chosen)
            all |= sets_[b];
        return static_cast<int>(all.count()) / series_;
    }

    // Packs that can keep most of their own groups first, each in the window that keeps them; then whatever else fits.
    void keep_most() {
        std::vector<std::size_t> packs(packs_.names.size());
        std::iota(packs.begin(), packs.end(), 0);
        std::vector<std::vector<std::size_t>> windows(packs.size());
        std::vector<int> kept(packs.size(), 0);
        constexpr std::size_t most_windows = 6;
        for (const std::size_t p : packs) {
            std::vector<std::size_t> order(sets_.size());
            std::iota(order.begin(), order.end(), 0);
            std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
                return own_[a][p] != own_[b][p] ? own_[a][p] > own_[b][p] : sets_[a].count() > sets_[b].count();
            });
            order.resize(std::min(order.size(), most_windows));
            kept[p] = order.empty() ? 0 : own_[order.front()][p];
            windows[p] = std::move(order);
        }
        std::stable_sort(packs.begin(), packs.end(), [&](std::size_t a, std::size_t b) { return kept[a] > kept[b]; });
        std::vector<int> filled(static_cast<std::size_t>(good_.size()), -1);
        std::vector<std::size_t> chosen;
        for (const std::size_t p : packs)
            for (const std::size_t b : windows[p]) {
                chosen.push_back(b);
                if (feasible(chosen, filled))
                    break;
                chosen.pop_back();
            }
        int tried = 0;
        for (std::size_t b = 0; b < sets_.size() && ++tried <= most_tried; ++b) {
            if (chosen.size() >= packs_.names.size())
                break;
            chosen.push_back(b);
            if (!feasible(chosen, filled))
                chosen.pop_back();
        }
        std::sort(chosen.begin(), chosen.end());
        if (!chosen.empty())
            offer(chosen);
    }

    // ---- Large shops: break a few neighbouring packs of the plan up and put more together from their groups. ----

    struct Window {
        double volts = 0, log_capacity = 0; // lower edges
        int model = 0;
    };
    [[nodiscard]] bool in(const Window& w, std::size_t g) const {
        return (!windows_.one_model || good_.model[g] == w.model) && inside(good_.volts[g], w.volts, windows_.volts) &&
               inside(good_.log_capacity[g], w.log_capacity, windows_.log_capacity);
    }
    [[nodiscard]] Set set_of(const Window& w) const {
        Set set(static_cast<std::size_t>(good_.size()));
        for (std::size_t g = 0; g < set.size(); ++g)
            if (in(w, g))
                set.set(g);
        return set;
    }
    std::uint64_t random() { // xorshift64
        state_ ^= state_ << 13U;
        state_ ^= state_ >> 7U;
        state_ ^= state_ << 17U;
        return state_;
    }
    [[nodiscard]] double capacity_or_middle(std::size_t g) const {
        return std::isnan(good_.log_capacity[g]) ? 0 : good_.log_capacity[g];
    }

    // A window around `g` that holds at least a pack's worth of `free`, as tight as the draw allows; nothing where
    // there is none.
    std::optional<Window> window_around(std::size_t g, const std::vector<std::size_t>& free) {
        std::vector<std::size_t> near;
        for (const std::size_t o : free)
            if ((!windows_.one_model || good_.model[o] == good_.model[g]) &&
                std::fabs(good_.volts[o] - good_.volts[g]) <= windows_.volts &&
                (std::isnan(good_.log_capacity[o]) || std::isnan(good_.log_capacity[g]) ||
                 std::fabs(good_.log_capacity[o] - good_.log_capacity[g]) <= windows_.log_capacity))
                near.push_back(o);
        if (static_cast<int>(near.size()) < series_)
            return std::nullopt;
        long fewest = std::numeric_limits<long>::max();
        std::optional<Window> best;
        for (const std::size_t a : near) {
            const double v = std::isfinite(windows_.volts) ? good_.volts[a] : -1e9;
            if (std::isfinite(windows_.volts) && v > good_.volts[g])
                continue;
            for (const std::size_t b : near) {
                const double c = std::isfinite(windows_.log_capacity) ? capacity_or_middle(b) : -1e9;
                if (std::isfinite(windows_.log_capacity) && !std::isnan(good_.log_capacity[g]) &&
                    c > good_.log_capacity[g])
                    continue;
                const Window w{v, c, good_.model[g]};
                const auto count = std::count_if(near.begin(), near.end(), [&](std::size_t o) { return in(w, o); });
                constexpr long loosening = 4; // so that not always the same window is tightest
                const long key = count + static_cast<long>(random() % loosening);
                if (count >= series_ && key < fewest) {
                    fewest = key;
                    best = w;
                }
                if (!std::isfinite(windows_.log_capacity))
                    break;
            }
            if (!std::isfinite(windows_.volts))
                break;
        }
        return best;
    }

    // Packs put together from `free`, hardest groups first. Takes what it uses out of `free`.
    void put_together(std::vector<std::size_t>& free, std::vector<Window>& slots, std::vector<int>& slot_of) {
        const auto edge = [&](std::size_t g) { // groups at an edge have fewest partners
            double partners = 0;
            for (const std::size_t o : free)
                partners += (!windows_.one_model || good_.model[o] == good_.model[g]) &&
                            std::fabs(good_.volts[o] - good_.volts[g]) <= windows_.volts &&
                            !(std::fabs(good_.log_capacity[o] - good_.log_capacity[g]) > windows_.log_capacity);
            return partners;
        };
        std::vector<std::pair<double, std::size_t>> order;
        order.reserve(free.size());
        for (const std::size_t g : free)
            order.emplace_back(edge(g) + static_cast<double>(random() % 3), g);
        std::sort(order.begin(), order.end());
        for (const auto& [partners, g] : order) {
            if (std::find(free.begin(), free.end(), g) == free.end())
                continue;
            const auto window = window_around(g, free);
            if (!window)
                continue;
            const auto slot = static_cast<int>(slots.size());
            slots.push_back(*window);
            slot_of[g] = slot;
            int held = 1;
            for (const auto& [few, o] : order)
                if (held < series_ && o != g && slot_of[o] < 0 && in(*window, o) &&
                    std::find(free.begin(), free.end(), o) != free.end()) {
                    slot_of[o] = slot;
                    ++held;
                }
            free.erase(std::remove_if(free.begin(), free.end(), [&](std::size_t o) { return slot_of[o] >= 0; }),
                       free.end());
        }
    }

    // The edges of a slot's window may slide as long as its own groups stay inside.
    void slide(Window& w, int slot, const std::vector<int>& slot_of) {
        double low_v = 1e9, high_v = -1e9, low_c = 1e9, high_c = -1e9;
        for (std::size_t g = 0; g < slot_of.size(); ++g)
            if (slot_of[g] == slot) {
                low_v = std::min(low_v, good_.volts[g]);
                high_v = std::max(high_v, good_.volts[g]);
                if (!std::isnan(good_.log_capacity[g])) {
                    low_c = std::min(low_c, good_.log_capacity[g]);
                    high_c = std::max(high_c, good_.log_capacity[g]);
                }
            }
        constexpr double parts = 1024;
        const auto share = [&] { return static_cast<double>(random() % 1025) / parts; };
        if (std::isfinite(windows_.volts))
            w.volts = low_v - share() * (windows_.volts - (high_v - low_v));
        if (std::isfinite(windows_.log_capacity) && high_c >= low_c)
            w.log_capacity = low_c - share() * (windows_.log_capacity - (high_c - low_c));
    }

    void rebuild_parts() {
        std::vector<Window> slots;
        std::vector<int> slot_of(static_cast<std::size_t>(good_.size()), -1);
        std::vector<std::size_t> all(slot_of.size());
        std::iota(all.begin(), all.end(), 0);
        std::vector<std::size_t> free = all;
        put_together(free, slots, slot_of);
        constexpr int most_rounds = 40000;
        for (int round = 0; round < most_rounds && static_cast<int>(slots.size()) < most_; ++round) {
            if (observer_ && !observer_())
                break;
            free.clear();
            for (const std::size_t g : all)
                if (slot_of[g] < 0)
                    free.push_back(g);
            if (static_cast<int>(free.size()) < series_)
                break;
            // First, whether the others can make room around a group that is left over.
            for (std::size_t s = 0; s < slots.size(); ++s)
                slide(slots[s], static_cast<int>(s), slot_of);
            const std::size_t odd = free[random() % free.size()];
            if (auto window = window_around(odd, all)) {
                std::vector<Set> sets;
                sets.reserve(slots.size() + 1);
                for (const Window& w : slots)
                    sets.push_back(set_of(w));
                sets.push_back(set_of(*window));
                std::vector<const Set*> pointers;
                pointers.reserve(sets.size());
                for (const Set& set : sets)
                    pointers.push_back(&set);
                if (flow_.extend(pointers, slot_of)) {
                    slots.push_back(*window);
                    continue;
                }
            }
            // Else break up the packs nearest to it.
            std::vector<std::pair<double, int>> near;
            for (std::size_t s = 0; s < slots.size(); ++s) {
                if (windows_.one_model && slots[s].model != good_.model[odd])
                    continue;
                double distance = 0.5 * static_cast<double>(random() % 1000) / 1000;
                if (std::isfinite(windows_.volts))
                    distance += std::fabs(slots[s].volts + windows_.volts / 2 - good_.volts[odd]) / windows_.volts;
                if (std::isfinite(windows_.log_capacity))
                    distance += std::fabs(slots[s].log_capacity + windows_.log_capacity / 2 - capacity_or_middle(odd)) /
                                windows_.log_capacity;
                near.emplace_back(distance, static_cast<int>(s));
            }
            std::sort(near.begin(), near.end());
            near.resize(std::min<std::size_t>(near.size(), 2 + random() % 5));
            std::vector<bool> broken(slots.size(), false);
            for (const auto& [distance, s] : near)
                broken[static_cast<std::size_t>(s)] = true;
            std::vector<Window> kept;
            std::vector<int> renamed(slots.size(), -1);
            for (std::size_t s = 0; s < slots.size(); ++s)
                if (!broken[s]) {
                    renamed[s] = static_cast<int>(kept.size());
                    kept.push_back(slots[s]);
                }
            std::vector<int> tried(slot_of.size(), -1);
            free.clear();
            for (const std::size_t g : all) {
                tried[g] = slot_of[g] < 0 ? -1 : renamed[static_cast<std::size_t>(slot_of[g])];
                if (tried[g] < 0)
                    free.push_back(g);
            }
            put_together(free, kept, tried);
            if (kept.size() >= slots.size()) {
                slots = std::move(kept);
                slot_of = std::move(tried);
            }
        }
        if (static_cast<int>(slots.size()) <= best_.packs() || slots.size() > packs_.names.size())
            return;
        std::vector<std::vector<int>> weight(slots.size(), std::vector<int>(packs_.names.size(), 0));
        std::vector<Set> sets;
        for (std::size_t s = 0; s < slots.size(); ++s) {
            sets.push_back(set_of(slots[s]));
            for (std::size_t g = 0; g < slot_of.size(); ++g)
                if (sets.back().test(g))
                    weight[s][static_cast<std::size_t>(good_.pack[g])] += 1;
        }
        std::vector<const Set*> pointers;
        pointers.reserve(sets.size());
        for (const Set& set : sets)
            pointers.push_back(&set);
        const auto host = best_assignment(weight);
        auto filled = flow_.fill(pointers, host);
        Choice made;
        made.host = host;
        made.slot_of = filled ? std::move(*filled) : std::move(slot_of);
        made.moved = 0;
        for (std::size_t g = 0; g < made.slot_of.size(); ++g)
            if (made.slot_of[g] >= 0)
                made.moved += host[static_cast<std::size_t>(made.slot_of[g])] != good_.pack[g];
        best_ = std::move(made);
    }

    // Many quick plans: the set that has fewest groups to spare goes first, in several orders.
    void greedy() {
        constexpr int rounds = 60;
        for (int round = 0; round < rounds && !sets_.empty(); ++round) {
            if (observer_ && !observer_())
                return;
            std::vector<std::size_t> order(sets_.size());
            std::iota(order.begin(), order.end(), 0);
            if (round > 0)
                for (std::size_t i = order.size(); i > 1; --i)
                    std::swap(order[i - 1], order[random() % i]);
            std::vector<std::size_t> chosen;
            Set free(static_cast<std::size_t>(good_.size()));
            free.set();
            // How many sets each group belongs to: rare groups are spent first.
            std::vector<int> uses(static_cast<std::size_t>(good_.size()), 0);
            for (const Set& set : sets_)
                for (auto g = set.find_first(); g != Set::npos; g = set.find_next(g))
                    ++uses[g];
            while (true) {
                std::size_t best = sets_.size();
                std::pair<long, long> best_key{std::numeric_limits<long>::max(), 0};
                for (const std::size_t b : order) {
                    const Set left = sets_[b] & free;
                    const auto count = static_cast<long>(left.count());
                    if (count < series_)
                        continue;
                    long own = 0;
                    if (round % 2 == 0)
                        for (const int o : own_[b])
                            own = std::max<long>(own, o);
                    const std::pair<long, long> key{count % series_ * 4 + count, -own};
                    if (key < best_key) {
                        best_key = key;
                        best = b;
                    }
                }
                if (best == sets_.size())
                    break;
                std::vector<std::size_t> members;
                const Set left = sets_[best] & free;
                for (auto g = left.find_first(); g != Set::npos; g = left.find_next(g))
                    members.push_back(g);
                std::stable_sort(members.begin(), members.end(),
                                 [&](std::size_t a, std::size_t b) { return uses[a] < uses[b]; });
                for (int i = 0; i < series_; ++i)
                    free.reset(members[static_cast<std::size_t>(i)]);
                chosen.push_back(best);
            }
            // The flow may have room for more than the greedy choice saw.
            std::vector<int> filled(static_cast<std::size_t>(good_.size()), -1);
            std::vector<std::size_t> fitting;
            const auto add = [&](std::size_t b) {
                fitting.push_back(b);
                if (!feasible(fitting, filled))
                    fitting.pop_back();
            };
            for (const std::size_t b : chosen)
                add(b);
            int tried = 0;
            for (const std::size_t b : order) {
                if (static_cast<int>(fitting.size()) * series_ + series_ > good_.size() ||
                    fitting.size() >= packs_.names.size() || ++tried > most_tried || (observer_ && !observer_()))
                    break;
                add(b);
            }
            std::sort(fitting.begin(), fitting.end());
            if (!fitting.empty() && static_cast<int>(fitting.size()) >= best_.packs())
                offer(fitting);
        }
    }

    const Good& good_;
    const Packs& packs_;
    int series_;
    Windows windows_;
    const DonorObserver& observer_;
    Flow flow_;
    std::vector<Set> sets_, suffix_;
    std::vector<std::vector<int>> kept_from_; // running sums, best packs first
    std::vector<std::vector<int>> own_;       // groups of each pack in each set
    bool sets_complete_ = true;
    bool proved_ = true;
    bool stopped_ = false;
    int most_ = 0;
    long nodes_ = 0;
    std::uint64_t state_ = 88172645463325252ULL;
    Choice best_;
};

// Without windows any good group may stand anywhere: most packs, then most groups that stay, by the packs' sizes.
std::vector<int> choose_hosts(const Packs& packs, int good) {
    struct Best {
        int count = 0;
        int kept = 0;
        bool operator<(const Best& other) const {
            return count != other.count ? count < other.count : kept < other.kept;
        }
        bool operator==(const Best&) const = default;
    };
    const auto room = static_cast<std::size_t>(good);
    const std::size_t n = packs.names.size();
    std::vector<std::vector<Best>> best(n + 1, std::vector<Best>(room + 1));
    const auto with = [&](std::size_t p, Best before) {
        const int size = static_cast<int>(packs.groups[p].size());
        return Best{before.count + 1, before.kept + packs.good[p] - size};
    };
    for (std::size_t p = 0; p < n; ++p)
        for (std::size_t used = 0; used <= room; ++used) {
            best[p + 1][used] = best[p][used];
            if (const std::size_t size = packs.groups[p].size(); size <= used)
                best[p + 1][used] = std::max(best[p + 1][used], with(p, best[p][used - size]));
        }
    std::vector<int> hosts;
    std::size_t used = room;
    for (std::size_t p = n; p-- > 0;)
        if (best[p + 1][used] != best[p][used]) {
            hosts.push_back(static_cast<int>(p));
            used -= packs.groups[p].size();
        }
    std::reverse(hosts.begin(), hosts.end());
    return hosts;
}

// How far a pack's groups lie apart.
struct Extent {
    double low_v = 1e9, high_v = -1e9, low_c = 1e9, high_c = -1e9;
    std::uint64_t models = 0; // one bit each, the last for all that follow

    Extent(const Good& good, const std::vector<int>& members) {
        for (const int g : members) {
            const auto k = static_cast<std::size_t>(g);
            low_v = std::min(low_v, good.volts[k]);
            high_v = std::max(high_v, good.volts[k]);
            if (!std::isnan(good.log_capacity[k])) {
                low_c = std::min(low_c, good.log_capacity[k]);
                high_c = std::max(high_c, good.log_capacity[k]);
            }
            models |= std::uint64_t{1} << static_cast<unsigned>(std::min(good.model[k], 63));
        }
    }
    [[nodiscard]] double spread() const {
        constexpr double per_model = 0.1; // a second model weighs as 10 % of capacity or 0.1 V do
        int count = -1;
        for (std::uint64_t m = models; m != 0; m &= m - 1)
            ++count;
        return std::max(0.0, high_c - low_c) + std::max(0.0, high_v - low_v) + per_model * std::max(0, count);
    }
    [[nodiscard]] bool within(const Windows& windows) const {
        constexpr double rounding = 1e-9;
        return high_v - low_v <= windows.volts + rounding && high_c - low_c <= windows.log_capacity + rounding &&
               (!windows.one_model || (models & (models - 1)) == 0);
    }
};

// Exchanges of groups that are moved anyway (or left over), while the packs become better matched.
void level(const Good& good, const Windows& windows, Choice& choice) {
    const int slots = choice.packs();
    std::vector<std::vector<int>> members(static_cast<std::size_t>(slots));
    std::vector<int> spare;
    for (int g = 0; g < good.size(); ++g) {
        const int s = choice.slot_of[static_cast<std::size_t>(g)];
        if (s >= 0)
            members[static_cast<std::size_t>(s)].push_back(g);
        else
            spare.push_back(g);
    }
    const auto guest = [&](int g, int s) {
        return choice.host[static_cast<std::size_t>(s)] != good.pack[static_cast<std::size_t>(g)];
    };
    constexpr int most_passes = 3;
    constexpr double worthwhile = 1e-9;
    for (int pass = 0; pass < most_passes; ++pass) {
        bool changed = false;
        for (int s = 0; s < slots; ++s) {
            auto& here = members[static_cast<std::size_t>(s)];
            for (int& g : here) {
                if (!guest(g, s))
                    continue;
                for (int& other : spare) {
                    if (good.pack[static_cast<std::size_t>(other)] == choice.host[static_cast<std::size_t>(s)])
                        continue;
                    const double before = Extent(good, here).spread();
                    std::swap(g, other);
                    const Extent after(good, here);
                    if (after.within(windows) && after.spread() < before - worthwhile)
                        changed = true;
                    else
                        std::swap(g, other);
                }
                for (int t = s + 1; t < slots; ++t)
                    for (int& other : members[static_cast<std::size_t>(t)]) {
                        auto& there = members[static_cast<std::size_t>(t)];
                        if (!guest(other, t) || !guest(other, s) || !guest(g, t))
                            continue;
                        const double before = Extent(good, here).spread() + Extent(good, there).spread();
                        std::swap(g, other);
                        const Extent after_here(good, here);
                        const Extent after_there(good, there);
                        if (after_here.within(windows) && after_there.within(windows) &&
                            after_here.spread() + after_there.spread() < before - worthwhile)
                            changed = true;
                        else
                            std::swap(g, other);
                    }
            }
        }
        if (!changed)
            break;
    }
    std::fill(choice.slot_of.begin(), choice.slot_of.end(), -1);
    for (int s = 0; s < slots; ++s)
        for (const int g : members[static_cast<std::size_t>(s)])
            choice.slot_of[static_cast<std::size_t>(g)] = s;
}

} // namespace

Result<DonorPlan> plan_donors(const std::vector<DonorGroup>& groups, const Chemistry& chemistry,
                              const DonorRules& rules, const DonorObserver& observer) {
    if (groups.empty())
        return Problem{"", 0, "there is no group. Give one line for each group of each pack."};
    DonorPlan plan;
    Packs packs;
    std::map<std::string, std::size_t> index;
    std::set<std::pair<std::string, int>> seen;
    std::vector<double> capacities;
    for (std::size_t i = 0; i < groups.size(); ++i) {
        const DonorGroup& g = groups[i];
        if (!seen.emplace(g.pack, g.group).second)
            return Problem{"", 0, "group " + std::to_string(g.group) + " of pack " + g.pack + " stands twice."};
        const auto [at, fresh] = index.emplace(g.pack, packs.names.size());
        if (fresh) {
            packs.names.push_back(g.pack);
            packs.groups.emplace_back();
        }
        packs.groups[at->second].push_back(i);
        if (g.capacity_ah)
            capacities.push_back(*g.capacity_ah);
    }
    const double least_capacity = capacities.empty() ? 0 : rules.least_capacity_share * median(capacities);
    Good good;
    std::map<std::string, std::size_t> models;
    plan.good.assign(groups.size(), false);
    packs.good.assign(packs.names.size(), 0);
    for (std::size_t p = 0; p < packs.names.size(); ++p) {
        auto& places = packs.groups[p];
        std::sort(places.begin(), places.end(),
                  [&](std::size_t a, std::size_t b) { return groups[a].group < groups[b].group; });
        for (const std::size_t i : places) {
            const DonorGroup& g = groups[i];
            if (state_of(chemistry, g.voltage_v, rules.cells_per_unit) != GroupState::working ||
                (g.capacity_ah && *g.capacity_ah < least_capacity))
                continue;
            plan.good[i] = true;
            ++packs.good[p];
            good.original.push_back(i);
            good.pack.push_back(static_cast<int>(p));
            good.volts.push_back(g.voltage_v);
            good.log_capacity.push_back(g.capacity_ah && *g.capacity_ah > 0 ? std::log(*g.capacity_ah)
                                                                            : std::numeric_limits<double>::quiet_NaN());
            good.model.push_back(static_cast<int>(models.emplace(g.model, models.size()).first->second));
        }
    }
    const auto simple = choose_hosts(packs, good.size());
    plan.bound = static_cast<int>(simple.size());

    Windows windows;
    if (rules.voltage_window_v)
        windows.volts = *rules.voltage_window_v;
    if (rules.capacity_tolerance)
        windows.log_capacity = std::log1p(*rules.capacity_tolerance);
    windows.one_model = rules.one_model;

    Choice choice;
    if (rules.windows()) {
        const std::size_t series = packs.groups.front().size();
        for (std::size_t p = 0; p < packs.names.size(); ++p)
            if (packs.groups[p].size() != series)
                return Problem{"", 0,
                               "pack " + packs.names[p] + " has " + std::to_string(packs.groups[p].size()) +
                                   " groups, pack " + packs.names.front() + " has " + std::to_string(series) +
                                   ". With windows, plan for packs of one kind."};
        Search search(good, packs, static_cast<int>(series), windows, observer);
        choice = search.run(plan.proved);
    } else {
        plan.proved = true;
        choice.host = simple;
        choice.slot_of.assign(static_cast<std::size_t>(good.size()), -1);
        std::vector<int> need;
        need.reserve(simple.size());
        for (const int p : simple)
            need.push_back(static_cast<int>(packs.groups[static_cast<std::size_t>(p)].size()));
        for (std::size_t g = 0; g < choice.slot_of.size(); ++g)
            for (std::size_t s = 0; s < simple.size(); ++s)
                if (simple[s] == good.pack[g]) {
                    choice.slot_of[g] = static_cast<int>(s);
                    --need[s];
                }
        std::size_t s = 0;
        for (std::size_t g = 0; g < choice.slot_of.size(); ++g) {
            while (s < need.size() && need[s] == 0)
                ++s;
            if (s == need.size())
                break;
            if (choice.slot_of[g] < 0) {
                choice.slot_of[g] = static_cast<int>(s);
                --need[s];
            }
        }
    }
    level(good, windows, choice);

    std::vector<std::size_t> order(choice.host.size());
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(),
              [&](std::size_t a, std::size_t b) { return choice.host[a] < choice.host[b]; });
    for (const std::size_t s : order) {
        const auto p = static_cast<std::size_t>(choice.host[s]);
        RebuiltPack rebuilt;
        rebuilt.pack = packs.names[p];
        std::set<int> open;
        for (const std::size_t i : packs.groups[p])
            open.insert(groups[i].group);
        std::vector<std::size_t> guests;
        for (std::size_t g = 0; g < choice.slot_of.size(); ++g) {
            if (choice.slot_of[g] != static_cast<int>(s))
                continue;
            const std::size_t i = good.original[g];
            if (good.pack[g] == static_cast<int>(p)) {
                rebuilt.groups.push_back({groups[i].group, i});
                open.erase(groups[i].group);
            } else {
                guests.push_back(i);
            }
        }
        plan.moved += static_cast<int>(guests.size());
        for (const std::size_t i : guests) {
            rebuilt.groups.push_back({*open.begin(), i});
            open.erase(open.begin());
        }
        std::sort(rebuilt.groups.begin(), rebuilt.groups.end(),
                  [](const Placement& a, const Placement& b) { return a.position < b.position; });
        plan.packs.push_back(std::move(rebuilt));
    }
    for (std::size_t g = 0; g < choice.slot_of.size(); ++g)
        if (choice.slot_of[g] < 0)
            plan.leftover.push_back(good.original[g]);
    return plan;
}

} // namespace ingot
