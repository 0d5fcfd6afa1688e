#include "exchange/records_csv.h"

#include "core/measure/moment.h"
#include "exchange/columns.h"

#include <cmath>
#include <fmt/format.h>
#include <initializer_list>

namespace ingot::exchange {

namespace {

Column text_column(const char* wanted, std::vector<std::string> names, bool required = false) {
    return {wanted, Dimension::text, std::move(names), required, {}, 1, {}};
}
Column number_column(const char* wanted, Dimension dimension, std::vector<std::string> names, bool required = false) {
    return {wanted, dimension, std::move(names), required, {}, 1, {}};
}

// Blank-separated codes.
std::vector<std::string> codes_in(const std::string& text) {
    std::vector<std::string> codes;
    std::string now;
    for (const char c : text + " ") {
        if (c != ' ') {
            now += c;
        } else if (!now.empty()) {
            codes.push_back(now);
            now.clear();
        }
    }
    return codes;
}

// Reads all rows of one kind: `fill` is given the fields and a row with its line set, and returns a problem or nothing.
template <class Row, class Fill>
Result<std::vector<Row>> each_row(std::string_view text, const std::string& file, const std::vector<Column*>& columns,
                                  Fill fill) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    if (const auto found = find_columns(reader, columns); !found)
        return found.problem();
    std::vector<Row> rows;
    std::vector<std::string_view> fields;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            return rows;
        Row row;
        row.line = reader.line();
        if (std::optional<Problem> problem = fill(reader, fields, row))
            return *problem;
        rows.push_back(std::move(row));
    }
}

using Fields = std::vector<std::string_view>;

// Numbers that may be blank.
std::optional<Problem>
optional_numbers(CsvReader& reader, const Fields& fields,
                 std::initializer_list<std::pair<const Column*, std::optional<double>*>> wanted) {
    for (const auto& [column, into] : wanted) {
        const auto value = number_in(reader, fields, *column);
        if (!value)
            return value.problem();
        *into = value.value();
    }
    return std::nullopt;
}

// A whole number from `low` to `high`; `otherwise` when blank.
std::optional<Problem> whole(CsvReader& reader, const std::vector<std::string_view>& fields, const Column& column,
                             int low, int high, int otherwise, int& into) {
    const auto value = number_in(reader, fields, column);
    if (!value)
        return value.problem();
    into = otherwise;
    if (!value.value())
        return std::nullopt;
    const double v = *value.value();
    if (v != std::floor(v) || v < low || v > high)
        return reader.problem(said("\"{}\" must be a whole number from {} to {}.", column.wanted, low, high));
    into = static_cast<int>(v);
    return std::nullopt;
}

constexpr int most_groups = 200;
constexpr int most_parallel = 500;
constexpr int most_wells = 999;

} // namespace

Result<std::vector<LotRow>> read_lots(std::string_view text, const std::string& file) {
    Column lot = text_column("Lot", {"lot"}, true);
    Column source = text_column("Source", {"source"});
    Column received = text_column("Received", {"received"});
    Column note = text_column("Note", {"note"});
    Column cost = number_column("Cost", Dimension::number, {"cost"});
    return each_row<LotRow>(text, file, {&lot, &source, &received, &note, &cost},
                            [&](CsvReader& reader, const Fields& fields, LotRow& row) {
                                row.label = text_in(fields, lot);
                                row.source = text_in(fields, source);
                                row.received = text_in(fields, received);
                                row.note = text_in(fields, note);
                                return optional_numbers(reader, fields, {{&cost, &row.cost}});
                            });
}

Result<std::vector<InstrumentRow>> read_instruments(std::string_view text, const std::string& file) {
    Column name = text_column("Name", {"name", "instrument"}, true);
    Column kind = text_column("Kind", {"kind"}, true);
    Column channels = number_column("Channels", Dimension::number, {"channels"});
    return each_row<InstrumentRow>(
        text, file, {&name, &kind, &channels}, [&](CsvReader& reader, const Fields& fields, InstrumentRow& row) {
            row.name = text_in(fields, name);
            row.kind = text_in(fields, kind);
            const auto count = number_in(reader, fields, channels);
            if (!count)
                return std::optional<Problem>(count.problem());
            constexpr double most = 1000;
            const double value = count.value().value_or(1);
            if (value != std::floor(value) || value < 1 || value > most)
                return std::optional<Problem>(reader.problem(said("\"Channels\" is a whole number from 1.")));
            row.channels = static_cast<int>(value);
            return std::optional<Problem>();
        });
}

