#include "workshop/workshop.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

struct Fixture {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Test shop");
    Id lot = shop->receive().add_lot({0, "MOW-07", "", "", "", {}}).value();

    Assembly pack(const std::string& label, int series = 2, int parallel = 2) const {
        Assembly p;
        p.lot = lot;
        p.label = label;
        p.chemistry = "nmc";
        p.format = "18650";
        p.layout = {series, parallel, 1};
        return p;
    }
    Measurement reading(Quantity q, double v) const {
        Measurement r;
        r.quantity = q;
        r.value = v;
        return r;
    }
};

} // namespace

TEST_CASE("Packs: objections, labels, gate and quarantine") {
    Fixture f;
    auto p = f.pack("A", 6, 2);
    p.claim.capacity_ah = 26.4;
    CHECK(f.shop->receive().objections(p).size() == 1);
    const Id a = f.shop->receive().add_pack(p).value();
    CHECK_FALSE(f.shop->receive().add_pack(p).ok()); // label twice
    CHECK_FALSE(f.shop->receive().add_pack(f.pack("")).ok());
    auto strange = f.pack("B");
    strange.chemistry = "unobtainium";
    CHECK_FALSE(f.shop->receive().add_pack(strange).ok());

    REQUIRE(f.shop->receive().note_finding(a, 0, "swollen").ok());
    CHECK(f.shop->receive().pack_quarantined(a));
    CHECK_FALSE(f.shop->receive().set_state(a, AssemblyState::in_triage).ok());
    const auto open = f.shop->receive().open_quarantines();
    REQUIRE(open.size() == 1);
    CHECK(f.shop->receive().subject_of(open[0]) == "A");
    CHECK_FALSE(f.shop->receive().close_quarantine(open[0].id, "").ok());
    REQUIRE(f.shop->receive().close_quarantine(open[0].id, "it is the label that bulges").ok());
    CHECK(f.shop->receive().set_state(a, AssemblyState::in_triage).ok());

    const Id high = f.shop->receive().add_pack(f.pack("HV", 20, 1)).value();
    CHECK(f.shop->receive().gate_closed(*f.shop->pack(high)));
    CHECK_FALSE(f.shop->receive().set_state(high, AssemblyState::in_triage).ok());
    CHECK_FALSE(f.shop->triage().record_group_reading(high, 1, 3.7, Condition::rest, "m").ok());
    REQUIRE(f.shop->receive().pass_gate(high).ok());
    CHECK(f.shop->triage().record_group_reading(high, 1, 3.7, Condition::rest, "m").ok());
}

TEST_CASE("Group readings are queried when they cannot be") {
    Fixture f;
    const Id p = f.shop->receive().add_pack(f.pack("A", 3, 2)).value();
    CHECK_FALSE(f.shop->triage().record_group_reading(p, 1, 37.0, Condition::rest, "m").ok());
    CHECK_FALSE(f.shop->triage().record_group_reading(p, 4, 3.7, Condition::rest, "m").ok());
    CHECK_FALSE(f.shop->triage().record_group_reading(999, 1, 3.7, Condition::rest, "m").ok());
    for (int g = 1; g <= 3; ++g)
        REQUIRE(f.shop->triage().record_group_reading(p, g, g == 2 ? 1.8 : 3.8, Condition::rest, "m").ok());
    CHECK(f.shop->triage().result(p).summary == PackTriage::group_out_of_band);
    CHECK_FALSE(f.shop->triage().record_group_reading(p, 1, 3.7, Condition::load, "m").ok()); // under the floor
    // The later reading of one group counts; both stay.
    REQUIRE(f.shop->triage().record_group_reading(p, 2, 3.79, Condition::rest, "m").ok());
    CHECK(f.shop->triage().result(p).summary == PackTriage::healthy);
    CHECK(f.shop->ledger().counts().measurements == 4);
}

