// The shop's book: hand-counted on a small shop, and in balance on the demo.
#include "workshop/book.h"

#include "shop.h"
#include "temporary.h"
#include "workshop/rest_calendar.h"

#include <catch2/catch.hpp>

#include <QRegularExpression>
#include <QString>

using namespace ingot;
using tests::Temporary;

TEST_CASE("The book counts by hand: yield of those with a verdict, kept energy of those measured, packs once joined") {
    const Temporary folder;
    const auto shop = tests::new_shop(folder.file("w.ingot"), "Book");
    const auto cells = tests::lantern_cells(*shop, {2, 5, 1}); // H26: 2.6 Ah rated
    const auto read = [&](std::size_t cell, Quantity quantity, double value) {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        REQUIRE(shop->test().record_reading(cells[cell], m));
    };
    for (std::size_t c = 0; c < 6; ++c) {
        read(c, Quantity::voltage, 3.64);
        read(c, Quantity::dc_resistance, 0.045);
        read(c, Quantity::self_discharge, 0.0004);
        read(c, Quantity::capacity, c < 4 ? 2.4 : 0.9); // four fit, two scrap
    }
    REQUIRE(shop->open().recycle_unit(cells[6])); // three left without a verdict
    ShopBook book = shop_book(*shop);
    REQUIRE(book.lots.size() == 1);
    const BookLot& lot = book.lots.front();
    CHECK(lot.label == "LAN-01");
    CHECK(lot.packs == 1);
    CHECK(lot.units == 10);
    CHECK(lot.fit() == 4);
    CHECK(lot.lost == 3);
    CHECK(lot.waiting == 3);
    CHECK(*lot.yield() == Approx(4.0 / 7));
    const double nominal_v = shop->library().chemistry("nmc")->nominal_v();
    CHECK(lot.kept_wh == Approx(4 * 2.4 * nominal_v));
    CHECK(book.stock_wh == Approx(4 * 2.4 * nominal_v));
    REQUIRE(book.recycled.size() == 1);
    CHECK(book.recycled.front().units == 1);
    CHECK(book.packs.empty());
    CHECK_FALSE(lot.cost_per_wh());

    // Reserved units are kept, but not in stock; a build counts when it is joined.
    REQUIRE(shop->match().reserve(2, 2, {{cells[0], cells[1]}, {cells[2], cells[3]}}, std::nullopt, 0));
    book = shop_book(*shop);
    CHECK(book.lots.front().fit() == 4);
    CHECK(book.stock_wh == 0);
    CHECK(book.packs.empty());
    CHECK(book.out_wh == 0);
    const std::string csv = book_csv(book);
    CHECK(csv.find("LAN-01,,") != std::string::npos);
    CHECK(csv.find("Recycled,Units") != std::string::npos);
}

TEST_CASE("The book holds hours and money of jobs against what Worth had said, and what Worth takes from them") {
    const std::vector<JobDone> done{{WorthRoute::rebuild, 3.0, 2.0},
                                    {WorthRoute::rebuild, 5.0, 4.0},
                                    {WorthRoute::rebuild, 4.5, 3.0},
                                    {WorthRoute::break_for_units, 1.0, 1.5}};
    const auto jobs = book_jobs(done, 20);
    REQUIRE(jobs.size() == 2);
    CHECK(jobs[0].route == WorthRoute::rebuild);
    CHECK(jobs[0].jobs == 3);
    CHECK(jobs[0].hours == Approx(12.5));
    CHECK(jobs[0].estimated == Approx(9));
    CHECK(*jobs[0].money == Approx(250));
    CHECK(*jobs[0].estimated_money == Approx(180));
    CHECK(*jobs[0].factor == Approx(1.5)); // the middle of 1.5, 1.25 and 1.5
    CHECK_FALSE(jobs[1].factor);           // one job says nothing yet
    CHECK_FALSE(book_jobs(done, 0)[0].money);
    // Noted at a pack, it stands in the book and in its table.
    const Temporary folder;
    const auto shop = tests::new_shop(folder.file("w.ingot"), "Book");
    (void)tests::lantern_cells(*shop, {2, 5, 1});
    REQUIRE(shop->receive().note_hours(shop->packs().front().id, {WorthRoute::rebuild, 2.5, 2.0}));
    const ShopBook book = shop_book(*shop);
    REQUIRE(book.jobs.size() == 1);
    CHECK(book.jobs[0].hours == Approx(2.5));
    CHECK(book_csv(book).find("Route,Jobs,Hours / h") != std::string::npos);
}

