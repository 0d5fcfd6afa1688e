#include "workshop/inventory.h"

#include "core/shop/age.h"
#include "workshop/session.h"

#include <algorithm>

namespace ingot {

namespace {

constexpr const char* default_rules = "capacity-tested";

} // namespace

Inventory::Inventory(Session& session, exchange::Library library) : session_(session), library_(std::move(library)) {
    auto found = library_.rule_sets.find(session_.catalogue.value(rule_set_setting));
    if (found == library_.rule_sets.end())
        found = library_.rule_sets.find(default_rules);
    rules_ = found != library_.rule_sets.end() ? found->second : library_.rule_sets.begin()->second;
    QObject::connect(&session_, &Session::committed, &session_, [this](const ChangeSet& changes) { apply(changes); });
    load();
}

void Inventory::set_rules(const RuleSet& rules, bool saved) {
    rules_ = rules;
    rules_changed_ = !saved;
    if (saved)
        library_.rule_sets[rules.id] = rules;
}

void Inventory::load() {
    ++loads_;
    cases_.clear();
    load_small();
    load_assemblies();
    load_units();
}

// What costs next to nothing.
void Inventory::load_small() {
    lots_ = session_.catalogue.lots();
    trays_ = session_.catalogue.trays();
    findings_ = session_.remarks.findings();
    quarantines_ = session_.remarks.quarantines();
    notes_ = session_.remarks.notes();
    particulars_ = session_.remarks.particulars();
    ages_.clear();
    sets_.clear();
    const std::string now = session_.now();
    for (const Particular& p : particulars_) { // oldest first: the newest counts
        if (p.kind == ParticularKind::age) {
            ages_.erase({p.assembly, p.unit});
            if (const auto years = age_years(p.value, now))
                ages_[{p.assembly, p.unit}] = *years;
        }
        if (p.kind == ParticularKind::matched_set) {
            sets_.erase(p.assembly);
            if (!p.value.empty())
                sets_.insert(p.assembly);
        }
    }
    overrules_ = session_.remarks.overrules();
    overrule_of_.clear();
    for (std::size_t i = 0; i < overrules_.size(); ++i)
        overrule_of_[overrules_[i].unit] = i; // one stands for each unit
    drawings_ = session_.remarks.drawings();
    photo_counts_ = session_.remarks.photo_counts();
}

void Inventory::load_assemblies() {
    packs_.clear();
    builds_.clear();
    for (Assembly& assembly : session_.assemblies.all())
        (assembly.came_in() ? packs_ : builds_).push_back(std::move(assembly));
    placements_ = session_.assemblies.placements();
    designs_ = session_.assemblies.designs();
    ticks_ = session_.assemblies.ticks();
    measurements_ = session_.measurements.of_assemblies();
}

void Inventory::load_units() {
    units_.clear();
    unit_index_.clear();
    by_model_.clear();
    auto records = session_.units.all();
    units_.reserve(records.size());
    unit_index_.reserve(records.size());
    for (auto& record : records) {
        UnitState unit;
        unit.facts.id = record.code.text();
        unit.record = std::move(record);
        set_chemistry(unit);
        unit_index_[unit.record.id] = units_.size();
        by_model_[unit.record.model].push_back(units_.size());
        units_.push_back(std::move(unit));
    }
    for (const Finding& finding : findings_)
        if (UnitState* unit = unit_at(finding.unit))
            unit->findings.push_back(finding.code);
    for (const Quarantine& quarantine : quarantines_)
        if (UnitState* unit = unit_at(quarantine.unit))
            hold_apart(*unit, quarantine);
    for (UnitState& unit : units_)
        if (!unit.findings.empty())
            weigh_findings(unit);
    for (UnitState& unit : units_)
        set_age(unit);
    const auto last_runs = session_.runs.last_run_at();
    session_.measurements.each_unit([&](Id id, const std::vector<Measurement>& history) {
        const auto ran = last_runs.find(id);
        if (UnitState* unit = unit_at(id))
            take_history(unit->facts, history, ran == last_runs.end() ? std::string() : ran->second);
    });
    judge_all();
}

void Inventory::set_chemistry(UnitState& unit) const {
    unit.facts.model = unit.record.model;
    if (const UnitModel* model = library_.model(unit.record.model))
        unit.facts.chemistry = model->chemistry;
    else if (const Assembly* origin = pack(unit.record.pack))
        unit.facts.chemistry = origin->chemistry;
}

// Its own, else its pack's. True: it is another than before.
bool Inventory::set_age(UnitState& unit) const {
    const auto own = ages_.find({0, unit.record.id});
    const auto of_pack = ages_.find({unit.record.pack, 0});
    const auto& noted = own != ages_.end() ? own : of_pack;
    const auto before = unit.facts.age_years;
    unit.facts.age_years = noted != ages_.end() ? std::optional(noted->second) : std::nullopt;
    return unit.facts.age_years != before;
}

void Inventory::mark(UnitState& unit) const {
    unit.findings.clear();
    for (const Finding& finding : findings_)
        if (finding.unit == unit.record.id)
            unit.findings.push_back(finding.code);
    weigh_findings(unit);
    unit.quarantined = false;
    unit.facts.quarantine_findings.clear();
    for (const Quarantine& quarantine : quarantines_)
        if (quarantine.unit == unit.record.id)
            hold_apart(unit, quarantine);
}

void Inventory::weigh_findings(UnitState& unit) const {
    unit.facts.care_findings.clear();
    for (const std::string& code : unit.findings)
        if (const exchange::LookFinding* finding = library_.finding(code);
            finding != nullptr && finding->consequence == Consequence::with_care)
            unit.facts.care_findings.push_back(code);
}

void Inventory::hold_apart(UnitState& unit, const Quarantine& quarantine) {
    if (!quarantine.closed_at.empty())
        return;
    unit.quarantined = true;
    unit.facts.quarantine_findings.push_back(quarantine.reason);
}

UnitReference Inventory::reference_for_unit(const UnitState& unit) const {
    const auto siblings = siblings_.find(unit.record.model);
    const Assembly* origin = pack(unit.record.pack);
    std::optional<double> claimed_ah;
    if (origin != nullptr)
        if (const Chemistry* chemistry = chemistry_of(*origin))
            claimed_ah = believable_unit_ah(origin->claim, origin->layout, *chemistry,
                                            origin->format.empty() ? nullptr : library_.format(origin->format));
    // A group that stayed together is one unit, with what all of it holds.
    const bool whole_group = origin != nullptr && unit.record.group > 0 && unit.record.place == 0;
    if (whole_group && claimed_ah)
        claimed_ah = *claimed_ah * origin->layout.parallel;
    const int cells = origin == nullptr ? 1
                      : whole_group     ? origin->layout.cells_per_tap()
                                        : origin->layout.cells_per_unit;
    return reference_for(library_.model(unit.record.model), siblings == siblings_.end() ? nullptr : &siblings->second,
                         claimed_ah, cells);
}

void Inventory::judge(UnitState& unit) const {
    unit.reference = reference_for_unit(unit);
    unit.verdict = sort_unit(unit.facts, unit.reference, library_.chemistry(unit.facts.chemistry), rules_);
    const auto overruled = overrule_of_.find(unit.record.id);
    if (overruled == overrule_of_.end() || unit.verdict.duty == Duty::quarantine)
        return;
    const Overrule& overrule = overrules_[overruled->second];
    unit.verdict.overruled_from = unit.verdict.duty;
    unit.verdict.duty = duty_from(overrule.duty).value_or(unit.verdict.duty);
    Evidence evidence;
    evidence.kind = EvidenceKind::overruled;
    evidence.allows = unit.verdict.duty;
    evidence.decides = true;
    evidence.note = overrule.reason;
    unit.verdict.evidence.insert(unit.verdict.evidence.begin(), evidence);
}

// What a model's units say about each other, and where that changed, all of them.
void Inventory::judge_model(const std::string& model) {
    const auto of_model = by_model_.find(model);
    if (of_model == by_model_.end())
        return;
    std::vector<UnitFacts> facts;
    facts.reserve(of_model->second.size());
    for (const std::size_t i : of_model->second) {
        UnitFacts lean; // references ask for no more
        lean.model = model;
        lean.capacity_ah = units_[i].facts.capacity_ah;
        lean.dc_resistance_ohm = units_[i].facts.dc_resistance_ohm;
        lean.ac_resistance_ohm = units_[i].facts.ac_resistance_ohm;
        lean.resistance_ohm = units_[i].facts.resistance_ohm;
        lean.self_discharge_ah_per_day = units_[i].facts.self_discharge_ah_per_day;
        facts.push_back(std::move(lean));
    }
    auto references = references_from_pool(facts);
    const UnitReference now = references.empty() ? UnitReference{} : references.begin()->second;
    const UnitReference before = std::exchange(siblings_[model], now);
    const bool known = library_.model(model) != nullptr;
    const bool leak_moved = now.siblings_leak_ah_per_day != before.siblings_leak_ah_per_day ||
                            now.siblings_leak_scale_ah_per_day != before.siblings_leak_scale_ah_per_day;
    const bool rating_moved = now.rated_ah != before.rated_ah ||
                              now.new_dc_resistance_ohm != before.new_dc_resistance_ohm ||
                              now.new_ac_resistance_ohm != before.new_ac_resistance_ohm;
    if (leak_moved || now.best_resistance_ohm != before.best_resistance_ohm || (!known && rating_moved))
        for (const std::size_t i : of_model->second)
            judge(units_[i]);
}

void Inventory::judge_all() {
    siblings_.clear();
    std::vector<UnitFacts> facts;
    facts.reserve(units_.size());
    for (const UnitState& unit : units_)
        facts.push_back(unit.facts);
    siblings_ = references_from_pool(facts);
    for (UnitState& unit : units_)
        judge(unit);
}

void Inventory::refresh_assembly(Id id) {
    auto record = session_.assemblies.find(id);
    if (!record)
        return;
    auto& rows = record->came_in() ? packs_ : builds_;
    if (const Assembly* there = assembly_in(rows, id))
        rows[static_cast<std::size_t>(there - rows.data())] = std::move(*record);
    else
        rows.push_back(std::move(*record)); // the newest has the highest identity
    placements_[id] = session_.assemblies.placements_of(id);
    if (!assembly(id)->came_in()) {
        designs_[id] = session_.assemblies.design_of(id);
        ticks_[id] = session_.assemblies.ticks_of(id);
    }
    measurements_[id] = session_.measurements.of_assembly(id);
    cases_.clear(); // contents move between packs
    ++revisions_[id];
}

bool Inventory::refresh_unit(Id id) {
    auto record = session_.units.find(id);
    if (!record)
        return false;
    UnitState* unit = unit_at(id);
    bool siblings = false;
    if (unit == nullptr) {
        unit_index_[id] = units_.size();
        by_model_[record->model].push_back(units_.size());
        unit = &units_.emplace_back();
        unit->facts.id = record->code.text();
        siblings = true;
    } else if (unit->record.model != record->model) {
        auto& before = by_model_[unit->record.model];
        before.erase(std::find(before.begin(), before.end(), unit_index_[id]));
        by_model_[record->model].push_back(unit_index_[id]);
        const std::string left = unit->record.model;
        unit->record.model = record->model;
        judge_model(left);
        siblings = true;
    }
    unit->record = std::move(*record);
    set_chemistry(*unit);
    mark(*unit);
    set_age(*unit);
    const auto figure = [](const std::optional<Fact>& fact) {
        return fact ? std::optional(fact->value) : std::nullopt;
    };
    const auto before =
        std::array{figure(unit->facts.capacity_ah), figure(unit->facts.dc_resistance_ohm),
                   figure(unit->facts.ac_resistance_ohm), figure(unit->facts.self_discharge_ah_per_day)};
    take_history(unit->facts, session_.measurements.of_unit(id), session_.runs.last_run_at(id));
    const auto after = std::array{figure(unit->facts.capacity_ah), figure(unit->facts.dc_resistance_ohm),
                                  figure(unit->facts.ac_resistance_ohm), figure(unit->facts.self_discharge_ah_per_day)};
    // A known model's siblings only tell what is usual for a leak.
    siblings |= library_.model(unit->record.model) != nullptr ? before[3] != after[3] : before != after;
    judge(*unit);
    return siblings;
}

void Inventory::apply(const ChangeSet& changes) {
    if (changes.everything) {
        load();
        return;
    }
    if (changes.lots || changes.trays || changes.remarks)
        load_small();
    for (const Id id : changes.assemblies)
        refresh_assembly(id);
    std::set<std::string> models;
    for (const Id id : changes.units)
        if (refresh_unit(id))
            if (const UnitState* unit = this->unit(id))
                models.insert(unit->record.model);
    if (changes.library || changes.rules) {
        for (UnitState& unit : units_)
            set_chemistry(unit);
        judge_all();
        return;
    }
    for (const std::string& model : models)
        judge_model(model);
    if (changes.remarks)
        for (UnitState& unit : units_)
            if (set_age(unit))
                judge(unit);
}

} // namespace ingot
