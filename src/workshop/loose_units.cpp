// Cells and modules that come in without a pack (N4). Their origin is an assembly of one group that was opened at once,
// so that lot, claim and price are known of them as of any other unit.
#include "workshop/open.h"
#include "workshop/receive.h"

#include <algorithm>
#include <fmt/format.h>

namespace ingot {

Result<std::vector<Id>> ReceiveService::take_in_loose(const LooseUnits& units, OpenService& open) {
    constexpr int most = 200;
    if (units.count < 1 || units.count > most)
        return Problem{"", 0, said("Give how many there are: 1 to {} at a time.", most)};
    const auto& lots = inventory_.lots();
    const auto lot = std::find_if(lots.begin(), lots.end(), [&](const Lot& l) { return l.id == units.lot; });
    if (lot == lots.end())
        return Problem{"", 0, said("Units belong to a lot. Make the lot first.")};
    const UnitModel* model = inventory_.library().model(units.model);
    int taken = 0;
    const std::string stem = lot->label + " \u00B7 loose ";
    for (const Assembly& pack : inventory_.packs())
        if (pack.label.rfind(stem, 0) == 0)
            taken = std::max(taken, std::atoi(pack.label.c_str() + stem.size()));
    Assembly origin;
    origin.lot = units.lot;
    origin.label = stem + std::to_string(taken + 1);
    origin.chemistry = model != nullptr ? model->chemistry : units.chemistry;
    origin.format = model != nullptr && !model->format.empty() ? model->format : units.format;
    origin.layout = {1, units.count, model != nullptr ? std::max(1, model->cells_in_series) : units.cells_per_unit};
    if (units.claim_ah)
        origin.claim.capacity_ah = *units.claim_ah * units.count;
    std::vector<Id> made;
    const auto done = session_.batch([&]() -> Result<bool> {
        const auto id = add_pack(origin);
        if (!id)
            return id.problem();
        if (auto noted = note_particulars(id.value(), 0,
                                          {{ParticularKind::price, units.price},
                                           {ParticularKind::note, units.state},
                                           {ParticularKind::matched_set, units.matched_by}});
            !noted)
            return noted;
        if (auto sent = set_state(id.value(), AssemblyState::to_open); !sent)
            return sent;
        auto opened = open.open_pack(id.value(), units.roll, units.model, units.tray);
        if (!opened)
            return opened.problem();
        made = opened.value();
        return true;
    });
    if (!done)
        return done.problem();
    return made;
}

Result<bool> ReceiveService::break_set(Id assembly, const std::string& reason) {
    const Assembly* set = inventory_.pack(assembly);
    if (set == nullptr || !particulars(assembly).contains(ParticularKind::matched_set))
        return Problem{"", 0, said("That is no matched set.")};
    if (reason.empty())
        return Problem{"", 0, said("Say why {} is broken: what was matched is worth more together.", set->label)};
    const std::string label = set->label;
    return session_.step(
        [&] {
            session_.remarks.add(Particular{0, assembly, 0, ParticularKind::matched_set, "", session_.now()});
            session_.record_event("matched set broken", label, reason);
        },
        ChangeSet::remark(assembly, 0));
}

Result<bool> ReceiveService::keep_as_set(Id assembly, const std::string& matched_by) {
    for (const UnitState& unit : inventory_.units())
        if (unit.record.pack == assembly &&
            (unit.record.whereabouts == Whereabouts::reserved || unit.record.whereabouts == Whereabouts::built))
            return Problem{"", 0, said("{} is used by itself already: the set cannot be whole again.", unit.code())};
    return note_particulars(assembly, 0, {{ParticularKind::matched_set, matched_by}});
}

} // namespace ingot
