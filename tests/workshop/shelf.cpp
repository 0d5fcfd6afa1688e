// The shelf beyond single voltages: rounds, retention tests, units inside packs, stock and its care.
#include "workshop/rest_wording.h"
#include "workshop/stock_wording.h"

#include "shop.h"
#include "temporary.h"
#include "workshop/rest_due.h"

#include <catch2/catch.hpp>

#include <QDateTime>

#include <cmath>

using namespace ingot;
using tests::Temporary;

namespace {

struct DatedShop {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Shelf");
    QDateTime now = QDateTime(QDate(2026, 3, 1), QTime(9, 0), Qt::UTC);
    DatedShop() {
        shop->set_clock([this] { return now; });
    }
    void days(int more) { now = now.addDays(more); }
    void read(Id unit, Quantity quantity, double value, Condition condition = Condition::rest) const {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        m.uncertainty = quantity == Quantity::capacity ? std::optional(0.01) : std::nullopt;
        m.conditions.condition = condition;
        REQUIRE(shop->test().record_reading(unit, m));
    }
    [[nodiscard]] RestingLine line_of(Id unit) const {
        for (const RestingLine& line : RestService::judge(shop->rest().question()).lines)
            if (line.unit == unit)
                return line;
        FAIL("no such line");
        return {};
    }
};

} // namespace

TEST_CASE("A round holds room and meter; another meter, another room or a long pause begin a new one") {
    DatedShop s;
    const auto cells = tests::lantern_cells(*s.shop, {2, 2, 1});
    RestService& rest = s.shop->rest();
    const auto round = rest.begin_round(19.5, "M1");
    REQUIRE(round);
    CHECK(rest.stands(round.value(), 19.5, "M1"));
    CHECK_FALSE(rest.stands(round.value(), std::nullopt, "M1"));
    CHECK_FALSE(rest.stands(round.value(), 19.5, "M2"));
    CHECK_FALSE(rest.stands(ShelfRound{}, 19.5, "M1"));
    REQUIRE(s.shop->test().record_reading(cells[0], RestService::reading(round.value(), 3.61, 0.001)));
    const Measurement read = s.shop->test().history(cells[0]).front();
    CHECK(read.round == round.value().id);
    CHECK(read.instrument == "M1");
    CHECK(read.conditions.temperature_c == 19.5);
    s.now = s.now.addSecs(5 * 3600);
    CHECK_FALSE(rest.stands(round.value(), 19.5, "M1"));
    CHECK_FALSE(rest.begin_round(195, "M1")); // a slip of the comma
    const auto unknown = rest.begin_round(std::nullopt, "M1");
    REQUIRE(unknown);
    CHECK_FALSE(RestService::reading(unknown.value(), 3.6, {}).conditions.temperature_c); // unknown stays unknown
}

