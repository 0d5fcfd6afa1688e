#include "exchange/readings_csv.h"

#include "exchange/block_columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace ingot::exchange {

namespace {

constexpr double no_current_a = 0.02;

Result<int> group_in(CsvReader& reader, const std::vector<std::string_view>& fields, const Column& column,
                     const PackLayout& layout) {
    const auto number = number_in(reader, fields, column);
    if (!number)
        return number.problem();
    const double value = number.value().value_or(0);
    if (!number.value() || value != std::floor(value) || value < 1 || value > layout.series)
        return reader.problem(
            said("group \"{}\" does not exist: the pack has groups 1 to {}. Correct the number or the pack's series.",
                 text_in(fields, column), layout.series));
    return static_cast<int>(value);
}

Result<double> volts_in(CsvReader& reader, const std::vector<std::string_view>& fields, const Column& column) {
    const auto number = number_in(reader, fields, column);
    if (!number)
        return number.problem();
    if (!number.value())
        return reader.problem(said("\"Voltage / V\" is blank. Give the reading, or leave the line out."));
    if (std::fabs(*number.value()) > no_group_v)
        return reader.problem(
            said("{} V is not one group's voltage. Has a decimal point slipped?", text_in(fields, column)));
    return *number.value();
}

Result<GroupReadings> read_snapshot(CsvReader& reader, const PackLayout& layout) {
    GroupReadings out;
    out.snapshot = true;
    const auto found_blocks = find_block_columns(reader, layout.series);
    if (!found_blocks)
        return found_blocks.problem();
    const std::vector<Column>& blocks = found_blocks.value();
    Column current{"Current / A", Dimension::ampere, {"current", "pack current"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&current}); !found)
        return found.problem();
    std::vector<std::string_view> fields;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            break;
        ++out.rows;
        out.readings.clear();
        const auto amperes = number_in(reader, fields, current);
        if (!amperes)
            return amperes.problem();
        const double a = amperes.value().value_or(0);
        if (a > no_current_a)
            return reader.problem(said("the snapshot was taken while charging. Give one at rest or under load."));
        for (std::size_t g = 0; g < blocks.size(); ++g) {
            if (!blocks[g].index)
                continue;
            const auto volts = block_volts(reader, fields, blocks[g]);
            if (!volts)
                return volts.problem();
            if (!volts.value())
                continue;
            GroupReading reading;
            reading.group = static_cast<int>(g) + 1;
            reading.voltage_v = *volts.value();
            reading.resolution_v = last_digit(text_in(fields, blocks[g])) * blocks[g].factor;
            if (a < -no_current_a) {
                reading.condition = Condition::load;
                reading.current_a = a;
            }
            out.readings.push_back(reading);
        }
    }
    return out;
}

} // namespace

