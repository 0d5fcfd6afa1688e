#include "workshop/wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

#include <QLocale>

namespace ingot::wording {

namespace {

QString figure_of(const Evidence& evidence, double value) {
    switch (evidence.kind) {
    case EvidenceKind::capacity:
        return figures::unit_capacity(value);
    case EvidenceKind::resistance:
        return figures::milliohms(value);
    case EvidenceKind::self_discharge:
        return figures::leak(value);
    case EvidenceKind::voltage:
        return figures::volts(value);
    case EvidenceKind::current:
        return tr("%1 A").arg(figures::plain(value, 1));
    case EvidenceKind::age:
        return tr("%1 years").arg(figures::plain(value, 1));
    case EvidenceKind::temperature_rise:
        return tr("%1 K").arg(figures::plain(value, 1));
    default:
        return figures::plain(value, 3);
    }
}

QString reference_word(const Evidence& e, const QString& of_model, const QString& of_siblings) {
    switch (e.reference) {
    case ReferenceFrom::siblings:
        return of_siblings;
    case ReferenceFrom::claim:
        return tr("what the label claims");
    case ReferenceFrom::model:
    case ReferenceFrom::nobody:
        break;
    }
    return of_model;
}

// Where a limit lies inside the interval of the measurement, and what would settle it.
QString between(const Evidence& e) {
    QString what;
    switch (e.kind) {
    case EvidenceKind::capacity:
        what = tr("another capacity test");
        break;
    case EvidenceKind::resistance:
        what = tr("another resistance reading");
        break;
    case EvidenceKind::current:
    case EvidenceKind::age:
    case EvidenceKind::temperature_rise:
        break; // written down, or without an interval
    default:
        what = tr("a longer rest");
        break;
    }
    return tr("between %1 and %2: %3 settles it").arg(wording::duty(*e.at_best), wording::duty(*e.at_worst), what);
}

// The limit that the next better duty would need, or the last one that was missed.
QString limit_sentence(const Evidence& evidence) {
    if (evidence.limits.empty())
        return {};
    if (evidence.at_best && evidence.at_worst)
        return between(evidence);
    if (evidence.allows == evidence.limits.front().duty)
        return tr("meets %1 (%2)").arg(duty(evidence.allows), figure_of(evidence, evidence.limits.front().value));
    const DutyLimit* missed = &evidence.limits.back();
    for (std::size_t i = 1; i < evidence.limits.size(); ++i)
        if (evidence.limits[i].duty == evidence.allows)
            missed = &evidence.limits[i - 1];
    return (evidence.higher_is_better ? tr("%1 needs at least %2") : tr("%1 needs at most %2"))
        .arg(duty(missed->duty), figure_of(evidence, missed->value));
}

} // namespace

QString sentence(const Sentence& sentence) {
    // Patterns are collected by their own name, not by tr(): they stand in a context without a name.
    return QString::fromStdString(sentence.in(
        [](const std::string& pattern) { return QCoreApplication::translate("", pattern.c_str()).toStdString(); },
        QLocale().decimalPoint().toStdString()));
}

QString problem(const Problem& problem) {
    if (problem.line == 0 && problem.where.empty())
        return sentence(problem.sentence);
    const QString where = QString::fromStdString(problem.where);
    const QString said = sentence(problem.sentence);
    if (problem.line == 0)
        return tr("%1: %2").arg(where, said);
    if (problem.where.empty())
        return tr("line %1: %2").arg(problem.line).arg(said);
    return tr("%1:%2: %3").arg(where).arg(problem.line).arg(said);
}

QString duty(Duty duty) {
    switch (duty) {
    case Duty::drive:
        return tr("Drive");
    case Duty::store:
        return tr("Store");
    case Duty::light:
        return tr("Light");
    case Duty::rest_again:
        return tr("Measure");
    case Duty::undecided:
        return tr("Undecided");
    case Duty::scrap:
        return tr("Scrap");
    case Duty::quarantine:
        return tr("Quarantine");
    }
    return {};
}

QString duty_meaning(Duty duty) {
    switch (duty) {
    case Duty::drive:
        return tr("fit for motors: low resistance, high current");
    case Duty::store:
        return tr("fit for banks and lamps: capacity, low leakage");
    case Duty::light:
        return tr("fit for low draw");
    case Duty::rest_again:
        return tr("a reading is missing before it can be judged");
    case Duty::undecided:
        return tr("nobody knows what it was rated at");
    case Duty::scrap:
        return tr("to recycling");
    case Duty::quarantine:
        return tr("a hazard until it is explained");
    }
    return {};
}

QString state(GroupState state) {
    switch (state) {
    case GroupState::dead:
        return tr("dead");
    case GroupState::deep:
        return tr("deep");
    case GroupState::low:
        return tr("low");
    case GroupState::working:
        return tr("working");
    case GroupState::over:
        return tr("over");
    }
    return {};
}

QString quantity(Quantity quantity) {
    switch (quantity) {
    case Quantity::voltage:
        return tr("Open-circuit voltage");
    case Quantity::dc_resistance:
        return tr("DC resistance");
    case Quantity::resistance:
        return tr("Resistance, method not said");
    case Quantity::ac_resistance:
        return tr("AC resistance (1 kHz)");
    case Quantity::capacity:
        return tr("Capacity");
    case Quantity::self_discharge:
        return tr("Self-discharge");
    case Quantity::temperature:
        return tr("Temperature");
    case Quantity::insulation:
        return tr("Insulation");
    case Quantity::sensor:
        return tr("Temperature sensor");
    case Quantity::duration:
        return tr("Duration");
    }
    return {};
}

QString conditions(const Measurement& measurement) {
    const Conditions& c = measurement.conditions;
    if (measurement.quantity != Quantity::capacity)
        return condition(c.condition);
    QStringList parts;
    if (c.discharge_current_a)
        parts << figures::amperes(*c.discharge_current_a);
    if (c.charged_to_v)
        parts << tr("from %1").arg(figures::volts(*c.charged_to_v, 2));
    if (c.cutoff_v)
        parts << tr("to %1").arg(figures::volts(*c.cutoff_v, 2));
    return parts.isEmpty() ? tr("not said how") : parts.join(QStringLiteral(", "));
}

QString condition(Condition condition) {
    switch (condition) {
    case Condition::rest:
        return tr("at rest");
    case Condition::end_of_charge:
        return tr("end of charge");
    case Condition::load:
        return tr("under load");
    case Condition::charge:
        return tr("while charging");
    case Condition::stored:
        return tr("after storage");
    }
    return {};
}

QString consequence(Consequence consequence) {
    switch (consequence) {
    case Consequence::go_on:
        return tr("go on");
    case Consequence::with_care:
        return tr("go on with care");
    case Consequence::quarantine:
        return tr("quarantine");
    case Consequence::refuse:
        return tr("refuse");
    }
    return {};
}

QString step(StepKind kind) {
    switch (kind) {
    case StepKind::charge:
        return tr("charge");
    case StepKind::discharge:
        return tr("discharge");
    case StepKind::rest:
        return tr("rest");
    }
    return {};
}

QString way(MatchWay way) {
    switch (way) {
    case MatchWay::search:
        return tr("Ingot's search");
    case MatchWay::twins:
        return tr("Twins only");
    case MatchWay::voltage_only:
        return tr("Voltage only");
    case MatchWay::deal:
        return tr("Dealt in order");
    }
    return {};
}

QString evidence_name(const Evidence& evidence) {
    switch (evidence.kind) {
    case EvidenceKind::capacity:
    case EvidenceKind::missing_capacity:
        return evidence.forecast ? tr("Capacity, expected") : tr("Capacity");
    case EvidenceKind::resistance:
        return evidence.note == "ac"       ? tr("AC resistance")
               : evidence.note == "unsaid" ? tr("Resistance, method not said")
                                           : tr("DC resistance");
    case EvidenceKind::missing_resistance:
        return tr("Resistance");
    case EvidenceKind::self_discharge:
    case EvidenceKind::missing_self_discharge:
    case EvidenceKind::sibling_leak:
        return tr("Self-discharge");
    case EvidenceKind::missing_reference:
        return tr("Rating");
    case EvidenceKind::voltage:
    case EvidenceKind::missing_voltage:
        return tr("Voltage at rest");
    case EvidenceKind::current:
        return tr("Continuous current");
    case EvidenceKind::age:
        return tr("Age");
    case EvidenceKind::temperature_rise:
        return tr("Temperature rise");
    case EvidenceKind::finding:
    case EvidenceKind::care_finding:
        return tr("Inspection finding");
    case EvidenceKind::overruled:
        return tr("Overruled");
    }
    return {};
}

QString evidence(const Evidence& e) {
    if (e.forecast) {
        Evidence measured = e;
        measured.forecast = false;
        return tr("Expected, while it is still being discharged: %1").arg(evidence(measured));
    }
    switch (e.kind) {
    case EvidenceKind::missing_capacity:
        return e.allows > Duty::light
                   ? tr("Capacity not measured: run a capacity test.")
                   : tr("Capacity not measured: %1 at best. What it holds nobody knows.").arg(duty(e.allows));
    case EvidenceKind::missing_resistance:
        return e.allows > Duty::light ? tr("Resistance not measured: measure it first.")
                                      : tr("Resistance not measured: %1 at best.").arg(duty(e.allows));
    case EvidenceKind::missing_self_discharge:
        return e.allows > Duty::light ? tr("Self-discharge not measured: let it rest first.")
                                      : tr("Self-discharge not measured: %1 at best.").arg(duty(e.allows));
    case EvidenceKind::missing_voltage:
        return e.allows > Duty::light ? tr("Voltage at rest not read: read it first.")
                                      : tr("Voltage at rest not read: %1 at best.").arg(duty(e.allows));
    case EvidenceKind::missing_reference:
        return tr("Its rating is not known: choose its model, give its pack's claimed capacity, or measure eight of "
                  "its model.");
    case EvidenceKind::sibling_leak:
        return tr("Self-discharge %1 is far beyond its siblings' (at most %2): neither Drive nor Store.")
            .arg(figures::leak(*e.measured), figures::leak(e.limits.front().value));
    case EvidenceKind::finding:
        return tr("Inspection finding: %1.").arg(QString::fromStdString(e.note));
    case EvidenceKind::care_finding:
        return tr("Inspection finding %1, to be handled with care: %2 at best.")
            .arg(QString::fromStdString(e.note), duty(e.allows));
    case EvidenceKind::current:
        return e.reference == ReferenceFrom::model
                   ? tr("May give %1 for as long as it lasts, by its data sheet; %2.")
                         .arg(figure_of(e, *e.measured), limit_sentence(e))
                   : tr("No data sheet says what it may give: %1, which empties it in an hour, is counted on; %2.")
                         .arg(figure_of(e, *e.measured), limit_sentence(e));
    case EvidenceKind::age:
        return tr("%1 old; %2.").arg(figure_of(e, *e.measured), limit_sentence(e));
    case EvidenceKind::temperature_rise:
        return tr("Warmed by %1 over its discharge; %2.").arg(figure_of(e, *e.measured), limit_sentence(e));
    case EvidenceKind::overruled:
        return tr("Overruled by hand: %1").arg(QString::fromStdString(e.note));
    case EvidenceKind::voltage:
        if (e.allows == Duty::scrap)
            return tr("%1 at rest is under the scrap limit of %2.")
                .arg(figures::volts(*e.measured), figures::volts(e.limits.back().value));
        if (e.allows == Duty::quarantine)
            return *e.measured < e.limits.front().value
                       ? tr("%1 at rest is under %2: quarantine.")
                             .arg(figures::volts(*e.measured), figures::volts(e.limits.front().value))
                       : tr("%1 is over the charge limit: quarantine.").arg(figures::volts(*e.measured));
        return tr("%1 at rest is in order.").arg(figures::volts(*e.measured));
    case EvidenceKind::capacity:
        if (!e.relative)
            return tr("Capacity %1; %2.").arg(figure_of(e, *e.measured), limit_sentence(e));
        return tr("Capacity %1 is %2 of %3; %4.")
            .arg(figure_of(e, *e.measured), figures::percent(*e.relative, 0),
                 reference_word(e, tr("rated"), tr("the best of its siblings")), limit_sentence(e));
    case EvidenceKind::resistance:
        return tr("%1 %2 is %3 times %4; %5.")
            .arg(evidence_name(e), figure_of(e, *e.measured), figures::plain(*e.relative, 2),
                 reference_word(e, tr("new"), tr("the lowest of its siblings")), limit_sentence(e));
    case EvidenceKind::self_discharge:
        return tr("Self-discharge %1 is %2 a month; %3.")
            .arg(figure_of(e, *e.measured), figures::percent(*e.relative), limit_sentence(e));
    }
    return {};
}

namespace {

QString label_meaning(const ClaimFinding& f) {
    const QString claimed = figures::volts(f.claimed, 1);
    if (f.fitting_full == 0)
        return tr("%1 would be %2 in series.").arg(claimed).arg(f.fitting_series);
    if (f.fitting_full == f.fitting_series)
        return tr("%1 would be %2 in series, where the label prints about the full voltage.")
            .arg(claimed)
            .arg(f.fitting_full);
    return tr("%1 would be %2 in series, or %3 where the label prints about the full voltage.")
        .arg(claimed)
        .arg(f.fitting_series)
        .arg(f.fitting_full);
}

} // namespace

QString objection(const ClaimFinding& f, const PackLayout& layout) {
    switch (f.objection) {
    case ClaimObjection::added_in_series:
        return tr("Capacity adds only in parallel: %1 over %2S%3P would be %4 in one unit. If every unit was counted, "
                  "the pack holds %5 "
                  "(%3 × %6).")
            .arg(figures::pack_capacity(f.claimed))
            .arg(layout.series)
            .arg(layout.parallel)
            .arg(figures::pack_capacity(f.per_unit), figures::pack_capacity(f.believable),
                 figures::pack_capacity(f.believable / layout.parallel));
    case ClaimObjection::impossible_capacity:
        return tr("%1 over %2 in parallel is %3 in one unit; no cell of this size holds more than %4. At most %5 can "
                  "be believed.")
            .arg(figures::pack_capacity(f.claimed))
            .arg(layout.parallel)
            .arg(figures::pack_capacity(f.per_unit), figures::pack_capacity(f.limit),
                 figures::pack_capacity(f.believable));
    case ClaimObjection::doubtful_capacity:
        return tr("%1 over %2 in parallel is %3 in one unit; cells of this size rarely hold more than %4. Measure "
                  "before you believe it.")
            .arg(figures::pack_capacity(f.claimed))
            .arg(layout.parallel)
            .arg(figures::pack_capacity(f.per_unit), figures::pack_capacity(f.limit));
    case ClaimObjection::voltage_misfit:
        return tr("%1 over %2 cells in series is %3 each, but this chemistry has %4: %2 × %4 = %5.")
                   .arg(figures::volts(f.claimed, 1))
                   .arg(layout.cells_in_series())
                   .arg(figures::volts(f.per_unit, 2), figures::volts(f.limit, 2), figures::volts(f.believable, 1)) +
               QLatin1Char(' ') + label_meaning(f);
    }
    return {};
}

QString particular(ParticularKind kind) {
    switch (kind) {
    case ParticularKind::device:
        return tr("Device");
    case ParticularKind::charger:
        return tr("Charger");
    case ParticularKind::board:
        return tr("Protection board");
    case ParticularKind::age:
        return tr("Age or date code");
    case ParticularKind::cycles:
        return tr("Cycles");
    case ParticularKind::repairs:
        return tr("Earlier repairs");
    case ParticularKind::price:
        return tr("Price paid");
    case ParticularKind::words:
        return tr("Customer's words");
    case ParticularKind::note:
        return tr("Note");
    case ParticularKind::true_cause:
        return tr("True cause");
    case ParticularKind::hours:
        return tr("hours that it took");
    case ParticularKind::mass:
        return tr("Mass, g");
    case ParticularKind::matched_set:
        return tr("Matched set, by");
    case ParticularKind::parts_found:
        return tr("Found in it");
    }
    return {};
}

QString found_part(FoundPart part) {
    switch (part) {
    case FoundPart::board:
        return tr("Protection board");
    case FoundPart::sensor:
        return tr("Temperature sensor");
    case FoundPart::thermal_fuse:
        return tr("Thermal fuse or switch");
    case FoundPart::series_part:
        return tr("Coil or resistor in the lead");
    case FoundPart::connector:
        return tr("Connector");
    case FoundPart::spacers:
        return tr("Spacers, holders, foam");
    case FoundPart::case_parts:
        return tr("Case parts, screws, seals");
    case FoundPart::wires:
        return tr("Wires under the cells");
    }
    return {};
}

QString triage_summary(const TriageResult& result) {
    const int group = static_cast<int>(result.worst.value_or(0)) + 1;
    switch (result.summary) {
    case PackTriage::not_read:
        return tr("No group has been read yet.");
    case PackTriage::incomplete:
        return tr("Some groups are still to be read.");
    case PackTriage::healthy:
        return tr("All groups work and none stands out.");
    case PackTriage::group_out_of_band: {
        const GroupFinding& finding = result.groups[result.worst.value_or(0)];
        if (!finding.from_median_v)
            return tr("Group %1 is %2.").arg(group).arg(state(finding.state.value_or(GroupState::working)));
        return (*finding.from_median_v < 0 ? tr("Group %1 is %2: %3 lower than the middle of the others.")
                                           : tr("Group %1 is %2: %3 higher than the middle of the others."))
            .arg(group)
            .arg(state(finding.state.value_or(GroupState::working)), figures::volts(std::abs(*finding.from_median_v)));
    }
    case PackTriage::group_stands_out: {
        const double away = result.groups[result.worst.value_or(0)].from_median_v.value_or(0);
        return (away < 0 ? tr("Group %1 stands out: %2 lower than the middle of the others.")
                         : tr("Group %1 stands out: %2 higher than the middle of the others."))
            .arg(group)
            .arg(figures::volts(std::abs(away)));
    }
    case PackTriage::sum_misses_terminals:
        return tr("The groups add up to %1 but the terminals show %2: read again, then look at leads and joints.")
            .arg(figures::volts(result.sum_v.value_or(0)),
                 figures::volts(result.sum_v.value_or(0) + result.difference_v.value_or(0)));
    }
    return {};
}

QString log_note(const LogNote& note) {
    switch (note.warning) {
    case LogWarning::current_turned:
        return tr("The log counts discharge as positive; its sign was turned.");
    case LogWarning::hole_bridged:
        return note.count > 1
                   ? tr("%1 gaps, %2 in all, the first at %3, were bridged: the current is the same on both sides. The "
                        "uncertainty is wider.")
                         .arg(note.count)
                         .arg(figures::seconds(note.amount), figures::seconds(note.at_s))
                   : tr("A gap of %1 at %2 was bridged: the current is the same on both sides. The uncertainty is "
                        "wider.")
                         .arg(figures::seconds(note.amount), figures::seconds(note.at_s));
    case LogWarning::hole_lower_bound:
        return note.count > 1
                   ? tr("%1 gaps, %2 in all, the first at %3: the current differs on both sides, so the capacity is a "
                        "lower bound.")
                         .arg(note.count)
                         .arg(figures::seconds(note.amount), figures::seconds(note.at_s))
                   : tr("A gap of %1 at %2: the current differs on both sides, so the capacity is a lower bound.")
                         .arg(figures::seconds(note.amount), figures::seconds(note.at_s));
    case LogWarning::interruption_bridged:
        return note.count > 1
                   ? tr("The current was away %1 times, %2 in all, the first time at %3, and came back at the same "
                        "level: counted as one step, with a wider uncertainty.")
                         .arg(note.count)
                         .arg(figures::seconds(note.amount), figures::seconds(note.at_s))
                   : tr("The current was away for %1 at %2 and came back at the same level: counted as one step, with "
                        "a wider uncertainty.")
                         .arg(figures::seconds(note.amount), figures::seconds(note.at_s));
    case LogWarning::pause_joined:
        return tr("The discharge paused (%1 in all, first at %2) with no charge in between: its parts are counted as "
                  "one discharge, with a wider uncertainty.")
            .arg(figures::seconds(note.amount), figures::seconds(note.at_s));
    case LogWarning::several_cells:
        return tr("The voltages are those of %1 cells in series.").arg(static_cast<int>(note.amount));
    case LogWarning::no_complete_discharge:
        return tr("There is no complete discharge in this log, so no capacity can be concluded.");
    case LogWarning::cutoff_not_reached:
        return tr("A discharge stopped at %1, above the cutoff: what it gave is a lower bound of the capacity.")
            .arg(figures::volts(note.amount));
    case LogWarning::time_stands_still:
        return tr("Some samples carry the same time; the later one counts from there.");
    case LogWarning::few_samples:
        return tr("A log needs two samples at least.");
    }
    return {};
}

QString demand(Demand demand) {
    switch (demand) {
    case Demand::one_model_per_group:
        return tr("one model in each group");
    case Demand::whole_origins:
        return tr("old groups stay whole");
    case Demand::apart:
        return tr("pairs kept apart");
    case Demand::join_window:
        return tr("voltages near each other");
    case Demand::load:
        return tr("load within what each may give");
    }
    return {};
}

QString breach(const Breach& breach) {
    switch (breach.demand) {
    case Demand::one_model_per_group:
        return tr("Group %1: %2 of another model.").arg(breach.group + 1).arg(breach.count);
    case Demand::whole_origins:
        return tr("Old groups are torn: %1 units are missing or alone.").arg(breach.count);
    case Demand::apart:
        return tr("Group %1: pairs meet that are kept apart: %2.").arg(breach.group + 1).arg(breach.count);
    case Demand::join_window:
        return tr("Group %1: %2 outside the window of voltages.").arg(breach.group + 1).arg(breach.count);
    case Demand::load:
        return tr("Group %1: %2 would give more than they may.").arg(breach.group + 1).arg(breach.count);
    }
    return {};
}

QString match_note(MatchNote note, int count) {
    switch (note) {
    case MatchNote::resistance_unknown:
        return tr("Conductance is not levelled: too few resistances are known (not known: %1).").arg(count);
    case MatchNote::self_discharge_unknown:
        return tr("Leak is not levelled: no unit has a self-discharge value.");
    case MatchNote::units_without_capacity:
        return tr("Left out for want of a capacity: %1.").arg(count);
    case MatchNote::units_without_resistance:
        return tr("Resistance not known, counted at the middle of the model: %1.").arg(count);
    case MatchNote::units_without_self_discharge:
        return tr("Self-discharge not known, counted at the pool's middle: %1.").arg(count);
    case MatchNote::unlike_capacities:
        return tr("Measured at another rate, cutoff or temperature than most, so not quite comparable: %1.").arg(count);
    case MatchNote::demands_not_met:
        return tr("What is asked cannot all be kept with these units; breaches left: %1.").arg(count);
    case MatchNote::units_without_asked_figure:
        return tr("Left out, for a demand needs a voltage or a current that nobody knows of them: %1.").arg(count);
    case MatchNote::stopped:
        return tr("Stopped early: this is the best so far, and another run may differ.");
    }
    return {};
}

QString join_advice(const JoinCheck& check) {
    switch (check.advice) {
    case JoinAdvice::join:
        return tr("May be joined directly.");
    case JoinAdvice::within_limit:
        return tr("Within the limit; nearer is better.");
    case JoinAdvice::through_resistor:
        return tr("Do not join directly: bring them together through a resistor or a bench supply, slowly.");
    case JoinAdvice::bring_to_voltage:
        return tr("Do not join: charge each to the same voltage first.");
    case JoinAdvice::unknown:
        if (check.lapsed > 0)
            return tr("%1 ran since their voltage was read: read them again before joining.").arg(check.lapsed);
        return tr("Voltage or resistance not known of %1: measure before joining.").arg(check.unknown);
    }
    return {};
}

QString implausible(Implausible implausible, Quantity quantity, double value, double volts_limit_v) {
    switch (implausible) {
    case Implausible::none:
        return {};
    case Implausible::negative:
        return tr("%1 cannot be negative. Check the probes and the sign.").arg(wording::quantity(quantity));
    case Implausible::too_high:
        if (quantity == Quantity::voltage)
            return tr("%1 is more than this can have (%2). A slipped decimal?")
                .arg(figures::volts(value), figures::volts(volts_limit_v, 2));
        return tr("%1: the value is far too high. A slipped decimal, or mAh for Ah?").arg(wording::quantity(quantity));
    case Implausible::too_low:
        return tr("%1: the value is far too low. A slipped decimal?").arg(wording::quantity(quantity));
    }
    return {};
}

} // namespace ingot::wording
