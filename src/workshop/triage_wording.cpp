#include "workshop/triage_wording.h"

#include "core/measure/statistics.h"
#include "workshop/figures.h"

#include "workshop/translated.h"
#include <QStringList>

#include <algorithm>
#include <cmath>

namespace ingot::wording {

namespace {

const Shift* shift_of(const Explanation& e, Condition condition, int group = 0) {
    const Shift* found = nullptr;
    for (const Shift& s : e.shifts)
        if (s.condition == condition && (group == 0 || s.group == group))
            found = &s;
    return found;
}

// The resting reading, or the nearest thing to it.
const Shift* resting(const Explanation& e, int group = 0) {
    for (const Condition c : {Condition::rest, Condition::stored, Condition::end_of_charge, Condition::load})
        if (const Shift* s = shift_of(e, c, group))
            return s;
    return nullptr;
}

QString apart(double v) { // as a distance, with its side
    return v < 0 ? tr("%1 below").arg(figures::volts(-v)) : tr("%1 above").arg(figures::volts(v));
}

// "; under load -0.120 V" and "; after 7 days -0.090 V", for the readings beside the resting one.
QString beside(const Explanation& e) {
    QStringList parts;
    for (const Shift& s : e.shifts) {
        if (s.condition == Condition::load)
            parts << tr("%1 the others under load").arg(apart(s.measured_v));
        else if (s.condition == Condition::stored)
            parts << tr("%1 after %2 days").arg(apart(s.measured_v), figures::plain(s.days, 0));
        else if (s.condition == Condition::end_of_charge)
            parts << tr("%1 at the end of charge").arg(apart(s.measured_v));
    }
    return parts.join(QStringLiteral(", "));
}

QString during(Condition condition) {
    switch (condition) {
    case Condition::rest:
        return tr("at rest");
    case Condition::end_of_charge:
        return tr("at the end of charge");
    case Condition::load:
        return tr("under load");
    case Condition::charge:
        return tr("while charging");
    case Condition::stored:
        return tr("after storage");
    }
    return {};
}

QString and_list(const QStringList& items) {
    if (items.size() < 2)
        return items.join(QString());
    return tr("%1 and %2").arg(items.mid(0, items.size() - 1).join(QStringLiteral(", ")), items.back());
}

QString begun(QString sentence) {
    if (!sentence.isEmpty())
        sentence[0] = sentence[0].toUpper();
    return sentence;
}

QString low_group(const Explanation& e, const QString& conclusion) {
    QStringList parts;
    int last = 0;
    for (const Shift& s : e.shifts) {
        if (s.group == last)
            continue;
        last = s.group;
        if (const Shift* at_rest = resting(e, s.group))
            parts << tr("group %1 stands %2 the others").arg(s.group).arg(apart(at_rest->measured_v));
    }
    QString text = begun(and_list(parts));
    const QString more = e.groups.size() == 1 ? beside(e) : QString();
    if (!more.isEmpty())
        text += tr(", and %1").arg(more);
    return text + QStringLiteral(": ") + conclusion;
}

// One amount can be said of all its groups: of the only one, or of several that lie equally far from the others.
bool one_amount(const Explanation& e) {
    std::vector<double> apart_v;
    for (const int g : e.groups)
        if (const Shift* s = resting(e, g))
            apart_v.push_back(s->measured_v);
    if (!e.amount || apart_v.empty())
        return e.amount && e.groups.size() == 1;
    const auto [least, most] = std::minmax_element(apart_v.begin(), apart_v.end());
    constexpr double alike = 0.2;
    return *least * *most >= 0 && *most - *least <= alike * std::max(std::fabs(*least), std::fabs(*most));
}

// Read in more than one way.
bool read_again(const Explanation& e) {
    return std::any_of(e.shifts.begin(), e.shifts.end(), [&](const Shift& s) {
        return s.condition != e.shifts.front().condition || s.days != e.shifts.front().days;
    });
}

// Ahead or behind, or all apart.
QString imbalance_reason(const Explanation& e) {
    if (e.amount && !e.groups.empty()) {
        const bool ahead = *e.amount > 0;
        QString where = e.groups.size() > 1 ? (ahead ? tr("they are ahead in charge") : tr("they are behind in charge"))
                                            : (ahead ? tr("it is ahead in charge") : tr("it is behind in charge"));
        if (one_amount(e))
            where += tr(" (by about %1)").arg(figures::percent(std::fabs(*e.amount), 0));
        return low_group(e, (read_again(e) ? tr("the same shift everywhere, so %1").arg(where) : where) +
                                QStringLiteral("."));
    }
    return tr("All groups lie apart, in every reading alike: the charger stops for group %1.")
        .arg(e.groups.empty() ? 0 : e.groups.front());
}

// What its resistance says, against its siblings' or, where it has none, for itself.
QString resistance_words(const Explanation& e, const TriageCase& pack) {
    if (e.groups.empty())
        return {};
    std::optional<double> here;
    std::vector<double> others;
    for (const GroupResistance& r : pack.resistances) {
        if (r.group == e.groups.front())
            here = r.ohm;
        else
            others.push_back(r.ohm);
    }
    if (here && !others.empty())
        return tr("Group %1 has %2 where the others have %3.")
            .arg(e.groups.front())
            .arg(figures::milliohms(*here), figures::milliohms(median(std::move(others))));
    if (pack.layout.series > 1)
        return {};
    std::optional<double> rest_v;
    for (const GroupReading& r : pack.readings) {
        if (r.condition == Condition::load && rest_v && r.current_a && *r.current_a < 0)
            return tr("It falls from %1 to %2 at %3: about %4, far over what is usual for its capacity.")
                .arg(figures::volts(*rest_v), figures::volts(r.voltage_v), figures::amperes(-*r.current_a),
                     figures::milliohms((*rest_v - r.voltage_v) / -*r.current_a));
        if (r.condition != Condition::load)
            rest_v = r.voltage_v;
    }
    return here ? tr("It has %1, far over what is usual for its capacity.").arg(figures::milliohms(*here)) : QString();
}

QString joint_reason(const Explanation& e, const TriageCase& pack) {
    const Shift* load = shift_of(e, Condition::load);
    const Shift* rest = shift_of(e, Condition::rest);
    if (load == nullptr || pack.layout.series == 1)
        if (const QString words = resistance_words(e, pack); !words.isEmpty())
            return words;
    if (load == nullptr && !e.groups.empty())
        return tr("A joint shows under load, which was not read: nothing speaks against it in group %1.")
            .arg(e.groups.front());
    QString text = load != nullptr ? tr("%1 the others under load").arg(apart(load->measured_v)) : QString();
    if (rest != nullptr)
        text += tr(", but level with them at rest (%1)").arg(figures::millivolts_signed(rest->measured_v));
    if (e.amount && e.current_a)
        text += tr(": about %1 in a joint or bus bar").arg(figures::milliohms(*e.amount));
    return (e.groups.empty() ? QString() : tr("Group %1 is ").arg(e.groups.front())) + text + QStringLiteral(".");
}

} // namespace

QString fault(Fault fault) {
    switch (fault) {
    case Fault::healthy:
        return tr("Nothing wrong");
    case Fault::dead_group:
        return tr("Dead group");
    case Fault::leaking_cell:
        return tr("Leaking cell");
    case Fault::weak_group:
        return tr("Weak group");
    case Fault::imbalance:
        return tr("Out of balance");
    case Fault::latched_board:
        return tr("Latched board");
    case Fault::sense_fault:
        return tr("Sense lead or channel");
    case Fault::high_resistance_joint:
        return tr("Resistive joint");
    case Fault::disconnected_cell:
        return tr("Unit not joined");
    case Fault::reversed_unit:
        return tr("Reversed unit");
    case Fault::all_discharged:
        return tr("Run down all through");
    case Fault::elsewhere:
        return tr("Not the battery");
    }
    return {};
}

QString chance(double probability) {
    constexpr double likely = 0.7, possible = 0.2;
    return probability >= likely ? tr("likely") : probability >= possible ? tr("possible") : tr("unlikely");
}

QString groups(const std::vector<int>& groups) {
    if (groups.empty())
        return tr("the pack");
    QStringList numbers;
    for (const int g : groups)
        numbers << QString::number(g);
    return (groups.size() == 1 ? tr("group %1") : tr("groups %1")).arg(and_list(numbers));
}

QString faults(const std::vector<NamedFault>& faults) {
    QStringList each;
    for (const auto& [which, where] : faults) {
        const QString name = each.isEmpty() ? fault(which) : fault(which).toLower();
        each << (where.empty() ? name : tr("%1, %2").arg(name, groups(where)));
    }
    return each.join(QStringLiteral("; "));
}

namespace {

QString latched_reason(const TriageCase& pack) {
    double sum = 0;
    for (const GroupReading& r : pack.readings)
        if (r.condition == Condition::rest)
            sum += r.voltage_v;
    constexpr double closed_board = 0.97;
    if (pack.terminal_v && std::fabs(*pack.terminal_v) > closed_board * sum)
        return tr("Groups (%1) and terminals (%2) stand well, and still no charge goes in.")
            .arg(figures::volts(sum, 2), figures::volts(*pack.terminal_v, 2));
    return pack.terminal_v ? tr("The groups sum up to %1, the terminals show %2.")
                                 .arg(figures::volts(sum, 2), figures::volts(*pack.terminal_v, 2))
                           : tr("The groups stand well; whether the terminals do was not read.");
}

} // namespace

QString reason(const Explanation& e, const TriageCase& pack) {
    const bool many = e.groups.size() > 1;
    switch (e.fault) {
    case Fault::healthy:
        if (e.misread)
            return tr("One figure does not fit and was probably misread: group %1 %2. No other reading speaks against "
                      "the pack.")
                .arg(e.misread->group)
                .arg(during(e.misread->condition));
        return pack.readings.empty() ? tr("No reading speaks against it yet.")
                                     : tr("No group lies farther from the others than meter and usual spread explain.");
    case Fault::dead_group: {
        QStringList parts;
        for (const int g : e.groups)
            if (const Shift* s = resting(e, g))
                parts << tr("group %1 reads %2 where the others stand at %3")
                             .arg(g)
                             .arg(figures::volts(s->reference_v + s->measured_v), figures::volts(s->reference_v));
        return parts.isEmpty() ? tr("What else is known speaks for it.") : begun(and_list(parts)) + QStringLiteral(".");
    }
    case Fault::leaking_cell: {
        const QString rate = one_amount(e) && shift_of(e, Condition::stored) != nullptr
                                 ? tr(" About %1 of its capacity a day.").arg(figures::percent(*e.amount, 2))
                                 : QString();
        return low_group(e, shift_of(e, Condition::load) != nullptr
                                ? (many ? tr("charge is missing, while they carry load like their siblings.")
                                        : tr("charge is missing, while it carries load like its siblings."))
                                : tr("charge is missing.")) +
               rate;
    }
    case Fault::weak_group:
        if (const QString words = resistance_words(e, pack); !words.isEmpty())
            return words;
        return low_group(e, shift_of(e, Condition::load) != nullptr
                                ? (many ? tr("they hold less and sag more than their siblings.")
                                        : tr("it holds less and sags more than its siblings."))
                                : (many ? tr("they seem to hold less than their siblings.")
                                        : tr("it seems to hold less than its siblings."))) +
               (one_amount(e) ? tr(" About %1 of the capacity is gone.").arg(figures::percent(*e.amount, 0))
                              : QString());
    case Fault::imbalance:
        return imbalance_reason(e);
    case Fault::all_discharged:
        return tr(
            "Nearly every group stands under its floor, and none is left to compare with. Check the meter on a known "
            "cell first.");
    case Fault::elsewhere:
        return tr("Nothing in the readings speaks against the groups: charger, device, lead or connector. Cheap checks "
                  "first: another charger, another device, clean contacts, the volts at the connector while it is on.");
    case Fault::latched_board:
        return latched_reason(pack);
    case Fault::sense_fault: {
        QStringList parts;
        for (const int g : e.groups)
            if (const Shift* s = resting(e, g))
                parts << tr("group %1 %2").arg(g).arg(apart(s->measured_v));
        return e.groups.size() > 1
                   ? tr("Neighbours err against each other and the errors cancel (%1): the shared lead, not the cells.")
                         .arg(parts.join(QStringLiteral(", ")))
                   : tr("The same error in every reading (%1), while the terminals do not show it: the lead, not the "
                        "cells.")
                         .arg(parts.join(QStringLiteral(", ")));
    }
    case Fault::high_resistance_joint:
        return joint_reason(e, pack);
    case Fault::disconnected_cell:
        return low_group(e, (many ? tr("they behave as if one of the %1 units of each were not joined.")
                                  : tr("it behaves as if one of its %1 units were not joined."))
                                .arg(pack.layout.parallel));
    case Fault::reversed_unit: {
        const Shift* s = resting(e);
        return s == nullptr ? tr("What else is known speaks for it.")
                            : tr("Group %1 reads %2 where the others stand at %3: as much too little as something the "
                                 "wrong way round takes off.")
                                  .arg(s->group)
                                  .arg(figures::volts(s->reference_v + s->measured_v), figures::volts(s->reference_v));
    }
    }
    return {};
}

QString reading_kind(ReadingKind kind) {
    switch (kind) {
    case ReadingKind::rest:
        return tr("At rest");
    case ReadingKind::load:
        return tr("Under load");
    case ReadingKind::end_of_charge:
        return tr("End of charge");
    case ReadingKind::stored:
        return tr("After storage");
    case ReadingKind::terminal:
        return tr("Terminals");
    case ReadingKind::unit_voltages:
        return tr("Units one by one");
    case ReadingKind::lead_swap:
        return tr("Swap the lead");
    case ReadingKind::repeat:
        return tr("Read again");
    }
    return {};
}

QString next_reading(const NextReading& next) {
    const QString where = groups(next.groups);
    switch (next.kind) {
    case ReadingKind::rest:
        return tr("Read every group at rest.");
    case ReadingKind::load:
        return tr("Read every group under a steady load of 0.2 to 0.5 It, and enter the current.");
    case ReadingKind::end_of_charge:
        return tr("Charge, and read every group when the charger stops.");
    case ReadingKind::stored:
        return next.days <= 1 ? tr("Leave it disconnected for a day, then read %1 and its neighbours again.").arg(where)
                              : tr("Leave it disconnected for %1 days, then read %2 and its neighbours again.")
                                    .arg(figures::plain(next.days, 0), where);
    case ReadingKind::terminal:
        return tr("Read the terminals.");
    case ReadingKind::unit_voltages:
        return tr("Cut the links of %1 and read its units one by one.").arg(where);
    case ReadingKind::lead_swap:
        return tr("Swap the sense lead of %1 with a good one: does the wrong reading go with the lead?").arg(where);
    case ReadingKind::repeat:
        return next.condition
                   ? tr("Read %1 %2 once more: one figure does not fit the others.").arg(where, during(*next.condition))
                   : tr("Two readings of %1 under one condition do not agree: read again.").arg(where);
    }
    return {};
}

QString way_forward(WayForward way) {
    switch (way) {
    case WayForward::refill:
        return tr("Refill from stock");
    case WayForward::donor:
        return tr("Donor group");
    case WayForward::rebalance:
        return tr("Rebalance");
    case WayForward::recover_slowly:
        return tr("Recover slowly");
    case WayForward::replace_board:
        return tr("Replace the board");
    case WayForward::check_lead:
        return tr("Check the lead");
    case WayForward::remake_joint:
        return tr("Remake the joint");
    case WayForward::break_for_units:
        return tr("Break for units");
    case WayForward::check_meter:
        return tr("Check the meter");
    case WayForward::swap_unit:
        return tr("Swap the one unit");
    case WayForward::top_up:
        return tr("Top it up");
    case WayForward::none:
        return tr("Nothing to mend");
    }
    return {};
}

namespace {

QString rebalance_reason(const Way& way) {
    QString text = tr("Bring %1 level with the others, then watch whether it drifts back: cells that leak do.")
                       .arg(groups(way.groups));
    QStringList each;
    for (const GroupBalance& group : way.balance) {
        const QString hours = group.hours ? tr(", %1 h").arg(figures::plain(*group.hours, 1)) : QString();
        each << (group.charge_ah > 0 ? tr("bleed %1 from group %2%3") : tr("put %1 into group %2%3"))
                    .arg(figures::pack_capacity(std::fabs(group.charge_ah)))
                    .arg(group.group)
                    .arg(hours);
    }
    if (!each.isEmpty())
        text += QLatin1Char(' ') + tr("Each by itself: %1.").arg(each.join(QStringLiteral("; ")));
    if (way.bleed_ah && way.lift_ah)
        text += QLatin1Char(' ') +
                (!way.balance.empty() && way.balance.front().charge_ah > 0
                     ? tr("Lifting the others instead takes %1.").arg(figures::pack_capacity(*way.lift_ah))
                     : tr("Bleeding the others instead takes %1.").arg(figures::pack_capacity(*way.bleed_ah)));
    return text;
}

QString swap_reason(const Way& way) {
    const QString where = groups(way.groups);
    if (way.odd_units.empty())
        return tr("Cut the links of %1 on one side, read its units now and after days, and swap only the one that "
                  "falls; "
                  "its siblings may be sound. Join the new one only level with them.")
            .arg(where);
    QStringList names;
    for (const std::string& unit : way.odd_units)
        names << QString::fromStdString(unit);
    return tr("Unit %1 of %2 stands apart: swap it, and join the new one only level with its group.")
        .arg(names.join(QStringLiteral(", ")), where);
}

} // namespace

QString way_reason(const Way& way) {
    const QString where = groups(way.groups);
    const auto window = [&] {
        if (!way.donor)
            return QString();
        QString text = tr(" level with the others, at %1 to %2")
                           .arg(figures::volts(way.donor->from_v, 2), figures::volts(way.donor->to_v, 2));
        if (way.donor->from_ah)
            text += tr(", %1 to %2")
                        .arg(figures::pack_capacity(*way.donor->from_ah), figures::pack_capacity(*way.donor->to_ah));
        return text + tr(", same model.");
    };
    switch (way.way) {
    case WayForward::swap_unit:
        return swap_reason(way);
    case WayForward::top_up:
        return way.top_up_days
                   ? tr("Leave it, and bring %1 level every %2 days; until then the pack loses a tenth of its charge. "
                        "A "
                        "leak may grow: read it each time, and never leave such a pack on charge unwatched.")
                         .arg(where, figures::plain(std::floor(*way.top_up_days), 0))
                   : QString();
    case WayForward::refill:
        return tr("Tested units from stock for %1:").arg(where) + window();
    case WayForward::donor:
        return tr("A good group of a sister pack for %1:").arg(where) + window();
    case WayForward::rebalance:
        return rebalance_reason(way);
    case WayForward::recover_slowly: {
        QString text = way.advised
                           ? tr("By this rule set's school, though copper may have dissolved and charging can plate a "
                                "short: ")
                           : tr("Not advised: copper may have dissolved, and charging can plate a short. Where a rule "
                                "set allows it: ");
        if (way.recovery) {
            text += way.recovery_a ? tr("at most %1").arg(figures::amperes(*way.recovery_a))
                                   : tr("at most %1 It").arg(figures::plain(way.recovery->current_it, 2));
            text +=
                tr(", watched, cell by cell; %1 per cell within %2 min and not warm, else scrap. Then a capacity test "
                   "and a rest of %3 days before it is used.")
                    .arg(figures::volts(way.recovery->to_v, 1), figures::plain(way.recovery->within_minutes, 0),
                         figures::plain(way.recovery->hold_days, 0));
        }
        return text;
    }
    case WayForward::replace_board:
        return tr(
            "Try to unlatch it before you replace it: bring every group over its floor, then put the pack on its "
            "charger "
            "or touch the output with a supply at the pack's own voltage, current-limited, for seconds. Some boards "
            "wake only on a charger, some die when they were unpowered. Note what was tried. Never run the pack "
            "without one.");
    case WayForward::check_lead:
        return tr("Swap the lead of %1 with a good one. If the reading goes with it, mend lead or board and leave the "
                  "cells alone.")
            .arg(where);
    case WayForward::remake_joint:
        return way.because == Fault::disconnected_cell
                   ? tr("Find the unit of %1 that is not joined, read it on its own, and join it again only when it "
                        "stands "
                        "level with its group.")
                         .arg(where)
                   : tr("Clean or replace the bus bar or joint of %1 and torque it. Corroded bars go; the salts "
                        "irritate "
                        "eyes and lungs: gloves, goggles, air.")
                             .arg(where) +
                         (way.joint_ohm ? tr(" Now about %1.").arg(figures::milliohms(*way.joint_ohm)) : QString());
    case WayForward::check_meter:
        return tr("Read a cell that you know before you believe it: the probe or the range may be wrong.");
    case WayForward::break_for_units:
        return way.because == Fault::all_discharged
                   ? tr("No group is left to build on: take it apart, and test what is not dead.")
                   : tr("More than half of the groups are gone: what is left is worth more as units and as donors.");
    case WayForward::none:
        return tr("Charge, rest, and prove it.");
    }
    return {};
}

QString route(WorthRoute route) {
    switch (route) {
    case WorthRoute::repair_from_stock:
        return tr("Repair from stock");
    case WorthRoute::repair_from_donors:
        return tr("Repair from donors");
    case WorthRoute::repair_with_bought_units:
        return tr("Repair with bought units");
    case WorthRoute::rebuild:
        return tr("Rebuild with new units");
    case WorthRoute::rebuild_other_size:
        return tr("Rebuild with units of another size");
    case WorthRoute::convert:
        return tr("Convert the chemistry");
    case WorthRoute::buy_new:
        return tr("Buy new");
    case WorthRoute::buy_other_size:
        return tr("Buy a pack of another size");
    case WorthRoute::buy_reconditioned:
        return tr("Buy reconditioned");
    case WorthRoute::other_kind_as_donor:
        return tr("Repair from another kind of pack");
    case WorthRoute::adapter:
        return tr("Another pack with an adapter");
    case WorthRoute::whole_device:
        return tr("Buy the whole device");
    case WorthRoute::break_for_units:
        return tr("Break for units");
    case WorthRoute::recycle:
        return tr("Recycle it as it is");
    }
    return {};
}

QString obstacle(const char* code) {
    const QString why = QString::fromLatin1(code);
    if (why == QLatin1String("not-wanted"))
        return tr("not what is wanted");
    if (why == QLatin1String("no-stock"))
        return tr("not enough units in stock");
    if (why == QLatin1String("no-donors"))
        return tr("not enough donors at hand");
    if (why == QLatin1String("no-price"))
        return tr("no price given");
    if (why == QLatin1String("nothing-to-replace"))
        return tr("nothing to replace");
    if (why == QLatin1String("nothing-left"))
        return tr("no good unit in it");
    return why;
}

namespace {

QString worth_limit(const TurningPoint& t) {
    using F = TurningPoint::Figure;
    const QString money = figures::plain(t.value, 2);
    switch (t.figure) {
    case F::hour:
        return t.more ? tr("an hour costs more than %1").arg(money) : tr("an hour costs less than %1").arg(money);
    case F::price:
        if (t.route == WorthRoute::repair_from_stock || t.route == WorthRoute::break_for_units)
            return t.more ? tr("a unit in stock is worth more than %1").arg(money)
                          : tr("a unit in stock is worth less than %1").arg(money);
        if (t.route <= WorthRoute::convert || t.route == WorthRoute::other_kind_as_donor)
            return t.more ? tr("one of its units costs more than %1").arg(money)
                          : tr("one of its units costs less than %1").arg(money);
        return t.more ? tr("it costs more than %1").arg(money) : tr("it costs less than %1").arg(money);
    case F::extra_hours: {
        const QString hours = figures::plain(t.value, 1);
        return t.more ? tr("it takes more than %1 h besides").arg(hours)
                      : tr("it takes less than %1 h besides").arg(hours);
    }
    case F::kept_share: {
        const QString share = figures::percent(t.value, 0);
        return t.more ? tr("it keeps more than %1 of the energy").arg(share)
                      : tr("it keeps less than %1 of the energy").arg(share);
    }
    case F::years: {
        const QString years = figures::plain(t.value, 1);
        return t.more ? tr("it lasts more than %1 years").arg(years) : tr("it lasts less than %1 years").arg(years);
    }
    case F::chance: {
        constexpr double per_cent = 100;
        const QString of_100 = figures::plain(t.value * per_cent, 0);
        return t.more ? tr("it works in more than %1 of 100").arg(of_100)
                      : tr("it works in less than %1 of 100").arg(of_100);
    }
    }
    return {};
}

} // namespace

QString turning_point(const TurningPoint& t) {
    return (t.wins ? tr("%1 stays first as long as %2.") : tr("%1 wins if %2.")).arg(route(t.route), worth_limit(t));
}

} // namespace ingot::wording