TEST_CASE("N37: a retention test: charged full, four weeks, discharged; then what does not come back") {
    DatedShop s;
    const Id cell = tests::lantern_cells(*s.shop, {1, 2, 1}, "lfp", "F32").front();
    const double rated = s.shop->unit(cell)->reference.rated_ah;
    REQUIRE(rated > 0);
    s.read(cell, Quantity::capacity, 0.95 * rated);
    CHECK_FALSE(s.shop->rest().discharged(cell, 1, {})); // never charged full: nothing to count from
    s.days(1);
    s.read(cell, Quantity::voltage, 3.60, Condition::end_of_charge);
    RestingLine line = s.line_of(cell);
    REQUIRE(line.retention);
    CHECK_FALSE(line.told_by_voltage);
    CHECK(line.due_at == "2026-03-30T09:00:00Z"); // 28 days
    CHECK(wording::leak_reason(line).contains(QStringLiteral("Charged full")));
    s.days(28);
    Measurement gave = s.shop->rest().discharged(cell, 0.90 * rated, 0.001).value();
    CHECK(gave.conditions.days_since_charge == Approx(28).margin(0.01));
    gave.uncertainty = 0.01;
    REQUIRE(s.shop->test().record_reading(cell, gave));
    CHECK(s.shop->unit(cell)->facts.capacity_ah->value == Approx(0.95 * rated)); // it holds no less for that
    line = s.line_of(cell);
    REQUIRE(line.retained);
    CHECK(line.leak.ah_per_day == Approx(0.05 * rated / 28).epsilon(0.01));
    const double limit = line.retention->limit_ah_per_day;
    CHECK(limit == Approx(0.05 * rated / 30)); // Store loses 5 % a month at most
    CHECK(line.leak.verdict ==
          (line.retained->high_ah_per_day <= limit ? LeakVerdict::fit : LeakVerdict::undecided)); // on the edge
    // Recharged, it holds less than before: that part was no leak.
    s.days(1);
    s.read(cell, Quantity::capacity, 0.92 * rated);
    line = s.line_of(cell);
    REQUIRE(line.retained->shares);
    CHECK(line.retained->shares->lost_for_good == Approx(0.03 / 0.95).epsilon(0.01));
    CHECK(line.leak.ah_per_day == Approx(0.02 * rated / 28).epsilon(0.01));
    CHECK(line.leak.verdict == LeakVerdict::fit);
    CHECK(s.shop->rest().keep(RestService::judge(s.shop->rest().question())).value() == 1);
    CHECK(s.shop->unit(cell)->facts.self_discharge_ah_per_day->value == Approx(0.02 * rated / 28).epsilon(0.01));
}

TEST_CASE("A leaker of a flat curve is found by the retention test, and a new charge begins a new one") {
    DatedShop s;
    const Id cell = tests::lantern_cells(*s.shop, {1, 2, 1}, "lfp", "F32").front();
    const double rated = s.shop->unit(cell)->reference.rated_ah;
    s.read(cell, Quantity::capacity, rated);
    s.days(1);
    s.read(cell, Quantity::voltage, 3.6, Condition::end_of_charge);
    s.days(30);
    Measurement gave = s.shop->rest().discharged(cell, 0.7 * rated, {}).value();
    gave.uncertainty = 0.01;
    REQUIRE(s.shop->test().record_reading(cell, gave));
    CHECK(s.line_of(cell).leak.verdict == LeakVerdict::leaking);
    s.days(2);
    s.read(cell, Quantity::voltage, 3.6, Condition::end_of_charge);
    CHECK(s.line_of(cell).leak.verdict == LeakVerdict::undecided);
    CHECK_FALSE(s.line_of(cell).due_at.empty());
}

TEST_CASE("Full for months and still within hundredths: sound without a first reading") {
    DatedShop s;
    const auto cells = tests::lantern_cells(*s.shop, {1, 3, 1});
    const auto stored = [&](Id cell, double volts, double days) {
        Measurement m;
        m.quantity = Quantity::voltage;
        m.value = volts;
        m.resolution = 0.001;
        m.conditions.condition = Condition::stored;
        m.conditions.days_since_charge = days;
        REQUIRE(s.shop->test().record_reading(cell, m));
    };
    stored(cells[0], 4.17, 180);
    stored(cells[1], 3.90, 180); // charged to what, nobody knows: it may have fallen 0.3 V
    stored(cells[2], 4.17, 10);  // too short to say anything
    RestingLine line = s.line_of(cells[0]);
    CHECK(line.leak.verdict == LeakVerdict::fit);
    REQUIRE(line.stored_full_days);
    CHECK(*line.leak.high_v_per_day ==
          Approx((4.20 + 0.05 - 4.17 + 0.001) / 180).epsilon(0.05)); // and a charger may end 0.05 V above
    CHECK(wording::leak_reason(line).contains(QStringLiteral("without a first reading")));
    CHECK(line.due_at.empty());
    CHECK(s.line_of(cells[1]).leak.verdict == LeakVerdict::undecided);
    CHECK(s.line_of(cells[2]).leak.verdict == LeakVerdict::undecided);
}

