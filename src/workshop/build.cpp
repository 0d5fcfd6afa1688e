#include "workshop/build.h"

#include "exchange/csv.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace ingot {

namespace {

std::optional<Fact> resistance_of(const UnitFacts& facts) {
    return facts.dc_resistance_ohm ? facts.dc_resistance_ohm : facts.ac_resistance_ohm;
}

// What stands in it, or stood in it when it was given up.
bool counts(const Placement& p, const Assembly& build) {
    return p.unit != 0 && (p.stands() || build.state == AssemblyState::given_up);
}

} // namespace

std::optional<Problem> BuildService::welded(const Assembly& build) const {
    if (build.state != AssemblyState::planned && build.state != AssemblyState::taken)
        return Problem{"", 0, said("{} is {}: its units are in it.", build.label, code(build.state))};
    for (const auto& [item, at] : inventory_.ticks(build.id))
        if (item.first > BuildTask::gate)
            return Problem{"", 0,
                           said("Something of {} is welded. Cut it apart and take its steps back first.", build.label)};
    return std::nullopt;
}

BuildSheet BuildService::sheet(Id id) const {
    BuildSheet sheet;
    const Assembly* record = inventory_.build(id);
    if (record == nullptr)
        return sheet;
    sheet.build = *record;
    sheet.group_capacity_ah.assign(static_cast<std::size_t>(record->layout.series), 0);
    std::vector<std::vector<JoinUnit>> joining(static_cast<std::size_t>(record->layout.series));
    for (const Placement& member : inventory_.placements(id)) {
        if (!counts(member, *record))
            continue;
        const UnitState* u = inventory_.unit(member.unit);
        BuildLine line;
        line.group = member.group;
        line.place = member.place;
        line.unit = member.unit;
        line.tray = member.from_tray;
        line.well = member.from_well;
        line.taken = !member.taken_at.empty();
        sheet.taken += line.taken ? 1 : 0;
        const auto g = static_cast<std::size_t>(member.group - 1);
        if (u != nullptr) {
            line.code = u->code();
            line.model = u->record.model;
            line.capacity_ah = u->facts.capacity_ah;
            line.resistance_ohm = resistance_of(u->facts);
            line.leak_ah_per_day = u->facts.self_discharge_ah_per_day;
            line.voltage_v = u->facts.rest_voltage_v;
            if (g < joining.size()) {
                joining[g].push_back({line.voltage_v, line.resistance_ohm, u->reference.rated_ah});
                sheet.group_capacity_ah[g] += line.capacity_ah ? line.capacity_ah->value : 0;
            }
        }
        sheet.lines.push_back(std::move(line));
    }
    std::stable_sort(sheet.lines.begin(), sheet.lines.end(), [](const BuildLine& a, const BuildLine& b) {
        return std::pair(a.group, a.place) < std::pair(b.group, b.place);
    });
    for (const auto& group : joining)
        sheet.joining.push_back(check_joining(group, inventory_.library().practice.joining));
    for (const JoinCheck& check : sheet.joining)
        if (check.difference_v.value_or(0) >= sheet.worst.difference_v.value_or(-1))
            sheet.worst = check;
    return sheet;
}

const Placement* BuildService::placement_of(Id build, Id unit) const {
    for (const Placement& p : inventory_.placements(build))
        if (p.unit == unit && p.stands())
            return &p;
    return nullptr;
}

