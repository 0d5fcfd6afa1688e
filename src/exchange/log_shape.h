// What the columns of a tester's log are where their names do not say it: said once by a person, and remembered for
// every file of the same columns.
#pragma once

#include "core/cells/problem.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

enum class LogQuantity { time, voltage, current, temperature, step, channel };
inline constexpr int log_quantity_count = 6;
[[nodiscard]] const char* code(LogQuantity quantity);

struct LogColumn {
    std::string header; // as written in the file
    LogQuantity quantity{};
    std::string unit; // of unit_factor; of steps and channels empty
};
struct LogShape {
    std::vector<LogColumn> columns;
};

// A line a column, three fields: header, quantity, unit. Objects to a quantity or unit that is none, to a quantity that
// stands twice, and where time, voltage or current is missing.
[[nodiscard]] std::string write_log_shape(const LogShape& shape);
[[nodiscard]] Result<LogShape> read_log_shape(const std::string& text);

// The columns of a file and what stands in its first rows.
struct LogHead {
    std::vector<std::string> header;
    std::vector<std::vector<std::string>> rows; // at most three
    int line = 0;                               // of the header: a problem there is one of the columns
};
[[nodiscard]] Result<LogHead> read_log_head(std::string_view text, const std::string& file);
// Files of the same columns have the same.
[[nodiscard]] std::string shape_key(const std::vector<std::string>& header);

} // namespace ingot::exchange
