#include "exchange/board_log_csv.h"

#include "exchange/block_columns.h"

#include <algorithm>
#include <cmath>
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

// Seconds of the row; an objection where it holds no time, or one before the last.
double row_time(Rows& rows, const LogColumns& columns, const BoardLog& log) {
    const std::string text = rows.text(columns.time);
    const auto seconds = columns.time.dimension == Dimension::text ? written_time(text) : rows.number(columns.time);
    if (!seconds)
        rows.object(said("\"{}\" holds no time. Give seconds, h:mm:ss, or 2026-11-27 10:39:22.", text));
    else if (log.rows() > 0 && *seconds < log.time_s.back())
        rows.object(
            said("time runs backwards, from {} s to {} s. A log must run forward.", log.time_s.back(), *seconds));
    return seconds.value_or(0);
}

void read_row(Rows& rows, const LogColumns& columns, BoardLog& log) {
    log.time_s.push_back(row_time(rows, columns, log));
    auto& volts = log.group_v.emplace_back();
    volts.reserve(columns.blocks.size());
    for (const Column& block : columns.blocks) {
        const auto value = rows.number(block);
        if (value && std::fabs(*value) > no_group_v)
            rows.object(not_a_groups_voltage(*value, block));
        volts.push_back(value.value_or(blank));
        if (const std::string text = rows.text(block); !text.empty())
            log.resolution_v = std::min(log.resolution_v.value_or(1), last_digit(text) * block.factor);
    }
    if (columns.current.index)
        log.charging_a.push_back(rows.number(columns.current).value_or(blank));
    if (columns.terminals.index)
        log.terminals_v.push_back(rows.number(columns.terminals).value_or(blank));
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
    Rows rows(reader);
    constexpr std::size_t rows_a_report = 2'000;
    while (rows.next()) {
        read_row(rows, columns, log);
        if (progress && log.rows() % rows_a_report == 0 &&
            !progress(1.0 - static_cast<double>(reader.bytes_left()) / static_cast<double>(text.size())))
            return Problem{file, 0, said("stopped; nothing was read.")};
    }
    if (rows.problem())
        return *rows.problem();
    if (log.rows() == 0)
        return reader.problem(said("there is a header but no row. Export the log again."));
    const double began = log.time_s.front();
    for (double& t : log.time_s)
        t -= began;
    return log;
}

} // namespace ingot::exchange