TEST_CASE("Opening a pack makes units with codes, origins and homes") {
    Fixture f;
    const Id p = f.shop->receive().add_pack(f.pack("A", 2, 3)).value();
    CHECK_FALSE(f.shop->open().open_pack(p, "K4", "H26", "S1").ok()); // not at Open yet
    REQUIRE(f.shop->receive().set_state(p, AssemblyState::to_open).ok());
    CHECK_FALSE(f.shop->open().open_pack(p, "44", "H26", "S1").ok()); // no roll
    CHECK_FALSE(f.shop->open().open_pack(p, "K4", "F32", "S1").ok()); // another chemistry's model
    const auto units = f.shop->open().open_pack(p, "K4", "H26", "S1");
    REQUIRE(units.ok());
    REQUIRE(units.value().size() == 6);
    const UnitState* fifth = f.shop->unit(units.value()[4]);
    CHECK(fifth->record.group == 2);
    CHECK(fifth->record.place == 2);
    CHECK(fifth->record.well == 5);
    CHECK(fifth->record.code == UnitCode{"K4", 5});
    CHECK(f.shop->pack(p)->state == AssemblyState::opened);
    // The next pack goes on in numbers and wells.
    const Id q = f.shop->receive().add_pack(f.pack("B", 1, 2)).value();
    REQUIRE(f.shop->receive().set_state(q, AssemblyState::to_open).ok());
    const auto more = f.shop->open().open_pack(q, "K4", "H26", "S1").value();
    CHECK(f.shop->unit(more[0])->record.code.number == 7);
    CHECK(f.shop->unit(more[0])->record.well == 7);
    CHECK_FALSE(f.shop->open().set_home(more[0], "S1", 1).ok());
    CHECK(f.shop->open().set_home(more[0], "S2", 1).ok());
    // Whole codes and last figures find a unit.
    CHECK(f.shop->find_unit(f.shop->unit(units.value()[4])->code()).value() == units.value()[4]);
    CHECK(f.shop->find_unit("5").value() == units.value()[4]);
    CHECK_FALSE(f.shop->find_unit("99").ok());
    CHECK_FALSE(f.shop->find_unit("K4-0005-0").ok());
    CHECK_FALSE(f.shop->find_unit("pliers").ok());
}

TEST_CASE("Readings make verdicts; strikes take them back; verdicts can be overruled with a reason") {
    Fixture f;
    const Id p = f.shop->receive().add_pack(f.pack("A", 1, 1)).value();
    REQUIRE(f.shop->receive().set_state(p, AssemblyState::to_open).ok());
    const Id u = f.shop->open().open_pack(p, "K4", "H26", "").value()[0];
    int announced = 0;
    QObject::connect(f.shop.get(), &Workshop::changed, [&] { ++announced; });
    CHECK(f.shop->unit(u)->verdict.duty == Duty::rest_again);
    CHECK_FALSE(f.shop->test().record_reading(u, f.reading(Quantity::capacity, 2300)).ok()); // mAh for Ah
    const Id capacity = f.shop->test().record_reading(u, f.reading(Quantity::capacity, 2.3)).value();
    REQUIRE(f.shop->test().record_reading(u, f.reading(Quantity::dc_resistance, 0.05)).ok());
    CHECK(f.shop->unit(u)->verdict.duty == Duty::store); // its leak is not measured
    REQUIRE(f.shop->test().record_reading(u, f.reading(Quantity::self_discharge, 0.001)).ok());
    CHECK(f.shop->unit(u)->verdict.duty == Duty::drive);
    CHECK(announced == 3);
    CHECK_FALSE(f.shop->test().strike_reading(capacity, "").ok());
    REQUIRE(f.shop->test().strike_reading(capacity, "clip was loose").ok());
    CHECK(f.shop->unit(u)->verdict.duty == Duty::rest_again);
    CHECK_FALSE(f.shop->sort().overrule(u, Duty::light, "").ok());
    REQUIRE(f.shop->sort().overrule(u, Duty::light, "good enough for a lantern").ok());
    CHECK(f.shop->unit(u)->verdict.duty == Duty::light);
    CHECK(*f.shop->unit(u)->verdict.overruled_from == Duty::rest_again);
    REQUIRE(f.shop->sort().withdraw_overrule(u).ok());
    CHECK(f.shop->unit(u)->verdict.duty == Duty::rest_again);
    // A quarantine is not overruled.
    REQUIRE(f.shop->receive().note_finding(0, u, "leaking").ok());
    CHECK(f.shop->unit(u)->verdict.duty == Duty::quarantine);
    CHECK_FALSE(f.shop->sort().overrule(u, Duty::drive, "looks fine").ok());
    CHECK(f.shop->sort().overrule(u, Duty::scrap, "away with it").ok());
}

