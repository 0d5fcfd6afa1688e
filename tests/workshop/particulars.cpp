// What a person knows of packs: particulars, a layout that was thought wrong, what a pack turned out to be.
#include "workshop/job.h"
#include "workshop/workshop.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <QCoreApplication>

using namespace ingot;
using tests::Temporary;

namespace {

struct KnownPacks {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Particulars");
    Id lot = shop->receive().add_lot({0, "MOW-07", "", "", "", {}}).value();

    [[nodiscard]] Id pack(const std::string& label, int series = 3) const {
        Assembly p;
        p.lot = lot;
        p.label = label;
        p.chemistry = "nmc";
        p.format = "18650";
        p.layout = {series, 2, 1};
        const Id id = shop->receive().add_pack(p).value();
        REQUIRE(shop->receive().set_state(id, AssemblyState::in_triage));
        return id;
    }
    void read(Id id, const std::vector<double>& volts) const {
        for (std::size_t g = 0; g < volts.size(); ++g)
            REQUIRE(shop->triage().record_group_reading(id, static_cast<int>(g) + 1, volts[g], Condition::rest, "m"));
    }
    [[nodiscard]] Explained said(Id id) const {
        int arguments = 0;
        const QCoreApplication loop(arguments, nullptr); // the job hands over through it
        Explained out;
        Job job(nullptr);
        bool done = false;
        shop->triage().explain_as_it_came(job, id, [&](const Explained& e) {
            out = e;
            done = true;
        });
        while (!done)
            QCoreApplication::processEvents(QEventLoop::AllEvents, 10);
        return out;
    }
    void reopen() {
        const std::string path = folder.file("w.ingot");
        shop.reset();
        shop = std::move(Workshop::open(path).value());
    }
};

} // namespace

TEST_CASE(
    "N5: particulars of a pack and a unit are kept; the newest counts, an emptied one is not known, none is lost") {
    KnownPacks s;
    const Id id = s.pack("one");
    using Kind = ParticularKind;
    REQUIRE(s.shop->receive().note_particulars(id, 0,
                                               {{Kind::device, "mower"}, {Kind::charger, "missing"}, {Kind::age, ""}}));
    REQUIRE(s.shop->receive().note_particulars(id, 0, {{Kind::charger, "at hand"}, {Kind::device, "mower"}}));
    s.reopen();
    auto known = s.shop->receive().particulars(id);
    CHECK(known.size() == 2);
    CHECK(known.at(Kind::charger) == "at hand");
    REQUIRE(s.shop->receive().note_particulars(id, 0, {{Kind::device, ""}}));
    CHECK_FALSE(s.shop->receive().particulars(id).contains(Kind::device));
    REQUIRE(s.shop->receive().set_state(id, AssemblyState::to_open));
    const auto units = s.shop->open().open_pack(id, "K4", "H26", "T1").value();
    REQUIRE(s.shop->receive().note_particulars(0, units[0], {{Kind::mass, "46.2"}}));
    CHECK(s.shop->receive().particulars(0, units[0]).at(Kind::mass) == "46.2");
    CHECK(s.shop->receive().particulars(0, units[1]).empty());
    CHECK_FALSE(s.shop->receive().note_particulars(id + 999, 0, {{Kind::note, "x"}}));
}

TEST_CASE("N4: loose units come in without a pack, with codes, a home, a price, and their claim checked") {
    KnownPacks s;
    LooseUnits units;
    units.lot = s.lot;
    units.model = "H26";
    units.chemistry = "nmc";
    units.count = 12;
    units.claim_ah = 2.6;
    units.price = "18.00";
    units.roll = "K4";
    units.tray = "L1";
    const auto made = s.shop->receive().take_in_loose(units, s.shop->open());
    REQUIRE(made);
    CHECK(made.value().size() == 12);
    const UnitState* first = s.shop->unit(made.value().front());
    CHECK(first->in_stock());
    CHECK(first->record.tray == "L1");
    CHECK(first->reference.rated_ah == Approx(2.6)); // the model's, or what is claimed of one
    const Id origin = first->record.pack;
    CHECK(s.shop->receive().particulars(origin).at(ParticularKind::price) == "18.00");
    CHECK(s.shop->receive().objections(*s.shop->pack(origin)).empty());
    // 9.9 Ah in such a cell is doubted, not counted.
    units.claim_ah = 9.9;
    units.model = "printed 9900";
    units.format = "18650";
    const auto fake = s.shop->receive().take_in_loose(units, s.shop->open());
    REQUIRE(fake);
    const UnitState* doubted = s.shop->unit(fake.value().front());
    CHECK(s.shop->receive().objections(*s.shop->pack(doubted->record.pack)).size() == 1);
    CHECK(doubted->reference.rated_ah == 0);
    CHECK(s.shop->pack(doubted->record.pack)->label == "MOW-07 \u00B7 loose 2");
    // All or none.
    const auto before = s.shop->packs().size();
    units.roll = "nonsense";
    CHECK_FALSE(s.shop->receive().take_in_loose(units, s.shop->open()));
    units.roll = "K4";
    units.count = 0;
    CHECK_FALSE(s.shop->receive().take_in_loose(units, s.shop->open()));
    units.count = 3;
    units.lot = 999;
    CHECK_FALSE(s.shop->receive().take_in_loose(units, s.shop->open()));
    CHECK(s.shop->packs().size() == before);
    s.reopen();
    CHECK(s.shop->packs().size() == before);
    CHECK(s.shop->units().size() == 24);
}

