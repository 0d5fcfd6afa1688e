// Rows of modules and flat curves: what coarse digits, a dead cell in storage or under load and a curve without slope
// leave open, and what is asked for then. Invented packs; what each fault looks like: common practice, no source.
#include "core/triage/posterior.h"
#include "explained.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace ingot;
using namespace explained_packs;

namespace {

TriageCase row(int series) {
    TriageCase pack;
    pack.layout = {series, 1, 6};
    return pack;
}

TriageCase pack_of(int series, int parallel) {
    TriageCase pack;
    pack.layout = {series, parallel, 1};
    return pack;
}

void read_to(TriageCase& pack, double digit, Condition condition, const std::vector<double>& volts,
             std::optional<double> current = {}, std::optional<double> days = {}) {
    for (std::size_t g = 0; g < volts.size(); ++g)
        pack.readings.push_back(
            {static_cast<int>(g) + 1, condition, std::round(volts[g] / digit) * digit, current, days, digit});
}

// Sound modules about this voltage, in steps of `apart`.
std::vector<double> modules(int series, double volts, double apart = 0.012) {
    std::vector<double> out;
    for (int g = 0; g < series; ++g)
        out.push_back(volts + apart * ((g * 7) % 5 - 2));
    return out;
}

} // namespace

TEST_CASE("N12: a module with a dead cell sinks in storage as its siblings do, and is not called a leak") {
    for (const double digit : {0.1, 0.01}) {
        TriageCase pack = row(38);
        read_to(pack, digit, Condition::rest, with(modules(38, 7.50), {{9, 6.48}})); // five cells, and 0.23 V
        pack.terminal_v = 7.50 * 37 + 6.48;
        read_to(pack, digit, Condition::load, with(modules(38, 6.88), {{9, 5.88}}), -5.0);
        read_to(pack, digit, Condition::stored, with(modules(38, 7.46), {{9, 6.40}}), {}, 7.0);
        const Explained e = explained(pack, "nimh");
        INFO(digit);
        CHECK(first(e).fault == Fault::dead_group);
        CHECK(first(e).groups == std::vector<int>{9});
        CHECK(e.something_else < 0.1);
    }
}

TEST_CASE("N12: its siblings' current may drive the dead cell of a module under zero: it is dead all the same") {
    for (const double under_load : {5.95, 5.3, 4.7}) {
        TriageCase pack = row(36);
        read_to(pack, 0.01, Condition::rest, with(modules(36, 8.06, 0.03), {{4, 6.70}}));
        read_to(pack, 0.01, Condition::load, with(modules(36, 7.50, 0.03), {{4, under_load}}), -5.0);
        read_to(pack, 0.01, Condition::stored, with(modules(36, 8.03, 0.03), {{4, 6.68}}), {}, 7.0);
        const Explained e = explained(pack, "nimh");
        INFO(under_load);
        CHECK(first(e).fault == Fault::dead_group);
        CHECK(first(e).groups == std::vector<int>{4});
    }
}

TEST_CASE("N12: a row whose modules round to either of two digits is one row") {
    TriageCase pack = row(30);
    std::vector<double> level;
    for (int g = 0; g < 30; ++g)
        level.push_back(g % 5 < 2 ? 7.4 : 7.5); // about 7.46 V, typed to 0.1 V
    read_to(pack, 0.1, Condition::rest, level);
    std::vector<double> after = level;
    std::rotate(after.begin(), after.begin() + 1, after.end()); // others lie at the border the next time
    read_to(pack, 0.1, Condition::stored, after, {}, 4.0);
    const Explained sound = explained(pack, "nimh");
    CHECK(first(sound).fault == Fault::healthy);
    CHECK(first(sound).probability > 0.5);

    TriageCase one_low = row(30);
    read_to(one_low, 0.1, Condition::rest, with(level, {{12, 6.9}}));
    read_to(one_low, 0.1, Condition::load, less(with(level, {{12, 6.5}}), 0.5), -5.0);
    const Explained low = explained(one_low, "nimh");
    CHECK(first(low).groups == std::vector<int>{12});
}

