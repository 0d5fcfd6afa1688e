#include "exchange/log_csv.h"

#include "exchange/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <map>

namespace ingot::exchange {

namespace {

// The columns of a log, as their names or a person say.
class TesterColumns {
public:
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
    Column channel{"Channel", Dimension::text, {"channel", "channel number", "slot", "bay"}, false, {}, 1, {}};

    [[nodiscard]] std::optional<Problem> find(std::string_view text, const CsvReader& reader) {
        allow_written_times(text, reader, time);
        if (const auto found = find_columns(reader, {&time, &voltage, &current, &step}); !found)
            return found.problem();
        // A log may carry several temperatures, or a channel and a slot; the first counts.
        for (Column* column : {&temperature, &channel})
            for (std::size_t i = 0; i < reader.header().size() && !column->index; ++i) {
                const ColumnName name = parse_column(reader.header()[i]);
                if (std::find(column->names.begin(), column->names.end(), name.name) != column->names.end() &&
                    unit_factor(column->dimension, name.unit)) {
                    column->index = i;
                    column->header = reader.header()[i];
                }
            }
        return std::nullopt;
    }

    [[nodiscard]] std::optional<Problem> take(const LogShape& shape, const CsvReader& reader) {
        Column* const of[] = {&time, &voltage, &current, &temperature, &step, &channel};
        for (const LogColumn& said_column : shape.columns) {
            Column& column = *of[static_cast<std::size_t>(said_column.quantity)];
            const auto at = std::find(reader.header().begin(), reader.header().end(), said_column.header);
            if (at == reader.header().end())
                return reader.problem(said("column \"{}\" is missing. The header has: {}.", said_column.header,
                                           fmt::format("{}", fmt::join(reader.header(), ", "))));
            column.index = static_cast<std::size_t>(at - reader.header().begin());
            column.header = *at;
            column.factor = unit_factor(column.dimension, said_column.unit).value_or(1);
        }
        return std::nullopt;
    }

    void tell(const CsvReader& reader, ImportedLog& log) const {
        for (const Column* column : {&time, &voltage, &current, &temperature, &step, &channel})
            if (column->index)
                log.understood.push_back(column->header);
        for (const std::string& name : reader.header())
            if (std::find(log.understood.begin(), log.understood.end(), name) == log.understood.end())
                log.ignored.push_back(name);
        log.dialect = reader.dialect();
        log.lines = reader.line();
    }
};

// The part that a channel is writing on.
struct Writing {
    std::size_t part = 0;
    std::string step_label;
};

class LogReader {
public:
    LogReader(std::string_view text, std::string file, const std::function<bool(double)>& progress, bool several)
        : text_(text), file_(std::move(file)), progress_(progress), several_(several) {}

    Result<std::vector<LogPart>> read(const LogShape* shape) {
        auto opened = CsvReader::open(text_, file_);
        if (!opened)
            return opened.problem();
        CsvReader& reader = opened.value();
        if (auto wrong = shape != nullptr ? columns_.take(*shape, reader) : columns_.find(text_, reader))
            return *wrong;
        std::vector<std::string_view> fields;
        constexpr std::size_t rows_a_report = 20'000;
        for (std::size_t rows = 1;; ++rows) {
            const auto more = reader.next(fields);
            if (!more)
                return more.problem();
            if (!more.value())
                break;
            if (auto wrong = add(reader, fields))
                return *wrong;
            if (progress_ && rows % rows_a_report == 0 &&
                !progress_(1.0 - static_cast<double>(reader.bytes_left()) / static_cast<double>(text_.size())))
                return Problem{file_, 0, said("stopped; nothing was imported.")};
        }
        if (parts_.empty())
            return reader.problem(said("there is a header but no samples. Export the log again."));
        for (LogPart& part : parts_)
            columns_.tell(reader, part.log);
        return std::move(parts_);
    }

private:
    [[nodiscard]] std::optional<Problem> add(CsvReader& reader, const std::vector<std::string_view>& fields) {
        double values[3] = {0, 0, 0};
        const Column* const needed[3] = {&columns_.time, &columns_.voltage, &columns_.current};
        for (int i = 0; i < 3; ++i) {
            if (const auto clock = i == 0 ? written_time(fields[*columns_.time.index]) : std::nullopt) {
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
        const std::string channel = text_in(fields, columns_.channel);
        auto [at, is_new] = writing_.try_emplace(channel);
        if (is_new && !parts_.empty() && !several_)
            return reader.problem(said("this is channel {}, the rows before were channel {}. A log holds one; cut it "
                                       "into one file a channel.",
                                       channel, parts_.back().channel));
        Writing& on = at->second;
        const bool back = !is_new && values[0] < parts_[on.part].log.samples.time_s.back();
        if (back && !several_)
            return reader.problem(
                said("time runs backwards, from {} s to {} s. A log must run forward; cut it into one file a run.",
                     parts_[on.part].log.samples.time_s.back(), values[0]));
        if (is_new || back) {
            const int run = is_new ? 1 : parts_[on.part].run + 1;
            constexpr std::size_t most_parts = 500;
            if (parts_.size() >= most_parts)
                return reader.problem(
                    said("the file falls into more than {} runs: is this column a time?", most_parts));
            on = {parts_.size(), {}};
            parts_.push_back({{}, channel, run});
            reserve(parts_.back().log.samples);
        }
        LogSamples& samples = parts_[on.part].log.samples;
        samples.time_s.push_back(values[0]);
        samples.voltage_v.push_back(values[1]);
        samples.current_a.push_back(values[2]);
        if (columns_.step.index) {
            const std::string_view label = fields[*columns_.step.index];
            samples.step.push_back(samples.step.empty() ? 1 : samples.step.back() + (label == on.step_label ? 0 : 1));
            on.step_label = label;
        }
        if (columns_.temperature.index) {
            const auto value = number_in(reader, fields, columns_.temperature);
            if (!value)
                return value.problem();
            samples.temperature_c.push_back(value.value().value_or(std::numeric_limits<double>::quiet_NaN()));
        }
        return std::nullopt;
    }

    void reserve(LogSamples& samples) const {
        if (columns_.channel.index || parts_.size() > 1) // of unknown length
            return;
        constexpr std::size_t bytes_a_row = 24;
        const std::size_t expected = text_.size() / bytes_a_row + 1;
        samples.time_s.reserve(expected);
        samples.voltage_v.reserve(expected);
        samples.current_a.reserve(expected);
        if (columns_.temperature.index)
            samples.temperature_c.reserve(expected);
    }

    std::string_view text_;
    std::string file_;
    const std::function<bool(double)>& progress_;
    bool several_;
    TesterColumns columns_;
    std::vector<LogPart> parts_;
    std::map<std::string, Writing> writing_; // by channel
};

} // namespace

Result<ImportedLog> read_log(std::string_view text, const std::string& file,
                             const std::function<bool(double)>& progress) {
    auto parts = LogReader(text, file, progress, false).read(nullptr);
    if (!parts)
        return parts.problem();
    return std::move(parts.value().front().log);
}

Result<std::vector<LogPart>> read_log_parts(std::string_view text, const std::string& file, const LogShape* shape,
                                            const std::function<bool(double)>& progress) {
    return LogReader(text, file, progress, true).read(shape);
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