Result<GroupReadings> read_group_readings(std::string_view text, const std::string& file, const PackLayout& layout) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    GroupReadings out;
    if (has_block_columns(reader)) {
        auto snapshot = read_snapshot(reader, layout);
        if (!snapshot)
            return snapshot;
        out = std::move(snapshot.value());
    } else {
        Column group{"Group", Dimension::number, {"group", "block"}, true, {}, 1, {}};
        Column voltage{"Voltage / V", Dimension::volt, {"voltage"}, true, {}, 1, {}};
        Column condition{"Condition", Dimension::text, {"condition"}, false, {}, 1, {}};
        Column current{"Current / A", Dimension::ampere, {"current"}, false, {}, 1, {}};
        Column days{"Days", Dimension::day, {"days", "day"}, false, {}, 1, {}};
        Column capacity{"Capacity / Ah", Dimension::ampere_hour, {"capacity"}, false, {}, 1, {}};
        Column resistance{"Resistance / Ohm", Dimension::ohm, {"resistance"}, false, {}, 1, {}};
        if (const auto found =
                find_columns(reader, {&group, &voltage, &condition, &current, &days, &capacity, &resistance});
            !found)
            return found.problem();
        std::vector<std::string_view> fields;
        while (true) {
            const auto more = reader.next(fields);
            if (!more)
                return more.problem();
            if (!more.value())
                break;
            GroupReading reading;
            const auto number = group_in(reader, fields, group, layout);
            if (!number)
                return number.problem();
            reading.group = number.value();
            const auto volts = volts_in(reader, fields, voltage);
            if (!volts)
                return volts.problem();
            reading.voltage_v = volts.value();
            reading.resolution_v = last_digit(text_in(fields, voltage)) * voltage.factor;
            if (const std::string word = text_in(fields, condition); !word.empty()) {
                const auto known = condition_from(word);
                if (!known)
                    return reader.problem(
                        said("condition \"{}\" is not known. Use rest, end-of-charge, load, charge or stored.", word));
                reading.condition = *known;
            }
            const auto amperes = number_in(reader, fields, current);
            if (!amperes)
                return amperes.problem();
            if (amperes.value() && reading.condition == Condition::load) {
                if (*amperes.value() > 0)
                    return reader.problem(said("the current under load is positive, as if it charged. While "
                                               "discharging it is negative: put a minus before it."));
                reading.current_a = amperes.value();
            }
            const auto stood = number_in(reader, fields, days);
            if (!stood)
                return stood.problem();
            if (stood.value() && *stood.value() < 0)
                return reader.problem(said("\"Days\" is negative. Give the days since the reading at rest."));
            if (stood.value() && reading.condition == Condition::stored)
                reading.days = stood.value();
            const auto held = number_in(reader, fields, capacity);
            if (!held)
                return held.problem();
            if (held.value() && *held.value() <= 0)
                return reader.problem(
                    said("\"Capacity / Ah\" must be above 0; leave it blank where it was not measured."));
            if (held.value())
                out.capacities.push_back({reading.group, *held.value()});
            const auto ohm = number_in(reader, fields, resistance);
            if (!ohm)
                return ohm.problem();
            if (ohm.value() && *ohm.value() <= 0)
                return reader.problem(
                    said("\"Resistance / Ohm\" must be above 0; leave it blank where it was not measured."));
            if (ohm.value())
                out.resistances.push_back({reading.group, *ohm.value()});
            out.readings.push_back(reading);
        }
    }
    if (out.readings.empty())
        return Problem{file, 0, said("there is no reading in it. Give one line for each group that was read.")};
    out.dialect = reader.dialect();
    return out;
}

Result<std::vector<UnitVoltage>> read_unit_voltages(std::string_view text, const std::string& file,
                                                    const PackLayout& layout) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column group{"Group", Dimension::number, {"group", "block"}, true, {}, 1, {}};
    Column unit{"Unit", Dimension::text, {"unit", "unit id", "cell", "cell id"}, true, {}, 1, {}};
    Column voltage{"Voltage / V", Dimension::volt, {"voltage"}, true, {}, 1, {}};
    if (const auto found = find_columns(reader, {&group, &unit, &voltage}); !found)
        return found.problem();
    std::vector<UnitVoltage> out;
    std::vector<std::string_view> fields;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            break;
        const auto number = group_in(reader, fields, group, layout);
        if (!number)
            return number.problem();
        const auto volts = volts_in(reader, fields, voltage);
        if (!volts)
            return volts.problem();
        out.push_back({number.value(), text_in(fields, unit), volts.value()});
    }
    return out;
}

Result<bool> read_evidence(std::string_view text, const std::string& file, TriageCase& pack) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column kind{"Kind", Dimension::text, {"kind"}, true, {}, 1, {}};
    Column group{"Group", Dimension::number, {"group", "block"}, true, {}, 1, {}};
    Column value{"Value", Dimension::number, {"value"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&kind, &group, &value}); !found)
        return found.problem();
    std::vector<std::string_view> fields;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            return true;
        const auto number = group_in(reader, fields, group, pack.layout);
        if (!number)
            return number.problem();
        const auto figure = number_in(reader, fields, value);
        if (!figure)
            return figure.problem();
        const std::string what = text_in(fields, kind);
        if ((what == "temperature" || what == "capacity") && !figure.value())
            return reader.problem(said("a {} needs its value.", what));
        if (what == "temperature")
            pack.temperatures.push_back({number.value(), *figure.value(), false});
        else if (what == "capacity" && *figure.value() <= 0)
            return reader.problem(said("a capacity is above 0. Give ampere-hours."));
        else if (what == "capacity")
            pack.capacities.push_back({number.value(), *figure.value()});
        else if (what == "replaced")
            pack.replaced.push_back(number.value());
        else if (what == "lead-moved" || what == "lead-stayed")
            pack.swaps.push_back({number.value(), what == "lead-moved"});
        else
            return reader.problem(said(
                "kind \"{}\" is not known. Use temperature, capacity, replaced, lead-moved or lead-stayed.", what));
    }
}

} // namespace ingot::exchange
