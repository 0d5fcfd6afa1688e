// A tester's log: `Test Time / s, Voltage / V, Current / A [, Temperature / degC]`, in any dialect of csv.h.
#pragma once

#include "core/measure/capacity.h"
#include "exchange/csv.h"
#include "exchange/log_shape.h"

#include <functional>
#include <string>
#include <vector>

namespace ingot::exchange {

struct ImportedLog {
    LogSamples samples;
    Dialect dialect;
    std::vector<std::string>
        understood; // columns as written in the file, in the order time, voltage, current, temperature
    std::vector<std::string> ignored;
    int lines = 0;
};

// `progress` is told the share done and may stop the import by returning false (problem "stopped").
// Problems: a missing column, a unit or number that is not understood, time that runs backwards, several channels, no
// samples.
[[nodiscard]] Result<ImportedLog> read_log(std::string_view text, const std::string& file,
                                           const std::function<bool(double)>& progress = {});

// The runs of a file that holds several: each channel of its own (a column channel, slot or bay), each run from where
// the time of its channel falls back. One run: as read_log gives it. `shape` says what the columns are; none: their
// names do.
struct LogPart {
    ImportedLog log;
    std::string channel; // as written; empty: the file has no such column
    int run = 1;         // of the channel
};
[[nodiscard]] Result<std::vector<LogPart>> read_log_parts(std::string_view text, const std::string& file,
                                                          const LogShape* shape = nullptr,
                                                          const std::function<bool(double)>& progress = {});

// The same columns, decimal points, line feeds.
[[nodiscard]] std::string write_log(const LogSamples& samples);

// The same samples with the columns of the open Battery Data Format (its names from memory): Test Time / s, Voltage /
// V, Current / A, Step Count / 1, Charging and Discharging Capacity / Ah of each step, Surface Temperature / degC.
[[nodiscard]] std::string write_battery_data(const LogSamples& samples);

} // namespace ingot::exchange
