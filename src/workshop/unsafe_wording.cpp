// Why a design is unsafe, in sentences.
#include "core/build/wires.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/translated.h"

namespace ingot::wording {

namespace {
// ": 4 mm2 (IEC 60228) or gauge 11", for a short copper lead; empty where none is thick enough.
QString standard_lead(double current_a) {
    const auto wire = wire_for(current_a, SafetyQuestion{}.lead_a_per_m2);
    const auto gauge = wire ? gauge_for(wire->section_mm2) : std::nullopt;
    return wire && gauge
               ? tr(", %1 mm\u00B2 (IEC 60228) or gauge %2").arg(figures::plain(wire->section_mm2, 2)).arg(*gauge)
               : QString();
}
// Of what joins the units.
QString unsafe_joint(const UnsafeFinding& f) {
    const double value = f.value.value_or(0);
    const double limit = f.limit.value_or(0);
    switch (f.what) {
    case Unsafe::solder_on_lithium:
        return tr("Nobody solders on a lithium cell: the heat goes into it. Weld strip to it, or solder tabs that are "
                  "welded on.");
    case Unsafe::link_opens_at_work: {
        constexpr double to_mm = 1000;
        return tr("A link melts at about %1, a unit gives up to %2: it opens at work. A wire of %3 to %4 mm.")
            .arg(figures::amperes(value), figures::amperes(limit),
                 figures::plain(copper_that_melts_at_m(2 * limit) * to_mm, 2),
                 figures::plain(copper_that_melts_at_m(3 * limit) * to_mm, 2));
    }
    case Unsafe::link_never_opens:
        return tr("A link melts at about %1, the others of its group push %2 into a shorted unit: it never opens. "
                  "Thinner "
                  "wire, or more units in the group.")
            .arg(figures::amperes(value), figures::amperes(limit));
    case Unsafe::links_shake:
        return tr(
            "Cell links save a group from one shorted unit; in what is carried and shaken they break first, and a unit "
            "less goes unseen. Lay them slack, with a drop of glue, and read every unit under load at Prove.");
    case Unsafe::strip_over_welder: {
        constexpr double to_mm = 1000;
        return tr("The strip is %1 mm thick, the welder goes through %2 mm: a joint that looks joined and is not. "
                  "Thinner "
                  "strip in layers, or wider.")
            .arg(figures::plain(value * to_mm, 2), figures::plain(limit * to_mm, 2));
    }
    case Unsafe::spring_over_current:
        return tr("A spring of the holder carries %1, each unit gives %2: it glows, and what holds it melts. Weld, or "
                  "take more units in parallel.")
            .arg(figures::amperes(limit), figures::amperes(value));
    case Unsafe::holder_of_other_cells:
        return tr("This holder takes 1.5 V cells, too: mark it with its %1, so that nobody mixes them. Charge the "
                  "cells "
                  "outside, put them in at equal voltage.")
            .arg(figures::volts(value, 1));
    case Unsafe::no_trial_weld:
        return tr(
            "No trial weld is on record: on a scrap cell of the same kind, low first, until the strip tears and the "
            "spot holds; settings and pull into Layout. Let the welder rest as its maker says.");
    case Unsafe::bars_no_better: {
        constexpr double to_milliohm = 1000;
        return tr("The bars read %1 mΩ after they were cleaned, %2 before: clean poles and bars again, or replace "
                  "them.")
            .arg(figures::plain(value * to_milliohm, 2), figures::plain(limit * to_milliohm, 2));
    }
    default:
        return {};
    }
}
} // namespace

QString unsafe(const UnsafeFinding& f) {
    const double value = f.value.value_or(0);
    const double limit = f.limit.value_or(0);
    switch (f.what) {
    case Unsafe::board_not_known:
        return tr("Say at Need what protects it: a lithium pack is not finished without a board that stops over-charge "
                  "and over-discharge.");
    case Unsafe::no_board:
        return tr("Without a protection board no lithium pack is built here. No board is not an option.");
    case Unsafe::thermal_switch_alone:
        return tr("A thermal switch opens when it is hot; it stops neither over-charge nor over-discharge. It needs a "
                  "protection board beside it.");
    case Unsafe::board_other_series:
        return tr("The board watches %1 cells in series, the pack has %2: it would charge them to the wrong voltage.")
            .arg(static_cast<int>(value))
            .arg(static_cast<int>(limit));
    case Unsafe::board_too_small:
        return tr("The board carries %1, the device draws %2.").arg(figures::amperes(value), figures::amperes(limit));
    case Unsafe::charger_over_limit:
        return tr("The charger puts %1 on each cell, its limit is %2: name at Need the one that takes its place.")
            .arg(figures::volts(value, 2), figures::volts(limit, 2));
    case Unsafe::charge_method:
        return tr("This chemistry must not see the way the old charger charges: name at Need the one that takes its "
                  "place.");
    case Unsafe::over_device:
        return tr("Full it has %1, the device bears %2.").arg(figures::volts(value, 1), figures::volts(limit, 1));
    case Unsafe::unit_over_current:
        return tr("Each unit would carry %1, it is made for %2: more in parallel, or stronger units.")
            .arg(figures::amperes(value), figures::amperes(limit));
    case Unsafe::unit_over_peak:
        return tr("At its peak each unit would carry %1, for seconds it is made for %2: more in parallel, or stronger "
                  "units.")
            .arg(figures::amperes(value), figures::amperes(limit));
    case Unsafe::fuse_under_load:
        return tr("A fuse of %1 opens while the device draws %2, and sooner or later somebody bridges it.")
            .arg(figures::amperes(value), figures::amperes(limit));
    case Unsafe::fuse_over_lead:
        return tr("The leads bear %1; behind a fuse of %2 they burn first. A smaller fuse, or thicker leads.")
            .arg(figures::amperes(limit), figures::amperes(value));
    case Unsafe::lead_too_thin:
        return tr("The leads bear %1, the device draws %2: thicker ones%3.")
            .arg(figures::amperes(value), figures::amperes(limit), standard_lead(limit));
    case Unsafe::mixed_chemistries:
        return tr("Its units are of more than one chemistry: one chemistry in a pack.");
    case Unsafe::balance_charger:
        return tr(
            "Its old board stays in it and still stops it; balancing is the charger's, on the balance leads: every "
            "charge with them plugged in, beside it, on something that cannot burn.");
    case Unsafe::over_60_v:
        return tr("Full it has %1. Above 60 V nobody works alone, nor with bare tools; licensed practice where the law "
                  "asks for it.")
            .arg(figures::volts(value, 0));
    case Unsafe::solder_on_lithium:
    case Unsafe::link_opens_at_work:
    case Unsafe::link_never_opens:
    case Unsafe::links_shake:
    case Unsafe::strip_over_welder:
    case Unsafe::spring_over_current:
    case Unsafe::holder_of_other_cells:
    case Unsafe::no_trial_weld:
    case Unsafe::bars_no_better:
        return unsafe_joint(f);
    }
    return {};
}

} // namespace ingot::wording
