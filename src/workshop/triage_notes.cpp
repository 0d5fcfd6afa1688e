#include "workshop/triage.h"

#include "workshop/wording.h"

#include <algorithm>
namespace ingot {

std::optional<double> TriageService::days_since_rest(Id pack_id) const {
    const std::string& rested_at = inventory_.pack_case(pack_id).rested_at;
    const auto days = days_between(rested_at, session_.now());
    return days ? std::optional(std::max(0.0, *days)) : std::nullopt;
}

Result<Id> TriageService::note(Id pack_id, NoteKind kind, int group, const std::string& code) {
    if (inventory_.pack(pack_id) == nullptr)
        return no_such_pack();
    return session_.commit(
        [&] {
            return session_.remarks.add(PackNote{0, pack_id, kind, group, code, session_.now()});
        },
        ChangeSet::remark(pack_id, 0));
}

std::vector<std::string> TriageService::symptoms_of_pack(Id pack) const {
    std::vector<std::string> out;
    for (const PackNote& n : inventory_.notes())
        if (n.assembly == pack && n.kind == NoteKind::symptom)
            out.push_back(n.code);
    return out;
}

Result<bool> TriageService::note_symptom(Id pack_id, const std::string& id, bool present) {
    if (inventory_.library().triage.symptom(id) == nullptr)
        return Problem{"", 0, said("Symptom \"{}\" is not in the library.", id)};
    const auto& notes = inventory_.notes();
    const auto known = std::find_if(notes.begin(), notes.end(), [&](const PackNote& n) {
        return n.assembly == pack_id && n.kind == NoteKind::symptom && n.code == id;
    });
    if (present == (known != notes.end()))
        return true;
    if (!present) {
        const Id noted = known->id;
        return session_.step([&] { session_.remarks.strike_note(noted, session_.now()); },
                             ChangeSet::remark(pack_id, 0));
    }
    const auto added = note(pack_id, NoteKind::symptom, 0, id);
    if (!added)
        return added.problem();
    return true;
}

Result<bool> TriageService::note_replaced(Id pack_id, int group) {
    const auto added = note(pack_id, NoteKind::replaced, group, "");
    if (!added)
        return added.problem();
    return true;
}

Result<bool> TriageService::note_lead_swap(Id pack_id, int group, bool moved) {
    const auto added = note(pack_id, NoteKind::lead_swap, group, moved ? "moved" : "stayed");
    if (!added)
        return added.problem();
    return true;
}

} // namespace ingot
