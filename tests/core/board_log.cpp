// A board's log: stretches, spreads, jumps, drifts, and the rows that a proof may take. The logs are written here, row
// by row, from what is claimed of them.
#include "core/prove/board_log.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <limits>
#include <random>

using namespace ingot;

namespace {

// Five groups: a rest of two hours, a charge of one at 2 A, a rest of half an hour, ten minutes at 6 A, a row every 10
// s.
struct WrittenLog {
    BoardLog log;
    std::mt19937 noise{5};
    double noise_v = 0.0003;
    std::vector<double> own_ohm{0, 0, 0, 0, 0}; // more than the others have
    std::vector<double> drift_v_per_h{0, 0, 0, 0, 0};
    std::vector<double> full_early_v{0, 0, 0, 0, 0}; // stands higher by so much at the charge's end

    void stretch(double seconds, double charging_a) {
        std::normal_distribution<double> spread(0, noise_v);
        const double step = 10;
        for (double t = 0; t < seconds; t += step) {
            const double now = log.time_s.empty() ? 0 : log.time_s.back() + step;
            log.time_s.push_back(now);
            log.charging_a.push_back(charging_a);
            auto& row = log.group_v.emplace_back();
            for (std::size_t g = 0; g < 5; ++g)
                row.push_back(3.7 + (charging_a > 0 ? 0.3 * t / seconds : 0) + charging_a * (0.012 + own_ohm[g]) +
                              drift_v_per_h[g] * now / 3600 + (charging_a > 0 ? full_early_v[g] * t / seconds : 0) +
                              spread(noise));
        }
        log.resolution_v = 0.001;
    }
    void write() {
        stretch(7200, 0);
        stretch(3600, 2);
        stretch(1800, 0);
        stretch(600, -6);
    }
};

} // namespace

TEST_CASE("A board's log falls into rest, charge and load; the rows that a proof takes are the right ones") {
    WrittenLog written;
    written.full_early_v[3] = 0.030;
    written.write();
    const BoardLogReading read = read_board_log(written.log, 1);
    REQUIRE(read.stretches.size() == 4);
    CHECK(read.stretches[0].kind == LogStretchKind::rest);
    CHECK(read.stretches[1].kind == LogStretchKind::charge);
    CHECK(read.stretches[3].kind == LogStretchKind::load);
    CHECK(read.stretches[1].mean_a == Approx(2));
    CHECK(read.stretches[3].mean_a == Approx(-6));
    CHECK_FALSE(read.turned);
    // The spread grows to 30 mV at the end of the charge, group 4 highest.
    CHECK(*read.stretches[1].last_spread_v == Approx(0.030).margin(0.0015));
    CHECK(*read.stretches[1].first_spread_v < 0.003);
    CHECK(read.stretches[1].highest == 3);
    REQUIRE(read.end_of_charge);
    CHECK(*read.end_of_charge == read.stretches[1].to - 1);
    REQUIRE(read.before_load);
    CHECK(*read.before_load == read.stretches[2].to - 1);
    REQUIRE(read.under_load);
    CHECK(written.log.time_s[*read.under_load] - written.log.time_s[read.stretches[3].from] == Approx(60));
    CHECK(read.jumps.empty());
    CHECK(read.drifts.empty());
    // Blocks of two cells: a cell stands half as far apart.
    CHECK(*read_board_log(written.log, 2).stretches[1].last_spread_v == Approx(0.015).margin(0.001));
}

TEST_CASE("A board that counts drawn current as positive is found out, by its steps or by where the volts go") {
    for (const bool steps : {true, false}) {
        WrittenLog written;
        steps ? written.write() : written.stretch(3600, 2);
        const BoardLogReading right = read_board_log(written.log, 1);
        CHECK_FALSE(right.turned);
        for (double& a : written.log.charging_a)
            a = -a;
        const BoardLogReading turned = read_board_log(written.log, 1);
        CHECK(turned.turned);
        CHECK(turned.charging_a == right.charging_a);
        CHECK(turned.stretches.size() == right.stretches.size());
    }
}

TEST_CASE("A sense lead that moves is a jump; a group with a worse joint is none, however hard the load steps") {
    WrittenLog written;
    written.own_ohm[1] = 0.008; // sags 48 mV more at 6 A
    written.write();
    CHECK(read_board_log(written.log, 1).jumps.empty());
    // From one row on group 3 reads 20 mV lower, in the middle of the first rest.
    for (std::size_t r = 300; r < written.log.rows(); ++r)
        written.log.group_v[r][2] -= 0.020;
    const BoardLogReading read = read_board_log(written.log, 1);
    REQUIRE(read.jumps.size() == 1);
    CHECK(read.jumps[0].group == 2);
    CHECK(read.jumps[0].by_v == Approx(-0.020).margin(0.001));
    CHECK(read.jumps[0].time_s == Approx(3000));
    // One wrong row is a misread figure, not a jump that stays.
    WrittenLog once;
    once.write();
    once.log.group_v[400][0] += 0.2;
    CHECK(read_board_log(once.log, 1).jumps.empty());
    // And noise alone makes none: 200 logs of a coarse and noisy board.
    std::size_t found = 0;
    for (unsigned seed = 0; seed < 200; ++seed) {
        WrittenLog noisy;
        noisy.noise.seed(seed);
        noisy.noise_v = 0.002;
        noisy.stretch(1800, 0);
        noisy.stretch(900, 2);
        found += read_board_log(noisy.log, 1).jumps.size();
    }
    CHECK(found == 0);
}

TEST_CASE("A group that goes its own way at rest is told with its error; what all share is no drift") {
    WrittenLog written;
    written.drift_v_per_h[4] = -0.003;
    written.write();
    const BoardLogReading read = read_board_log(written.log, 1);
    REQUIRE(read.drifts.size() == 1);
    CHECK(read.drifts[0].group == 4);
    CHECK(std::fabs(read.drifts[0].per_hour_v + 0.003) < read.drifts[0].error_v);
    WrittenLog shared;
    shared.drift_v_per_h.assign(5, -0.004); // the room, or relaxation
    shared.write();
    CHECK(read_board_log(shared.log, 1).drifts.empty());
}

TEST_CASE("A board's log with blanks, without current, of one row: nothing is filled in") {
    WrittenLog written;
    written.write();
    const std::size_t last = written.log.rows() - 1;
    const double blank = std::numeric_limits<double>::quiet_NaN();
    const BoardLogReading whole = read_board_log(written.log, 1);
    written.log.group_v[*whole.end_of_charge][1] = blank;
    const BoardLogReading read = read_board_log(written.log, 1);
    CHECK(*read.end_of_charge == *whole.end_of_charge - 1); // the last whole row
    CHECK(std::isnan(read.spread_v[*whole.end_of_charge]));
    BoardLog bare = written.log;
    bare.charging_a.clear();
    const BoardLogReading without = read_board_log(bare, 1);
    REQUIRE(without.stretches.size() == 1);
    CHECK(without.stretches[0].kind == LogStretchKind::rest);
    CHECK_FALSE(without.end_of_charge);
    CHECK_FALSE(without.under_load);
    const BoardLog one{{0}, {-3}, {{3.6, 3.7}}, {}, 0.001};
    CHECK(read_board_log(one, 1).stretches.size() == 1);
    CHECK_FALSE(read_board_log(one, 1).under_load); // no twenty seconds
    BoardLog uneven = written.log;
    uneven.group_v[last].pop_back();
    CHECK_THROWS_AS(read_board_log(uneven, 1), std::invalid_argument);
    CHECK_THROWS_AS(read_board_log(written.log, 0), std::invalid_argument);
}
