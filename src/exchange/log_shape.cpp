#include "exchange/log_shape.h"

#include "exchange/columns.h"
#include "exchange/csv.h"

#include <algorithm>
#include <array>

namespace ingot::exchange {

namespace {

struct QuantityWord {
    const char* code;
    Dimension dimension;
};
constexpr std::array<QuantityWord, log_quantity_count> quantity_words{{{"time", Dimension::second},
                                                                       {"voltage", Dimension::volt},
                                                                       {"current", Dimension::ampere},
                                                                       {"temperature", Dimension::celsius},
                                                                       {"step", Dimension::text},
                                                                       {"channel", Dimension::text}}};

std::optional<LogQuantity> quantity_from(const std::string& word) {
    for (std::size_t i = 0; i < quantity_words.size(); ++i)
        if (word == quantity_words[i].code)
            return static_cast<LogQuantity>(i);
    return std::nullopt;
}

} // namespace

const char* code(LogQuantity quantity) {
    return quantity_words.at(static_cast<std::size_t>(quantity)).code;
}

std::string write_log_shape(const LogShape& shape) {
    std::string out = csv_line({"Column", "Quantity", "Unit"});
    for (const LogColumn& column : shape.columns)
        out += csv_line({column.header, code(column.quantity), column.unit});
    return out;
}

Result<LogShape> read_log_shape(const std::string& text) {
    auto opened = CsvReader::open(text, "columns of the log");
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column header{"Column", Dimension::text, {"column"}, true, {}, 1, {}};
    Column quantity{"Quantity", Dimension::text, {"quantity"}, true, {}, 1, {}};
    Column unit{"Unit", Dimension::text, {"unit"}, true, {}, 1, {}};
    if (const auto found = find_columns(reader, {&header, &quantity, &unit}); !found)
        return found.problem();
    LogShape out;
    Rows rows(reader);
    while (rows.next()) {
        LogColumn column;
        column.header = rows.text(header);
        const auto is = quantity_from(rows.text(quantity));
        if (!is) {
            rows.object(said("\"{}\" is no quantity of a log.", rows.text(quantity)));
            break;
        }
        column.quantity = *is;
        column.unit = rows.text(unit);
        if (!unit_factor(quantity_words.at(static_cast<std::size_t>(*is)).dimension, column.unit)) {
            rows.object(said("unit \"{}\" of column \"{}\" is not understood.", column.unit, column.header));
            break;
        }
        if (std::any_of(out.columns.begin(), out.columns.end(),
                        [&](const LogColumn& one) { return one.quantity == *is; })) {
            rows.object(said("column \"{}\" stands twice. Keep one of them.", code(*is)));
            break;
        }
        out.columns.push_back(std::move(column));
    }
    if (rows.problem())
        return *rows.problem();
    for (const LogQuantity needed : {LogQuantity::time, LogQuantity::voltage, LogQuantity::current})
        if (std::none_of(out.columns.begin(), out.columns.end(),
                         [&](const LogColumn& one) { return one.quantity == needed; }))
            return Problem{"", 0,
                           said("A log needs time, voltage and current; {} is not among the columns.", code(needed))};
    return out;
}

Result<LogHead> read_log_head(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    LogHead out;
    out.header = reader.header();
    out.line = reader.line();
    constexpr std::size_t few = 3;
    std::vector<std::string_view> fields;
    while (out.rows.size() < few) {
        const auto more = reader.next(fields);
        if (!more || !more.value())
            break;
        out.rows.emplace_back(fields.begin(), fields.end());
    }
    return out;
}

std::string shape_key(const std::vector<std::string>& header) {
    std::string out = csv_line(header);
    while (!out.empty() && out.back() == '\n')
        out.pop_back();
    return out;
}

} // namespace ingot::exchange
