// A tester's log read and measured, as it is previewed before it is recorded, and as a folder of logs is brought in.
#pragma once

#include "core/measure/capacity.h"
#include "core/measure/resistance.h"
#include "exchange/log_csv.h"

#include <functional>
#include <string>

namespace ingot {

struct LogReading {
    exchange::ImportedLog log;
    CapacityResult capacity;
    ResistanceResult resistance;
};

// `progress` gets the share that was read, 0 to 1; false stops, which is a problem too.
[[nodiscard]] Result<LogReading> read_log_file(const std::string& path, const CapacityOptions& options,
                                               const std::function<bool(double)>& progress = {});

} // namespace ingot
