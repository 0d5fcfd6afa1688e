#include "core/build/pack_heat.h"

#include <Eigen/SparseCholesky>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ingot {

namespace {

constexpr double specific_heat_j_per_kg_k = 900;
constexpr double still_air_w_per_m_k = 0.026;
constexpr double to_room_w_per_m2_k = 5;
constexpr double least_gap_share = 0.01; // sleeves keep cells that touch so far apart

Problem out_of_range(const char* what) {
    return {"", 0, said("{} must be over 0.", what)};
}

} // namespace

std::vector<std::pair<std::size_t, std::size_t>> neighbours_of(const std::vector<std::array<double, 2>>& centres_m,
                                                               double pitch_m) {
    constexpr double reach = 1.25;
    std::vector<std::pair<std::size_t, std::size_t>> out;
    for (std::size_t a = 0; a < centres_m.size(); ++a)
        for (std::size_t b = a + 1; b < centres_m.size(); ++b)
            if (std::hypot(centres_m[a][0] - centres_m[b][0], centres_m[a][1] - centres_m[b][1]) < reach * pitch_m)
                out.emplace_back(a, b);
    return out;
}

int sides_of(const std::vector<int>& neighbours) {
    constexpr int square_sides = 4;
    constexpr int staggered_sides = 6;
    return std::any_of(neighbours.begin(), neighbours.end(), [](int count) { return count > square_sides; })
               ? staggered_sides
               : square_sides;
}

double to_air_w_per_k(double diameter_m, double height_m, double free_share) {
    const double side = std::numbers::pi * diameter_m * height_m;
    const double ends = std::numbers::pi / 2 * diameter_m * diameter_m; // both of them
    return to_room_w_per_m2_k * (side * free_share + ends);
}

double to_neighbour_w_per_k(double diameter_m, double height_m, double pitch_m) {
    const double apart = std::max(pitch_m / diameter_m, 1 + least_gap_share);
    return still_air_w_per_m_k * 2 * std::numbers::pi * height_m / std::acosh(2 * apart * apart - 1);
}

Result<PackWarmth> warm_pack(const HeatedPack& pack) {
    const std::size_t n = pack.centres_m.size();
    if (n == 0 || pack.heat_w.size() != n)
        return Problem{"", 0, said("Every cell of the pack needs a place and a loss.")};
    if (!(pack.diameter_m > 0) || !(pack.height_m > 0))
        return out_of_range("A cell's diameter and height");
    if (!(pack.pitch_m >= pack.diameter_m))
        return Problem{"", 0, said("The pitch cannot be less than a cell's diameter.")};
    if (!(pack.cell_mass_kg > 0))
        return out_of_range("A cell's mass");
    if (!(pack.duration_s > 0))
        return out_of_range("The load's duration");
    if (std::any_of(pack.heat_w.begin(), pack.heat_w.end(), [](double w) { return !(w >= 0); }))
        return Problem{"", 0, said("A cell's loss cannot be negative.")};

    const auto pairs = neighbours_of(pack.centres_m, pack.pitch_m);
    std::vector<int> neighbours(n, 0);
    for (const auto& [a, b] : pairs) {
        ++neighbours[a];
        ++neighbours[b];
    }
    const int sides = sides_of(neighbours);
    const double across = to_neighbour_w_per_k(pack.diameter_m, pack.height_m, pack.pitch_m);
    std::vector<double> diagonal(n);
    for (std::size_t i = 0; i < n; ++i) {
        const double free_share = static_cast<double>(std::max(0, sides - neighbours[i])) / sides;
        diagonal[i] = to_air_w_per_k(pack.diameter_m, pack.height_m, free_share) + neighbours[i] * across;
    }

    // C dT/dt = q - G T by the trapezoidal rule: (2 C / h + G) T' = (2 C / h - G) T + 2 q.
    constexpr int steps = 200;
    const double per_step = 2 * pack.cell_mass_kg * specific_heat_j_per_kg_k / (pack.duration_s / steps);
    const auto matrix = [&](double sign, double on_diagonal) {
        std::vector<Eigen::Triplet<double>> entries;
        entries.reserve(n + 2 * pairs.size());
        for (std::size_t i = 0; i < n; ++i)
            entries.emplace_back(static_cast<int>(i), static_cast<int>(i), on_diagonal + sign * diagonal[i]);
        for (const auto& [a, b] : pairs) {
            entries.emplace_back(static_cast<int>(a), static_cast<int>(b), -sign * across);
            entries.emplace_back(static_cast<int>(b), static_cast<int>(a), -sign * across);
        }
        Eigen::SparseMatrix<double> out(static_cast<Eigen::Index>(n), static_cast<Eigen::Index>(n));
        out.setFromTriplets(entries.begin(), entries.end());
        return out;
    };
    const Eigen::Map<const Eigen::VectorXd> heat(pack.heat_w.data(), static_cast<Eigen::Index>(n));
    const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> ahead(matrix(1, per_step));
    const Eigen::SparseMatrix<double> behind = matrix(-1, per_step);
    Eigen::VectorXd warm = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(n));
    for (int s = 0; s < steps; ++s)
        warm = ahead.solve(behind * warm + 2 * heat).eval();

    PackWarmth out;
    out.warmer_k.assign(warm.begin(), warm.end());
    const auto [least, most] = std::minmax_element(out.warmer_k.begin(), out.warmer_k.end());
    out.coolest = static_cast<std::size_t>(least - out.warmer_k.begin());
    out.hottest = static_cast<std::size_t>(most - out.warmer_k.begin());
    const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> for_ever(matrix(1, 0));
    out.steady_k = for_ever.solve(heat).maxCoeff();
    return out;
}

} // namespace ingot
