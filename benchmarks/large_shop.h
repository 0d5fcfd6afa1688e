// A large shop for benchmarks and the tests of speed: written straight into the file, as years of work would have left
// it.
#pragma once

#include "exchange/text_file.h"
#include "store/connection.h"
#include "store/measurements.h"
#include "store/units.h"
#include "store/workshop_file.h"
#include "workshop/workshop.h"

#include <random>
#include <string>

namespace ingot::benchmarks {

// Units of two known models into a workshop that is there, each with so many rounds of readings (voltage, capacity, DC
// resistance, self-discharge). Their codes begin with `letter`.
inline void add_units(const std::string& path, int units, int rounds, const std::string& letter) {
    auto file = store::WorkshopFile::open(path).value();
    store::Units unit_rows(file->connection());
    store::Measurements measurements(file->connection());
    std::mt19937 random(5);
    std::normal_distribution<double> normal;
    constexpr int most_numbers = 9999;
    file->connection().together([&] {
        for (int i = 1; i <= units; ++i) {
            Unit unit;
            unit.code = {letter + (i <= most_numbers       ? "4"
                                   : i <= 2 * most_numbers ? "5"
                                                           : "6"),
                         (i - 1) % most_numbers + 1};
            unit.model = i % 3 == 0 ? "H30" : "H26";
            unit.tray = letter + "S" + std::to_string(i / 40);
            unit.well = i % 40 + 1;
            const Id id = unit_rows.add(unit, "2026-01-01");
            const double health = 0.82 + 0.07 * normal(random);
            for (int r = 0; r < rounds; ++r) {
                const std::string at =
                    "2026-01-" + std::string(r % 28 + 1 < 10 ? "0" : "") + std::to_string(r % 28 + 1);
                const auto add = [&](Quantity q, double v) {
                    Measurement m;
                    m.subject.unit = id;
                    m.quantity = q;
                    m.value = v;
                    m.taken_at = m.recorded_at = at;
                    measurements.add(m);
                };
                add(Quantity::voltage, 3.64 + 0.01 * normal(random));
                add(Quantity::capacity, 2.6 * health * (1 + 0.002 * normal(random)));
                add(Quantity::dc_resistance, 0.045 * (2 - health));
                add(Quantity::self_discharge, 0.0008);
            }
        }
    });
}

// A workshop of such units alone.
inline void make_large_shop(const std::string& path, int units, int rounds) {
    {
        const auto made = Workshop::create(path, "Large");
        const std::string models = Workshop::shipped_folder("demo") + "/models.toml";
        if (const auto text = exchange::read_text(models); made && text)
            (void)made.value()->catalogue().bring_in_models(text.value(), models);
    }
    add_units(path, units, rounds, "K");
}

} // namespace ingot::benchmarks
