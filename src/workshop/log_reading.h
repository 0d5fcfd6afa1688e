// A tester's log read and measured, as it is previewed before it is recorded, and as a folder of logs is brought in.
#pragma once

#include "core/measure/capacity.h"
#include "core/measure/resistance.h"
#include "exchange/log_csv.h"

#include <functional>
#include <map>
#include <string>
#include <vector>

namespace ingot {

struct LogReading {
    exchange::ImportedLog log;
    CapacityResult capacity;
    ResistanceResult resistance;
};

// `progress` gets the share that was read, 0 to 1; false stops, which is a problem too.
[[nodiscard]] Result<LogReading> read_log_file(const std::string& path, const CapacityOptions& options,
                                               const std::function<bool(double)>& progress = {});

// Every run of a file, each measured; its columns by their names, else as this shop said of files of these columns.
struct LogRun {
    LogReading reading;
    std::string channel; // empty: the file has none
    int run = 1;         // of the channel
};
struct LogFile {
    exchange::LogHead head; // empty: there is none to be read
    Result<std::vector<LogRun>> runs;
};
// `shapes`: what a shop said, by shape_key. Where the columns are not understood the problem is that of their names.
[[nodiscard]] LogFile read_log_runs(const std::string& path, const CapacityOptions& options,
                                    const std::map<std::string, std::string>& shapes,
                                    const std::function<bool(double)>& progress = {});

} // namespace ingot
