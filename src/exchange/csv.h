// CSV as it comes from instruments, spreadsheets and other programs: comma, semicolon or tab; decimal point or comma;
// BOM; CRLF; quoted fields. Rows are views into the text, which must outlive the reader.
#pragma once

#include "core/cells/problem.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

struct Dialect {
    char separator = ',';
    bool decimal_comma = false; // seen in at least one number
    bool byte_order_mark = false;
    bool crlf = false;
    bool last_line_dropped = false; // cut off: no line end and too few columns
};

class CsvReader {
public:
    // Reads the header line. `file` is used in problems only. Problems: empty, no header, not text.
    [[nodiscard]] static Result<CsvReader> open(std::string_view text, std::string file);

    [[nodiscard]] const std::vector<std::string>& header() const { return header_; }
    [[nodiscard]] const Dialect& dialect() const { return dialect_; }
    [[nodiscard]] int line() const { return line_; } // of the row last read
    [[nodiscard]] const std::string& file() const { return file_; }
    [[nodiscard]] std::size_t bytes_left() const { return rest_.size(); }

    // The next row's fields, blanks stripped; false at the end. A row with too few or too many columns is a problem.
    [[nodiscard]] Result<bool> next(std::vector<std::string_view>& fields);
    // A number in this dialect; nothing for a blank field; a problem for anything else, naming `column`.
    [[nodiscard]] Result<std::optional<double>> number(std::string_view field, std::string_view column);

    [[nodiscard]] Problem problem(Sentence sentence) const { return {file_, line_, std::move(sentence)}; }

private:
    CsvReader() = default;
    bool split(std::string_view line, std::vector<std::string_view>& fields);
    std::string_view take_line(bool& ended);

    std::string file_;
    std::string_view rest_;
    std::vector<std::string> header_;
    Dialect dialect_;
    int line_ = 0;
    std::vector<std::string> unquoted_; // storage for quoted fields of the current row
};

// Decimal point or comma; nothing for anything that is not one finite number.
// What one step of the last written digit is worth: 0.1 for "7.6", 1 for "12", 0.001 for "3,612". 1 where none is read.
[[nodiscard]] double last_digit(std::string_view text);
[[nodiscard]] std::optional<double> parse_number(std::string_view text);

// One CSV line, fields quoted where needed, ended by a line feed.
[[nodiscard]] std::string csv_line(const std::vector<std::string>& fields);
// A number as short as possible that reads back equal; empty for nothing.
[[nodiscard]] std::string csv_number(std::optional<double> value);

} // namespace ingot::exchange
