// Several groups at once: what one event did to them, what stands beside a fault, what a chemistry makes likely.
#include "core/triage/outcomes.h"
#include "explained.h"
#include "workshop/triage_wording.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <set>

using namespace ingot;
using namespace explained_packs;

namespace {

// The chance of a fault, whichever groups it names.
double of_any(const Explained& e, Fault fault) {
    double sum = 0;
    for (const Explanation& x : e.explanations)
        sum += x.fault == fault ? x.probability : 0;
    return sum;
}

TriageCase in_series(int series, int parallel = 2) {
    TriageCase pack;
    pack.layout = {series, parallel, 1};
    return pack;
}

} // namespace

// Common practice, no source: a board that lives on some groups, groups that were put in together or a charge through a
// tap move their groups by one amount; leaks do not agree with each other.
TEST_CASE("N12: groups that lie apart by one amount are out of balance, by unlike amounts they leak") {
    const auto two_low = [](double third, double sixth) {
        TriageCase pack = in_series(8);
        const std::vector<double> level{3.905, 3.902, third, 3.906, 3.904, sixth, 3.903, 3.905};
        read(pack, Condition::rest, level);
        pack.terminal_v = 3.904 * 6 + third + sixth;
        read(pack, Condition::load, less(level, 0.07), -2.0);
        return explained(pack);
    };
    const Explained alike = two_low(3.731, 3.730);
    CHECK(first(alike).fault == Fault::imbalance);
    CHECK(first(alike).groups == std::vector<int>{3, 6});
    const Explained unlike = two_low(3.790, 3.655);
    CHECK(first(unlike).fault == Fault::leaking_cell);
    CHECK(first(unlike).groups == std::vector<int>{3, 6});
    CHECK(of_any(alike, Fault::imbalance) > 2 * of_any(unlike, Fault::imbalance));
}

TEST_CASE("N12: the closer two shifts agree, the surer they are one event") {
    double before = 0;
    for (const double other : {3.60, 3.66, 3.70, 3.72, 3.73}) {
        TriageCase pack = in_series(9);
        std::vector<double> level(9, 3.905);
        level[1] = 3.73;
        level[6] = other;
        read(pack, Condition::rest, level);
        const double now = of_any(explained(pack), Fault::imbalance);
        CHECK(now >= before - 0.02);
        before = now;
    }
    CHECK(before > 0.5);
}

TEST_CASE("Of two equal halves the one that lacks charge is named") {
    TriageCase pack = in_series(8, 1);
    read(pack, Condition::rest, {3.780, 4.040, 3.790, 4.048, 3.789, 4.043, 4.045, 3.778});
    read(pack, Condition::end_of_charge, {3.874, 4.154, 3.881, 4.159, 3.882, 4.158, 4.159, 3.876});
    const Explained e = explained(pack);
    CHECK(first(e).fault == Fault::imbalance);
    CHECK(first(e).groups == std::vector<int>{1, 3, 5, 8});
    REQUIRE(first(e).amount);
    CHECK(*first(e).amount < 0);
}

TEST_CASE("What stands beside a fault is said once for all its groups") {
    TriageCase pack = in_series(10, 1);
    read(pack, Condition::rest, {3.750, 3.600, 0.320, 3.748, 3.770, 3.752, 3.590, 3.749, 3.751, 3.750});
    read(pack, Condition::stored, {3.749, 3.599, 0.280, 3.747, 3.769, 3.751, 3.589, 3.748, 3.750, 3.749}, {}, 8.0);
    const Explained e = explained(pack);
    CHECK(first(e).fault == Fault::dead_group);
    CHECK(first(e).groups == std::vector<int>{3});
    std::set<Fault> faults;
    for (const auto& [fault, groups] : first(e).with) {
        CHECK(faults.insert(fault).second);
        CHECK(std::is_sorted(groups.begin(), groups.end()));
    }
    REQUIRE(first(e).with.size() == 1);
    CHECK(first(e).with[0].second == std::vector<int>{2, 7});
}

// Common practice, no source: what overcharge levels is seldom out of balance; lithium never levels itself.
TEST_CASE("Nickel levels itself: out of balance is less likely there, until the shop's own packs say otherwise") {
    const auto low = [](const TriageKnowledge& knowledge) {
        TriageCase pack;
        pack.layout = {14, 1, 6};
        std::vector<double> level(14, 7.92);
        level[4] = level[9] = 7.74;
        read(pack, Condition::rest, level);
        return explain(pack, *library().chemistry("nimh"), knowledge);
    };
    TriageKnowledge as_lithium = library().triage;
    as_lithium.levels_itself = 1;
    CHECK(library().triage.levels_itself < 0.6);
    CHECK(of_any(low(library().triage), Fault::imbalance) < of_any(low(as_lithium), Fault::imbalance));
    Outcome seen;
    seen.causes = {{Fault::imbalance, {}}};
    const TriageKnowledge taught = learned(library().triage, std::vector<Outcome>(60, seen));
    CHECK(taught.levels_itself > 0.8);
    CHECK(of_any(low(taught), Fault::imbalance) > of_any(low(as_lithium), Fault::imbalance));
}

TEST_CASE("A measured capacity names the weak group of a pack that was levelled where it stands") {
    TriageCase pack = in_series(5);
    read(pack, Condition::rest, {3.702, 3.701, 3.703, 3.702, 3.700});
    pack.terminal_v = 18.51;
    CHECK(first(explained(pack)).fault == Fault::healthy);
    pack.capacities = {{1, 5.0}, {2, 5.1}, {3, 5.0}, {4, 3.2}, {5, 5.05}};
    const Explained e = explained(pack);
    CHECK(first(e).fault == Fault::weak_group);
    CHECK(first(e).groups == std::vector<int>{4});
}

