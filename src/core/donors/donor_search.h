// Inside the donor plan: which sets of groups are chosen when windows restrict what may stand together.
#pragma once

#include "core/cells/random.h"
#include "core/donors/donors.h"
#include "core/donors/group_flow.h"

#include <limits>
#include <optional>
#include <vector>

namespace ingot::donors_detail {

// A plan inside the search: which slot and which pack.
struct Choice {
    std::vector<int> host;    // of each slot
    std::vector<int> slot_of; // of each good group
    int moved = std::numeric_limits<int>::max();
    int first = 0; // hosts that are wanted first
    [[nodiscard]] int packs() const { return static_cast<int>(host.size()); }
    [[nodiscard]] bool better_than(const Choice& other) const {
        return packs() != other.packs() ? packs() > other.packs()
               : first != other.first   ? first > other.first
                                        : moved < other.moved;
    }
};

// Exact by depth-first search with bounds in small shops, the best found in large ones.
class DonorSearch {
public:
    DonorSearch(const Good& good, const Packs& packs, int series, const Windows& windows,
                const DonorObserver& observer);

    Choice run(bool& proved);

private:
    static constexpr long most_nodes = 400000;
    static constexpr int most_tried = 400;

    // No more than the good groups of each connected family of sets allow.
    int most_possible() const;

    // Fewer moves than this cannot be, whatever the sets: the packs that can keep most of their own groups.
    int least_moved(int count) const;
    // As many hosts that are wanted first as there can be among so many.
    int most_first(int count) const;
    // Packs for sets, by what they can keep: those that may not be rebuilt never, those that are wanted first before.
    [[nodiscard]] std::vector<int> hosts_for(std::vector<std::vector<int>> kept) const;
    void count_moves(Choice& made) const;

    void offer(const std::vector<std::size_t>& chosen);

    // Multisets of sets in rising order.
    void descend(std::vector<std::size_t>& chosen, const std::vector<int>& filled, std::size_t from, int most);

    // `filled`: of the sets before the last.
    bool feasible(const std::vector<std::size_t>& chosen, std::vector<int>& filled) const;

    // Groups that can stay where they are, at most, when sets from `from` on are added up to `count`.
    int most_kept(const std::vector<std::size_t>& chosen, std::size_t from, int count);

    // Packs in all that the chosen sets and the sets from `from` on could make at most.
    int reachable(const std::vector<std::size_t>& chosen, std::size_t from);

    // Packs that can keep most of their own groups first, each in the window that keeps them; then whatever else fits.
    void keep_most();

    // Large shops: break a few neighbouring packs of the plan up and put more together from their groups
    // (donor_rebuild.cpp).

    struct Window {
        double volts = 0, log_capacity = 0; // lower edges
        int model = 0;
    };
    [[nodiscard]] bool in(const Window& w, std::size_t g) const;
    [[nodiscard]] Set set_of(const Window& w) const;
    [[nodiscard]] double capacity_or_middle(std::size_t g) const;

    // A window around `g` that holds at least a pack's worth of `free`, as tight as the draw allows; nothing where
    // there is none.
    std::optional<Window> window_around(std::size_t g, const std::vector<std::size_t>& free);

    // Packs put together from `free`, hardest groups first. Takes what it uses out of `free`.
    void put_together(std::vector<std::size_t>& free, std::vector<Window>& slots, std::vector<int>& slot_of);

    // The edges of a slot's window may slide as long as its own groups stay inside.
    void slide(Window& w, int slot, const std::vector<int>& slot_of);

    void rebuild_parts();
    [[nodiscard]] std::vector<Set> sets_of(const std::vector<Window>& slots) const;
    bool make_room_around(std::size_t odd, std::vector<Window>& slots, std::vector<int>& slot_of);
    [[nodiscard]] std::vector<bool> near_packs(std::size_t odd, const std::vector<Window>& slots);
    void break_up(const std::vector<bool>& broken, std::vector<Window>& slots, std::vector<int>& slot_of);
    void settle_in(const std::vector<Window>& slots, std::vector<int> slot_of);

    // Many quick plans: the set that has fewest groups to spare goes first, in several orders.
    void greedy();

    const Good& good_;
    const Packs& packs_;
    int series_;
    Windows windows_;
    const DonorObserver& observer_;
    GroupFlow flow_;
    std::vector<Set> sets_, suffix_;
    std::vector<std::vector<int>> kept_from_; // running sums, best packs first
    std::vector<std::vector<int>> own_;       // groups of each pack in each set
    bool sets_complete_ = true;
    bool proved_ = true;
    bool stopped_ = false;
    int most_ = 0;
    long nodes_ = 0;
    Random random_{1};
    Choice best_;
};

} // namespace ingot::donors_detail
