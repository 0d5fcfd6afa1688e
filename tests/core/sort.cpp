#include "core/sort/duty.h"

#include <catch2/catch.hpp>

using namespace ingot;

namespace {

RuleSet rules() {
    RuleSet r;
    r.id = "test";
    r.by_chemistry["default"] = {{{0.80, 1.6, 0.04}, {0.70, 2.2, 0.05}, {0.60, 3.0, 0.10}}};
    return r;
}
Chemistry sorting_nmc() {
    Chemistry c;
    c.id = "nmc";
    c.scrap_below_v = 2.0;
    c.quarantine_below_v = 2.5;
    c.bands = {0.5, 2.0, 3.0, 4.2, 4.23};
    return c;
}
const UnitReference reference{2.6, 0.042, 0.026, 1, ReferenceFrom::model, {}, {}, 0, false, {}};
UnitFacts good() {
    UnitFacts u;
    u.model = "H26";
    u.capacity_ah = 2.3;
    u.dc_resistance_ohm = 0.055;
    u.self_discharge_ah_per_day = 0.001;
    u.rest_voltage_v = 3.64;
    return u;
}
Duty duty_of(const UnitFacts& u) {
    static const Chemistry c = sorting_nmc();
    return sort_unit(u, reference, &c, rules()).duty;
}

} // namespace

TEST_CASE("The worst reason decides the duty") {
    CHECK(duty_of(good()) == Duty::drive);
    UnitFacts u = good();
    u.capacity_ah = 2.6 * 0.75;
    CHECK(duty_of(u) == Duty::store);
    u.dc_resistance_ohm = 0.042 * 2.5;
    CHECK(duty_of(u) == Duty::light);
    u.capacity_ah = 2.6 * 0.5;
    CHECK(duty_of(u) == Duty::scrap);
    u = good();
    u.self_discharge_ah_per_day = 0.020; // 23 % a month
    CHECK(duty_of(u) == Duty::scrap);
}

TEST_CASE("Limits belong to the better duty exactly on the edge") {
    UnitFacts u = good();
    u.capacity_ah = 2.6 * 0.80;
    CHECK(duty_of(u) == Duty::drive);
    u.capacity_ah = 2.6 * 0.80 - 0.001;
    CHECK(duty_of(u) == Duty::store);
}

TEST_CASE(
    "Deep-discharged lithium: under 2.0 V scrap, 2.0 to 2.5 V quarantine") { // the cautious school, common practice
    UnitFacts u = good();
    u.rest_voltage_v = 1.9;
    CHECK(duty_of(u) == Duty::scrap);
    u.rest_voltage_v = 2.2;
    CHECK(duty_of(u) == Duty::quarantine);
    u.rest_voltage_v = 2.5;
    CHECK(duty_of(u) == Duty::drive);
    u.rest_voltage_v = 4.3;
    CHECK(duty_of(u) == Duty::quarantine);
}

TEST_CASE("What is not measured") {
    UnitFacts u = good();
    u.capacity_ah.reset();
    CHECK(duty_of(u) == Duty::rest_again); // never trusts a voltage
    u = good();
    u.dc_resistance_ohm.reset();
    CHECK(duty_of(u) == Duty::store);
    u.ac_resistance_ohm = 0.030; // the other method counts against its own new value
    CHECK(duty_of(u) == Duty::drive);
    u = good();
    u.self_discharge_ah_per_day.reset(); // K12: a leak that nobody looked for leaves no top duty
    CHECK(duty_of(u) == Duty::store);
    u = good();
    u.quarantine_findings = {"swollen"};
    CHECK(duty_of(u) == Duty::quarantine);
}

TEST_CASE("Every verdict carries its evidence, and what decided") {
    UnitFacts u = good();
    u.capacity_ah = 2.6 * 0.65;
    const Chemistry c = sorting_nmc();
    const Verdict v = sort_unit(u, reference, &c, rules());
    CHECK(v.duty == Duty::light);
    CHECK(v.rule_set == "test v1");
    int deciding = 0;
    for (const Evidence& e : v.evidence) {
        if (e.decides) {
            ++deciding;
            CHECK(e.kind == EvidenceKind::capacity);
            CHECK(*e.relative == Approx(0.65));
            REQUIRE(e.limits.size() == 3);
            CHECK(e.limits[0].value == Approx(2.08));
        }
    }
    CHECK(deciding == 1);
}

TEST_CASE("A model's own limits replace the relative ones") {
    RuleSet r = rules();
    r.by_model["H26"].least_capacity_ah[0] = 2.4;
    const Chemistry c = sorting_nmc();
    CHECK(sort_unit(good(), reference, &c, r).duty == Duty::store);
}

TEST_CASE("An unknown model is judged against the best of its siblings") {
    std::vector<UnitFacts> pool;
    for (int i = 0; i <= 100; ++i) {
        UnitFacts u;
        u.model = "X";
        u.capacity_ah = 1.0 + i * 0.01;
        u.dc_resistance_ohm = 0.030 + i * 0.0005;
        pool.push_back(u);
    }
    const auto references = references_from_pool(pool);
    const UnitReference& x = references.at("X");
    CHECK(x.from == ReferenceFrom::siblings);
    CHECK(x.rated_ah == Approx(1.95));
    CHECK(*x.new_dc_resistance_ohm == Approx(0.035));
    CHECK(sort_unit(pool.back(), x, nullptr, rules()).evidence.front().reference == ReferenceFrom::siblings);
}

