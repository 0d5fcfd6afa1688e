#include "core/donors/donor_search.h"

#include <algorithm>
#include <functional>
#include <numeric>

namespace ingot::donors_detail {

DonorSearch::DonorSearch(const Good& good, const Packs& packs, int series, const Windows& windows,
                         const DonorObserver& observer)
    : good_(good), packs_(packs), series_(series), windows_(windows), observer_(observer), flow_(good, series) {
    sets_ = maximal_sets(good, windows, series, sets_complete_);
    own_.assign(sets_.size(), std::vector<int>(packs.names.size(), 0));
    for (std::size_t b = 0; b < sets_.size(); ++b) {
        for (int g = 0; g < good.size(); ++g)
            if (sets_[b].test(static_cast<std::size_t>(g)))
                ++own_[b][static_cast<std::size_t>(good.pack[static_cast<std::size_t>(g)])];
        for (std::size_t p = 0; p < own_[b].size(); ++p) // what is not rebuilt keeps nothing
            own_[b][p] = packs.host[p] != 0 ? std::min(own_[b][p], series) : 0;
    }
}

int DonorSearch::most_first(int count) const {
    int wanted = 0;
    for (std::size_t p = 0; p < packs_.names.size(); ++p)
        wanted += packs_.first[p] != 0 && packs_.host[p] != 0 ? 1 : 0;
    return std::min(wanted, count);
}

std::vector<int> DonorSearch::hosts_for(std::vector<std::vector<int>> kept) const {
    const int rows = static_cast<int>(kept.size());
    const int above_all_that_is_kept = rows * series_ + 1;
    for (auto& row : kept)
        for (std::size_t p = 0; p < row.size(); ++p)
            row[p] += packs_.host[p] == 0    ? -(rows + 1) * above_all_that_is_kept
                      : packs_.first[p] != 0 ? above_all_that_is_kept
                                             : 0;
    return best_assignment(kept);
}

void DonorSearch::count_moves(Choice& made) const {
    made.moved = made.first = 0;
    for (const int host : made.host)
        made.first += packs_.first[static_cast<std::size_t>(host)];
    for (std::size_t g = 0; g < made.slot_of.size(); ++g)
        if (made.slot_of[g] >= 0)
            made.moved += made.host[static_cast<std::size_t>(made.slot_of[g])] != good_.pack[g];
}

Choice DonorSearch::run(bool& proved) {
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
    if (!proved && sets_complete_ && best_.packs() == most_ && best_.moved == least_moved(best_.packs()) &&
        best_.first == most_first(best_.packs()))
        proved = true;
    return best_;
}

int DonorSearch::most_possible() const {
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
    return std::min(most, packs_.hosts());
}

int DonorSearch::least_moved(int count) const {
    std::vector<int> kept(packs_.names.size(), 0);
    for (const auto& own : own_)
        for (std::size_t p = 0; p < kept.size(); ++p)
            kept[p] = std::max(kept[p], own[p]);
    std::sort(kept.begin(), kept.end(), std::greater<>());
    return count * series_ - std::accumulate(kept.begin(), kept.begin() + count, 0);
}

void DonorSearch::offer(const std::vector<std::size_t>& chosen) {
    std::vector<const Set*> slots;
    std::vector<std::vector<int>> weight;
    for (const std::size_t b : chosen) {
        slots.push_back(&sets_[b]);
        weight.push_back(own_[b]);
    }
    if (static_cast<int>(chosen.size()) > packs_.hosts())
        return;
    const auto host = hosts_for(weight);
    int kept = 0;
    for (std::size_t s = 0; s < chosen.size(); ++s)
        kept += weight[s][static_cast<std::size_t>(host[s])];
    const int count = static_cast<int>(chosen.size());
    const int at_least = count * series_ - kept;
    if (count == best_.packs() && at_least >= best_.moved && best_.first >= most_first(count))
        return;
    auto filled = flow_.fill(slots, host);
    if (!filled)
        return;
    Choice made;
    made.host = host;
    made.slot_of = std::move(*filled);
    count_moves(made);
    if (made.moved > at_least) // another assignment might do better with these sets: not proved
        proved_ = false;
    if (made.better_than(best_))
        best_ = std::move(made);
}

void DonorSearch::descend(std::vector<std::size_t>& chosen, const std::vector<int>& filled, std::size_t from,
                          int most) {
    if (++nodes_ >= most_nodes || stopped_)
        return;
    if (observer_ && nodes_ % 256 == 0 && !observer_()) {
        stopped_ = true;
        return;
    }
    if (best_.packs() == most && best_.moved <= least_moved(most) && best_.first >= most_first(most))
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
        if (best_.packs() == most && most * series_ - most_kept(chosen, b, most) >= best_.moved &&
            best_.first >= most_first(most)) {
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

bool DonorSearch::feasible(const std::vector<std::size_t>& chosen, std::vector<int>& filled) const {
    std::vector<const Set*> slots;
    slots.reserve(chosen.size());
    for (const std::size_t b : chosen)
        slots.push_back(&sets_[b]);
    return flow_.extend(slots, filled);
}

int DonorSearch::most_kept(const std::vector<std::size_t>& chosen, std::size_t from, int count) {
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

int DonorSearch::reachable(const std::vector<std::size_t>& chosen, std::size_t from) {
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

void DonorSearch::keep_most() {
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
            if (packs_.host[p] == 0)
                break;
            chosen.push_back(b);
            if (feasible(chosen, filled))
                break;
            chosen.pop_back();
        }
    int tried = 0;
    for (std::size_t b = 0; b < sets_.size() && ++tried <= most_tried; ++b) {
        if (static_cast<int>(chosen.size()) >= packs_.hosts())
            break;
        chosen.push_back(b);
        if (!feasible(chosen, filled))
            chosen.pop_back();
    }
    std::sort(chosen.begin(), chosen.end());
    if (!chosen.empty())
        offer(chosen);
}

void DonorSearch::greedy() {
    constexpr int rounds = 60;
    for (int round = 0; round < rounds && !sets_.empty(); ++round) {
        if (observer_ && !observer_())
            return;
        std::vector<std::size_t> order(sets_.size());
        std::iota(order.begin(), order.end(), 0);
        if (round > 0)
            for (std::size_t i = order.size(); i > 1; --i)
                std::swap(order[i - 1], order[static_cast<std::size_t>(random_.below(static_cast<int>(i)))]);
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
                static_cast<int>(fitting.size()) >= packs_.hosts() || ++tried > most_tried ||
                (observer_ && !observer_()))
                break;
            add(b);
        }
        std::sort(fitting.begin(), fitting.end());
        if (!fitting.empty() && static_cast<int>(fitting.size()) >= best_.packs())
            offer(fitting);
    }
}

} // namespace ingot::donors_detail