TEST_CASE("Moved limits take effect at once, and are saved as a new version") {
    Fixture f;
    const Id p = f.shop->receive().add_pack(f.pack("A", 1, 1)).value();
    REQUIRE(f.shop->receive().set_state(p, AssemblyState::to_open).ok());
    const Id u = f.shop->open().open_pack(p, "K4", "H26", "").value()[0];
    REQUIRE(f.shop->test().record_reading(u, f.reading(Quantity::capacity, 2.3)).ok());
    REQUIRE(f.shop->test().record_reading(u, f.reading(Quantity::dc_resistance, 0.05)).ok());
    RuleSet rules = f.shop->sort().rules();
    rules.by_model["H26"].least_capacity_ah[0] = 2.4;
    f.shop->sort().try_rules(rules);
    CHECK(f.shop->unit(u)->verdict.duty == Duty::store);
    CHECK(f.shop->sort().rules_changed());
    REQUIRE(f.shop->sort().save_rules().ok());
    CHECK(f.shop->sort().rules().version == 2);
    const std::string path = f.shop->path();
    f.shop.reset();
    const auto again = Workshop::open(path).value();
    CHECK(again->sort().rules().version == 2);
    CHECK(again->unit(u)->verdict.duty == Duty::store);
    CHECK(again->unit(u)->verdict.rule_set == "capacity-tested v2");
}

TEST_CASE("A workshop that only reads says so at every step") {
    Fixture f;
    const auto second = Workshop::open(f.shop->path());
    REQUIRE(second.ok());
    CHECK_FALSE(second.value()->writable());
    const auto refused = second.value()->receive().add_lot({0, "X", "", "", "", {}});
    REQUIRE_FALSE(refused.ok());
    CHECK(refused.problem().sentence.english().find("another window") != std::string::npos);
    CHECK_FALSE(second.value()->import_folder(Workshop::shipped_folder("demo")).ok());
}

TEST_CASE("Figures and typed numbers") {
    CHECK(figures::volts(3.8419) == QStringLiteral("3.842\u202FV"));
    CHECK(figures::milliohms(0.0455) == QStringLiteral("45.5\u202Fm\u03A9"));
    CHECK(figures::plain(-0.0001, 2) == QStringLiteral("0.00"));
    CHECK(figures::plain(-1.5, 1) == QStringLiteral("\u22121.5"));
    CHECK(figures::seconds(3661) == QStringLiteral("1:01:01"));
    CHECK(*figures::typed(QStringLiteral("3,842")) == 3.842);
    CHECK(*figures::typed(QStringLiteral(" 3.842 ")) == 3.842);
    CHECK(*figures::typed(QStringLiteral("\u22121")) == -1);
    CHECK_FALSE(figures::typed(QStringLiteral("3.8 V")).has_value());
}

TEST_CASE("Limits that are being tried outlast other steps, and a step reads no more again than it touched") {
    const Temporary folder;
    auto shop = std::move(Workshop::create(folder.file("w.ingot"), "Fellside").value());
    REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")));
    const Id id = shop->units().front().record.id;
    RuleSet tried = shop->sort().rules();
    tried.by_chemistry.begin()->second[0].least_capacity = 0.93;
    shop->sort().try_rules(tried);
    REQUIRE(shop->sort().rules_changed());
    REQUIRE(shop->open().set_home(id, "Z9", 3));
    CHECK(shop->sort().rules().by_chemistry.begin()->second[0].least_capacity == 0.93);
    CHECK(shop->unit(id)->record.tray == "Z9");
    CHECK(shop->unit(id)->record.well == 3);
    REQUIRE(shop->receive().note_finding(0, id, "swollen"));
    CHECK(shop->unit(id)->quarantined);
    CHECK(shop->unit(id)->verdict.duty == Duty::quarantine);
    REQUIRE(shop->receive().open_quarantines().size() > 0);
    REQUIRE(shop->open().recycle_unit(id));
    CHECK(shop->unit(id)->record.whereabouts == Whereabouts::recycled);
    CHECK(shop->unit(id)->record.tray.empty());
    // A model that the library does not know: its units are judged against each other from then on.
    const Id other = shop->units()[1].record.id;
    const Id third = shop->units()[2].record.id;
    REQUIRE(shop->open().set_unit_model(other, "no name 9"));
    REQUIRE(shop->open().set_unit_model(third, "no name 9"));
    CHECK(shop->unit(other)->reference.rated_ah == shop->unit(third)->reference.rated_ah);
    shop->import_folder("/nowhere"); // refused; nothing changes
    CHECK(shop->sort().rules_changed());
}
