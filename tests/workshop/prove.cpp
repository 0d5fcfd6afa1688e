// The proof of a joined pack as the shop's steps: what counts, what is refused, what goes with the pack.
#include "exchange/passport_json.h"

#include "shop.h"
#include "temporary.h"
#include "workshop/pack_course.h"
#include "workshop/passport_intake.h"
#include "workshop/prove_wording.h"
#include "workshop/rest_calendar.h"
#include "workshop/workshop.h"

#include <catch2/catch.hpp>

#include <QDateTime>

#include <cmath>

#include <nlohmann/json.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

// What a proof asks for beside the volts of the groups.
void finish(Workshop& shop, Id build) {
    auto& prove = shop.prove();
    for (const ProofRound round : {ProofRound::insulation, ProofRound::board, ProofRound::units, ProofRound::device})
        REQUIRE(prove.leave_out(build, round, "not in this test"));
}

// A joined 3S2P of lantern cells, with a clock that the test moves on.
struct ProvingShop {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Prove");
    QDateTime now = QDateTime::fromString(QStringLiteral("2026-03-02T09:00:00Z"), Qt::ISODate);
    Id build = 0;

    ProvingShop() {
        shop->set_clock([this] {
            now = now.addSecs(20);
            return now;
        });
        const auto cells = tests::lantern_cells(*shop, {3, 2, 1});
        std::vector<std::vector<Id>> groups(3);
        for (std::size_t c = 0; c < cells.size(); ++c) {
            Measurement m;
            for (const auto& [quantity, value] :
                 {std::pair(Quantity::voltage, 3.64), {Quantity::dc_resistance, 0.050}, {Quantity::capacity, 2.2}}) {
                m.quantity = quantity;
                m.value = value;
                REQUIRE(shop->test().record_reading(cells[c], m));
            }
            groups[c / 2].push_back(cells[c]);
        }
        build = shop->match().reserve(3, 2, groups, std::nullopt, 0).value();
        for (const Id cell : cells)
            REQUIRE(shop->build().take(build, cell));
        CHECK_FALSE(shop->prove().record(build, ProofRound::at_rest, 1, 3.64, 0.001)); // not joined yet
        join();
    }
    void join() const {
        REQUIRE(shop->build().set_figure(build, DesignFigure::board_kind, "board"));
        while (const auto next = shop->build().next_item(build))
            REQUIRE(shop->build().tick(build, next->first, next->second));
        REQUIRE(shop->build_of(build)->state == AssemblyState::joined);
    }
    void read(ProofRound round, const std::vector<double>& groups, std::optional<double> load_a = {}) const {
        double sum = 0;
        for (std::size_t g = 0; g < groups.size(); ++g) {
            REQUIRE(shop->prove().record(build, round, static_cast<int>(g) + 1, groups[g], 0.001, load_a));
            sum += groups[g];
        }
        REQUIRE(shop->prove().record(build, round, 0, sum, 0.01, load_a));
    }
    void prove() {
        read(ProofRound::at_rest, {3.640, 3.641, 3.640});
        read(ProofRound::end_of_charge, {4.181, 4.183, 4.182});
        now = now.addDays(4);
        read(ProofRound::after_rest, {4.161, 4.163, 4.162});
        read(ProofRound::under_load, {4.061, 4.063, 4.062}, 4);
        finish(*shop, build);
    }
    [[nodiscard]] RoundVerdict verdict(ProofRound round) const {
        return shop->prove().proof(build).proof.rounds[static_cast<std::size_t>(round)];
    }
};

} // namespace

