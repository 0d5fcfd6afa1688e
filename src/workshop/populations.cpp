#include "workshop/populations.h"

#include "exchange/csv.h"
#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>
#include <set>
#include <stdexcept>
#include <unordered_map>

namespace ingot {

namespace {

constexpr double grams_per_kg = 1000;

// "47", "47.5 g", "47,5": what a person wrote of a mass, in grams.
std::optional<double> grams_from(std::string words) {
    std::replace(words.begin(), words.end(), ',', '.');
    double value = 0;
    const auto read = std::from_chars(words.data(), words.data() + words.size(), value);
    return read.ec == std::errc() && value > 0 ? std::optional(value) : std::nullopt;
}

std::vector<TwiceRead> twice_read(const std::vector<Measurement>& measured) {
    std::vector<TwiceRead> out;
    out.reserve(measured.size());
    for (const Measurement& m : measured)
        out.push_back({std::to_string(m.subject.unit), m.instrument, m.value});
    return out;
}

std::optional<double> times_new(const LabelledUnit& unit) {
    if (unit.facts.dc_resistance_ohm && unit.reference.new_dc_resistance_ohm)
        return *unit.facts.dc_resistance_ohm / *unit.reference.new_dc_resistance_ohm;
    if (unit.facts.ac_resistance_ohm && unit.reference.new_ac_resistance_ohm)
        return *unit.facts.ac_resistance_ohm / *unit.reference.new_ac_resistance_ohm;
    return std::nullopt;
}

std::vector<Population> populations(const std::vector<PopulationUnit>& units, const std::string PopulationUnit::*name) {
    struct Values {
        std::vector<double> share, multiple;
        std::set<Id> packs;
    };
    std::map<std::string, std::size_t> index;
    std::vector<Population> out;
    std::vector<Values> values;
    for (const PopulationUnit& unit : units) {
        const auto [at, fresh] = index.emplace(unit.*name, out.size());
        if (fresh) {
            out.emplace_back().name = unit.*name;
            values.emplace_back();
        }
        Population& population = out[at->second];
        Values& seen = values[at->second];
        ++population.units;
        if (unit.judged) {
            ++population.judged;
            ++population.duties[static_cast<std::size_t>(unit.duty)];
        }
        if (unit.pack != 0)
            seen.packs.insert(unit.pack);
        if (unit.labelled.facts.capacity_ah && unit.labelled.reference.rated_ah > 0)
            seen.share.push_back(*unit.labelled.facts.capacity_ah / unit.labelled.reference.rated_ah);
        if (const auto multiple = times_new(unit.labelled))
            seen.multiple.push_back(*multiple);
    }
    for (std::size_t i = 0; i < out.size(); ++i) {
        out[i].packs = static_cast<int>(values[i].packs.size());
        out[i].capacity_share = quartiles_of(values[i].share);
        out[i].resistance_multiple = quartiles_of(values[i].multiple);
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const Population& a, const Population& b) { return a.units > b.units; });
    return out;
}

} // namespace

int Population::at_least(Duty duty) const {
    int out = 0;
    for (int d = 0; d <= static_cast<int>(duty); ++d)
        out += duties[static_cast<std::size_t>(d)];
    return out;
}

PopulationQuestion population_question(Workshop& workshop) {
    PopulationQuestion out;
    const Inventory& inventory = workshop.inventory();
    std::unordered_map<Id, const Assembly*> packs;
    for (const Assembly& pack : workshop.packs())
        packs[pack.id] = &pack;
    std::unordered_map<Id, const Lot*> lots;
    for (const Lot& lot : workshop.lots())
        lots[lot.id] = &lot;
    std::unordered_map<Id, double> grams;
    for (const Particular& p : inventory.particulars())
        if (p.unit != 0 && p.kind == ParticularKind::mass) {
            const auto weighed = grams_from(p.value);
            weighed ? void(grams[p.unit] = *weighed) : void(grams.erase(p.unit));
        }
    out.units.reserve(workshop.units().size());
    for (const UnitState& unit : workshop.units()) {
        PopulationUnit& one = out.units.emplace_back();
        one.unit = unit.record.id;
        one.labelled.facts.capacity_ah = unit.facts.capacity_ah;
        one.labelled.facts.dc_resistance_ohm = unit.facts.dc_resistance_ohm;
        one.labelled.facts.ac_resistance_ohm = unit.facts.ac_resistance_ohm;
        one.labelled.reference = unit.reference;
        if (const auto weighed = grams.find(unit.record.id); weighed != grams.end())
            one.labelled.mass_kg = weighed->second / grams_per_kg;
        const UnitModel* model = workshop.library().model(unit.record.model);
        if (model != nullptr && model->mass_kg > 0)
            one.labelled.model_kg = model->mass_kg;
        one.duty = unit.verdict.duty;
        one.judged = one.duty != Duty::rest_again && one.duty != Duty::undecided;
        one.model = model != nullptr ? model->name : unit.record.model;
        const auto pack = packs.find(unit.record.pack);
        if (pack != packs.end()) {
            one.pack = unit.record.pack;
            if (const auto lot = lots.find(pack->second->lot); lot != lots.end()) {
                one.lot = lot->second->label;
                one.source = lot->second->source.empty() ? lot->second->label : lot->second->source;
            }
            one.traits.push_back({"pack", pack->second->label});
        }
        for (const auto& [kind, value] : {std::pair<const char*, const std::string&>{"source", one.source},
                                          {"lot", one.lot},
                                          {"model", one.model},
                                          {"tray", unit.record.tray}})
            if (!value.empty())
                one.traits.push_back({kind, value});
    }
    out.dc_ohm = twice_read(workshop.test().read_by_several(Quantity::dc_resistance));
    out.capacity_ah = twice_read(workshop.test().read_by_several(Quantity::capacity));
    return out;
}

