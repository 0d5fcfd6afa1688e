#include "exchange/cycles_csv.h"

#include "exchange/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace ingot::exchange {

Result<std::vector<CycledUnit>> read_cycles(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column unit{"Unit ID", Dimension::text, {"unit id", "unit", "cell id", "module"}, true, {}, 1, {}};
    Column cycle{"Cycle", Dimension::number, {"cycle", "cycle index", "cycle number"}, true, {}, 1, {}};
    Column capacity{"Discharge Capacity / Ah",
                    Dimension::ampere_hour,
                    {"discharge capacity", "discharging capacity", "capacity"},
                    true,
                    {},
                    1,
                    {}};
    Column stop{"Stop", Dimension::text, {"stop", "stopped by"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&unit, &cycle, &capacity, &stop}); !found)
        return found.problem();
    constexpr double most_cycles = 100'000;
    std::vector<CycledUnit> out;
    std::map<std::string, std::size_t> index;
    std::map<std::pair<std::string, int>, int> seen;
    Rows rows(reader);
    while (rows.next()) {
        const std::string id = rows.needed_text(unit, "Give every unit its code.");
        const double number = rows.needed(cycle, "Number the cycles from 1.");
        const double ah = rows.needed(capacity, "Leave the line out where nothing was measured.");
        if (number != std::floor(number) || number < 0 || number > most_cycles)
            rows.object(said("cycle \"{}\" is not a whole number. Number the cycles from 1.", rows.text(cycle)));
        if (ah < 0)
            rows.object(said("\"Discharge Capacity / Ah\" is negative. Give the amount that was taken out."));
        if (rows.problem())
            break;
        const auto [at, fresh] = seen.emplace(std::make_pair(id, static_cast<int>(number)), rows.line());
        if (!fresh)
            rows.object(
                said("cycle {} of {} stands on line {} already.", fmt::format("{:.0f}", number), id, at->second));
        std::string why = rows.text(stop);
        std::transform(why.begin(), why.end(), why.begin(), [](char c) { return c >= 'A' && c <= 'Z' ? c + 32 : c; });
        const auto [place, is_new] = index.emplace(id, out.size());
        if (is_new)
            out.push_back({id, {}});
        out[place->second].cycles.push_back({static_cast<int>(number), ah, why.empty() || why == "cutoff"});
    }
    if (rows.problem())
        return *rows.problem();
    if (out.empty())
        return Problem{file, 0, said("there is no cycle in it. Give one line for each cycle of each unit.")};
    return out;
}

} // namespace ingot::exchange
