#include "workshop/log_reading.h"

#include "exchange/text_file.h"

namespace ingot {

Result<LogReading> read_log_file(const std::string& path, const CapacityOptions& options,
                                 const std::function<bool(double)>& progress) {
    const auto text = exchange::read_text(path);
    if (!text)
        return text.problem();
    auto log = exchange::read_log(text.value(), path, progress);
    if (!log)
        return log.problem();
    LogReading out;
    out.log = std::move(log).value();
    out.capacity = measure_capacity(out.log.samples, options);
    LogSamples samples = out.log.samples; // may be turned while it is measured
    out.resistance = measure_resistance(samples);
    return out;
}

} // namespace ingot
