// Leakers told from sound units by their voltages at rest.
#include "core/measure/self_discharge.h"

#include "../benchmarks/resting_units.h"
#include "core/measure/regression.h"

#include <catch2/catch.hpp>
#include <gsl/gsl_cdf.h>
#include <gsl/gsl_fit.h>

#include <cmath>
#include <fstream>
#include <sstream>

using namespace ingot;

namespace {

constexpr double mv = 1e-3;

// y,x as NIST's Statistical Reference Datasets print them.
std::pair<std::vector<double>, std::vector<double>> reference_data(const std::string& name) {
    std::ifstream in(std::string(INGOT_SOURCE_DIR) + "/tests/reference/" + name);
    std::string line;
    std::getline(in, line);
    std::pair<std::vector<double>, std::vector<double>> out;
    while (std::getline(in, line)) {
        const auto comma = line.find(',');
        out.first.push_back(std::stod(line.substr(0, comma)));
        out.second.push_back(std::stod(line.substr(comma + 1)));
    }
    REQUIRE(out.first.size() > 10);
    return out;
}

Chemistry straight() { // 10 mV for 1 %
    Chemistry c;
    c.ocv = OcvCurve({0, 1}, {3.2, 4.2});
    return c;
}

RestingUnit unit_of(const std::vector<std::pair<double, double>>& day_and_volts) {
    RestingUnit unit;
    for (const auto& [day, volts] : day_and_volts)
        unit.readings.push_back({day * 24, volts});
    return unit;
}

std::vector<RestingUnit> units_of(const simulated::Tray& tray, double days) {
    std::vector<RestingUnit> out;
    for (const auto& cell : tray.cells) {
        RestingUnit unit;
        for (std::size_t i = 0; i < cell.time_h.size(); ++i)
            if (cell.time_h[i] <= days * 24)
                unit.readings.push_back({cell.time_h[i], cell.voltage_v[i]});
        out.push_back(std::move(unit));
    }
    return out;
}

} // namespace

TEST_CASE("Least squares gives NIST's certified values (V79, V80, V81)") {
    // NIST StRD Norris.
    const auto [y, x] = reference_data("strd-norris.csv");
    std::vector<std::vector<double>> rows;
    for (const double value : x)
        rows.push_back({1, value});
    const LeastSquares norris = least_squares(rows, y);
    CHECK(norris.coefficients[0] == Approx(-0.262323073774029).margin(1e-11));
    CHECK(norris.coefficients[1] == Approx(1.00211681802045).margin(1e-12));
    CHECK(norris.standard_errors[0] == Approx(0.232818234301152).margin(1e-11));
    CHECK(norris.standard_errors[1] == Approx(4.29796848199937e-04).margin(1e-14));
    CHECK(norris.residual_sd == Approx(0.884796396144373).margin(1e-11));
    CHECK(norris.residual_sum == Approx(26.6173985294224).epsilon(1e-11));
    CHECK(norris.degrees_of_freedom == 34);
    // NIST StRD Pontius: a parabola over numbers of millions.
    const auto [load_y, load] = reference_data("strd-pontius.csv");
    rows.clear();
    for (const double value : load)
        rows.push_back({1, value, value * value});
    const LeastSquares pontius = least_squares(rows, load_y);
    CHECK(pontius.coefficients[0] == Approx(6.73565789473684e-04).epsilon(1e-9));
    CHECK(pontius.coefficients[1] == Approx(7.32059160401003e-07).epsilon(1e-9));
    CHECK(pontius.coefficients[2] == Approx(-3.16081871345029e-15).epsilon(1e-7));
    CHECK(pontius.standard_errors[2] == Approx(4.86652849992036e-17).epsilon(1e-6));
    CHECK(pontius.residual_sd == Approx(2.05177424076185e-04).epsilon(1e-9));
    // NIST StRD NoInt1 and NoInt2: through the origin.
    rows.clear();
    std::vector<double> up;
    for (int i = 0; i <= 10; ++i) {
        rows.push_back({60.0 + i});
        up.push_back(130.0 + i);
    }
    CHECK(least_squares(rows, up).coefficients[0] == Approx(2.07438016528926).margin(1e-12));
    CHECK(least_squares(rows, up).standard_errors[0] == Approx(0.0165289256198347).margin(1e-12));
    CHECK(least_squares({{4}, {5}, {6}}, {3, 4, 4}).coefficients[0] == Approx(0.727272727272727).margin(1e-12));
    CHECK_THROWS_AS(least_squares({{1, 2}, {2, 4}, {3, 6}}, {1, 2, 3}), std::invalid_argument);
}