TEST_CASE("N13: a joint that no load reading speaks for gets a whole sentence") {
    TriageCase pack = in_series(4);
    read(pack, Condition::rest, {3.702, 3.701, 3.703, 3.702});
    Explanation joint;
    joint.fault = Fault::high_resistance_joint;
    joint.groups = {2};
    joint.shifts = {{2, Condition::rest, 0, -0.001, 0, 3.702}};
    const QString said = wording::reason(joint, pack);
    CHECK(said.contains(QStringLiteral("was not read")));
    CHECK_FALSE(said.contains(QStringLiteral("is ,")));
}

// Common practice, no source: what is sound at rest is loaded before it is trusted.
TEST_CASE("A pack that looks sound is loaded once before nothing more is asked") {
    TriageCase pack = in_series(6);
    const std::vector<double> level{3.842, 3.841, 3.843, 3.842, 3.840, 3.842};
    read(pack, Condition::rest, level);
    pack.terminal_v = 23.05;
    read(pack, Condition::stored, level, {}, 14.0);
    read(pack, Condition::end_of_charge, {4.170, 4.171, 4.169, 4.170, 4.172, 4.171});
    const Explained asked = explained(pack);
    CHECK(first(asked).fault == Fault::healthy);
    REQUIRE(asked.settle_by);
    CHECK(asked.settle_by->kind == ReadingKind::load);
    read(pack, Condition::load, less(level, 0.07), -2.0);
    const Explained loaded = explained(pack);
    CHECK(first(loaded).fault == Fault::healthy);
    CHECK_FALSE(loaded.settle_by);
    pack.readings[pack.readings.size() - 3].voltage_v -= 0.15; // the fourth sags
    CHECK(first(explained(pack)).fault == Fault::high_resistance_joint);
}

// Common practice, no source: a charge in series puts the same into every group, so what leaked before stays missing.
TEST_CASE(
    "N13: charge that is missing alike before and after a charge may have leaked as well as been out of balance") {
    const std::vector<double> rest{3.688, 3.684, 3.684, 3.676, 3.684, 3.693, 3.686, 3.238, 3.672};
    const std::vector<double> full{4.165, 4.156, 4.159, 4.157, 4.164, 4.164, 4.161, 3.713, 4.159};
    TriageCase charged_later = in_series(9, 2);
    read(charged_later, Condition::rest, rest);
    read(charged_later, Condition::end_of_charge, full);
    const Explained e = explained(charged_later);
    CHECK(probability(e, Fault::leaking_cell, {8}) > 0.2);
    CHECK(probability(e, Fault::imbalance, {8}) > 0.1);
    CHECK(probability(e, Fault::weak_group, {8}) < 0.02); // it would have been full
    // Level at the end of a charge, and low at rest afterwards: it holds less or it leaked since, never out of balance.
    TriageCase charged_before = in_series(9, 2);
    read(charged_before, Condition::end_of_charge, with(full, {{8, 4.158}}));
    read(charged_before, Condition::rest, rest);
    const Explained since = explained(charged_before);
    CHECK(probability(since, Fault::imbalance, {8}) < 0.02);
    CHECK(probability(since, Fault::weak_group, {8}) + probability(since, Fault::leaking_cell, {8}) +
              probability(since, Fault::disconnected_cell, {8}) >
          0.9);
    // The other way round, read level after it was low, it leaked less likely: what leaked would still be missing.
    TriageCase level_later = in_series(9, 2);
    read(level_later, Condition::rest, rest);
    read(level_later, Condition::end_of_charge, with(full, {{8, 4.158}}));
    CHECK(probability(explained(level_later), Fault::leaking_cell, {8}) < probability(since, Fault::leaking_cell, {8}));
}

TEST_CASE("A row of modules is loaded before it is charged for hours or left for days") {
    TriageCase row;
    row.layout = {28, 1, 6};
    std::vector<double> volts(28, 7.9);
    volts[4] = 7.7;
    volts[17] = 7.6;
    volts[11] = 8.0;
    read(row, Condition::rest, volts);
    row.terminal_v = 220.8;
    for (GroupReading& r : row.readings)
        r.resolution_v = 0.1;
    const auto next = explained(row, "nimh").settle_by;
    REQUIRE(next);
    CHECK(next->kind == ReadingKind::load);
    CHECK(next->bits > 0);
}

TEST_CASE("What is left standing for days is read at every group in dispute") {
    TriageCase pack = in_series(8);
    read(pack, Condition::rest, {3.905, 3.902, 3.790, 3.906, 3.904, 3.655, 3.903, 3.905});
    pack.terminal_v = 3.904 * 6 + 3.790 + 3.655;
    read(pack, Condition::load, {3.835, 3.832, 3.722, 3.836, 3.834, 3.583, 3.833, 3.835}, -2.0);
    read(pack, Condition::end_of_charge, {4.180, 4.178, 4.055, 4.181, 4.180, 3.905, 4.179, 4.180});
    const auto next = explained(pack).settle_by;
    REQUIRE(next);
    CHECK(next->kind == ReadingKind::stored);
    for (const int group : {3, 6})
        CHECK(std::count(next->groups.begin(), next->groups.end(), group) == 1);
}