TEST_CASE("A joined pack is proved round by round, signed, and leaves with its passport") {
    ProvingShop s;
    const auto unsigned_yet = s.shop->prove().sign(s.build, "T2");
    REQUIRE_FALSE(unsigned_yet);
    CHECK(unsigned_yet.problem().sentence.english().find("At rest is open") != std::string::npos);
    CHECK_FALSE(s.shop->prove().record(s.build, ProofRound::at_rest, 4, 3.64, 0.001));   // no such group
    CHECK_FALSE(s.shop->prove().record(s.build, ProofRound::at_rest, 1, 36.4, 0.001));   // a slipped decimal
    CHECK_FALSE(s.shop->prove().record(s.build, ProofRound::under_load, 1, 3.5, 0.001)); // what flows?
    s.prove();
    CHECK_FALSE(s.shop->prove().sign(s.build, ""));
    CHECK_FALSE(s.shop->prove().move_on(s.build, AssemblyState::in_service)); // not before it is signed
    REQUIRE(s.shop->prove().sign(s.build, "T2"));
    CHECK(s.shop->build_of(s.build)->state == AssemblyState::proved);
    CHECK(s.shop->prove().proof(s.build).signed_by == "T2");
    REQUIRE(s.shop->prove().move_on(s.build, AssemblyState::in_service));
    // The passport holds what was measured, read by a program that knows nothing of Ingot.
    const auto json = nlohmann::json::parse(exchange::write_passport(s.shop->prove().passport(s.build)));
    CHECK(json["format"] == "ingot-passport");
    CHECK(json["proved_by"] == "T2");
    CHECK(json["units"].size() == 6);
    CHECK(json["units"][0]["from"] == "lantern");
    CHECK(json["usable_ah"] == Approx(4.4));
    CHECK(json["limits"]["charge_limit_v"] == Approx(12.6));
    REQUIRE(json["proof"].size() == 8); // all but the run, which nobody asked for
    for (const auto& round : json["proof"]) {
        CHECK((round["passed"] == true || round["left_out"] == "not in this test"));
        if (round["round"] == "end-of-charge")
            CHECK(round["group_v"][1] == Approx(4.183));
        if (round["round"] == "under-load")
            CHECK(round["load_a"] == Approx(4));
    }
    REQUIRE(s.shop->prove().move_on(s.build, AssemblyState::returned));
    const auto reader = Workshop::open(s.shop->path()).value();
    CHECK(reader->build_of(s.build)->state == AssemblyState::returned);
    CHECK(reader->prove().proof(s.build).proof.passed);
}

TEST_CASE("A cold joint is found under load, sent back, welded again, and only what was read since counts") {
    ProvingShop s;
    s.read(ProofRound::at_rest, {3.640, 3.641, 3.640});
    s.read(ProofRound::end_of_charge, {4.181, 4.183, 4.182});
    s.read(ProofRound::after_rest, {4.181, 4.183, 4.182});
    CHECK(s.verdict(ProofRound::after_rest).state == ProofState::too_early);
    s.now = s.now.addDays(4);
    s.read(ProofRound::after_rest, {4.161, 4.163, 4.162});
    CHECK(s.verdict(ProofRound::after_rest).state == ProofState::passed);
    // One of two units does not carry: 25 mohm more, 100 mV at 4 A.
    s.read(ProofRound::under_load, {4.061, 3.963, 4.062}, 4);
    const RoundVerdict cold = s.verdict(ProofRound::under_load);
    REQUIRE(cold.findings.size() == 1);
    CHECK(cold.findings[0].group == 2);
    CHECK(cold.findings[0].sign == ProofSign::missing_unit);
    CHECK_FALSE(s.shop->prove().sign(s.build, "T2"));
    // A reading that was typed wrong is struck out; the proof stands without it.
    REQUIRE(s.shop->prove().record(s.build, ProofRound::under_load, 2, 4.9, 0.001, 4));
    REQUIRE(s.shop->prove().strike(
        s.shop->prove().proof(s.build).last[static_cast<std::size_t>(ProofRound::under_load)], "typed wrong"));
    CHECK(
        *s.shop->prove().proof(s.build).readings.rounds[static_cast<std::size_t>(ProofRound::under_load)].group_v[1] ==
        Approx(3.963));
    CHECK_FALSE(s.shop->prove().send_back(s.build, ""));
    REQUIRE(s.shop->prove().send_back(s.build, "cold joint in group 2"));
    CHECK(s.shop->build_of(s.build)->state == AssemblyState::taken);
    REQUIRE(s.shop->build().next_item(s.build));
    CHECK(s.shop->build().next_item(s.build)->first == BuildTask::fuse); // on it again from there
    s.join();
    CHECK_FALSE(s.shop->prove().proof(s.build).readings.rounds[0].begun()); // the old proof counts no more
    s.prove();
    REQUIRE(s.shop->prove().sign(s.build, "T2"));
}

namespace {

// A lantern pack of four groups that was proved and went into service on a known day.
struct FieldShop {
    Temporary folder;
    QDateTime now = QDateTime::fromString(QStringLiteral("2026-03-01T09:00:00Z"), Qt::ISODate);
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Field");
    Id pack = 0;