Result<BuildLine> BuildService::take(Id build_id, Id unit_id) {
    const BuildSheet now_sheet = sheet(build_id);
    const UnitState* u = inventory_.unit(unit_id);
    if (u == nullptr)
        return no_such_unit();
    const auto line = std::find_if(now_sheet.lines.begin(), now_sheet.lines.end(),
                                   [&](const BuildLine& l) { return l.unit == unit_id; });
    const Placement* placement = placement_of(build_id, unit_id);
    if (line == now_sheet.lines.end() || placement == nullptr)
        return Problem{
            "", 0,
            said("{} does not belong to {}. Put it back{}", u->code(), now_sheet.build.label,
                 (u->record.tray.empty() ? std::string(".")
                                         : fmt::format(": tray {}, well {}.", u->record.tray, u->record.well)))};
    if (line->taken)
        return Problem{"", 0, said("{} was taken already, for group {}.", u->code(), line->group)};
    BuildLine taken = *line;
    taken.taken = true;
    const Id placed = placement->id;
    const auto done = session_.step(
        [&] {
            session_.assemblies.set_taken(placed, session_.now());
            if (now_sheet.taken + 1 == static_cast<int>(now_sheet.lines.size()))
                session_.assemblies.set_state(build_id, AssemblyState::taken);
        },
        ChangeSet::assembly(build_id));
    if (!done)
        return done.problem();
    return taken;
}

Result<bool> BuildService::put_back(Id build_id, Id unit_id) {
    const Placement* placement = placement_of(build_id, unit_id);
    if (placement == nullptr || placement->taken_at.empty())
        return Problem{"", 0, said("This unit was not taken for the build.")};
    if (const auto problem = welded(*inventory_.build(build_id)))
        return *problem;
    const Id placed = placement->id;
    return session_.step(
        [&] {
            session_.assemblies.set_taken(placed, "");
            session_.assemblies.set_state(build_id, AssemblyState::planned);
        },
        ChangeSet::assembly(build_id));
}

Result<bool> BuildService::replace(Id build_id, Id unit_id, Id by_id) {
    const Assembly* record = inventory_.build(build_id);
    const Placement* placement = placement_of(build_id, unit_id);
    const UnitState* by = inventory_.unit(by_id);
    if (record == nullptr || placement == nullptr)
        return Problem{"", 0, said("This unit does not belong to the build.")};
    if (by == nullptr)
        return no_such_unit();
    if (const auto problem = welded(*record))
        return *problem;
    if (!by->in_stock())
        return Problem{"", 0, said("{} is not in stock. Choose another.", by->code())};
    if (by->quarantined || by->verdict.duty == Duty::quarantine)
        return Problem{"", 0, said("{} is in quarantine and goes into no pack.", by->code())};
    if (const auto problem = inventory_.breaks_a_set({by_id}))
        return *problem;
    if (by->facts.chemistry != record->chemistry)
        return Problem{"", 0, said("One pack takes one chemistry: {} is another.", by->code())};
    const Placement before = *placement;
    Placement next;
    next.assembly = build_id;
    next.group = before.group;
    next.place = before.place;
    next.unit = by_id;
    next.why = "replaces a unit";
    next.from_tray = by->record.tray;
    next.from_well = by->record.well;
    const BuildTicks ticked = inventory_.ticks(build_id);
    const std::string label = record->label;
    const std::string words =
        by->code() + " for " + (inventory_.unit(unit_id) != nullptr ? inventory_.unit(unit_id)->code() : "");
    ChangeSet changes = ChangeSet::assembly(build_id);
    changes.units.insert(unit_id);
    changes.units.insert(by_id);
    return session_.step(
        [&] {
            const std::string at = session_.now();
            session_.assemblies.end(before.id, at, "replaced");
            // What was seen of the old one, its ring and its polarity before all, is to be seen of the new one.
            for (const auto& [item, ticked_at] : ticked)
                session_.assemblies.tick(build_id, item.first, item.second, false, at);
            next.since = at;
            session_.assemblies.add(next);
            session_.assemblies.set_state(build_id, AssemblyState::planned); // the new one is still to be taken
            session_.record_event("unit replaced", label, words);
        },
        changes);
}

