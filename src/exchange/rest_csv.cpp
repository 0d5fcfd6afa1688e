#include "exchange/rest_csv.h"

#include "exchange/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace ingot::exchange {

Result<RestFile> read_rest(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column id{"Cell ID", Dimension::text, {"cell id", "cell", "unit id", "unit"}, true, {}, 1, {}};
    Column time{"Time / h", Dimension::hour, {"time"}, true, {}, 1, {}};
    Column volts{"Voltage / V", Dimension::volt, {"voltage"}, true, {}, 1, {}};
    Column capacity{"Capacity / Ah", Dimension::ampere_hour, {"capacity"}, false, {}, 1, {}};
    Column model{"Model", Dimension::text, {"model"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&id, &time, &volts, &capacity, &model}); !found)
        return found.problem();
    RestFile out;
    std::map<std::string, std::size_t> index;
    std::map<std::pair<std::string, double>, int> seen;
    Rows rows(reader);
    while (rows.next()) {
        const std::string name = rows.needed_text(id, "Give every unit its code.");
        const double hours = rows.needed(time, "Say when it was read, in hours on one axis for all.");
        const double volt = rows.needed(volts, "Leave the line out where nothing was read.");
        const auto ah = rows.number(capacity);
        if (ah && !(*ah > 0))
            rows.object(said("\"Capacity / Ah\" must be over 0; leave it blank where it is not known."));
        const auto [line, fresh] = seen.emplace(std::make_pair(name, hours), rows.line());
        if (!fresh)
            rows.object(said("{} was read at that time on line {} already.", name, line->second));
        if (rows.problem())
            break;
        const auto [at, is_new] = index.emplace(name, out.units.size());
        if (is_new)
            out.units.push_back({{name, {}, {}, 1}, rows.text(model)});
        RestingUnit& unit = out.units[at->second].unit;
        unit.readings.push_back({hours, volt});
        if (ah && unit.capacity_ah && *ah != *unit.capacity_ah)
            rows.object(said("{} has another capacity on a line above. Keep one.", name));
        if (ah)
            unit.capacity_ah = ah;
    }
    if (rows.problem())
        return *rows.problem();
    if (out.units.empty())
        return Problem{file, 0, said("there is no reading in it. Give one line for each unit and time.")};
    out.last_line_dropped = reader.dialect().last_line_dropped;
    return out;
}

} // namespace ingot::exchange