    FieldShop() {
        shop->set_clock([this] { return now; });
        const auto cells = tests::lantern_cells(*shop, {4, 1, 1});
        for (const Id cell : cells) {
            Measurement m;
            m.quantity = Quantity::dc_resistance;
            m.value = 0.05;
            REQUIRE(shop->test().record_reading(cell, m));
            m.quantity = Quantity::voltage;
            m.value = 3.64;
            REQUIRE(shop->test().record_reading(cell, m));
        }
        pack = shop->match().reserve(4, 1, {{cells[0]}, {cells[1]}, {cells[2]}, {cells[3]}}, std::nullopt, 0).value();
        for (const Id cell : cells)
            REQUIRE(shop->build().take(pack, cell));
        REQUIRE(shop->build().set_figure(pack, DesignFigure::board_kind, "board"));
        while (const auto next = shop->build().next_item(pack))
            REQUIRE(shop->build().tick(pack, next->first, next->second));
        prove(ProofRound::at_rest, 3.640);
        prove(ProofRound::end_of_charge, 4.180);
        now = now.addDays(3);
        prove(ProofRound::after_rest, 4.160);
        prove(ProofRound::under_load, 4.060, 2.0);
        finish(*shop, pack);
        REQUIRE(shop->prove().sign(pack, "T2"));
        REQUIRE(shop->prove().move_on(pack, AssemblyState::in_service));
    }
    void prove(ProofRound round, double volts, std::optional<double> load_a = {}) {
        for (int g = 1; g <= 4; ++g)
            REQUIRE(shop->prove().record(pack, round, g, volts, 0.001, load_a));
        REQUIRE(shop->prove().record(pack, round, 0, 4 * volts, 0.01, load_a));
    }
    void read(std::initializer_list<double> volts) {
        int group = 0;
        for (const double v : volts)
            REQUIRE(shop->prove().record_in_field(pack, ++group, v, 0.001));
    }
};

} // namespace

TEST_CASE("N47: a pack in service is read over weeks: who drifts, when a balance is due; its signed proof stays") {
    FieldShop s;
    CHECK(s.shop->prove().field(s.pack).trend.state == FieldState::unread);
    CHECK(s.shop->prove().field(s.pack).next_at == "2026-03-11T09:00:00Z"); // a week
    s.now = s.now.addDays(7);
    s.read({3.700, 3.700, 3.698, 3.700});
    CHECK(s.shop->prove().field(s.pack).trend.state == FieldState::first);
    CHECK_FALSE(s.shop->prove().field(s.pack).open);
    CHECK(s.shop->prove().field(s.pack).next_at.starts_with("2026-03-25")); // after twice as long
    s.now = s.now.addDays(14);
    s.read({3.800, 3.800, 3.794});
    CHECK(s.shop->prove().field(s.pack).open); // group 4 is still asked
    CHECK(s.shop->prove().field(s.pack).rounds.size() == 2);
    REQUIRE(s.shop->prove().record_in_field(s.pack, 4, 3.800, 0.001));
    s.now = s.now.addDays(28);
    s.read({3.750, 3.750, 3.736, 3.750});
    const PackInField known = s.shop->prove().field(s.pack);
    REQUIRE(known.rounds.size() == 3);
    REQUIRE(known.trend.lowest);
    CHECK(*known.trend.lowest == 2);
    CHECK(known.trend.state == FieldState::drifting);
    REQUIRE(known.trend.balance_day);
    CHECK(*known.trend.balance_day > 49);
    const QString said = wording::field_reasons(known).join(QLatin1Char('\n'));
    CHECK(said.contains(QStringLiteral("Group 3 goes down")));
    CHECK(said.contains(QStringLiteral("A balance is due about")));
    // The proof is what was signed, whatever is read later.
    const PackProof proof = s.shop->prove().proof(s.pack);
    CHECK(proof.proof.passed);
    CHECK(*proof.readings.rounds[0].group_v[2] == 3.640);
    CHECK(proof.signed_by == "T2");
    // Read wrong, struck out; refused where it is no voltage of a cell.
    CHECK_FALSE(s.shop->prove().record_in_field(s.pack, 1, 37.50, 0.01));
    CHECK_FALSE(s.shop->prove().record_in_field(s.pack, 5, 3.75, 0.001));
    const Id slip = s.shop->prove().record_in_field(s.pack, 1, 3.05, 0.001).value();
    CHECK(s.shop->prove().field(s.pack).rounds.size() == 4);
    REQUIRE(s.shop->prove().strike(slip, "typed wrong"));
    CHECK(s.shop->prove().field(s.pack).rounds.size() == 3);
    // The walk is in the calendar; after a balance the trend begins anew; back on the bench nothing is due.
    const RestShelf shelf = RestService::judge(s.shop->rest().question());
    CHECK(reading_calendar(*s.shop, shelf, "20260420T000000Z").find("packs in service: B-001") != std::string::npos);
    REQUIRE(s.shop->prove().balanced(s.pack));
    CHECK(s.shop->prove().field(s.pack).trend.state == FieldState::unread);
    CHECK(s.shop->prove().field(s.pack).balanced);
    CHECK(s.shop->prove().field_visits().size() == 1);
    REQUIRE(s.shop->prove().move_on(s.pack, AssemblyState::returned));
    CHECK(s.shop->prove().field(s.pack).next_at.empty());
    CHECK(s.shop->prove().field_visits().empty());
    s.read({3.75, 3.75, 3.75, 3.75}); // read on the bench
    CHECK(s.shop->prove().field(s.pack).rounds.size() == 1);
}

