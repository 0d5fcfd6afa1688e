#include "exchange/board_log_csv.h"

#include "exchange/block_columns.h"

#include <algorithm>
#include <limits>

namespace ingot::exchange {

namespace {

constexpr double blank = std::numeric_limits<double>::quiet_NaN();

struct LogColumns {
    Column time{"Time / s",
                Dimension::second,
                {"time", "test time", "elapsed time", "total time", "date time", "timestamp"},
                true,
                {},
                1,
                {}};
    Column current{"Current / A", Dimension::ampere, {"current", "pack current", "i"}, false, {}, 1, {}};
    Column terminals{"Voltage / V", Dimension::volt, {"voltage", "pack voltage", "total voltage"}, false, {}, 1, {}};
    std::vector<Column> blocks;
};

Result<bool> read_row(CsvReader& reader, const std::vector<std::string_view>& fields, const LogColumns& columns,
                      BoardLog& log) {
    const auto written =
        columns.time.dimension == Dimension::text ? written_time(fields[*columns.time.index]) : std::nullopt;
    double seconds = written.value_or(0);
    if (!written) {
        const auto number = columns.time.dimension == Dimension::text ? Result<std::optional<double>>(std::nullopt)
                                                                      : number_in(reader, fields, columns.time);
        if (!number)
            return number.problem();
        if (!number.value())
            return reader.problem(said("\"{}\" holds no time. Give seconds, h:mm:ss, or 2026-11-27 10:39:22.",
                                       text_in(fields, columns.time)));
        seconds = *number.value();
    }
    if (log.rows() > 0 && seconds < log.time_s.back())
        return reader.problem(
            said("time runs backwards, from {} s to {} s. A log must run forward.", log.time_s.back(), seconds));
    log.time_s.push_back(seconds);
    auto& volts = log.group_v.emplace_back();
    volts.reserve(columns.blocks.size());
    for (const Column& block : columns.blocks) {
        const auto value = block_volts(reader, fields, block);
        if (!value)
            return value.problem();
        volts.push_back(value.value().value_or(blank));
        const std::string text = text_in(fields, block);
        if (!text.empty())
            log.resolution_v = std::min(log.resolution_v.value_or(1), last_digit(text) * block.factor);
    }
    for (const auto& [column, to] :
         {std::pair(&columns.current, &log.charging_a), {&columns.terminals, &log.terminals_v}})
        if (column->index) {
            const auto value = number_in(reader, fields, *column);
            if (!value)
                return value.problem();
            to->push_back(value.value().value_or(blank));
        }
    return true;
}

} // namespace

Result<BoardLog> read_board_log_csv(std::string_view text, const std::string& file, int series,
                                    const std::function<bool(double)>& progress) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    LogColumns columns;
    auto blocks = find_block_columns(reader, series);
    if (!blocks)
        return blocks.problem();
    columns.blocks = std::move(blocks.value());
    for (std::size_t g = 0; g < columns.blocks.size(); ++g)
        if (!columns.blocks[g].index)
            return reader.problem(said("group {} of {} has no column. A board's log has one for each: \"Cell {} / V\".",
                                       g + 1, series, g + 1));
    allow_written_times(text, reader, columns.time);
    if (const auto found = find_columns(reader, {&columns.time, &columns.current, &columns.terminals}); !found)
        return found.problem();
    BoardLog log;
    std::vector<std::string_view> fields;
    constexpr std::size_t rows_a_report = 2'000;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            break;
        if (const auto row = read_row(reader, fields, columns, log); !row)
            return row.problem();
        if (progress && log.rows() % rows_a_report == 0 &&
            !progress(1.0 - static_cast<double>(reader.bytes_left()) / static_cast<double>(text.size())))
            return Problem{file, 0, said("stopped; nothing was read.")};
    }
    if (log.rows() == 0)
        return reader.problem(said("there is a header but no row. Export the log again."));
    const double began = log.time_s.front();
    for (double& t : log.time_s)
        t -= began;
    return log;
}

} // namespace ingot::exchange
