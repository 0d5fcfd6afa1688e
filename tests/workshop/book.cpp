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
