// Inside the donor plan: giving each chosen set its groups (a flow), and each set its pack (an assignment).
#pragma once

#include "core/donors/joining_sets.h"

#include <optional>
#include <vector>

namespace ingot::donors_detail {

// Groups to slots, each slot taking `series` of the groups in its set; cheapest in groups that leave their pack.
class GroupFlow {
public:
    GroupFlow(const Good& good, int series) : good_(good), series_(series) {}

    // Slot of each group, -1 for none; nothing where the slots cannot all be filled. `host`: pack of each slot, or -1.
    std::optional<std::vector<int>> fill(const std::vector<const Set*>& slots, const std::vector<int>& host) const;

    // Room for one more slot, at any cost? Changes `slot_of` only when there is. Goes on from the flow it is given, by
    // augmenting paths: the search asks this at every node, and a library's solver would begin anew each time.
    bool extend(const std::vector<const Set*>& slots, std::vector<int>& slot_of) const;

private:
    bool reach(std::size_t s, const std::vector<const Set*>& slots, std::vector<int>& slot_of) const;

    const Good& good_;
    int series_;
};

// Largest total weight of a matching of rows to distinct columns (rows <= columns). Returns the column of each row.
[[nodiscard]] std::vector<int> best_assignment(const std::vector<std::vector<int>>& weight);

} // namespace ingot::donors_detail
