#include "exchange/columns.h"

#include "core/measure/moment.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <fmt/format.h>

namespace ingot::exchange {

namespace {

std::string squeeze(std::string_view text) {
    std::string out;
    for (const char c : text) {
        const bool blank = c == ' ' || c == '_' || c == '-' || c == '\t';
        if (blank && (out.empty() || out.back() == ' '))
            continue;
        out += blank ? ' ' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    }
    while (!out.empty() && out.back() == ' ')
        out.pop_back();
    return out;
}

std::string trimmed(std::string_view text) {
    while (!text.empty() && text.front() == ' ')
        text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ')
        text.remove_suffix(1);
    return std::string(text);
}

struct UnitName {
    Dimension dimension;
    std::string_view name;
    double factor;
};

// Spellings of units, compared without regard to case except where m and M would differ.
constexpr std::array<UnitName, 45> unit_names{{
    {Dimension::volt, "V", 1},
    {Dimension::volt, "mV", 1e-3},
    {Dimension::ampere, "A", 1},
    {Dimension::ampere, "mA", 1e-3},
    {Dimension::ampere_hour, "Ah", 1},
    {Dimension::ampere_hour, "mAh", 1e-3},
    {Dimension::watt_hour, "Wh", 1},
    {Dimension::watt_hour, "mWh", 1e-3},
    {Dimension::ohm, "Ohm", 1},
    {Dimension::ohm, "Ohms", 1},
    {Dimension::ohm, "\xCE\xA9", 1},     // Greek capital omega
    {Dimension::ohm, "\xE2\x84\xA6", 1}, // ohm sign
    {Dimension::ohm, "mOhm", 1e-3},
    {Dimension::ohm, "m\xCE\xA9", 1e-3},
    {Dimension::ohm, "m\xE2\x84\xA6", 1e-3},
    {Dimension::second, "s", 1},
    {Dimension::second, "sec", 1},
    {Dimension::second, "min", 60},
    {Dimension::second, "h", 3600},
    {Dimension::second, "ms", 1e-3},
    {Dimension::second, "d", 86400},
    {Dimension::celsius, "degC", 1},
    {Dimension::celsius,
     "\xC2\xB0"
     "C",
     1},
    {Dimension::celsius, "C", 1},
    {Dimension::ampere_hour_per_day, "Ah/day", 1},
    {Dimension::ampere_hour_per_day, "mAh/day", 1e-3},
    {Dimension::ampere_hour_per_day, "Ah/d", 1},
    {Dimension::ampere_hour_per_day, "mAh/d", 1e-3},
    {Dimension::day, "d", 1},
    {Dimension::day, "day", 1},
    {Dimension::day, "days", 1},
    {Dimension::day, "h", 1.0 / 24},
    {Dimension::hour, "h", 1},
    {Dimension::hour, "hours", 1},
    {Dimension::hour, "min", 1.0 / 60},
    {Dimension::hour, "s", 1.0 / 3600},
    {Dimension::hour, "d", 24},
    {Dimension::watt, "W", 1},
    {Dimension::watt, "mW", 1e-3},
    {Dimension::watt, "kW", 1e3},
    {Dimension::metre, "mm", 1e-3},
    {Dimension::metre, "cm", 1e-2},
    {Dimension::metre, "m", 1},
    {Dimension::number, "1", 1},
    {Dimension::number, "", 1},
}};

bool same_unit(std::string_view a, std::string_view b) {
    if (a.size() != b.size())
        return false;
    for (std::size_t i = 0; i < a.size(); ++i)
        if (std::tolower(static_cast<unsigned char>(a[i])) != std::tolower(static_cast<unsigned char>(b[i])))
            return false;
    return true;
}

// A capital M before a unit that is written with a small one is mega, a million times more.
bool is_mega(std::string_view text, const UnitName& known) {
    const bool electrical = known.dimension == Dimension::volt || known.dimension == Dimension::ampere ||
                            known.dimension == Dimension::ampere_hour || known.dimension == Dimension::watt_hour ||
                            known.dimension == Dimension::ohm || known.dimension == Dimension::watt ||
                            known.dimension == Dimension::ampere_hour_per_day;
    return electrical && text.front() == 'M' && known.name.front() == 'm';
}

bool is_unit(std::string_view text) {
    return !text.empty() && std::any_of(unit_names.begin(), unit_names.end(),
                                        [&](const UnitName& unit) { return same_unit(unit.name, text); });
}

std::string accepted_units(Dimension dimension) {
    std::string out;
    for (const UnitName& unit : unit_names)
        if (unit.dimension == dimension && !unit.name.empty())
            out += (out.empty() ? "" : ", ") + std::string(unit.name);
    return out;
}

} // namespace

ColumnName parse_column(std::string_view header) {
    const auto with = [](std::string_view name, std::string_view unit) {
        return ColumnName{squeeze(name), trimmed(unit)};
    };
    for (const auto& [open, close] : {std::pair{'(', ')'}, std::pair{'[', ']'}}) {
        const auto from = header.find(open);
        const auto to = header.find(close, from == std::string_view::npos ? 0 : from);
        if (from != std::string_view::npos && to != std::string_view::npos)
            return with(header.substr(0, from), header.substr(from + 1, to - from - 1));
    }
    if (const auto slash = header.find(" / "); slash != std::string_view::npos)
        return with(header.substr(0, slash), header.substr(slash + 3));
    if (const auto slash = header.find('/');
        slash != std::string_view::npos && is_unit(trimmed(header.substr(slash + 1))))
        return with(header.substr(0, slash), header.substr(slash + 1));
    if (const auto bar = header.find_last_of("_ "); bar != std::string_view::npos && is_unit(header.substr(bar + 1)))
        return with(header.substr(0, bar), header.substr(bar + 1));
    return with(header, "");
}

std::optional<double> unit_factor(Dimension dimension, std::string_view unit) {
    if (dimension == Dimension::text || (dimension == Dimension::number && unit.empty()))
        return 1.0;
    for (const UnitName& known : unit_names)
        if (!unit.empty() && known.dimension == dimension && same_unit(known.name, unit) && !is_mega(unit, known))
            return known.factor;
    return std::nullopt;
}

Result<bool> find_columns(const CsvReader& reader, const std::vector<Column*>& columns) {
    const Problem header_line = reader.problem({});
    for (std::size_t i = 0; i < reader.header().size(); ++i) {
        const ColumnName name = parse_column(reader.header()[i]);
        for (Column* column : columns) {
            if (std::find(column->names.begin(), column->names.end(), name.name) == column->names.end())
                continue;
            if (column->index)
                return Problem{header_line.where, header_line.line,
                               said("column \"{}\" stands twice. Keep one of them.", column->wanted)};
            // "Days" says its unit by its name.
            const bool said_by_name = name.unit.empty() && column->wanted.find(" / ") == std::string::npos;
            const auto factor = said_by_name ? 1.0 : unit_factor(column->dimension, name.unit);
            if (!factor && name.unit.empty())
                return Problem{header_line.where, header_line.line,
                               said("column \"{}\" has no unit. Write \"{}\", with one of {}.", reader.header()[i],
                                    column->wanted, accepted_units(column->dimension))};
            if (!factor)
                return Problem{header_line.where, header_line.line,
                               said("unit \"{}\" of column \"{}\" is not understood. Use one of {}.", name.unit,
                                    reader.header()[i], accepted_units(column->dimension))};
            column->index = i;
            column->factor = *factor;
            column->header = reader.header()[i];
        }
    }
    for (const Column* column : columns)
        if (column->required && !column->index)
            return Problem{header_line.where, header_line.line,
                           said("column \"{}\" is missing. The header has: {}.", column->wanted,
                                fmt::format("{}", fmt::join(reader.header(), ", ")))};
    return true;
}

Result<std::optional<double>> number_in(CsvReader& reader, const std::vector<std::string_view>& fields,
                                        const Column& column) {
    if (!column.index)
        return std::optional<double>{};
    auto value = reader.number(fields[*column.index], column.header);
    if (value.ok() && value.value())
        *value.value() *= column.factor;
    return value;
}

std::string text_in(const std::vector<std::string_view>& fields, const Column& column) {
    return column.index ? std::string(fields[*column.index]) : std::string();
}

std::optional<double> written_time(std::string_view text) {
    if (text.find('-') != std::string_view::npos) {
        std::string moment(text);
        if (const auto blank = moment.find(' '); blank != std::string::npos)
            moment[blank] = 'T';
        return seconds_of(moment);
    }
    const auto first = text.find(':');
    const auto second = first == std::string_view::npos ? first : text.find(':', first + 1);
    if (second == std::string_view::npos)
        return std::nullopt;
    const auto hours = parse_number(text.substr(0, first));
    const auto minutes = parse_number(text.substr(first + 1, second - first - 1));
    const auto seconds = parse_number(text.substr(second + 1));
    constexpr double sixty = 60;
    if (!hours || !minutes || !seconds || *hours < 0 || *minutes < 0 || *minutes >= sixty || *seconds < 0 ||
        *seconds >= sixty)
        return std::nullopt;
    return (*hours * sixty + *minutes) * sixty + *seconds;
}

void allow_written_times(std::string_view text, const CsvReader& reader, Column& time) {
    for (const std::string& written : reader.header()) {
        const ColumnName name = parse_column(written);
        if (std::find(time.names.begin(), time.names.end(), name.name) == time.names.end() ||
            !(name.unit.empty() || name.unit == "h:mm:ss" || name.unit == "hh:mm:ss"))
            continue;
        const auto line_end = text.find('\n');
        const auto next_end = line_end == std::string_view::npos ? line_end : text.find('\n', line_end + 1);
        if (line_end != std::string_view::npos &&
            text.substr(line_end + 1, next_end - line_end - 1).find(':') != std::string_view::npos)
            time.dimension = Dimension::text;
    }
}

bool Rows::next() {
    if (problem_)
        return false;
    const auto more = reader_.next(fields_);
    if (!more)
        problem_ = more.problem();
    return more && more.value();
}

std::optional<double> Rows::number(const Column& column) {
    if (problem_)
        return std::nullopt;
    const auto value = number_in(reader_, fields_, column);
    if (value)
        return value.value();
    problem_ = value.problem();
    return std::nullopt;
}

double Rows::needed(const Column& column, std::string_view remedy) {
    const auto value = number(column);
    if (!value)
        object(said("\"{}\" is blank. {}", column.wanted, remedy));
    return value.value_or(0);
}

std::string Rows::needed_text(const Column& column, std::string_view remedy) {
    std::string found = text(column);
    if (found.empty())
        object(said("\"{}\" is blank. {}", column.wanted, remedy));
    return found;
}

void Rows::object(Sentence sentence) {
    if (!problem_)
        problem_ = reader_.problem(std::move(sentence));
}

} // namespace ingot::exchange