TEST_CASE(
    "N27: a repaired pack that came in goes back into service only whole, and is followed like one that was built") {
    const Temporary folder;
    QDateTime now = QDateTime::fromString(QStringLiteral("2026-05-01T09:00:00Z"), Qt::ISODate);
    auto shop = tests::new_shop(folder.file("w.ingot"), "Repaired");
    shop->set_clock([&] { return now; });
    Assembly row;
    row.lot = shop->receive().add_lot({0, "MOW-03", "", "", "", {}}).value();
    row.label = "mower";
    row.chemistry = "nmc";
    row.format = "18650";
    row.layout = {5, 2, 1};
    const Id mower = shop->receive().add_pack(row).value();
    REQUIRE(shop->receive().set_state(mower, AssemblyState::in_triage));
    REQUIRE(shop->open().open_pack(mower, "R1", "H26", "T1", {4}));
    const auto empty = shop->prove().repaired_to(mower, AssemblyState::in_service);
    REQUIRE_FALSE(empty);
    CHECK(empty.problem().sentence.english().find("Place 4") != std::string::npos);
    const Id refill = shop->build().begin_refill(mower).value();
    std::vector<Id> units;
    for (const UnitState& unit : shop->units())
        units.push_back(unit.record.id);
    REQUIRE(units.size() == 2);
    REQUIRE(shop->match().reserve_for(refill, 2, {units}, std::nullopt, 0));
    for (const Id unit : units) {
        REQUIRE(shop->build().take(refill, unit));
        Measurement m;
        m.value = 3.70;
        REQUIRE(shop->test().record_reading(unit, m));
        m.quantity = Quantity::dc_resistance;
        m.value = 0.05;
        REQUIRE(shop->test().record_reading(unit, m));
    }
    while (const auto next = shop->build().next_item(refill))
        REQUIRE(shop->build().tick(refill, next->first, next->second));
    REQUIRE(shop->build().put_in(refill));
    REQUIRE(shop->prove().repaired_to(mower, AssemblyState::in_service));
    CHECK_FALSE(shop->prove().in_field(*shop->build_of(refill))); // it is part of the mower now
    // The new group stood 30 mV high and comes down as the board bleeds it over three rides.
    for (const double high : {0.030, 0.018, 0.009}) {
        now = now.addDays(9);
        for (int g = 1; g <= 5; ++g)
            REQUIRE(shop->prove().record_in_field(mower, g, 3.700 + (g == 4 ? high : 0.0), 0.001));
    }
    const PackInField known = shop->prove().field(mower);
    REQUIRE(known.rounds.size() == 3);
    CHECK(known.newer == std::set<int>{4});
    CHECK(*known.trend.groups[3].per_day < 0);
    CHECK(known.trend.points.back().spread_share < known.trend.points.front().spread_share);
    CHECK(wording::field_reasons(known).join(QLatin1Char(' ')).contains(QStringLiteral("What was put in (group 4)")));
    REQUIRE(shop->prove().repaired_to(mower, AssemblyState::returned));
    REQUIRE(shop->receive().set_state(mower, AssemblyState::in_triage));
    CHECK(shop->triage().group_readings(mower, Condition::rest).at(4) == Approx(3.709)); // Triage knows the last ride
}

