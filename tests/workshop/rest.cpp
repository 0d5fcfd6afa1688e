// Units on the shelf: what is read, judged and kept.
#include "workshop/rest_wording.h"

#include "shop.h"
#include "temporary.h"
#include "workshop/workshop.h"

#include <catch2/catch.hpp>

#include <QDateTime>

#include <cmath>

using namespace ingot;
using tests::Temporary;

namespace {

struct Shelf {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Shelf");
    std::vector<Id> cells;

    explicit Shelf(const char* chemistry = "nmc", const char* model = "H26") {
        cells = tests::lantern_cells(*shop, {4, 3, 1}, chemistry, model);
    }
    void read(std::size_t cell, int day, double volts) const {
        Measurement m;
        m.quantity = Quantity::voltage;
        m.value = std::round(volts * 1e4) / 1e4;
        m.resolution = 1e-4;
        m.conditions.condition = Condition::rest;
        char taken[32];
        std::snprintf(taken, sizeof taken, "2026-03-%02dT09:%02d:00Z", day, static_cast<int>(cell));
        const auto done = shop->test().record_reading(cells[cell], m, taken);
        REQUIRE(done);
    }
    void capacity(std::size_t cell) const {
        Measurement m;
        m.quantity = Quantity::capacity;
        m.value = 2.4;
        REQUIRE(shop->test().record_reading(cells[cell], m, "2026-02-20"));
    }
};

} // namespace

TEST_CASE("A shelf is judged from its readings, and what is decided is kept for Sort") {
    const Shelf shelf;
    for (std::size_t c = 0; c < shelf.cells.size(); ++c) {
        shelf.capacity(c);
        for (int day = 1; day <= 25; day += 4) {
            const double room = day % 8 == 1 ? 0.3e-3 : -0.2e-3;
            const double leak = c == 7 ? 4e-3 : 0.15e-3;
            shelf.read(c, day, 4.100 + 0.001 * static_cast<double>(c) + room - leak * day);
        }
    }
    const RestQuestion question = shelf.shop->rest().question();
    REQUIRE(question.sets.size() == 1);
    // NMC near 4.1 V: 8.5 mV for 1 %; Store loses 5 % a month at most.
    CHECK(question.sets[0].rules.limit_v_per_day / 1e-3 == Approx(0.05 / 30 * 850).epsilon(0.1));
    const RestShelf judged = RestService::judge(question);
    REQUIRE(judged.lines.size() == shelf.cells.size());
    CHECK(judged.lines.front().unit == shelf.cells[7]); // what leaks stands first
    for (const RestingLine& line : judged.lines) {
        CHECK(line.leak.verdict == (line.unit == shelf.cells[7] ? LeakVerdict::leaking : LeakVerdict::fit));
        CHECK(line.due_at.empty());
        CHECK(line.readings == 7);
        CHECK(wording::leak_reason(line).contains(QStringLiteral("mV/day")));
    }
    CHECK_FALSE(shelf.shop->unit(shelf.cells[7])->facts.self_discharge_ah_per_day);
    CHECK(shelf.shop->rest().keep(judged).value() == static_cast<int>(shelf.cells.size()));
    const auto& leak = shelf.shop->unit(shelf.cells[7])->facts.self_discharge_ah_per_day;
    REQUIRE(leak);
    CHECK(leak->value == Approx(4e-3 / 0.85 * 2.4).epsilon(0.15)); // Ah a day
    CHECK(shelf.shop->unit(shelf.cells[7])->verdict.duty != Duty::drive);
    CHECK(shelf.shop->rest().keep(judged).value() == 0); // nothing new
}

TEST_CASE("One reading is open with a day to read again; a run ends the rest; flat curves are not judged by voltage") {
    const Shelf shelf;
    shelf.read(0, 1, 3.7);
    RestShelf judged = RestService::judge(shelf.shop->rest().question());
    REQUIRE(judged.lines.size() == 1);
    CHECK(judged.lines[0].leak.verdict == LeakVerdict::undecided);
    CHECK(judged.lines[0].due_at > judged.lines[0].last_at);
    CHECK(wording::leak_reason(judged.lines[0]).contains(QStringLiteral("One reading")));
    // A log of that cell: charge was moved, what was read before says nothing about what is now.
    exchange::ImportedLog log;
    log.samples.time_s = {0, 3600};
    log.samples.voltage_v = {3.9, 3.5};
    log.samples.current_a = {-0.5, -0.5};
    REQUIRE(shelf.shop->test().import_log(shelf.cells[0], log, {}, "x.csv", "tester", {}, "2026-03-05"));
    CHECK(RestService::judge(shelf.shop->rest().question()).lines.empty());
    const Shelf flat("lfp", "F32");
    for (int day = 1; day <= 20; day += 5)
        flat.read(0, day, 3.3);
    judged = RestService::judge(flat.shop->rest().question());
    REQUIRE(judged.lines.size() == 1);
    CHECK_FALSE(judged.lines[0].told_by_voltage);
    CHECK(judged.lines[0].leak.verdict == LeakVerdict::undecided);
    CHECK(wording::leak_reason(judged.lines[0]).contains(QStringLiteral("four weeks")));
    CHECK(flat.shop->rest().keep(judged).value() == 0);
}
