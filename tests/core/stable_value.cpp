// When a followed meter's volts are a reading: once for each touch.
#include "core/measure/stable_value.h"

#include <catch2/catch.hpp>

#include <random>
#include <vector>

using namespace ingot;

namespace {

// A meter read five times a second.
struct Follow {
    StableValue stable;
    double at_s = 0;
    std::vector<double> taken;
    explicit Follow(double resolution_v = 0.001) : stable(resolution_v) {}
    void show(std::optional<double> volts, int times) {
        for (int i = 0; i < times; ++i) {
            if (const auto value = stable.take(volts, at_s))
                taken.push_back(*value);
            at_s += 0.2;
        }
    }
};

} // namespace

TEST_CASE("A touched cell is taken once, when its volts stand still") {
    Follow f;
    f.show(std::nullopt, 3);
    f.show(1.9, 1); // the contact comes
    f.show(3.7012, 10);
    REQUIRE(f.taken == std::vector<double>{3.7012});
    f.show(0.0003, 6);
    f.show(3.7010, 4); // the next one, all but the same
    CHECK(f.taken == std::vector<double>{3.7012, 3.7010});
}

TEST_CASE("A contact that bounces is no second cell; another cell without a lift is one") {
    Follow f;
    f.show(3.650, 5);
    f.show(0, 1);
    f.show(3.650, 10);
    f.show(std::nullopt, 2); // 0.4 s
    f.show(3.650, 10);
    CHECK(f.taken.size() == 1);
    f.show(3.580, 10); // from cell to cell
    CHECK(f.taken == std::vector<double>{3.650, 3.580});
    f.show(-3.580, 5); // reversed: it is shown as it is
    CHECK(f.taken.back() == -3.580);
}

TEST_CASE("Volts that move are not taken, nor a cell that settles taken twice") {
    Follow f(0.0001);
    for (int i = 0; i < 30; ++i)
        f.show(3.2 + 0.004 * i, 1); // on its way: 20 mV a second
    CHECK(f.taken.empty());
    f.show(3.4, 5);
    REQUIRE(f.taken.size() == 1);
    for (int i = 0; i < 60; ++i)
        f.show(3.4 + 0.0002 * i, 1); // relaxes by 12 mV while it is held
    CHECK(f.taken.size() == 1);
    CHECK_THROWS_AS(StableValue(0), std::invalid_argument);
}

TEST_CASE("A tray of twelve cells with a meter's noise gives twelve readings, in order") {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        std::mt19937 random(seed);
        std::normal_distribution<double> noise(0, 0.0001);
        std::uniform_int_distribution<int> held(5, 15), lifted(4, 10);
        Follow f(0.0001);
        std::vector<double> cells;
        for (int c = 0; c < 12; ++c) {
            const double volts = 3.60 + 0.003 * (c % 3); // neighbours alike
            cells.push_back(volts);
            for (int i = held(random); i > 0; --i)
                f.show(volts + noise(random), 1);
            for (int i = lifted(random); i > 0; --i)
                f.show(noise(random), 1);
        }
        REQUIRE(f.taken.size() == cells.size());
        for (std::size_t c = 0; c < cells.size(); ++c)
            CHECK(f.taken[c] == Approx(cells[c]).margin(0.0006));
    }
}
