#include "workshop/triage.h"

#include "workshop/job.h"
#include "workshop/receive.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
namespace ingot {

bool TriageService::may_donate(const Assembly& donor, const Assembly& host) const {
    const bool undecided = donor.state == AssemblyState::in_triage || donor.state == AssemblyState::to_open ||
                           donor.state == AssemblyState::under_repair;
    return undecided && donor.chemistry == host.chemistry && donor.layout == host.layout &&
           !inventory_.pack_quarantined(donor.id);
}

DonorQuestion TriageService::donor_question(const Assembly& kind, bool unlike_too) const {
    DonorQuestion out;
    const auto of_one_make = [&](const PackLayout& a, const PackLayout& b) {
        return a.parallel == b.parallel && a.cells_per_unit == b.cells_per_unit && a.units_per_tap == b.units_per_tap;
    };
    for (const Assembly& p : inventory_.packs()) {
        Assembly as_kind = p;
        if (unlike_too && of_one_make(p.layout, kind.layout))
            as_kind.layout = kind.layout; // only its number of groups may differ
        if (!may_donate(as_kind, kind))
            continue;
        if (p.layout != kind.layout)
            out.unlike.insert(p.label);
        const auto& read = group_readings(p.id, Condition::rest);
        const auto& empty = groups_taken_out(p.id);
        const std::size_t groups = read.size() - read.count(0) + empty.size();
        if (static_cast<int>(groups) < p.layout.series) {
            ++out.unread;
            continue;
        }
        out.ids[p.label] = p.id;
        const auto& capacities = group_capacities(p.id);
        for (const auto& [g, v] : read)
            if (g > 0) {
                const auto held = capacities.find(g);
                out.groups.push_back({p.label, g, v,
                                      held == capacities.end() ? std::nullopt : std::optional<double>(held->second),
                                      p.model});
            }
        for (const int g : empty) // a place without a group gives nothing and wants one, as a dead one does
            out.groups.push_back({p.label, g, 0.0, std::nullopt, p.model});
    }
    return out;
}

Result<bool> TriageService::move_group(Id from, int group, Id into, int place) {
    const Assembly* donor = inventory_.pack(from);
    const Assembly* host = inventory_.pack(into);
    if (donor == nullptr || host == nullptr)
        return no_such_pack();
    for (const Assembly* p : {donor, host})
        if (receive_.held(*p))
            return Problem{"", 0, said("{} is held: pass its gate or close its quarantine first.", p->label)};
    if (donor->chemistry != host->chemistry || donor->layout.cells_per_tap() != host->layout.cells_per_tap())
        return Problem{"", 0, said("{} and {} do not hold groups of one kind.", donor->label, host->label)};
    if (!group_readings(from, Condition::rest).contains(group) || place < 1 || place > host->layout.series)
        return Problem{"", 0, said("Group {} of {} is not read.", group, donor->label)};
    const Placement* moved = standing_group(inventory_.placements(from), group);
    if (moved == nullptr)
        return Problem{"", 0, said("Group {} of {} was taken out already.", group, donor->label)};
    const Placement* replaced = standing_group(inventory_.placements(into), place);
    const std::string at = session_.now();
    Placement now = *moved;
    now.assembly = into;
    now.group = place;
    now.since = at;
    now.why = "moved from " + donor->label;
    const Id ends = moved->id;
    const Id makes_room = replaced != nullptr ? replaced->id : 0;
    const std::string from_label = donor->label;
    const std::string into_label = host->label;
    ChangeSet changes = ChangeSet::remark(into, 0);
    changes.assemblies.insert(from);
    return session_.step(
        [&] {
            session_.assemblies.end(ends, at, "moved to " + into_label);
            if (makes_room != 0)
                session_.assemblies.end(makes_room, at, "replaced");
            session_.assemblies.add(now);
            session_.remarks.add(PackNote{0, into, NoteKind::replaced, place, from_label, at});
            session_.record_event("group moved", into_label,
                                  fmt::format("group {} of {} to place {}", group, from_label, place));
        },
        changes);
}

} // namespace ingot
