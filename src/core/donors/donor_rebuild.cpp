// Large shops: a few neighbouring packs of the plan are broken up, and more are put together from their groups.
#include "core/donors/donor_search.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ingot::donors_detail {

bool DonorSearch::in(const Window& w, std::size_t g) const {
    return (!windows_.one_model || good_.model[g] == w.model) && inside(good_.volts[g], w.volts, windows_.volts) &&
           inside(good_.log_capacity[g], w.log_capacity, windows_.log_capacity);
}

Set DonorSearch::set_of(const Window& w) const {
    Set set(static_cast<std::size_t>(good_.size()));
    for (std::size_t g = 0; g < set.size(); ++g)
        if (in(w, g))
            set.set(g);
    return set;
}

double DonorSearch::capacity_or_middle(std::size_t g) const {
    return std::isnan(good_.log_capacity[g]) ? 0 : good_.log_capacity[g];
}

std::optional<DonorSearch::Window> DonorSearch::window_around(std::size_t g, const std::vector<std::size_t>& free) {
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
            if (std::isfinite(windows_.log_capacity) && !std::isnan(good_.log_capacity[g]) && c > good_.log_capacity[g])
                continue;
            const Window w{v, c, good_.model[g]};
            const auto count = std::count_if(near.begin(), near.end(), [&](std::size_t o) { return in(w, o); });
            constexpr int loosening = 4; // so that not always the same window is tightest
            const long key = count + random_.below(loosening);
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

void DonorSearch::put_together(std::vector<std::size_t>& free, std::vector<Window>& slots, std::vector<int>& slot_of) {
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
        order.emplace_back(edge(g) + random_.below(3), g);
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

void DonorSearch::slide(Window& w, int slot, const std::vector<int>& slot_of) {
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
    const auto share = [&] { return random_.unit(); };
    if (std::isfinite(windows_.volts))
        w.volts = low_v - share() * (windows_.volts - (high_v - low_v));
    if (std::isfinite(windows_.log_capacity) && high_c >= low_c)
        w.log_capacity = low_c - share() * (windows_.log_capacity - (high_c - low_c));
}

namespace {

std::vector<const Set*> pointers_to(const std::vector<Set>& sets) {
    std::vector<const Set*> pointers;
    pointers.reserve(sets.size());
    for (const Set& set : sets)
        pointers.push_back(&set);
    return pointers;
}

} // namespace

std::vector<Set> DonorSearch::sets_of(const std::vector<Window>& slots) const {
    std::vector<Set> sets;
    sets.reserve(slots.size() + 1);
    for (const Window& w : slots)
        sets.push_back(set_of(w));
    return sets;
}

bool DonorSearch::make_room_around(std::size_t odd, std::vector<Window>& slots, std::vector<int>& slot_of) {
    std::vector<std::size_t> all(slot_of.size());
    std::iota(all.begin(), all.end(), 0);
    for (std::size_t s = 0; s < slots.size(); ++s)
        slide(slots[s], static_cast<int>(s), slot_of);
    const auto window = window_around(odd, all);
    if (!window)
        return false;
    std::vector<Set> sets = sets_of(slots);
    sets.push_back(set_of(*window));
    if (!flow_.extend(pointers_to(sets), slot_of))
        return false;
    slots.push_back(*window);
    return true;
}

// The packs nearest to a group that is left over; with some chance in it.
std::vector<bool> DonorSearch::near_packs(std::size_t odd, const std::vector<Window>& slots) {
    std::vector<std::pair<double, int>> near;
    for (std::size_t s = 0; s < slots.size(); ++s) {
        if (windows_.one_model && slots[s].model != good_.model[odd])
            continue;
        double distance = 0.5 * random_.unit();
        if (std::isfinite(windows_.volts))
            distance += std::fabs(slots[s].volts + windows_.volts / 2 - good_.volts[odd]) / windows_.volts;
        if (std::isfinite(windows_.log_capacity))
            distance += std::fabs(slots[s].log_capacity + windows_.log_capacity / 2 - capacity_or_middle(odd)) /
                        windows_.log_capacity;
        near.emplace_back(distance, static_cast<int>(s));
    }
    std::sort(near.begin(), near.end());
    near.resize(std::min<std::size_t>(near.size(), static_cast<std::size_t>(2 + random_.below(5))));
    std::vector<bool> broken(slots.size(), false);
    for (const auto& [distance, s] : near)
        broken[static_cast<std::size_t>(s)] = true;
    return broken;
}

void DonorSearch::break_up(const std::vector<bool>& broken, std::vector<Window>& slots, std::vector<int>& slot_of) {
    std::vector<Window> kept;
    std::vector<int> renamed(slots.size(), -1);
    for (std::size_t s = 0; s < slots.size(); ++s)
        if (!broken[s]) {
            renamed[s] = static_cast<int>(kept.size());
            kept.push_back(slots[s]);
        }
    std::vector<int> tried(slot_of.size(), -1);
    std::vector<std::size_t> free;
    for (std::size_t g = 0; g < slot_of.size(); ++g) {
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

void DonorSearch::rebuild_parts() {
    std::vector<Window> slots;
    std::vector<int> slot_of(static_cast<std::size_t>(good_.size()), -1);
    std::vector<std::size_t> free(slot_of.size());
    std::iota(free.begin(), free.end(), 0);
    put_together(free, slots, slot_of);
    constexpr int most_rounds = 40000;
    for (int round = 0; round < most_rounds && static_cast<int>(slots.size()) < most_; ++round) {
        if (observer_ && !observer_())
            break;
        free.clear();
        for (std::size_t g = 0; g < slot_of.size(); ++g)
            if (slot_of[g] < 0)
                free.push_back(g);
        if (static_cast<int>(free.size()) < series_)
            break;
        // First, whether the others can make room around a group that is left over.
        const std::size_t odd = free[static_cast<std::size_t>(random_.below(static_cast<int>(free.size())))];
        if (!make_room_around(odd, slots, slot_of))
            break_up(near_packs(odd, slots), slots, slot_of);
    }
    if (static_cast<int>(slots.size()) > best_.packs() && static_cast<int>(slots.size()) <= packs_.hosts())
        settle_in(slots, std::move(slot_of));
}

// Each put-together pack gets the case of the pack that it shares most groups with.
void DonorSearch::settle_in(const std::vector<Window>& slots, std::vector<int> slot_of) {
    const std::vector<Set> sets = sets_of(slots);
    std::vector<std::vector<int>> weight(slots.size(), std::vector<int>(packs_.names.size(), 0));
    for (std::size_t s = 0; s < slots.size(); ++s)
        for (std::size_t g = 0; g < slot_of.size(); ++g)
            if (sets[s].test(g))
                weight[s][static_cast<std::size_t>(good_.pack[g])] += 1;
    Choice made;
    made.host = hosts_for(weight);
    auto filled = flow_.fill(pointers_to(sets), made.host);
    made.slot_of = filled ? std::move(*filled) : std::move(slot_of);
    count_moves(made);
    best_ = std::move(made);
}

} // namespace ingot::donors_detail
