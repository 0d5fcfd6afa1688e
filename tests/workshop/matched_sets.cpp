// A matched set stays one thing until somebody breaks it on purpose.
#include "workshop/workshop.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

// Four lantern cells of a pack, and eight that were bought as a matched set; all of them tested.
struct SetsInStock {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Sets");
    std::vector<Id> single, matched;
    Id set = 0;

    SetsInStock() {
        single = tests::lantern_cells(*shop, {2, 2, 1});
        LooseUnits bought;
        bought.lot = shop->receive().add_lot({0, "BUY-01", "", "", "", {}}).value();
        bought.model = "H26";
        bought.count = 8;
        bought.roll = "K4";
        bought.matched_by = "the dealer, within 1 %";
        matched = shop->receive().take_in_loose(bought, shop->open()).value();
        set = shop->unit(matched.front())->record.pack;
        for (const auto* units : {&single, &matched})
            for (const Id unit : *units) {
                measure(unit, Quantity::capacity, 2.4 + 0.001 * static_cast<double>(unit));
                measure(unit, Quantity::dc_resistance, 0.045);
                measure(unit, Quantity::voltage, 3.7);
            }
    }
    void measure(Id unit, Quantity quantity, double value) const {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        REQUIRE(shop->test().record_reading(unit, m).ok());
    }
    [[nodiscard]] std::vector<Id> pool(Id of = 0) const {
        PoolFilter filter;
        filter.chemistry = "nmc";
        filter.set = of;
        for (int d = 0; d < duty_count; ++d)
            filter.duties.push_back(static_cast<Duty>(d));
        return shop->match().pool(filter);
    }
    [[nodiscard]] Result<Id> reserve(const std::vector<Id>& units) const {
        std::vector<std::vector<Id>> groups;
        for (std::size_t i = 0; i + 1 < units.size(); i += 2)
            groups.push_back({units[i], units[i + 1]});
        return shop->match().reserve(static_cast<int>(groups.size()), 2, groups, std::nullopt, 0);
    }
};

} // namespace

TEST_CASE("N4: a matched set is offered whole and to nobody else; what would take some of it is refused") {
    SetsInStock s;
    CHECK(s.pool() == s.single);
    CHECK(s.pool(s.set) == s.matched);
    CHECK(s.shop->inventory().sets_in_stock() == std::map<Id, std::vector<Id>>{{s.set, s.matched}});
    // Two of its units with two others.
    const auto some = s.reserve({s.single[0], s.single[1], s.matched[0], s.matched[1]});
    REQUIRE_FALSE(some);
    const std::string why = some.problem().sentence.english();
    INFO(why);
    CHECK(why.find(s.shop->unit(s.matched[0])->code() + " belongs to the matched set") == 0);
    CHECK(why.find("8 units") != std::string::npos);
    CHECK(why.find(s.shop->unit(s.matched[2])->code()) != std::string::npos);
    CHECK(s.shop->builds().empty());
    // A build of others gets none of it as a substitute.
    const Id other = s.reserve(s.single).value();
    CHECK(s.shop->build().substitutes(other, s.single[0], 20).empty());
    CHECK_FALSE(s.shop->build().replace(other, s.single[0], s.matched[0]));
    REQUIRE(s.shop->build().give_up(other));
    // Many builds over one stock do not see it either.
    for (const Id unit : s.shop->match().allot_question(0).units)
        CHECK(s.shop->inventory().set_of(*s.shop->unit(unit)) == 0);
    // Whole it goes, and comes back whole.
    const Id whole = s.reserve(s.matched).value();
    CHECK(s.shop->unit(s.matched[0])->record.whereabouts == Whereabouts::reserved);
    CHECK(s.shop->inventory().sets_in_stock().empty());
    REQUIRE(s.shop->build().give_up(whole));
    CHECK(s.pool(s.set).size() == 8);
    // One that is recycled leaves the others a set.
    REQUIRE(s.shop->open().recycle_unit(s.matched[7]));
    CHECK_FALSE(s.reserve({s.matched[0], s.matched[1]}));
    CHECK(s.pool(s.set).size() == 7);
}

TEST_CASE("N4: a set is broken with a reason, which stays on record, and is whole again while none of it is used") {
    SetsInStock s;
    CHECK_FALSE(s.shop->receive().break_set(s.set, ""));
    CHECK_FALSE(s.shop->receive().break_set(s.shop->unit(s.single[0])->record.pack, "no set"));
    REQUIRE(s.shop->receive().break_set(s.set, "one of it is for a lantern"));
    CHECK_FALSE(s.shop->receive().break_set(s.set, "again"));
    CHECK(s.pool().size() == 12);
    CHECK(s.pool(s.set).empty());
    // As it was, from the file too.
    REQUIRE(s.shop->receive().keep_as_set(s.set, "the dealer, within 1 %"));
    const std::string path = s.folder.file("w.ingot");
    s.shop.reset();
    s.shop = std::move(Workshop::open(path).value());
    CHECK(s.pool() == s.single);
    CHECK(s.shop->receive().particulars(s.set).at(ParticularKind::matched_set) == "the dealer, within 1 %");
    // Broken, and one of it reserved: not whole any more.
    REQUIRE(s.shop->receive().break_set(s.set, "one of it is for a lantern"));
    REQUIRE(s.reserve({s.matched[0], s.single[0]}));
    CHECK_FALSE(s.shop->receive().keep_as_set(s.set, "the dealer, within 1 %"));
}
