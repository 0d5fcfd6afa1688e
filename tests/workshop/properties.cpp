// A workshop after any sequence of steps equals the same file opened again: nothing lives in memory alone.
#include "workshop/workshop.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <random>

using namespace ingot;
using tests::Temporary;

namespace {

void check_same(const Workshop& a, const Workshop& b) {
    REQUIRE(a.units().size() == b.units().size());
    for (std::size_t i = 0; i < a.units().size(); ++i) {
        const UnitState& x = a.units()[i];
        const UnitState& y = b.units()[i];
        CAPTURE(x.code());
        CHECK(x.code() == y.code());
        CHECK(x.record.whereabouts == y.record.whereabouts);
        CHECK(x.record.tray == y.record.tray);
        CHECK(x.record.well == y.record.well);
        CHECK(x.facts.capacity_ah == y.facts.capacity_ah);
        CHECK(x.facts.dc_resistance_ohm == y.facts.dc_resistance_ohm);
        CHECK(x.facts.ac_resistance_ohm == y.facts.ac_resistance_ohm);
        CHECK(x.facts.self_discharge_ah_per_day == y.facts.self_discharge_ah_per_day);
        CHECK(x.facts.rest_voltage_v == y.facts.rest_voltage_v);
        CHECK(x.quarantined == y.quarantined);
        CHECK(x.verdict.duty == y.verdict.duty);
        CHECK(x.verdict.overruled_from == y.verdict.overruled_from);
        CHECK(x.verdict.rule_set == y.verdict.rule_set);
        CHECK(x.verdict.evidence.size() == y.verdict.evidence.size());
    }
    REQUIRE(a.packs().size() == b.packs().size());
    for (std::size_t i = 0; i < a.packs().size(); ++i) {
        const Id id = a.packs()[i].id;
        CHECK(a.packs()[i].state == b.packs()[i].state);
        CHECK(a.packs()[i].gate_passed_at == b.packs()[i].gate_passed_at);
        CHECK(a.receive().pack_quarantined(id) == b.receive().pack_quarantined(id));
        CHECK(a.receive().findings_of_pack(id) == b.receive().findings_of_pack(id));
        for (const auto c : {Condition::rest, Condition::end_of_charge, Condition::load})
            CHECK(a.triage().group_readings(id, c) == b.triage().group_readings(id, c));
        CHECK(a.triage().result(id).summary == b.triage().result(id).summary);
    }
    CHECK(a.waiting() == b.waiting());
    CHECK(a.sort().duty_counts() == b.sort().duty_counts());
    CHECK(a.receive().open_quarantines().size() == b.receive().open_quarantines().size());
    CHECK(a.builds().size() == b.builds().size());
}

} // namespace