TEST_CASE("N17: inside a pack the single unit that leaks is named, and one that was not connected is no leaker") {
    DatedShop s;
    Assembly pack;
    pack.lot = s.shop->receive().add_lot({0, "MOW-09", "", "", "", {}}).value();
    pack.label = "MOW-09 \u00B7 pack 1";
    pack.chemistry = "nmc";
    pack.format = "18650";
    pack.layout = {7, 6, 1};
    pack.claim.capacity_ah = 15;
    const Id id = s.shop->receive().add_pack(pack).value();
    REQUIRE(s.shop->receive().set_state(id, AssemblyState::in_triage));
    constexpr int leaker = 4;
    constexpr int loose = 2;
    for (int day = 0; day <= 20; day += 2) {
        std::vector<std::optional<double>> volts;
        for (int place = 1; place <= 6; ++place) {
            double v = place == loose ? 3.52 : 3.80;
            v -= (place == leaker ? 5e-3 : 0.1e-3) * day;
            volts.emplace_back(std::round(v * 1e4) / 1e4);
        }
        REQUIRE(s.shop->triage().note_unit_voltages(id, 3, volts));
        s.days(2);
    }
    const RestShelf shelf = RestService::judge(s.shop->rest().question());
    REQUIRE(shelf.lines.size() == 6);
    std::set<Id> rows;
    for (const RestingLine& line : shelf.lines) {
        CHECK(line.unit == 0);
        CHECK(line.row() < 0);
        CHECK(rows.insert(line.row()).second);
        CHECK(line.leak.verdict == (line.place.place == leaker ? LeakVerdict::leaking : LeakVerdict::fit));
        CHECK(line.apart_v.has_value() == (line.place.place == loose));
    }
    CHECK(shelf.lines.front().place.place == leaker);
    CHECK(wording::resting_name(*s.shop, shelf.lines.front()).contains(QStringLiteral("group 3, unit 4")));
    for (const RestingLine& line : shelf.lines)
        if (line.apart_v)
            CHECK(wording::leak_reason(line).contains(QStringLiteral("not connected")));
    CHECK(s.shop->rest().keep(shelf).value() == 0); // places in a pack are no units of the stock
}

TEST_CASE("When those that leak are of one source, that is said") {
    DatedShop s;
    const auto cells = tests::lantern_cells(*s.shop, {4, 4, 1});
    Assembly pack;
    pack.lot = s.shop->receive().add_lot({0, "REP-02", "hill repeaters", "", "", {}}).value();
    pack.label = "repeater";
    pack.chemistry = "nmc";
    pack.format = "18650";
    pack.layout = {3, 2, 1};
    const Id id = s.shop->receive().add_pack(pack).value();
    REQUIRE(s.shop->receive().set_state(id, AssemblyState::to_open));
    const auto bad = s.shop->open().open_pack(id, "K4", "H26", "S2").value();
    for (int day = 0; day < 24; day += 4) {
        for (const Id cell : cells)
            s.read(cell, Quantity::voltage, 3.80 - 0.1e-3 * day);
        for (const Id cell : bad)
            s.read(cell, Quantity::voltage, 3.80 - 6e-3 * day);
        s.days(4);
    }
    const RestShelf shelf = RestService::judge(s.shop->rest().question());
    REQUIRE_FALSE(shelf.shared.empty());
    const QString words = wording::shared_by_leakers(shelf);
    CHECK((words.contains(QStringLiteral("hill repeaters")) || words.contains(QStringLiteral("S2"))));
}

TEST_CASE("Storage asks for a look, for charge or for less of it, by the chemistry's record alone") {
    DatedShop s;
    const auto cells = tests::lantern_cells(*s.shop, {1, 4, 1});
    s.read(cells[0], Quantity::voltage, 3.70);
    s.read(cells[1], Quantity::voltage, 4.15);
    s.read(cells[2], Quantity::voltage, 3.30);
    const auto line = [&](Id unit) {
        for (const StockLine& one : stock_of(*s.shop))
            if (one.unit == unit)
                return one;
        FAIL("not in stock");
        return StockLine();
    };
    CHECK(line(cells[0]).care == Care::look);
    CHECK_FALSE(due(line(cells[0]), s.shop->now()));
    CHECK(line(cells[1]).care == Care::bring_down);
    CHECK(line(cells[2]).care == Care::charge_up);
    const StockLine unknown = line(cells[3]);
    CHECK(unknown.care == Care::look); // its voltage is not known
    CHECK(due(unknown, s.shop->now()));
    CHECK_FALSE(line(cells[3]).charge);
    s.days(181);
    CHECK(due(line(cells[0]), s.shop->now()));
    CHECK(line(cells[0]).age_days == Approx(181).margin(0.01));
    CHECK(wording::care_reason(*s.shop, line(cells[1])).contains(QStringLiteral("60")));
    const auto stock = stock_of(*s.shop);
    const StockCount count = count_of(stock, s.shop->now());
    CHECK(count.units == 4);
    CHECK(count.due == 4);
    CHECK(count.reserved == 0);
}

