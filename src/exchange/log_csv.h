// A tester's log: `Test Time / s, Voltage / V, Current / A [, Temperature / degC]`, in any dialect of csv.h.
#pragma once

#include "core/measure/capacity.h"
#include "exchange/csv.h"

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
// Problems: a missing column, a unit or number that is not understood, time that runs backwards, no samples.
[[nodiscard]] Result<ImportedLog> read_log(std::string_view text, const std::string& file,
                                           const std::function<bool(double)>& progress = {});

// The same columns, decimal points, line feeds.
[[nodiscard]] std::string write_log(const LogSamples& samples);

// The same samples with the columns of the open Battery Data Format (its names from memory): Test Time / s, Voltage /
// V, Current / A, Step Count / 1, Charging and Discharging Capacity / Ah of each step, Surface Temperature / degC.
[[nodiscard]] std::string write_battery_data(const LogSamples& samples);

} // namespace ingot::exchange
