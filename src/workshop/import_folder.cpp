// Bringing in a folder of open files, as the demo workshop and a shop's own back-up come in: in one transaction, each
// row by the step that a person would take, with the file and line of whatever does not fit.
#include "workshop/log_reading.h"
#include "workshop/workshop.h"

#include "core/measure/moment.h"
#include "exchange/records_csv.h"
#include "exchange/text_file.h"
#include "exchange/wanted_builds_csv.h"

#include <algorithm>
#include <filesystem>

namespace ingot {

namespace {

namespace fs = std::filesystem;

struct Known {
    std::map<std::string, Id> lots, packs, units, builds;
};

template <class Reader> auto read_rows(const fs::path& path, Reader reader) {
    using Rows = std::decay_t<decltype(reader(std::string_view{}, std::string{}))>;
    if (!fs::exists(path))
        return Rows(std::decay_t<decltype(std::declval<Rows>().value())>{});
    const auto text = exchange::read_text(path.string());
    if (!text)
        return Rows(text.problem());
    return reader(text.value(), path.string());
}

template <class T> Result<bool> placed(const Result<T>& done, const fs::path& file, int line) {
    if (done)
        return true;
    return Problem{file.string(), line, done.problem().sentence};
}

std::optional<AssemblyState> state_named(const std::string& stage) {
    // Older files name the stations.
    if (stage == "receive" || stage.empty())
        return AssemblyState::received;
    if (stage == "triage")
        return AssemblyState::in_triage;
    if (stage == "open")
        return AssemblyState::to_open;
    return assembly_state_from(stage);
}

class Importer {
public:
    Importer(Workshop& shop, const fs::path& folder, const ImportWatch& watch)
        : shop_(shop), folder_(folder), watch_(watch) {
        for (const Lot& lot : shop.lots())
            known_.lots[lot.label] = lot.id;
        for (const Assembly& p : shop.packs())
            known_.packs[p.label] = p.id;
        for (const UnitState& u : shop.units())
            known_.units[u.code()] = u.record.id;
    }

    Result<bool> run() {
        for (const auto part : {&Importer::models, &Importer::instruments, &Importer::lots, &Importer::packs,
                                &Importer::units, &Importer::readings, &Importer::builds, &Importer::logs})
            if (auto done = (this->*part)(); !done)
                return done;
        return true;
    }

private:
    // The models printed on its units.
    Result<bool> models() {
        const fs::path file = folder_ / "models.toml";
        if (!fs::exists(file))
            return true;
        const auto text = exchange::read_text(file.string());
        if (!text)
            return text.problem();
        const auto kept = shop_.catalogue().bring_in_models(text.value(), file.string());
        return kept ? Result<bool>(true) : kept.problem();
    }

    Result<bool> instruments() {
        const fs::path file = folder_ / "instruments.csv";
        const auto rows = read_rows(file, exchange::read_instruments);
        if (!rows)
            return rows.problem();
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            Instrument instrument;
            instrument.name = row.name;
            instrument.kind = row.kind;
            instrument.channels = row.channels;
            if (auto done = placed(shop_.catalogue().set_instrument(instrument), file, row.line); !done)
                return done;
        }
        return true;
    }

    Result<bool> lots() {
        const fs::path file = folder_ / "lots.csv";
        const auto rows = read_rows(file, exchange::read_lots);
        if (!rows)
            return rows.problem();
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            const auto id = shop_.receive().add_lot(Lot{0, row.label, row.source, row.received, row.note, row.cost});
            if (auto done = placed(id, file, row.line); !done)
                return done;
            known_.lots[row.label] = id.value();
        }
        return true;
    }