std::vector<BuildService::Substitute> BuildService::substitutes(Id build_id, Id unit_id, std::size_t most) const {
    const BuildSheet now_sheet = sheet(build_id);
    const auto line = std::find_if(now_sheet.lines.begin(), now_sheet.lines.end(),
                                   [&](const BuildLine& l) { return l.unit == unit_id; });
    const UnitState* old = inventory_.unit(unit_id);
    if (line == now_sheet.lines.end() || old == nullptr || !line->capacity_ah)
        return {};
    const double others_ah =
        now_sheet.group_capacity_ah[static_cast<std::size_t>(line->group - 1)] - *line->capacity_ah;
    double weakest_other = std::numeric_limits<double>::max();
    for (std::size_t g = 0; g < now_sheet.group_capacity_ah.size(); ++g)
        if (static_cast<int>(g) + 1 != line->group)
            weakest_other = std::min(weakest_other, now_sheet.group_capacity_ah[g]);
    struct Offer {
        Substitute substitute;
        double unlike = 0; // its model first, then how far it is from the old one
    };
    std::vector<Offer> offers;
    for (const UnitState& unit : inventory_.units()) {
        if (!unit.in_stock() || unit.quarantined || unit.verdict.duty > Duty::light || !unit.facts.capacity_ah ||
            unit.facts.chemistry != now_sheet.build.chemistry || inventory_.set_of(unit) != 0)
            continue;
        Offer offer;
        offer.substitute.unit = unit.record.id;
        offer.substitute.group_ah = others_ah + *unit.facts.capacity_ah;
        offer.substitute.usable_ah = std::min(weakest_other, offer.substitute.group_ah);
        if (const auto ohm = resistance_of(unit.facts))
            offer.substitute.resistance_ohm = ohm->value;
        constexpr double another_model = 1;
        constexpr double nobody_knows = 0.1;
        offer.unlike = unit.record.model == old->record.model ? 0 : another_model;
        offer.unlike += std::fabs(*unit.facts.capacity_ah / *line->capacity_ah - 1);
        offer.unlike += line->resistance_ohm && offer.substitute.resistance_ohm
                            ? std::fabs(*offer.substitute.resistance_ohm / *line->resistance_ohm - 1) / 4
                            : nobody_knows;
        offers.push_back(offer);
    }
    std::stable_sort(offers.begin(), offers.end(), [](const Offer& a, const Offer& b) { return a.unlike < b.unlike; });
    std::vector<Substitute> out;
    for (std::size_t i = 0; i < std::min(most, offers.size()); ++i)
        out.push_back(offers[i].substitute);
    return out;
}

Result<bool> BuildService::give_up(Id build_id) {
    const Assembly* record = inventory_.build(build_id);
    if (record == nullptr)
        return Problem{"", 0, said("There is no such build.")};
    if (record->state != AssemblyState::planned && record->state != AssemblyState::taken)
        return Problem{"", 0, said("{} is {} and is not given up.", record->label, code(record->state))};
    if (const auto problem = welded(*record))
        return *problem;
    const std::string label = record->label;
    std::vector<Id> standing;
    ChangeSet changes = ChangeSet::assembly(build_id);
    for (const Placement& p : inventory_.placements(build_id))
        if (p.stands()) {
            standing.push_back(p.id);
            changes.units.insert(p.unit);
        }
    return session_.step(
        [&] {
            const std::string at = session_.now();
            for (const Id placement : standing)
                session_.assemblies.end(placement, at, "given up");
            session_.assemblies.set_state(build_id, AssemblyState::given_up);
            session_.record_event("build given up", label);
        },
        changes);
}

std::string BuildService::sheet_csv(const BuildSheet& sheet) {
    std::string out = exchange::csv_line({"Group", "Place", "Unit ID", "Model", "Tray", "Well", "Capacity / Ah",
                                          "Resistance / Ohm", "Self-discharge / mAh/day", "Voltage / V", "Taken"});
    for (const BuildLine& line : sheet.lines) {
        std::optional<double> leak = line.leak_ah_per_day;
        if (leak)
            *leak *= 1000;
        out += exchange::csv_line({std::to_string(line.group), std::to_string(line.place), line.code, line.model,
                                   line.tray, line.well > 0 ? std::to_string(line.well) : "",
                                   exchange::csv_number(line.capacity_ah), exchange::csv_number(line.resistance_ohm),
                                   exchange::csv_number(leak), exchange::csv_number(line.voltage_v),
                                   line.taken ? "yes" : "no"});
    }
    return out;
}

} // namespace ingot
