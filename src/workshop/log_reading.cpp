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

Result<std::vector<LogRun>> read_log_runs(const std::string& path, const CapacityOptions& options,
                                          const std::map<std::string, std::string>& shapes,
                                          const std::function<bool(double)>& progress) {
    const auto text = exchange::read_text(path);
    if (!text)
        return text.problem();
    std::optional<exchange::LogShape> shape;
    if (const auto head = exchange::read_log_head(text.value(), path))
        if (const auto known = shapes.find(exchange::shape_key(head.value().header)); known != shapes.end())
            if (const auto read = exchange::read_log_shape(known->second))
                shape = read.value();
    auto parts = exchange::read_log_parts(text.value(), path, shape ? &*shape : nullptr, progress);
    if (!parts)
        return parts.problem();
    std::vector<LogRun> out;
    out.reserve(parts.value().size());
    for (exchange::LogPart& part : parts.value())
        out.push_back({measured(std::move(part.log), options), part.channel, part.run});
    return out;
}

} // namespace ingot
