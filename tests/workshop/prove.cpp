// The proof of a joined pack as the shop's steps: what counts, what is refused, what goes with the pack.
#include "exchange/passport_json.h"

#include "shop.h"
#include "temporary.h"
#include "workshop/workshop.h"

#include <catch2/catch.hpp>

#include <QDateTime>

#include <nlohmann/json.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

// A joined 3S2P of lantern cells, with a clock that the test moves on.
struct ProofShop {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Prove");
    QDateTime now = QDateTime::fromString(QStringLiteral("2026-03-02T09:00:00Z"), Qt::ISODate);
    Id build = 0;

    ProofShop() {
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
    }
    [[nodiscard]] RoundVerdict verdict(ProofRound round) const {
        return shop->prove().proof(build).proof.rounds[static_cast<std::size_t>(round)];
    }
};

} // namespace

TEST_CASE("A joined pack is proved round by round, signed, and leaves with its passport") {
    ProofShop s;
    const auto unsigned_yet = s.shop->prove().sign(s.build, "T2");
    REQUIRE_FALSE(unsigned_yet);
    CHECK(unsigned_yet.problem().sentence.find("At rest is open") != std::string::npos);
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
    CHECK(json["proof"].size() == 4);
    CHECK(json["proof"][1]["group_v"][1] == Approx(4.183));
    CHECK(json["proof"][3]["load_a"] == Approx(4));
    for (const auto& round : json["proof"])
        CHECK(round["passed"] == true);
    REQUIRE(s.shop->prove().move_on(s.build, AssemblyState::returned));
    const auto reader = Workshop::open(s.shop->path()).value();
    CHECK(reader->build_of(s.build)->state == AssemblyState::returned);
    CHECK(reader->prove().proof(s.build).proof.passed);
}

TEST_CASE("A cold joint is found under load, sent back, welded again, and only what was read since counts") {
    ProofShop s;
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
    REQUIRE(s.shop->prove().strike(s.shop->prove().proof(s.build).last[3], "typed wrong"));
    CHECK(*s.shop->prove().proof(s.build).readings.rounds[3].group_v[1] == Approx(3.963));
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
