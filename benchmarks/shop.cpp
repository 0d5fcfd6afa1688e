// A shop of 20,000 units and 500,000 readings: how long each step holds up the window's thread, against the work of one
// reading in an empty shop in the same run. Prints each step; ends with 1 if one takes 100 ms or opening takes a
// second.
//   benchmark_shop [UNITS [ROUNDS]]
#include "large_shop.h"

#include "workshop/book.h"
#include "workshop/models/ledger_models.h"
#include "workshop/models/shop_models.h"
#include "workshop/populations.h"
#include "workshop/rest_due.h"
#include "workshop/stock.h"

#include <QCoreApplication>
#include <QElapsedTimer>

#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <functional>

int main(int argc, char** argv) {
    using namespace ingot;
    const QCoreApplication application(argc, argv);
    const int units = argc > 1 ? std::atoi(argv[1]) : 20'000;
    const int rounds = argc > 2 ? std::atoi(argv[2]) : 6; // of four readings each, and one more below: 500,000
    const std::filesystem::path folder = std::filesystem::temp_directory_path() / "ingot-benchmark-shop";
    std::filesystem::remove_all(folder);
    std::filesystem::create_directories(folder);
    const std::string path = (folder / "large.ingot").string();
    const std::string small = (folder / "small.ingot").string();
    benchmarks::make_large_shop(path, units, rounds);
    benchmarks::make_large_shop(small, 1, 1);
    QElapsedTimer clock;
    const auto ms = [&](const std::function<bool()>& step) {
        constexpr int tries = 5;
        double best = 1e9;
        double worst = 0;
        for (int i = 0; i < tries; ++i) {
            clock.start();
            if (!step())
                return std::pair{-1.0, -1.0};
            const double took = static_cast<double>(clock.nsecsElapsed()) / 1e6;
            best = std::min(best, took);
            worst = std::max(worst, took);
        }
        return std::pair{best, worst};
    };
    bool held = true;
    clock.start();
    auto shop = Workshop::open(path).value();
    const double opened = static_cast<double>(clock.nsecsElapsed()) / 1e6;
    std::printf("%d units, %lld readings: opened in %.0f ms\n", units,
                static_cast<long long>(shop->ledger().counts().measurements), opened);
    constexpr double a_second = 1000;
    held = held && opened < a_second;
    auto tiny = Workshop::open(small).value();
    const auto reading = [](Quantity quantity, double value) {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        return m;
    };
    const Id lone = tiny->units().front().record.id;
    const double reference =
        ms([&] { return tiny->test().record_reading(lone, reading(Quantity::voltage, 3.6)).ok(); }).first;
    std::printf("a reading in an empty shop: %.2f ms (the reference)\n", reference);
    const Id unit = shop->units()[static_cast<std::size_t>(units) / 2].record.id;
    const auto timed = [&](const char* what, const std::function<bool()>& step) {
        const auto [best, worst] = ms(step);
        std::printf("%-34s %8.2f ms, at worst %8.2f ms: %6.1f times the reference\n", what, best, worst,
                    best / reference);
        constexpr double limit = 100;
        held = held && best >= 0 && best < limit;
    };
    timed("a voltage", [&] { return shop->test().record_reading(unit, reading(Quantity::voltage, 3.61)).ok(); });
    timed("a capacity", [&] { return shop->test().record_reading(unit, reading(Quantity::capacity, 2.31)).ok(); });
    double leak = 0.0010;
    timed("a self-discharge",
          [&] { return shop->test().record_reading(unit, reading(Quantity::self_discharge, leak += 0.0001)).ok(); });
    timed("a reading struck out", [&] {
        for (const Measurement& m : shop->test().history(unit))
            if (m.struck_reason.empty())
                return shop->test().strike_reading(m.id, "slipped").ok();
        return false;
    });
    exchange::ImportedLog log;
    for (int i = 0; i <= 2000; ++i) {
        log.samples.time_s.push_back(i * 9.0);
        log.samples.voltage_v.push_back(4.1 - 1.1 * i / 2000);
        log.samples.current_a.push_back(-0.5);
    }
    const CapacityResult result = measure_capacity(log.samples);
    timed("a log of 2,000 samples",
          [&] { return shop->test().import_log(unit, log, result, "log.csv", "bench tester").ok(); });
    timed("a finding", [&] { return shop->receive().note_finding(0, unit, "rusted").ok(); });
    int tray = 0;
    timed("another tray", [&] { return shop->open().set_home(unit, "Z" + std::to_string(++tray), 1).ok(); });
    timed("another model", [&] { return shop->open().set_unit_model(unit, tray++ % 2 == 0 ? "no name" : "H26").ok(); });
    const Id lot = shop->receive().add_lot({0, "L", "", "", "", {}}).value();
    int number = 0;
    timed("a pack received and opened", [&] {
        Assembly pack;
        pack.lot = lot;
        pack.label = "P" + std::to_string(++number);
        pack.chemistry = "nmc";
        pack.layout = {7, 4, 1};
        const auto id = shop->receive().add_pack(pack);
        return id.ok() && shop->receive().set_state(id.value(), AssemblyState::to_open).ok() &&
               shop->open().open_pack(id.value(), "M1", "H26", "").ok();
    });
    // The Ledger's lists, while nothing and while something follows them.
    timed("the list of units made", [&] { return UnitsModel(*shop, nullptr).rowCount() > 0; });
    UnitsModel list(*shop, nullptr);
    RecordFilter filter(nullptr);
    filter.set_records(&list);
    int word = 0;
    timed("units searched, one more letter", [&] {
        filter.set_words(QString::fromStdString("K4-0" + std::to_string(word++ % 9)));
        return filter.rowCount() > 0;
    });
    timed("units sorted by capacity", [&] {
        filter.sort(UnitsModel::capacity, word++ % 2 == 0 ? Qt::AscendingOrder : Qt::DescendingOrder);
        return true;
    });
    MeasurementsModel measured(*shop, nullptr);
    timed("measurements searched by a label", [&] {
        measured.set_words(QString::fromStdString(shop->unit(unit)->code()));
        return measured.rowCount() > 0;
    });
    timed("one slice of all measurements", [&] {
        measured.set_words(QStringLiteral("capacity"));
        return measured.rowCount() > 0;
    });
    timed("a voltage, with the lists open",
          [&] { return shop->test().record_reading(unit, reading(Quantity::voltage, 3.61)).ok(); });
    // What the window gathers before a job works on it, and what it works out by itself.
    RuleSet stricter = shop->sort().rules();
    stricter.by_chemistry["default"][0].least_capacity += 0.01;
    timed("what a moved limit changes", [&] { return !shop->sort().moved_by(stricter).empty(); });
    timed("populations gathered", [&] { return !population_question(*shop).units.empty(); });
    timed("the shelf gathered", [&] { return !shop->rest().question().sets.empty(); });
    timed("stock and its care", [&] { return !stock_of(*shop).empty(); });
    timed("the shop's book", [&] { return shop_book(*shop).lots.size() < 1000; });
    timed("who gets what, gathered", [&] { return shop->match().allot_question(0.005).builds.empty(); });
    timed("packs in service", [&] { return shop->prove().field_visits().empty(); });
    const RestQuestion question = shop->rest().question();
    clock.start();
    const RestShelf shelf = RestService::judge(question);
    std::printf("%-34s %8.2f ms (a job)\n", "the shelf judged", static_cast<double>(clock.nsecsElapsed()) / 1e6);
    timed("the shelves by day", [&] { return due_board(*shop, shelf).days.size() == 2; });
    std::filesystem::remove_all(folder);
    return held ? 0 : 1;
}
