// Runs on the bays of the simulated tester, from putting in to the reading on the unit; faults, holes, and picking up.
#include "bench_process.h"
#include "bench_shop.h"
#include "full_disk.h"
#include "workshop/bay_schedule.h"
#include "workshop/run_forecasts.h"

#include <catch2/catch.hpp>

#include <algorithm>

#include <csignal>

using namespace ingot;
using namespace ingot::tests;

namespace {

// A tester whose days pass in seconds.
void attach_fast(Bays& bays, const SimProcess& sim) {
    bays.set_rate(10'000);
    bays.set_sample_interval(60);
    bays.set_poll_interval(20);
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
}

} // namespace

TEST_CASE("bays: a cell is charged, rested and discharged, and its capacity arrives on the unit") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {QStringLiteral("--rate"), QStringLiteral("4000")});
    Bays bays(*shop.workshop);
    bays.set_rate(4000);
    bays.set_sample_interval(20);
    bays.set_poll_interval(20);
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    const Id unit = shop.cells[0];
    CHECK(bays.usual_protocol(unit) == "li-capacity");
    bays.set_room(-4);
    CHECK_FALSE(bays.put_in(unit, 3, "li-capacity-quick")); // charging in the cold plates lithium
    bays.set_room(20);
    REQUIRE(bays.put_in(unit, 3, "li-capacity-quick"));
    CHECK_FALSE(bays.put_in(shop.cells[1], 3, "li-capacity")); // taken
    CHECK_FALSE(bays.put_in(unit, 4, "li-capacity"));          // one unit, one bay
    CHECK_FALSE(bays.put_in(shop.cells[1], 99, "li-capacity"));
    CHECK_FALSE(bays.put_in(shop.cells[1], 1, "ni-capacity")); // another chemistry
    REQUIRE(wait_until([&] { return bays.bays()[2].look == BayLook::running; }));
    CHECK_FALSE(bays.lift_out(3)); // it runs
    REQUIRE(wait_until([&] { return bays.bays()[2].look == BayLook::lift_out; }));
    const BayView& bay = bays.bays()[2];
    CHECK(bay.stop == bench::StepEnd::time); // the rest at the end
    CHECK(bay.done == bay.steps);
    REQUIRE(bay.energy_wh);
    CHECK(*bay.energy_wh == Approx(*bay.capacity_ah * 3.7).epsilon(0.1)); // mean voltage of the chemistry
    const UnitFacts& facts = shop.workshop->unit(unit)->facts;
    REQUIRE(facts.capacity_ah);
    CHECK(*facts.capacity_ah > 0.6 * 2.6);
    CHECK(*facts.capacity_ah < 2.6);
    CHECK(facts.capacity_ah->uncertainty);
    REQUIRE(facts.dc_resistance_ohm);
    CHECK(*facts.dc_resistance_ohm > 0.02);
    CHECK(*facts.dc_resistance_ohm < 0.15);
    REQUIRE(facts.rise_k); // the bay reads the temperature: its own heat is told from the room's
    CHECK(*facts.rise_k > 0.1);
    CHECK(*facts.rise_k < 15);
    const LogSamples log = shop.workshop->test().samples(bay.run);
    CHECK(log.size() > 200);
    CHECK(std::is_sorted(log.time_s.begin(), log.time_s.end()));
    CHECK(log.temperature_c.size() == log.size());
    REQUIRE(bays.lift_out(3));
    CHECK(bays.bays()[2].look == BayLook::free);
    CHECK(!bays.left_running());
}

