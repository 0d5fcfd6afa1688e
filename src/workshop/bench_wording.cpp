#include "workshop/bench_wording.h"

#include "workshop/figures.h"

#include "workshop/translated.h"
#include "workshop/triage_wording.h"

namespace ingot::wording {

namespace {} // namespace

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
    // A word: on modules of another make-up the figure was off by up to 0.19 (docs/methods/conditioning.md).
    const QString hope = chance(result.pass_probability);
    switch (result.reason) {
    case ConditioningReason::no_cycle:
        return tr("Nothing is measured yet.");
    case ConditioningReason::at_the_bar:
        return tr("The last full cycle reaches the acceptance limit of %1 and does not fall.").arg(bar);
    case ConditioningReason::by_chance:
        return tr("The last cycle reached the acceptance limit of %1, but the others say that this was chance: run it "
                  "once more.")
            .arg(bar);
    case ConditioningReason::falls:
        return tr("It loses capacity from cycle to cycle.");
    case ConditioningReason::may_fall:
        return tr("The last cycle gave clearly less: one more will tell whether it falls.");
    case ConditioningReason::too_far:
        return tr("Its plateau is about %1, under the acceptance limit of %2; hardly any such unit gets there.")
            .arg(level, bar);
    case ConditioningReason::climbs:
        return tr("It still climbs, towards about %1; that it reaches %2 is %3.").arg(level, bar, hope);
    case ConditioningReason::stood_still_doubt:
        return tr("It stands near %1, but units have stood still for 2 to 8 cycles and climbed again; that it reaches "
                  "%2 is %3.")
            .arg(level, bar, hope);
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

QString took_all(int times, int of) {
    return times == 0 ? QString()
                      : tr("It took all the charge that was offered, %1 of %2 times: that marks the strong ones.")
                            .arg(times)
                            .arg(of);
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

QString protocol_objection(const ProtocolObjection& objection, const Protocol& protocol) {
    const QString where = objection.step >= 0 ? tr("Step %1: ").arg(objection.step + 1) : QString();
    const auto volts = [](double v) { return figures::volts(v); };
    switch (objection.fault) {
    case ProtocolFault::no_step:
        return tr("The protocol has no step.");
    case ProtocolFault::wrong_chemistry:
        return tr("%1 is not made for this chemistry. Choose one that is.").arg(QString::fromStdString(protocol.name));
    case ProtocolFault::over_voltage:
        return where + tr("charges to %1 per cell, over the limit of %2. Lower it.")
                           .arg(volts(objection.value), volts(objection.limit));
    case ProtocolFault::under_floor:
        return where + tr("discharges to %1 per cell, under the floor of %2. Raise it.")
                           .arg(volts(objection.value), volts(objection.limit));
    case ProtocolFault::too_much_current:
        return where + tr("draws %1, more than the unit's rating of %2.")
                           .arg(figures::amperes(objection.value), figures::amperes(objection.limit));
    case ProtocolFault::endless_step:
        return where + tr("would never end. Give it a voltage, a charge or a time.");
    case ProtocolFault::endless_loop:
        return where + tr("the loop must go back, and at most %1 times.").arg(objection.limit);
    case ProtocolFault::no_end_for_nickel:
        return where +
               tr("a nickel charge needs an end: a fall of voltage, a rise of temperature, a charge or a clock.");
    case ProtocolFault::charges_frozen:
        return tr("Charging under 0 \u00B0C plates lithium: it is refused at %1 \u00B0C. Warm the unit first.")
            .arg(figures::plain(objection.value, 0));
    case ProtocolFault::charges_deep:
        return tr("It was found at %1 per cell, under the floor of %2: it is charged by the slow recovery only, where "
                  "your rules allow that.")
            .arg(volts(objection.value), volts(objection.limit));
    case ProtocolFault::too_hot:
        return tr("The temperature limit of %1 \u00B0C is over %2 \u00B0C. Hotter, separators shrink and seals and "
                  "vents "
                  "open, even where heat seems to wake a tired cell: that school is not offered here. Lower it.")
            .arg(figures::plain(objection.value, 0), figures::plain(objection.limit, 0));
    case ProtocolFault::beyond_instrument:
        return where + tr("the tester cannot do this (%1 wanted, %2 at most).")
                           .arg(figures::plain(objection.value, 2), figures::plain(objection.limit, 2));
    case ProtocolFault::nothing_there:
        return tr("the bay reads %1: nothing stands there, a clip does not touch, or the unit is dead. Look, then put "
                  "it in again.")
            .arg(volts(objection.value));
    case ProtocolFault::reversed:
        return tr("the bay reads %1: it stands the wrong way round. Turn it, then put it in again.")
            .arg(volts(objection.value));
    case ProtocolFault::overfull:
        return tr("the bay reads %1 per cell, over the %2 that it may be charged to. It is not put on a bay: let it "
                  "rest apart, away from what burns, and find out why.")
            .arg(volts(objection.value), volts(objection.limit));
    case ProtocolFault::another_unit:
        return tr("the bay reads %1, but this unit was last read at %2. Is it another unit? If it is this one, measure "
                  "its voltage again first.")
            .arg(volts(objection.value), volts(objection.limit));
    case ProtocolFault::no_rating:
        return tr("The rated capacity is not known, so no current can be set. Give the unit's model.");
    }
    return {};
}

QString corrected(const CorrectedCapacity& capacity, double full_v, double charged_to_v) {
    return tr("Charged to %1 only: %2 measured, %3 \u00B1 %4 corrected to %5.")
        .arg(figures::volts(charged_to_v, 2), figures::unit_capacity(capacity.measured_ah),
             figures::unit_capacity(capacity.full_ah), figures::unit_capacity(capacity.uncertainty_ah),
             figures::volts(full_v, 2));
}

QString incomparable(Incomparable why) {
    switch (why) {
    case Incomparable::other_cutoff:
        return tr("another cutoff");
    case Incomparable::other_rate:
        return tr("another rate");
    case Incomparable::other_charge:
        return tr("charged to another voltage");
    case Incomparable::other_temperature:
        return tr("another temperature");
    }
    return {};
}

QString protocol_step(ProtocolStepKind kind) {
    switch (kind) {
    case ProtocolStepKind::charge:
        return tr("Charge");
    case ProtocolStepKind::rest:
        return tr("Rest");
    case ProtocolStepKind::discharge:
        return tr("Discharge");
    case ProtocolStepKind::pulse:
        return tr("Pulse");
    case ProtocolStepKind::loop:
        break;
    }
    return tr("Repeat");
}

QString step_end_word(bench::StepEnd end) {
    using E = bench::StepEnd;
    switch (end) {
    case E::hot:
        return tr("Hot");
    case E::cold:
        return tr("Cold");
    case E::high_voltage:
        return tr("Over voltage");
    case E::low_voltage:
        return tr("Under floor");
    case E::high_current:
        return tr("Over current");
    case E::capacity_limit:
        return tr("Amount limit");
    case E::time_limit:
        return tr("Time limit");
    case E::open:
        return tr("No contact");
    case E::reversed:
        return tr("Reversed");
    case E::stopped:
        return tr("Stopped");
    case E::alone:
        return tr("Watchdog");
    default:
        return tr("Done");
    }
}

QString step_end(bench::StepEnd end) {
    using E = bench::StepEnd;
    switch (end) {
    case E::none:
        return {};
    case E::tail:
        return tr("The charge current fell to its end: it is full.");
    case E::cutoff:
        return tr("The discharge reached its cutoff.");
    case E::minus_dv:
        return tr("The voltage fell from its peak: it is full.");
    case E::rise:
        return tr("It warmed as a full nickel cell does.");
    case E::capacity:
        return tr("The wanted charge was moved.");
    case E::time:
        return tr("The time of the step was up.");
    case E::hot:
        return tr(
            "It got too hot and the tester switched off. Leave it where it is until it is cold; a unit that heats at "
            "this current is not used again.");
    case E::cold:
        return tr("It is too cold to be charged. Warm it to room temperature, then start again.");
    case E::high_voltage:
        return tr("The voltage went over the limit and the tester switched off. Check the clips, then the unit's "
                  "resistance; do not charge it again before you know why.");
    case E::low_voltage:
        return tr(
            "The voltage fell under the floor at once: high resistance or hardly any charge. Measure its resistance "
            "before another try.");
    case E::high_current:
        return tr("More current flowed than was set. Check the tester before using this bay again.");
    case E::capacity_limit:
        return tr("More went in or out than the limit allows: it does not get full. It wastes charge as heat, or its "
                  "rating is wrong.");
    case E::time_limit:
        return tr("The step took longer than allowed. Its capacity does not count; look at the curve.");
    case E::open:
        return tr("The contact was lost. Check the clip and start again; what was measured so far is kept.");
    case E::reversed:
        return tr("The unit stands the wrong way round. Turn it; no current was driven through it.");
    case E::alone:
        return tr("Nobody spoke to the tester, and its watchdog ended the step. What was measured so far is kept.");
    case E::stopped:
        return tr("It was stopped by hand. What was measured so far is kept.");
    }
    return {};
}

} // namespace ingot::wording
