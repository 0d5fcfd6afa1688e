#include "workshop/refill_work.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

#include <algorithm>
#include <numeric>

namespace ingot {

RefillWork refill_work(const Workshop& workshop, Id build) {
    RefillWork out;
    const auto refill = workshop.build().refill(build);
    const Assembly* pack = refill ? workshop.pack(refill->pack) : nullptr;
    if (pack == nullptr)
        return out;
    const Chemistry* chemistry = workshop.library().chemistry(pack->chemistry);
    const double full_v = (chemistry == nullptr ? 0 : chemistry->full_v) * pack->layout.cells_per_tap();
    const PackCase& known = workshop.inventory().pack_case(pack->id);
    const auto at_rest = known.newest.find(Condition::rest);
    std::vector<double> volts;
    for (int g = 1; g <= pack->layout.series; ++g) {
        const bool comes_in = std::find(refill->groups.begin(), refill->groups.end(), g) != refill->groups.end();
        const bool read = at_rest != known.newest.end() && at_rest->second.contains(g);
        out.read = out.read && (read || comes_in);
        volts.push_back(comes_in ? refill->stand_at_v.value_or(full_v) : read ? at_rest->second.at(g) : full_v);
    }
    out.whole_v = std::accumulate(volts.begin(), volts.end(), 0.0);
    out.runs = refill_runs(refill->groups, volts, workshop.open().strip_drawing(pack->id));
    return out;
}

namespace wording {

namespace {

QString opened(const OpenedJoint& joint) {
    QStringList faces;
    for (const auto face : joint.faces)
        faces << (face == StripDrawing::Face::front ? tr("front") : tr("back"));
    return faces.isEmpty() ? tr("the joint of %1 and %2 (its face is not drawn: Open, strips)")
                                 .arg(joint.below)
                                 .arg(joint.below + 1)
                           : tr("the joint of %1 and %2 on the %3")
                                 .arg(joint.below)
                                 .arg(joint.below + 1)
                                 .arg(faces.join(tr(" and the ")));
}

QString standing(int groups, double volts, bool read) {
    const QString many = tr("%n groups", groups);
    return read ? tr("%1 with %2 end to end").arg(many, figures::volts(volts, 1))
                : tr("%1 with %2 at the most end to end").arg(many, figures::volts(volts, 1));
}

} // namespace

QStringList refill_work(const RefillWork& work) {
    QStringList out;
    constexpr double to_mm = 1000;
    for (const RefillRun& run : work.runs) {
        const QString where =
            run.first == run.last ? tr("Place %1").arg(run.first) : tr("Places %1 to %2").arg(run.first).arg(run.last);
        QStringList joints;
        joints << (run.below ? opened(*run.below) : tr("the minus lead"));
        joints << (run.above ? opened(*run.above) : tr("the plus lead"));
        out << tr("%1: open %2, then %3. %4 mm of air stay at each, both ends taped.")
                   .arg(where, joints[0], joints[1], figures::plain(least_air_m * to_mm, 0));
        QStringList live;
        if (run.standing_below > 0)
            live << tr("below it %1").arg(standing(run.standing_below, run.below_v, work.read));
        if (run.standing_above > 0)
            live << tr("above it %1").arg(standing(run.standing_above, run.above_v, work.read));
        if (!live.isEmpty())
            out << tr("Live meanwhile: %1. One joint open at a time, a card over what is not worked on; the board's "
                      "plug "
                      "and the pack's own connector are off first.")
                       .arg(live.join(tr(", ")));
    }
    if (!out.isEmpty())
        out << tr("Each new group goes in by its minus joint first. The last joint that is closed makes %1 of it: read "
                  "across that gap before, it shows nothing as long as another is open; then the sense leads, 0 first, "
                  "the board last.")
                   .arg(figures::volts(work.whole_v, 1));
    return out;
}

} // namespace wording

} // namespace ingot
