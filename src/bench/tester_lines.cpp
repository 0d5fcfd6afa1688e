#include "bench/tester_lines.h"

#include "bench/scpi.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ingot::bench {

namespace {

constexpr std::array<const char*, 18> end_codes{"NONE", "TAIL", "CUTO", "NDV",  "RISE", "CAP",  "TIME", "HVOL", "LVOL",
                                                "HCUR", "LCAP", "HOT",  "COLD", "LTIM", "OPEN", "REV",  "USER", "WDOG"};
constexpr std::array<const char*, 4> state_codes{"IDLE", "RUN", "DONE", "STOP"};
constexpr std::array step_kinds{ProtocolStepKind::charge, ProtocolStepKind::rest, ProtocolStepKind::discharge,
                                ProtocolStepKind::pulse};
constexpr int most_bays = 1024;
constexpr double most_believed = 1e6;

Problem rubbish(const Sentence& what, std::string_view line) {
    constexpr std::size_t shown = 60;
    std::string text;
    for (const char c : line.substr(0, shown))
        text += static_cast<unsigned char>(c) < 0x20 || static_cast<unsigned char>(c) > 0x7E ? '?' : c;
    return {"", 0, said("{}: \"{}\"", what, text)};
}

// Numbers of a list of fields; nothing if one of them is none.
std::optional<std::vector<double>> numbers(const std::vector<std::string>& fields, std::size_t from,
                                           std::size_t count) {
    std::vector<double> out;
    if (fields.size() < from + count)
        return std::nullopt;
    out.reserve(count);
    for (std::size_t i = from; i < from + count; ++i) {
        const auto value = scpi_value(fields[i]);
        if (!value || !value.value() || std::fabs(*value.value()) > 1e15)
            return std::nullopt;
        out.push_back(*value.value());
    }
    return out;
}

bool whole(double value, double most) {
    return value >= 0 && value <= most && value == std::floor(value);
}

} // namespace

const char* code(StepEnd end) {
    return end_codes.at(static_cast<std::size_t>(end));
}

std::optional<StepEnd> end_from(std::string_view text) {
    const auto found = std::find(end_codes.begin(), end_codes.end(), text);
    if (found == end_codes.end())
        return std::nullopt;
    return static_cast<StepEnd>(found - end_codes.begin());
}

bool as_meant(StepEnd end) {
    return end >= StepEnd::tail && end <= StepEnd::time;
}

const char* tester_word(ProtocolStepKind kind) {
    switch (kind) {
    case ProtocolStepKind::charge:
        return "CHAR";
    case ProtocolStepKind::discharge:
        return "DISC";
    case ProtocolStepKind::pulse:
        return "PULS";
    case ProtocolStepKind::rest:
    case ProtocolStepKind::loop:
        break;
    }
    return "REST";
}

namespace {

std::string head_of(int bay) {
    return "BAY" + std::to_string(bay) + ":";
}

std::string list(std::initializer_list<std::optional<double>> values) {
    std::string out;
    for (const auto& value : values)
        out += (out.empty() ? " " : ",") + scpi_number(value);
    return out;
}

} // namespace

std::string set_limits(int bay, const BayLimits& limits) {
    return head_of(bay) + "LIM" +
           list({limits.high_v, limits.low_v, limits.current_a, limits.capacity_ah, limits.high_c, limits.low_c,
                 limits.hours}) +
           ";SYST:ERR?";
}

std::string ask_limits(int bay) {
    return head_of(bay) + "LIM?";
}

std::string ask_voltage(int bay) {
    return "MEAS:VOLT? " + std::to_string(bay);
}

std::string set_watchdog(double seconds) {
    return "SYST:WDOG" + list({seconds}) + ";SYST:ERR?";
}

std::string ask_start(int bay, const BayStep& step, const std::string& tag, double sample_s) {
    const std::string head = head_of(bay);
    std::string line = head + "TAG " + scpi_quoted(tag) + ";" + head + "SAMP" + list({sample_s}) + ";";
    line += head + tester_word(step.kind);
    switch (step.kind) {
    case ProtocolStepKind::charge:
        line += list({step.current_a, step.volts, step.tail_a, step.minus_dv, step.rise_k_per_min, step.capacity_ah,
                      step.hours});
        break;
    case ProtocolStepKind::discharge:
        line += list({-step.current_a, step.volts, step.capacity_ah, step.hours});
        break;
    case ProtocolStepKind::pulse:
        line += list({-step.current_a, -step.second_a});
        break;
    case ProtocolStepKind::rest:
    case ProtocolStepKind::loop:
        line += list({step.hours});
        break;
    }
    return line + ";SYST:ERR?";
}

std::string ask_stop(int bay) {
    return "BAY" + std::to_string(bay) + ":STOP;SYST:ERR?";
}

std::string ask_samples(std::uint64_t after) {
    return "DATA? " + std::to_string(after);
}

Result<TesterIdentity> read_identity(std::string_view line) {
    const auto fields = scpi_fields(line);
    if (fields.size() != 4 || fields[1].empty())
        return rubbish(said("not an identity"), line);
    return TesterIdentity{fields[0], fields[1], fields[2], fields[3]};
}

Result<BayAbilities> read_abilities(std::string_view line) {
    const auto fields = scpi_fields(line);
    const auto values = numbers(fields, 0, 4);
    if (!values || fields.size() != 4 || (*values)[0] <= 0 || (*values)[1] <= 0)
        return rubbish(said("not a list of abilities"), line);
    return BayAbilities{(*values)[0], (*values)[1], (*values)[2] != 0, (*values)[3] != 0};
}