TEST_CASE("Figures and answers of the other rounds are kept, refused where they cannot be, signed as they pass") {
    ProvingShop s;
    auto& prove = s.shop->prove();
    using Answer = ProveService::Answer;
    REQUIRE(prove.set_bench_sign("T2"));
    CHECK(prove.bench_sign() == "T2");
    const auto at = [](ProofRound round) { return static_cast<std::size_t>(round); };
    // Insulation: two figures, both over the limit.
    REQUIRE(prove.record_item(s.build, ProofItem::insulation_plus, 50e6, 1e6));
    CHECK(prove.proof(s.build).signatures[at(ProofRound::insulation)].by.empty());
    REQUIRE(prove.record_item(s.build, ProofItem::insulation_minus, 0.2e6, 1e5));
    CHECK(s.verdict(ProofRound::insulation).state == ProofState::failed);
    REQUIRE(prove.strike(prove.proof(s.build).last[at(ProofRound::insulation)], "the probe slipped"));
    REQUIRE(prove.record_item(s.build, ProofItem::insulation_minus, 50e6, 1e6));
    CHECK(s.verdict(ProofRound::insulation).state == ProofState::passed);
    CHECK(prove.proof(s.build).signatures[at(ProofRound::insulation)].by == "T2");
    // Later a figure fails: the round is not signed any more.
    REQUIRE(prove.record_item(s.build, ProofItem::insulation_minus, 0.1e6, 1e5));
    CHECK(prove.proof(s.build).signatures[at(ProofRound::insulation)].by.empty());
    REQUIRE(prove.record_item(s.build, ProofItem::insulation_minus, 60e6, 1e6));
    // A board's answers, a sensor that is not there.
    s.read(ProofRound::at_rest, {3.640, 3.641, 3.640});
    CHECK_FALSE(prove.record_item(s.build, ProofItem::wakes, 1, {}));       // asks for yes or no
    CHECK_FALSE(prove.answer(s.build, ProofItem::output, Answer::yes));     // asks for a figure
    CHECK_FALSE(prove.answer(s.build, ProofItem::output, Answer::none));    // every pack has it
    CHECK_FALSE(prove.record_item(s.build, ProofItem::output, 109.2, 0.1)); // a slipped decimal
    REQUIRE(prove.record_item(s.build, ProofItem::output, 10.92, 0.01));
    CHECK(prove.proof(s.build).last[at(ProofRound::board)] != 0); // the output was typed last
    REQUIRE(prove.answer(s.build, ProofItem::wakes, Answer::no));
    CHECK(prove.proof(s.build).last[at(ProofRound::board)] == 0); // an answer is not struck out as if it were a figure
    CHECK(s.verdict(ProofRound::board).findings.at(0).sign == ProofSign::asleep);
    REQUIRE(prove.answer(s.build, ProofItem::wakes, Answer::yes));
    REQUIRE(prove.answer(s.build, ProofItem::sensor, Answer::none));
    CHECK(s.verdict(ProofRound::board).state == ProofState::passed);
    REQUIRE(prove.answer(s.build, ProofItem::wakes, Answer::unknown)); // taken back
    CHECK(s.verdict(ProofRound::board).state == ProofState::open);
    // Units, can to can under a load; a place that is not there is refused.
    CHECK_FALSE(prove.record(s.build, ProofRound::units, 1, 4.05, 0.001, 2.0, 3));
    CHECK_FALSE(prove.record(s.build, ProofRound::units, 1, 4.05, 0.001, {}, 1)); // what flows?
    for (int g = 1; g <= 3; ++g)
        for (int p = 1; p <= 2; ++p)
            REQUIRE(prove.record(s.build, ProofRound::units, g, g == 2 && p == 2 ? 4.110 : 4.050, 0.001, 2.0, p));
    const RoundVerdict units = s.verdict(ProofRound::units);
    REQUIRE(units.findings.size() == 1);
    CHECK(units.findings[0].group == 2);
    CHECK(units.findings[0].place == 2);
    const GroupCauses* causes = nullptr;
    const PackProof known = prove.proof(s.build);
    causes = known.causes_of(2);
    REQUIRE(causes != nullptr);
    CHECK(causes->explanations.front().cause == ProofCause::loose_unit);
    CHECK(causes->explanations.front().place == 2);
    REQUIRE(prove.record(s.build, ProofRound::units, 2, 4.050, 0.001, 2.0, 2)); // welded again while it lay open
    // Left out with a reason; rounds of groups are not.
    CHECK_FALSE(prove.leave_out(s.build, ProofRound::under_load, "no load here"));
    REQUIRE(prove.leave_out(s.build, ProofRound::device, "it goes to stock"));
    CHECK(s.verdict(ProofRound::device).state == ProofState::left_out);
    REQUIRE(prove.leave_out(s.build, ProofRound::device, ""));
    CHECK(s.verdict(ProofRound::device).state == ProofState::open);
    // A device that sleeps gets its hours; then what it says counts.
    REQUIRE(prove.answer(s.build, ProofItem::works, Answer::no));
    REQUIRE(prove.answer(s.build, ProofItem::codes_clear, Answer::none));
    CHECK(s.verdict(ProofRound::device).state == ProofState::too_early);
    REQUIRE(prove.record_item(s.build, ProofItem::hours_to_wake, 7, 1));
    CHECK(s.verdict(ProofRound::device).state == ProofState::failed);
    REQUIRE(prove.answer(s.build, ProofItem::works, Answer::yes));
    CHECK(s.verdict(ProofRound::device).state == ProofState::passed);
    // The run: its units promise 4.4 Ah.
    REQUIRE(prove.record_item(s.build, ProofItem::capacity, 4.0, 0.01));
    CHECK(s.verdict(ProofRound::run).state == ProofState::failed);
    REQUIRE(prove.record_item(s.build, ProofItem::capacity, 4.3, 0.01));
    CHECK(s.verdict(ProofRound::run).state == ProofState::passed);
    // All of it in the passport, read from the file by another window.
    const auto reader = Workshop::open(s.shop->path()).value();
    const auto json = nlohmann::json::parse(exchange::write_passport(reader->prove().passport(s.build)));
    CHECK(json["version"] == 2);
    CHECK(json["items"]["capacity"] == Approx(4.3));
    CHECK(json["items"]["hours-to-wake"] == Approx(7));
    CHECK(json["items"]["works"] == true);
    for (const auto& round : json["proof"]) {
        if (round["round"] == "insulation")
            CHECK(round["signed_by"] == "T2");
        if (round["round"] == "units")
            CHECK(round["unit_v"][1][1] == Approx(4.050));
    }
}

