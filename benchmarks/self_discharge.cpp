// How soon and how surely leakers are told, on trays of unlike make-up, beside the plain rules "compare after 14 days"
// and "compare after 30 days". Usage: benchmark_self_discharge [TRAYS of each kind] [first seed]
#include "resting_units.h"

#include "core/measure/self_discharge.h"
#include "core/measure/statistics.h"

#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>

using namespace ingot;
using namespace simulated;

namespace {

struct Tally {
    int cells = 0, decided = 0, wrong = 0, began_later = 0, covered = 0, intervals = 0;
    int leakers = 0, leakers_found = 0;
    std::vector<double> days;
    double seconds = 0;
};
struct Rule {
    int decided = 0, wrong = 0;
};

Chemistry nmc() {
    Chemistry c;
    c.ocv = OcvCurve({0, 1}, {3.2, 4.2});
    return c;
}

// The readings up to a day.
std::vector<RestingUnit> up_to(const Tray& tray, double day) {
    std::vector<RestingUnit> out;
    for (const RestingCell& cell : tray.cells) {
        RestingUnit unit;
        for (std::size_t i = 0; i < cell.time_h.size(); ++i)
            if (cell.time_h[i] <= day * 24)
                unit.readings.push_back({cell.time_h[i], cell.voltage_v[i]});
        out.push_back(std::move(unit));
    }
    return out;
}

// What a sheet of paper does: the fall from the first reading to the first after so many days, against the limit.
void plain_rule(const Tray& tray, double days, Rule& rule) {
    for (const RestingCell& cell : tray.cells)
        for (std::size_t i = 1; i < cell.time_h.size(); ++i)
            if (cell.time_h[i] - cell.time_h[0] >= days * 24) {
                const double rate = (cell.voltage_v[0] - cell.voltage_v[i]) / ((cell.time_h[i] - cell.time_h[0]) / 24);
                ++rule.decided;
                rule.wrong += (rate > tray.limit_v_per_day) != (cell.leak_v_per_day > tray.limit_v_per_day) ? 1 : 0;
                break;
            }
}

} // namespace

int main(int argc, char** argv) {
    const int trays = argc > 1 ? std::atoi(argv[1]) : 25;
    const auto first = static_cast<std::uint64_t>(argc > 2 ? std::atoll(argv[2]) : 1);
    const Chemistry chemistry = nmc();
    std::printf("%-20s %6s %8s %7s %6s %9s %8s %8s %7s | %s\n", "trays", "cells", "decided", "wrong", "later",
                "covered", "days p50", "p90", "ms/tray", "plain rules wrong: 14 days, 30 days");
    for (int k = 0; k < tray_kinds; ++k) {
        Tally tally;
        Rule fortnight;
        Rule month;
        for (int t = 0; t < trays; ++t) {
            const Tray tray = make_tray(static_cast<TrayKind>(k), first + static_cast<std::uint64_t>(t));
            plain_rule(tray, 14, fortnight);
            plain_rule(tray, 30, month);
            const LeakRules rules{tray.limit_v_per_day, tray.resolution_v};
            std::vector<int> decided(tray.cells.size(), 0);
            // A look after each round of the first unit, as a bench would.
            for (const double hour : tray.cells[0].time_h) {
                const auto start = std::chrono::steady_clock::now();
                const auto results = judge_leaks(up_to(tray, hour / 24 + 0.05), chemistry, rules);
                tally.seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
                for (std::size_t c = 0; c < results.size(); ++c) {
                    if (decided[c] != 0 || results[c].verdict == LeakVerdict::undecided)
                        continue;
                    decided[c] = 1;
                    const bool leaks = tray.cells[c].leak_v_per_day > tray.limit_v_per_day;
                    ++tally.decided;
                    // A leak that had not begun when the unit was called sound is no fault of the judge's.
                    const bool later = leaks && tray.cells[c].leaks_from_day > hour / 24;
                    tally.began_later += later ? 1 : 0;
                    tally.wrong += !later && (results[c].verdict == LeakVerdict::leaking) != leaks ? 1 : 0;
                    tally.days.push_back(hour / 24);
                }
            }
            const auto all = judge_leaks(up_to(tray, tray.days), chemistry, rules);
            for (std::size_t c = 0; c < all.size(); ++c) {
                ++tally.cells;
                if (!all[c].low_v_per_day)
                    continue;
                ++tally.intervals;
                const double truth = tray.cells[c].leak_v_per_day;
                tally.covered += *all[c].low_v_per_day <= truth && truth <= *all[c].high_v_per_day ? 1 : 0;
            }
        }
        std::printf(
            "%-20s %6d %7.1f%% %6.2f%% %5.2f%% %8.1f%% %8.1f %8.1f %7.1f | %.2f%%, %.2f%%\n",
            name(static_cast<TrayKind>(k)), tally.cells, 100.0 * tally.decided / tally.cells,
            100.0 * tally.wrong / std::max(1, tally.decided), 100.0 * tally.began_later / std::max(1, tally.decided),
            100.0 * tally.covered / std::max(1, tally.intervals), quantile(tally.days, 0.5), quantile(tally.days, 0.9),
            1000 * tally.seconds / trays, 100.0 * fortnight.wrong / std::max(1, fortnight.decided),
            100.0 * month.wrong / std::max(1, month.decided));
    }
    return 0;
}