TEST_CASE("N6: groups and units are corrected with a trail; what was read or opened is not cut off") {
    const KnownPacks s;
    const Id id = s.pack("one", 5);
    s.read(id, {3.70, 3.70, 3.70, 3.70});
    CHECK_FALSE(s.shop->receive().correct_layout(id, {3, 2, 1}, "counted").ok()); // group 4 was read
    CHECK_FALSE(s.shop->receive().correct_layout(id, {4, 2, 1}, "").ok());        // how do you know?
    CHECK_FALSE(s.shop->receive().correct_layout(id, {0, 2, 1}, "counted").ok());
    REQUIRE(s.shop->receive().correct_layout(id, {4, 3, 1}, "counted"));
    CHECK(s.shop->pack(id)->layout == PackLayout{4, 3, 1});
    CHECK(s.shop->triage().groups_taken_out(id).empty());
    REQUIRE(s.shop->receive().correct_layout(id, {6, 3, 1}, "looked again"));
    REQUIRE(s.shop->triage().record_group_reading(id, 6, 3.71, Condition::rest, "m"));
    REQUIRE(s.shop->receive().set_state(id, AssemblyState::to_open));
    CHECK(s.shop->open().open_pack(id, "K4", "H26", "T1").value().size() == 18);
    CHECK_FALSE(s.shop->receive().correct_layout(id, {7, 3, 1}, "counted").ok());
    int corrected = 0;
    for (const Event& event : s.shop->ledger().events_of("one"))
        corrected += event.what == "layout corrected" && event.detail.find("S") != std::string::npos;
    CHECK(corrected == 2);
}

TEST_CASE("N51: what a pack turned out to be is held against what was said while it was whole") {
    const KnownPacks s;
    const Id id = s.pack("one", 5);
    s.read(id, {3.70, 3.70, 0.10, 3.70, 3.70});
    CHECK(s.said(id).explanations.front().fault == Fault::dead_group);
    REQUIRE(s.shop->receive().set_state(id, AssemblyState::to_open));
    REQUIRE(s.shop->open().open_pack(id, "K4", "H26", "T1"));
    const Explained said = s.said(id); // opened, and still what was read of it then
    REQUIRE(said.explanations.front().fault == Fault::dead_group);
    CHECK_FALSE(s.shop->triage().record_outcome(id, {{Fault::dead_group, {9}}}, said).ok());
    REQUIRE(s.shop->triage().record_outcome(id, {{Fault::dead_group, {3}}}, said));
    const auto outcome = s.shop->triage().outcome(id);
    REQUIRE(outcome);
    CHECK(outcome->first_right());
    CHECK(outcome->cause_stated == Approx(said.explanations.front().probability).epsilon(1e-4));
    REQUIRE(s.shop->triage().record_outcome(id, {{Fault::leaking_cell, {3}}}, said)); // looked again
    CHECK(s.shop->triage().outcomes().size() == 1);
    CHECK_FALSE(s.shop->triage().outcome(id)->first_right());
    const Reliability shop = reliability(s.shop->triage().outcomes());
    CHECK(shop.packs == 1);
    CHECK(shop.right == 0);
    CHECK(shop.stated > 0.5);
}

