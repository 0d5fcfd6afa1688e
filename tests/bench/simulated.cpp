// The simulated tester and its units: limits it watches by itself, faults, and a pulse against a circuit simulator.
#include "core/measure/capacity.h"
#include "core/measure/resistance.h"
#include "sim/tester.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <cstring>
#include <ngspice/sharedspice.h>

using namespace ingot;
using namespace ingot::bench;

namespace {

std::string limits(int bay, double high, double low, double amps, double ah, double hot) {
    return "BAY" + std::to_string(bay) + ":LIM " + scpi_number(high) + "," + scpi_number(low) + "," +
           scpi_number(amps) + "," + scpi_number(ah) + "," + scpi_number(hot) + ",0,12;";
}

const std::string none = ",9.91E37";

std::vector<TesterSample> run_to_the_end(sim::Tester& tester, double most_h = 30) {
    std::vector<TesterSample> all;
    for (double h = 0; h < most_h; h += 0.05) {
        tester.pass(180 / tester.rate());
        while (true) {
            const auto more = read_samples(*tester.answer(ask_samples(all.empty() ? 0 : all.back().sequence)));
            REQUIRE(more);
            all.insert(all.end(), more.value().begin(), more.value().end());
            if (more.value().empty())
                break;
        }
        if (read_statuses(*tester.answer("BAY:STAT?")).value()[0].state != BayState::running)
            break;
    }
    return all;
}

int quiet(char* /*text*/, int /*id*/, void* /*user*/) {
    return 0;
}
int quiet_exit(int /*status*/, NG_BOOL /*now*/, NG_BOOL /*quit*/, int /*id*/, void* /*user*/) {
    return 0;
}

} // namespace

TEST_CASE("simulated tester: nothing starts without limits; its answers are those of the protocol") {
    sim::Tester tester({4, 1, 100, 20, 10});
    CHECK(read_identity(*tester.answer("*IDN?")).value().simulated());
    CHECK(read_count(*tester.answer("SYST:BAYS?")).value() == 4);
    CHECK_FALSE(read_error(*tester.answer("BAY1:REST 1;SYST:ERR?")).value().empty());
    CHECK_FALSE(read_error(*tester.answer("FLY:AWAY;SYST:ERR?")).value().empty());
    CHECK(read_error(*tester.answer("SYST:ERR?")).value().empty());
    CHECK_FALSE(tester.answer("*CLS"));
    CHECK(*tester.answer("SYST:ECHO? 71234") == "71234");
    CHECK_FALSE(read_error(*tester.answer("*CLS;BAY1:LIM 4.2,3;BAY1:REST 1;SYST:ERR?")).value().empty());
    // An empty bay.
    CHECK(
        read_error(*tester.answer("*CLS;" + limits(2, 4.25, 2.5, 2, 4, 45) + "BAY2:REST 1;SYST:ERR?")).value().empty());
    tester.pass(1);
    CHECK(read_statuses(*tester.answer("BAY:STAT?")).value()[1].end == StepEnd::open);
}

TEST_CASE("simulated tester: a charge, its tail, and a discharge whose capacity integrates to the truth") {
    sim::Tester tester({1, 3, 1000, 20, 10});
    (void)tester.answer("SIM:LOAD 1,li,2.6,1,0.045,11,\"\"");
    REQUIRE(read_error(*tester.answer("*CLS;" + limits(1, 4.25, -0.1, 1.5, 3.4, 45) +
                                      "BAY1:SAMP 10;BAY1:CHAR 1.3,4.2,0.13" + none + none + none + none + ";SYST:ERR?"))
                .value()
                .empty());
    auto samples = run_to_the_end(tester);
    CHECK(samples.back().end == StepEnd::tail);
    CHECK(samples.back().voltage_v == Approx(4.2).margin(0.003));
    for (const auto& s : samples)
        CHECK(s.voltage_v < 4.203);
    const std::uint64_t after = samples.back().sequence;
    REQUIRE(read_error(*tester.answer("*CLS;" + limits(1, 4.25, 2.5, 1.5, 3.4, 60) + "BAY1:SAMP 10;BAY1:DISC 0.52,3.0" +
                                      none + none + ";SYST:ERR?"))
                .value()
                .empty());
    samples = run_to_the_end(tester);
    CHECK(samples.back().end == StepEnd::cutoff);
    LogSamples log;
    for (const auto& s : samples)
        if (s.sequence > after) {
            log.time_s.push_back(s.time_s);
            log.voltage_v.push_back(s.voltage_v);
            log.current_a.push_back(s.current_a);
        }
    const auto measured = measure_capacity(log, {3.01, {}, {}, 1, {}});
    REQUIRE(measured.discharge_capacity_ah);
    // From full to the cutoff is a little less than from full to nothing.
    CHECK(*measured.discharge_capacity_ah < tester.unit(1)->capacity_ah());
    CHECK(*measured.discharge_capacity_ah > 0.93 * tester.unit(1)->capacity_ah());
    CHECK(*measured.discharge_capacity_ah == Approx(samples.back().moved_ah).epsilon(0.002));
}

