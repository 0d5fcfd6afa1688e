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
const UnitReference reference{2.6, 0.042, 0.026, 1, ReferenceFrom::model, {}, {}};
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
