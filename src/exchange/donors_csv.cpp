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
    Rows rows(reader);
    while (rows.next()) {
        DonorGroup row;
        row.pack = rows.needed_text(pack, "Give every pack its label.");
        const double n = rows.number(group).value_or(0);
        if (n != std::floor(n) || n < 1 || n > most_groups)
            rows.object(said("group \"{}\" is not a number from 1 to 200.", rows.text(group)));
        row.voltage_v = rows.needed(voltage, "Read the group, or give 0 for one that is dead.");
        row.capacity_ah = rows.number(capacity);
        if (row.capacity_ah && *row.capacity_ah < 0)
            rows.object(said("\"Capacity / Ah\" is negative."));
        row.model = rows.text(model);
        if (rows.problem())
            break;
        row.group = static_cast<int>(n);
        const auto [at, fresh] = seen.emplace(std::make_pair(row.pack, row.group), rows.line());
        if (!fresh)
            rows.object(said("group {} of pack {} stands on line {} already.", row.group, row.pack, at->second));
        out.push_back(std::move(row));
    }
    if (rows.problem())
        return *rows.problem();
    if (out.empty())
        return Problem{file, 0, said("there is no group in it. Give one line for each group of each pack.")};
    return out;
}

} // namespace ingot::exchange