TEST_CASE("Shelves come due by tray and day: overdue, today, the next days on which something is due, later") {
    DatedShop s;
    const auto cells = tests::lantern_cells(*s.shop, {2, 4, 1});
    s.now = QDateTime(QDate(2026, 11, 28), QTime(12, 0), Qt::UTC);
    const std::array<const char*, 8> due_at{
        "2026-11-27T12:00:00Z", "2026-11-28T13:00:00Z", "2026-12-03T12:00:00Z", "2026-12-03T12:00:00Z",
        "2026-12-05T12:00:00Z", "2026-12-09T12:00:00Z", "2026-12-11T12:00:00Z", ""};
    RestShelf shelf;
    for (std::size_t i = 0; i < due_at.size(); ++i) {
        RestingLine line;
        line.unit = cells[i];
        line.due_at = due_at[i];
        shelf.lines.push_back(line);
    }
    const DueBoard board = due_board(*s.shop, shelf);
    CHECK(board.days == std::array<std::string, 2>{"2026-12-03", "2026-12-05"});
    REQUIRE(board.trays.size() == 5); // one tray in each column; the last one is decided
    const std::array<std::size_t, 5> counts{1, 1, 2, 1, 2};
    for (std::size_t i = 0; i < counts.size(); ++i) {
        CHECK(board.trays[i].home == "S1");
        CHECK(static_cast<std::size_t>(board.trays[i].column) == i);
        CHECK(board.trays[i].rows.size() == counts[i]);
    }
    CHECK(due_board(*s.shop, {}).trays.empty());
}

TEST_CASE("A shelf is judged beside the window over a connection of its own, and to the same verdicts") {
    DatedShop s;
    const auto cells = tests::lantern_cells(*s.shop, {4, 3, 1});
    for (int round = 0; round < 4; ++round) {
        for (std::size_t c = 0; c < cells.size(); ++c)
            s.read(cells[c], Quantity::voltage, 3.700 - (c == 5 ? 0.02 * round : 0.0002 * round));
        s.days(7);
    }
    const RestShelf here = RestService::judge(s.shop->rest().question());
    const RestShelf beside = judge_beside(s.shop->path());
    REQUIRE(beside.lines.size() == here.lines.size());
    REQUIRE(here.lines.size() == cells.size());
    for (std::size_t i = 0; i < here.lines.size(); ++i) {
        CHECK(beside.lines[i].unit == here.lines[i].unit);
        CHECK(beside.lines[i].leak.verdict == here.lines[i].leak.verdict);
        CHECK(beside.lines[i].due_at == here.lines[i].due_at);
    }
    CHECK(here.lines.front().unit == cells[5]);
    s.read(cells[0], Quantity::voltage, 3.699); // the window's own connection still writes
    CHECK(s.shop->writable());
    CHECK_THROWS_WITH(judge_beside(s.shop->path() + ".none"), Catch::Contains(".none"));
    // Nobody waits any more: it ends inside the set, with nothing.
    int asked = 0;
    const auto until = [&](int most) { return [&asked, most] { return ++asked <= most; }; };
    CHECK(judge_beside(s.shop->path(), until(3)).lines.empty());
    CHECK(asked < 50);
    asked = 0;
    CHECK(shelf_judgement(*s.shop)(until(100'000)).lines.size() == cells.size());
    CHECK(asked > 50);
}
