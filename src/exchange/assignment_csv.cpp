#include "exchange/assignment_csv.h"

#include "exchange/columns.h"

#include <cmath>
#include <fmt/format.h>
#include <map>

namespace ingot::exchange {

Result<std::vector<std::vector<std::string>>> read_assignment(std::string_view text, const std::string& file,
                                                              int series, int parallel) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column id{"Cell ID", Dimension::text, {"cell id", "cell", "unit id", "unit"}, true, {}, 1, {}};
    Column group{"Group", Dimension::number, {"group"}, true, {}, 1, {}};
    if (const auto found = find_columns(reader, {&id, &group}); !found)
        return found.problem();
    std::vector<std::vector<std::string>> out(static_cast<std::size_t>(series));
    std::map<std::string, int> seen;
    Rows rows(reader);
    while (rows.next()) {
        const std::string name = rows.needed_text(id, "Give every unit its code.");
        const double n = rows.needed(group, "Say which group the unit goes to.");
        if (!rows.problem() && (n != std::floor(n) || n < 1 || n > series))
            rows.object(said("group \"{}\" is not a number from 1 to {}.", rows.text(group), series));
        const auto [at, fresh] = seen.emplace(name, rows.line());
        if (!fresh)
            rows.object(said("{} stands on line {} already.", name, at->second));
        if (rows.problem())
            break;
        auto& members = out[static_cast<std::size_t>(n) - 1];
        members.push_back(name);
        if (members.size() > static_cast<std::size_t>(parallel))
            rows.object(said("group {} has more than {} units.", fmt::format("{:.0f}", n), parallel));
    }
    if (rows.problem())
        return *rows.problem();
    for (std::size_t g = 0; g < out.size(); ++g)
        if (out[g].size() < static_cast<std::size_t>(parallel))
            return Problem{file, 0, said("group {} has {} units of {}.", g + 1, out[g].size(), parallel)};
    return out;
}

} // namespace ingot::exchange