TEST_CASE("simulated tester: each fault ends as it would") {
    const auto ends_with = [](const char* kind, const char* fault, double rated, int cells, const std::string& start,
                              double high, double hot) {
        sim::Tester tester({1, 5, 1000, 20, 10});
        (void)tester.answer("SIM:LOAD 1," + std::string(kind) + "," + scpi_number(rated) + "," + std::to_string(cells) +
                            ",0.045,4," + scpi_quoted(fault));
        const auto error = read_error(*tester.answer("*CLS;" + limits(1, high, -0.1, 4, rated * 1.3, hot) +
                                                     "BAY1:SAMP 10;" + start + ";SYST:ERR?"));
        INFO(error.value());
        REQUIRE(error.value().empty());
        return run_to_the_end(tester).back().end;
    };
    const std::string charge = "BAY1:CHAR 1.3,4.2,0.13" + none + none + none + none;
    CHECK(ends_with("li", "", 2.6, 1, charge, 4.25, 45) == StepEnd::tail);
    CHECK(ends_with("li", "overheating", 2.6, 1, charge, 4.25, 45) == StepEnd::hot);
    CHECK(ends_with("li", "loose-clip", 2.6, 1, charge, 4.25, 45) == StepEnd::open);
    CHECK(ends_with("li", "reversed", 2.6, 1, charge, 4.25, 45) == StepEnd::reversed);
    // Full shows as a fall of the voltage (handbooks on nickel, from memory).
    CHECK(ends_with("ni", "", 6.5, 6, "BAY1:CHAR 3" + none + none + ",0.024" + none + none + none, 9.6, 55) ==
          StepEnd::minus_dv);
}

// The pulse of the simulated unit against ngspice: the same series resistance, slow pair and slope of its open voltage.
TEST_CASE("simulated unit: its pulse is the circuit's") {
    sim::UnitMake make;
    make.rated_ah = 2.6;
    make.new_ohm = 0.060;
    make.seed = 9;
    sim::Unit unit(make);
    const double open = unit.open_volts();
    const double step_s = 0.02;
    std::vector<double> volts;
    const auto amperes = [](double t) { return t < 10 ? -0.52 : t < 11 ? -2.6 : 0.0; };
    const double slope_before = unit.open_volts();
    for (double t = 0; t < 15; t += step_s) {
        unit.advance(step_s, amperes(t));
        volts.push_back(unit.volts(amperes(t)));
    }
    const double moved_as = 0.52 * 10 + 2.6;
    const double bulk_farad = moved_as / (slope_before - unit.open_volts()); // charge by volt
    char r0[64];
    char r1[64];
    char c1[64];
    char cb[64];
    std::snprintf(r0, sizeof r0, "r0 n1 term %.9g", unit.ohm());
    std::snprintf(r1, sizeof r1, "r1 n2 n1 %.9g", unit.slow_ohm());
    std::snprintf(c1, sizeof c1, "c1 n2 n1 %.9g ic=0", unit.slow_s() / unit.slow_ohm());
    std::snprintf(cb, sizeof cb, "cb n2 0 %.9g ic=%.9g", bulk_farad, open);
    const char* circuit[] = {"pulse of a cell",
                             cb,
                             r1,
                             c1,
                             r0,
                             "i1 term 0 pwl(0 0.52 9.99 0.52 10 2.6 10.99 2.6 11 0 15 0)",
                             ".tran 0.02 15 0 0.02 uic",
                             ".end",
                             nullptr};
    REQUIRE(ngSpice_Init(quiet, quiet, quiet_exit, nullptr, nullptr, nullptr, nullptr) == 0);
    std::vector<char*> lines;
    for (const char* line : circuit)
        lines.push_back(line == nullptr ? nullptr : ::strdup(line));
    REQUIRE(ngSpice_Circ(lines.data()) == 0);
    REQUIRE(ngSpice_Command(const_cast<char*>("run")) == 0);
    // Each call overwrites what the one before has returned.
    const auto vector_of = [](const char* name) {
        const pvector_info info = ngGet_Vec_Info(const_cast<char*>(name));
        REQUIRE(info != nullptr);
        return std::vector<double>(info->v_realdata, info->v_realdata + info->v_length);
    };
    const std::vector<double> times = vector_of("time");
    const std::vector<double> terminal = vector_of("term");
    const auto spice_at = [&](double t) {
        std::size_t i = 1;
        while (i + 1 < times.size() && times[i] < t)
            ++i;
        return terminal[i - 1] + (terminal[i] - terminal[i - 1]) * (t - times[i - 1]) / (times[i] - times[i - 1]);
    };
    for (const double t : {0.5, 5.0, 9.9, 10.5, 10.9, 12.0, 14.5}) {
        INFO(t);
        CHECK(volts[static_cast<std::size_t>(std::lround(t / step_s)) - 1] == Approx(spice_at(t)).margin(0.0015));
    }
    // And Ingot reads the resistance that the circuit has after a second.
    LogSamples log;
    for (std::size_t i = 0; i < volts.size(); i += 5) {
        log.time_s.push_back(static_cast<double>(i + 1) * step_s);
        log.voltage_v.push_back(volts[i]);
        log.current_a.push_back(amperes(static_cast<double>(i) * step_s));
    }
    const auto measured = measure_resistance(log);
    CHECK(measured.method == ResistanceMethod::two_level_pulse);
    CHECK(*measured.dc_resistance_ohm == Approx((spice_at(9.95) - spice_at(10.95)) / 2.08).epsilon(0.03));
    for (char* line : lines)
        ::free(line);
}

