// Import of a 1,000,000-row log (parse, steps, commit, read back) against `sqlite3 .import` of the same file in the
// same run. Prints the ratio; ends with 1 if it is over 2.
#include "core/measure/capacity.h"
#include "exchange/log_csv.h"
#include "exchange/text_file.h"
#include "store/connection.h"
#include "store/runs.h"
#include "store/units.h"
#include "store/workshop_file.h"

#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <string>

namespace {

using namespace ingot;
using Clock = std::chrono::steady_clock;
double seconds_since(Clock::time_point start) {
    return std::chrono::duration<double>(Clock::now() - start).count();
}

LogSamples million() {
    LogSamples log;
    constexpr int rows = 1'000'000;
    for (int i = 0; i < rows; ++i) {
        const double phase = i % 100'000 / 100'000.0;
        const bool charge = i / 100'000 % 2 == 0;
        log.time_s.push_back(i);
        log.voltage_v.push_back(std::round((charge ? 3.0 + 1.2 * phase : 4.2 - 1.2 * phase) * 1e4) / 1e4);
        log.current_a.push_back(std::round((charge ? 1.0 : -0.5) * 1e4 + i % 7) / 1e4);
        log.temperature_c.push_back(std::round((20 + 3 * phase) * 10) / 10);
    }
    return log;
}

} // namespace

int main() {
    namespace fs = std::filesystem;
    const fs::path folder = fs::temp_directory_path() / "ingot-benchmark-import";
    fs::remove_all(folder);
    fs::create_directories(folder);
    const std::string csv = (folder / "log.csv").string();
    if (!exchange::write_text(csv, exchange::write_log(million())))
        return 2;
    double best_ingot = 1e9;
    double best_sqlite = 1e9;
    for (int run = 0; run < 3; ++run) {
        const std::string workshop = (folder / ("w" + std::to_string(run) + ".ingot")).string();
        auto file = store::WorkshopFile::create(workshop).value();
        store::Units units(file->connection());
        store::Runs runs(file->connection());
        Unit fresh;
        fresh.code = {"K4", 1};
        fresh.model = "H26";
        const auto unit = units.add(fresh, "now");
        auto start = Clock::now();
        const auto text = exchange::read_text(csv);
        auto log = exchange::read_log(text.value(), csv).value();
        const auto result = measure_capacity(log.samples);
        Run header;
        header.unit = unit;
        header.file = csv;
        header.recorded_at = "now";
        const auto id = runs.add(header, log.samples);
        const LogSamples back = runs.samples_of(id);
        best_ingot = std::min(best_ingot, seconds_since(start));
        if (back.voltage_v != log.samples.voltage_v || result.steps.size() != 10)
            return 3;
        start = Clock::now();
        const std::string command = "sqlite3 " + (folder / ("s" + std::to_string(run) + ".db")).string() +
                                    " '.mode csv' '.import " + csv + " log'";
        if (std::system(command.c_str()) != 0)
            return 4;
        best_sqlite = std::min(best_sqlite, seconds_since(start));
    }
    fs::remove_all(folder);
    std::printf("1,000,000 rows: Ingot %.2f s, sqlite3 .import %.2f s, ratio %.2f (hold: 2)\n", best_ingot, best_sqlite,
                best_ingot / best_sqlite);
    return best_ingot / best_sqlite <= 2 ? 0 : 1;
}
