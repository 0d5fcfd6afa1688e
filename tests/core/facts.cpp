#include "core/measure/facts.h"
#include "core/build/joining.h"
#include "core/match/ways.h"
#include "core/measure/moment.h"
#include "core/sort/duty.h"

#include <catch2/catch.hpp>

using namespace ingot;

namespace {

Measurement taken(Quantity quantity, double value, const std::string& at, Id id = 0) {
    Measurement m;
    m.id = id;
    m.quantity = quantity;
    m.value = value;
    m.taken_at = at;
    return m;
}
Measurement capacity_at(double ah, double amperes, const std::string& at, std::optional<double> uncertainty = {}) {
    Measurement m = taken(Quantity::capacity, ah, at);
    m.conditions.discharge_current_a = amperes;
    m.conditions.cutoff_v = 3.0;
    m.uncertainty = uncertainty;
    return m;
}
RuleSet one_rule_set() {
    RuleSet r;
    r.id = "test";
    r.by_chemistry["default"] = {{{0.80, 1.6, 0.04}, {0.70, 2.2, 0.05}, {0.60, 3.0, 0.10}}};
    return r;
}

} // namespace

TEST_CASE("K2: an older sheet that comes in late replaces nothing newer") {
    UnitFacts facts;
    take_history(facts, std::vector{taken(Quantity::capacity, 2.31, "2026-11-26T09:00:00.000Z", 1),
                                    taken(Quantity::capacity, 2.55, "2026-03-02", 2)}); // entered last
    REQUIRE(facts.capacity_ah);
    CHECK(*facts.capacity_ah == 2.31);
    CHECK(facts.capacity_ah->measurement == 1);
    CHECK(facts.capacity_ah->taken_at == "2026-11-26T09:00:00.000Z");
}

TEST_CASE("K2: a run ends the life of a rest voltage, and joining asks for a fresh one") {
    const std::vector history{taken(Quantity::voltage, 3.64, "2026-11-20T09:00:00.000Z")};
    UnitFacts rested;
    take_history(rested, history, "2026-11-19T09:00:00.000Z");
    CHECK(rested.fresh_voltage_v());
    UnitFacts ran;
    take_history(ran, history, "2026-11-21T09:00:00.000Z");
    REQUIRE(ran.rest_voltage_v); // still known, and known to be stale
    CHECK(ran.rest_voltage_v->lapse == Lapse::run_since);
    CHECK_FALSE(ran.fresh_voltage_v());
    const JoinLimits limits{0.010, 0.050, 0.300, 0.5};
    const JoinUnit good{rested.rest_voltage_v, Fact(0.05), 2.6};
    const JoinUnit stale{ran.rest_voltage_v, Fact(0.05), 2.6};
    CHECK(check_joining(std::vector{good, good}, limits).advice == JoinAdvice::join);
    const JoinCheck check = check_joining(std::vector{good, stale}, limits);
    CHECK(check.advice == JoinAdvice::unknown);
    CHECK(check.lapsed == 1);
}

TEST_CASE("K2: a capacity at 0.5 It beside those at 0.2 It is told apart in a pool") {
    MatchProblem problem;
    for (int i = 0; i < 12; ++i) {
        MatchUnit unit;
        unit.id = "u" + std::to_string(i);
        unit.chemistry = "nmc";
        Fact fact(2.3 + 0.01 * i);
        fact.conditions.discharge_current_a = i < 4 ? 1.25 : 0.5;
        unit.capacity_ah = fact;
        problem.pool.push_back(unit);
    }
    std::vector<std::optional<Fact>> facts;
    for (const MatchUnit& unit : problem.pool)
        facts.push_back(unit.capacity_ah);
    const auto unlike = unlike_most(facts);
    REQUIRE(unlike.size() == 4);
    CHECK(unlike.front().index == 0);
    CHECK(unlike.front().reasons == std::vector{Incomparable::other_rate});
    problem.series = 3;
    problem.parallel = 4;
    const auto result = match(problem, MatchWay::search);
    REQUIRE(result);
    bool said = false;
    for (const auto& [note, count] : result.value().notes)
        said = said || (note == MatchNote::unlike_capacities && count == 4);
    CHECK(said);
}

