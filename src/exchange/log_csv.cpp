#include "exchange/log_csv.h"

#include "exchange/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace ingot::exchange {

Result<ImportedLog> read_log(std::string_view text, const std::string& file,
                             const std::function<bool(double)>& progress) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column time{
        "Test Time / s", Dimension::second, {"test time", "time", "elapsed time", "total time"}, true, {}, 1, {}};
    Column voltage{"Voltage / V", Dimension::volt, {"voltage", "u", "cell voltage"}, true, {}, 1, {}};
    Column current{"Current / A", Dimension::ampere, {"current", "i"}, true, {}, 1, {}};
    Column temperature{"Temperature / degC",
                       Dimension::celsius,
                       {"temperature", "cell temperature", "surface temperature", "ambient temperature"},
                       false,
                       {},
                       1,
                       {}};
    Column step{"Step", Dimension::text, {"step", "step index", "step id", "step number", "step count"}, false, {}, 1,
                {}};
    allow_written_times(text, reader, time);
    // A log may carry several temperatures; the first counts.
    if (const auto found = find_columns(reader, {&time, &voltage, &current, &step}); !found)
        return found.problem();
    for (std::size_t i = 0; i < reader.header().size() && !temperature.index; ++i) {
        const ColumnName name = parse_column(reader.header()[i]);
        if (std::find(temperature.names.begin(), temperature.names.end(), name.name) != temperature.names.end() &&
            unit_factor(Dimension::celsius, name.unit)) {
            temperature.index = i;
            temperature.header = reader.header()[i];
        }
    }
    ImportedLog log;
    for (const Column* column : {&time, &voltage, &current, &temperature, &step})
        if (column->index)
            log.understood.push_back(column->header);
    for (const std::string& name : reader.header())
        if (std::find(log.understood.begin(), log.understood.end(), name) == log.understood.end())
            log.ignored.push_back(name);

    LogSamples& samples = log.samples;
    constexpr std::size_t bytes_a_row = 24;
    const std::size_t expected = text.size() / bytes_a_row + 1;
    samples.time_s.reserve(expected);
    samples.voltage_v.reserve(expected);
    samples.current_a.reserve(expected);
    if (temperature.index)
        samples.temperature_c.reserve(expected);
    std::string step_label;
    std::vector<std::string_view> fields;
    constexpr std::size_t rows_a_report = 20'000;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            break;
        double values[3] = {0, 0, 0};
        const Column* const needed[3] = {&time, &voltage, &current};
        for (int i = 0; i < 3; ++i) {
            if (const auto clock = i == 0 ? written_time(fields[*time.index]) : std::nullopt) {
                values[0] = *clock;
                continue;
            }
            const auto value = number_in(reader, fields, *needed[i]);
            if (!value)
                return value.problem();
            if (!value.value())
                return reader.problem(
                    said("\"{}\" is blank. A sample needs time, voltage and current.", needed[i]->header));
            values[i] = *value.value();
        }
        if (!samples.time_s.empty() && values[0] < samples.time_s.back())
            return reader.problem(
                said("time runs backwards, from {} s to {} s. A log must run forward; cut it into one file a run.",
                     samples.time_s.back(), values[0]));
        samples.time_s.push_back(values[0]);
        samples.voltage_v.push_back(values[1]);
        samples.current_a.push_back(values[2]);
        if (step.index) {
            const std::string_view label = fields[*step.index];
            if (samples.step.empty())
                samples.step.push_back(1);
            else
                samples.step.push_back(samples.step.back() + (label == step_label ? 0 : 1));
            step_label = label;
        }
        if (temperature.index) {
            const auto value = number_in(reader, fields, temperature);
            if (!value)
                return value.problem();
            samples.temperature_c.push_back(value.value().value_or(std::numeric_limits<double>::quiet_NaN()));
        }
        if (progress && samples.size() % rows_a_report == 0 &&
            !progress(1.0 - static_cast<double>(reader.bytes_left()) / static_cast<double>(text.size())))
            return Problem{file, 0, said("stopped; nothing was imported.")};
    }
    if (samples.size() == 0)
        return reader.problem(said("there is a header but no samples. Export the log again."));
    log.dialect = reader.dialect();
    log.lines = reader.line();
    return log;
}

std::string write_log(const LogSamples& samples) {
    const bool warm = !samples.temperature_c.empty();
    std::string out =
        warm ? "Test Time / s,Voltage / V,Current / A,Temperature / degC\n" : "Test Time / s,Voltage / V,Current / A\n";
    for (std::size_t i = 0; i < samples.size(); ++i) {
        fmt::format_to(std::back_inserter(out), "{},{},{}", samples.time_s[i], samples.voltage_v[i],
                       samples.current_a[i]);
        if (warm) {
            out += ',';
            if (std::isfinite(samples.temperature_c[i]))
                fmt::format_to(std::back_inserter(out), "{}", samples.temperature_c[i]);
        }
        out += '\n';
    }
    return out;
}

std::string write_battery_data(const LogSamples& samples) {
    LogSamples copy = samples;
    const CapacityResult result = measure_capacity(copy);
    const bool warm = !samples.temperature_c.empty();
    std::string out =
        "Test Time / s,Voltage / V,Current / A,Step Count / 1,Charging Capacity / Ah,Discharging Capacity / Ah";
    out += warm ? ",Surface Temperature / degC\n" : "\n";
    std::size_t step = 0;
    double charged = 0;
    double discharged = 0;
    for (std::size_t i = 0; i < copy.size(); ++i) {
        while (step + 1 < result.steps.size() && i > result.steps[step].last) {
            ++step;
            charged = discharged = 0;
        }
        if (i > 0 && (result.steps.empty() || i > result.steps[step].first)) {
            const double moved = 0.5 * (copy.current_a[i] + copy.current_a[i - 1]) *
                                 (copy.time_s[i] - copy.time_s[i - 1]) / seconds_per_hour;
            (moved > 0 ? charged : discharged) += moved > 0 ? moved : -moved;
        }
        out += csv_number(copy.time_s[i]) + "," + csv_number(copy.voltage_v[i]) + "," + csv_number(copy.current_a[i]) +
               "," + std::to_string(step + 1) + "," + csv_number(charged) + "," + csv_number(discharged);
        if (warm)
            out += "," + csv_number(copy.temperature_c[i]);
        out += "\n";
    }
    return out;
}

} // namespace ingot::exchange
