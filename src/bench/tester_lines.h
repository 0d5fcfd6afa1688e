// What is said to a multi-bay tester and what it answers, as lines: docs/formats/tester.md. Pure text, shared with the
// simulated tester; a driver for another device has this face and other lines.
#pragma once

#include "core/cells/problem.h"
#include "core/measure/protocol.h"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace ingot::bench {

// Why a step ended. The first ones are meant, the others are limits and faults.
enum class StepEnd {
    none,     // it runs, or nothing has run
    tail,     // charge current fell to its end
    cutoff,   // discharge voltage reached
    minus_dv, // voltage fell from its peak
    rise,     // it warmed fast enough
    capacity, // the wanted amount was moved
    time,     // the wanted time has passed
    high_voltage,
    low_voltage,
    high_current,
    capacity_limit,
    hot,
    cold,
    time_limit,
    open, // the contact is lost
    reversed,
    stopped, // by the person
    alone,   // nobody spoke to the tester for as long as its watchdog waits
};
[[nodiscard]] const char* code(StepEnd end); // TAIL, CUTO, ...
[[nodiscard]] bool as_meant(StepEnd end);

struct TesterSample {
    int bay = 0; // from 1
    std::uint64_t sequence = 0;
    double time_s = 0; // of the tester's clock
    double voltage_v = 0, current_a = 0, temperature_c = 0;
    double moved_ah = 0;         // in this step
    StepEnd end = StepEnd::none; // of the step, on its last sample
};

enum class BayState { idle, running, done, stopped };
struct BayStatus {
    int bay = 0;
    BayState state = BayState::idle;
    ProtocolStepKind step = ProtocolStepKind::rest;
    StepEnd end = StepEnd::none;
    std::string tag; // what Ingot calls the run, kept by the tester
};

struct TesterIdentity {
    std::string maker, model, serial, version;
    [[nodiscard]] bool simulated() const { return model == "Simulated tester"; }
};

// Asking and telling. Each line gets one line back.
[[nodiscard]] std::string set_limits(int bay, const BayLimits& limits);
[[nodiscard]] std::string ask_limits(int bay);
[[nodiscard]] std::string ask_start(int bay, const BayStep& step, const std::string& tag, double sample_s);
[[nodiscard]] std::string ask_voltage(int bay);
[[nodiscard]] std::string set_watchdog(double seconds); // 0: none
[[nodiscard]] std::string ask_stop(int bay);
[[nodiscard]] std::string ask_samples(std::uint64_t after);

// Answers. Problems say what is rubbish about them.
[[nodiscard]] Result<TesterIdentity> read_identity(std::string_view line);
[[nodiscard]] Result<BayAbilities> read_abilities(std::string_view line);
[[nodiscard]] Result<BayLimits> read_limits(std::string_view line);
// Whether the tester watches what it was told to watch: equal to the digits it may round to.
[[nodiscard]] bool same_limits(const BayLimits& told, const BayLimits& read);
[[nodiscard]] Result<int> read_count(std::string_view line);
[[nodiscard]] Result<std::vector<TesterSample>> read_samples(std::string_view line);
[[nodiscard]] Result<std::vector<BayStatus>> read_statuses(std::string_view line);
// `0,"No error"`: nothing; else what the device says.
[[nodiscard]] Result<std::string> read_error(std::string_view line);
// One measured value; nothing when out of range (9.9E37).
[[nodiscard]] Result<std::optional<double>> read_measurement(std::string_view line);

// The same answers written, for the simulated tester.
[[nodiscard]] std::string write_samples(const std::vector<TesterSample>& samples);
[[nodiscard]] std::string write_statuses(const std::vector<BayStatus>& statuses);
[[nodiscard]] std::optional<StepEnd> end_from(std::string_view code);
[[nodiscard]] const char* tester_word(ProtocolStepKind kind); // CHAR, REST, DISC, PULS

} // namespace ingot::bench
