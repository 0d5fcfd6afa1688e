#include "workshop/bench_wording.h"

#include "workshop/figures.h"

#include <QCoreApplication>

namespace ingot::wording {

namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("wording", text);
}

} // namespace

QString resistance_note(ResistanceWarning warning) {
    switch (warning) {
    case ResistanceWarning::current_turned:
        return tr("The log counts discharge as positive; its sign was turned.");
    case ResistanceWarning::no_usable_step:
        return tr("No step of current is large enough with a sample within a second on either side, so no resistance "
                  "can be concluded.");
    case ResistanceWarning::steps_disagree:
        return tr("The steps disagree with each other; look at them one by one.");
    }
    return {};
}

QString resistance_method(ResistanceMethod method) {
    switch (method) {
    case ResistanceMethod::two_level_pulse:
        return tr("two-level pulse");
    case ResistanceMethod::steps:
        return tr("median of the steps");
    case ResistanceMethod::none:
        break;
    }
    return tr("none");
}

QString conditioning_verdict(ConditioningVerdict verdict) {
    switch (verdict) {
    case ConditioningVerdict::fit:
        return tr("Fit");
    case ConditioningVerdict::replace:
        return tr("Replace");
    case ConditioningVerdict::keep_cycling:
        break;
    }
    return tr("Keep cycling");
}

QString conditioning_reason(const ConditioningResult& result, double bar_ah) {
    const QString bar = figures::unit_capacity(bar_ah);
    const QString level = result.level_ah ? figures::unit_capacity(*result.level_ah) : QString();
    const QString probability = figures::percent(result.pass_probability, result.pass_probability < 0.095 ? 1 : 0);
    switch (result.reason) {
    case ConditioningReason::no_cycle:
        return tr("Nothing is measured yet.");
    case ConditioningReason::at_the_bar:
        return tr("The last full cycle reaches the bar of %1 and does not fall.").arg(bar);
    case ConditioningReason::by_chance:
        return tr("The last cycle reached the bar of %1, but the others say that this was chance: run it once more.")
            .arg(bar);
    case ConditioningReason::falls:
        return tr("It loses capacity from cycle to cycle.");
    case ConditioningReason::may_fall:
        return tr("The last cycle gave clearly less: one more will tell whether it falls.");
    case ConditioningReason::too_far:
        return tr("It levels at about %1, under the bar of %2; the chance that it ever gets there is %3.")
            .arg(level, bar, probability);
    case ConditioningReason::climbs:
        return tr("It still climbs, towards about %1; the chance that it reaches %2 is %3.")
            .arg(level, bar, probability);
    case ConditioningReason::stood_still_doubt:
        return tr("It stands near %1, but units have stood still for a set of cycles and climbed again; the chance "
                  "that "
                  "it reaches %2 is %3.")
            .arg(level, bar, probability);
    case ConditioningReason::last_cut_short:
        return tr("A limit ended the last cycle early: it says little.");
    }
    return {};
}

QString conditioning_advice(const ConditioningResult& result) {
    switch (result.verdict) {
    case ConditioningVerdict::fit:
        return tr("use it");
    case ConditioningVerdict::replace:
        return tr("replace it");
    case ConditioningVerdict::keep_cycling:
        break;
    }
    return tr("run %1 more").arg(result.cycles_to_run);
}

QString rule_of_thumb(const ConditioningResult& result) {
    if (result.rule_of_thumb == result.verdict)
        return {};
    switch (result.rule_of_thumb) {
    case ConditioningVerdict::fit:
        return tr("The old hands' rule would take it as it is.");
    case ConditioningVerdict::replace:
        return tr("The old hands' rule (three cycles without a gain of 1 %) would replace it.");
    case ConditioningVerdict::keep_cycling:
        break;
    }
    return tr("The old hands' rule (three cycles without a gain of 1 %) would go on.");
}

} // namespace ingot::wording
