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
    day,
    hour,
    watt,
    metre
};

struct ColumnName {
    std::string name; // small letters, single blanks, no unit
    std::string unit; // as written, without brackets; may be empty
};
[[nodiscard]] ColumnName parse_column(std::string_view header);

// Factor from a written unit to V, A, Ah, Wh, ohm, s, degC, Ah/day, day, h, W, m; nothing if the unit is not of that
// dimension or missing (1800 may be mAh). M is mega, never milli.
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

// A time written h:mm:ss, or a moment of ISO 8601 (a blank may stand for its T): seconds; nothing for anything else.
[[nodiscard]] std::optional<double> written_time(std::string_view text);
// Lets a time column without a unit hold such times, where the first row of the text has one.
void allow_written_times(std::string_view text, const CsvReader& reader, Column& time);

// The rows of a table one after the other. The first objection to a row is kept and stops the reading; what is asked of
// the row after that comes back empty.
class Rows {
public:
    explicit Rows(CsvReader& reader) : reader_(reader) {}
    // The next row; false at the end and after an objection.
    [[nodiscard]] bool next();
    [[nodiscard]] int line() const { return reader_.line(); }
    [[nodiscard]] std::string text(const Column& column) const { return text_in(fields_, column); }
    [[nodiscard]] std::optional<double> number(const Column& column);
    // An objection with the remedy where the field is blank.
    [[nodiscard]] std::string needed_text(const Column& column, std::string_view remedy);
    [[nodiscard]] double needed(const Column& column, std::string_view remedy);
    void object(Sentence sentence);
    [[nodiscard]] const std::optional<Problem>& problem() const { return problem_; }

private:
    CsvReader& reader_;
    std::vector<std::string_view> fields_;
    std::optional<Problem> problem_;
};

} // namespace ingot::exchange
