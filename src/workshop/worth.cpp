// Is it worth it? What the workshop knows of a pack, put beside its prices.
#include "exchange/worth_json.h"
#include "workshop/workshop.h"

#include <algorithm>

namespace ingot {

WorthCase Workshop::worth_case(Id id) const {
    WorthCase out = worth_;
    out.pack = {};
    const store::PackRecord* p = pack(id);
    const Chemistry* chemistry = p != nullptr ? library_.chemistry(p->chemistry) : nullptr;
    if (chemistry == nullptr)
        return out;
    const PackLayout& layout = p->layout;
    out.pack.kept_share = worth_.pack.kept_share;
    out.pack.units = layout.units();
    // Energy: claimed capacity, or the middle of what the format holds.
    double unit_ah = 0;
    if (p->claim.capacity_ah && objections(*p).empty())
        unit_ah = *p->claim.capacity_ah / layout.parallel;
    else if (const CellFormat* format = library_.format(p->format))
        if (const FormatCapacity* holds = format->capacity_for(chemistry->id))
            unit_ah = (holds->smallest_ah + holds->largest_ah) / 2;
    constexpr double when_unknown_ah = 2.0;
    out.pack.unit_wh = (unit_ah > 0 ? unit_ah : when_unknown_ah) * chemistry->nominal_v() * layout.cells_per_unit;
    // To replace: the groups that the first explanation names, when it is about units; one group when nothing is read.
    int groups = 1;
    const Explained& now = explained(id);
    if (!triage_case(id).readings.empty() && !now.explanations.empty()) {
        const Explanation& first = now.explanations.front();
        const bool units = first.fault == Fault::dead_group || first.fault == Fault::leaking_cell ||
                           first.fault == Fault::weak_group || first.fault == Fault::reversed_unit;
        groups = units ? static_cast<int>(first.groups.size()) : 0;
    }
    out.pack.units_to_replace = std::min(groups * layout.parallel, out.pack.units);
    for (const UnitState& unit : units_)
        out.pack.stock_at_hand +=
            unit.in_stock() && unit.facts.chemistry == p->chemistry && unit.verdict.duty <= Duty::light ? 1 : 0;
    for (const auto& other : packs_) {
        if (other.id == id || other.chemistry != p->chemistry || other.layout != layout ||
            (other.stage != "triage" && other.stage != "open") || pack_quarantined(other.id))
            continue;
        for (const auto& [g, v] : group_readings(other.id, Condition::rest).by_group)
            if (g > 0 && state_of(*chemistry, v, layout.cells_per_unit) == GroupState::working)
                out.pack.donors_at_hand += layout.parallel;
    }
    return out;
}

Result<bool> Workshop::remember_worth(const WorthCase& worth) {
    const auto done =
        guarded_step([&] { records_.set_meta("worth", exchange::write_worth_case(worth)); }, touched_nothing);
    if (done)
        worth_ = worth;
    return done;
}

} // namespace ingot