TEST_CASE("bays: faults stop the run with their reason; what ran hot goes to quarantine") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    bays.set_rate(4000);
    bays.set_sample_interval(20);
    bays.set_poll_interval(20);
    bays.set_fault(shop.code(shop.cells[0]), "overheating");
    bays.set_fault(shop.code(shop.cells[1]), "loose-clip");
    bays.set_fault(shop.code(shop.cells[2]), "reversed");
    bays.set_fault(shop.code(shop.cells[3]), "early-cutoff");
    QStringList told;
    QObject::connect(&bays, &Bays::told, [&](const QString& sentence, bool) { told << sentence; });
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    for (int b = 1; b <= 4; ++b)
        REQUIRE(bays.put_in(shop.cells[static_cast<std::size_t>(b) - 1], b, "li-capacity-quick"));
    REQUIRE(wait_until([&] {
        return std::all_of(bays.bays().begin(), bays.bays().begin() + 4, [](const BayView& b) {
            return b.look == BayLook::stopped || b.look == BayLook::lift_out || b.look == BayLook::free;
        });
    }));
    CHECK(bays.bays()[0].stop == bench::StepEnd::hot);
    CHECK(shop.workshop->unit(shop.cells[0])->quarantined);
    CHECK(bays.bays()[1].stop == bench::StepEnd::open);
    CHECK(bays.bays()[2].look == BayLook::free); // it was read before current flowed
    CHECK_FALSE(told.filter(QStringLiteral("wrong way round")).isEmpty());
    CHECK_FALSE(shop.workshop->unit(shop.cells[1])->facts.capacity_ah); // no discharge reached its cutoff
    CHECK(bays.bays()[3].look == BayLook::lift_out);
    CHECK(*shop.workshop->unit(shop.cells[3])->facts.capacity_ah < 0.5 * 2.6);
    REQUIRE(bays.lift_out(1));
    CHECK_FALSE(bays.put_in(shop.cells[0], 1, "li-capacity")); // in quarantine now
}

TEST_CASE("bays: N37: what a module gives after its weeks on the shelf is what the shelf left, not what it holds") {
    BenchShop shop;
    QDateTime now = QDateTime::fromString(QStringLiteral("2026-10-01T09:00:00Z"), Qt::ISODate);
    shop.workshop->set_clock([&] { return now; });
    const Id module = shop.modules[0];
    Measurement full;
    full.value = 8.7;
    full.conditions.condition = Condition::end_of_charge;
    REQUIRE(shop.workshop->test().record_reading(module, full));
    now = now.addDays(28);
    const SimProcess sim(shop.folder, {QStringLiteral("--rate"), QStringLiteral("4000")});
    Bays bays(*shop.workshop);
    bays.set_rate(4000);
    bays.set_sample_interval(20);
    bays.set_poll_interval(20);
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    bays.set_room(20);
    REQUIRE(bays.put_in(module, 2, "ni-capacity")); // discharged, charged, discharged again
    REQUIRE(wait_until([&] { return bays.bays()[1].look == BayLook::lift_out; }));
    std::vector<Measurement> left, held;
    for (const Measurement& m : shop.workshop->test().history(module))
        if (m.quantity == Quantity::capacity)
            (m.conditions.condition == Condition::stored ? left : held).push_back(m);
    REQUIRE(left.size() == 1);
    CHECK(*left[0].conditions.days_since_charge == Approx(28).margin(0.1));
    REQUIRE(held.size() == 1);
    CHECK(left[0].value < held[0].value);
    CHECK(shop.workshop->unit(module)->facts.capacity_ah->value == held[0].value);
    const auto retentions = shop.workshop->rest().question().retentions;
    REQUIRE(retentions.size() == 1);
    CHECK(retentions[0].stored->ah == left[0].value);
    CHECK(retentions[0].recharged->ah == held[0].value);
}

