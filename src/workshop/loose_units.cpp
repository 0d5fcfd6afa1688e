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
                                          {{ParticularKind::price, units.price}, {ParticularKind::note, units.state}});
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

} // namespace ingot