TEST_CASE("N42: packs stand side by side as strings only where they are alike, have a board each, and stand level") {
    const Temporary folder;
    auto shop = tests::new_shop(folder.file("w.ingot"), "Strings");
    QDateTime now = QDateTime::fromString(QStringLiteral("2026-03-02T09:00:00Z"), Qt::ISODate);
    shop->set_clock([&now] {
        now = now.addSecs(20);
        return now;
    });
    const auto cells = tests::lantern_cells(*shop, {4, 2, 1});
    for (const Id cell : cells) {
        Measurement m;
        for (const auto& [quantity, value] :
             {std::pair(Quantity::voltage, 3.64), {Quantity::dc_resistance, 0.050}, {Quantity::capacity, 2.2}}) {
            m.quantity = quantity;
            m.value = value;
            REQUIRE(shop->test().record_reading(cell, m));
        }
    }
    const auto build = [&](std::size_t first, int series, const char* board) {
        std::vector<std::vector<Id>> groups;
        for (int g = 0; g < series; ++g)
            groups.push_back({cells[first + static_cast<std::size_t>(g)]});
        const Id id = shop->match().reserve(series, 1, groups, std::nullopt, 0).value();
        for (const auto& group : groups)
            REQUIRE(shop->build().take(id, group[0]));
        REQUIRE(shop->build().set_figure(id, DesignFigure::board_kind, board));
        while (const auto next = shop->build().next_item(id))
            REQUIRE(shop->build().tick(id, next->first, next->second));
        return id;
    };
    const Id one = build(0, 3, "board");
    const Id two = build(3, 3, "board");
    const Id other = build(6, 2, "board");
    auto& prove = shop->prove();
    CHECK_FALSE(prove.join_strings({one}));
    CHECK_FALSE(prove.join_strings({one, one}));
    CHECK_FALSE(prove.join_strings({one, other})); // two cells in series beside three
    CHECK_FALSE(prove.join_strings({one, two}));   // not read
    REQUIRE(prove.record(one, ProofRound::at_rest, 0, 10.920, 0.001));
    REQUIRE(prove.record(two, ProofRound::at_rest, 0, 11.400, 0.001));
    const auto apart = prove.join_strings({one, two});
    REQUIRE_FALSE(apart);
    CHECK(apart.problem().sentence.english().find("0.48 V") != std::string::npos);
    REQUIRE(prove.record(two, ProofRound::at_rest, 0, 10.930, 0.001));
    const auto level = prove.strings({one, two});
    REQUIRE(level);
    // By hand: 10 mV over two strings of 3 x 50 milliohm.
    CHECK(*level.value().check.largest_current_a == Approx(0.010 / 0.300).epsilon(0.01));
    REQUIRE(prove.join_strings({one, two}));
    now = now.addDays(5); // an old voltage says nothing
    CHECK_FALSE(prove.join_strings({one, two}));
    // The old board left in the pack is no board for a string.
    REQUIRE(prove.record(one, ProofRound::at_rest, 0, 10.920, 0.001));
    REQUIRE(prove.record(two, ProofRound::at_rest, 0, 10.925, 0.001));
    REQUIRE(shop->build().set_figure(two, DesignFigure::board_kind, "left-in-pack"));
    const auto without = prove.join_strings({one, two});
    REQUIRE_FALSE(without);
    CHECK(without.problem().sentence.english().find("board of its own") != std::string::npos);
}