Result<int> read_count(std::string_view line) {
    const auto value = scpi_value(line);
    if (!value || !value.value() || !whole(*value.value(), most_bays) || *value.value() < 1)
        return rubbish(said("not a number of bays"), line);
    return static_cast<int>(*value.value());
}

Result<std::vector<TesterSample>> read_samples(std::string_view line) {
    const auto parts = scpi_fields(line, ';');
    const auto count = scpi_value(parts.front());
    if (!count || !count.value() || !whole(*count.value(), 1e6) ||
        parts.size() != static_cast<std::size_t>(*count.value()) + 1)
        return rubbish(said("not a list of samples"), line);
    std::vector<TesterSample> out;
    out.reserve(parts.size() - 1);
    for (std::size_t i = 1; i < parts.size(); ++i) {
        const auto fields = scpi_fields(parts[i]);
        const auto v = numbers(fields, 0, 7);
        const auto end = fields.size() == 8 ? end_from(fields[7]) : std::nullopt;
        if (!v || !end || !whole((*v)[0], most_bays) || (*v)[0] < 1 || !whole((*v)[1], 1e15) || (*v)[2] < 0 ||
            std::any_of(v->begin() + 3, v->end(), [](double x) { return std::fabs(x) > most_believed; }))
            return rubbish(said("not a sample"), parts[i]);
        out.push_back({static_cast<int>((*v)[0]), static_cast<std::uint64_t>((*v)[1]), (*v)[2], (*v)[3], (*v)[4],
                       (*v)[5], (*v)[6], *end});
    }
    return out;
}

std::string write_samples(const std::vector<TesterSample>& samples) {
    std::string out = std::to_string(samples.size());
    for (const TesterSample& s : samples) {
        out += ";" + std::to_string(s.bay) + "," + std::to_string(s.sequence);
        for (const double value : {s.time_s, s.voltage_v, s.current_a, s.temperature_c, s.moved_ah})
            out += "," + scpi_number(value);
        out += std::string(",") + code(s.end);
    }
    return out;
}

Result<std::vector<BayStatus>> read_statuses(std::string_view line) {
    std::vector<BayStatus> out;
    // The tag may hold anything but a quote that is not doubled, so split by hand.
    std::string part;
    bool quoted = false;
    std::vector<std::string> parts;
    for (const char c : line) {
        if (c == '"')
            quoted = !quoted;
        if (c == ';' && !quoted) {
            parts.push_back(part);
            part.clear();
        } else {
            part += c;
        }
    }
    parts.push_back(part);
    for (const std::string& each : parts) {
        const auto fields = scpi_fields(each);
        const auto number = numbers(fields, 0, 1);
        if (fields.size() != 5 || !number || !whole((*number)[0], most_bays) || (*number)[0] < 1)
            return rubbish(said("not the state of a bay"), each);
        BayStatus status;
        status.bay = static_cast<int>((*number)[0]);
        const auto state = std::find(state_codes.begin(), state_codes.end(), fields[1]);
        const auto step = std::find_if(step_kinds.begin(), step_kinds.end(),
                                       [&](ProtocolStepKind k) { return fields[2] == tester_word(k); });
        const auto end = end_from(fields[3]);
        if (state == state_codes.end() || step == step_kinds.end() || !end)
            return rubbish(said("not the state of a bay"), each);
        status.state = static_cast<BayState>(state - state_codes.begin());
        status.step = *step;
        status.end = *end;
        status.tag = fields[4];
        out.push_back(std::move(status));
    }
    return out;
}

std::string write_statuses(const std::vector<BayStatus>& statuses) {
    std::string out;
    for (const BayStatus& s : statuses)
        out += (out.empty() ? "" : ";") + std::to_string(s.bay) + "," +
               state_codes.at(static_cast<std::size_t>(s.state)) + "," + tester_word(s.step) + "," + code(s.end) + "," +
               scpi_quoted(s.tag);
    return out;
}

Result<BayLimits> read_limits(std::string_view line) {
    constexpr std::size_t limit_count = 7;
    const auto n = numbers(scpi_fields(line), 0, limit_count);
    if (!n)
        return rubbish(said("not the limits of a bay"), line);
    return BayLimits{(*n)[0], (*n)[1], (*n)[2], (*n)[3], (*n)[4], (*n)[5], (*n)[6]};
}

bool same_limits(const BayLimits& told, const BayLimits& read) {
    constexpr double relative = 0.002;
    constexpr double absolute = 0.006;
    const auto same = [absolute, relative](double a, double b) {
        return std::fabs(a - b) <= std::max(absolute, relative * std::fabs(a));
    };
    return same(told.high_v, read.high_v) && same(told.low_v, read.low_v) && same(told.current_a, read.current_a) &&
           same(told.capacity_ah, read.capacity_ah) && same(told.high_c, read.high_c) && same(told.low_c, read.low_c) &&
           same(told.hours, read.hours);
}

Result<std::string> read_error(std::string_view line) {
    const auto fields = scpi_fields(line);
    const auto number = numbers(fields, 0, 1);
    if (fields.size() != 2 || !number)
        return rubbish(said("not an answer to a command"), line);
    return (*number)[0] == 0 ? std::string() : fields[1].empty() ? fields[0] : fields[1];
}

Result<std::optional<double>> read_measurement(std::string_view line) {
    const auto value = scpi_value(line);
    constexpr double overload = 9.0e36; // SCPI-99: 9.9E37 is over range
    if (!value)
        return rubbish(said("not a measured value"), line);
    if (value.value() && std::fabs(*value.value()) > overload)
        return std::optional<double>{};
    return value.value();
}

} // namespace ingot::bench
