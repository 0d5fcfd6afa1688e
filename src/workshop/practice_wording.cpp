#include "workshop/practice_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"
#include "workshop/triage_wording.h"

#include <QStringList>

namespace ingot::wording {

QString practice_measure(PracticeMeasure measure) {
    switch (measure) {
    case PracticeMeasure::rest_round:
        return tr("Rest round");
    case PracticeMeasure::terminals:
        return tr("Terminals");
    case PracticeMeasure::load_round:
        return tr("Load round");
    case PracticeMeasure::end_of_charge:
        return tr("End of charge");
    case PracticeMeasure::after_storage:
        return tr("After storage");
    case PracticeMeasure::swap_lead:
        return tr("Swap sense lead");
    case PracticeMeasure::unit_voltages:
        return tr("Units of a group");
    case PracticeMeasure::look_inside:
        return tr("Look inside");
    }
    return {};
}

QString practice_measure_below(PracticeMeasure measure, const PackDeal& deal) {
    switch (measure) {
    case PracticeMeasure::rest_round:
        return tr("%1 readings").arg(deal.layout().series);
    case PracticeMeasure::terminals:
        return tr("sum, polarity");
    case PracticeMeasure::load_round:
        return tr("%1, watched").arg(figures::amperes(deal.load_a()));
    case PracticeMeasure::end_of_charge:
        return tr("watched");
    case PracticeMeasure::after_storage:
        return tr("unplugged, read again");
    case PracticeMeasure::swap_lead:
        return tr("of the chosen group");
    case PracticeMeasure::unit_voltages:
        return tr("chosen group, links cut");
    case PracticeMeasure::look_inside:
        return tr("joints, strips, smell");
    }
    return {};
}

QString hidden_fault(const HiddenFault& hidden) {
    return hidden.group > 0 ? tr("group %1: %2").arg(hidden.group).arg(fault(hidden.fault)) : fault(hidden.fault);
}

QString engine_step(const EngineStep& step) {
    const QString what = about_one_group(step.taken.measure)
                             ? tr("%1 %2").arg(practice_measure(step.taken.measure)).arg(step.taken.group)
                             : practice_measure(step.taken.measure);
    QStringList sure;
    for (const double p : step.sure_of)
        sure << figures::percent(p, 0);
    return sure.isEmpty() ? what : tr("%1: %2").arg(what, sure.join(QStringLiteral(", ")));
}

} // namespace ingot::wording
