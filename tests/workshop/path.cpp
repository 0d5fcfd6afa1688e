// The whole job on the demo workshop, without a window: what comes in, what goes out.
#include "workshop/workshop.h"

#include "exchange/csv.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <set>

using namespace ingot;
using tests::Temporary;

namespace {
std::unique_ptr<Workshop> demo(const Temporary& folder) {
    auto shop = Workshop::create(folder.file("demo.ingot"), "Fellside Hut & Trail Trust").value();
    const auto done = shop->import_folder(Workshop::shipped_folder("demo"));
    INFO((done.ok() ? std::string() : done.problem().text()));
    REQUIRE(done.ok());
    return shop;
}
} // namespace

TEST_CASE("The demo workshop holds what a shop has") {
    const Temporary folder;
    const auto shop = demo(folder);
    std::set<std::string> chemistries;
    std::set<std::string> kinds;
    for (const auto& p : shop->packs()) {
        chemistries.insert(p.chemistry);
        kinds.insert(p.label.substr(0, 3));
    }
    CHECK(shop->packs().size() >= 12);
    CHECK(kinds.size() >= 5);
    for (const char* c : {"nmc", "lfp", "nimh", "nicd"})
        CHECK(chemistries.contains(c));
    CHECK(shop->units().size() >= 420);
    CHECK(shop->ledger().counts().runs >= 20);
    const auto waiting = shop->waiting();
    for (int i = 0; i < station_count; ++i) // something waits at every station; nothing is joined yet
        CHECK((waiting[static_cast<std::size_t>(i)] > 0) == (static_cast<Station>(i) != Station::prove));
    const auto duties = shop->sort().duty_counts();
    for (std::size_t d = 0; d < duties.size(); ++d)
        CHECK((duties[d] > 0) == (static_cast<Duty>(d) != Duty::undecided)); // every model is known, every duty occurs
    int complete = 0;
    int partial = 0;
    for (const UnitState& u : shop->units()) {
        const bool all = u.facts.capacity_ah && u.facts.dc_resistance_ohm && u.facts.self_discharge_ah_per_day;
        complete += all ? 1 : 0;
        partial += all ? 0 : 1;
    }
    CHECK(complete > 100);
    CHECK(partial > 50);
}

TEST_CASE("From the pool to a build sheet, taken unit by unit") {
    const Temporary folder;
    const auto shop = demo(folder);
    const auto pool = shop->match().pool({"nmc", "H26", "", {Duty::drive, Duty::store}});
    REQUIRE(pool.size() >= 28);
    MatchProblem problem = shop->match().problem_for(pool);
    problem.series = 7;
    problem.parallel = 4;
    const auto matched = match(problem);
    REQUIRE(matched.ok());
    std::vector<std::vector<Id>> groups;
    for (const auto& g : matched.value().groups) {
        groups.emplace_back();
        for (const auto u : g.units)
            groups.back().push_back(pool[u]);
    }
    const Id build = shop->match().reserve(7, 4, groups, MatchWay::search, 0.005).value();
    CHECK(shop->build_of(build)->label == "B-019");
    CHECK_FALSE(shop->match().reserve(7, 4, groups, MatchWay::search, 0.005).ok()); // reserved already
    BuildSheet sheet = shop->build().sheet(build);
    REQUIRE(sheet.lines.size() == 28);
    CHECK(sheet.group_capacity_ah.size() == 7);
    CHECK(*std::min_element(sheet.group_capacity_ah.begin(), sheet.group_capacity_ah.end()) ==
          Approx(matched.value().usable_ah));
    REQUIRE(sheet.worst.difference_v.has_value());
    for (const auto& check : sheet.joining)
        CHECK(check.difference_v.value_or(0) <= *sheet.worst.difference_v);

    // A wrong unit is refused and told where it belongs.
    for (const UnitState& u : shop->units())
        if (u.in_stock() && !u.record.tray.empty()) {
            const auto refused = shop->build().take(build, u.record.id);
            REQUIRE_FALSE(refused.ok());
            CHECK(refused.problem().sentence.english().find("tray " + u.record.tray) != std::string::npos);
            break;
        }
    for (const BuildLine& line : sheet.lines)
        REQUIRE(shop->build().take(build, line.unit).ok());
    CHECK_FALSE(shop->build().take(build, sheet.lines[0].unit).ok()); // twice
    CHECK(shop->build_of(build)->state == AssemblyState::taken);
    // The sheet as CSV holds every unit once.
    const std::string csv = BuildService::sheet_csv(shop->build().sheet(build));
    auto reader = exchange::CsvReader::open(csv, "sheet.csv");
    std::vector<std::string_view> fields;
    std::set<std::string> codes;
    while (reader.value().next(fields).value()) {
        codes.insert(std::string(fields[2]));
        CHECK(fields.back() == "yes");
    }
    CHECK(codes.size() == 28);
    // Given up: everything is in stock again.
    REQUIRE(shop->build().give_up(build).ok());
    CHECK(shop->unit(sheet.lines[0].unit)->in_stock());
}

