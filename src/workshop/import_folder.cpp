// Bringing in a folder of open files, as the demo workshop and a shop's own back-up come in: in one transaction,
// through the ordinary readers, with the file and line of whatever does not fit.
#include "workshop/workshop.h"

#include "exchange/text_file.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>

namespace ingot {

namespace {

namespace fs = std::filesystem;

struct Stop {
    Problem problem;
};

template <class Reader> auto read_rows(const fs::path& path, Reader reader) {
    using Rows = std::decay_t<decltype(reader(std::string_view{}, std::string{}).value())>;
    if (!fs::exists(path))
        return Rows{};
    const auto text = exchange::read_text(path.string());
    if (!text)
        throw Stop{text.problem()};
    auto rows = reader(text.value(), path.string());
    if (!rows)
        throw Stop{rows.problem()};
    return std::move(rows).value();
}

} // namespace

Result<bool> Workshop::import_folder(const std::string& folder) {
    if (auto problem = read_only_problem())
        return *problem;
    const fs::path base(folder);
    std::map<std::string, Id> lots;
    std::map<std::string, Id> packs;
    std::map<std::string, Id> units;
    for (const auto& lot : lots_)
        lots[lot.label] = lot.id;
    for (const auto& p : packs_)
        packs[p.label] = p.id;
    for (const auto& u : units_)
        units[u.code()] = u.record.id;
    const auto fail = [](const fs::path& file, int line, const std::string& sentence) -> Stop {
        return Stop{{file.string(), line, sentence}};
    };
    try {
        records_.together([&] {
            const fs::path lots_file = base / "lots.csv";
            for (const auto& row : read_rows(lots_file, exchange::read_lots)) {
                if (lots.contains(row.label))
                    throw fail(lots_file, row.line, "lot " + row.label + " exists already.");
                lots[row.label] =
                    records_.add(store::LotRecord{0, row.label, row.source, row.received, row.note, row.cost});
            }
            const fs::path packs_file = base / "packs.csv";
            for (const auto& row : read_rows(packs_file, exchange::read_packs)) {
                if (!lots.contains(row.lot))
                    throw fail(packs_file, row.line, "lot " + row.lot + " is not known. Add it to lots.csv.");
                if (packs.contains(row.label))
                    throw fail(packs_file, row.line, "pack " + row.label + " exists already.");
                if (library_.chemistry(row.chemistry) == nullptr)
                    throw fail(packs_file, row.line, "chemistry \"" + row.chemistry + "\" is not in the library.");
                store::PackRecord record;
                record.lot_id = lots[row.lot];
                record.label = row.label;
                record.chemistry = row.chemistry;
                record.model = row.model;
                record.format = row.format;
                record.shelf = row.shelf;
                record.stage = row.stage.empty() ? "receive" : row.stage;
                record.layout = row.layout;
                record.claim = row.claim;
                record.created_at = now();
                const Id id = packs[row.label] = records_.add(record);
                for (const std::string& finding : row.findings) {
                    const exchange::LookFinding* known = library_.finding(finding);
                    if (known == nullptr)
                        throw fail(packs_file, row.line, "look finding \"" + finding + "\" is not in the library.");
                    records_.add_finding(id, 0, finding, now());
                    if (known->consequence >= Consequence::quarantine)
                        records_.open_quarantine(id, 0, finding, now());
                }
            }
            const fs::path units_file = base / "units.csv";
            for (const auto& row : read_rows(units_file, exchange::read_units)) {
                const auto unit_code = parse_unit_code(row.code);
                if (!unit_code)
                    throw fail(units_file, row.line, unit_code.problem().sentence);
                if (units.contains(unit_code.value().text()))
                    throw fail(units_file, row.line, "unit " + row.code + " exists already.");
                if (!row.pack.empty() && !packs.contains(row.pack))
                    throw fail(units_file, row.line, "pack " + row.pack + " is not known.");
                store::UnitRecord record;
                record.code = unit_code.value();
                record.pack_id = row.pack.empty() ? 0 : packs[row.pack];
                record.group = row.group;
                record.place = row.place;
                record.model = row.model;
                record.tray = row.tray;
                record.well = row.well;
                const Id id = units[record.code.text()] = records_.add(record, now());
                for (const std::string& finding : row.findings) {
                    const exchange::LookFinding* known = library_.finding(finding);
                    if (known == nullptr)
                        throw fail(units_file, row.line, "look finding \"" + finding + "\" is not in the library.");
                    records_.add_finding(0, id, finding, now());
                    if (known->consequence >= Consequence::quarantine)
                        records_.open_quarantine(0, id, finding, now());
                }
            }
            const fs::path readings_file = base / "readings.csv";
            for (const auto& row : read_rows(readings_file, exchange::read_readings)) {
                store::ReadingRecord record;
                record.reading = row.reading;
                record.group = row.group;
                record.taken_at = row.taken.empty() ? now() : row.taken;
                record.recorded_at = now();
                if (!row.pack.empty()) {
                    if (!packs.contains(row.pack))
                        throw fail(readings_file, row.line, "pack " + row.pack + " is not known.");
                    record.pack_id = packs[row.pack];
                } else {
                    if (!units.contains(row.unit))
                        throw fail(readings_file, row.line, "unit " + row.unit + " is not known.");
                    record.unit_id = units[row.unit];
                }
                records_.add(record);
            }
            const fs::path builds_file = base / "builds.csv";
            std::map<std::string, store::BuildRecord> builds;
            std::map<std::string, std::vector<Id>> taken;
            for (const auto& row : read_rows(builds_file, exchange::read_builds)) {
                if (!units.contains(row.unit))
                    throw fail(builds_file, row.line, "unit " + row.unit + " is not known.");
                store::BuildRecord& build = builds[row.build];
                build.label = row.build;
                build.series = std::max(build.series, row.group);
                const int place =
                    1 + static_cast<int>(std::count_if(build.units.begin(), build.units.end(),
                                                       [&](const auto& u) { return u.group == row.group; }));
                build.parallel = std::max(build.parallel, place);
                build.units.push_back({row.group, place, units[row.unit], "", "", 0});
                if (row.taken)
                    taken[row.build].push_back(units[row.unit]);
            }
            const auto all_units = records_.units();
            for (auto& [label, build] : builds) {
                for (auto& member : build.units) {
                    const auto u = std::find_if(all_units.begin(), all_units.end(),
                                                [&](const auto& r) { return r.id == member.unit_id; });
                    member.from_tray = u->tray;
                    member.from_well = u->well;
                    const UnitModel* model = library_.model(u->model);
                    build.chemistry = model != nullptr ? model->chemistry : build.chemistry;
                }
                build.rule_set = rules_.stamp();
                build.created_at = now();
                const Id id = records_.add(build);
                for (const Id u : taken[label])
                    records_.set_taken(id, u, now());
            }
            load();
            // Logs, each for the unit that its file name gives.
            std::vector<fs::path> logs;
            if (fs::is_directory(base / "logs"))
                for (const auto& entry : fs::directory_iterator(base / "logs"))
                    if (entry.path().extension() == ".csv")
                        logs.push_back(entry.path());
            std::sort(logs.begin(), logs.end());
            for (const fs::path& path : logs) {
                const auto unit_id = find_unit(path.stem().string());
                if (!unit_id)
                    throw fail(path, 0, unit_id.problem().sentence);
                auto log = read_rows(path, [](std::string_view text, const std::string& file) {
                    return exchange::read_log(text, file);
                });
                CapacityOptions options;
                const UnitState* u = unit(unit_id.value());
                if (const Chemistry* chemistry = library_.chemistry(u->facts.chemistry))
                    options = capacity_options(*chemistry, u->reference.cells_in_series);
                const CapacityResult result = measure_capacity(log.samples, options);
                LogSamples samples = log.samples; // may be turned while the resistance is measured
                if (const auto done = import_log(unit_id.value(), log, result, path.filename().string(), "bench tester",
                                                 measure_resistance(samples));
                    !done)
                    throw Stop{done.problem()};
            }
        });
        load();
    } catch (const Stop& stop) {
        load();
        return stop.problem;
    } catch (const SQLite::Exception& exception) {
        load();
        return Problem{folder, 0,
                       std::string("could not be brought in (") + exception.what() + "). Nothing was recorded."};
    }
    emit changed();
    return true;
}

} // namespace ingot