TEST_CASE("N51: the units that came out of a pack say what it turned out to be") {
    const KnownPacks s;
    const Id id = s.pack("opened and tested", 4);
    s.read(id, {3.70, 3.70, 3.70, 0.30});
    CHECK(s.shop->triage().causes_by_units(id).empty()); // nothing came out of it yet
    REQUIRE(s.shop->receive().set_state(id, AssemblyState::to_open));
    const auto units = s.shop->open().open_pack(id, "K4", "H26", "T1").value();
    REQUIRE(units.size() == 8);
    CHECK(s.shop->triage().causes_by_units(id) == std::vector<NamedFault>{{Fault::dead_group, {4}}});
    const auto measure = [&](Id unit, Quantity quantity, double value) {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        m.instrument = "bench";
        REQUIRE(s.shop->test().record_reading(unit, m));
    };
    for (const Id unit : units) {
        const int group = s.shop->unit(unit)->record.group;
        measure(unit, Quantity::capacity, group == 2 ? 1.6 : 2.4);
        measure(unit, Quantity::self_discharge, unit == units[0] ? 0.02 : 0.0005);
    }
    const int leaking = s.shop->unit(units[0])->record.group;
    REQUIRE(leaking == 1);
    const auto causes = s.shop->triage().causes_by_units(id);
    CHECK(causes ==
          std::vector<NamedFault>{{Fault::dead_group, {4}}, {Fault::leaking_cell, {1}}, {Fault::weak_group, {2}}});
    REQUIRE(s.shop->triage().record_outcome(id, causes, s.said(id)));
    CHECK(s.shop->triage().outcome(id)->causes == causes);
    CHECK(s.shop->triage().causes_by_units(s.pack("another")).empty());
}

TEST_CASE("N51: packs of a kind teach what to expect of the next one, others of the shop less, never under a floor") {
    const KnownPacks s;
    const Explained nothing;
    for (int i = 0; i < 12; ++i)
        REQUIRE(s.shop->triage().record_outcome(s.pack("leaker " + std::to_string(i), 5), {{Fault::leaking_cell, {2}}},
                                                nothing));
    const auto by_name = [&](Id id, Fault fault) {
        double sum = 0;
        for (const Explanation& e : s.shop->triage().explained(id).explanations)
            sum += e.fault == fault ? e.probability : 0;
        return sum;
    };
    const Id same = s.pack("same kind", 5);
    const Id other = s.pack("other kind", 4);
    s.read(same, {3.70, 3.70, 3.64, 3.70, 3.70});
    s.read(other, {3.70, 3.70, 3.64, 3.70});
    CHECK(by_name(same, Fault::leaking_cell) > by_name(other, Fault::leaking_cell) + 0.02);
    CHECK(s.shop->triage().outcomes_of_kind(*s.shop->pack(other)).empty());
    CHECK(s.shop->triage().outcomes_like(*s.shop->pack(other)).size() == 12);
    CHECK(s.shop->triage().outcomes_like(*s.shop->pack(same)).empty());
    Assembly row = *s.shop->pack(other); // of modules, and of nickel: nothing is like it
    row.chemistry = "nimh";
    row.layout.cells_per_unit = 6;
    CHECK(s.shop->triage().outcomes_like(row).empty());
    // A cause that is corrected counts at once, though there are no more of them.
    const double leaking = by_name(same, Fault::leaking_cell);
    for (const Assembly& pack : s.shop->packs())
        if (pack.label.rfind("leaker", 0) == 0)
            REQUIRE(s.shop->triage().record_outcome(pack.id, {{Fault::weak_group, {2}}}, nothing));
    CHECK(by_name(same, Fault::leaking_cell) < leaking - 0.05);
    // The floor, and what is left for faults without a name.
    const TriageKnowledge& shipped = s.shop->library().triage;
    Outcome one;
    one.causes = {{Fault::leaking_cell, {}}};
    const std::vector<Outcome> thousand(1000, one);
    const TriageKnowledge after = learned(shipped, thousand);
    double named = 0;
    double named_before = 0;
    for (std::size_t f = 0; f < after.prior.size(); ++f) {
        named += after.prior[f];
        named_before += shipped.prior[f];
        CHECK(after.prior[f] >= 0.2 * shipped.prior[f] - 1e-12);
    }
    CHECK(named == Approx(named_before));
    CHECK(learned(shipped, {}).prior == shipped.prior);
    // A pack of the kind counts as two that are like it.
    const std::vector<Outcome> ten(10, one);
    const std::vector<Outcome> twenty(20, one);
    const auto by_kind = learned(shipped, ten).prior;
    const auto by_alike = learned(shipped, {}, twenty).prior;
    for (std::size_t f = 0; f < by_kind.size(); ++f)
        CHECK(by_kind[f] == Approx(by_alike[f]));
}

