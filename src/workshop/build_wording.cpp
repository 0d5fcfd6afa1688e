#include "workshop/build_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

#include <QDateTime>
#include <QLocale>

#include <cmath>

namespace ingot::wording {

QString reversed_unit(const std::string& unit) {
    return tr("%1 stands the wrong way round: its voltage is negative. Turn it round and read it again; never join it "
              "like this.")
        .arg(QString::fromStdString(unit));
}

QString deep_unit(const std::string& unit) {
    return tr("%1 is deeply discharged. Do not lift it by joining it to others: look at it as a unit of its own first.")
        .arg(QString::fromStdString(unit));
}

QString clash(const Clash& clash, const ConversionDesign& design, const DeviceWindow& device) {
    const double value = clash.value.value_or(0);
    const double limit = clash.limit.value_or(0);
    switch (clash.clash) {
    case ConversionClash::charger_over_limit:
        return tr("The charger ends at %1 a cell, above the limit of %2: another charger is needed.")
            .arg(figures::volts(value), figures::volts(limit));
    case ConversionClash::charge_method:
        if (device.charger_kind == ChargerKind::lead)
            return tr("A lead charger floats and equalises; this chemistry must not see either.");
        if (device.charger_kind == ChargerKind::cc_cv)
            return tr("A charger of constant voltage does not see when nickel is full: it needs one that watches the "
                      "cells.");
        return tr("A nickel charger has no limit of voltage; this chemistry needs constant current, then constant "
                  "voltage.");
    case ConversionClash::charger_never_fills:
        return tr("The charger ends at %1 a cell and never fills it; %2 is needed.")
            .arg(figures::volts(value), figures::volts(limit));
    case ConversionClash::over_device:
        return tr("Full it has %1; the device stands %2.").arg(figures::volts(value, 2), figures::volts(limit, 2));
    case ConversionClash::unused_charge:
        return tr("The device goes off while %1 of the charge is left.").arg(figures::percent(value, 0));
    case ConversionClash::runs_too_low:
        if (!design.needs_board)
            return tr("The device goes on down to %1 a cell, under %2: nothing stops it there, so the weakest cell is "
                      "reversed.")
                .arg(figures::volts(value), figures::volts(limit));
        return tr("The device goes on down to %1 a cell, under %2: the protection board must stop first.")
            .arg(figures::volts(value), figures::volts(limit));
    }
    return {};
}

QString clash_in_short(const Clash& clash, const ConversionDesign& design) {
    const double value = clash.value.value_or(0);
    const double limit = clash.limit.value_or(0);
    switch (clash.clash) {
    case ConversionClash::charger_over_limit:
        return tr("another charger: %1 a cell").arg(figures::volts(value, 2));
    case ConversionClash::charge_method:
        return tr("another charger: wrong method");
    case ConversionClash::charger_never_fills:
        return tr("charger never fills it: %1 a cell").arg(figures::volts(value, 2));
    case ConversionClash::over_device:
        return tr("full %1, device stands %2").arg(figures::volts(value, 1), figures::volts(limit, 1));
    case ConversionClash::unused_charge:
        return tr("device off with %1 left").arg(figures::percent(value, 0));
    case ConversionClash::runs_too_low:
        return design.needs_board ? tr("board must stop at %1 a cell").arg(figures::volts(limit, 2))
                                  : tr("nothing stops it at %1 a cell").arg(figures::volts(limit, 2));
    }
    return {};
}

QString board_kind(BoardKind kind) {
    switch (kind) {
    case BoardKind::board:
        return tr("protection board");
    case BoardKind::left_in_pack:
        return tr("old board, balance charger");
    case BoardKind::thermal_switch:
        return tr("thermal switch alone");
    case BoardKind::none:
        return tr("no protection");
    }
    return {};
}

QString joining_kind(JoiningKind kind) {
    switch (kind) {
    case JoiningKind::weld:
        return tr("welded strip");
    case JoiningKind::solder_tabs:
        return tr("soldered tabs");
    case JoiningKind::solder_cells:
        return tr("soldered units");
    case JoiningKind::holder:
        return tr("holder, springs");
    case JoiningKind::bolts:
        return tr("bolted bars");
    }
    return {};
}

QString needs_board(int series, std::optional<double> current_a) {
    return current_a ? tr("Needs a protection board for %1 cells in series that carries %2.")
                           .arg(series)
                           .arg(figures::amperes(*current_a))
                     : tr("Needs a protection board for %1 cells in series.").arg(series);
}

QString build_task(BuildTask task, bool modules) {
    if (modules && task == BuildTask::rings)
        return tr("Caps on the poles");
    if (modules && task == BuildTask::holder)
        return tr("Clamped in their row");
    if (modules && task == BuildTask::links_front)
        return tr("Bars, front");
    if (modules && task == BuildTask::links_back)
        return tr("Bars, back");
    switch (task) {
    case BuildTask::rings:
        return tr("Rings on the plus ends");
    case BuildTask::holder:
        return tr("Units in the holder");
    case BuildTask::polarity:
        return tr("Polarity, both faces");
    case BuildTask::gate:
        return tr("Gate: volts before joining");
    case BuildTask::parallel_front:
        return tr("Parallel bars, front");
    case BuildTask::parallel_back:
        return tr("Parallel bars, back");
    case BuildTask::links_front:
        return tr("Series links, front");
    case BuildTask::cover_front:
        return tr("Turn over, cover front");
    case BuildTask::links_back:
        return tr("Series links, back");
    case BuildTask::sense_leads:
        return tr("Sense leads, 0 first");
    case BuildTask::fuse:
        return tr("Main leads, fuse in the plus");
    case BuildTask::board:
        return tr("Board, last of all");
    case BuildTask::cover:
        return tr("Card, wrap, label");
    }
    return {};
}

QString build_item(BuildTask task, int item, const PackLayout& layout) {
    if (task == BuildTask::sense_leads)
        return tr("lead %1").arg(item - 1);
    const auto items = build_items(task, layout.series, layout.parallel);
    if (item < 1 || item > static_cast<int>(items.size()))
        return {};
    const auto& groups = items[static_cast<std::size_t>(item) - 1];
    if (groups.size() == 1)
        return tr("group %1").arg(groups.front());
    if (groups.size() == 2)
        return tr("groups %1 and %2").arg(groups.front()).arg(groups.back());
    return {};
}

QString build_task_how(BuildTask task, bool modules) {
    if (modules && task == BuildTask::holder)
        return tr(
            "Each turned against the one before, plus beside minus, between the end plates; vents and hoses free. "
            "The bracket fits one way only: one that has to be forced says that a module is turned. Clamped before "
            "they are ever charged: loose modules swell.");
    if (modules && (task == BuildTask::links_front || task == BuildTask::links_back))
        return tr(
            "Bars and poles cleaned to bright metal, or replaced where they are pitted; read a bar with both its "
            "joints before and after (Layout). Nuts by hand first, then from the middle of the row outwards to the "
            "maker's torque, insulated tools, one bar at a time.");
    switch (task) {
    case BuildTask::rings:
        return tr("An insulating ring on every plus end; no damaged wrap goes in.");
    case BuildTask::holder:
        return tr("Each unit at its place, plus up or down as drawn.");
    case BuildTask::polarity:
        return tr("Read every unit at its place, on both faces, before the first weld. One that reads negative is "
                  "turned and read again.");
    case BuildTask::gate:
        return tr("Read every unit's voltage now; the gate opens group by group.");
    case BuildTask::parallel_front:
    case BuildTask::parallel_back:
        return tr("Trial weld first. Spots on each unit, off the vent; clip the corners; pull at each strip.");
    case BuildTask::links_front:
    case BuildTask::links_back:
        return tr(
            "One joint at a time, cover what you do not work on, a sleeve under each jumper. Pull at each strip.");
    case BuildTask::cover_front:
        return tr("A card over the finished face before the pack is turned.");
    case BuildTask::sense_leads:
        return tr("Minus of the pack first, then plus of each group upward. Each must read one group more.");
    case BuildTask::fuse:
        return tr("Strain relief on both leads, ends covered at once.");
    case BuildTask::board:
        return tr("B minus first, then the sense plug, then B plus. Some boards wake only on a charger.");
    case BuildTask::cover:
        return tr("Nothing moves, nothing rubs; sensors and coils of the old pack are in. Chemistry, date and voltage "
                  "on the label.");
    }
    return {};
}

std::string build_task_caution(BuildTask task) {
    switch (task) {
    case BuildTask::parallel_front:
    case BuildTask::parallel_back:
    case BuildTask::links_front:
    case BuildTask::links_back:
    case BuildTask::sense_leads:
    case BuildTask::fuse:
    case BuildTask::board:
        return "joining";
    default:
        return "build";
    }
}

namespace {
QString item_of_task(BuildTask task, int item, const PackLayout& layout) {
    const QString which = build_item(task, item, layout);
    const QString step = build_task(task, layout.cells_per_tap() > 1);
    return which.isEmpty() ? step : tr("%1, %2").arg(step, which);
}
} // namespace

QString comes_first(BuildTask task, int item, const PackLayout& layout) {
    if (task == BuildTask::gate)
        return tr("The gate of group %1 is shut: read its units, bring them to one voltage, read them again.")
            .arg(item);
    return tr("First: %1.").arg(item_of_task(task, item, layout));
}

QString stands_on_it(BuildTask task, int item, const PackLayout& layout) {
    return tr("Take back first what stands on it: %1.").arg(item_of_task(task, item, layout));
}

QString prospective(double amperes) {
    constexpr double tens = 10;
    return amperes < tens ? figures::amperes(amperes) : tr("%1 A").arg(std::lround(amperes / tens) * 10);
}

QString hazard(const BareHazard& hazard, bool amperes_known) {
    const QString much = amperes_known ? tr("%1, %2").arg(figures::volts(hazard.volts, 1), prospective(hazard.amperes))
                                       : tr("%1, amperes not known").arg(figures::volts(hazard.volts, 1));
    return hazard.rim ? tr("%1 over the rim of a can").arg(much) : tr("%1 between bare metal").arg(much);
}

namespace {
// The room, and what the joints were made with.
QString room_or_joint(DesignFigure figure) {
    switch (figure) {
    case DesignFigure::case_width_m:
        return tr("room, wide");
    case DesignFigure::case_height_m:
        return tr("room, high");
    case DesignFigure::pitch_m:
        return tr("pitch");
    case DesignFigure::strip_width_m:
        return tr("strip, wide");
    case DesignFigure::strip_thickness_m:
        return tr("thick");
    case DesignFigure::cell_link_m:
        return tr("cell link");
    case DesignFigure::trial_weld:
        return tr("trial weld");
    case DesignFigure::bar_ohm:
        return tr("a bar now");
    case DesignFigure::bar_before_ohm:
        return tr("a bar before");
    case DesignFigure::bar_torque_nm:
        return tr("torque");
    case DesignFigure::by_hand:
        return tr("moved by hand");
    case DesignFigure::room_deep_m:
        return tr("room, deep");
    case DesignFigure::raised_top_m:
        return tr("raised top");
    case DesignFigure::sleeve_m:
        return tr("sleeve");
    case DesignFigure::spring_ohm:
        return tr("a spring");
    case DesignFigure::spring_a:
        return tr("spring bears");
    default:
        return {};
    }
}
} // namespace

QString design_figure(DesignFigure figure) {
    switch (figure) {
    case DesignFigure::off_v:
        return tr("off below");
    case DesignFigure::nominal_v:
        return tr("nominal");
    case DesignFigure::bears_v:
        return tr("bears");
    case DesignFigure::continuous_a:
        return tr("continuous");
    case DesignFigure::peak_a:
        return tr("peak, 5 s");
    case DesignFigure::load_w:
        return tr("load");
    case DesignFigure::run_s:
        return tr("run wanted");
    case DesignFigure::charger_v:
        return tr("charger to");
    case DesignFigure::charger_kind:
        return tr("charger");
    case DesignFigure::old_chemistry:
        return tr("old pack");
    case DesignFigure::old_series:
        return tr("old cells");
    case DesignFigure::arrangement:
        return tr("arrangement");
    case DesignFigure::strip_material:
        return tr("strip of");
    case DesignFigure::link_layers:
        return tr("link layers");
    case DesignFigure::end_layers:
        return tr("end layers");
    case DesignFigure::welder_thickest_m:
        return tr("welder to");
    case DesignFigure::board:
        return tr("board");
    case DesignFigure::moves_over:
        return tr("moves over");
    case DesignFigure::purpose:
        return tr("for");
    case DesignFigure::refill_pack:
        return tr("goes into pack");
    case DesignFigure::refill_groups:
        return tr("in its places");
    case DesignFigure::charger_a:
        return tr("charges with");
    case DesignFigure::balance_a:
        return tr("levels with");
    case DesignFigure::load_profile:
        return tr("load profile");
    case DesignFigure::new_charger_v:
        return tr("new one");
    case DesignFigure::board_kind:
        return tr("protected by");
    case DesignFigure::fuse_a:
        return tr("fuse");
    case DesignFigure::wire_mm2:
        return tr("leads");
    case DesignFigure::joining:
        return tr("joined by");
    case DesignFigure::cell_link_m:
    case DesignFigure::trial_weld:
    case DesignFigure::bar_ohm:
    case DesignFigure::bar_before_ohm:
    case DesignFigure::bar_torque_nm:
    case DesignFigure::by_hand:
    case DesignFigure::room_deep_m:
    case DesignFigure::raised_top_m:
    case DesignFigure::sleeve_m:
    case DesignFigure::spring_ohm:
    case DesignFigure::spring_a:
    case DesignFigure::case_width_m:
    case DesignFigure::case_height_m:
    case DesignFigure::pitch_m:
    case DesignFigure::strip_width_m:
    case DesignFigure::strip_thickness_m:
        return room_or_joint(figure);
    case DesignFigure::standby_a:
        return tr("draws at rest");
    case DesignFigure::wanted_ah:
        return tr("must give");
    case DesignFigure::least_duty:
        return tr("units fit for");
    case DesignFigure::wanted_model:
        return tr("units of model");
    case DesignFigure::priority:
        return tr("served as number");
    }
    return {};
}

QString design_unit(DesignFigure figure) {
    switch (figure) {
    case DesignFigure::off_v:
    case DesignFigure::nominal_v:
    case DesignFigure::bears_v:
    case DesignFigure::charger_v:
    case DesignFigure::new_charger_v:
        return tr("V");
    case DesignFigure::continuous_a:
    case DesignFigure::peak_a:
    case DesignFigure::charger_a:
    case DesignFigure::fuse_a:
    case DesignFigure::spring_a:
        return tr("A");
    case DesignFigure::wire_mm2:
        return tr("mm²");
    case DesignFigure::balance_a:
    case DesignFigure::standby_a:
        return tr("mA");
    case DesignFigure::bar_ohm:
    case DesignFigure::bar_before_ohm:
    case DesignFigure::spring_ohm:
        return tr("mΩ");
    case DesignFigure::bar_torque_nm:
        return tr("Nm");
    case DesignFigure::load_w:
        return tr("W");
    case DesignFigure::run_s:
        return tr("min");
    case DesignFigure::wanted_ah:
        return tr("Ah");
    case DesignFigure::case_width_m:
    case DesignFigure::case_height_m:
    case DesignFigure::pitch_m:
    case DesignFigure::strip_width_m:
    case DesignFigure::strip_thickness_m:
    case DesignFigure::welder_thickest_m:
    case DesignFigure::cell_link_m:
    case DesignFigure::room_deep_m:
    case DesignFigure::raised_top_m:
    case DesignFigure::sleeve_m:
        return tr("mm");
    case DesignFigure::link_layers:
    case DesignFigure::end_layers:
    case DesignFigure::charger_kind:
    case DesignFigure::old_chemistry:
    case DesignFigure::old_series:
    case DesignFigure::arrangement:
    case DesignFigure::strip_material:
    case DesignFigure::board:
    case DesignFigure::moves_over:
    case DesignFigure::purpose:
    case DesignFigure::refill_pack:
    case DesignFigure::refill_groups:
    case DesignFigure::load_profile:
    case DesignFigure::board_kind:
    case DesignFigure::trial_weld:
    case DesignFigure::by_hand:
    case DesignFigure::joining:
    case DesignFigure::least_duty:
    case DesignFigure::wanted_model:
    case DesignFigure::priority:
        break;
    }
    return {};
}

double design_factor(DesignFigure figure) {
    constexpr double seconds_per_minute = 60;
    if (figure == DesignFigure::run_s)
        return seconds_per_minute;
    constexpr double milli = 0.001; // mm, mA, mohm
    const QString unit = design_unit(figure);
    return unit == tr("mm") || unit == tr("mA") || unit == tr("mΩ") ? milli : 1;
}

QString arrangement(const Layout& layout) {
    const QString grid = layout.flat ? tr("Stacks") : layout.staggered ? tr("Staggered") : tr("Square");
    return layout.upright ? tr("%1, %2 up").arg(grid).arg(layout.lane) : tr("%1, %2 along").arg(grid).arg(layout.lane);
}

QString places(const std::vector<int>& places) {
    QStringList numbers;
    for (const int place : places)
        numbers << QString::number(place);
    if (numbers.size() == 1)
        return tr("place %1").arg(numbers.front());
    const QString last = numbers.isEmpty() ? QString() : numbers.takeLast();
    return tr("places %1 and %2").arg(numbers.join(QStringLiteral(", ")), last);
}

QStringList refill(const Refill& refill, const BuildDesign& design) {
    QStringList out;
    out << tr("For %1, %2; %3 groups stay in it.")
               .arg(QString::fromStdString(design.word(DesignFigure::refill_pack)), places(refill.groups))
               .arg(refill.survivors);
    if (refill.weakest_ah)
        out << tr("The weakest that stays gives %1 (%2 of %3 known): more than that gains nothing.")
                   .arg(figures::pack_capacity(*refill.weakest_ah))
                   .arg(refill.known)
                   .arg(refill.survivors);
    else
        out << tr("The capacity of none that stays is known: discharge one alone, or say what the new ones must give.");
    if (!refill.model.empty())
        out << tr("Units of %1 first, as came out of it.").arg(QString::fromStdString(refill.model));
    if (refill.stand_at_v)
        out << tr("Those that stay stand at %1 at rest. Bring each new group to that before it goes in.")
                   .arg(figures::volts(*refill.stand_at_v));
    else
        out << tr("Read the groups that stay at rest before the new ones go in: all are to stand alike.");
    return out;
}

QString remedy(const Remedy& remedy) {
    constexpr double mm = 1000;
    switch (remedy.kind) {
    case RemedyKind::end_layer:
        return tr("%1 layers at both ends and on the leads").arg(remedy.stock.end_layers);
    case RemedyKind::link_layer:
        return tr("%1 layers on all links").arg(remedy.stock.link_layers);
    case RemedyKind::thicker:
        return tr("strip of %1 mm").arg(figures::plain(remedy.stock.thickness_m * mm, 2));
    case RemedyKind::wider:
        return tr("strip %1 mm wide").arg(figures::plain(remedy.stock.width_m * mm, 0));
    }
    return {};
}

QString run_variant(RunVariant variant) {
    switch (variant) {
    case RunVariant::as_built:
        return tr("as matched");
    case RunVariant::one_more:
        return tr("one more in each group");
    case RunVariant::doubled_strip:
        return tr("strip doubled");
    case RunVariant::heavier:
        return tr("load 10 % heavier");
    case RunVariant::other_build:
        return tr("another build");
    }
    return {};
}

QString conversion_verdict(ConversionVerdict verdict) {
    switch (verdict) {
    case ConversionVerdict::keep:
        return tr("Keep the chemistry");
    case ConversionVerdict::fits:
        return tr("Fits");
    case ConversionVerdict::changes:
        return tr("Fits with changes");
    case ConversionVerdict::clash:
        return tr("Clashes");
    }
    return {};
}

QString clock_time(const std::string& moment) {
    return QLocale().toString(QDateTime::fromString(QString::fromStdString(moment), Qt::ISODate).toLocalTime().time(),
                              QLocale::ShortFormat);
}

QString charger_kind(ChargerKind kind) {
    switch (kind) {
    case ChargerKind::cc_cv:
        return tr("constant current, constant voltage");
    case ChargerKind::minus_dv:
        return tr("nickel, by voltage drop");
    case ChargerKind::trickle:
        return tr("trickle");
    case ChargerKind::lead:
        return tr("lead");
    }
    return {};
}

} // namespace ingot::wording