Result<std::vector<DesignRow>> read_designs(std::string_view text, const std::string& file) {
    Column build = text_column("Build", {"build"}, true);
    Column figure = text_column("Figure", {"figure"}, true);
    Column value = text_column("Value", {"value"}, true);
    return each_row<DesignRow>(
        text, file, {&build, &figure, &value}, [&](CsvReader& reader, const Fields& fields, DesignRow& row) {
            row.build = text_in(fields, build);
            const auto known = design_figure_from(text_in(fields, figure));
            if (!known)
                return std::optional<Problem>(
                    reader.problem(said("\"{}\" is no figure of a design.", text_in(fields, figure))));
            row.figure = *known;
            row.value = text_in(fields, value);
            if (const auto fits = BuildDesign().set(row.figure, row.value); !fits)
                return std::optional<Problem>(reader.problem(fits.problem().sentence));
            return std::optional<Problem>();
        });
}

Result<std::vector<PackRow>> read_packs(std::string_view text, const std::string& file) {
    Column lot = text_column("Lot", {"lot"}, true);
    Column label = text_column("Pack", {"pack"}, true);
    Column chemistry = text_column("Chemistry", {"chemistry"}, true);
    Column series = number_column("Series", Dimension::number, {"series"}, true);
    Column parallel = number_column("Parallel", Dimension::number, {"parallel"}, true);
    Column between = number_column("Units per Tap", Dimension::number, {"units per tap"});
    Column cells = number_column("Cells per Unit", Dimension::number, {"cells per unit"});
    Column format = text_column("Format", {"format"});
    Column model = text_column("Model", {"model"});
    Column shelf = text_column("Shelf", {"shelf"});
    Column stage = text_column("Stage", {"stage"});
    Column gate = text_column("Gate Passed", {"gate passed"});
    Column findings = text_column("Findings", {"findings"});
    Column capacity = number_column("Claimed Capacity / Ah", Dimension::ampere_hour, {"claimed capacity"});
    Column voltage = number_column("Claimed Voltage / V", Dimension::volt, {"claimed voltage"});
    return each_row<PackRow>(
        text, file,
        {&lot, &label, &chemistry, &series, &parallel, &cells, &between, &format, &model, &shelf, &stage, &gate,
         &findings, &capacity, &voltage},
        [&](CsvReader& reader, const Fields& fields, PackRow& row) -> std::optional<Problem> {
            row.lot = text_in(fields, lot);
            row.label = text_in(fields, label);
            row.chemistry = text_in(fields, chemistry);
            row.format = text_in(fields, format);
            row.model = text_in(fields, model);
            row.shelf = text_in(fields, shelf);
            row.stage = text_in(fields, stage);
            row.gate_passed = text_in(fields, gate);
            if (!row.gate_passed.empty() && !normal_moment(row.gate_passed))
                return reader.problem(said("\"{}\" is no moment. Write it as 2026-11-27.", row.gate_passed));
            row.findings = codes_in(text_in(fields, findings));
            if (row.label.empty())
                return reader.problem(said("\"Pack\" is blank. Give every pack a label."));
            if (auto p = whole(reader, fields, series, 1, most_groups, 1, row.layout.series))
                return p;
            if (auto p = whole(reader, fields, parallel, 1, most_parallel, 1, row.layout.parallel))
                return p;
            if (auto p = whole(reader, fields, cells, 1, 24, 1, row.layout.cells_per_unit))
                return p;
            if (auto p = whole(reader, fields, between, 1, 12, 1, row.layout.units_per_tap))
                return p;
            return optional_numbers(reader, fields,
                                    {{&capacity, &row.claim.capacity_ah}, {&voltage, &row.claim.voltage_v}});
        });
}

Result<std::vector<UnitRow>> read_units(std::string_view text, const std::string& file) {
    Column code = text_column("Unit ID", {"unit id", "cell id"}, true);
    Column pack = text_column("Pack", {"pack"});
    Column group = number_column("Group", Dimension::number, {"group"});
    Column place = number_column("Place", Dimension::number, {"place"});
    Column model = text_column("Model", {"model"}, true);
    Column tray = text_column("Tray", {"tray"});
    Column well = number_column("Well", Dimension::number, {"well"});
    Column findings = text_column("Findings", {"findings"});
    return each_row<UnitRow>(text, file, {&code, &pack, &group, &place, &model, &tray, &well, &findings},
                             [&](CsvReader& reader, const Fields& fields, UnitRow& row) -> std::optional<Problem> {
                                 row.code = text_in(fields, code);
                                 row.pack = text_in(fields, pack);
                                 row.model = text_in(fields, model);
                                 row.tray = text_in(fields, tray);
                                 row.findings = codes_in(text_in(fields, findings));
                                 if (auto p = whole(reader, fields, group, 0, most_groups, 0, row.group))
                                     return p;
                                 if (auto p = whole(reader, fields, place, 0, most_parallel, 0, row.place))
                                     return p;
                                 if (auto p = whole(reader, fields, well, 0, most_wells, 0, row.well))
                                     return p;
                                 return std::nullopt;
                             });
}

