// The columns of a table that holds all groups of a pack in each row, as boards and vehicles write it: "Block 1 / V",
// "cell 2 (mV)", "Group voltage 3 / V", "Module 4 / V".
#pragma once

#include "exchange/columns.h"

#include <vector>

namespace ingot::exchange {

inline constexpr double no_group_v = 200; // nothing that is still one group shows more

// Whether the header has such a column at all.
[[nodiscard]] bool has_block_columns(const CsvReader& reader);
// By group, from the first; one that the table does not have is without an index. Objects to groups that the pack does
// not have, to one that stands twice, to a unit that is no voltage.
[[nodiscard]] Result<std::vector<Column>> find_block_columns(const CsvReader& reader, int series);
[[nodiscard]] Sentence not_a_groups_voltage(double volts, const Column& block);
// What the row has of a group, V; nothing: blank. Objects to what is no group's voltage.
[[nodiscard]] Result<std::optional<double>> block_volts(CsvReader& reader, const std::vector<std::string_view>& fields,
                                                        const Column& block);

} // namespace ingot::exchange
