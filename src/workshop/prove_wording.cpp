#include "workshop/prove_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

#include <cmath>

namespace ingot::wording {

QString proof_round(ProofRound round) {
    switch (round) {
    case ProofRound::at_rest:
        return tr("At rest");
    case ProofRound::insulation:
        return tr("Insulation");
    case ProofRound::board:
        return tr("Board, sensor");
    case ProofRound::end_of_charge:
        return tr("End of charge");
    case ProofRound::units:
        return tr("Units to group");
    case ProofRound::after_rest:
        return tr("After rest");
    case ProofRound::under_load:
        return tr("Under load");
    case ProofRound::run:
        return tr("Capacity, run");
    case ProofRound::device:
        return tr("Device");
    }
    return {};
}

QString proof_round_how(ProofRound round) {
    switch (round) {
    case ProofRound::at_rest:
        return tr("Read every group at the sense plug, then the terminals: polarity, and whether they add up.");
    case ProofRound::insulation:
        return tr(
            "From plus and from minus to case, sleeve and sensor, in megohm. Over range: type where the range ends.");
    case ProofRound::board:
        return tr(
            "Read behind the board, where the device will sit. Does it wake as it should after it lay unpowered? Then "
            "the temperature sensor. N where the pack has none.");
    case ProofRound::end_of_charge:
        return tr(
            "Charge slowly for the first time, beside it all the while. Read every group when the charger ends; stop "
            "at once if one passes its limit or warms.");
    case ProofRound::units:
        return tr(
            "With a moderate load on, type its amperes, then read every unit can to can, not on the strip: one whose "
            "joint is cold stands above its group.");
    case ProofRound::after_rest:
        return tr("Let it lie for days, disconnected, then read again: a group that falls more than the others leaks.");
    case ProofRound::under_load:
        return tr("Draw the device's current, type how many amperes, and read every group while it flows.");
    case ProofRound::run:
        return tr(
            "Where it is wanted: ampere-hours of a full discharge, or how long it ran in its device. Asked for to "
            "sign where no voltage shows a weak unit: nickel, iron phosphate.");
    case ProofRound::device:
        return tr("In its device: does it take the pack? Some sleep for hours first. Clear its codes; none may come "
                  "back.");
    }
    return {};
}

QString proof_item(ProofItem item) {
    switch (item) {
    case ProofItem::insulation_plus:
        return tr("Plus to case");
    case ProofItem::insulation_minus:
        return tr("Minus to case");
    case ProofItem::output:
        return tr("Behind board");
    case ProofItem::wakes:
        return tr("Wakes?");
    case ProofItem::sensor:
        return tr("Sensor");
    case ProofItem::capacity:
        return tr("Capacity");
    case ProofItem::run_time:
        return tr("Run time");
    case ProofItem::works:
        return tr("Takes it?");
    case ProofItem::hours_to_wake:
        return tr("Hours given");
    case ProofItem::codes_clear:
        return tr("No codes?");
    }
    return {};
}

QString proof_item_unit(ProofItem item) {
    switch (item) {
    case ProofItem::insulation_plus:
    case ProofItem::insulation_minus:
        return QStringLiteral("M\u03A9");
    case ProofItem::output:
        return QStringLiteral("V");
    case ProofItem::sensor:
        return QStringLiteral("k\u03A9");
    case ProofItem::capacity:
        return QStringLiteral("Ah");
    case ProofItem::run_time:
        return QStringLiteral("min");
    case ProofItem::hours_to_wake:
        return QStringLiteral("h");
    case ProofItem::wakes:
    case ProofItem::works:
    case ProofItem::codes_clear:
        return tr("Y or N");
    }
    return {};
}

double proof_item_factor(ProofItem item) {
    switch (item) {
    case ProofItem::insulation_plus:
    case ProofItem::insulation_minus:
        return 1e6;
    case ProofItem::sensor:
        return 1e3;
    case ProofItem::run_time:
        return 60;
    default:
        return 1;
    }
}

QString proof_item_value(ProofItem item, double value) {
    if (is_yes_or_no(item))
        return value >= 1 ? tr("yes") : tr("no");
    const double shown = value / proof_item_factor(item);
    const int digits = item == ProofItem::output || item == ProofItem::capacity || item == ProofItem::sensor ? 2
                       : item == ProofItem::hours_to_wake || item == ProofItem::run_time                     ? 0
                                                                                                             : 1;
    return figures::plain(shown, digits);
}

QString proof_cause(ProofCause cause) {
    switch (cause) {
    case ProofCause::sound:
        return tr("Nothing");
    case ProofCause::loose_unit:
        return tr("Cold joint of one unit");
    case ProofCause::strip_joint:
        return tr("Strip or link that all share");
    case ProofCause::weak_unit:
        return tr("A unit weaker than measured");
    case ProofCause::other_unit:
        return tr("A unit that is another one");
    case ProofCause::leaking_unit:
        return tr("A unit leaks");
    case ProofCause::out_of_balance:
        return tr("Joined at another charge");
    case ProofCause::dead_cell:
        return tr("A cell of it dead or reversed");
    case ProofCause::misread:
        return tr("One figure misread");
    }
    return {};
}

QString proof_cause_reason(const ProofExplanation& explanation, const std::string& unit) {
    const QString which = unit.empty() ? QString() : tr("Unit %1. ").arg(QString::fromStdString(unit));
    switch (explanation.cause) {
    case ProofCause::loose_unit:
        return which +
               (explanation.size > 0
                    ? tr("As if %1 stood between a unit and its strip.").arg(figures::milliohms(explanation.size))
                    : tr("As if one unit carried nothing."));
    case ProofCause::strip_joint:
        return tr("%1 that all its units share.").arg(figures::milliohms(explanation.size));
    case ProofCause::weak_unit:
        return tr("About %1 of one unit's charge is missing.").arg(figures::percent(explanation.size, 0));
    case ProofCause::other_unit:
        return tr("Its charge and resistance are not those on record.");
    case ProofCause::leaking_unit:
        return tr("It fell more at rest than the others.");
    case ProofCause::out_of_balance:
        return tr("It stood apart before the charge, and as much after it.");
    case ProofCause::dead_cell:
        return tr("A cell's worth of volts is missing.");
    case ProofCause::misread:
        return tr("One round alone is out, the others fit.");
    case ProofCause::sound:
        break;
    }
    return {};
}

QString proof_check(ProofCheck check, double minutes) {
    const QString cost = minutes < 1 ? tr("half a minute") : tr("%n minutes", static_cast<int>(std::lround(minutes)));
    switch (check) {
    case ProofCheck::read_again:
        return tr("The measuring side first: read it again, on the strip instead of the sense plug; %1.").arg(cost);
    case ProofCheck::joints_under_load:
        return tr("Its units can to can while current flows: one with a cold joint stands tens of millivolts above the "
                  "others; %1.")
            .arg(cost);
    case ProofCheck::rest_again:
        return tr("Let it lie for some days more, and read again; %1.").arg(cost);
    case ProofCheck::run:
        return tr("A full discharge: Ah, and which group ends it; %1 of hands.").arg(cost);
    }
    return {};
}

QString proof_state(ProofState state) {
    switch (state) {
    case ProofState::open:
        return tr("open");
    case ProofState::too_early:
        return tr("too early");
    case ProofState::passed:
        return tr("passed");
    case ProofState::failed:
        return tr("does not pass");
    case ProofState::left_out:
        return tr("left out");
    case ProofState::not_asked:
        return tr("not asked for");
    }
    return {};
}

QString spread_grade(SpreadGrade grade) {
    switch (grade) {
    case SpreadGrade::excellent:
        return tr("excellent");
    case SpreadGrade::good:
        return tr("good");
    case SpreadGrade::acceptable:
        return tr("acceptable");
    case SpreadGrade::too_much:
        return tr("too much");
    }
    return {};
}

QString proof_finding(const ProofFinding& finding) {
    const QString value = figures::millivolts_signed(finding.value);
    const QString limit = figures::millivolts_signed(finding.limit).remove(QLatin1Char('+'));
    switch (finding.sign) {
    case ProofSign::none:
        return {};
    case ProofSign::reversed:
        return tr("Group %1 reads negative.").arg(finding.group);
    case ProofSign::uneven:
        return tr("Group %1 is furthest out: the groups lie %2 a cell apart, at most %3.")
            .arg(finding.group)
            .arg(QString(value).remove(QLatin1Char('+')), limit);
    case ProofSign::over_charged:
        return tr("Group %1 stands at %2 a cell, above %3: stop charging.")
            .arg(finding.group)
            .arg(figures::volts(finding.value), figures::volts(finding.limit));
    case ProofSign::falling:
        return tr("Group %1 fell %2 a cell more than the middle one, at most %3.")
            .arg(finding.group)
            .arg(QString(value).remove(QLatin1Char('+')), limit);
    case ProofSign::missing_unit:
        return tr("Group %1 sags %2 more than its units explain, at most %3: as if one of its units did not carry.")
            .arg(finding.group)
            .arg(QString(value).remove(QLatin1Char('+')), limit);
    case ProofSign::resistive:
        return tr("Group %1 sags %2 more than the others, at most %3: %4 too many.")
            .arg(finding.group)
            .arg(QString(value).remove(QLatin1Char('+')), limit,
                 figures::milliohms(finding.resistance_ohm.value_or(0)));
    case ProofSign::terminals:
        return tr("The terminals differ from the sum of the groups by %1, at most %2.").arg(value, limit);
    case ProofSign::not_joined:
        return tr("Unit %1 of group %2 stands %3 off its group, at most %4.")
            .arg(finding.place)
            .arg(finding.group)
            .arg(value, limit);
    case ProofSign::insulation:
        return tr("%1 to the case, at least %2.").arg(figures::megohms(finding.value), figures::megohms(finding.limit));
    case ProofSign::no_output:
        return tr("%1 behind the board, the terminals have %2.")
            .arg(figures::volts(finding.value, 2), figures::volts(finding.limit, 2));
    case ProofSign::asleep:
        return tr("The board does not wake.");
    case ProofSign::sensor:
        return finding.value < finding.limit ? tr("The sensor is shorted: %1.").arg(figures::kilohms(finding.value))
                                             : tr("The sensor is open: %1.").arg(figures::megohms(finding.value));
    case ProofSign::short_of_capacity:
        return tr("%1 came out, at least %2 of what its units promise.")
            .arg(figures::pack_capacity(finding.value), figures::pack_capacity(finding.limit));
    case ProofSign::short_run:
        return tr("It ran for %1, at least %2 of what is simulated.")
            .arg(figures::seconds(finding.value), figures::seconds(finding.limit));
    case ProofSign::refused:
        return tr("The device does not take it.");
    case ProofSign::codes:
        return tr("Codes are stored or pending.");
    case ProofSign::other_unit:
        return tr("Group %1 sags %2 less than its units should, at most %3: they are not those on record.")
            .arg(finding.group)
            .arg(QString(value).remove(QChar(0x2212)).remove(QLatin1Char('-')), limit);
    }
    return {};
}

QString proof_way_back(ProofSign sign) {
    switch (sign) {
    case ProofSign::none:
        return {};
    case ProofSign::reversed:
        return tr(
            "Probes turned round? If not, the group's units stand the wrong way: back to Build, nothing is charged.");
    case ProofSign::uneven:
        return tr(
            "Let the board balance, or bring the group up by itself; if it comes back, a unit or a model is wrong.");
    case ProofSign::over_charged:
        return tr("Charger and board are wrong for this pack, or a sense lead sits on the wrong tap.");
    case ProofSign::falling:
        return tr(
            "The board may feed on that tap: lift the plug and let it lie again. If it falls still, a unit leaks.");
    case ProofSign::missing_unit:
        return tr(
            "Read again with the probes on the strip, then on the units: a joint that is cold, a link that is blown. "
            "Back to Build at that group.");
    case ProofSign::resistive:
        return tr(
            "Swap the sense lead first. Then the strip's joints on both sides of the group. Back to Build there.");
    case ProofSign::terminals:
        return tr("Read the terminals at the cells, before board and fuse; look for a sense lead on the wrong tap.");
    case ProofSign::not_joined:
        return tr("Probe the can again, not the strip. If it stays, its joint is cold or its link is blown: back to "
                  "Build at that unit.");
    case ProofSign::insulation:
        return tr("Nothing is charged: find where metal touches (ring, card, sensor lead), dry what is wet. Over 60 V "
                  "nobody touches case and terminals at once.");
    case ProofSign::no_output:
        return tr("Wake the board as its maker says, or with its charger. If it stays: board, fuse or plug.");
    case ProofSign::asleep:
        return tr("Some boards wake on their charger only: put it on once. If it stays asleep, another board.");
    case ProofSign::sensor:
        return tr("Plug and leads of the sensor first; a charger that cannot read it must not charge.");
    case ProofSign::short_of_capacity:
        return tr("Was it full, and how warm? Then the group that ended it holds less than was measured: its units.");
    case ProofSign::short_run:
        return tr("Was it full, was the load heavier? Then which group ended it.");
    case ProofSign::refused:
        return tr("Sensor, plug and voltage first; give it hours to wake. Chips that authenticate are out of reach.");
    case ProofSign::other_unit:
        return tr("Read the labels in that group against the build sheet, and the figure again.");
    case ProofSign::codes:
        return tr("Clear them as the device's book says, run it, and look again.");
    }
    return {};
}

QString came_with(const Passport& passport) {
    const QString of = tr("passport of %1").arg(QString::fromStdString(passport.workshop));
    return passport.proved_at.empty() ? of
                                      : tr("%1, proved %2 by %3")
                                            .arg(of, QString::fromStdString(passport.proved_at).left(10),
                                                 QString::fromStdString(passport.proved_by));
}

QString not_passed(ProofRound round, const RoundVerdict& verdict) {
    if (verdict.state == ProofState::failed && !verdict.findings.empty())
        return tr("%1: %2").arg(proof_round(round), proof_finding(verdict.findings.front()));
    const QString said = tr("%1 is %2.").arg(proof_round(round), proof_state(verdict.state));
    return may_be_left_out(round) ? tr("%1 Do it, or leave it out with a reason.").arg(said) : said;
}

} // namespace ingot::wording
