// What may stand on a channel: a unit, like nickel units in series, an assembly by its terminals (N28).
#include "workshop/bay_schedule.h"
#include "workshop/hand_bays.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

struct ChannelShop {
    Temporary folder;
    std::string file = folder.file("w.ingot");
    std::unique_ptr<Workshop> shop = tests::new_shop(file, "Channels");
    std::vector<Id> modules, cells;
    Id row = 0, pack = 0, tall = 0;

    ChannelShop() {
        const Id lot = shop->receive().add_lot({0, "RPT-04", "", "", "", {}}).value();
        const auto add = [&](const char* label, const char* chemistry, PackLayout layout, double ah) {
            Assembly p;
            p.lot = lot;
            p.label = label;
            p.chemistry = chemistry;
            p.format = chemistry == std::string("nmc") ? "18650" : "";
            p.layout = layout;
            p.claim.capacity_ah = ah;
            return shop->receive().add_pack(p).value();
        };
        const auto open = [&](Id id, const char* model) {
            REQUIRE(shop->receive().set_state(id, AssemblyState::to_open));
            return shop->open().open_pack(id, "K4", model, "T1").value();
        };
        modules = open(add("modules", "nimh", {6, 1, 6}, 6.5), "G65M");
        cells = open(add("stick", "nmc", {4, 1, 1}, 2.6), "H26");
        row = add("lantern row", "nimh", {2, 1, 6}, 6.5);
        pack = add("repeater pack", "nmc", {4, 2, 1}, 5.2);
        tall = add("tall row", "nimh", {10, 1, 6}, 6.5);
    }
    [[nodiscard]] const Protocol* protocol(const char* id) const { return shop->library().protocol(id); }
    [[nodiscard]] std::string why(const OnChannel& on, const char* id) const {
        const auto problem = may_run_on_no_bay(*shop, on, protocol(id));
        return problem ? problem->sentence.english() : std::string();
    }
};

} // namespace

TEST_CASE("N28: units in series share a channel only where the weakest is in no danger") {
    ChannelShop c;
    const OnChannel three = OnChannel::in_series({c.modules[0], c.modules[1], c.modules[2]});
    CHECK_FALSE(may_run_on_no_bay(*c.shop, three, c.protocol("ni-conditioning")));
    CHECK(code_on(*c.shop, three) == c.shop->unit(c.modules[0])->code() + " + 2 in series");
    CHECK(usual_protocol_of(*c.shop, three) == "ni-conditioning");
    // A channel's limits by what stands on it: three modules of six cells, the rating of one.
    const BayUnit facts = bay_unit_of(*c.shop, three);
    CHECK(facts.cells == 18);
    CHECK(facts.rated_ah == bay_unit_of(*c.shop, c.modules[0]).rated_ah);
    const Protocol& conditioning = *c.protocol("ni-conditioning");
    const Chemistry& nickel = *chemistry_on(*c.shop, three);
    for (const ProtocolStep& step : conditioning.steps)
        if (step.kind == ProtocolStepKind::discharge || step.kind == ProtocolStepKind::charge) {
            const BayLimits alone = limits_for(conditioning, step, bay_unit_of(*c.shop, c.modules[0]), nickel);
            const BayLimits together = limits_for(conditioning, step, facts, nickel);
            CHECK(together.high_v == Approx(3 * alone.high_v));
            CHECK(together.low_v == Approx(3 * alone.low_v));
            CHECK(together.capacity_ah == Approx(alone.capacity_ah));
        }
    CHECK(c.why(three, "ni-capacity").find("no unit's own") != std::string::npos);
    CHECK(c.why(OnChannel::in_series({c.modules[0], c.modules[0]}), "ni-conditioning").find("twice") !=
          std::string::npos);
    CHECK(c.why(OnChannel::in_series({c.modules[0], c.cells[0]}), "ni-conditioning").find("not of one model") !=
          std::string::npos);
    CHECK(c.why(OnChannel::in_series({c.cells[0], c.cells[1]}), "li-capacity").find("watches each") !=
          std::string::npos);
    REQUIRE(c.shop->receive().open_quarantine(c.modules[2], "warm"));
    CHECK(c.why(three, "ni-conditioning").find("quarantine") != std::string::npos);
    CHECK(quarantined_on(*c.shop, three));
    CHECK_FALSE(in_series_from(*c.shop, " ").ok());
    CHECK_FALSE(in_series_from(*c.shop, "K4-0001 K4-9999").ok());
    const std::string codes = c.shop->unit(c.modules[1])->code() + ", " + c.shop->unit(c.modules[0])->code() + " ";
    CHECK(in_series_from(*c.shop, codes).value() == OnChannel::in_series({c.modules[1], c.modules[0]}));
}