TEST_CASE("A settled unit: the drift of a straight line (V32), its interval beside the GNU Scientific Library's") {
    const std::vector<double> days = {7, 10, 14, 17, 21, 24, 28};
    const std::vector<double> volts = {4.1652, 4.1648, 4.1641, 4.1637, 4.1631, 4.1625, 4.1619};
    double c0 = 0;
    double c1 = 0;
    double v00 = 0;
    double v01 = 0;
    double v11 = 0;
    double sum = 0;
    gsl_fit_linear(days.data(), 1, volts.data(), 1, days.size(), &c0, &c1, &v00, &v01, &v11, &sum);
    CHECK(c1 / mv == Approx(-0.15819).margin(1e-5));
    const double half = gsl_cdf_tdist_Pinv(0.975, 5) * std::sqrt(v11);
    std::vector<std::vector<double>> rows;
    RestingUnit unit;
    for (std::size_t i = 0; i < days.size(); ++i) {
        rows.push_back({1, days[i]});
        unit.readings.push_back({days[i] * 24, volts[i]});
    }
    const LeastSquares line = least_squares(rows, volts);
    CHECK(line.coefficients[1] == Approx(c1).epsilon(1e-9));
    CHECK(line.standard_errors[1] == Approx(std::sqrt(v11)).epsilon(1e-9));
    unit.capacity_ah = 2.5;
    const LeakResult leak = judge_leaks({unit}, straight(), {0.3 * mv, 0.1 * mv}).front();
    CHECK(*leak.v_per_day / mv == Approx(0.158).margin(0.005));
    // A lone unit may still be relaxing, and its room is not known: wider than the straight line's, and around it.
    CHECK(*leak.low_v_per_day <= -c1 - half);
    CHECK(*leak.high_v_per_day >= -c1 + half);
    CHECK(leak.verdict == LeakVerdict::fit);
    CHECK_FALSE(leak.next_reading_h);
    CHECK(*leak.ah_per_day == Approx(*leak.v_per_day * 2.5));
}

TEST_CASE("Relaxation is not taken for a leak (V33, V34)") {
    RestingUnit unit; // 0.5 mV a day behind 10 mV that relax with 1.5 days, rounded to 0.1 mV
    for (int day = 0; day <= 14; ++day)
        unit.readings.push_back(
            {day * 24.0, std::round((4180 + 10 * std::exp(-day / 1.5) - 0.5 * day) * 10) / 10 * mv});
    const LeakResult leak = judge_leaks({unit}, straight(), {0.9 * mv, 0.1 * mv}).front();
    CHECK(*leak.low_v_per_day < 0.5 * mv);
    CHECK(*leak.high_v_per_day > 0.5 * mv);
    CHECK(*leak.v_per_day / mv == Approx(0.5).margin(0.05)); // a straight line through all would say 0.94
    CHECK(leak.verdict == LeakVerdict::fit);
}

TEST_CASE("mAh a day from the curve's slope, refused where it is flat (V9, V10); retention (V39)") {
    CHECK(*leak_ah_per_day(straight(), 3.9, 1, 0.5 * mv, 2.5) == Approx(1.25e-3));
    CHECK(*leak_ah_per_day(straight(), 7.8, 2, 1.0 * mv, 2.5) == Approx(1.25e-3)); // two in series
    Chemistry flat;
    flat.ocv = OcvCurve({0, 0.5, 0.55, 1}, {2.8, 3.295, 3.298, 3.42});
    CHECK_FALSE(leak_ah_per_day(flat, 3.2965, 1, 0.1 * mv, 6.0));
    const Retention kept = retention(2.50, 2.31, 2.47);
    CHECK(kept.retention == Approx(0.9240));
    CHECK(kept.recovery == Approx(0.9880));
    CHECK(kept.lost_for_good == Approx(0.0120));
    CHECK(kept.self_discharged == Approx(0.0640));
    CHECK_THROWS_AS(retention(0, 1, 1), std::invalid_argument);
}

TEST_CASE("What all siblings share is the room's: a swing of 0.8 mV hides no leak and makes none") {
    std::vector<RestingUnit> calm;
    std::vector<RestingUnit> swung;
    for (int u = 0; u < 8; ++u)
        for (auto* tray : {&calm, &swung}) {
            std::vector<std::pair<double, double>> readings;
            const double leak = u == 3 ? 1.5 : 0.1;
            for (int day = 1; day <= 12; ++day) {
                const double room = tray == &swung ? 0.2 * (day * 7 % 5 - 2) : 0.0;
                readings.emplace_back(day, std::round((4150 + u + room - leak * day) * 10) / 10 * mv);
            }
            tray->push_back(unit_of(readings));
        }
    for (const auto& tray : {calm, swung}) {
        const auto results = judge_leaks(tray, straight(), {0.5 * mv, 0.1 * mv});
        for (std::size_t u = 0; u < results.size(); ++u) {
            INFO(u);
            CHECK(results[u].verdict == (u == 3 ? LeakVerdict::leaking : LeakVerdict::fit));
        }
    }
}

