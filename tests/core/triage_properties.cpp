// Groups against each other: what must hold of any pack.
#include "core/triage/groups.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <random>

using namespace ingot;

namespace {
Chemistry property_nmc() {
    Chemistry c;
    c.floor_v = 2.5;
    c.bands = {0.5, 2.0, 3.0, 4.2, 4.23};
    return c;
}
std::vector<std::optional<double>> healthy(int groups, double level, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0, 0.004);
    std::vector<std::optional<double>> volts;
    for (int i = 0; i < groups; ++i)
        volts.push_back(level + normal(random));
    return volts;
}
} // namespace

TEST_CASE("Sound packs are called sound") {
    int alarms = 0;
    constexpr int packs = 500;
    for (unsigned seed = 1; seed <= packs; ++seed) {
        GroupVoltages v;
        v.rest_v = healthy(7, 3.7, seed);
        double sum = 0;
        for (const auto& x : v.rest_v)
            sum += *x;
        v.terminal_v = sum + 0.005;
        alarms += triage_groups(v, property_nmc()).summary == PackTriage::healthy ? 0 : 1;
    }
    CHECK(alarms <= packs / 100);
}

TEST_CASE("A group far enough off is always found, whichever it is, and the others are not blamed") {
    for (unsigned seed = 1; seed <= 100; ++seed)
        for (const double off : {-0.30, -0.10, 0.10}) {
            GroupVoltages v;
            v.rest_v = healthy(7, 3.7, seed);
            const std::size_t which = seed % 7;
            *v.rest_v[which] += off;
            const TriageResult r = triage_groups(v, property_nmc());
            CHECK(r.summary == PackTriage::group_stands_out);
            REQUIRE(r.worst.has_value());
            CHECK(*r.worst == which);
            for (std::size_t g = 0; g < 7; ++g)
                CHECK(r.groups[g].outlier == (g == which));
        }
}

TEST_CASE("Two dead groups at once do not hide each other") {
    for (unsigned seed = 1; seed <= 50; ++seed) {
        GroupVoltages v;
        v.rest_v = healthy(9, 3.8, seed);
        v.rest_v[2] = 0.2;
        v.rest_v[6] = 1.1;
        const TriageResult r = triage_groups(v, property_nmc());
        CHECK(*r.groups[2].state == GroupState::dead);
        CHECK(*r.groups[6].state == GroupState::deep);
        CHECK(r.groups[2].outlier);
        CHECK(r.groups[6].outlier);
        CHECK(*r.worst == 2);
        CHECK_FALSE(r.load_round_allowed);
    }
}

TEST_CASE("The order of the groups does not matter") {
    std::mt19937 random(3);
    GroupVoltages v;
    v.rest_v = healthy(8, 3.6, 5);
    *v.rest_v[3] -= 0.2;
    const TriageResult before = triage_groups(v, property_nmc());
    for (int i = 0; i < 20; ++i) {
        std::vector<std::size_t> order{0, 1, 2, 3, 4, 5, 6, 7};
        std::shuffle(order.begin(), order.end(), random);
        GroupVoltages shuffled = v;
        for (std::size_t k = 0; k < 8; ++k)
            shuffled.rest_v[k] = v.rest_v[order[k]];
        const TriageResult r = triage_groups(shuffled, property_nmc());
        CHECK(r.summary == before.summary);
        CHECK(order[*r.worst] == 3);
        CHECK(*r.median_v == *before.median_v);
        CHECK(*r.sum_v == Approx(*before.sum_v));
    }
}

TEST_CASE("A reading that is still missing never makes a verdict of healthy") {
    for (std::size_t missing = 0; missing < 7; ++missing) {
        GroupVoltages v;
        v.rest_v = healthy(7, 3.7, 2);
        v.rest_v[missing].reset();
        v.terminal_v = 25.9;
        const TriageResult r = triage_groups(v, property_nmc());
        CHECK(r.summary == PackTriage::incomplete);
        CHECK_FALSE(r.difference_v.has_value());
    }
}

TEST_CASE("Group spread after balance: 0.01 V is excellent, 0.05 V is too much") { // common practice, no source
    GroupVoltages even;
    even.rest_v = {3.700, 3.705, 3.695, 3.700, 3.702, 3.698, 3.700};
    CHECK(triage_groups(even, property_nmc()).summary == PackTriage::healthy);
    GroupVoltages odd = even;
    odd.rest_v[4] = 3.650;
    CHECK(triage_groups(odd, property_nmc()).summary == PackTriage::group_stands_out);
}
