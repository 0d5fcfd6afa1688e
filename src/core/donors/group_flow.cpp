#include "core/donors/group_flow.h"

#include <limits>

namespace ingot::donors_detail {

int GroupFlow::cost(int group, int slot, const std::vector<int>& host) const {
    return host[static_cast<std::size_t>(slot)] == good_.pack[static_cast<std::size_t>(group)] ? 0 : 1;
}

std::optional<std::vector<int>> GroupFlow::fill(const std::vector<const Set*>& slots, const std::vector<int>& host) {
    const int n = good_.size();
    const int k = static_cast<int>(slots.size());
    std::vector<int> slot_of(static_cast<std::size_t>(n), -1);
    std::vector<int> held(static_cast<std::size_t>(k), 0);
    // Own groups first: they cost nothing.
    for (int g = 0; g < n; ++g)
        for (int s = 0; s < k; ++s)
            if (cost(g, s, host) == 0 && slots[static_cast<std::size_t>(s)]->test(static_cast<std::size_t>(g)) &&
                held[static_cast<std::size_t>(s)] < series_) {
                slot_of[static_cast<std::size_t>(g)] = s;
                ++held[static_cast<std::size_t>(s)];
                break;
            }
    for (int s = 0; s < k; ++s)
        while (held[static_cast<std::size_t>(s)] < series_)
            if (!augment(s, slots, slot_of, held, host))
                return std::nullopt;
    return slot_of;
}

bool GroupFlow::extend(const std::vector<const Set*>& slots, std::vector<int>& slot_of) const {
    const auto s = slots.size() - 1;
    std::vector<int> tried = slot_of;
    for (int i = 0; i < series_; ++i)
        if (!reach(s, slots, tried))
            return false;
    slot_of = std::move(tried);
    return true;
}

bool GroupFlow::reach(std::size_t s, const std::vector<const Set*>& slots, std::vector<int>& slot_of) const {
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

bool GroupFlow::augment(int s, const std::vector<const Set*>& slots, std::vector<int>& slot_of, std::vector<int>& held,
                        const std::vector<int>& host) {
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
                const int d = distance[static_cast<std::size_t>(t)] + cost(g, t, host) - cost(g, owner, host);
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
                    distance[static_cast<std::size_t>(t)] + cost(g, t, host) < best) {
                    best = distance[static_cast<std::size_t>(t)] + cost(g, t, host);
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

} // namespace ingot::donors_detail
