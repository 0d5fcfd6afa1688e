#include "cli/verbs.h"

#include "cli/sorted_pool.h"
#include "core/measure/capacity.h"
#include "exchange/library_toml.h"
#include "exchange/log_csv.h"
#include "exchange/pool_csv.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/wording.h"
#include "workshop/workshop.h"

#include <cmath>
#include <fmt/format.h>
#include <set>

namespace ingot::cli {

namespace {

Result<exchange::Library> library() {
    return exchange::read_library(Workshop::shipped_folder("data"));
}

template <class Map> std::string names_of(const Map& map) {
    std::string out;
    for (const auto& [id, item] : map)
        out += (out.empty() ? "" : ", ") + id;
    return out;
}

std::string text_of(const QString& text) {
    return text.toStdString();
}

std::string dropped_line() {
    return "The last line was cut off and was dropped.";
}

} // namespace

double significant(double value, int digits) {
    return value == 0 || !std::isfinite(value) ? value : std::stod(fmt::format("{:.{}g}", value, digits));
}

Result<Output> capacity(const CapacityArguments& arguments) {
    const auto data = library();
    if (!data)
        return data.problem();
    const Chemistry* chemistry = data.value().chemistry(arguments.chemistry);
    const auto text = exchange::read_text(arguments.log);
    if (!text)
        return text.problem();
    auto log = exchange::read_log(text.value(), shown_name(arguments.log));
    if (!log)
        return log.problem();
    CapacityOptions options;
    options.errors = data.value().practice.usual_tester;
    int cells = 1;
    if (chemistry != nullptr) {
        cells = cells_in_log(log.value().samples, *chemistry);
        options = capacity_options(*chemistry, cells, data.value().practice.usual_tester);
    }
    options.cutoff_v = arguments.cutoff_v;
    CapacityResult result = measure_capacity(log.value().samples, options);
    if (cells > 1)
        result.notes.push_back({LogWarning::several_cells, 0, static_cast<double>(cells)});

    Output out;
    out.json["discharge_capacity_ah"] = or_null(result.discharge_capacity_ah);
    out.json["discharge_energy_wh"] = or_null(result.discharge_energy_wh);
    out.json["lower_bound_ah"] = or_null(result.lower_bound_ah);
    out.json["charge_capacity_ah"] = or_null(result.charge_capacity_ah);
    out.json["coulombic_efficiency"] = or_null(result.coulombic_efficiency);
    out.json["uncertainty_ah"] = or_null(result.uncertainty_ah);
    out.json["steps"] = Json::array();
    if (result.discharge_capacity_ah)
        out.text += fmt::format("Discharge capacity {:.3f} Ah ± {:.3f} Ah, energy {:.3f} Wh\n",
                                *result.discharge_capacity_ah, *result.uncertainty_ah, *result.discharge_energy_wh);
    else
        out.text += "No capacity: there is no complete discharge.\n";
    if (result.lower_bound_ah)
        out.text +=
            fmt::format("At least {:.3f} Ah: a discharge that stopped above the cutoff\n", *result.lower_bound_ah);
    if (result.charge_capacity_ah)
        out.text += fmt::format("Charge before it {:.3f} Ah\n", *result.charge_capacity_ah);
    if (result.coulombic_efficiency)
        out.text += fmt::format("Coulombic efficiency {:.2f} %\n", *result.coulombic_efficiency * 100);
    out.text += fmt::format("{:>3}  {:<10} {:>10} {:>10} {:>9} {:>9} {:>8} {:>8} {:>8}\n", "", "step", "start s",
                            "end s", "Ah", "Wh", "from V", "to V", "mean A");
    int n = 0;
    for (const Step& step : result.steps) {
        out.json["steps"].push_back({{"kind", code(step.kind)},
                                     {"start_s", step.start_s},
                                     {"end_s", step.end_s},
                                     {"capacity_ah", step.capacity_ah},
                                     {"energy_wh", step.energy_wh},
                                     {"start_v", step.start_v},
                                     {"end_v", step.end_v},
                                     {"mean_a", step.mean_a},
                                     {"complete", step.complete}});
        out.text += fmt::format("{:>3}  {:<10} {:>10.1f} {:>10.1f} {:>9.4f} {:>9.4f} {:>8.3f} {:>8.3f} {:>8.3f}{}\n",
                                ++n, code(step.kind), step.start_s, step.end_s, step.capacity_ah, step.energy_wh,
                                step.start_v, step.end_v, step.mean_a, step.complete ? "" : "  not complete");
    }
    out.json["warnings"] = Json::array();
    const auto warn = [&](const std::string& warning) {
        out.json["warnings"].push_back(warning);
        out.text += "Note: " + warning + "\n";
    };
    for (const LogNote& note : result.notes)
        warn(text_of(wording::log_note(note)));
    if (log.value().dialect.last_line_dropped)
        warn(dropped_line());
    return out;
}

namespace {

Output rule_sets_of(const exchange::Library& library) {
    Output out;
    out.json["rule_sets"] = Json::array();
    for (const auto& [id, rules] : library.rule_sets) {
        out.json["rule_sets"].push_back({{"name", id}, {"version", rules.version}, {"school", rules.school}});
        out.text += fmt::format("{}  v{}  {}\n", id, rules.version, rules.school);
    }
    return out;
}

Result<std::vector<UnitFacts>> facts_of_pool(const exchange::Pool& pool, const exchange::Library& library,
                                             const std::string& name) {
    std::vector<UnitFacts> facts;
    for (const auto& row : pool.rows) {
        UnitFacts unit = exchange::facts_of(row);
        if (!unit.chemistry.empty() && library.chemistry(unit.chemistry) == nullptr)
            return Problem{
                name, row.line,
                said("chemistry \"{}\" is not known. Use one of {}.", unit.chemistry, names_of(library.chemistries))};
        if (const UnitModel* model = library.model(unit.model); model != nullptr && unit.chemistry.empty())
            unit.chemistry = model->chemistry;
        facts.push_back(std::move(unit));
    }
    return facts;
}

UnitReference reference_in_pool(const exchange::PoolRow& row, const UnitFacts& unit,
                                const std::map<std::string, UnitReference>& siblings,
                                const exchange::Library& library) {
    const UnitModel* model = library.model(unit.model);
    const auto of_model = siblings.find(unit.model);
    UnitReference reference = reference_for(model, of_model == siblings.end() ? nullptr : &of_model->second,
                                            row.rated_ah, row.cells_in_series.value_or(1));
    if (model == nullptr && row.rated_ah) { // what the file says is no guess
        reference.rated_ah = *row.rated_ah;
        reference.from = ReferenceFrom::model;
        if (row.new_dc_resistance_ohm)
            reference.new_dc_resistance_ohm = row.new_dc_resistance_ohm;
    }
    return reference;
}

} // namespace

Result<SortedPool> sorted_pool(const exchange::Pool& pool, const std::string& file, const std::string& rules) {
    const auto data = library();
    if (!data)
        return data.problem();
    const auto found = data.value().rule_sets.find(rules);
    if (found == data.value().rule_sets.end()) // checked before by the parser's help; a file may have gone since
        return Problem{"", 0,
                       said("rule set \"{}\" is not shipped. Use one of {}.", rules, names_of(data.value().rule_sets))};
    const auto read = facts_of_pool(pool, data.value(), file);
    if (!read)
        return read.problem();
    const std::vector<UnitFacts>& facts = read.value();
    const auto siblings = references_from_pool(facts);
    SortedPool out;
    out.rule_set = found->second.stamp();
    for (std::size_t i = 0; i < facts.size(); ++i) {
        const UnitReference reference = reference_in_pool(pool.rows[i], facts[i], siblings, data.value());
        if (reference.from == ReferenceFrom::siblings)
            out.judged_by_siblings.insert(facts[i].model);
        out.ids.push_back(facts[i].id);
        out.verdicts.push_back(
            sort_unit(facts[i], reference, data.value().chemistry(facts[i].chemistry), found->second));
    }
    return out;
}

Result<Output> sort(const SortArguments& arguments) {
    if (arguments.list) {
        const auto data = library();
        return data ? Result<Output>(rule_sets_of(data.value())) : Result<Output>(data.problem());
    }
    const auto text = exchange::read_text(arguments.pool);
    if (!text)
        return text.problem();
    const auto pool = exchange::read_pool(text.value(), shown_name(arguments.pool));
    if (!pool)
        return pool.problem();
    const auto sorted = sorted_pool(pool.value(), shown_name(arguments.pool), arguments.rules);
    if (!sorted)
        return sorted.problem();
    Output out;
    out.json["rule_set"] = sorted.value().rule_set;
    out.json["cells"] = Json::array();
    std::array<int, duty_count> counts{};
    for (std::size_t i = 0; i < sorted.value().ids.size(); ++i) {
        const std::string& id = sorted.value().ids[i];
        const Verdict& verdict = sorted.value().verdicts[i];
        ++counts[static_cast<std::size_t>(verdict.duty)];
        Json reasons = Json::array();
        out.text += fmt::format("{:<14} {:<11}", id, code(verdict.duty));
        for (const Evidence& evidence : verdict.evidence) {
            reasons.push_back(text_of(wording::evidence(evidence)));
            if (evidence.decides)
                out.text += " " + text_of(wording::evidence(evidence));
        }
        out.text += "\n";
        out.json["cells"].push_back({{"cell", id}, {"duty", code(verdict.duty)}, {"reasons", reasons}});
    }
    out.json["counts"] = Json::object();
    for (int d = 0; d < duty_count; ++d) {
        out.json["counts"][code(static_cast<Duty>(d))] = counts[static_cast<std::size_t>(d)];
        out.text += fmt::format("{} {}{}", counts[static_cast<std::size_t>(d)], code(static_cast<Duty>(d)),
                                d + 1 < duty_count ? ", " : "\n");
    }
    out.json["warnings"] = Json::array();
    for (const std::string& model : sorted.value().judged_by_siblings) {
        const std::string warning =
            fmt::format("Model \"{}\" is not in the library: the best of its siblings in this pool stand in for "
                        "rated capacity and new resistance.",
                        model);
        out.json["warnings"].push_back(warning);
        out.text += "Note: " + warning + "\n";
    }
    if (pool.value().dialect.last_line_dropped)
        out.json["warnings"].push_back(dropped_line());
    return out;
}

Result<Output> demo(const DemoArguments& arguments) {
    const auto folder = Workshop::shipped_folder("demo");
    const auto made = Workshop::create(arguments.file, "Fellside Hut & Trail Trust");
    if (!made)
        return made.problem();
    Workshop& workshop = *made.value();
    if (const auto done = workshop.import_folder(folder); !done)
        return done.problem();
    Output out;
    out.json["file"] = arguments.file;
    const LedgerCounts counts = workshop.ledger().counts();
    for (const auto& [name, count] : {std::pair<const char*, std::int64_t>{"lots", counts.lots},
                                      {"packs", counts.packs},
                                      {"units", counts.units},
                                      {"readings", counts.measurements},
                                      {"runs", counts.runs},
                                      {"builds", counts.builds}})
        out.json[name] = count;
    out.text = fmt::format("Made {}: {} packs, {} units, {} readings, {} logs.\n", arguments.file, counts.packs,
                           counts.units, counts.measurements, counts.runs);
    return out;
}

} // namespace ingot::cli
