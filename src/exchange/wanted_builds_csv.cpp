#include "exchange/wanted_builds_csv.h"

#include "exchange/columns.h"

#include <cmath>
#include <fmt/format.h>
#include <map>

namespace ingot::exchange {

namespace {

struct BuildColumns {
    Column id{"Build", Dimension::text, {"build"}, true, {}, 1, {}};
    Column series{"Series", Dimension::number, {"series", "s"}, true, {}, 1, {}};
    Column parallel{"Parallel", Dimension::number, {"parallel", "p"}, true, {}, 1, {}};
    Column chemistry{"Chemistry", Dimension::text, {"chemistry"}, false, {}, 1, {}};
    Column priority{"Priority", Dimension::number, {"priority"}, false, {}, 1, {}};
    Column duty{"Duty", Dimension::text, {"duty"}, false, {}, 1, {}};
    Column wanted{"Usable Capacity / Ah", Dimension::ampere_hour, {"usable capacity"}, false, {}, 1, {}};
    Column give_up{"Give Up / %", Dimension::text, {"give up"}, false, {}, 1, {}};
    Column model{"Model", Dimension::text, {"model"}, false, {}, 1, {}};
    Column like{"Like", Dimension::text, {"like"}, false, {}, 1, {}};

    std::vector<Column*> all() {
        return {&id, &series, &parallel, &chemistry, &priority, &duty, &wanted, &give_up, &model, &like};
    }
};

int whole(Rows& rows, const Column& column, int otherwise, int most) {
    const auto value = rows.number(column);
    if (rows.problem())
        return otherwise;
    if (!value && column.required)
        rows.object(said("\"{}\" is blank. Give a whole number from 1.", column.wanted));
    if (value && (*value != std::floor(*value) || *value < 1 || *value > most))
        rows.object(said("\"{}\" is a whole number from 1 to {}.", column.wanted, most));
    return rows.problem() ? otherwise : static_cast<int>(value.value_or(otherwise));
}

void read_row(Rows& rows, const BuildColumns& c, WantedBuild& out) {
    constexpr int most_series = 200;
    constexpr int most_parallel = 500;
    constexpr int most_priority = 1000;
    AllotBuild& build = out.build;
    build.id = rows.needed_text(c.id, "Give every build a name.");
    build.series = whole(rows, c.series, 1, most_series);
    build.parallel = whole(rows, c.parallel, 1, most_parallel);
    build.priority = whole(rows, c.priority, 1, most_priority);
    build.chemistry = rows.text(c.chemistry);
    build.model = rows.text(c.model);
    out.like = rows.text(c.like);
    build.wanted_ah = rows.number(c.wanted);
    if (build.wanted_ah && !(*build.wanted_ah > 0))
        rows.object(said("\"Usable Capacity / Ah\" must be over 0; leave it blank for as much as there is."));
    if (const std::string duty = rows.text(c.duty); !duty.empty()) {
        out.duty = duty_from(duty);
        if (!out.duty || static_cast<int>(*out.duty) >= working_duty_count)
            rows.object(said("duty \"{}\" is not known. Use drive, store or light.", duty));
    }
    if (const std::string percent = rows.text(c.give_up); !percent.empty()) {
        constexpr double most = 20;
        const auto value = parse_number(percent);
        if (!value || *value < 0 || *value > most)
            rows.object(said("\"Give Up / %\" is a number from 0 to 20."));
        else
            build.give_up = *value / 100;
    }
}

} // namespace

Result<std::vector<WantedBuild>> read_wanted_builds(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    BuildColumns columns;
    if (const auto found = find_columns(reader, columns.all()); !found)
        return found.problem();
    std::vector<WantedBuild> out;
    std::map<std::string, int> seen;
    Rows rows(reader);
    while (rows.next()) {
        WantedBuild wanted;
        wanted.line = rows.line();
        read_row(rows, columns, wanted);
        const auto [at, fresh] = seen.emplace(wanted.build.id, rows.line());
        if (!fresh)
            rows.object(said("build {} stands on line {} already.", wanted.build.id, at->second));
        if (rows.problem())
            break;
        out.push_back(std::move(wanted));
    }
    if (rows.problem())
        return *rows.problem();
    if (out.empty())
        return Problem{file, 0, said("there is no build in it. Give one line for each build.")};
    return out;
}

std::string write_allotment(const AllotProblem& problem, const AllotResult& result) {
    std::string out = csv_line({"Cell ID", "Build", "Group"});
    for (std::size_t b = 0; b < result.builds.size(); ++b)
        for (std::size_t g = 0; g < result.builds[b].match.groups.size(); ++g)
            for (const std::size_t u : result.builds[b].match.groups[g].units)
                out += csv_line({problem.pool[u].id, problem.builds[b].id, std::to_string(g + 1)});
    return out;
}

} // namespace ingot::exchange