TEST_CASE("bays: modules are conditioned; a judged module keeps its bay until somebody lifts it out") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    attach_fast(bays, sim);
    CHECK(bays.usual_protocol(shop.modules[0]) == "ni-conditioning");
    for (int b = 1; b <= 6; ++b)
        REQUIRE(bays.put_in(shop.modules[static_cast<std::size_t>(b) - 1], b, "ni-conditioning"));
    REQUIRE(wait_until(
        [&] {
            return std::all_of(bays.bays().begin(), bays.bays().begin() + 6,
                               [](const BayView& b) { return b.look == BayLook::lift_out; });
        },
        90'000));
    const auto rows = bays.conditioning_rows();
    REQUIRE(rows.size() == 6);
    int decided = 0;
    for (const ConditioningRow& row : rows) {
        CHECK(row.cycles.size() == 3);
        CHECK(row.bar_ah == Approx(5.0));
        CHECK(row.cycles.front().capacity_ah > 2);
        decided += row.result.verdict != ConditioningVerdict::keep_cycling;
    }
    for (std::size_t i = 1; i < rows.size(); ++i) // worst first
        if (rows[i].result.verdict == ConditioningVerdict::replace)
            CHECK(rows[i - 1].result.verdict == ConditioningVerdict::replace);
    CHECK(decided > 0);
    CHECK(std::all_of(bays.bays().begin(), bays.bays().begin() + 6,
                      [](const BayView& b) { return b.look == BayLook::lift_out; }));
}

TEST_CASE("bays: N33: emptied first and left charged: three cycles, each with its charge, and what was left is none") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    attach_fast(bays, sim);
    for (int b = 1; b <= 2; ++b)
        REQUIRE(bays.put_in(shop.modules[static_cast<std::size_t>(b) - 1], b, "ni-conditioning-charged"));
    REQUIRE(wait_until([&] { return bays.bay(1)->look == BayLook::lift_out && bays.bay(2)->look == BayLook::lift_out; },
                       90'000));
    for (const ConditioningRow& row : bays.conditioning_rows()) {
        REQUIRE(row.cycles.size() == 3);
        for (std::size_t i = 0; i < 3; ++i) {
            REQUIRE(row.charged_ah[i]);
            CHECK(*row.charged_ah[i] > row.cycles[i].capacity_ah); // nickel gives back less than it takes
        }
        // Taken all where the charge reached what the protocol offers, 1.154 of the rating; else -dV came before.
        for (std::size_t i = 0; i < 3; ++i)
            CHECK(row.took_all[i] == (*row.charged_ah[i] > 0.999 * 1.154 * row.rated_ah));
    }
    CHECK(bays.bay(1)->last.voltage_v > 8.0); // charged: six cells well over 1.33 V
}

TEST_CASE("bays: a discharge under way says what it will give, and what the unit would then be") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    attach_fast(bays, sim);
    bays.set_rate(3000);
    bays.set_sample_interval(20);
    RunForecasts forecasts(*shop.workshop);
    constexpr int siblings = 6;
    for (int b = 1; b <= siblings; ++b)
        REQUIRE(bays.put_in(shop.cells[static_cast<std::size_t>(b) - 1], b, "li-capacity-quick"));
    REQUIRE(wait_until(
        [&] {
            return std::all_of(bays.bays().begin(), bays.bays().begin() + siblings,
                               [](const BayView& b) { return b.look == BayLook::lift_out; });
        },
        90'000));
    REQUIRE(bays.put_in(shop.cells[10], 7, "li-capacity-quick"));
    std::optional<RunForecast> said;
    REQUIRE(wait_until(
        [&] {
            if (const auto now = forecasts.of(*bays.bay(7)))
                said = now;
            return bays.bay(7)->look == BayLook::lift_out;
        },
        90'000));
    REQUIRE(said);
    CHECK(said->capacity.siblings == siblings);
    CHECK(said->evidence.forecast);
    CHECK(said->evidence.kind == EvidenceKind::capacity);
    REQUIRE(bays.bay(7)->capacity_ah);
    CHECK(said->capacity.capacity_ah == Approx(*bays.bay(7)->capacity_ah).epsilon(0.05));
    CHECK_FALSE(forecasts.of(*bays.bay(7))); // it is over: what was measured counts
    CHECK(shop.workshop->unit(shop.cells[10])->facts.capacity_ah->value == Approx(*bays.bay(7)->capacity_ah));
}

TEST_CASE("bays: a module of 24 cells goes on a tester that can do its volts; another one says what it cannot") {
    BenchShop shop;
    UnitModel model;
    model.id = model.name = "G24";
    model.chemistry = "nimh";
    model.cells_in_series = 24;
    model.rated_ah = 6.5;
    model.source = "invented";
    REQUIRE(shop.workshop->catalogue().save_model(model));
    Assembly pack;
    pack.lot = shop.workshop->packs().front().lot;
    pack.label = "long modules";
    pack.chemistry = "nimh";
    pack.layout = {1, 1, 24};
    const Id id = shop.workshop->receive().add_pack(pack).value();
    REQUIRE(shop.workshop->receive().set_state(id, AssemblyState::to_open));
    const Id unit = shop.workshop->open().open_pack(id, "K4", "G24", "T2").value().front();
    const SimProcess weak(shop.folder, {QStringLiteral("--most-v"), QStringLiteral("20")}, "weak");
    const SimProcess strong(shop.folder, {QStringLiteral("--most-v"), QStringLiteral("45")}, "strong");
    Bays bays(*shop.workshop);
    attach_fast(bays, weak);
    const int of_weak = static_cast<int>(bays.bays().size());
    bays.attach(strong.address());
    REQUIRE(wait_until([&] {
        return static_cast<int>(bays.bays().size()) > of_weak && bays.testers()[1].state == bench::DeviceState::ready;
    }));
    const Protocol& protocol = *shop.workshop->library().protocol("ni-capacity");
    REQUIRE_FALSE(bays.objections(unit, protocol, 1).empty());
    CHECK(bays.objections(unit, protocol, 1).front().fault == ProtocolFault::beyond_instrument);
    CHECK(bays.objections(unit, protocol, of_weak + 1).empty());
    CHECK_FALSE(bays.put_in(unit, 1, "ni-capacity"));
    // The plan knows it too.
    BaySchedule schedule(*shop.workshop, bays);
    REQUIRE(schedule.let_wait({unit}, "ni-capacity", ""));
    const auto planned = schedule.problem(QDateTime::currentDateTime(), {});
    REQUIRE(planned.problem.jobs.size() == 1);
    CHECK_FALSE(planned.problem.jobs.front().fits_on(0));
    CHECK(planned.problem.jobs.front().fits_on(of_weak));
    REQUIRE(bays.put_in(unit, of_weak + 1, "ni-capacity"));
    REQUIRE(wait_until([&] { return bays.bay(of_weak + 1)->look == BayLook::lift_out; }, 90'000));
    REQUIRE(shop.workshop->unit(unit)->facts.capacity_ah);
    CHECK(shop.workshop->unit(unit)->facts.capacity_ah->value > 2);
    CHECK(*shop.workshop->unit(unit)->facts.capacity_ah->conditions.cutoff_v == Approx(24.0).margin(0.3));
}

TEST_CASE("bays: the tester goes away for a while; the log loses nothing that it remembers") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    bays.set_rate(200);
    bays.set_sample_interval(5);
    bays.set_poll_interval(20);
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    REQUIRE(bays.put_in(shop.cells[0], 1, "li-capacity-quick"));
    REQUIRE(wait_until([&] { return bays.bays()[0].last.time_s > 300; }));
    const Id run = bays.bays()[0].run;
    int troubles = 0;
    QObject::connect(&bays, &Bays::told, [&](const QString&, bool objection) { troubles += objection; });
    // Stopped as if the line hung: no answers for two and a half seconds.
    REQUIRE(::kill(static_cast<pid_t>(sim.id()), SIGSTOP) == 0);
    wait_until([] { return false; }, 2500);
    CHECK(troubles == 1);
    CHECK(bays.bays()[0].silent);
    REQUIRE(::kill(static_cast<pid_t>(sim.id()), SIGCONT) == 0);
    REQUIRE(wait_until([&] { return !bays.bays()[0].silent; }));
    const double then = bays.bays()[0].last.time_s;
    REQUIRE(wait_until([&] { return bays.bays()[0].last.time_s > then + 200; }));
    bays.flush();
    const LogSamples log = shop.workshop->test().samples(run);
    for (std::size_t i = 1; i < log.size(); ++i)
        CHECK(log.time_s[i] - log.time_s[i - 1] < 12);
    CHECK(bays.bays()[0].gaps == 0);
}

TEST_CASE("bays: Ingot is gone and comes back; what ran is picked up, what ended meanwhile is concluded") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Id run = 0;
    std::size_t written = 0;
    {
        Bays bays(*shop.workshop);
        bays.set_rate(500);
        bays.set_sample_interval(10);
        bays.set_poll_interval(20);
        bays.attach(sim.address());
        REQUIRE(wait_until([&] { return bays.ready(); }));
        REQUIRE(bays.put_in(shop.cells[0], 2, "li-capacity-quick"));
        REQUIRE(wait_until([&] { return bays.bays()[1].last.time_s > 600; }));
        run = bays.bays()[1].run;
        bays.flush();
        written = shop.workshop->test().samples(run).size();
        CHECK(written > 20);
    }
    wait_until([] { return false; }, 1000); // 500 s of the tester's time pass alone
    Bays again(*shop.workshop);
    again.set_rate(4000);
    again.set_sample_interval(10);
    again.set_poll_interval(20);
    again.attach(sim.address());
    REQUIRE(wait_until([&] { return again.ready(); }));
    CHECK(again.bays()[1].run == run);
    CHECK(again.bays()[1].code == shop.code(shop.cells[0]));
    REQUIRE(wait_until([&] { return again.bays()[1].look == BayLook::lift_out; }));
    CHECK(shop.workshop->unit(shop.cells[0])->facts.capacity_ah);
    const LogSamples log = shop.workshop->test().samples(run);
    CHECK(log.size() > written);
    for (std::size_t i = 1; i < log.size(); ++i)
        CHECK(log.time_s[i] >= log.time_s[i - 1]);
}

TEST_CASE("bays: a tester that was started anew does not know the run any more") {
    BenchShop shop;
    SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    bays.set_rate(100);
    bays.set_poll_interval(20);
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    REQUIRE(bays.put_in(shop.cells[0], 1, "li-capacity"));
    REQUIRE(wait_until([&] { return bays.bays()[0].last.time_s > 50; }));
    sim.kill();
    REQUIRE(wait_until([&] { return !bays.ready(); }));
    sim.start({});
    REQUIRE(wait_until([&] { return bays.bays()[0].look == BayLook::stopped; }));
    CHECK(bays.bays()[0].stop_words.find("no longer knows") != std::string::npos);
    CHECK(bays.bays()[0].gaps >= 1);
    CHECK(shop.workshop->test().samples(bays.bays()[0].run).size() > 10);
}

TEST_CASE("K3: the disk is full in mid run: the person is told once, the run goes on, nothing is lost") {
    const FullDisk disk;
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    bays.set_rate(2000);
    bays.set_sample_interval(20);
    bays.set_poll_interval(20);
    QStringList told;
    QObject::connect(&bays, &Bays::told, [&](const QString& sentence, bool) { told << sentence; });
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    // What was heard is what must not be lost: how far apart the samples lie is up to a machine that may be busy.
    std::vector<double> heard_s;
    QObject::connect(&bays, &Bays::moved, [&] {
        if (bays.bays()[0].look == BayLook::running)
            heard_s.push_back(bays.bays()[0].last.time_s - bays.bays()[0].began_s);
    });
    REQUIRE(bays.put_in(shop.cells[0], 1, "li-capacity-quick"));
    REQUIRE(wait_until([&] { return bays.bays()[0].last.time_s > 2000; }));
    disk_is_full = true;
    // A typed reading is refused with the reason; it leaves no slot with an exception.
    Measurement typed;
    typed.value = 3.7;
    const auto refused = shop.workshop->test().record_reading(shop.cells[5], typed);
    REQUIRE_FALSE(refused);
    CHECK(refused.problem().sentence.english().find("Nothing was recorded") != std::string::npos);
    REQUIRE(wait_until([&] { return !told.filter(QStringLiteral("could not be written")).isEmpty(); }));
    REQUIRE(wait_until([&] { return bays.bays()[0].look == BayLook::lift_out; }, 60'000));
    CHECK(told.filter(QStringLiteral("could not be written")).size() == 1);
    CHECK_FALSE(shop.workshop->unit(shop.cells[0])->facts.capacity_ah); // it is not on the disk yet
    CHECK_FALSE(bays.lift_out(1));
    disk_is_full = false;
    bays.flush();
    CHECK_FALSE(told.filter(QStringLiteral("nothing was lost")).isEmpty());
    REQUIRE(shop.workshop->unit(shop.cells[0])->facts.capacity_ah);
    const Id run = bays.bays()[0].run;
    const LogSamples log = shop.workshop->test().samples(run);
    CHECK(heard_s.size() > 20);
    CHECK(std::is_sorted(log.time_s.begin(), log.time_s.end()));
    constexpr double clock_digit_s = 1e-3;
    for (const double heard : heard_s) {
        const auto kept = std::lower_bound(log.time_s.begin(), log.time_s.end(), heard - clock_digit_s);
        REQUIRE(kept != log.time_s.end());
        CHECK(*kept <= heard + clock_digit_s);
    }
    CHECK(static_cast<int>(shop.workshop->test().steps(run).size()) == bays.bays()[0].steps);
    CHECK(bays.lift_out(1));
}

TEST_CASE("K3: a damaged chunk in mid run: what cannot be concluded is said, the other bay ends as usual") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {});
    Bays bays(*shop.workshop);
    bays.set_rate(2000);
    bays.set_sample_interval(20);
    bays.set_poll_interval(20);
    QStringList told;
    QObject::connect(&bays, &Bays::told, [&](const QString& sentence, bool) { told << sentence; });
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    for (int b = 1; b <= 2; ++b)
        REQUIRE(bays.put_in(shop.cells[static_cast<std::size_t>(b) - 1], b, "li-capacity-quick"));
    REQUIRE(wait_until([&] { return bays.bays()[0].last.time_s > 2000; }));
    bays.flush();
    sqlite3* beside = nullptr;
    REQUIRE(sqlite3_open(shop.file.c_str(), &beside) == SQLITE_OK);
    const std::string sql = "UPDATE run_chunk SET data = x'00' WHERE run_id = " + std::to_string(bays.bays()[0].run);
    REQUIRE(sqlite3_exec(beside, sql.c_str(), nullptr, nullptr, nullptr) == SQLITE_OK);
    sqlite3_close(beside);
    REQUIRE(wait_until(
        [&] { return bays.bays()[0].look == BayLook::lift_out && bays.bays()[1].look == BayLook::lift_out; }, 60'000));
    CHECK_FALSE(told.filter(QStringLiteral("could not be concluded")).isEmpty());
    CHECK(shop.workshop->unit(shop.cells[1])->facts.capacity_ah);
    CHECK(static_cast<int>(shop.workshop->test().steps(bays.bays()[0].run).size()) ==
          bays.bays()[0].steps); // what the tester said is safe
    CHECK(bays.lift_out(1));
}

TEST_CASE("bays: a line that drops bytes and a supply too small for all: every cell is measured, no sample missing") {
    BenchShop shop;
    const SimProcess sim(shop.folder, {QStringLiteral("--rate"), QStringLiteral("3000"), QStringLiteral("--drop"),
                                       QStringLiteral("0.0004"), QStringLiteral("--supply-a"), QStringLiteral("2.5")});
    Bays bays(*shop.workshop);
    bays.set_rate(3000);
    bays.set_sample_interval(20);
    bays.set_poll_interval(20);
    bays.set_patience(sanitized ? 800 : 200);
    QStringList told;
    QObject::connect(&bays, &Bays::told, [&](const QString& sentence, bool) { told << sentence; });
    bays.attach(sim.address());
    REQUIRE(wait_until([&] { return bays.ready(); }));
    for (int b = 1; b <= 3; ++b)
        for (int attempt = 0; attempt < 20 && bays.bay(b)->look != BayLook::running; ++attempt) {
            if (bays.bay(b)->look ==
                BayLook::stopped) // an answer to the start was hurt: nothing flowed, or it was stopped
                REQUIRE(bays.lift_out(b));
            // While it is out of step every attempt is refused at once.
            wait_until([&] { return !bays.bay(b)->silent; });
            (void)bays.put_in(shop.cells[static_cast<std::size_t>(b) - 1], b, "li-capacity-quick");
            wait_until([&] {
                return bays.bay(b)->look == BayLook::running || bays.bay(b)->look == BayLook::free ||
                       bays.bay(b)->look == BayLook::stopped;
            });
        }
    double most_a = 0;
    const auto all_done = [&] {
        double together = 0;
        for (int b = 1; b <= 3; ++b)
            if (bays.bay(b)->look == BayLook::running)
                together += std::max(0.0, bays.bay(b)->last.current_a);
        most_a = std::max(most_a, together);
        return std::all_of(bays.bays().begin(), bays.bays().begin() + 3,
                           [](const BayView& bay) { return bay.look == BayLook::lift_out; });
    };
    const bool done = wait_until(all_done, 90'000);
    CAPTURE(told.join(QLatin1Char('|')).toStdString());
    REQUIRE(done);
    CHECK(most_a > 2); // it was wanted
    for (int b = 1; b <= 3; ++b) {
        CHECK(bays.bay(b)->gaps == 0);
        CHECK(shop.workshop->unit(shop.cells[static_cast<std::size_t>(b) - 1])->facts.capacity_ah);
    }
}