TEST_CASE("Unknown conditions stay unknown and are like everything") {
    UnitFacts facts;
    take_history(facts, std::vector{taken(Quantity::capacity, 2.3, "2026-11-20")});
    CHECK_FALSE(facts.capacity_ah->conditions.temperature_c);
    CHECK_FALSE(facts.capacity_ah->conditions.discharge_current_a);
    CHECK_FALSE(facts.capacity_ah->uncertainty);
    CHECK(unlike_most({Fact(1.0), *facts.capacity_ah, std::nullopt}).empty());
}

TEST_CASE("Measurements that agree are combined; a change in between ends the repetition") {
    UnitFacts facts;
    take_history(facts,
                 std::vector{capacity_at(2.60, 0.5, "2026-11-01", 0.02), capacity_at(2.400, 0.5, "2026-11-10", 0.02),
                             capacity_at(2.410, 0.5, "2026-11-12", 0.01)});
    REQUIRE(facts.capacity_ah);
    CHECK(facts.capacity_ah->combined == 2);
    // Weights 1/0.01² and 1/0.02²: (2.41 x 4 + 2.40) / 5.
    CHECK(*facts.capacity_ah == Approx(2.408));
    CHECK(*facts.capacity_ah->uncertainty == Approx(1 / std::sqrt(1e4 + 2500.0)));
    // Another rate is no repetition.
    take_history(facts,
                 std::vector{capacity_at(2.400, 1.25, "2026-11-10", 0.02), capacity_at(2.41, 0.5, "2026-11-12", 0.02)});
    CHECK(facts.capacity_ah->combined == 1);
    // The last written digit bounds what can be known: 2.4 is 2.35 to 2.45.
    Measurement coarse = capacity_at(2.4, 0.5, "2026-11-13");
    coarse.resolution = 0.1;
    take_history(facts, std::vector{coarse});
    CHECK(*facts.capacity_ah->uncertainty == Approx(0.05));
}

TEST_CASE("K12: a limit inside the interval is said, with what settles it") {
    UnitFacts unit;
    unit.model = "H26";
    unit.capacity_ah = 2.07; // Drive needs 2.08 of 2.6
    unit.capacity_ah->uncertainty = 0.03;
    const UnitReference rated{2.6, 0.042, {}, 1, ReferenceFrom::model, {}, {}, 0, false, {}};
    const Verdict verdict = sort_unit(unit, rated, nullptr, one_rule_set());
    const Evidence& capacity = verdict.evidence.front();
    REQUIRE(capacity.kind == EvidenceKind::capacity);
    CHECK(capacity.allows == Duty::store);
    CHECK(*capacity.at_best == Duty::drive);
    CHECK(*capacity.at_worst == Duty::store);
    unit.capacity_ah->uncertainty = 0.005;
    CHECK_FALSE(sort_unit(unit, rated, nullptr, one_rule_set()).evidence.front().at_best);
}

TEST_CASE("N36: a lone unit of an unknown model is undecided, never fit by its own measure") {
    UnitFacts unit;
    unit.model = "no name";
    unit.capacity_ah = 2.3;
    const auto siblings = references_from_pool({unit});
    CHECK(siblings.at("no name").rated_ah == 0);
    const auto alone = reference_for(nullptr, &siblings.at("no name"), std::nullopt, 6);
    CHECK(alone.cells_in_series == 6); // its pack's cells per unit stand in
    CHECK(sort_unit(unit, alone, nullptr, one_rule_set()).duty == Duty::undecided);
    unit.capacity_ah.reset();
    CHECK(sort_unit(unit, alone, nullptr, one_rule_set()).duty == Duty::undecided);
    // What its pack claims stands in.
    unit.capacity_ah = 2.3;
    const auto claimed = reference_for(nullptr, &siblings.at("no name"), 2.6, 1);
    CHECK(claimed.from == ReferenceFrom::claim);
    CHECK(sort_unit(unit, claimed, nullptr, one_rule_set()).duty == Duty::store);
    // Eight siblings say more than a label.
    std::vector<UnitFacts> many(8, unit);
    const auto by_eight = references_from_pool(many);
    CHECK(reference_for(nullptr, &by_eight.at("no name"), 9.9, 1).from == ReferenceFrom::siblings);
    many.pop_back();
    CHECK(references_from_pool(many).at("no name").rated_ah == 0);
}

