// New groups for a pack that was opened in part: asked of the stock, built as a build of their own, put in its places.
#include "core/measure/statistics.h"
#include "workshop/build.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>
#include <set>

namespace ingot {

namespace {

Problem no_such_refill() {
    return {"", 0, said("This build is no refill of a pack.")};
}

} // namespace

// What a group gives: measured as a group, or the sum of its units where it was built here and all of them are
// measured.
std::optional<double> BuildService::group_capacity(const Assembly& pack, int group) const {
    const auto& measured = inventory_.pack_case(pack.id).capacity_ah;
    if (const auto found = measured.find(group); found != measured.end())
        return found->second;
    const Placement* content = standing_group(inventory_.placements(pack.id), group);
    if (content == nullptr || inventory_.build(content->content_assembly) == nullptr)
        return std::nullopt;
    double sum = 0;
    for (const Placement& p : inventory_.placements(content->content_assembly)) {
        if (!p.stands() || p.group != content->content_group)
            continue;
        const UnitState* unit = inventory_.unit(p.unit);
        if (unit == nullptr || !unit->facts.capacity_ah)
            return std::nullopt;
        sum += unit->facts.capacity_ah->value;
    }
    return sum > 0 ? std::optional(sum) : std::nullopt;
}

Refill BuildService::refill_for(const Assembly& pack, std::vector<int> groups) const {
    Refill refill;
    refill.pack = pack.id;
    refill.groups = std::move(groups);
    const PackCase& known = inventory_.pack_case(pack.id);
    const auto at_rest = known.newest.find(Condition::rest);
    std::vector<double> volts;
    for (int g = 1; g <= pack.layout.series; ++g) {
        const Placement* content = standing_group(inventory_.placements(pack.id), g);
        if (content == nullptr || std::find(refill.groups.begin(), refill.groups.end(), g) != refill.groups.end())
            continue;
        ++refill.survivors;
        if (const auto ah = group_capacity(pack, g)) {
            ++refill.known;
            refill.weakest_ah = std::min(refill.weakest_ah.value_or(*ah), *ah);
        }
        if (at_rest != known.newest.end() && at_rest->second.contains(g))
            volts.push_back(at_rest->second.at(g));
    }
    if (!volts.empty())
        refill.stand_at_v = median(std::move(volts));
    std::map<std::string, int> models;
    for (const UnitState& unit : inventory_.units())
        if (unit.record.pack == pack.id)
            ++models[unit.record.model];
    const auto most = std::max_element(models.begin(), models.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
    if (most != models.end())
        refill.model = most->first;
    return refill;
}

std::vector<Refill> BuildService::refills() const {
    std::vector<Refill> out;
    for (const Assembly& pack : inventory_.packs()) {
        if (pack.state != AssemblyState::under_repair || inventory_.pack_quarantined(pack.id))
            continue;
        std::set<int> begun;
        for (const Assembly& build : inventory_.builds())
            if ((build.state == AssemblyState::planned || build.state == AssemblyState::taken ||
                 build.state == AssemblyState::joined) && // what was put in and came out again asks for nothing
                design(build.id).word(DesignFigure::refill_pack) == pack.label)
                for (const int place : design(build.id).refill_groups())
                    begun.insert(place);
        std::vector<int> empty = inventory_.pack_case(pack.id).taken_out;
        std::erase_if(empty, [&](int place) { return begun.contains(place); });
        if (!empty.empty())
            out.push_back(refill_for(pack, std::move(empty)));
    }
    return out;
}

std::optional<Refill> BuildService::refill(Id build) const {
    const BuildDesign& asked = design(build);
    for (const Assembly& pack : inventory_.packs())
        if (asked.refills() && pack.label == asked.word(DesignFigure::refill_pack))
            return refill_for(pack, asked.refill_groups());
    return std::nullopt;
}

Result<Id> BuildService::begin_refill(Id pack_id) {
    const auto all = refills();
    const auto asked = std::find_if(all.begin(), all.end(), [&](const Refill& r) { return r.pack == pack_id; });
    const Assembly* pack = inventory_.pack(pack_id);
    if (pack == nullptr)
        return no_such_pack();
    if (asked == all.end())
        return Problem{"", 0,
                       said("{} has no empty place that nothing is begun for. Open it in part first.", pack->label)};
    if (pack->layout.units_per_tap > 1)
        return Problem{"", 0,
                       said("{} is of blocks: the units of one stand in series. Match units one by one and put them in "
                            "their places by hand.",
                            pack->label)};
    Assembly build;
    build.label = inventory_.next_build_label();
    build.state = AssemblyState::planned;
    build.chemistry = pack->chemistry;
    build.layout = {static_cast<int>(asked->groups.size()), pack->layout.parallel, pack->layout.cells_per_unit};
    build.created_at = session_.now();
    const std::string places = fmt::format("{}", fmt::join(asked->groups, ","));
    std::vector<std::pair<DesignFigure, std::string>> figures{
        {DesignFigure::purpose, "refill of " + pack->label + ", " + places},
        {DesignFigure::refill_pack, pack->label},
        {DesignFigure::refill_groups, places}};
    // Stronger than the weakest that stays gains nothing: what is better stays in stock.
    if (asked->weakest_ah)
        figures.emplace_back(DesignFigure::wanted_ah, fmt::format("{}", *asked->weakest_ah));
    if (!asked->model.empty())
        figures.emplace_back(DesignFigure::wanted_model, asked->model);
    ChangeSet changes;
    return session_.commit(
        [&] {
            const Id id = session_.assemblies.add(build);
            for (const auto& [figure, value] : figures)
                session_.assemblies.set_figure(id, figure, value, build.created_at);
            session_.record_event("build begun", build.label, figures.front().second);
            changes.assemblies.insert(id);
            return id;
        },
        changes);
}

Result<bool> BuildService::put_in(Id id) {
    const Assembly* build = inventory_.build(id);
    const std::vector<int> places = design(id).refill_groups();
    const std::string pack_label = design(id).word(DesignFigure::refill_pack);
    if (build == nullptr || static_cast<int>(places.size()) != build->layout.series)
        return no_such_refill();
    if (build->state != AssemblyState::joined)
        return Problem{"", 0, said("{}: join its groups first, step by step.", build->label)};
    const auto& packs = inventory_.packs();
    const auto pack =
        std::find_if(packs.begin(), packs.end(), [&](const Assembly& p) { return p.label == pack_label; });
    if (pack == packs.end())
        return no_such_pack();
    if (pack->state != AssemblyState::under_repair || inventory_.pack_quarantined(pack->id))
        return Problem{"", 0, said("{} is not under repair, or it is held: see it at Triage.", pack_label)};
    if (pack->chemistry != build->chemistry)
        return Problem{"", 0, said("One pack takes one chemistry: {} is another than {}.", build->label, pack_label)};
    for (const int place : places)
        if (place > pack->layout.series || standing_group(inventory_.placements(pack->id), place) != nullptr)
            return Problem{"", 0, said("Place {} of {} is not empty.", place, pack_label)};
    const Id into = pack->id;
    const std::string label = build->label;
    const std::string at = session_.now();
    ChangeSet changes = ChangeSet::remark(into, 0);
    changes.assemblies.insert(id);
    return session_.step(
        [&] {
            for (std::size_t g = 0; g < places.size(); ++g) {
                Placement stands;
                stands.assembly = into;
                stands.group = places[g];
                stands.content_assembly = id;
                stands.content_group = static_cast<int>(g) + 1;
                stands.since = at;
                stands.why = "refill from " + label;
                session_.assemblies.add(stands);
                // What was read of this place before speaks of what is gone.
                session_.remarks.add(PackNote{0, into, NoteKind::replaced, places[g], label, at});
            }
            session_.assemblies.set_state(id, AssemblyState::in_service);
            session_.record_event("refill put in", pack_label, label);
        },
        changes);
}

Result<bool> BuildService::take_out(Id id) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || design(id).refill_groups().empty())
        return no_such_refill();
    std::vector<const Placement*> standing;
    for (const Assembly& pack : inventory_.packs())
        for (const Placement& p : inventory_.placements(pack.id))
            if (p.stands() && p.content_assembly == id)
                standing.push_back(&p);
    if (static_cast<int>(standing.size()) != build->layout.series)
        return Problem{"", 0, said("{} does not stand in its pack as it was put in.", build->label)};
    const std::string label = build->label;
    ChangeSet changes = ChangeSet::assembly(id);
    std::vector<Id> ends;
    for (const Placement* p : standing) {
        changes.assemblies.insert(p->assembly);
        ends.push_back(p->id);
    }
    return session_.step(
        [&] {
            const std::string at = session_.now();
            for (const Id placement : ends)
                session_.assemblies.end(placement, at, "taken out again");
            session_.assemblies.set_state(id, AssemblyState::joined);
            session_.record_event("refill taken out", label);
        },
        changes);
}

} // namespace ingot