TEST_CASE(
    "A passport is read again: its own bench shows the pack, another one takes it in; what is none is objected to") {
    ProvingShop s;
    REQUIRE(s.shop->build().set_figure(s.build, DesignFigure::board, "3S 6 A"));
    REQUIRE(s.shop->build().set_figure(s.build, DesignFigure::purpose, "trail lantern"));
    s.prove();
    REQUIRE(s.shop->prove().sign(s.build, "T2"));
    const Passport written = s.shop->prove().passport(s.build);
    const auto read = exchange::read_passport(exchange::write_passport(written), "b.json");
    REQUIRE(read);
    CHECK(read.value().label == written.label);
    CHECK(read.value().series == 3);
    CHECK(read.value().parallel == 2);
    CHECK(read.value().proved_by == "T2");
    CHECK(*read.value().usable_ah == Approx(4.4));
    REQUIRE(read.value().units.size() == 6);
    CHECK(read.value().units[3].code == written.units[3].code);
    CHECK(*read.value().units[3].capacity_ah == Approx(2.2));
    CHECK(built_here(*s.shop, read.value()) == s.build);
    // Another bench knows nothing of it.
    const Temporary folder;
    auto other = Workshop::create(folder.file("other.ingot"), "Hill bench").value();
    CHECK(built_here(*other, read.value()) == 0);
    const Id lot = other->receive().add_lot({0, "RET-01", "", "", "", {}}).value();
    const Id pack = take_in_passport(*other, lot, read.value()).value();
    const Assembly taken = *other->pack(pack);
    CHECK(taken.layout == PackLayout{3, 2, 1});
    CHECK(taken.chemistry == "nmc");
    CHECK(*taken.claim.capacity_ah == Approx(4.4));
    const auto known = other->receive().particulars(pack);
    CHECK(known.at(ParticularKind::board) == "3S 6 A");
    CHECK(known.at(ParticularKind::device) == "trail lantern");
    CHECK(known.at(ParticularKind::note).find("by T2") != std::string::npos);
    const Id again = take_in_passport(*other, lot, read.value()).value(); // its label is taken here
    CHECK(other->pack(again)->label == written.label + ", Prove");
    // What is none.
    for (
        const char* text :
        {"", "[]", "{}", R"({"format": "ingot-passport"})", R"({"format": "ingot-passport", "version": 9})",
         R"({"format": "ingot-passport", "version": 1, "pack": "B-1", "chemistry": "nmc"})",
         R"({"format": "ingot-passport", "version": 1, "pack": "B-1", "chemistry": "nmc", "series": 2.5, "parallel": 1, "cells_per_unit": 1})",
         R"({"format": "ingot-passport", "version": 2, "pack": "", "chemistry": "nmc", "series": 2, "parallel": 1, "cells_per_unit": 1})"}) {
        const auto none = exchange::read_passport(text, "b.json");
        REQUIRE_FALSE(none);
        CHECK(none.problem().where == "b.json");
    }
    const auto bare = exchange::read_passport(
        R"({"format": "ingot-passport", "version": 1, "pack": "B-1", "chemistry": "nmc", "series": 2, "parallel": 1, "cells_per_unit": 1, "usable_ah": null, "units": [7, {"unit": 3}], "design": {"board": 7}})",
        "b.json");
    REQUIRE(bare);
    CHECK_FALSE(bare.value().usable_ah);
    CHECK(bare.value().design.empty());
}

