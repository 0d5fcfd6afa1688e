#include "exchange/block_columns.h"

#include <algorithm>
#include <cmath>

namespace ingot::exchange {

namespace {

// 1-based number of a snapshot's column such as "Block 3 / V"; nothing for any other.
std::optional<int> block_of(const std::string& header) {
    const ColumnName name = parse_column(header);
    const auto blank = name.name.find_last_of(' ');
    const std::string word = blank == std::string::npos ? "" : name.name.substr(0, blank);
    std::string digits = blank == std::string::npos ? "" : name.name.substr(blank + 1);
    const bool named = word == "block" || word == "group" || word == "cell" || word == "module" ||
                       word == "block voltage" || word == "group voltage" || word == "cell voltage" ||
                       word == "module voltage";
    if (!named || digits.empty() || digits.size() > 3 ||
        !std::all_of(digits.begin(), digits.end(), [](char c) { return c >= '0' && c <= '9'; }))
        return std::nullopt;
    return std::stoi(digits);
}

} // namespace

bool has_block_columns(const CsvReader& reader) {
    const auto& header = reader.header();
    return std::any_of(header.begin(), header.end(), [](const std::string& h) { return block_of(h).has_value(); });
}

Result<std::vector<Column>> find_block_columns(const CsvReader& reader, int series) {
    std::vector<Column> blocks(static_cast<std::size_t>(series));
    for (std::size_t i = 0; i < reader.header().size(); ++i) {
        const auto block = block_of(reader.header()[i]);
        if (!block)
            continue;
        if (*block < 1 || *block > series)
            return reader.problem(said("column \"{}\": the pack has groups 1 to {}. Correct the pack's series.",
                                       reader.header()[i], series));
        Column& column = blocks[static_cast<std::size_t>(*block - 1)];
        if (column.index)
            return reader.problem(said("block {} stands twice. Keep one of the columns.", *block));
        const auto factor = unit_factor(Dimension::volt, parse_column(reader.header()[i]).unit);
        if (!factor)
            return reader.problem(said("unit of column \"{}\" is not understood. Use V or mV.", reader.header()[i]));
        column.wanted = column.header = reader.header()[i];
        column.dimension = Dimension::volt;
        column.index = i;
        column.factor = *factor;
    }
    return blocks;
}

Sentence not_a_groups_voltage(double volts, const Column& block) {
    return said("{} V of \"{}\" is not one group's voltage. Is the column in mV?", volts, block.header);
}

Result<std::optional<double>> block_volts(CsvReader& reader, const std::vector<std::string_view>& fields,
                                          const Column& block) {
    const auto volts = number_in(reader, fields, block);
    if (volts && volts.value() && std::fabs(*volts.value()) > no_group_v)
        return reader.problem(not_a_groups_voltage(*volts.value(), block));
    return volts;
}

} // namespace ingot::exchange