Result<std::vector<ReadingRow>> read_readings(std::string_view text, const std::string& file) {
    Column unit = text_column("Unit ID", {"unit id", "cell id"});
    Column pack = text_column("Pack", {"pack"});
    Column group = number_column("Group", Dimension::number, {"group"});
    Column quantity = text_column("Quantity", {"quantity"}, true);
    Column value = number_column("Value", Dimension::number, {"value"}, true);
    Column unit_of_value = text_column("Unit", {"unit"}, true);
    Column condition = text_column("Condition", {"condition"});
    Column instrument = text_column("Instrument", {"instrument"});
    Column taken = text_column("Taken", {"taken"});
    Column temperature = number_column("Temperature / degC", Dimension::celsius, {"temperature"});
    Column days = number_column("Days since Charge", Dimension::day, {"days since charge"});
    return each_row<ReadingRow>(
        text, file,
        {&unit, &pack, &group, &quantity, &value, &unit_of_value, &condition, &instrument, &taken, &temperature, &days},
        [&](CsvReader& reader, const Fields& fields, ReadingRow& row) -> std::optional<Problem> {
            row.unit = text_in(fields, unit);
            row.pack = text_in(fields, pack);
            row.taken = text_in(fields, taken);
            if (row.unit.empty() == row.pack.empty())
                return reader.problem(
                    said("a reading belongs to a unit or to a pack; fill exactly one of \"Unit ID\" and \"Pack\"."));
            if (auto p = whole(reader, fields, group, 0, most_groups, 0, row.group))
                return p;
            const auto q = quantity_from(text_in(fields, quantity));
            if (!q)
                return reader.problem(said("\"{}\" is not a quantity. Use voltage, dc-resistance, ac-resistance, "
                                           "capacity, self-discharge or temperature.",
                                           text_in(fields, quantity)));
            row.reading.quantity = *q;
            const auto number = number_in(reader, fields, value);
            if (!number)
                return number.problem();
            if (!number.value())
                return reader.problem(said("\"Value\" is blank. Leave the row out if nothing was read."));
            const Dimension dimension = *q == Quantity::voltage          ? Dimension::volt
                                        : *q == Quantity::duration       ? Dimension::second
                                        : *q == Quantity::capacity       ? Dimension::ampere_hour
                                        : *q == Quantity::self_discharge ? Dimension::ampere_hour_per_day
                                        : *q == Quantity::temperature    ? Dimension::celsius
                                                                         : Dimension::ohm;
            const auto factor = unit_factor(dimension, text_in(fields, unit_of_value));
            if (!factor)
                return reader.problem(said("unit \"{}\" does not fit {}.", text_in(fields, unit_of_value), code(*q)));
            row.reading.value = *number.value() * *factor;
            if (const std::string named = text_in(fields, condition); !named.empty()) {
                const auto c = condition_from(named);
                if (!c)
                    return reader.problem(
                        said("\"{}\" is not a condition. Use rest, end-of-charge, load or stored.", named));
                row.reading.conditions.condition = *c;
            }
            row.reading.instrument = text_in(fields, instrument);
            row.reading.protocol = "typed";
            return optional_numbers(reader, fields,
                                    {{&temperature, &row.reading.conditions.temperature_c},
                                     {&days, &row.reading.conditions.days_since_charge}});
        });
}

Result<std::map<std::string, std::string>> read_log_dates(std::string_view text, const std::string& file) {
    struct Row {
        std::string log, taken;
        int line = 0;
    };
    Column log = text_column("File", {"file"}, true);
    Column taken = text_column("Taken", {"taken"}, true);
    const auto rows = each_row<Row>(
        text, file, {&log, &taken}, [&](CsvReader& reader, const Fields& fields, Row& row) -> std::optional<Problem> {
            row.log = text_in(fields, log);
            row.taken = text_in(fields, taken);
            if (!normal_moment(row.taken))
                return reader.problem(
                    said("\"{}\" is no moment. Write it as 2026-11-27 or 2026-11-27T10:39.", row.taken));
            return std::nullopt;
        });
    if (!rows)
        return rows.problem();
    std::map<std::string, std::string> out;
    for (const Row& row : rows.value())
        out[row.log] = row.taken;
    return out;
}

Result<std::vector<BuildRow>> read_builds(std::string_view text, const std::string& file) {
    Column build = text_column("Build", {"build"}, true);
    Column unit = text_column("Unit ID", {"unit id", "cell id"}, true);
    Column group = number_column("Group", Dimension::number, {"group"}, true);
    Column taken = text_column("Taken", {"taken"});
    return each_row<BuildRow>(text, file, {&build, &unit, &group, &taken},
                              [&](CsvReader& reader, const Fields& fields, BuildRow& row) -> std::optional<Problem> {
                                  row.build = text_in(fields, build);
                                  row.unit = text_in(fields, unit);
                                  row.taken = text_in(fields, taken) == "yes";
                                  if (auto p = whole(reader, fields, group, 1, most_groups, 1, row.group))
                                      return p;
                                  return std::nullopt;
                              });
}

} // namespace ingot::exchange