TEST_CASE("One chemistry in a pack and no quarantined unit, whatever is asked") {
    const Temporary folder;
    const auto shop = demo(folder);
    Id nmc = 0;
    Id lfp = 0;
    Id hazard = 0;
    for (const UnitState& u : shop->units()) {
        if (u.quarantined)
            hazard = u.record.id;
        else if (u.in_stock() && u.verdict.duty == Duty::drive)
            (u.facts.chemistry == "nmc" ? nmc : (u.facts.chemistry == "lfp" ? lfp : hazard)) = u.record.id;
    }
    for (const UnitState& u : shop->units())
        if (u.quarantined)
            hazard = u.record.id;
    REQUIRE(hazard != 0);
    CHECK_FALSE(shop->match().reserve(2, 1, {{nmc}, {lfp}}, MatchWay::deal, 0).ok());
    CHECK_FALSE(shop->match().reserve(1, 1, {{hazard}}, MatchWay::deal, 0).ok());
    for (const Id id : shop->match().pool({"nmc", "", "", {Duty::drive, Duty::store, Duty::light, Duty::quarantine}}))
        CHECK_FALSE(shop->unit(id)->quarantined);
}

TEST_CASE("An import that fails anywhere leaves nothing behind") {
    const Temporary folder;
    const std::string bad = folder.file("bad");
    std::filesystem::copy(Workshop::shipped_folder("demo"), bad, std::filesystem::copy_options::recursive);
    auto shop = Workshop::create(folder.file("w.ingot"), "x").value();
    SECTION("in the readings") {
        std::ofstream(bad + "/readings.csv", std::ios::app) << "K4-9999-9,,,voltage,3.7,V,rest,,,,\n";
    }
    SECTION("in the last log") {
        std::ofstream(bad + "/logs/ZZ.csv") << "Test Time / s,Voltage / V,Current / A\n0,3.7,0\n";
    }
    SECTION("in a unit's code") {
        std::ofstream(bad + "/units.csv", std::ios::app) << "K4-0001-0,,,,H26,,,\n";
    }
    const auto r = shop->import_folder(bad);
    REQUIRE_FALSE(r.ok());
    CHECK(r.problem().where.find(bad) == 0);
    const LedgerCounts counts = shop->ledger().counts();
    CHECK(counts.lots + counts.packs + counts.units + counts.measurements + counts.runs + counts.builds == 0);
    CHECK(shop->packs().empty());
    CHECK(shop->units().empty());
}

TEST_CASE("A folder that nobody wants any more leaves nothing behind, whichever row it had come to") {
    const Temporary folder;
    auto shop = Workshop::create(folder.file("s.ingot"), "s").value();
    std::map<std::string, std::size_t> rows; // of each file
    for (const char* stop_at : {"lots.csv", "units.csv", "readings.csv", "builds.csv", "logs", ""}) {
        CAPTURE(stop_at);
        const auto done = shop->import_folder(Workshop::shipped_folder("demo"), [&](const ImportProgress& now) {
            CHECK(now.row >= 1);
            CHECK(now.row <= now.rows);
            rows[now.file] = now.rows;
            return now.file != stop_at || now.row < now.rows;
        });
        CHECK(done.ok() == std::string(stop_at).empty());
        const LedgerCounts counts = shop->ledger().counts();
        CHECK((counts.lots + counts.packs + counts.units + counts.measurements + counts.runs + counts.builds == 0) ==
              !done.ok());
        CHECK(shop->units().empty() == !done.ok());
    }
    CHECK(rows["units.csv"] == shop->units().size());
}

TEST_CASE("A log makes a capacity reading with its conditions") {
    const Temporary folder;
    const auto shop = demo(folder);
    const std::string logs = Workshop::shipped_folder("demo") + "/logs-to-import";
    int done = 0;
    for (const auto& entry : std::filesystem::directory_iterator(logs)) {
        const Id unit = shop->find_unit(entry.path().stem().string()).value();
        REQUIRE_FALSE(shop->unit(unit)->facts.capacity_ah.has_value());
        auto log = exchange::read_log(Temporary::read(entry.path().string()), "log").value();
        const CapacityResult result = measure_capacity(log.samples);
        REQUIRE(shop->test().import_log(unit, log, result, "log.csv", "bench tester").ok());
        CHECK(*shop->unit(unit)->facts.capacity_ah == Approx(*result.discharge_capacity_ah));
        const auto readings = shop->test().history(unit);
        CHECK(readings.front().run != 0);
        CHECK(readings.front().conditions.cutoff_v.has_value());
        CHECK(shop->test().samples(readings.front().run).voltage_v == log.samples.voltage_v);
        ++done;
    }
    CHECK(done == 3);
}

