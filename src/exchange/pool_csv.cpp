#include "exchange/pool_csv.h"

#include "exchange/columns.h"

#include <fmt/format.h>
#include <functional>
#include <unordered_map>

namespace ingot::exchange {

Result<Pool> read_pool(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column id{"Cell ID", Dimension::text, {"cell id", "unit id", "unit", "cell"}, true, {}, 1, {}};
    Column capacity{"Capacity / Ah", Dimension::ampere_hour, {"capacity", "discharge capacity"}, false, {}, 1, {}};
    Column dc{"DC Resistance / Ohm", Dimension::ohm, {"dc resistance"}, false, {}, 1, {}};
    Column ac{"AC Resistance / Ohm", Dimension::ohm, {"ac resistance"}, false, {}, 1, {}};
    Column leak{"Self-discharge / mAh/day", Dimension::ampere_hour_per_day, {"self discharge"}, false, {}, 1, {}};
    Column model{"Model", Dimension::text, {"model"}, false, {}, 1, {}};
    Column voltage{"Voltage / V", Dimension::volt, {"voltage"}, false, {}, 1, {}};
    Column chemistry{"Chemistry", Dimension::text, {"chemistry"}, false, {}, 1, {}};
    Column rated{"Rated Capacity / Ah", Dimension::ampere_hour, {"rated capacity"}, false, {}, 1, {}};
    Column fresh{"New DC Resistance / Ohm", Dimension::ohm, {"new dc resistance"}, false, {}, 1, {}};
    Column cells{"Cells in Series", Dimension::number, {"cells in series"}, false, {}, 1, {}};
    if (const auto found = find_columns(
            reader, {&id, &capacity, &dc, &ac, &leak, &model, &voltage, &chemistry, &rated, &fresh, &cells});
        !found)
        return found.problem();
    Pool pool;
    std::unordered_map<std::string, int> seen;
    std::vector<std::string_view> fields;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            return more.problem();
        if (!more.value())
            break;
        PoolRow row;
        row.line = reader.line();
        row.unit.id = text_in(fields, id);
        if (row.unit.id.empty())
            return reader.problem(said("\"Cell ID\" is blank. Give every unit a code of its own."));
        if (const auto [at, fresh_id] = seen.emplace(row.unit.id, row.line); !fresh_id)
            return reader.problem(
                said("{} stands on line {} already. A unit may appear once.", row.unit.id, at->second));
        row.unit.model = text_in(fields, model);
        row.unit.chemistry = text_in(fields, chemistry);
        struct Target {
            const Column* column;
            std::function<void(double)> keep;
            bool positive;
        };
        MatchUnit& unit = row.unit;
        const Target targets[] = {{&capacity, [&](double v) { unit.capacity_ah = v; }, false},
                                  {&dc, [&](double v) { unit.resistance_ohm = v; }, true},
                                  {&ac, [&](double v) { row.ac_resistance_ohm = v; }, true},
                                  {&leak, [&](double v) { unit.self_discharge_ah_per_day = v; }, false},
                                  {&voltage, [&](double v) { unit.voltage_v = v; }, false},
                                  {&rated, [&](double v) { row.rated_ah = v; }, true},
                                  {&fresh, [&](double v) { row.new_dc_resistance_ohm = v; }, true},
                                  {&cells, [&](double v) { row.cells_in_series = static_cast<int>(v); }, true}};
        for (const Target& target : targets) {
            auto value = number_in(reader, fields, *target.column);
            if (!value)
                return value.problem();
            if (!value.value())
                continue;
            if (target.positive && *value.value() <= 0)
                return reader.problem(
                    said("\"{}\" must be more than 0. Leave it blank if it is not known.", target.column->header));
            target.keep(*value.value());
        }
        constexpr int most_cells = 24;
        if (row.cells_in_series && *row.cells_in_series > most_cells)
            return reader.problem(
                said("{} cells in series in one unit cannot be: 1 to {}.", *row.cells_in_series, most_cells));
        constexpr double largest_ah = 2000;
        if (row.unit.capacity_ah && (*row.unit.capacity_ah < 0 || *row.unit.capacity_ah > largest_ah))
            return reader.problem(
                said("a capacity of {} Ah cannot be. Check the sign and the unit in the header (Ah or mAh).",
                     row.unit.capacity_ah->value));
        pool.rows.push_back(std::move(row));
    }
    if (pool.rows.empty())
        return reader.problem(said("there is a header but no units."));
    pool.dialect = reader.dialect();
    return pool;
}

std::string write_pool(const std::vector<MatchUnit>& units) {
    std::string out = csv_line({"Cell ID", "Capacity / Ah", "DC Resistance / Ohm", "Self-discharge / mAh/day", "Model",
                                "Voltage / V", "Chemistry"});
    for (const MatchUnit& u : units) {
        std::optional<double> leak = u.self_discharge_ah_per_day;
        if (leak)
            *leak *= 1000;
        out += csv_line({u.id, csv_number(u.capacity_ah), csv_number(u.resistance_ohm), csv_number(leak), u.model,
                         csv_number(u.voltage_v), u.chemistry});
    }
    return out;
}

std::string write_assignment(const MatchProblem& problem, const MatchResult& result) {
    std::string out = csv_line({"Cell ID", "Group"});
    for (std::size_t g = 0; g < result.groups.size(); ++g)
        for (const std::size_t u : result.groups[g].units)
            out += csv_line({problem.pool[u].id, std::to_string(g + 1)});
    return out;
}

UnitFacts facts_of(const PoolRow& row) {
    UnitFacts facts;
    facts.id = row.unit.id;
    facts.model = row.unit.model;
    facts.chemistry = row.unit.chemistry;
    facts.capacity_ah = row.unit.capacity_ah;
    facts.dc_resistance_ohm = row.unit.resistance_ohm;
    facts.ac_resistance_ohm = row.ac_resistance_ohm;
    facts.self_discharge_ah_per_day = row.unit.self_discharge_ah_per_day;
    facts.rest_voltage_v = row.unit.voltage_v;
    return facts;
}

} // namespace ingot::exchange