TEST_CASE("N35: a duty may ask for amperes; a model without a data sheet counts as one that empties in an hour") {
    RuleSet asking = rules();
    asking.by_chemistry["default"][0].least_current_it = 3;
    asking.by_chemistry["default"][1].least_current_it = 0.8;
    const Chemistry c = sorting_nmc();
    UnitReference able = reference;
    able.continuous_a = 10; // 3.8 It
    CHECK(sort_unit(good(), able, &c, asking).duty == Duty::drive);
    able.continuous_a = 5; // 1.9 It
    CHECK(sort_unit(good(), able, &c, asking).duty == Duty::store);
    able.continuous_a = 1; // 0.4 It: only Light asks for nothing
    CHECK(sort_unit(good(), able, &c, asking).duty == Duty::light);
    const Verdict without = sort_unit(good(), reference, &c, asking);
    CHECK(without.duty == Duty::store);
    const auto current = std::find_if(without.evidence.begin(), without.evidence.end(),
                                      [](const Evidence& e) { return e.kind == EvidenceKind::current; });
    REQUIRE(current != without.evidence.end());
    CHECK(*current->measured == Approx(2.6));
    CHECK(current->reference == ReferenceFrom::nobody);
    CHECK(current->decides);
    // A school that does not ask says nothing of it.
    for (const Evidence& e : sort_unit(good(), able, &c, rules()).evidence)
        CHECK(e.kind != EvidenceKind::current);
}

TEST_CASE("A duty may ask for youth; an age that nobody knows is not held against a unit") {
    RuleSet young = rules();
    young.by_chemistry["default"][0].largest_age_years = 5;
    young.by_chemistry["default"][1].largest_age_years = 9;
    young.by_chemistry["default"][2].largest_age_years = 12;
    const Chemistry c = sorting_nmc();
    UnitFacts u = good();
    CHECK(sort_unit(u, reference, &c, young).duty == Duty::drive);
    const std::array<std::pair<double, Duty>, 4> expected{
        {{5.0, Duty::drive}, {5.1, Duty::store}, {11, Duty::light}, {13, Duty::scrap}}};
    for (const auto& [years, duty] : expected) {
        u.age_years = years;
        CHECK(sort_unit(u, reference, &c, young).duty == duty);
    }
}

TEST_CASE("A school may keep units with a finding to be handled with care from harder duties") {
    RuleSet careful = rules();
    careful.with_care = Duty::light;
    const Chemistry c = sorting_nmc();
    UnitFacts u = good();
    u.care_findings = {"dented"};
    CHECK(sort_unit(u, reference, &c, rules()).duty == Duty::drive);
    CHECK(sort_unit(u, reference, &c, careful).duty == Duty::light);
    CHECK(sort_unit(good(), reference, &c, careful).duty == Duty::drive);
}

TEST_CASE("N37: nickel of the low-self-discharge kind has its own shelf limits") {
    RuleSet r = rules();
    r.by_chemistry["nimh"] = {{{0.77, 1.6, 0.30, {}, {}, 0.05}, {0.70, 2.2, 0.30, {}, {}, 0.05}, {0.60, 3.0, 0.45}}};
    Chemistry nimh = sorting_nmc();
    nimh.id = "nimh";
    UnitFacts u = good();
    u.self_discharge_ah_per_day = 0.10 * 2.6 / 30; // 10 % a month: sound for one kind, a leaker for the other
    UnitReference usual = reference;
    UnitReference low = reference;
    low.low_self_discharge = true;
    CHECK(sort_unit(u, usual, &nimh, r).duty == Duty::drive);
    CHECK(sort_unit(u, low, &nimh, r).duty == Duty::light); // the lamp's limit is the same for both
    u.self_discharge_ah_per_day = 0.02 * 2.6 / 30;
    CHECK(sort_unit(u, low, &nimh, r).duty == Duty::drive);
    // A rule set of old knows one limit for all.
    r.by_chemistry["nimh"][0].largest_self_discharge_low.reset();
    u.self_discharge_ah_per_day = 0.10 * 2.6 / 30;
    CHECK(sort_unit(u, low, &nimh, r).evidence.back().allows == Duty::drive);
    // The stricter duty may not be the looser one for either kind.
    CHECK_FALSE(loosens({0.8, 1.6, 0.3, {}, {}, 0.05}, {0.7, 2.2, 0.3, {}, {}, 0.04}));
}

TEST_CASE("A duty may ask that a unit stays cool; a rise that nobody read is not held against it") {
    RuleSet r = rules();
    r.by_chemistry["default"][0].largest_rise_k = 12;
    r.by_chemistry["default"][1].largest_rise_k = 20;
    const Chemistry c = sorting_nmc();
    UnitFacts u = good();
    CHECK(sort_unit(u, reference, &c, r).duty == Duty::drive);
    Measurement warm;
    warm.quantity = Quantity::temperature;
    warm.value = 38;
    warm.taken_at = "2026-11-20T10:00:00Z";
    warm.conditions.condition = Condition::load;
    const auto judged = [&] {
        UnitFacts facts = good();
        take_history(facts, std::span(&warm, 1));
        UnitFacts known = good();
        known.rise_k = facts.rise_k;
        return sort_unit(known, reference, &c, r).duty;
    };
    CHECK(judged() == Duty::drive); // nobody knows where it began
    warm.conditions.temperature_c = 24;
    CHECK(judged() == Duty::store); // 14 K
    warm.value = 46;
    CHECK(judged() == Duty::light);
    warm.conditions.condition = Condition::rest; // of a room
    CHECK(judged() == Duty::drive);
}
