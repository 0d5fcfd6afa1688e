#include "core/build/heat_places.h"

#include "core/build/pack_heat.h"

#include <Eigen/SparseCholesky>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <stdexcept>

namespace ingot {

namespace {

// Heat that a free side gives to the air, beside what a neighbour takes. Only the order of places hangs on it.
constexpr double side_to_air = 0.25;
constexpr double end_to_air = 0.02;
constexpr double alike = 1e-6; // warmth that is the same by symmetry

std::vector<std::size_t> sorted(std::size_t count, const auto& before) {
    std::vector<std::size_t> order(count);
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), before);
    return order;
}

std::vector<std::size_t> ranks_in(const std::vector<std::size_t>& order) {
    std::vector<std::size_t> out(order.size());
    for (std::size_t r = 0; r < order.size(); ++r)
        out[order[r]] = r;
    return out;
}

} // namespace

std::vector<double> warmth_of_places(const std::vector<std::array<double, 2>>& centres_m, double pitch_m) {
    if (!(pitch_m > 0))
        throw std::invalid_argument("warmth_of_places: the pitch must be positive");
    const auto n = static_cast<Eigen::Index>(centres_m.size());
    std::vector<Eigen::Triplet<double>> entries;
    std::vector<int> neighbours(centres_m.size(), 0);
    for (const auto& [a, b] : neighbours_of(centres_m, pitch_m)) {
        ++neighbours[a];
        ++neighbours[b];
        entries.emplace_back(static_cast<int>(a), static_cast<int>(b), -1.0);
        entries.emplace_back(static_cast<int>(b), static_cast<int>(a), -1.0);
    }
    const int sides = sides_of(neighbours);
    for (std::size_t i = 0; i < centres_m.size(); ++i)
        entries.emplace_back(static_cast<int>(i), static_cast<int>(i),
                             neighbours[i] + side_to_air * std::max(0, sides - neighbours[i]) + end_to_air);
    Eigen::SparseMatrix<double> system(n, n);
    system.setFromTriplets(entries.begin(), entries.end());
    const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(system);
    const Eigen::VectorXd warm = solver.solve(Eigen::VectorXd::Ones(n));
    std::vector<double> out(centres_m.size(), 0);
    if (n == 0 || warm.maxCoeff() - warm.minCoeff() < alike)
        return out;
    for (Eigen::Index i = 0; i < n; ++i)
        out[static_cast<std::size_t>(i)] = (warm[i] - warm.minCoeff()) / (warm.maxCoeff() - warm.minCoeff());
    return out;
}

std::vector<std::vector<Seat>> seats_by_heat(const std::vector<std::vector<HeatUnit>>& groups,
                                             const std::vector<std::vector<double>>& warmth) {
    if (groups.size() != warmth.size())
        throw std::invalid_argument("seats_by_heat: groups and places differ");
    std::vector<double> holds(groups.size(), 0), warm(groups.size(), 0);
    for (std::size_t g = 0; g < groups.size(); ++g) {
        if (groups[g].size() != warmth[g].size() || groups[g].size() != groups.front().size())
            throw std::invalid_argument("seats_by_heat: a group and its places differ");
        for (std::size_t k = 0; k < groups[g].size(); ++k) {
            holds[g] += groups[g][k].capacity_ah;
            warm[g] += warmth[g][k] / static_cast<double>(groups[g].size());
        }
    }
    const auto warmest = sorted(groups.size(), [&](std::size_t a, std::size_t b) { return warm[a] > warm[b] + alike; });
    const auto rank = ranks_in(warmest);
    const auto strongest = sorted(groups.size(), [&](std::size_t a, std::size_t b) {
        return holds[a] != holds[b] ? holds[a] > holds[b] : rank[a] < rank[b];
    });
    std::vector<std::vector<Seat>> out(groups.size());
    for (std::size_t r = 0; r < groups.size(); ++r) {
        const std::size_t to = warmest[r];
        const std::size_t from = strongest[r];
        const std::vector<HeatUnit>& units = groups[from];
        const auto cool =
            sorted(units.size(), [&](std::size_t a, std::size_t b) { return warmth[to][a] < warmth[to][b] - alike; });
        const auto cool_rank = ranks_in(cool);
        std::vector<std::size_t> order(units.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        const bool known =
            std::all_of(units.begin(), units.end(), [](const HeatUnit& u) { return u.conductance_s > 0; });
        if (known)
            order = sorted(units.size(), [&](std::size_t a, std::size_t b) {
                return units[a].conductance_s != units[b].conductance_s
                           ? units[a].conductance_s > units[b].conductance_s
                           : cool_rank[a] < cool_rank[b];
            });
        out[to].resize(units.size());
        for (std::size_t k = 0; k < units.size(); ++k)
            out[to][known ? cool[k] : k] = {from, order[k]};
    }
    return out;
}

} // namespace ingot