TEST_CASE("K38: a run that was made on another unit goes there with its readings, and comes back") {
    const Temporary folder;
    const auto shop = demo(folder);
    const auto first =
        std::filesystem::directory_iterator(Workshop::shipped_folder("demo") + "/logs-to-import")->path();
    const Id wrong = shop->find_unit(first.stem().string()).value();
    const Chemistry* chemistry = shop->inventory().chemistry_of(*shop->unit(wrong));
    Id right = 0;
    Id unlike = 0;
    for (const UnitState& unit : shop->units()) {
        if (unit.record.id == wrong)
            continue;
        const bool same = shop->inventory().chemistry_of(unit) == chemistry &&
                          unit.reference.cells_in_series == shop->unit(wrong)->reference.cells_in_series;
        (same && !unit.facts.capacity_ah ? right : unlike) = unit.record.id;
    }
    REQUIRE(right != 0);
    REQUIRE(unlike != 0);
    auto log = exchange::read_log(Temporary::read(first.string()), "log").value();
    const CapacityResult result = measure_capacity(log.samples);
    REQUIRE(shop->test().import_log(wrong, log, result, "log.csv", "bench tester"));
    const Id run = shop->test().history(wrong).front().run;
    const std::string taken = shop->test().history(wrong).front().taken_at;

    const auto refused = shop->test().give_run(run, unlike);
    if (shop->inventory().chemistry_of(*shop->unit(unlike)) != chemistry)
        CHECK_FALSE(refused);
    CHECK_FALSE(shop->test().give_run(run, wrong));
    CHECK_FALSE(shop->test().give_run(run + 1000, right));

    REQUIRE(shop->test().give_run(run, right));
    CHECK_FALSE(shop->unit(wrong)->facts.capacity_ah);
    REQUIRE(shop->unit(right)->facts.capacity_ah);
    CHECK(shop->unit(right)->facts.capacity_ah->value == Approx(*result.discharge_capacity_ah));
    CHECK(shop->test().history(right).front().taken_at == taken);
    CHECK(shop->test().runs(wrong).empty());
    CHECK(shop->test().runs(right).front().id == run);
    CHECK(shop->test().history(wrong).front().struck_reason.find(shop->unit(right)->code()) != std::string::npos);

    REQUIRE(shop->test().give_run(run, wrong)); // and back, as Ctrl+Z does
    CHECK_FALSE(shop->unit(right)->facts.capacity_ah);
    CHECK(shop->unit(wrong)->facts.capacity_ah->value == Approx(*result.discharge_capacity_ah));
    const auto again = Workshop::open(shop->path());
    REQUIRE(again);
    CHECK(again.value()->unit(wrong)->facts.capacity_ah->value == Approx(*result.discharge_capacity_ah));
}

TEST_CASE("A log with the two-level pulse makes a DC resistance reading; one sampled by the minute makes none") {
    const Temporary folder;
    const auto shop = demo(folder);
    const Id unit = shop->units().front().record.id;
    // IEC 61960-3, from memory: 0.2 It for 10 s, then 1.0 It for 1 s. A cell of 60 mohm at 2.6 Ah.
    exchange::ImportedLog log;
    constexpr double ohm = 0.060;
    for (int i = 0; i <= 120; ++i) {
        const double t = 0.1 * i;
        const double amperes = t < 0.95 ? 0.0 : t < 10.95 ? -0.52 : -2.6;
        log.samples.time_s.push_back(t);
        log.samples.current_a.push_back(amperes);
        log.samples.voltage_v.push_back(3.7 + amperes * ohm);
        log.samples.temperature_c.push_back(21.5);
    }
    LogSamples samples = log.samples;
    const ResistanceResult resistance = measure_resistance(samples);
    REQUIRE(resistance.method == ResistanceMethod::two_level_pulse);
    REQUIRE(shop->test().import_log(unit, log, measure_capacity(log.samples), "pulse.csv", "bench tester", resistance));
    CHECK(*shop->unit(unit)->facts.dc_resistance_ohm == Approx(ohm).epsilon(0.01));
    const auto readings = shop->test().history(unit);
    CHECK(readings.front().quantity == Quantity::dc_resistance);
    CHECK(readings.front().instrument == "bench tester");
    CHECK(*readings.front().conditions.temperature_c == 21.5);

    const std::string slow = Workshop::shipped_folder("demo") + "/logs-to-import";
    for (const auto& entry : std::filesystem::directory_iterator(slow)) {
        auto by_the_minute = exchange::read_log(Temporary::read(entry.path().string()), "log").value();
        CHECK_FALSE(measure_resistance(by_the_minute.samples).dc_resistance_ohm);
    }
}