TEST_CASE("In the demo every unit stands in the book once") {
    const Temporary folder;
    auto shop = Workshop::create(folder.file("w.ingot"), "Demo").value();
    REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")));
    const ShopBook book = shop_book(*shop);
    std::size_t units = 0;
    int packs = 0;
    for (const BookLot& lot : book.lots) {
        units += static_cast<std::size_t>(lot.units);
        packs += lot.packs;
        CHECK(lot.fit() + lot.waiting + lot.lost == lot.units);
        if (lot.yield())
            CHECK((*lot.yield() >= 0 && *lot.yield() <= 1));
    }
    CHECK(units == shop->units().size());
    CHECK(packs == static_cast<int>(shop->packs().size()));
}

TEST_CASE("Next readings as a calendar (RFC 5545): one event a day, and what is decided is not asked for") {
    const Temporary folder;
    const auto shop = tests::new_shop(folder.file("w.ingot"), "Rest");
    const auto cells = tests::lantern_cells(*shop, {2, 3, 1});
    shop->set_clock([] { return QDateTime(QDate(2026, 11, 28), QTime(10, 0), Qt::UTC); });
    RestShelf shelf;
    for (std::size_t c = 0; c < cells.size(); ++c) {
        RestingLine line;
        line.unit = cells[c];
        line.due_at = c == 0 ? "" : c < 4 ? "2026-12-03T09:00:00Z" : "2026-12-05T09:00:00Z";
        shelf.lines.push_back(line);
    }
    const QString calendar = QString::fromStdString(reading_calendar(*shop, shelf, "20261128T100000Z"));
    CHECK(calendar.startsWith(QStringLiteral("BEGIN:VCALENDAR\r\n")));
    CHECK(calendar.count(QStringLiteral("BEGIN:VEVENT")) == 3); // and today what storage asks: nobody read them yet
    CHECK(calendar.contains(QStringLiteral("storage asks: 6")));
    CHECK(calendar.contains(QStringLiteral("DTSTART:20261128T090000")));
    CHECK(calendar.contains(QStringLiteral("DTSTART:20261203T090000")));
    CHECK(calendar.contains(QStringLiteral("Read 3 units on the shelf")));
    CHECK(calendar.contains(QStringLiteral("Read 2 units on the shelf")));
    CHECK(calendar.contains(QStringLiteral("tray S1: 3")));
}

TEST_CASE("What a fit unit cost: its lot's cost over the lot's fit units, none where nobody entered one") {
    const Temporary folder;
    const auto shop = tests::new_shop(folder.file("w.ingot"), "Book");
    const auto fill = [&](const char* label, std::optional<double> cost, const char* model, int fit) {
        Lot lot;
        lot.label = label;
        lot.cost = cost;
        const Id id = shop->receive().add_lot(lot).value();
        int n = 0;
        for (const Id cell : tests::opened_pack(*shop, id, std::string(label) + " pack", {2, 2, 1}, "nmc", model))
            for (const auto& [quantity, value] : {std::pair(Quantity::voltage, 3.64),
                                                  {Quantity::dc_resistance, 0.045},
                                                  {Quantity::self_discharge, 0.0004},
                                                  {Quantity::capacity, ++n <= fit ? 2.4 : 0.7}}) {
                Measurement m;
                m.quantity = quantity;
                m.value = value;
                REQUIRE(shop->test().record_reading(cell, m));
            }
    };
    fill("A-01", 12.0, "H26", 3);
    fill("A-02", std::nullopt, "H30", 4);
    CHECK(shop_book(*shop).lots.size() == 2);
    const auto costs = unit_costs(*shop);
    REQUIRE(costs.size() == 1);
    CHECK(costs.at("H26") == Approx(12.0 / 3));
}