TEST_CASE("N51: an outcome reads back from its line; anything else is none") {
    Outcome o;
    o.causes = in_order({{Fault::weak_group, {5, 2}}, {Fault::dead_group, {3}}, {Fault::weak_group, {5}}});
    CHECK(o.causes == std::vector<NamedFault>{{Fault::dead_group, {3}}, {Fault::weak_group, {2, 5}}});
    o.cause_stated = 0.25;
    o.first = in_order({{Fault::imbalance, {}}, {Fault::healthy, {}}, {Fault::latched_board, {}}});
    CHECK(o.first.size() == 2);
    o.first_stated = 0.5;
    const auto back = read_outcome(write_outcome(o));
    REQUIRE(back);
    CHECK(back->causes == o.causes);
    CHECK(back->first == o.first);
    CHECK(back->first_stated == 0.5);
    CHECK(back->cause_stated == 0.25);
    CHECK(in_order({}) == std::vector<NamedFault>{NamedFault{}});
    // As lines were written when a pack could have one fault only.
    const auto before = read_outcome("leaking-cell 2,5 0.25 dead-group 3 0.5");
    REQUIRE(before);
    CHECK(before->causes == std::vector<NamedFault>{{Fault::leaking_cell, {2, 5}}});
    CHECK(before->first == std::vector<NamedFault>{{Fault::dead_group, {3}}});
    for (const char* bad :
         {"", "moon - 0.2 healthy - 0.3", "healthy 0 0.2 healthy - 0.3", "healthy - x healthy - 0.3",
          "healthy - 0.2 healthy - x", "dead-group 3 0.2 healthy - 0.3 with",
          "dead-group 3 0.2 healthy - 0.3 with moon 2", "dead-group 3 0.2 healthy - 0.3 and weak-group 2"})
        CHECK_FALSE(read_outcome(bad));
}

TEST_CASE("N51: two faults of one pack are recorded together, and the first word was right only with both") {
    const KnownPacks s;
    const Id id = s.pack("two at once", 6);
    Explanation both;
    both.fault = Fault::dead_group;
    both.groups = {3};
    both.with = {{Fault::weak_group, {5}}};
    both.probability = 0.6;
    Explanation one = both;
    one.with.clear();
    one.probability = 0.3;
    Explained said;
    said.explanations = {both, one};
    const std::vector<NamedFault> found{{Fault::weak_group, {5}}, {Fault::dead_group, {3}}};
    REQUIRE(s.shop->triage().record_outcome(id, found, said));
    CHECK(s.shop->triage().outcome(id)->first_right());
    CHECK(s.shop->triage().outcome(id)->cause_stated == Approx(0.6));
    CHECK_FALSE(s.shop->triage().record_outcome(id, {{Fault::dead_group, {3}}, {Fault::weak_group, {7}}}, said).ok());
    CHECK(s.shop->triage().outcome(id)->causes.size() == 2);
    REQUIRE(s.shop->triage().record_outcome(id, {{Fault::dead_group, {3}}}, said));
    CHECK_FALSE(s.shop->triage().outcome(id)->first_right());
    CHECK(s.shop->triage().outcome(id)->cause_stated == Approx(0.3));
    CHECK(s.shop->triage().outcomes().size() == 1);
    REQUIRE(s.shop->triage().record_outcome(id, {}, said));
    CHECK(s.shop->triage().outcome(id)->causes == std::vector<NamedFault>{NamedFault{}});
    // A pack counts once, however much was wrong with it.
    Outcome two;
    two.causes = in_order(found);
    const TriageKnowledge& shipped = s.shop->library().triage;
    const auto prior = learned(shipped, std::vector<Outcome>(30, two)).prior;
    const auto of = [&](Fault fault) { return static_cast<std::size_t>(fault); };
    CHECK(prior[of(Fault::dead_group)] - shipped.prior[of(Fault::dead_group)] > 0.1);
    const double dead = prior[of(Fault::dead_group)] * 42 - shipped.prior[of(Fault::dead_group)] * 12;
    const double weak = prior[of(Fault::weak_group)] * 42 - shipped.prior[of(Fault::weak_group)] * 12;
    CHECK(dead == Approx(weak).epsilon(0.05)); // but for what brings the sum back
}
