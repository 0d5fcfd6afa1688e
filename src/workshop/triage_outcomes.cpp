// What packs turned out to be, and what the shop learns from it.
#include "core/triage/pack_case.h"
#include "core/triage/unit_causes.h"
#include "workshop/job.h"
#include "workshop/receive.h"
#include "workshop/triage.h"

#include <algorithm>
#include <map>

namespace ingot {

// Contents that were given codes stand again; a group that moved between packs stays where it went.
TriageCase TriageService::as_it_came(const Assembly& pack) const {
    std::vector<Placement> whole;
    for (Placement placed : inventory_.placements(pack.id))
        if (placed.place == 0 && (placed.stands() || placed.ended_why == "opened")) {
            placed.until.clear();
            whole.push_back(std::move(placed));
        }
    return pack_case(
               pack,
               [&](Id assembly) {
                   return assembly == pack.id ? std::span<const Placement>(whole) : inventory_.placements(assembly);
               },
               [this](Id assembly) { return inventory_.measurements(assembly); }, inventory_.notes())
        .known;
}

void TriageService::explain_as_it_came(Job& job, Id id, std::function<void(const Explained&)> then) const {
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr)
        return;
    job.begin<Explained>([known = as_it_came(*p), chemistry = *chemistry, knowledge = knowledge_for(*p)](
                             const Job::Token&) { return explain(known, chemistry, knowledge); },
                         std::move(then));
}

Result<bool> TriageService::record_outcome(Id id, std::vector<NamedFault> causes, const Explained& explained) {
    const Assembly* p = inventory_.pack(id);
    if (p == nullptr)
        return no_such_pack();
    Outcome outcome;
    outcome.causes = in_order(std::move(causes));
    std::string codes;
    for (const auto& [fault, groups] : outcome.causes) {
        for (const int g : groups)
            if (g < 1 || g > p->layout.series)
                return Problem{"", 0,
                               said("{} has groups 1 to {}; there is no group {}.", p->label, p->layout.series, g)};
        codes += codes.empty() ? "" : ", ";
        codes += code(fault);
    }
    if (!explained.explanations.empty()) {
        outcome.first = named_by(explained.explanations.front());
        outcome.first_stated = explained.explanations.front().probability;
    }
    for (const Explanation& e : explained.explanations)
        if (named_by(e) == outcome.causes)
            outcome.cause_stated += e.probability;
    const std::string label = p->label;
    return session_.step(
        [&] {
            session_.remarks.add(
                Particular{0, id, 0, ParticularKind::true_cause, write_outcome(outcome), session_.now()});
            session_.record_event("true cause recorded", label, codes);
        },
        ChangeSet::remark(id, 0));
}

std::vector<NamedFault> TriageService::causes_by_units(Id id) const {
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr)
        return {};
    std::vector<TestedUnit> units;
    for (const UnitState& unit : inventory_.units())
        if (unit.record.pack == id && unit.record.group > 0) {
            TestedUnit& tested = units.emplace_back();
            tested.group = unit.record.group;
            if (unit.facts.capacity_ah)
                tested.capacity_ah = unit.facts.capacity_ah->value;
            if (unit.facts.self_discharge_ah_per_day)
                tested.leak_ah_per_day = unit.facts.self_discharge_ah_per_day->value;
        }
    if (units.empty())
        return {};
    std::vector<std::optional<double>> group_v(static_cast<std::size_t>(p->layout.series));
    bool read = false;
    for (const GroupReading& r : as_it_came(*p).readings)
        if (r.condition == Condition::rest) {
            group_v[static_cast<std::size_t>(r.group) - 1] = r.voltage_v;
            read = true;
        }
    if (p->layout.series == 1 && !read) // units that came in without a pack stand so
        return {};
    return ingot::causes_by_units(group_v, units, p->layout, *chemistry);
}

std::optional<Outcome> TriageService::outcome(Id pack) const {
    const auto known = receive_.particulars(pack);
    const auto found = known.find(ParticularKind::true_cause);
    return found == known.end() ? std::nullopt : read_outcome(found->second);
}

namespace {

// The newest of each pack.
std::map<Id, std::string> causes_of(const std::vector<Particular>& particulars) {
    std::map<Id, std::string> out;
    for (const Particular& p : particulars)
        if (p.kind == ParticularKind::true_cause)
            out[p.assembly] = p.value;
    return out;
}

} // namespace

std::vector<Outcome> TriageService::outcomes() const {
    std::vector<Outcome> out;
    for (const auto& [pack, text] : causes_of(inventory_.particulars()))
        if (const auto one = read_outcome(text))
            out.push_back(*one);
    return out;
}

std::vector<Outcome> TriageService::outcomes_where(Id but, const std::function<bool(const Assembly&)>& wanted) const {
    std::vector<Outcome> out;
    for (const auto& [id, text] : causes_of(inventory_.particulars()))
        if (const Assembly* pack = inventory_.pack(id); pack != nullptr && id != but && wanted(*pack))
            if (const auto one = read_outcome(text))
                out.push_back(*one);
    return out;
}

namespace {

bool same_kind(const Assembly& a, const Assembly& b) {
    return a.chemistry == b.chemistry && a.layout.series == b.layout.series &&
           a.layout.cells_per_tap() == b.layout.cells_per_tap();
}

} // namespace

std::vector<Outcome> TriageService::outcomes_of_kind(const Assembly& kind) const {
    return outcomes_where(kind.id, [&](const Assembly& pack) { return same_kind(pack, kind); });
}

std::vector<Outcome> TriageService::outcomes_like(const Assembly& kind) const {
    const Chemistry* chemistry = inventory_.chemistry_of(kind);
    return outcomes_where(kind.id, [&](const Assembly& pack) {
        const Chemistry* other = inventory_.chemistry_of(pack);
        return !same_kind(pack, kind) && chemistry != nullptr && other != nullptr &&
               other->lithium == chemistry->lithium &&
               (pack.layout.cells_per_tap() > 1) == (kind.layout.cells_per_tap() > 1);
    });
}

// Grows with every one that is recorded, also where it corrects an older one.
std::size_t TriageService::outcomes_noted() const {
    const auto& noted = inventory_.particulars();
    return static_cast<std::size_t>(std::count_if(
        noted.begin(), noted.end(), [](const Particular& p) { return p.kind == ParticularKind::true_cause; }));
}

TriageKnowledge TriageService::knowledge_for(const Assembly& pack) const {
    return learned(inventory_.library().triage, outcomes_of_kind(pack), outcomes_like(pack));
}

} // namespace ingot