TEST_CASE("simulated tester: what it remembers has an end, and the numbers show the hole") {
    sim::Tester tester({1, 1, 1, 20, 10});
    (void)tester.answer("SIM:LOAD 1,li,2.6,1,0.045,1,\"\"");
    (void)tester.answer(limits(1, 4.25, 2.5, 2, 4, 45) + "BAY1:SAMP 0.1;BAY1:REST 20");
    for (int n = 0; n < 60'000; ++n)
        tester.pass(1);
    const auto first = read_samples(*tester.answer(ask_samples(0)));
    CHECK(first.value().size() == 400);
    CHECK(first.value().front().sequence >= 1);
}

TEST_CASE("simulated tester: what keeps a real one from being perfect shows as it would") {
    const auto make = [](int bays, const sim::Imperfections& imperfect) {
        sim::TesterMake out{bays, 5, 1000, 20, 10};
        out.imperfect = imperfect;
        return out;
    };
    const auto begin = [](sim::Tester& tester, int bay, const std::string& step, double hot = 60) {
        (void)tester.answer("SIM:LOAD " + std::to_string(bay) + ",li,2.6,1,0.045,11,\"\",3.7");
        INFO(step);
        REQUIRE(read_error(*tester.answer("*CLS;" + limits(bay, 4.25, 2.5, 6, 3.4, hot) + "BAY" + std::to_string(bay) +
                                          ":SAMP 10;BAY" + std::to_string(bay) + step + ";SYST:ERR?"))
                    .value()
                    .empty());
    };
    const std::string discharge = ":DISC 1,2.8" + none + none;
    const auto samples = [](sim::Tester& tester) { return read_samples(*tester.answer("DATA? 0")).value(); };
    SECTION("clips and leads are measured with the unit") {
        sim::Tester good(make(1, {}));
        sim::Imperfections leads;
        leads.contact_ohm = 0.1;
        sim::Tester poor(make(1, leads));
        begin(good, 1, discharge);
        begin(poor, 1, discharge);
        good.pass(0.1);
        poor.pass(0.1);
        CHECK(samples(good).front().voltage_v - samples(poor).front().voltage_v == Approx(0.1).margin(0.004));
    }
    SECTION("a gain of its amperes is a gain of the charge that it counts") {
        sim::Imperfections off;
        off.amperes_gain = 0.02;
        off.volts_gain = 0.01;
        sim::Tester good(make(1, {}));
        sim::Tester poor(make(1, off));
        begin(good, 1, discharge);
        begin(poor, 1, discharge);
        CHECK(samples(poor).empty());
        good.pass(0.5);
        poor.pass(0.5);
        CHECK(samples(poor).back().moved_ah == Approx(samples(good).back().moved_ah * 1.02).epsilon(0.001));
        CHECK(samples(poor).back().current_a == Approx(samples(good).back().current_a * 1.02).epsilon(0.005));
        CHECK(samples(poor).back().voltage_v == Approx(samples(good).back().voltage_v * 1.01).epsilon(0.002));
    }
    SECTION("a unit stands in its neighbours' warmth") {
        sim::Imperfections close;
        close.neighbour_share = 0.6;
        for (const bool near : {false, true}) {
            sim::Tester tester(make(3, near ? close : sim::Imperfections{}));
            begin(tester, 1, ":DISC 5,2.8" + none + none, 80);
            begin(tester, 3, ":DISC 5,2.8" + none + none, 80);
            begin(tester, 2, ":REST 1");
            tester.pass(0.6);
            const double warmed = tester.unit(2)->temperature_c() - tester.unit(2)->room_c();
            CHECK((near ? warmed > 1 : warmed < 0.05));
            CHECK(warmed < tester.unit(1)->temperature_c() - tester.unit(1)->room_c());
        }
    }
    SECTION("charging bays share the supply") {
        sim::Imperfections small;
        small.supply_a = 3;
        sim::Tester tester(make(3, small));
        for (int bay = 1; bay <= 3; ++bay)
            begin(tester, bay, ":CHAR 2,4.2,0.1" + none + none + none + none);
        tester.pass(0.1);
        double together = 0;
        for (const auto& s : samples(tester))
            if (s.sequence > 3) { // the first ones are of before they shared
                CHECK(s.current_a == Approx(1).margin(0.01));
                together = std::max(together, s.current_a * 3);
            }
        CHECK(together <= 3.05);
    }
    SECTION("bytes are dropped, so many of a thousand") {
        sim::Imperfections noisy;
        noisy.drop_rate = 0.01;
        sim::Tester tester(make(1, noisy));
        const std::string sent(20'000, 'x');
        const auto lost = sent.size() - tester.through_the_line(sent).size();
        CHECK(lost > 130);
        CHECK(lost < 270);
    }
}