TEST_CASE("N12: the middle of figures that were rounded lies where half of the row lies below") {
    // The siblings' middle is what distances are told from: it moves with the share that rounds down.
    const auto middle = [](int rounded_down) {
        TriageCase pack = row(20);
        std::vector<double> level(20, 7.5);
        for (int g = 0; g < rounded_down; ++g)
            level[static_cast<std::size_t>(g)] = 7.4;
        read_to(pack, 0.1, Condition::rest, with(level, {{20, 6.2}}));
        const Explained e = explained(pack, "nimh");
        REQUIRE_FALSE(first(e).shifts.empty());
        return first(e).shifts.front().reference_v;
    };
    CHECK(middle(0) == Approx(7.5));
    CHECK(middle(5) == Approx(7.45 + 0.1 * (9.5 - 5) / 14).margin(0.006)); // grouped data: L + (n/2 - below) / within
    CHECK(middle(9) == Approx(7.45 + 0.1 * (9.5 - 9) / 10).margin(0.006));
}

TEST_CASE("A pair without one of its cells cannot have been used until nearly nothing is left in the others") {
    TriageCase pack = pack_of(10, 2);
    const std::vector<double> level{3.221, 3.212, 2.901, 3.198, 3.210, 3.209, 3.211, 3.201, 3.223, 3.205};
    read(pack, Condition::rest, level); // iron phosphate under a tenth of its charge
    read(pack, Condition::load, {3.177, 3.165, 2.802, 3.152, 3.164, 3.161, 3.169, 3.156, 3.173, 3.160}, -2.0);
    read(pack, Condition::end_of_charge, {3.388, 3.400, 3.390, 3.378, 3.396, 3.393, 3.382, 3.400, 3.400, 3.388});
    CHECK(probability(explained(pack, "lfp"), Fault::disconnected_cell, {3}) < 0.01);

    // At three quarters of the charge it may.
    TriageCase used_less = pack_of(7, 2);
    read(used_less, Condition::rest, {3.902, 3.905, 3.901, 3.640, 3.903, 3.904, 3.902});
    read(used_less, Condition::load, {3.822, 3.825, 3.821, 3.480, 3.823, 3.824, 3.822}, -2.0);
    CHECK(probability(explained(used_less), Fault::disconnected_cell, {4}) > 0.1);
}

TEST_CASE("On a flat curve a group that was full when the others were not is out of balance") {
    TriageCase pack = pack_of(9, 1);
    read(pack, Condition::rest, {3.233, 3.234, 3.234, 3.225, 3.229, 3.235, 3.269, 3.239, 3.234});
    read(pack, Condition::end_of_charge, {3.326, 3.328, 3.327, 3.328, 3.326, 3.326, 3.395, 3.331, 3.326});
    const Explained e = explained(pack, "lfp");
    CHECK(first(e).fault == Fault::imbalance);
    CHECK(first(e).groups == std::vector<int>{7});
}

TEST_CASE("Of groups that lie apart by one amount the fewer are named") {
    TriageCase pack = pack_of(7, 3);
    read(pack, Condition::rest, {3.311, 3.291, 3.288, 3.289, 3.289, 3.314, 3.286});
    read(pack, Condition::end_of_charge, {3.392, 3.326, 3.322, 3.325, 3.325, 3.395, 3.322});
    const Explained e = explained(pack, "lfp");
    CHECK(first(e).fault == Fault::imbalance);
    CHECK(first(e).groups == std::vector<int>{1, 6});
    REQUIRE(first(e).amount);
    CHECK(*first(e).amount > 0);
}

TEST_CASE("Near empty sound groups lie far apart: what was level at the end of the charge is sound") {
    TriageCase pack = pack_of(8, 2);
    read(pack, Condition::rest, {3.410, 3.180, 3.330, 3.390, 3.350, 3.240, 3.290, 3.370});
    const double of_rest = probability(explained(pack), Fault::healthy, {});
    read(pack, Condition::end_of_charge, {4.152, 4.148, 4.151, 4.154, 4.150, 4.149, 4.151, 4.153});
    const Explained level = explained(pack);
    CHECK(probability(level, Fault::healthy, {}) > of_rest);
    CHECK(first(level).fault == Fault::healthy);

    TriageCase one_ahead = pack_of(8, 2);
    read(one_ahead, Condition::rest, {3.410, 3.180, 3.330, 3.560, 3.350, 3.240, 3.290, 3.370});
    read(one_ahead, Condition::end_of_charge, {4.012, 4.008, 4.011, 4.158, 4.010, 4.009, 4.011, 4.013});
    const Explained ahead = explained(one_ahead);
    CHECK(first(ahead).fault == Fault::imbalance);
    CHECK(first(ahead).groups == std::vector<int>{4});
}