    Result<bool> packs() {
        const fs::path file = folder_ / "packs.csv";
        const auto rows = read_rows(file, exchange::read_packs);
        if (!rows)
            return rows.problem();
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            if (!known_.lots.contains(row.lot))
                return Problem{file.string(), row.line, said("lot {} is not known. Add it to lots.csv.", row.lot)};
            Assembly pack;
            pack.lot = known_.lots[row.lot];
            pack.label = row.label;
            pack.chemistry = row.chemistry;
            pack.model = row.model;
            pack.format = row.format;
            pack.shelf = row.shelf;
            const auto state = state_named(row.stage);
            if (!state)
                return Problem{
                    file.string(), row.line,
                    said("\"{}\" is no state of a pack. Use receive, triage, open, opened or refused.", row.stage)};
            pack.state = *state;
            pack.gate_passed_at = row.gate_passed;
            pack.layout = row.layout;
            pack.claim = row.claim;
            if (*state != AssemblyState::received && *state != AssemblyState::refused &&
                shop_.receive().gate_closed(pack))
                return Problem{file.string(), row.line,
                               said("{} can hold more than 60 V: nobody may have read or opened it before its gate was "
                                    "passed. Write when, in a column \"Gate Passed\", or leave it at receive.",
                                    row.label)};
            const auto id = shop_.receive().add_pack(pack);
            if (auto done = placed(id, file, row.line); !done)
                return done;
            known_.packs[row.label] = id.value();
            for (const std::string& finding : row.findings)
                if (auto done = placed(shop_.receive().note_finding(id.value(), 0, finding), file, row.line); !done)
                    return done;
        }
        return true;
    }

    Result<bool> units() {
        const fs::path file = folder_ / "units.csv";
        const auto rows = read_rows(file, exchange::read_units);
        if (!rows)
            return rows.problem();
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            const auto code = parse_unit_code(row.code);
            if (!code)
                return Problem{file.string(), row.line, code.problem().sentence};
            if (!row.pack.empty() && !known_.packs.contains(row.pack))
                return Problem{file.string(), row.line, said("pack {} is not known.", row.pack)};
            Unit unit;
            unit.code = code.value();
            unit.pack = row.pack.empty() ? 0 : known_.packs[row.pack];
            unit.group = row.group;
            unit.place = row.place;
            unit.model = row.model;
            unit.tray = row.tray;
            unit.well = row.well;
            const auto id = shop_.open().add_unit(unit);
            if (auto done = placed(id, file, row.line); !done)
                return done;
            known_.units[unit.code.text()] = id.value();
            for (const std::string& finding : row.findings)
                if (auto done = placed(shop_.receive().note_finding(0, id.value(), finding), file, row.line); !done)
                    return done;
        }
        return true;
    }

    Result<bool> readings() {
        const fs::path file = folder_ / "readings.csv";
        const auto rows = read_rows(file, exchange::read_readings);
        if (!rows)
            return rows.problem();
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            const auto moment = row.taken.empty() ? std::optional(shop_.now()) : normal_moment(row.taken);
            if (!moment)
                return Problem{file.string(), row.line,
                               said("\"{}\" is no moment. Write it as 2026-11-27 or 2026-11-27T10:39.", row.taken)};
            if (row.pack.empty()) {
                if (!known_.units.contains(row.unit))
                    return Problem{file.string(), row.line, said("unit {} is not known.", row.unit)};
                if (auto done = placed(shop_.test().record_reading(known_.units[row.unit], row.reading, *moment), file,
                                       row.line);
                    !done)
                    return done;
                continue;
            }
            if (!known_.packs.contains(row.pack))
                return Problem{file.string(), row.line, said("pack {} is not known.", row.pack)};
            Measurement reading = row.reading;
            reading.subject = {0, known_.packs[row.pack], row.group, 0};
            if (auto done = placed(shop_.triage().record(reading, *moment), file, row.line); !done)
                return done;
        }
        return true;
    }

    Result<bool> builds() {
        const fs::path file = folder_ / "builds.csv";
        const auto rows = read_rows(file, exchange::read_builds);
        if (!rows)
            return rows.problem();
        struct Build {
            std::vector<std::vector<Id>> groups;
            std::vector<Id> taken;
            int line = 0;
        };
        std::map<std::string, Build> builds;
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            if (!known_.units.contains(row.unit))
                return Problem{file.string(), row.line, said("unit {} is not known.", row.unit)};
            Build& build = builds[row.build];
            build.line = row.line;
            build.groups.resize(std::max(build.groups.size(), static_cast<std::size_t>(row.group)));
            build.groups[static_cast<std::size_t>(row.group) - 1].push_back(known_.units[row.unit]);
            if (row.taken)
                build.taken.push_back(known_.units[row.unit]);
        }
        for (const auto& [label, build] : builds) {
            std::size_t parallel = 0;
            for (const auto& group : build.groups)
                parallel = std::max(parallel, group.size());
            const auto id = shop_.match().reserve(static_cast<int>(build.groups.size()), static_cast<int>(parallel),
                                                  build.groups, std::nullopt, 0, label);
            if (auto done = placed(id, file, build.line); !done)
                return done;
            for (const Id unit : build.taken)
                if (auto done = placed(shop_.build().take(id.value(), unit), file, build.line); !done)
                    return done;
            known_.builds[label] = id.value();
        }
        if (auto done = wanted(); !done)
            return done;
        return designs();
    }

    // Builds that have no units yet, in the order in which they are to be served.
    Result<bool> wanted() {
        const fs::path file = folder_ / "wanted.csv";
        if (!fs::exists(file))
            return true;
        const auto text = exchange::read_text(file.string());
        if (!text)
            return text.problem();
        auto rows = exchange::read_wanted_builds(text.value(), file.string());
        if (!rows)
            return rows.problem();
        std::stable_sort(rows.value().begin(), rows.value().end(),
                         [](const auto& a, const auto& b) { return a.build.priority < b.build.priority; });
        int place = 0;
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            if (!row.like.empty())
                return Problem{file.string(), row.line,
                               said("\"Like\" names a file of survivors; a folder has none. Leave it blank.")};
            ingot::WantedBuild build;
            build.series = row.build.series;
            build.parallel = row.build.parallel;
            build.usable_ah = row.build.wanted_ah;
            build.least_duty = row.duty;
            const auto id = shop_.build().begin(build, row.build.id);
            if (auto done = placed(id, file, row.line); !done)
                return done;
            if (auto done = placed(shop_.build().set_form(id.value(), row.build.chemistry,
                                                          {row.build.series, row.build.parallel, 1}, row.build.model),
                                   file, row.line);
                !done)
                return done;
            if (auto done =
                    placed(shop_.build().set_figure(id.value(), DesignFigure::priority, std::to_string(++place)), file,
                           row.line);
                !done)
                return done;
            known_.builds[row.build.id] = id.value();
        }
        return true;
    }

    Result<bool> designs() {
        const fs::path file = folder_ / "designs.csv";
        const auto rows = read_rows(file, exchange::read_designs);
        if (!rows)
            return rows.problem();
        for (const auto& row : rows.value()) {
            if (auto wanted = next(file, rows.value().size()); !wanted)
                return wanted;
            if (!known_.builds.contains(row.build))
                return Problem{file.string(), row.line,
                               said("build {} is not known. Add it to builds.csv or wanted.csv.", row.build)};
            if (auto done =
                    placed(shop_.build().set_figure(known_.builds[row.build], row.figure, row.value), file, row.line);
                !done)
                return done;
        }
        return true;
    }

    // Logs, each for the unit that its file name gives.
    Result<bool> logs() {
        std::vector<fs::path> files;
        if (fs::is_directory(folder_ / "logs"))
            for (const auto& entry : fs::directory_iterator(folder_ / "logs"))
                if (entry.path().extension() == ".csv")
                    files.push_back(entry.path());
        std::sort(files.begin(), files.end());
        if (files.empty())
            return true;
        const fs::path dates_file = folder_ / "logs.csv";
        const auto dates = read_rows(dates_file, exchange::read_log_dates);
        if (!dates)
            return dates.problem();
        for (const fs::path& path : files) {
            if (auto wanted = next("logs", files.size()); !wanted)
                return wanted;
            const auto unit_id = shop_.find_unit(path.stem().string());
            if (!unit_id)
                return Problem{path.string(), 0, unit_id.problem().sentence};
            const auto read =
                read_log_file(path.string(), shop_.test().options_for_log(shop_.unit(unit_id.value()), "bench tester"));
            if (!read)
                return read.problem();
            const auto taken = dates.value().find(path.filename().string());
            if (auto done = shop_.test().import_log(unit_id.value(), read.value().log, read.value().capacity,
                                                    path.filename().string(), "bench tester", read.value().resistance,
                                                    taken == dates.value().end() ? std::string() : taken->second);
                !done)
                return done.problem();
        }
        return true;
    }

    // A problem where nobody wants the rest any more.
    Result<bool> next(const fs::path& file, std::size_t rows) {
        row_ = file == file_ ? row_ + 1 : 1;
        file_ = file;
        if (!watch_ || watch_({file.filename().string(), row_, rows}))
            return true;
        return Problem{folder_.string(), 0, said("was not brought in: you stopped it. Everything is as it was.")};
    }

    Workshop& shop_;
    fs::path folder_;
    const ImportWatch& watch_;
    fs::path file_; // that is being read
    std::size_t row_ = 0;
    Known known_;
};

} // namespace

Result<bool> Workshop::import_folder(const std::string& folder, const ImportWatch& watch) {
    if (auto problem = session_.objection())
        return *problem;
    const exchange::Library before = library();
    auto done = session_.batch([&] { return Importer(*this, folder, watch).run(); });
    if (!done)
        inventory_.set_library(before);
    return done;
}

} // namespace ingot
