#include "exchange/donors_csv.h"

#include "exchange/columns.h"

#include <cmath>
#include <fmt/format.h>
#include <map>

namespace ingot::exchange {

Result<std::vector<DonorGroup>> read_donor_groups(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column pack{"Pack", Dimension::text, {"pack", "pack id"}, true, {}, 1, {}};
    Column group{"Group", Dimension::number, {"group", "block"}, true, {}, 1, {}};
    Column voltage{"Voltage / V", Dimension::volt, {"voltage"}, true, {}, 1, {}};
    Column capacity{"Capacity / Ah", Dimension::ampere_hour, {"capacity"}, false, {}, 1, {}};
    Column model{"Model", Dimension::text, {"model"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&pack, &group, &voltage, &capacity, &model}); !found)
        return found.problem();
    constexpr double most_groups = 200;
    std::vector<DonorGroup> out;
    std::map<std::pair<std::string, int>, int> seen;
    std::vector<std::string_view> fields;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            break;
        DonorGroup row;
        row.pack = text_in(fields, pack);
        if (row.pack.empty())
            return reader.problem("\"Pack\" is blank. Give every pack its label.");
        const auto number = number_in(reader, fields, group);
        if (!number)
            return number.problem();
        const double n = number.value().value_or(0);
        if (n != std::floor(n) || n < 1 || n > most_groups)
            return reader.problem(fmt::format("group \"{}\" is not a number from 1 to 200.", text_in(fields, group)));
        row.group = static_cast<int>(n);
        const auto volts = number_in(reader, fields, voltage);
        if (!volts)
            return volts.problem();
        if (!volts.value())
            return reader.problem("\"Voltage / V\" is blank. Read the group, or give 0 for one that is dead.");
        row.voltage_v = *volts.value();
        const auto ah = number_in(reader, fields, capacity);
        if (!ah)
            return ah.problem();
        if (ah.value() && *ah.value() < 0)
            return reader.problem("\"Capacity / Ah\" is negative.");
        row.capacity_ah = ah.value();
        row.model = text_in(fields, model);
        const auto [at, fresh] = seen.emplace(std::make_pair(row.pack, row.group), reader.line());
        if (!fresh)
            return reader.problem(
                fmt::format("group {} of pack {} stands on line {} already.", row.group, row.pack, at->second));
        out.push_back(std::move(row));
    }
    if (out.empty())
        return Problem{file, 0, "there is no group in it. Give one line for each group of each pack."};
    return out;
}

} // namespace ingot::exchange
