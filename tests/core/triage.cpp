#include "core/measure/statistics.h"
#include "core/triage/groups.h"
#include "core/triage/stated_bins.h"

#include <catch2/catch.hpp>

using namespace ingot;

namespace {
Chemistry triage_nmc() {
    Chemistry c;
    c.floor_v = 2.5;
    c.bands = {0.5, 2.0, 3.0, 4.2, 4.23};
    return c;
}
GroupVoltages read(std::vector<std::optional<double>> volts, std::optional<double> terminals = {}) {
    GroupVoltages v;
    v.rest_v = std::move(volts);
    v.terminal_v = terminals;
    return v;
}
} // namespace

TEST_CASE("Median and robust spread: the odd cell among seven") {
    // Capacities 2.41 2.45 2.38 2.44 1.95 2.43 2.47: median 2.43, 1.4826 MAD 0.02965, z of 1.95 = -16.188 (worked by
    // hand).
    const std::vector<double> c{2.41, 2.45, 2.38, 2.44, 1.95, 2.43, 2.47};
    const auto [centre, scale] = robust_spread(c);
    CHECK(centre == Approx(2.43).margin(1e-4));
    CHECK(scale == Approx(0.02965).margin(1e-5));
    CHECK((1.95 - centre) / scale == Approx(-16.188).margin(1e-3));
    CHECK(median({4, 1, 3, 2}) == 2.5);
}

TEST_CASE("A deep group is out of band, stands out, and forbids the load round") {
    const auto r = triage_groups(read({3.842, 3.846, 1.838, 3.841, 3.858, 3.845, 3.843}, 24.91), triage_nmc());
    CHECK(r.summary == PackTriage::group_out_of_band);
    REQUIRE(r.worst.has_value());
    CHECK(*r.worst == 2);
    CHECK(*r.groups[2].state == GroupState::deep);
    CHECK(r.groups[2].outlier);
    CHECK(*r.groups[2].from_median_v == Approx(-2.006).margin(0.002));
    CHECK_FALSE(r.groups[4].outlier);
    CHECK_FALSE(r.load_round_allowed);
    CHECK(*r.sum_v == Approx(24.913));
    CHECK(*r.difference_v == Approx(-0.003));
    CHECK(r.sum_agrees);
}

TEST_CASE("A healthy pack, one that stands out, and a sum that misses the terminals") {
    CHECK(triage_groups(read({3.852, 3.849, 3.855, 3.851}, 15.41), triage_nmc()).summary == PackTriage::healthy);
    const auto odd = triage_groups(read({3.702, 3.699, 3.705, 3.701, 3.512, 3.700, 3.698}), triage_nmc());
    CHECK(odd.summary == PackTriage::group_stands_out);
    CHECK(*odd.worst == 4);
    CHECK(odd.load_round_allowed);
    const auto lead = triage_groups(read({3.852, 3.849, 3.855, 3.851}, 15.00), triage_nmc());
    CHECK(lead.summary == PackTriage::sum_misses_terminals);
    CHECK_FALSE(lead.sum_agrees);
}

TEST_CASE("Readings that are missing") {
    CHECK(triage_groups(read({{}, {}, {}}), triage_nmc()).summary == PackTriage::not_read);
    const auto r = triage_groups(read({3.85, {}, 3.85}), triage_nmc());
    CHECK(r.summary == PackTriage::incomplete);
    CHECK_FALSE(r.sum_v.has_value());
    CHECK_FALSE(r.groups[1].state.has_value());
    const auto alone = triage_groups(read({3.85}), triage_nmc());
    CHECK(alone.summary == PackTriage::healthy);
    CHECK_FALSE(alone.groups[0].from_median_v.has_value());
}

TEST_CASE("Module voltages are judged per cell") {
    Chemistry ni;
    ni.floor_v = 0.8;
    ni.bands = {0.2, 0.9, 1.1, 1.5, 1.6};
    auto v = read({7.74, 7.72, 5.9, 7.75});
    v.cells_per_unit = 6;
    const auto r = triage_groups(v, ni);
    CHECK(*r.groups[0].state == GroupState::working);
    CHECK(*r.groups[2].state == GroupState::low);
    CHECK(r.groups[2].outlier);
}

TEST_CASE("N51: what was stated is held against what packs turned out to be, with what so few of them allow") {
    std::vector<Outcome> outcomes;
    const auto add = [&](double stated, bool right) {
        Outcome& o = outcomes.emplace_back();
        o.causes = {{Fault::dead_group, {2}}};
        o.first = {{right ? Fault::dead_group : Fault::weak_group, {2}}};
        o.first_stated = stated;
    };
    for (int i = 0; i < 10; ++i)
        add(0.95, i < 9);
    for (int i = 0; i < 12; ++i)
        add(0.70, i < 2);
    add(0.30, true);
    add(0, true); // nothing had been stated
    const auto bins = stated_bins(outcomes);
    CHECK(bins[4].packs == 10);
    CHECK(bins[4].right == 9);
    // Wilson's interval for 9 of 10, worked by hand: 0.596 to 0.982.
    CHECK(bins[4].share_low == Approx(0.596).margin(0.001));
    CHECK(bins[4].share_high == Approx(0.982).margin(0.001));
    CHECK_FALSE(bins[4].off());
    CHECK(bins[3].stated == Approx(0.70));
    CHECK(bins[3].off()); // 2 of 12 where 70 % were stated
    CHECK(bins[1].packs == 1);
    CHECK_FALSE(bins[1].off()); // one pack says nothing
    CHECK(bins[0].packs == 0);
    int all = 0;
    for (const StatedBin& bin : bins)
        all += bin.packs;
    CHECK(all == 23);
}
