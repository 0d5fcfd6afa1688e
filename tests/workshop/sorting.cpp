// Rule sets of the shop's own, ages and findings in the verdict, populations, what a match is to keep.
#include "workshop/populations_wording.h"
#include "workshop/unit_quantities.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

struct SortingShop {
    Temporary folder;
    std::string path = folder.file("w.ingot");
    std::unique_ptr<Workshop> shop = tests::new_shop(path, "Sorting");
    std::vector<Id> cells = tests::lantern_cells(*shop, {2, 6, 1});
    void read(Id unit, Quantity quantity, double value, const std::string& instrument = "bench") const {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        m.instrument = instrument;
        REQUIRE(shop->test().record_reading(unit, m));
    }
    void measure_all(double ah, double ohm) const {
        for (const Id cell : cells) {
            read(cell, Quantity::capacity, ah);
            read(cell, Quantity::dc_resistance, ohm);
            read(cell, Quantity::self_discharge, 0.0005);
            read(cell, Quantity::voltage, 3.7);
        }
    }
    [[nodiscard]] Duty duty(Id unit) const { return shop->unit(unit)->verdict.duty; }
};

} // namespace

TEST_CASE("A rule set is copied under a name, edited, compared unit by unit, and kept") {
    SortingShop s;
    s.measure_all(2.2, 0.045); // 85 % of rated
    CHECK(s.duty(s.cells[0]) == Duty::drive);
    CHECK_FALSE(s.shop->sort().copy_rules("  "));
    const auto copied = s.shop->sort().copy_rules("Mower packs, strict");
    REQUIRE(copied);
    CHECK(copied.value() == "mower-packs-strict");
    CHECK_FALSE(s.shop->sort().copy_rules("mower packs strict")); // the same again
    RuleSet strict = s.shop->sort().rules();
    CHECK(strict.name == "Mower packs, strict");
    strict.by_chemistry["default"][0].least_capacity = 0.9;
    strict.by_chemistry["default"][0].least_current_it = 1.5;
    REQUIRE_FALSE(SortService::objection(strict));
    s.shop->sort().try_rules(strict);
    CHECK(s.duty(s.cells[0]) == Duty::store);
    const auto moved = s.shop->sort().moved_by(s.shop->library().rule_sets.at("capacity-tested"));
    REQUIRE(moved.size() == s.cells.size());
    CHECK(moved.front().now == Duty::store);
    CHECK(moved.front().then == Duty::drive);
    REQUIRE(s.shop->sort().save_rules());
    RuleSet wrong = strict;
    wrong.by_chemistry["default"][1].least_capacity = 0.95; // Store asks for more than Drive
    CHECK(SortService::objection(wrong));
    s.shop.reset();
    s.shop = Workshop::open(s.path).value();
    CHECK(s.shop->sort().rules().id == "mower-packs-strict");
    CHECK(s.shop->sort().rules().version == 2);
    CHECK(s.shop->sort().rules().by_chemistry.at("default")[0].least_current_it == 1.5);
    CHECK(s.duty(s.cells[0]) == Duty::store);
}

TEST_CASE("N5: the age that is written of a pack counts for its units, a unit's own before it") {
    SortingShop s;
    s.measure_all(2.2, 0.045);
    s.shop->set_clock([] { return QDateTime(QDate(2026, 11, 28), QTime(12, 0), Qt::UTC); });
    RuleSet young = s.shop->sort().rules();
    young.by_chemistry["default"][0].largest_age_years = 5;
    s.shop->sort().try_rules(young);
    CHECK(s.duty(s.cells[0]) == Duty::drive); // nobody knows its age
    const Id pack = s.shop->unit(s.cells[0])->record.pack;
    REQUIRE(s.shop->receive().note_particulars(pack, 0, {{ParticularKind::age, "2018"}}));
    CHECK(s.duty(s.cells[0]) == Duty::store);
    CHECK(value_of(*s.shop->unit(s.cells[0]), UnitQuantity::age) == Approx(8.4).margin(0.1));
    REQUIRE(s.shop->receive().note_particulars(0, s.cells[0], {{ParticularKind::age, "2 years"}}));
    CHECK(s.duty(s.cells[0]) == Duty::drive);
    CHECK(s.duty(s.cells[1]) == Duty::store);
    REQUIRE(s.shop->receive().note_particulars(pack, 0, {{ParticularKind::age, ""}}));
    CHECK(s.duty(s.cells[1]) == Duty::drive);
}

