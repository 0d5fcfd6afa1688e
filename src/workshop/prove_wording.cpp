#include "workshop/prove_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

#include <cmath>

namespace ingot::wording {

QString proof_round(ProofRound round) {
    switch (round) {
    case ProofRound::at_rest:
        return tr("At rest");
    case ProofRound::end_of_charge:
        return tr("End of charge");
    case ProofRound::after_rest:
        return tr("After rest");
    case ProofRound::under_load:
        return tr("Under load");
    }
    return {};
}

QString proof_round_how(ProofRound round) {
    switch (round) {
    case ProofRound::at_rest:
        return tr("Read every group at the sense plug, then the terminals: polarity, and whether they add up.");
    case ProofRound::end_of_charge:
        return tr(
            "Charge slowly for the first time, beside it all the while. Read every group when the charger ends; stop "
            "at once if one passes its limit or warms.");
    case ProofRound::after_rest:
        return tr("Let it lie for days, disconnected, then read again: a group that falls more than the others leaks.");
    case ProofRound::under_load:
        return tr("Draw the device's current, type how many amperes, and read every group while it flows.");
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
    }
    return {};
}

QString not_passed(ProofRound round, const RoundVerdict& verdict) {
    if (verdict.state == ProofState::failed && !verdict.findings.empty())
        return tr("%1: %2").arg(proof_round(round), proof_finding(verdict.findings.front()));
    return tr("%1 is %2.").arg(proof_round(round), proof_state(verdict.state));
}

} // namespace ingot::wording