TEST_CASE("A leak that starts late is seen, and from when") {
    std::vector<RestingUnit> tray;
    for (int u = 0; u < 8; ++u) {
        std::vector<std::pair<double, double>> readings;
        for (int day = 1; day <= 24; ++day)
            readings.emplace_back(day, (4150 - 0.05 * day - (u == 5 ? 1.2 * std::max(0, day - 12) : 0)) * mv +
                                           0.05 * mv * ((day * 13 + u * 7) % 5 - 2) / 2);
        tray.push_back(unit_of(readings));
    }
    const auto results = judge_leaks(tray, straight(), {0.5 * mv, 0.1 * mv});
    CHECK(results[5].verdict == LeakVerdict::leaking);
    CHECK(*results[5].v_per_day / mv == Approx(1.25).margin(0.1));
    CHECK(results[5].leaks_more_since_h == Approx(12 * 24).margin(25));
    CHECK(results[4].verdict == LeakVerdict::fit);
    CHECK(results[4].leaks_more_since_h == 0);
}

TEST_CASE("Too little to tell is undecided, with a time to read again after the last reading") {
    const Chemistry c = straight();
    const LeakRules rules{0.5 * mv, 1 * mv};
    const auto one = judge_leaks({unit_of({{1, 4.1}})}, c, rules).front();
    CHECK(one.verdict == LeakVerdict::undecided);
    CHECK_FALSE(one.v_per_day);
    CHECK(*one.next_reading_h > 24);
    const auto two = judge_leaks({unit_of({{1, 4.100}, {2, 4.099}})}, c, rules).front();
    CHECK(two.verdict == LeakVerdict::undecided);
    CHECK(*two.next_reading_h > 48);
    CHECK(judge_leaks({RestingUnit{}}, c, rules).front().verdict == LeakVerdict::undecided);
    CHECK_THROWS_AS(judge_leaks({}, c, {0, 1}), std::invalid_argument);
    // The order of readings and of units does not matter.
    const simulated::Tray tray = simulated::make_tray(simulated::TrayKind::mixed_lot, 5);
    auto units = units_of(tray, 20);
    const LeakRules fine{tray.limit_v_per_day, tray.resolution_v};
    const auto results = judge_leaks(units, c, fine);
    std::reverse(units.begin(), units.end());
    for (auto& unit : units)
        std::reverse(unit.readings.begin(), unit.readings.end());
    const auto turned = judge_leaks(units, c, fine);
    for (std::size_t u = 0; u < results.size(); ++u) {
        CHECK(turned[units.size() - 1 - u].verdict == results[u].verdict);
        CHECK(*turned[units.size() - 1 - u].v_per_day == Approx(*results[u].v_per_day).margin(1e-9));
    }
}

TEST_CASE("Trays of unlike make-up: few wrong verdicts, intervals that hold, a next reading that mostly decides") {
    int decided = 0;
    int wrong = 0;
    int covered = 0;
    int intervals = 0;
    int asked = 0;
    int then_decided = 0;
    for (int k = 0; k < simulated::tray_kinds; ++k)
        for (std::uint64_t seed = 501; seed < 505; ++seed) {
            const auto tray = simulated::make_tray(static_cast<simulated::TrayKind>(k), seed);
            const LeakRules rules{tray.limit_v_per_day, tray.resolution_v};
            const auto results = judge_leaks(units_of(tray, tray.days), straight(), rules);
            for (std::size_t c = 0; c < results.size(); ++c) {
                const double truth = tray.cells[c].leak_v_per_day;
                ++intervals;
                covered += *results[c].low_v_per_day <= truth && truth <= *results[c].high_v_per_day ? 1 : 0;
                if (results[c].verdict == LeakVerdict::undecided)
                    continue;
                ++decided;
                wrong += (results[c].verdict == LeakVerdict::leaking) != (truth > tray.limit_v_per_day) ? 1 : 0;
            }
            // After a few days some are open: is the reading that was asked for the one that decides?
            const double early = 5;
            const auto soon = judge_leaks(units_of(tray, early), straight(), rules);
            for (std::size_t c = 0; c < soon.size(); ++c)
                if (soon[c].next_reading_h) {
                    CHECK(*soon[c].next_reading_h > tray.cells[c].time_h.front());
                    ++asked;
                    const auto later = judge_leaks(units_of(tray, *soon[c].next_reading_h / 24 + 1), straight(), rules);
                    then_decided += later[c].verdict != LeakVerdict::undecided ? 1 : 0;
                }
        }
    CHECK(decided >= 380);
    CHECK(wrong <= 8); // 2 %
    CHECK(covered >= intervals * 88 / 100);
    REQUIRE(asked > 20);
    CHECK(2 * then_decided >= asked);
}

TEST_CASE("A judgement that nobody waits for any more ends wherever it is") {
    const auto tray = simulated::make_tray(static_cast<simulated::TrayKind>(0), 501);
    const auto units = units_of(tray, tray.days);
    const LeakRules rules{tray.limit_v_per_day, tray.resolution_v};
    int asked = 0;
    const auto whole = judge_leaks(units, straight(), rules, [&] {
        ++asked;
        return true;
    });
    const int all = asked;
    REQUIRE(all > 3 * static_cast<int>(units.size()));
    CHECK(whole.front().verdict == judge_leaks(units, straight(), rules).front().verdict);
    for (int most = 0; most < all; most += 7) {
        asked = 0;
        CHECK(judge_leaks(units, straight(), rules, [&] { return ++asked <= most; }).size() == units.size());
        CHECK(asked <= most + 6);
    }
}