TEST_CASE("A unit that leaks far beyond its siblings is neither Drive nor Store, whatever the limit allows") {
    std::vector<UnitFacts> pool;
    for (int i = 0; i < 9; ++i) {
        UnitFacts unit;
        unit.model = "H26";
        unit.capacity_ah = 2.5;
        unit.dc_resistance_ohm = 0.045;
        unit.self_discharge_ah_per_day = 0.00010 + i * 0.00001;
        pool.push_back(unit);
    }
    pool.back().self_discharge_ah_per_day = 0.0010; // 1.2 % a month: under the limit of 4 %
    const auto siblings = references_from_pool(pool);
    UnitModel model;
    model.rated_ah = 2.6;
    model.new_dc_resistance_ohm = 0.042;
    const auto reference = reference_for(&model, &siblings.at("H26"), {}, 1);
    CHECK(sort_unit(pool.front(), reference, nullptr, one_rule_set()).duty == Duty::drive);
    CHECK(sort_unit(pool.back(), reference, nullptr, one_rule_set()).duty == Duty::light);
}

TEST_CASE("Moments: what ISO 8601 says, and nothing that could be two days") {
    CHECK(*seconds_of("1970-01-02") == 86400);
    CHECK(*seconds_of("2026-11-27T10:39:22Z") == 1795775962); // by `date -u -d … +%s`
    CHECK(*seconds_of("2026-11-27T11:39:22.5+01:00") == 1795775962.5);
    CHECK(*normal_moment("2026-11-27T00:30:00+01:00") == "2026-11-26T23:30:00.000Z");
    CHECK(*normal_moment("2026-11-27 10:39") == "2026-11-27T10:39:00.000Z");
    CHECK(*normal_moment("2026-11-27") == "2026-11-27");
    CHECK(*normal_moment("2024-02-29") == "2024-02-29");
    for (const char* wrong : {"", "01/02/2026", "2026-02-30", "2026-13-01", "2026-11-27T25:00", "2026-11-27T10",
                              "yesterday", "2026-11-27T10:39:22Zx", "2026-11-27T10:39+99:00", "26-11-27"})
        CHECK_FALSE(seconds_of(wrong));
    CHECK(*days_between("2026-11-20", "2026-11-27T12:00:00Z") == 7.5);
}

TEST_CASE("N32: a resistance by a method that nobody says is held against its own instrument's readings only") {
    std::vector<UnitFacts> units;
    const auto read = [&](double ohm, const char* instrument) {
        Measurement m;
        m.quantity = Quantity::resistance;
        m.value = ohm;
        m.instrument = instrument;
        m.taken_at = "2026-11-20T08:00:00.000Z";
        UnitFacts facts;
        facts.model = "H26";
        facts.chemistry = "nmc";
        take_history(facts, std::vector{m});
        CHECK_FALSE(facts.dc_resistance_ohm);
        CHECK_FALSE(facts.ac_resistance_ohm);
        REQUIRE(facts.resistance_ohm);
        CHECK(facts.resistance_ohm->instrument == instrument);
        units.push_back(facts);
    };
    for (int i = 0; i < 9; ++i)
        read(0.060 + 0.001 * i, "Four-way");
    read(0.030, "Other charger"); // half the figure, by its own method: no reference for the others
    const auto references = references_from_pool(units);
    const auto& best = references.at("H26").best_resistance_ohm;
    REQUIRE(best.size() == 1);
    CHECK(best.at("Four-way") == Approx(0.0608).margin(1e-3));
    UnitReference rated{2.6, 0.042, 0.026, 1, ReferenceFrom::model, {}, {}, 0, false, best};
    const auto resistance = [&](const UnitFacts& unit) {
        for (const Evidence& e : sort_unit(unit, rated, nullptr, one_rule_set()).evidence)
            if (e.kind == EvidenceKind::resistance)
                return std::optional(e);
        return std::optional<Evidence>();
    };
    const auto judged = resistance(units[4]);
    REQUIRE(judged);
    CHECK(judged->note == "unsaid");
    CHECK(judged->reference == ReferenceFrom::siblings); // never the data sheet's 42 mOhm
    CHECK(*judged->relative == Approx(0.064 / best.at("Four-way")));
    CHECK_FALSE(resistance(units.back())); // nothing to hold it against
    UnitFacts both = units.back();
    both.dc_resistance_ohm = 0.040;
    CHECK(resistance(both)->note == "dc");
}
