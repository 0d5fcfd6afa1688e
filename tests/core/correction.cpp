// Capacities brought to common conditions, against worked numbers of the handbooks' formulas.
#include "core/measure/correction.h"
#include "exchange/library_toml.h"

#include <catch2/catch.hpp>

using namespace ingot;

namespace {

const Chemistry& chemistry(const char* id) {
    static const exchange::Library data = exchange::read_library(INGOT_SOURCE_DIR "/data").value();
    return *data.chemistry(id);
}

} // namespace

// 1.600 Ah between 4.000 V (78.889 %) and 3.430 V (10.000 %) of the representative NMC curve: full 2.3226 Ah; both
// voltages wrong by 5 mV outward 2.2976, inward 2.3538 (worked by hand from the curve in data/ocv/nmc.csv).
TEST_CASE("correction: a discharge of part of the curve") {
    const auto full = to_full_window(1.600, 0, 4.000, 3.430, chemistry("nmc"));
    REQUIRE(full);
    CHECK(full->full_ah == Approx(2.3226).margin(0.0001));
    CHECK(full->charge_fraction == Approx(0.68889).margin(0.0001));
    CHECK(full->uncertainty_ah == Approx((2.3538 - 2.2976) / 2).margin(0.0002));
    // A pack of four in series reads the same.
    CHECK(to_full_window(1.600, 0, 16.000, 13.720, chemistry("nmc"), 4)->full_ah == Approx(full->full_ah));
    // Charged to 4.0, 4.1, 4.15 V only: 78.9, 90, 96 % of full (the same curve).
    for (const auto& [volts, share] : {std::pair{4.0, 0.789}, {4.1, 0.90}, {4.15, 0.96}})
        CHECK(to_full_window(1, 0, volts, chemistry("nmc").ocv.ocv_at(0), chemistry("nmc"))->charge_fraction ==
              Approx(share).margin(0.001));
    CHECK_FALSE(to_full_window(0.4, 0, 3.75, 3.65, chemistry("nmc"))); // under 40 %
    CHECK_FALSE(to_full_window(1.6, 0, 3.35, 3.0, chemistry("lfp")));  // the curve does not tell
    CHECK_FALSE(to_full_window(4.0, 0, 1.35, 1.1, chemistry("nimh")));
    CHECK(to_full_window(1.6, 0.02, 4.0, 3.43, chemistry("nmc"))->uncertainty_ah > full->uncertainty_ah);
}

// 5.9400 Ah at 22 degC, lambda 0.006 /K: 6.0489 Ah; 38.0 Ah at 15 degC: 40.426 Ah.
TEST_CASE("correction: lead-acid to 25 degC") {
    CHECK(*lead_acid_at_25(5.9400, 22, false) == Approx(6.0489).margin(0.0001));
    CHECK(*lead_acid_at_25(38.0, 15, false) == Approx(40.426).margin(0.001));
    CHECK_FALSE(lead_acid_at_25(38.0, 5, false));
    CHECK(*lead_acid_at_25(38.0, 20, true) > *lead_acid_at_25(38.0, 20, false));
}

// Peukert: 100 Ah at 20 h, k = 1.20, 20 A: 75.786 Ah; k = 1.10: 87.055 Ah; 2.50 Ah at 5 h, k = 1.03, 1.25 A: 0.9729.
TEST_CASE("correction: another rate by Peukert's law") {
    CHECK(at_another_rate(100, 20, 20, 1.20) == Approx(75.786).margin(0.001));
    CHECK(at_another_rate(100, 20, 20, 1.10) == Approx(87.055).margin(0.001));
    CHECK(at_another_rate(2.5, 5, 1.25, 1.03) / 2.5 == Approx(0.9729).margin(0.0001));
}

TEST_CASE("correction: which results are not to be compared, and why") {
    Conditions a;
    a.cutoff_v = 3.0;
    a.discharge_current_a = 0.5;
    a.charged_to_v = 4.2;
    a.temperature_c = 21;
    Conditions b = a;
    CHECK(incomparable(a, b).empty());
    b.cutoff_v = 2.5;
    b.discharge_current_a = 1.25;
    b.charged_to_v = 4.0;
    b.temperature_c = 5;
    CHECK(incomparable(a, b) == std::vector<Incomparable>{Incomparable::other_cutoff, Incomparable::other_rate,
                                                          Incomparable::other_charge, Incomparable::other_temperature});
    CHECK(incomparable(a, {}).empty()); // unknown objects to nothing
}
