// A shop with a charger that only a person operates.
#include "workshop/hand_bays.h"
#include "workshop/bay_schedule.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <QDateTime>

#include <cmath>
#include <set>

using namespace ingot;
using tests::Temporary;

namespace {

struct HobbyShop {
    Temporary folder;
    std::string file = folder.file("w.ingot");
    std::unique_ptr<Workshop> shop = tests::new_shop(file, "Hobby shop");
    QDateTime clock = QDateTime::fromString(QStringLiteral("2026-03-02T08:00:00Z"), Qt::ISODate);
    std::vector<Id> modules, cells;

    HobbyShop() {
        shop->set_clock([this] { return clock; });
        const Id lot = shop->receive().add_lot({0, "MOW-07", "", "", "", {}}).value();
        const auto open = [&](const char* label, const char* chemistry, const char* format, const char* model,
                              int series, int in_series) {
            Assembly p;
            p.lot = lot;
            p.label = label;
            p.chemistry = chemistry;
            p.format = format;
            p.layout = {series, 1, in_series};
            const Id id = shop->receive().add_pack(p).value();
            REQUIRE(shop->receive().set_state(id, AssemblyState::to_open));
            return shop->open().open_pack(id, "K4", model, "T1").value();
        };
        for (const int series : {6, 6, 6, 6, 4}) { // a row of 28 comes apart below 60 V first
            const std::string label = "row " + std::to_string(modules.size() + 1);
            const auto part = open(label.c_str(), "nimh", "", "G65M", series, 6);
            modules.insert(modules.end(), part.begin(), part.end());
        }
        cells = open("stick", "nmc", "18650", "H26", 4, 1);
    }
    void reopen() {
        shop.reset();
        shop = std::move(Workshop::open(file).value());
        shop->set_clock([this] { return clock; });
    }
    void later(int hours) { clock = clock.addSecs(qint64{3600} * hours); }
    [[nodiscard]] std::string code(Id unit) const { return shop->unit(unit)->code(); }
};

} // namespace

