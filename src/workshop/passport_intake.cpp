#include "workshop/passport_intake.h"

#include "workshop/prove_wording.h"

#include <algorithm>

namespace ingot {

namespace {

std::string figure_of(const Passport& passport, DesignFigure figure) {
    for (const auto& [name, value] : passport.design)
        if (name == code(figure))
            return value;
    return {};
}

bool label_taken(const Workshop& workshop, const std::string& label) {
    return std::any_of(workshop.packs().begin(), workshop.packs().end(),
                       [&](const Assembly& pack) { return pack.label == label; });
}

} // namespace

Id built_here(const Workshop& workshop, const Passport& passport) {
    if (passport.workshop != workshop.name())
        return 0;
    for (const Assembly& build : workshop.builds())
        if (build.label == passport.label && build.chemistry == passport.chemistry)
            return build.id;
    return 0;
}

Result<Id> take_in_passport(Workshop& workshop, Id lot, const Passport& passport) {
    Assembly pack;
    pack.lot = lot;
    pack.label = passport.label;
    if (label_taken(workshop, pack.label) && !passport.workshop.empty())
        pack.label += ", " + passport.workshop;
    pack.chemistry = passport.chemistry;
    pack.layout = {passport.series, passport.parallel, passport.cells_per_unit};
    pack.claim.capacity_ah = passport.usable_ah;
    auto made = workshop.receive().add_pack(pack);
    if (!made)
        return made;
    ReceiveService::Particulars known;
    if (const std::string board = figure_of(passport, DesignFigure::board); !board.empty())
        known[ParticularKind::board] = board;
    if (const std::string purpose = figure_of(passport, DesignFigure::purpose); !purpose.empty())
        known[ParticularKind::device] = purpose;
    known[ParticularKind::note] = wording::came_with(passport).toStdString();
    if (const auto noted = workshop.receive().note_particulars(made.value(), 0, known); !noted)
        return noted.problem();
    return made;
}

} // namespace ingot
