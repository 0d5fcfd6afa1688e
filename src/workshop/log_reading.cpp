#include "workshop/log_reading.h"

#include "exchange/text_file.h"

namespace ingot {

namespace {

LogReading measured(exchange::ImportedLog log, const CapacityOptions& options) {
    LogReading out;
    out.log = std::move(log);
    out.capacity = measure_capacity(out.log.samples, options);
    LogSamples samples = out.log.samples; // may be turned while it is measured
    out.resistance = measure_resistance(samples);
    return out;
}

} // namespace

Result<LogReading> read_log_file(const std::string& path, const CapacityOptions& options,
                                 const std::function<bool(double)>& progress) {
    const auto text = exchange::read_text(path);
    if (!text)
        return text.problem();
    auto log = exchange::read_log(text.value(), path, progress);
    if (!log)
        return log.problem();
    return measured(std::move(log).value(), options);
}

LogFile read_log_runs(const std::string& path, const CapacityOptions& options,
                      const std::map<std::string, std::string>& shapes, const std::function<bool(double)>& progress) {
    const auto text = exchange::read_text(path);
    if (!text)
        return {{}, text.problem()};
    exchange::LogHead head;
    std::optional<exchange::LogShape> shape;
    if (auto read = exchange::read_log_head(text.value(), path)) {
        head = std::move(read).value();
        if (const auto known = shapes.find(exchange::shape_key(head.header)); known != shapes.end())
            if (const auto kept = exchange::read_log_shape(known->second))
                shape = kept.value();
    }
    auto parts = exchange::read_log_parts(text.value(), path, shape ? &*shape : nullptr, progress);
    if (!parts)
        return {std::move(head), parts.problem()};
    std::vector<LogRun> runs;
    runs.reserve(parts.value().size());
    for (exchange::LogPart& part : parts.value())
        runs.push_back({measured(std::move(part.log), options), part.channel, part.run});
    return {std::move(head), std::move(runs)};
}

} // namespace ingot
