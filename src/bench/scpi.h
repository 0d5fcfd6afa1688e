// Lines in the SCPI style (IEEE 488.2 common commands, SCPI-99 headers): colon-separated words with numeric suffixes,
// comma-separated parameters, `?` for a question, `;` between messages of one line. Pure text, no device.
//
// Sources: IEEE 488.2 and SCPI-99 (from memory): short and long form of a word, 9.91E37 for "not a number".
#pragma once

#include "core/cells/problem.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ingot::bench {

struct ScpiWord {
    std::string text; // capital letters
    int number = 0;   // numeric suffix; 0: none
};
struct ScpiMessage {
    std::vector<ScpiWord> header; // BAY3:CHAR gives BAY 3, CHAR; *IDN? gives *IDN
    bool question = false;
    std::vector<std::string> parameters; // blanks stripped, quotes taken off
};

// One line without its end. Problems: an empty header, a broken quote, a character that is none of ours.
[[nodiscard]] Result<std::vector<ScpiMessage>> parse_scpi(std::string_view line);

// True for the long form, and for the short form made of its capitals: is("CHARge", "CHAR").
[[nodiscard]] bool scpi_is(std::string_view pattern, std::string_view word);

// Parameters and answers, split at commas outside quotes; quotes taken off.
[[nodiscard]] std::vector<std::string> scpi_fields(std::string_view text, char separator = ',');
[[nodiscard]] std::string scpi_quoted(std::string_view text);
// 9.91E37 for nothing; reads back to nothing.
[[nodiscard]] std::string scpi_number(std::optional<double> value);
// Decimal numbers only; a problem for anything else.
[[nodiscard]] Result<std::optional<double>> scpi_value(std::string_view text);

} // namespace ingot::bench