TEST_CASE("N31: one charger with four channels and a row of 28 modules, from the rack to verdicts and stock") {
    HobbyShop h;
    HandBays hand(*h.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    REQUIRE(hand.chargers().size() == 1);
    CHECK(hand.bays().size() == 4);
    const std::string protocol = usual_protocol_of(*h.shop, h.modules[0]);
    CHECK(h.shop->library().protocol(protocol)->purpose == "conditioning");
    // The card says amperes and volts of this module: 6.5 Ah, six cells.
    const QString card = hand.card(h.modules[0], *h.shop->library().protocol(protocol)).join(QLatin1Char('\n'));
    CHECK(card.contains(QStringLiteral("6.00")));
    CHECK(card.contains(QStringLiteral("Discharge with")));
    // Modules of three kinds: sound ones climb over the bar of 5.0 Ah, weak ones stay under it, one falls.
    const auto capacity = [](std::size_t module, int cycle) {
        if (module % 7 == 3)
            return 3.0 + 0.02 * cycle;
        if (module == 5)
            return 4.9 - 0.25 * cycle;
        return 5.4 + 0.15 * (1 - std::exp(-cycle));
    };
    constexpr int cycles = 4;
    for (std::size_t begin = 0; begin < h.modules.size(); begin += 4) {
        std::vector<Id> runs;
        for (std::size_t k = 0; k < 4; ++k) {
            const auto run = hand.begin(h.modules[begin + k], "Four-way", static_cast<int>(k) + 1, protocol, 7.9, 20.0);
            REQUIRE(run);
            runs.push_back(run.value());
        }
        for (int cycle = 0; cycle < cycles; ++cycle) {
            h.later(5);
            for (std::size_t k = 0; k < 4; ++k)
                REQUIRE(hand.add_cycle(runs[k], {cycle == 0 ? std::nullopt : std::optional<double>(6.2),
                                                 capacity(begin + k, cycle), bench::StepEnd::cutoff, 31.0}));
        }
        for (const Id run : runs) {
            REQUIRE(hand.end(run, true));
            CHECK_FALSE(hand.add_cycle(run, {{}, 5.0, bench::StepEnd::cutoff, {}}));
            REQUIRE(hand.lift_out(run));
        }
    }
    for (std::size_t m = 0; m < h.modules.size(); ++m) {
        INFO(m);
        ConditioningRow row;
        for (const Cycle& cycle : h.shop->test().cycles(h.modules[m]))
            row.cycles.push_back({static_cast<int>(row.cycles.size()) + 1, cycle.capacity_ah, cycle.full});
        REQUIRE(row.cycles.size() == cycles);
        judge_row(*h.shop, h.modules[m], row);
        CHECK(row.result.verdict == (m % 7 == 3 || m == 5 ? ConditioningVerdict::replace : ConditioningVerdict::fit));
        // The last full discharge is its capacity, by this charger, at the current that was set.
        const auto& facts = h.shop->unit(h.modules[m])->facts;
        REQUIRE(facts.capacity_ah);
        CHECK(facts.capacity_ah->value == Approx(capacity(m, cycles - 1)));
        const Measurement measured = h.shop->test().history(h.modules[m]).front();
        CHECK(measured.instrument == "Four-way");
        CHECK(*measured.conditions.discharge_current_a > 0);
        CHECK(*measured.conditions.cutoff_v == Approx(6.0));
    }
    for (const HandBay& bay : hand.bays())
        CHECK(bay.run == 0);
}

// Common practice, no source: chargers that discharge first show D1, C1, D2, C2; what a module came with is no
// capacity.
TEST_CASE("N33: a protocol that empties first and ends charged: what was left is no cycle, the charge shown follows") {
    HobbyShop h;
    HandBays hand(*h.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    const Id module = h.modules[0];
    const Id run = hand.begin(module, "Four-way", 1, "ni-conditioning-charged", 7.9, 20.0).value();
    REQUIRE(hand.add_cycle(run, {7.5, 1.9, bench::StepEnd::cutoff, 30.0, true})); // what was left
    REQUIRE(hand.bay_of(module));
    CHECK(hand.bay_of(module)->typed == 1);
    CHECK(hand.bay_of(module)->cycles.empty());
    CHECK_FALSE(hand.bay_of(module)->capacity_ah);
    CHECK_FALSE(hand.bay_of(module)->row);
    REQUIRE(hand.add_cycle(run, {7.1, 5.6, bench::StepEnd::cutoff, 31.0, false}));
    REQUIRE(hand.add_cycle(run, {{}, 5.7, bench::StepEnd::cutoff, 31.0, false}));
    REQUIRE(hand.add_cycle(run, {7.5, 5.72, bench::StepEnd::cutoff, 31.0, true})); // ends charged
    const auto bay = hand.bay_of(module);
    REQUIRE(bay->cycles.size() == 3);
    CHECK(bay->cycles[0].capacity_ah == Approx(5.6));
    CHECK(*bay->cycles[0].charge_ah == Approx(7.5));
    CHECK(bay->cycles[0].took_all);
    CHECK(*bay->cycles[1].charge_ah == Approx(7.1));
    CHECK_FALSE(bay->cycles[1].took_all);
    CHECK_FALSE(bay->cycles[2].charge_ah); // not typed: not known
    // The same from the file, for the row.
    const auto kept = h.shop->test().cycles(module);
    REQUIRE(kept.size() == 3);
    CHECK(kept[0].took_all);
    CHECK_FALSE(kept[1].took_all);
    REQUIRE(bay->row);
    CHECK(bay->row->charged_ah == std::vector<std::optional<double>>{7.5, 7.1, std::nullopt});
    CHECK(bay->row->took_all == std::vector<bool>{true, false, false});
    REQUIRE(hand.end(run, true));
    CHECK(h.shop->unit(module)->facts.capacity_ah->value == Approx(5.72));
    // Ended after the emptying alone: nothing was measured.
    const Id other = h.modules[1];
    const Id short_run = hand.begin(other, "Four-way", 2, "ni-conditioning-charged", 7.9, 20.0).value();
    REQUIRE(hand.add_cycle(short_run, {{}, 1.2, bench::StepEnd::cutoff, {}, false}));
    REQUIRE(hand.end(short_run, true));
    CHECK_FALSE(h.shop->unit(other)->facts.capacity_ah);
    CHECK(h.shop->test().cycles(other).empty());
}

TEST_CASE("N33: the acceptance limit is the shop's, and what stands is judged by it anew") {
    HobbyShop h;
    HandBays hand(*h.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    const Id module = h.modules[0];
    const Id run = hand.begin(module, "Four-way", 1, "ni-conditioning", 7.9, 20.0).value();
    for (const double ah : {5.40, 5.42, 5.42})
        REQUIRE(hand.add_cycle(run, {6.2, ah, bench::StepEnd::cutoff, 31.0}));
    CHECK(hand.bay_of(module)->row->result.verdict == ConditioningVerdict::fit); // the usual limit, 5.0 of 6.5 Ah
    CHECK_FALSE(set_acceptance_share(*h.shop, 0.1));
    CHECK_FALSE(set_acceptance_share(*h.shop, 77));
    CHECK(acceptance_share(*h.shop) == Approx(5.0 / 6.5));
    REQUIRE(set_acceptance_share(*h.shop, 0.9));
    CHECK(hand.bay_of(module)->row->bar_ah == Approx(0.9 * 6.5));
    CHECK(hand.bay_of(module)->row->result.verdict != ConditioningVerdict::fit);
    h.reopen();
    CHECK(acceptance_share(*h.shop) == Approx(0.9));
}

TEST_CASE("N31: channels of a charger are planned as bays are; what runs there keeps its channel") {
    HobbyShop h;
    HandBays hand(*h.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    const Bays bays(*h.shop); // no tester
    BaySchedule schedule(*h.shop, bays);
    REQUIRE(hand.begin(h.modules[0], "Four-way", 2, "ni-conditioning", 7.9, 20.0));
    const auto waits = schedule.let_wait({h.modules.begin(), h.modules.begin() + 9}, "", "row");
    REQUIRE(waits);
    CHECK(waits.value() == 8); // one stands on a channel already
    const QDateTime monday(QDate(2026, 3, 2), QTime(9, 0));
    h.clock = monday.toUTC();
    BaySchedule::Planned planned = schedule.problem(monday, {});
    CHECK(planned.problem.bays == 4);
    CHECK(planned.tester_bays == 0);
    CHECK(planned.place(1) == QStringLiteral("Four-way, channel 2"));
    CHECK(planned.short_place(1) == QStringLiteral("Four-way 2"));
    planned.plan = plan_bays(planned.problem, {100, false}).value();
    CHECK_FALSE(objection_to_plan(planned.problem, planned.plan));
    REQUIRE(planned.plan.jobs.size() == 9);
    std::set<int> used;
    for (const PlacedJob& job : planned.plan.jobs) {
        used.insert(job.bay);
        if (planned.units[job.job] == h.modules[0])
            CHECK((job.bay == 1 && job.start_h <= 0));
    }
    CHECK(used.size() == 4);
    CHECK(BaySchedule::calendar(planned, monday).find("Four-way\\, channel 3") != std::string::npos);
    // Insisted on: the channel, at that hour, also in the next plan.
    REQUIRE(schedule.insist(h.modules[5], monday.addSecs(4 * 3600), 3));
    planned = schedule.problem(monday, {});
    bool seen = false;
    for (std::size_t j = 0; j < planned.units.size(); ++j)
        if (planned.units[j] == h.modules[5]) {
            seen = true;
            CHECK(*planned.problem.jobs[j].bay == 3);
            CHECK(*planned.problem.jobs[j].start_h == Approx(4));
        }
    CHECK(seen);
    CHECK(hand.fits(h.cells[0], *h.shop->library().protocol("li-capacity")));
    CHECK_FALSE(hand.fits(h.cells[0], *h.shop->library().protocol("li-pulse"))); // needs a tester
}

TEST_CASE("N24: deep-discharged cells are recovered only where the rule set's school does") {
    HobbyShop h;
    HandBays hand(*h.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    const auto refused = hand.begin(h.cells[0], "Four-way", 1, "li-slow-recovery", 2.2, 20.0);
    REQUIRE_FALSE(refused);
    CHECK(refused.problem().sentence.english().find("scraps deep-discharged cells") != std::string::npos);
    RuleSet lenient = h.shop->sort().rules();
    lenient.recovers_deep = true;
    h.shop->sort().try_rules(lenient);
    REQUIRE(h.shop->sort().save_rules());
    const auto run = hand.begin(h.cells[0], "Four-way", 1, "li-slow-recovery", 2.2, 20.0);
    REQUIRE(run);
    // Any other protocol still leaves a deep cell alone.
    CHECK_FALSE(hand.begin(h.cells[1], "Four-way", 2, "li-capacity", 2.2, 20.0));
    h.reopen();
    CHECK(h.shop->sort().rules().recovers_deep); // it is the rule set's, and kept
}

TEST_CASE("N31: nothing is begun by hand without the unit's voltage, read the right way round") {
    HobbyShop h;
    HandBays hand(*h.shop);
    REQUIRE(hand.set_charger("Four-way", 4));
    const std::string li = usual_protocol_of(*h.shop, h.cells[0]);
    const std::string ni = usual_protocol_of(*h.shop, h.modules[0]);
    const auto why = [&](Id unit, int channel, const std::string& protocol, double volts) {
        const auto problem = hand.may_not_begin(unit, "Four-way", channel, protocol, volts);
        CHECK(hand.begin(unit, "Four-way", channel, protocol, volts).ok() == !problem.has_value());
        return problem ? problem->sentence.english() : std::string();
    };
    CHECK_FALSE(why(h.cells[0], 1, li, 0.0).empty());  // nothing there
    CHECK_FALSE(why(h.cells[0], 1, li, -3.7).empty()); // reversed
    CHECK_FALSE(why(h.cells[0], 1, li, 1.4).empty());  // deep: not by this protocol
    CHECK_FALSE(why(h.cells[0], 1, li, 4.6).empty());  // overfull
    CHECK_FALSE(why(h.cells[0], 1, ni, 3.7).empty());  // another chemistry's protocol
    CHECK_FALSE(why(h.cells[0], 5, li, 3.7).empty());  // no such channel
    CHECK(hand.may_not_begin(h.cells[0], "Nobody's", 1, li, 3.7));
    REQUIRE(h.shop->test().record_reading(h.cells[1], [] {
        Measurement m;
        m.quantity = Quantity::voltage;
        m.value = 3.9;
        return m;
    }()));
    CHECK_FALSE(why(h.cells[1], 1, li, 3.4).empty()); // another unit than the one that was read
    CHECK(h.shop->ledger().counts().runs == 0);
    CHECK(why(h.cells[0], 1, li, 3.7).empty());
    CHECK_FALSE(why(h.cells[0], 2, li, 3.7).empty()); // it is on channel 1 already
    CHECK_FALSE(why(h.cells[2], 1, li, 3.7).empty()); // which is taken
    CHECK_FALSE(hand.set_charger("Four-way", 0));
    REQUIRE(h.shop->receive().note_finding(0, h.cells[3], "swollen"));
    CHECK_FALSE(why(h.cells[3], 2, li, 3.7).empty()); // quarantined
}

TEST_CASE("N31: what was typed survives a restart; overdue is seen; a figure that cannot be is refused") {
    HobbyShop h;
    Id run = 0;
    {
        HandBays hand(*h.shop);
        REQUIRE(hand.set_charger("Four-way", 2));
        run = hand.begin(h.modules[0], "Four-way", 2, usual_protocol_of(*h.shop, h.modules[0]), 7.9).value();
        REQUIRE(hand.add_cycle(run, {{}, 5.1, bench::StepEnd::cutoff, {}}));
        CHECK_FALSE(hand.add_cycle(run, {{}, 5100, bench::StepEnd::cutoff, {}})); // mAh taken for Ah
        CHECK_FALSE(hand.add_cycle(run, {{}, 0, bench::StepEnd::cutoff, {}}));
        CHECK_FALSE(hand.lift_out(run));
        CHECK(hand.overdue() == 0);
    }
    h.reopen();
    HandBays hand(*h.shop);
    const auto bay = hand.bay_of(h.modules[0]);
    REQUIRE(bay);
    CHECK(bay->channel == 2);
    CHECK(bay->charger == "Four-way");
    REQUIRE(bay->cycles.size() == 1);
    CHECK(bay->cycles[0].capacity_ah == Approx(5.1));
    CHECK_FALSE(bay->overdue);
    h.later(24 * 6);
    CHECK(hand.bay_of(h.modules[0])->overdue);
    CHECK(hand.overdue() == 1);
    // One that a limit or the heat ended weighs little, and is no capacity.
    REQUIRE(hand.add_cycle(run, {6.0, 4.0, bench::StepEnd::time_limit, {}}));
    REQUIRE(hand.add_cycle(run, {6.0, 4.8, bench::StepEnd::cutoff, 60.0}));
    const auto cycles = h.shop->test().cycles(h.modules[0]);
    REQUIRE(cycles.size() == 3);
    CHECK(cycles[0].full);
    CHECK_FALSE(cycles[1].full);
    CHECK_FALSE(cycles[2].full);
    CHECK(*cycles[1].charge_ah == Approx(6.0));
    // Nobody said why a charge ended; what ended hot is a hazard at once, and still comes out.
    CHECK(h.shop->test().steps(run)[1].kind == RunStepKind::charge);
    CHECK(h.shop->test().steps(run)[1].end.empty());
    CHECK_FALSE(h.shop->unit(h.modules[0])->quarantined);
    REQUIRE(hand.add_cycle(run, {6.0, 3.0, bench::StepEnd::hot, 61.0}));
    CHECK(h.shop->unit(h.modules[0])->quarantined);
    REQUIRE(hand.end(run, false));
    REQUIRE(hand.lift_out(run));
    CHECK_FALSE(hand.bay_of(h.modules[0]));
    CHECK_FALSE(hand.end(run, true));
}