PopulationAnswer answer_populations(const PopulationQuestion& question) {
    PopulationAnswer out;
    out.by[static_cast<std::size_t>(PopulationBy::source)] = populations(question.units, &PopulationUnit::source);
    out.by[static_cast<std::size_t>(PopulationBy::lot)] = populations(question.units, &PopulationUnit::lot);
    out.by[static_cast<std::size_t>(PopulationBy::model)] = populations(question.units, &PopulationUnit::model);
    std::vector<LabelledUnit> labelled;
    labelled.reserve(question.units.size());
    std::vector<std::vector<Trait>> traits;
    std::vector<char> odd;
    for (const PopulationUnit& unit : question.units) {
        labelled.push_back(unit.labelled);
        if (!unit.judged)
            continue;
        traits.push_back(unit.traits);
        odd.push_back(unit.duty == Duty::scrap || unit.duty == Duty::quarantine ? 1 : 0);
    }
    for (const Suspect& suspect : suspects(labelled))
        out.doubtful.push_back({question.units[suspect.unit].unit, suspect});
    out.shared = shared_traits(traits, odd);
    for (const auto& [readings, resistance] : {std::pair{&question.dc_ohm, true}, {&question.capacity_ah, false}})
        for (InstrumentGap& gap : instrument_gaps(*readings))
            out.instruments.push_back({resistance, std::move(gap)});
    return out;
}

std::optional<int> packs_for(const Population& population, Duty duty, int needed, double chance) {
    if (population.units_a_pack() <= 0)
        return std::nullopt;
    const auto units = further_for(needed, chance, population.at_least(duty), population.judged);
    return units ? std::optional(static_cast<int>(std::ceil(*units / population.units_a_pack()))) : std::nullopt;
}

PopulationAnswer populations_beside(const std::string& path) {
    const auto own = Workshop::open(path);
    if (!own)
        throw std::runtime_error(own.problem().text());
    return answer_populations(population_question(*own.value()));
}

std::function<PopulationAnswer()> population_work(Workshop& workshop) {
    if (workshop.inventory().gathered_beside())
        return [path = workshop.path()] { return populations_beside(path); };
    return [question = population_question(workshop)] { return answer_populations(question); };
}

std::string populations_csv(const PopulationAnswer& answer) {
    constexpr std::array<const char*, population_by_count> kinds{"source", "lot", "model"};
    std::vector<std::string> head{"By", "Name", "Packs", "Units", "Judged"};
    for (int d = 0; d < duty_count; ++d)
        head.emplace_back(code(static_cast<Duty>(d)));
    for (const char* quartile :
         {"Capacity lower / %", "Capacity middle / %", "Capacity upper / %", "Resistance lower / times new",
          "Resistance middle / times new", "Resistance upper / times new"})
        head.emplace_back(quartile);
    std::string out = exchange::csv_line(head);
    for (std::size_t by = 0; by < answer.by.size(); ++by)
        for (const Population& p : answer.by[by]) {
            std::vector<std::string> row{kinds[by], p.name, std::to_string(p.packs), std::to_string(p.units),
                                         std::to_string(p.judged)};
            for (const int count : p.duties)
                row.push_back(std::to_string(count));
            const auto add = [&](const std::optional<Quartiles>& q, double factor) {
                for (const double value : {q ? q->lower : 0, q ? q->middle : 0, q ? q->upper : 0})
                    row.push_back(q ? exchange::csv_number(value * factor) : std::string());
            };
            constexpr double percent = 100;
            add(p.capacity_share, percent);
            add(p.resistance_multiple, 1);
            out += exchange::csv_line(row);
        }
    return out;
}

} // namespace ingot
