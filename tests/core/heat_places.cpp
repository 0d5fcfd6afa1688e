// Who stands in the warm middle. The rules (strongest group in the middle, least ohms outside) are common practice, no
// source; that the seats are the best for the warmth is checked by trying every order.
#include "core/build/heat_places.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <random>
#include <set>

using namespace ingot;

namespace {

std::vector<std::array<double, 2>> grid(int columns, int rows, double pitch = 0.02, bool staggered = false) {
    std::vector<std::array<double, 2>> out;
    for (int r = 0; r < rows; ++r)
        for (int c = 0; c < columns; ++c)
            out.push_back(
                {(c + (staggered && r % 2 == 1 ? 0.5 : 0)) * pitch, r * pitch * (staggered ? std::sqrt(3.0) / 2 : 1)});
    return out;
}

} // namespace

TEST_CASE("The middle is warmest, corners are coolest, and mirror images are alike") {
    const auto square = warmth_of_places(grid(3, 3), 0.02);
    CHECK(square[4] == 1);
    for (const int corner : {0, 2, 6, 8})
        CHECK(square[static_cast<std::size_t>(corner)] == Approx(0).margin(1e-9));
    CHECK(square[1] > 0);
    CHECK(square[1] < 1);
    CHECK(square[1] == Approx(square[7]));
    const auto row = warmth_of_places(grid(28, 1), 0.02);
    for (std::size_t i = 0; i < 14; ++i) {
        CHECK(row[i] == Approx(row[27 - i]));
        if (i > 0)
            CHECK(row[i] > row[i - 1]);
    }
    const auto staggered = warmth_of_places(grid(5, 5, 0.02, true), 0.02);
    CHECK(std::max_element(staggered.begin(), staggered.end()) - staggered.begin() == 12);
    for (const double alone : warmth_of_places({{0, 0}}, 0.02))
        CHECK(alone == 0);
    for (const double apart : warmth_of_places(grid(3, 1, 0.2), 0.02)) // nobody touches anybody
        CHECK(apart == 0);
    CHECK_THROWS_AS(warmth_of_places({{0, 0}}, 0), std::invalid_argument);
}

TEST_CASE("A ring of heat: what the cells make is what the free sides give away") {
    // Of a long row the middle has two free sides: its warmth over the air is q / (2 h) in the limit, the end's less by
    // the decay exp(-x / L); the ratio of neighbouring differences is then constant. Closed form of a fin, a
    // textbook's.
    const auto row = warmth_of_places(grid(60, 1), 0.02);
    const double loss = 2 * 0.25 + 0.02; // per cell, against a neighbour's 1
    const double root = (2 + loss - std::sqrt((2 + loss) * (2 + loss) - 4)) / 2;
    for (std::size_t i = 1; i < 8; ++i)
        CHECK((row[i + 1] - row[i]) / (row[i] - row[i - 1]) == Approx(root).epsilon(1e-3));
}

TEST_CASE("Strongest groups at the warm places, least ohms at the cool ones: no order is better") {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> chance(0, 1);
        constexpr std::size_t series = 5;
        constexpr std::size_t parallel = 4;
        std::vector<std::vector<HeatUnit>> groups(series);
        std::vector<std::vector<double>> warmth(series);
        for (std::size_t g = 0; g < series; ++g)
            for (std::size_t k = 0; k < parallel; ++k) {
                groups[g].push_back({2 + chance(random), 20 + 10 * chance(random)});
                warmth[g].push_back(chance(random));
            }
        const auto seats = seats_by_heat(groups, warmth);
        std::set<std::pair<std::size_t, std::size_t>> seen;
        std::vector<double> warm, holds, placed;
        for (std::size_t g = 0; g < series; ++g) {
            double mean = 0, own = 0, heat = 0;
            std::vector<double> conductance;
            for (std::size_t k = 0; k < parallel; ++k) {
                const Seat& seat = seats[g][k];
                CHECK(seat.group == seats[g].front().group); // a group stays together
                CHECK(seen.insert({seat.group, seat.unit}).second);
                mean += warmth[g][k];
                own += groups[seat.group][seat.unit].capacity_ah;
                heat += groups[seat.group][seat.unit].conductance_s * warmth[g][k];
                conductance.push_back(groups[seat.group][seat.unit].conductance_s);
            }
            warm.push_back(mean);
            holds.push_back(own);
            std::sort(conductance.begin(), conductance.end());
            do {
                double other = 0;
                for (std::size_t k = 0; k < parallel; ++k)
                    other += conductance[k] * warmth[g][k];
                CHECK(heat <= other + 1e-9);
            } while (std::next_permutation(conductance.begin(), conductance.end()));
        }
        double sum = 0;
        for (std::size_t g = 0; g < series; ++g)
            sum += warm[g] * holds[g];
        std::sort(holds.begin(), holds.end());
        do {
            double other = 0;
            for (std::size_t g = 0; g < series; ++g)
                other += warm[g] * holds[g];
            CHECK(sum >= other - 1e-9);
        } while (std::next_permutation(holds.begin(), holds.end()));
    }
}

TEST_CASE("Asked again of what it answered, nothing moves; what is not known keeps its order") {
    const auto places = warmth_of_places(grid(7, 4), 0.02);
    std::vector<std::vector<HeatUnit>> groups(7);
    std::vector<std::vector<double>> warmth(7);
    std::mt19937 random(4);
    std::uniform_int_distribution<int> coarse(0, 2);
    for (std::size_t g = 0; g < 7; ++g)
        for (std::size_t k = 0; k < 4; ++k) {
            groups[g].push_back({2.0 + coarse(random), 20.0 + coarse(random)}); // many alike
            warmth[g].push_back(places[k * 7 + g]);
        }
    groups[2][1].conductance_s = 0;
    const auto seats = seats_by_heat(groups, warmth);
    std::vector<std::vector<HeatUnit>> now(7);
    for (std::size_t g = 0; g < 7; ++g)
        for (const Seat& seat : seats[g])
            now[g].push_back(groups[seat.group][seat.unit]);
    const auto again = seats_by_heat(now, warmth);
    for (std::size_t g = 0; g < 7; ++g)
        for (std::size_t k = 0; k < 4; ++k)
            CHECK(again[g][k] == Seat{g, k});
    for (const auto& group : seats)
        if (group.front().group == 2)
            for (std::size_t k = 0; k < 4; ++k)
                CHECK(group[k].unit == k);
    CHECK_THROWS_AS(seats_by_heat(groups, {}), std::invalid_argument);
}