TEST_CASE(
    "N28: a string on one channel of a hobby charger: held by all its units, judged together, no unit's capacity") {
    ChannelShop c;
    HandBays hand(*c.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    Measurement rested;
    rested.value = 7.9;
    for (std::size_t m = 0; m < 3; ++m)
        REQUIRE(c.shop->test().record_reading(c.modules[m], rested));
    const OnChannel three = OnChannel::in_series({c.modules[0], c.modules[1], c.modules[2]});
    CHECK(hand.card(three, *c.protocol("ni-conditioning")).join(QLatin1Char('\n')).contains(QStringLiteral("18.00")));
    CHECK_FALSE(hand.begin(three, "Four-way", 1, "ni-conditioning", 15.8, 20.0)); // one of them is not there
    CHECK_FALSE(hand.begin(three, "Four-way", 1, "ni-conditioning", -23.7, 20.0));
    const Id run = hand.begin(three, "Four-way", 1, "ni-conditioning", 23.7, 20.0).value();
    for (std::size_t m = 0; m < 3; ++m) {
        CHECK(hand.bay_of(c.modules[m])->run == run);
        CHECK_FALSE(c.shop->unit(c.modules[m])->facts.fresh_voltage_v()); // charge was moved through each
        CHECK_FALSE(hand.begin(c.modules[m], "Four-way", 2, "ni-conditioning", 7.9, 20.0));
    }
    CHECK_FALSE(hand.bay_of(c.modules[3]));
    for (const double ah : {5.4, 5.45, 5.46})
        REQUIRE(hand.add_cycle(run, {6.2, ah, bench::StepEnd::cutoff, 31.0}));
    const HandBay bay = hand.bay_of(c.modules[1]).value();
    CHECK(bay.cycles.size() == 3);
    REQUIRE(bay.row); // how the string does, which is how its weakest does
    CHECK(bay.row->result.verdict == ConditioningVerdict::fit);
    REQUIRE(hand.end(run, true));
    REQUIRE(hand.lift_out(run));
    for (std::size_t m = 0; m < 3; ++m) {
        CHECK_FALSE(c.shop->unit(c.modules[m])->facts.capacity_ah);
        CHECK(c.shop->test().cycles(c.modules[m]).empty());
        REQUIRE(c.shop->test().runs(c.modules[m]).size() == 1);
        CHECK(c.shop->test().runs(c.modules[m]).front().behind.size() == 2);
    }
    CHECK_FALSE(c.shop->test().give_run(run, c.modules[4])); // it says nothing of one of them
    // The file holds it all: closed and opened again.
    c.shop.reset();
    c.shop = std::move(Workshop::open(c.file).value());
    CHECK(c.shop->test().runs(c.modules[2]).front().holds(c.modules[0]));
    CHECK_FALSE(c.shop->unit(c.modules[2])->facts.fresh_voltage_v());
    // Hot: all that stood there is held apart.
    const OnChannel two = OnChannel::in_series({c.modules[3], c.modules[4]});
    HandBays again(*c.shop);
    const Id hot = again.begin(two, "Four-way", 1, "ni-conditioning", 15.8, 20.0).value();
    REQUIRE(again.add_cycle(hot, {6.2, 2.0, bench::StepEnd::hot, 57.0}));
    CHECK(c.shop->unit(c.modules[3])->quarantined);
    CHECK(c.shop->unit(c.modules[4])->quarantined);
}

TEST_CASE("A pack on a channel by its terminals: only whole, only watched, only past its gate") {
    ChannelShop c;
    HandBays hand(*c.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    const OnChannel row = OnChannel::of_assembly(c.row);
    const OnChannel pack = OnChannel::of_assembly(c.pack);
    CHECK_FALSE(may_run_on_no_bay(*c.shop, row, c.protocol("ni-capacity")));
    CHECK(bay_unit_of(*c.shop, row).cells == 12);
    CHECK(bay_unit_of(*c.shop, row).rated_ah == 6.5); // what its label says
    CHECK(usual_protocol_of(*c.shop, row) == "ni-capacity");
    // A label that promises what its cells cannot hold gives no current.
    Assembly boast = *c.shop->pack(c.pack);
    boast.label = "boasting pack";
    boast.claim.capacity_ah = 39.6;
    const OnChannel boasting = OnChannel::of_assembly(c.shop->receive().add_pack(boast).value());
    CHECK(bay_unit_of(*c.shop, pack).rated_ah == Approx(5.2));
    CHECK(bay_unit_of(*c.shop, boasting).rated_ah == 0);
    REQUIRE(c.shop->receive().note_particulars(boasting.assembly, 0, {{ParticularKind::board, "4S"}}));
    CHECK_FALSE(hand.begin(boasting, "Four-way", 4, "li-capacity", 15.2, 20.0));
    // Nothing but a board watches the groups of a lithium pack.
    CHECK(c.why(pack, "li-capacity").find("protection board") != std::string::npos);
    REQUIRE(c.shop->receive().note_particulars(c.pack, 0, {{ParticularKind::board, "none"}}));
    CHECK_FALSE(c.why(pack, "li-capacity").empty());
    REQUIRE(c.shop->receive().note_particulars(c.pack, 0, {{ParticularKind::board, "4S with balance leads"}}));
    CHECK(c.why(pack, "li-capacity").empty());
    CHECK(c.why(OnChannel::of_assembly(c.tall), "ni-capacity").find("60 V") != std::string::npos);
    REQUIRE(c.shop->receive().pass_gate(c.tall));
    CHECK(c.why(OnChannel::of_assembly(c.tall), "ni-capacity").empty());
    // 60 cells are beyond what the charger can do.
    CHECK_FALSE(hand.begin(OnChannel::of_assembly(c.tall), "Four-way", 1, "ni-capacity", 78, 20.0));
    for (const auto& [group, volts] : {std::pair{1, 7.92}, {2, 7.90}})
        REQUIRE(c.shop->triage().record_group_reading(c.row, group, volts, Condition::rest, "meter", {}));
    const Id run = hand.begin(row, "Four-way", 2, "ni-capacity", 15.8, 20.0).value();
    CHECK(hand.bays()[1].code == "lantern row");
    CHECK_FALSE(hand.begin(row, "Four-way", 3, "ni-capacity", 15.8, 20.0));
    REQUIRE(hand.add_cycle(run, {{}, 4.8, bench::StepEnd::cutoff, 30.0})); // only what was left in it
    REQUIRE(hand.add_cycle(run, {6.6, 5.9, bench::StepEnd::cutoff, 32.0}));
    REQUIRE(hand.end(run, true));
    REQUIRE(hand.lift_out(run));
    // What it gave is a measurement of its terminals, from that run.
    std::vector<Measurement> measured;
    for (const Measurement& m : c.shop->inventory().measurements(c.row))
        if (m.quantity == Quantity::capacity)
            measured.push_back(m);
    REQUIRE(measured.size() == 1);
    CHECK(measured[0].value == Approx(5.9));
    CHECK(measured[0].subject == Subject{0, c.row, 0, 0});
    CHECK(measured[0].run == run);
    CHECK(*measured[0].conditions.cutoff_v == Approx(12.0));
    REQUIRE(c.shop->test().runs_of_assembly(c.row).size() == 1);
    // Triage takes it as what the pack holds, and explains it as before.
    CHECK(*c.shop->triage().triage_case(c.row).capacity_ah == Approx(5.9));
    CHECK(c.shop->triage().triage_case(c.row).capacities.empty());
    CHECK(c.shop->triage().explained(c.row).explanations.front().fault == Fault::healthy);
    CHECK(c.shop->triage().group_readings(c.row, Condition::rest).size() == 2);
    // One that ran hot is held apart as a whole.
    const Id hot = hand.begin(pack, "Four-way", 1, "li-capacity", 15.2, 20.0).value();
    REQUIRE(hand.add_cycle(hot, {5.0, 3.0, bench::StepEnd::hot, 58.0}));
    CHECK(c.shop->receive().pack_quarantined(c.pack));
    CHECK(c.why(pack, "li-capacity").find("quarantine") != std::string::npos);
    // A group that is known to lie under its floor.
    REQUIRE(c.shop->triage().record_group_reading(c.row, 2, 3.1, Condition::rest, "meter", {}));
    // All groups moved in the run: what was read before it is not held beside what is read now.
    CHECK(c.shop->triage().group_readings(c.row, Condition::rest).size() == 1);
    CHECK(c.why(row, "ni-capacity").find("Group 2") != std::string::npos);
    // A sound group takes its place: what was read of the one that left is no word against the pack.
    REQUIRE(c.shop->triage().record_group_reading(c.tall, 1, 7.91, Condition::rest, "meter", {}));
    REQUIRE(c.shop->triage().move_group(c.tall, 1, c.row, 2));
    CHECK(c.why(row, "ni-capacity").empty());
    // In parts there is no pack to put on.
    REQUIRE(c.shop->receive().set_state(c.tall, AssemblyState::refused, "too heavy for this bench"));
    CHECK_FALSE(c.why(OnChannel::of_assembly(c.tall), "ni-capacity").empty());
}