TEST_CASE("What the voltage of a flat curve does in storage is recovery, not charge") {
    TriageCase pack = pack_of(8, 3);
    read(pack, Condition::rest, {3.282, 3.282, 3.282, 3.168, 3.281, 3.281, 3.279, 3.280});
    const Explained rested = explained(pack, "lfp");
    read(pack, Condition::stored, {3.294, 3.294, 3.294, 3.194, 3.293, 3.293, 3.293, 3.292}, {}, 6.0);
    const Explained stored = explained(pack, "lfp");
    CHECK(first(stored).groups == std::vector<int>{4});
    CHECK(probability(stored, Fault::leaking_cell, {4}) < probability(rested, Fault::leaking_cell, {4}));
    CHECK(stored.something_else < 0.1);
}

// Common practice, no source: nickel cells lose a few hundredths of their charge in a month, each its own share.
TEST_CASE("Single nickel cells lie apart by what left them while they stood") {
    TriageCase pack = pack_of(8, 1);
    read(pack, Condition::rest, {1.262, 1.270, 1.256, 1.273, 1.266, 1.251, 1.269, 1.264});
    read(pack, Condition::end_of_charge, {1.337, 1.352, 1.328, 1.358, 1.344, 1.322, 1.350, 1.340});
    CHECK(first(explained(pack, "nimh")).fault == Fault::healthy);
}

TEST_CASE("N15: a pack that looks sound is loaded before anything that takes hours") {
    TriageCase pack = pack_of(8, 2);
    read(pack, Condition::rest, {3.702, 3.705, 3.676, 3.704, 3.701, 3.706, 3.703, 3.700});
    pack.terminal_v = 29.60;
    const Explained e = explained(pack);
    REQUIRE(first(e).fault == Fault::healthy);
    REQUIRE(e.settle_by);
    CHECK(e.settle_by->kind == ReadingKind::load);
}

TEST_CASE("Where a row is one figure, little is to be learned from the next reading") {
    const auto asked = [](double digit) {
        TriageCase pack = row(16);
        read_to(pack, digit, Condition::rest, with(modules(16, 7.70), {{5, 7.40}}));
        pack.terminal_v = 7.70 * 15 + 7.40;
        const Explained e = explained(pack, "nimh");
        return e.settle_by ? e.settle_by->bits : 0.0;
    };
    CHECK(asked(0.001) > 0.05);
    CHECK(asked(0.5) < asked(0.001));
}

TEST_CASE("N15: the next reading is foreseen in the digits that this bench writes") {
    for (const double digit : {0.1, 0.01}) {
        TriageCase pack = row(16);
        read_to(pack, digit, Condition::rest, with(modules(16, 7.70), {{5, 7.40}}));
        triage_detail::Posterior posterior(pack, *library().chemistry("nimh"), library().triage);
        double all = 0;
        for (const auto& c : posterior.foresee(posterior.hypotheses().front(), 4, {Condition::load, 0})) {
            CHECK(c.sd >= digit / std::sqrt(12.0)); // of what rounds to one figure
            all += c.weight;
        }
        CHECK(all == Approx(1).margin(0.02));
    }
}

TEST_CASE("N15: in a long row the next reading is asked of a group that the explanations disagree about") {
    TriageCase pack = row(28);
    std::vector<double> level = modules(28, 7.90);
    const std::vector<int> doubtful{2, 5, 8, 11, 14, 17, 20, 23, 26};
    for (const int g : doubtful)
        level[static_cast<std::size_t>(g - 1)] = 7.90 - 0.012 * g;
    read_to(pack, 0.01, Condition::rest, level);
    pack.terminal_v = 0;
    for (const double v : level)
        *pack.terminal_v += v;
    const Explained e = explained(pack, "nimh");
    REQUIRE(e.settle_by);
    CHECK(e.settle_by->bits > 0.1);
    if (e.settle_by->kind == ReadingKind::stored)
        REQUIRE(e.settle_by->groups.size() == 1);
    for (const int g : e.settle_by->groups)
        CHECK(std::any_of(e.explanations.begin(), e.explanations.end(), [g](const Explanation& x) {
            return std::find(x.groups.begin(), x.groups.end(), g) != x.groups.end();
        }));
}
