#include "workshop/inventory.h"

#include "workshop/session.h"

#include <algorithm>

namespace ingot {

namespace {

constexpr const char* default_rules = "capacity-tested";

template <class Rows> auto find_by_id(Rows& rows, Id id) {
    // Identities rise with the order in which rows were made.
    const auto at =
        std::lower_bound(rows.begin(), rows.end(), id, [](const auto& row, Id wanted) { return row.id < wanted; });
    return at != rows.end() && at->id == id ? &*at : nullptr;
}

} // namespace

Inventory::Inventory(Session& session, exchange::Library library) : session_(session), library_(std::move(library)) {
    const auto found = library_.rule_sets.find(default_rules);
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
    overrules_ = session_.remarks.overrules();
    drawings_ = session_.remarks.drawings();
    photo_counts_ = session_.remarks.photo_counts();
}

void Inventory::load_assemblies() {
    packs_.clear();
    builds_.clear();
    for (Assembly& assembly : session_.assemblies.all())
        (assembly.came_in() ? packs_ : builds_).push_back(std::move(assembly));
    placements_ = session_.assemblies.placements();
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
        if (UnitState* unit = unit_at(quarantine.unit); unit != nullptr && quarantine.closed_at.empty()) {
            unit->quarantined = true;
            unit->facts.quarantine_findings.push_back(quarantine.reason);
        }
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

void Inventory::mark(UnitState& unit) const {
    unit.findings.clear();
    for (const Finding& finding : findings_)
        if (finding.unit == unit.record.id)
            unit.findings.push_back(finding.code);
    unit.quarantined = false;
    unit.facts.quarantine_findings.clear();
    for (const Quarantine& quarantine : quarantines_)
        if (quarantine.unit == unit.record.id && quarantine.closed_at.empty()) {
            unit.quarantined = true;
            unit.facts.quarantine_findings.push_back(quarantine.reason);
        }
}

UnitReference Inventory::reference_for_unit(const UnitState& unit) const {
    const auto siblings = siblings_.find(unit.record.model);
    const Assembly* origin = pack(unit.record.pack);
    std::optional<double> claimed_ah;
    if (origin != nullptr && origin->claim.capacity_ah)
        if (const Chemistry* chemistry = chemistry_of(*origin);
            chemistry != nullptr && check_claim(origin->claim, origin->layout, *chemistry,
                                                origin->format.empty() ? nullptr : library_.format(origin->format))
                                        .empty()) // a claim that cannot be is none
            claimed_ah = *origin->claim.capacity_ah / origin->layout.parallel;
    return reference_for(library_.model(unit.record.model), siblings == siblings_.end() ? nullptr : &siblings->second,
                         claimed_ah, origin != nullptr ? origin->layout.cells_per_unit : 1);
}

void Inventory::judge(UnitState& unit) const {
    unit.reference = reference_for_unit(unit);
    unit.verdict = sort_unit(unit.facts, unit.reference, library_.chemistry(unit.facts.chemistry), rules_);
    for (const Overrule& overrule : overrules_) {
        if (overrule.unit != unit.record.id || unit.verdict.duty == Duty::quarantine)
            continue;
        unit.verdict.overruled_from = unit.verdict.duty;
        unit.verdict.duty = duty_from(overrule.duty).value_or(unit.verdict.duty);
        Evidence evidence;
        evidence.kind = EvidenceKind::overruled;
        evidence.allows = unit.verdict.duty;
        evidence.decides = true;
        evidence.note = overrule.reason;
        unit.verdict.evidence.insert(unit.verdict.evidence.begin(), evidence);
    }
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
    if (leak_moved || (!known && rating_moved))
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
    if (Assembly* there = find_by_id(rows, id))
        *there = std::move(*record);
    else
        rows.push_back(std::move(*record)); // the newest has the highest identity
    placements_[id] = session_.assemblies.placements_of(id);
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
}

std::span<const Placement> Inventory::placements(Id assembly) const {
    const auto found = placements_.find(assembly);
    return found == placements_.end() ? std::span<const Placement>() : std::span<const Placement>(found->second);
}

std::span<const Measurement> Inventory::measurements(Id assembly) const {
    const auto found = measurements_.find(assembly);
    return found == measurements_.end() ? std::span<const Measurement>() : std::span<const Measurement>(found->second);
}

const Assembly* Inventory::pack(Id id) const {
    return find_by_id(packs_, id);
}

const Assembly* Inventory::build(Id id) const {
    return find_by_id(builds_, id);
}

UnitState* Inventory::unit_at(Id id) {
    const auto found = unit_index_.find(id);
    return found == unit_index_.end() ? nullptr : &units_[found->second];
}

const UnitState* Inventory::unit(Id id) const {
    const auto found = unit_index_.find(id);
    return found == unit_index_.end() ? nullptr : &units_[found->second];
}

const UnitState* Inventory::unit_by_code(const UnitCode& code) const {
    const auto found =
        std::find_if(units_.begin(), units_.end(), [&](const UnitState& u) { return u.record.code == code; });
    return found == units_.end() ? nullptr : &*found;
}

Result<Id> Inventory::find_unit(const std::string& typed) const {
    if (looks_like_unit_code(typed)) {
        const auto code = parse_unit_code(typed);
        if (!code)
            return code.problem();
        if (const UnitState* unit = unit_by_code(code.value()))
            return unit->record.id;
        return Problem{"", 0, code.value().text() + " is not in this workshop."};
    }
    constexpr std::size_t most_figures = 4;
    const bool figures = !typed.empty() && typed.size() <= most_figures &&
                         std::all_of(typed.begin(), typed.end(), [](char c) { return c >= '0' && c <= '9'; });
    if (!figures)
        return Problem{"", 0,
                       "\"" + typed +
                           "\" is neither a unit code (like K4-0193 with its check character) nor its last figures."};
    const int number = std::stoi(typed);
    const UnitState* match = nullptr;
    for (const UnitState& unit : units_) {
        if (unit.record.code.number != number)
            continue;
        if (match != nullptr)
            return Problem{
                "", 0, typed + " is not unique: " + match->code() + " and " + unit.code() + ". Type the whole code."};
        match = &unit;
    }
    if (match == nullptr)
        return Problem{"", 0, "No unit has the number " + typed + "."};
    return match->record.id;
}

bool Inventory::pack_quarantined(Id pack) const {
    return std::any_of(quarantines_.begin(), quarantines_.end(),
                       [&](const Quarantine& q) { return q.assembly == pack && q.closed_at.empty(); });
}

std::array<int, station_count> Inventory::waiting() const {
    std::array<int, station_count> counts{};
    const auto at = [&](Station station) -> int& { return counts[static_cast<std::size_t>(station)]; };
    for (const Assembly& p : packs_) {
        at(Station::receive) += p.state == AssemblyState::received ? 1 : 0;
        at(Station::triage) += p.state == AssemblyState::in_triage || p.state == AssemblyState::under_repair ? 1 : 0;
        at(Station::open) += p.state == AssemblyState::to_open ? 1 : 0;
    }
    for (const UnitState& unit : units_) {
        if (!unit.in_stock())
            continue;
        at(Station::test) += !unit.facts.capacity_ah && unit.verdict.duty <= Duty::undecided ? 1 : 0;
        at(Station::sort) += unit.facts.capacity_ah ? 1 : 0;
        at(Station::match) += unit.verdict.duty <= Duty::light ? 1 : 0;
    }
    for (const Assembly& b : builds_)
        at(Station::build) += b.state == AssemblyState::planned ? 1 : 0;
    return counts;
}

std::array<int, duty_count> Inventory::duty_counts() const {
    std::array<int, duty_count> counts{};
    for (const UnitState& u : units_)
        if (u.in_stock())
            ++counts[static_cast<std::size_t>(u.verdict.duty)];
    return counts;
}

const PackCase& Inventory::pack_case(Id id) const {
    if (const auto found = cases_.find(id); found != cases_.end())
        return found->second;
    PackCase& made = cases_[id];
    if (const Assembly* p = pack(id))
        made = ingot::pack_case(
            *p, [this](Id assembly) { return placements(assembly); },
            [this](Id assembly) { return measurements(assembly); }, notes_);
    return made;
}

std::int64_t Inventory::revision(Id pack) const {
    const auto found = revisions_.find(pack);
    constexpr std::int64_t loads_apart = 1'000'000'000;
    return loads_ * loads_apart + (found == revisions_.end() ? 0 : found->second);
}

} // namespace ingot