namespace {

// What the board of a sound 3S2P of 2.2 Ah and 50 mohm cells writes: five minutes at rest, then a load.
BoardLog board_of(const Chemistry& chemistry, double load_a, double seconds) {
    BoardLog log;
    log.resolution_v = 0.001;
    double soc = 0.8;
    for (double t = 0; t < 300 + seconds; t += 5) {
        const double a = t < 300 ? 0 : load_a;
        log.time_s.push_back(t);
        log.charging_a.push_back(-a);
        const double v = chemistry.ocv.ocv_at(soc) - a * 0.025;
        log.group_v.push_back({v, v, v});
        soc -= a * 5 / 3600 / 4.4;
    }
    return log;
}

} // namespace

TEST_CASE("A board's log is held against the simulation under its own current, and without a rest or a load is not") {
    const ProvingShop s;
    REQUIRE(s.shop->build().set_figure(s.build, DesignFigure::load_w, "20"));
    const BuildQuestion question = s.shop->build().question(s.build);
    const PackCourse alone = course_of({question, std::nullopt});
    REQUIRE(alone.simulated);
    CHECK(alone.simulated->usable_ah == Approx(4.4).epsilon(0.05));
    CHECK_FALSE(alone.load);
    // A closed form and the march agree to a few millivolts over half the charge.
    const BoardLog log = board_of(question.chemistry, 3, 2400);
    const PackCourse course = course_of({question, log});
    REQUIRE(course.load);
    CHECK(std::fabs(course.load->mean_v) < 0.003);
    CHECK(course.load->largest_v < 0.012);
    CHECK(course.load->time_s.front() == Approx(295));
    // A group with 10 milliohm more sags 30 mV more under 3 A; so does the pack.
    BoardLog worse = log;
    for (std::size_t r = 0; r < worse.rows(); ++r)
        worse.group_v[r][1] += 0.010 * worse.charging_a[r];
    CHECK(course_of({question, worse}).load->mean_v == Approx(-0.030).margin(0.004));
    // Only loaded, or only at rest: why not is said.
    BoardLog loaded = log;
    loaded.time_s.erase(loaded.time_s.begin(), loaded.time_s.begin() + 60);
    loaded.charging_a.erase(loaded.charging_a.begin(), loaded.charging_a.begin() + 60);
    loaded.group_v.erase(loaded.group_v.begin(), loaded.group_v.begin() + 60);
    const PackCourse no_rest = course_of({question, loaded});
    CHECK_FALSE(no_rest.load);
    CHECK_FALSE(no_rest.load_objection.empty());
    // Its rows stand for rounds: six figures of three groups, all or nothing.
    BoardLog slipped = log;
    slipped.group_v[course.reading.under_load.value()][2] = 36.4;
    CHECK_FALSE(s.shop->prove().record_log(s.build, slipped, course.reading));
    CHECK(s.shop->inventory().measurements(s.build).empty());
    BoardLog other = log;
    for (auto& row : other.group_v)
        row.pop_back();
    CHECK_FALSE(s.shop->prove().record_log(s.build, other, course.reading));
    const auto taken = s.shop->prove().record_log(s.build, log, course.reading);
    REQUIRE(taken);
    CHECK(taken.value() == 6);
    CHECK(*s.shop->prove().proof(s.build).readings.rounds[static_cast<std::size_t>(ProofRound::under_load)].load_a ==
          Approx(3));
    CHECK_FALSE(s.shop->prove().record_log(s.build, board_of(question.chemistry, 0, 60),
                                           read_board_log(board_of(question.chemistry, 0, 60), 1)));
}
