// Is it worth it? What is known of a pack for it, what the shop remembers, what its own jobs took.
#include "exchange/worth_json.h"
#include "workshop/receive.h"
#include "workshop/triage.h"

#include <QString>

#include <fmt/format.h>

#include <algorithm>
#include <sstream>

namespace ingot {

namespace {

// What somebody noted of it: that there is none, or what it is. Nobody: not known.
std::optional<bool> there(const ReceiveService::Particulars& known, ParticularKind kind) {
    const auto found = known.find(kind);
    return found == known.end() ? std::nullopt : std::optional(!says_none(found->second));
}

} // namespace

WorthCase ReceiveService::worth_case(Id id, const TriageService& triage) const {
    WorthCase out = inventory_.shops_worth();
    out.pack = {};
    for (RouteTerms& terms : out.terms)
        terms.units = 0; // of that pack's design; prices and what one holds are the shop's
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr)
        return out;
    const PackLayout& layout = p->layout;
    out.pack.units = layout.units();
    const CellFormat* format = p->format.empty() ? nullptr : inventory_.library().format(p->format);
    if (const auto claimed = believable_unit_ah(p->claim, layout, *chemistry, format))
        out.pack.unit_wh = *claimed * chemistry->nominal_v() * layout.cells_per_unit;
    const Particulars known = particulars(id);
    out.pack.charger_at_hand = there(known, ParticularKind::charger);
    out.pack.board_sound = there(known, ParticularKind::board);
    // To replace: the groups that the first explanation names, when it is about units; one group when nothing is read.
    int groups = 1;
    const std::vector<Explanation> explanations =
        triage.explained_at_hand(id) ? triage.explained(id).explanations : std::vector<Explanation>();
    if (!triage.triage_case(id).readings.empty() && !explanations.empty()) {
        const Explanation& first = explanations.front();
        const bool units = first.fault == Fault::dead_group || first.fault == Fault::leaking_cell ||
                           first.fault == Fault::weak_group || first.fault == Fault::reversed_unit;
        groups = units ? static_cast<int>(first.groups.size()) : 0;
    }
    out.pack.units_to_replace = std::min(groups * layout.units_per_group(), out.pack.units);
    for (const UnitState& unit : inventory_.units())
        out.pack.stock_at_hand += unit.in_stock() && unit.facts.chemistry == p->chemistry &&
                                          unit.verdict.duty <= Duty::light && inventory_.set_of(unit) == 0
                                      ? 1
                                      : 0;
    for (const Assembly& other : inventory_.packs()) {
        if (other.id == id || !triage.may_donate(other, *p))
            continue;
        for (const auto& [g, v] : triage.group_readings(other.id, Condition::rest))
            if (g > 0 && state_of(*chemistry, v, layout.cells_per_tap()) == GroupState::working)
                out.pack.donors_at_hand += layout.units_per_group();
    }
    return out;
}

Result<bool> ReceiveService::remember_worth(const WorthCase& worth) {
    ChangeSet changes;
    changes.settings = true;
    return session_.step([&] { session_.catalogue.set("worth", exchange::write_worth_case(worth)); }, changes);
}

Result<bool> ReceiveService::note_hours(Id pack, const JobDone& job) {
    const Assembly* p = inventory_.pack(pack);
    if (p == nullptr)
        return no_such_pack();
    if (!(job.hours > 0))
        return Problem{"", 0, said("A job takes more than no time. Give its hours of hands.")};
    const std::string value = fmt::format("{} {:.2f} {:.2f}", code(job.route), job.hours, job.estimated);
    return session_.step(
        [&] {
            session_.remarks.add(Particular{0, pack, 0, ParticularKind::hours, value, session_.now()});
        },
        ChangeSet::remark(pack, 0));
}

std::vector<JobDone> ReceiveService::jobs_done() const {
    std::vector<JobDone> out;
    for (const Particular& p : inventory_.particulars()) {
        std::istringstream in(p.kind == ParticularKind::hours ? p.value : std::string());
        in.imbue(std::locale::classic());
        std::string route;
        JobDone job;
        if (in >> route >> job.hours >> job.estimated)
            if (const auto known = route_from(route)) {
                job.route = *known;
                out.push_back(job);
            }
    }
    return out;
}

} // namespace ingot
