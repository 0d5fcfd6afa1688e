#include "exchange/worth_json.h"
#include "workshop/inventory.h"
#include "workshop/session.h"

#include <algorithm>
#include <fmt/format.h>
#include <limits>

namespace ingot {

// Identities rise with the order in which rows were made.
const Assembly* Inventory::assembly_in(const std::vector<Assembly>& rows, Id id) {
    const auto at =
        std::lower_bound(rows.begin(), rows.end(), id, [](const Assembly& row, Id wanted) { return row.id < wanted; });
    return at != rows.end() && at->id == id ? &*at : nullptr;
}

std::span<const Placement> Inventory::placements(Id assembly) const {
    const auto found = placements_.find(assembly);
    return found == placements_.end() ? std::span<const Placement>() : std::span<const Placement>(found->second);
}

const BuildDesign& Inventory::design(Id build) const {
    static const BuildDesign nothing;
    const auto found = designs_.find(build);
    return found == designs_.end() ? nothing : found->second;
}

const BuildTicks& Inventory::ticks(Id build) const {
    static const BuildTicks nothing;
    const auto found = ticks_.find(build);
    return found == ticks_.end() ? nothing : found->second;
}

std::span<const Measurement> Inventory::measurements(Id assembly) const {
    const auto found = measurements_.find(assembly);
    return found == measurements_.end() ? std::span<const Measurement>() : std::span<const Measurement>(found->second);
}

const Assembly* Inventory::pack(Id id) const {
    return assembly_in(packs_, id);
}

const Assembly* Inventory::build(Id id) const {
    return assembly_in(builds_, id);
}

const Assembly* Inventory::assembly(Id id) const {
    const Assembly* found = pack(id);
    return found != nullptr ? found : build(id);
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
        return Problem{"", 0, said("{} is not in this workshop.", code.value().text())};
    }
    constexpr std::size_t most_figures = 4;
    const bool figures = !typed.empty() && typed.size() <= most_figures &&
                         std::all_of(typed.begin(), typed.end(), [](char c) { return c >= '0' && c <= '9'; });
    if (!figures)
        return Problem{
            "", 0,
            said("\"{}\" is neither a unit code (like K4-0193 with its check character) nor its last figures.", typed)};
    const int number = std::stoi(typed);
    const UnitState* match = nullptr;
    for (const UnitState& unit : units_) {
        if (unit.record.code.number != number)
            continue;
        if (match != nullptr)
            return Problem{
                "", 0, said("{} is not unique: {} and {}. Type the whole code.", typed, match->code(), unit.code())};
        match = &unit;
    }
    if (match == nullptr)
        return Problem{"", 0, said("No unit has the number {}.", typed)};
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
        // At rest since charge was last moved through it, and nobody knows yet what it leaks.
        at(Station::rest) += unit.facts.fresh_voltage_v() && !unit.facts.self_discharge_ah_per_day &&
                                     unit.verdict.duty <= Duty::undecided
                                 ? 1
                                 : 0;
        at(Station::sort) += unit.facts.capacity_ah ? 1 : 0;
        at(Station::match) += unit.verdict.duty <= Duty::light ? 1 : 0;
    }
    for (const Assembly& b : builds_) {
        at(Station::build) += b.state == AssemblyState::planned || b.state == AssemblyState::taken ? 1 : 0;
        at(Station::prove) += b.state == AssemblyState::joined && at_prove(b) ? 1 : 0;
    }
    return counts;
}

WorthCase Inventory::shops_worth() const {
    WorthCase out = library_.usual_worth;
    if (const std::string kept = session_.catalogue.value("worth"); !kept.empty())
        if (const auto worth = exchange::read_worth_case(kept, "meta", out))
            out = worth.value();
    return out;
}

std::map<Id, std::vector<Id>> Inventory::sets_in_stock() const {
    std::map<Id, std::vector<Id>> out;
    if (!sets_.empty())
        for (const UnitState& unit : units_)
            if (const Id set = set_of(unit); set != 0 && unit.in_stock())
                out[set].push_back(unit.record.id);
    return out;
}

std::optional<Problem> Inventory::breaks_a_set(const std::vector<Id>& used) const {
    const std::set<Id> taken(used.begin(), used.end());
    for (const auto& [set, units] : sets_in_stock()) {
        const auto in = std::find_if(units.begin(), units.end(), [&](Id id) { return taken.contains(id); });
        const auto out = std::find_if(units.begin(), units.end(), [&](Id id) { return !taken.contains(id); });
        if (in != units.end() && out != units.end())
            return Problem{"", 0,
                           said("{} belongs to the matched set {} of {} units, {} with it: it is used whole, or broken "
                                "first.",
                                unit(*in)->code(), assembly(set)->label, units.size(), unit(*out)->code())};
    }
    return std::nullopt;
}

bool Inventory::wants_units(const Assembly& build) const {
    const auto in_it = placements(build.id);
    return !build.came_in() && build.state == AssemblyState::planned &&
           std::none_of(in_it.begin(), in_it.end(), [](const Placement& p) { return p.stands(); });
}

bool Inventory::at_prove(const Assembly& build) const {
    const bool joined = build.state == AssemblyState::joined || build.state == AssemblyState::proved ||
                        build.state == AssemblyState::in_service || build.state == AssemblyState::returned;
    return joined && !build.came_in() && !design(build.id).refills();
}

std::vector<const Assembly*> Inventory::wanting() const {
    std::vector<const Assembly*> out;
    for (const Assembly& build : builds_)
        if (wants_units(build))
            out.push_back(&build);
    const auto priority = [&](const Assembly* build) {
        return design(build->id).number(DesignFigure::priority).value_or(std::numeric_limits<double>::max());
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const Assembly* a, const Assembly* b) { return priority(a) < priority(b); });
    return out;
}

std::string Inventory::next_build_label() const {
    int largest = 0;
    for (const Assembly& build : builds_)
        if (build.label.starts_with("B-"))
            largest = std::max(largest, std::atoi(build.label.c_str() + 2));
    return fmt::format("B-{:03d}", largest + 1);
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