TEST_CASE("Random steps, some of them refused, leave window and file alike") {
    for (const unsigned seed : {1U, 2U, 3U}) {
        const Temporary folder;
        const std::string path = folder.file("w.ingot");
        auto shop = tests::new_shop(path, "Random");
        std::mt19937 random(seed);
        const auto pick = [&](std::size_t n) {
            return n == 0 ? std::size_t{0} : std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
        };
        const auto real = [&](double low, double high) {
            return std::uniform_real_distribution<double>(low, high)(random);
        };
        const Id lot = shop->receive().add_lot({0, "L", "", "", "", {}}).value();
        int refused = 0;
        int done = 0;
        const auto count = [&](bool ok) { ++(ok ? done : refused); };
        for (int step = 0; step < 260; ++step) {
            const auto& packs = shop->packs();
            const auto& units = shop->units();
            const Id pack = packs.empty() ? 0 : packs[pick(packs.size())].id;
            const Id unit = units.empty() ? 0 : units[pick(units.size())].record.id;
            switch (pick(14)) {
            case 0: {
                Assembly p;
                p.lot = lot;
                p.label = "P" + std::to_string(step);
                p.chemistry = pick(4) == 0 ? "lfp" : "nmc";
                p.layout = {static_cast<int>(pick(4)) + 1, static_cast<int>(pick(3)) + 1, 1};
                if (pick(8) == 0)
                    p.layout.series = 20; // over 60 V
                count(shop->receive().add_pack(p).ok());
                break;
            }
            case 1:
                count(shop->triage()
                          .record_group_reading(pack, static_cast<int>(pick(6)), real(0.5, 6.0),
                                                static_cast<Condition>(pick(3)), "m")
                          .ok());
                break;
            case 2:
                count(shop->receive()
                          .set_state(pack, pick(2) == 0 ? AssemblyState::in_triage : AssemblyState::to_open)
                          .ok());
                break;
            case 3:
                count(shop->open()
                          .open_pack(pack, "K4", packs.empty() || shop->pack(pack)->chemistry == "nmc" ? "H26" : "F32",
                                     pick(2) == 0 ? "S1" : "")
                          .ok());
                break;
            case 4:
                count(shop->receive().note_finding(pack, 0, pick(2) == 0 ? "swollen" : "rusted").ok());
                break;
            case 5:
                if (unit != 0)
                    count(shop->receive().note_finding(0, unit, pick(3) == 0 ? "leaking" : "dented").ok());
                break;
            case 6: {
                const auto open = shop->receive().open_quarantines();
                if (!open.empty())
                    count(shop->receive()
                              .close_quarantine(open[pick(open.size())].id, pick(3) == 0 ? "" : "looked again")
                              .ok());
                break;
            }
            case 7:
                count(shop->receive().pass_gate(pack == 0 ? 1 : pack).ok() || packs.empty());
                break;
            case 8:
                count(shop->sort().overrule(unit, static_cast<Duty>(pick(5)), pick(4) == 0 ? "" : "as I say").ok());
                break;
            case 9: {
                const auto readings = unit == 0 ? std::vector<Measurement>{} : shop->test().history(unit);
                if (!readings.empty() && readings.front().struck_reason.empty())
                    count(shop->test().strike_reading(readings.front().id, pick(4) == 0 ? "" : "slipped").ok());
                break;
            }
            case 10:
                if (unit != 0)
                    count(shop->open()
                              .set_home(unit, "S" + std::to_string(pick(2) + 1), static_cast<int>(pick(9)) + 1)
                              .ok());
                break;
            default: {
                Measurement r;
                r.quantity = static_cast<Quantity>(pick(5));
                const double values[] = {real(1.0, 4.4), real(0.02, 0.2), real(0.01, 0.1), real(0.5, 3.2),
                                         real(0, 0.01)};
                r.value =
                    values[static_cast<std::size_t>(r.quantity)] * (pick(12) == 0 ? 1000 : 1); // now and then a slip
                if (unit != 0)
                    count(shop->test().record_reading(unit, r).ok());
                break;
            }
            }
        }
        CHECK(done > 60);
        CHECK(refused > 20); // the steps were not all harmless
        {
            const auto reader = Workshop::open(path); // while the first is still open
            REQUIRE(reader.ok());
            check_same(*shop, *reader.value());
        }
        shop.reset();
        const auto again = Workshop::open(path).value();
        const auto twice = Workshop::open(path).value();
        check_same(*again, *twice);
    }
}

TEST_CASE("The demo workshop opens again as it was left") {
    const Temporary folder;
    const std::string path = folder.file("w.ingot");
    auto shop = Workshop::create(path, "Fellside Hut & Trail Trust").value();
    REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")).ok());
    const auto reader = Workshop::open(path).value();
    CHECK(reader->name() == "Fellside Hut & Trail Trust");
    check_same(*shop, *reader);
}

TEST_CASE("A folder is not brought in twice") {
    const Temporary folder;
    auto shop = tests::new_shop(folder.file("w.ingot"), "x");
    REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")).ok());
    const auto readings = shop->ledger().counts().measurements;
    const auto again = shop->import_folder(Workshop::shipped_folder("demo"));
    REQUIRE_FALSE(again.ok());
    CHECK(again.problem().sentence.english().find("exists already") != std::string::npos);
    CHECK(again.problem().line == 2);
    CHECK(shop->ledger().counts().measurements == readings);
}

TEST_CASE("A log for the wrong unit is refused") {
    const Temporary folder;
    auto shop = tests::new_shop(folder.file("w.ingot"), "x");
    REQUIRE(shop->import_folder(Workshop::shipped_folder("demo")).ok());
    Id cell = 0;
    for (const UnitState& u : shop->units())
        if (u.record.model == "H26")
            cell = u.record.id;
    exchange::ImportedLog log;
    log.samples = {{0, 10, 20}, {8.1, 8.0, 7.9}, {-1, -1, -1}, {}, {}}; // a module's
    const auto r = shop->test().import_log(cell, log, {}, "module.csv", "t");
    REQUIRE_FALSE(r.ok());
    CHECK(r.problem().where == "module.csv");
    CHECK_FALSE(shop->test().import_log(0, log, {}, "module.csv", "t").ok());
}