TEST_CASE("Populations: yields, a further unit, packs for a wanted build, doubtful labels, instruments that disagree") {
    SortingShop s;
    s.measure_all(2.2, 0.045);
    for (std::size_t i = 0; i < 6; ++i) // the second half of the pack is worn out
        s.read(s.cells[6 + i], Quantity::capacity, 1.0);
    for (std::size_t i = 0; i < 6; ++i)
        s.read(s.cells[6 + i], Quantity::dc_resistance, 0.12);
    for (std::size_t i = 0; i < 6; ++i)
        s.read(s.cells[i], Quantity::dc_resistance, 0.050, "hand meter"); // a ninth above
    const PopulationAnswer answer = answer_populations(population_question(*s.shop));
    const auto& models = answer.by[static_cast<std::size_t>(PopulationBy::model)];
    REQUIRE(models.size() == 1);
    const Population& model = models.front();
    CHECK(model.units == 12);
    CHECK(model.judged == 12);
    CHECK(model.at_least(Duty::store) == 6);
    CHECK(model.packs == 1);
    CHECK(model.units_a_pack() == 12);
    REQUIRE(model.capacity_share);
    CHECK(model.capacity_share->upper == Approx(2.2 / 2.6).epsilon(0.01));
    // Half of twelve a pack: 28 more need about five packs at even odds, more for certainty.
    const auto even = packs_for(model, Duty::store, 28, 0.5);
    const auto sure = packs_for(model, Duty::store, 28, 0.9);
    REQUIRE(even);
    REQUIRE(sure);
    CHECK(*even == 5);
    CHECK(*sure > *even);
    REQUIRE(answer.doubtful.size() == 6);
    CHECK(answer.doubtful.front().suspect.suspicion == Suspicion::holds_far_less);
    REQUIRE(answer.instruments.size() == 1);
    CHECK(answer.instruments.front().gap.instrument == "hand meter");
    CHECK(answer.instruments.front().gap.ratio == Approx(0.050 / 0.045).epsilon(0.01));
    const QStringList words = wording::what_stands_out(*s.shop, answer);
    CHECK(words.front().contains(QStringLiteral("hand meter reads resistance")));
    CHECK(populations_csv(answer).find("\nmodel,") != std::string::npos);
    const Id unweighed = s.cells[0];
    REQUIRE(s.shop->receive().note_particulars(0, unweighed, {{ParticularKind::mass, "31,5 g"}}));
    const auto again = answer_populations(population_question(*s.shop));
    CHECK(std::any_of(again.doubtful.begin(), again.doubtful.end(), [&](const DoubtfulLabel& label) {
        return label.unit == unweighed && label.suspect.suspicion == Suspicion::too_light;
    }));
}

TEST_CASE("What a match is to keep is named, kept with the workshop, and forgotten") {
    SortingShop s;
    NamedDemands named{"one kind", {}};
    CHECK_FALSE(s.shop->match().name_demands(named)); // nothing asked
    named.demands.one_model_per_group = true;
    named.demands.join_window_v = 0.05;
    REQUIRE(s.shop->match().name_demands(named));
    named.demands.load_a = 20;
    REQUIRE(s.shop->match().name_demands(named)); // in its place
    s.shop.reset();
    s.shop = Workshop::open(s.path).value();
    const auto kept = s.shop->match().named_demands();
    REQUIRE(kept.size() == 1);
    CHECK(kept.front().name == "one kind");
    CHECK(kept.front().demands.one_model_per_group);
    CHECK(kept.front().demands.join_window_v == 0.05);
    CHECK(kept.front().demands.load_a == 20.0);
    REQUIRE(s.shop->match().forget_demands("one kind"));
    CHECK_FALSE(s.shop->match().forget_demands("one kind"));
    CHECK(s.shop->match().named_demands().empty());
    // What a unit may give and where it came from stand in the problem.
    s.measure_all(2.2, 0.045);
    const MatchProblem problem = s.shop->match().problem_for(s.cells);
    CHECK(problem.pool[0].continuous_a.has_value());
    CHECK(problem.pool[0].origin == problem.pool[5].origin);
    CHECK(problem.pool[0].origin != problem.pool[6].origin);
}
