// Column names with units, as in "Voltage / V", "voltage (mV)", "Current [A]", "capacity_mAh".
#pragma once

#include "exchange/csv.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

enum class Dimension {
    text,
    number,
    volt,
    ampere,
    ampere_hour,
    watt_hour,
    ohm,
    second,
    celsius,
    ampere_hour_per_day,
    day
};

struct ColumnName {
    std::string name; // small letters, single blanks, no unit
    std::string unit; // as written, without brackets; may be empty
};
[[nodiscard]] ColumnName parse_column(std::string_view header);

// Factor from a written unit to V, A, Ah, Wh, ohm, s, degC, Ah/day, day; nothing if the unit is not of that dimension.
// A missing unit counts as the base unit.
[[nodiscard]] std::optional<double> unit_factor(Dimension dimension, std::string_view unit);

struct Column {
    std::string wanted; // "Voltage / V": used in problems
    Dimension dimension = Dimension::text;
    std::vector<std::string> names; // accepted names, small letters
    bool required = false;
    // Found:
    std::optional<std::size_t> index;
    double factor = 1;
    std::string header; // as written in the file
};

// Finds every column in the header; a problem names what is missing, doubled, or in a unit that does not fit.
[[nodiscard]] Result<bool> find_columns(const CsvReader& reader, const std::vector<Column*>& columns);

// The field of a column as a number in base units, or as text; blank or absent: nothing.
[[nodiscard]] Result<std::optional<double>> number_in(CsvReader& reader, const std::vector<std::string_view>& fields,
                                                      const Column& column);
[[nodiscard]] std::string text_in(const std::vector<std::string_view>& fields, const Column& column);

} // namespace ingot::exchange
