#include "core/donors/group_flow.h"

#include <lemon/network_simplex.h>
#include <lemon/smart_graph.h>

#include <numeric>

namespace ingot::donors_detail {

namespace {

struct Offer {
    int row, column, cost;
};

// The row that serves each column, at least cost in all: row r serves exactly demand[r] columns, the columns left over
// go to no row (-1). Nothing where the rows cannot all be served. A transportation problem, by the network simplex.
std::optional<std::vector<int>> cheapest_service(const std::vector<int>& demand, int columns,
                                                 const std::vector<Offer>& offers) {
    lemon::SmartDigraph graph;
    const int rows = static_cast<int>(demand.size());
    const int left_over = columns - std::accumulate(demand.begin(), demand.end(), 0);
    if (left_over < 0)
        return std::nullopt;
    graph.reserveNode(rows + columns + 1);
    graph.reserveArc(static_cast<int>(offers.size()) + columns);
    for (int n = 0; n < rows + columns + 1; ++n)
        graph.addNode();
    const auto row_node = [&](int r) { return lemon::SmartDigraph::nodeFromId(r); };
    const auto column_node = [&](int c) { return lemon::SmartDigraph::nodeFromId(rows + c); };
    const auto nobody = lemon::SmartDigraph::nodeFromId(rows + columns);
    lemon::SmartDigraph::NodeMap<int> supply(graph, -1);
    for (int r = 0; r < rows; ++r)
        supply[row_node(r)] = demand[static_cast<std::size_t>(r)];
    supply[nobody] = left_over;
    lemon::SmartDigraph::ArcMap<int> cost(graph, 0);
    for (const Offer& offer : offers)
        cost[graph.addArc(row_node(offer.row), column_node(offer.column))] = offer.cost;
    for (int c = 0; c < columns; ++c)
        graph.addArc(nobody, column_node(c));
    lemon::NetworkSimplex<lemon::SmartDigraph, int> simplex(graph);
    if (simplex.supplyMap(supply).costMap(cost).run() != decltype(simplex)::OPTIMAL)
        return std::nullopt;
    std::vector<int> row_of(static_cast<std::size_t>(columns), -1);
    for (std::size_t i = 0; i < offers.size(); ++i)
        if (simplex.flow(lemon::SmartDigraph::arcFromId(static_cast<int>(i))) > 0)
            row_of[static_cast<std::size_t>(offers[i].column)] = offers[i].row;
    return row_of;
}

} // namespace

std::optional<std::vector<int>> GroupFlow::fill(const std::vector<const Set*>& slots,
                                                const std::vector<int>& host) const {
    std::vector<Offer> offers;
    for (std::size_t s = 0; s < slots.size(); ++s)
        for (auto g = slots[s]->find_first(); g != Set::npos; g = slots[s]->find_next(g))
            offers.push_back({static_cast<int>(s), static_cast<int>(g), host[s] == good_.pack[g] ? 0 : 1});
    return cheapest_service(std::vector<int>(slots.size(), series_), good_.size(), offers);
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

std::vector<int> best_assignment(const std::vector<std::vector<int>>& weight) {
    const auto rows = weight.size();
    const auto columns = rows == 0 ? 0 : weight.front().size();
    std::vector<Offer> offers;
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < columns; ++c)
            offers.push_back({static_cast<int>(r), static_cast<int>(c), -weight[r][c]});
    const auto row_of = cheapest_service(std::vector<int>(rows, 1), static_cast<int>(columns), offers);
    std::vector<int> out(rows, -1);
    for (std::size_t c = 0; row_of && c < columns; ++c)
        if ((*row_of)[c] >= 0)
            out[static_cast<std::size_t>((*row_of)[c])] = static_cast<int>(c);
    return out;
}

} // namespace ingot::donors_detail
