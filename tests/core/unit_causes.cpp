// What units say of their pack. The limits are common practice, no source; every figure here is made up so that it lies
// plainly on one side.
#include "core/triage/unit_causes.h"

#include <catch2/catch.hpp>

using namespace ingot;

namespace {

using Volts = std::vector<std::optional<double>>;
using Named = std::vector<NamedFault>;

Chemistry lithium() {
    Chemistry c;
    c.nominal_low_v = c.nominal_high_v = 3.6;
    c.floor_v = 2.5;
    return c;
}
Chemistry nickel() {
    Chemistry c;
    c.nominal_low_v = c.nominal_high_v = 1.2;
    c.floor_v = 0.9;
    return c;
}
// Units of 2.4 Ah that lose 0.5 mAh a day, `parallel` to a group.
std::vector<TestedUnit> sound_units(const PackLayout& layout) {
    std::vector<TestedUnit> out;
    for (int g = 1; g <= layout.series; ++g)
        for (int p = 0; p < layout.units_per_group(); ++p)
            out.push_back({g, 2.4, 0.0005});
    return out;
}
Volts level(int series, double volts) {
    return Volts(static_cast<std::size_t>(series), volts);
}

} // namespace

TEST_CASE("N51: sound units tell nothing of a pack: its joints, leads and board show in none") {
    const PackLayout layout{5, 2, 1};
    CHECK(causes_by_units(level(5, 3.7), sound_units(layout), layout, lithium()).empty());
    Volts dead = level(5, 3.7);
    dead[2] = 0.4;
    CHECK(causes_by_units(dead, {}, layout, lithium()).empty()); // nothing was tested
    // Nothing measured: only what was read at rest.
    const std::vector<TestedUnit> bare{{1, {}, {}}, {3, {}, {}}};
    CHECK(causes_by_units(level(5, 3.7), bare, layout, lithium()).empty());
    CHECK(causes_by_units(dead, bare, layout, lithium()) == Named{{Fault::dead_group, {3}}});
}

TEST_CASE("N51: a group that leaks, one that is weak and one that is dead are named beside each other") {
    const PackLayout layout{6, 2, 1};
    auto units = sound_units(layout);
    units[2].leak_ah_per_day = 0.02;                   // group 2
    units[8].capacity_ah = units[9].capacity_ah = 1.7; // group 5: 3.4 of 4.8 Ah
    Volts volts = level(6, 3.7);
    volts[5] = 1.1;
    CHECK(causes_by_units(volts, units, layout, lithium()) ==
          Named{{Fault::dead_group, {6}}, {Fault::leaking_cell, {2}}, {Fault::weak_group, {5}}});
    // A group that was dead holds less and leaks because of it: it is named once.
    units[10] = units[11] = {6, 1.0, 0.1};
    CHECK(causes_by_units(volts, units, layout, lithium()) ==
          Named{{Fault::dead_group, {6}}, {Fault::leaking_cell, {2}}, {Fault::weak_group, {5}}});
    // A leaking group that lost capacity, too, leaks.
    units[2].capacity_ah = units[3].capacity_ah = 1.5;
    CHECK(causes_by_units(level(6, 3.7), sound_units(layout), layout, lithium()).empty());
    CHECK(causes_by_units(volts, units, layout, lithium())[1] == NamedFault{Fault::leaking_cell, {2}});
}

TEST_CASE("N51: no verdict without a middle to stand apart from") {
    const PackLayout layout{3, 1, 1};
    // 15 % under the others is still a worn group, not a weak one; a group with a unit not measured holds nobody knows
    // what.
    std::vector<TestedUnit> units{{1, 2.4, {}}, {2, 2.4, {}}, {3, 2.1, {}}};
    CHECK(causes_by_units(level(3, 3.7), units, layout, lithium()).empty());
    units[2].capacity_ah = 1.9;
    CHECK(causes_by_units(level(3, 3.7), units, layout, lithium()) == Named{{Fault::weak_group, {3}}});
    units[0].capacity_ah.reset(); // one other group: which of the two is usual?
    CHECK(causes_by_units(level(3, 3.7), units, layout, lithium()).empty());
    const PackLayout pairs{3, 2, 1};
    const std::vector<TestedUnit> one_each{{1, 2.4, {}}, {2, 2.4, {}}, {3, 1.2, {}}};
    CHECK(causes_by_units(level(3, 3.7), one_each, pairs, lithium()).empty());
    // Two leaks have no middle; three times a tiny one is still an ordinary cell.
    std::vector<TestedUnit> leaks{{1, 2.4, 0.0005}, {2, 2.4, 0.02}};
    CHECK(causes_by_units(level(3, 3.7), leaks, layout, lithium()).empty());
    leaks = {{1, 2.4, 0.0001}, {2, 2.4, 0.0001}, {3, 2.4, 0.0009}};
    CHECK(causes_by_units(level(3, 3.7), leaks, layout, lithium()).empty());
    leaks[2].leak_ah_per_day = 0.005;
    CHECK(causes_by_units(level(3, 3.7), leaks, layout, lithium()) == Named{{Fault::leaking_cell, {3}}});
}

TEST_CASE(
    "N51: a module a cell short is dead, a pack dead all through is that, blocks hold what their least unit does") {
    const PackLayout row{4, 1, 6};
    const std::vector<TestedUnit> modules{{1, {}, {}}, {2, {}, {}}};
    Volts volts = level(4, 7.8);
    volts[1] = 6.5;
    CHECK(causes_by_units(volts, modules, row, nickel()) == Named{{Fault::dead_group, {2}}});
    volts[1] = 7.2; // low, but every cell is there
    CHECK(causes_by_units(volts, modules, row, nickel()).empty());
    CHECK(causes_by_units(level(4, 3.0), modules, row, nickel()) == Named{{Fault::all_discharged, {}}});
    // Of two modules the other one is the middle.
    const PackLayout pair{2, 1, 6};
    CHECK(causes_by_units(Volts{6.5, 7.8}, modules, pair, nickel()) == Named{{Fault::dead_group, {1}}});
    for (const Fault fault : {Fault::healthy, Fault::latched_board, Fault::all_discharged, Fault::elsewhere})
        CHECK(concerns_whole_pack(fault));
    CHECK_FALSE(concerns_whole_pack(Fault::dead_group));
    CHECK_FALSE(concerns_whole_pack(Fault::imbalance));
    const PackLayout one{1, 1, 1};
    CHECK(causes_by_units(level(1, 0.5), std::vector<TestedUnit>{{1, {}, {}}}, one, lithium()) ==
          Named{{Fault::dead_group, {1}}});
    PackLayout blocks{3, 1, 6};
    blocks.units_per_tap = 2;
    std::vector<TestedUnit> twos{{1, 6.0, {}}, {1, 6.1, {}}, {2, 6.0, {}}, {2, 6.2, {}}, {3, 6.1, {}}, {3, 4.0, {}}};
    CHECK(causes_by_units(level(3, 15.6), twos, blocks, nickel()) == Named{{Fault::weak_group, {3}}});
    twos.pop_back();
    CHECK(causes_by_units(level(3, 15.6), twos, blocks, nickel()).empty());
}
