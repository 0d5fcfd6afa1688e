// What is said of a build's first charge and of its months on the shelf.
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/translated.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>

namespace ingot::wording {

namespace {

constexpr int minutes_an_hour = 60;
constexpr double run_month_days = 30;
constexpr double run_micro = 1e-6;

QString hours_minutes(double hours) {
    constexpr double seconds_an_hour = 3600;
    return run_time(hours * seconds_an_hour);
}

} // namespace

QString run_time(double seconds) {
    const int minutes = static_cast<int>(std::lround(seconds / minutes_an_hour));
    return minutes < minutes_an_hour ? tr("%1 min").arg(minutes)
                                     : tr("%1 h %2 min")
                                           .arg(minutes / minutes_an_hour)
                                           .arg(minutes % minutes_an_hour, 2, 10, QLatin1Char('0'));
}

QString warmth(const VariantRun& run) {
    if (!run.warmth)
        return sentence(run.warmth_objection);
    const PackWarmth& warm = *run.warmth;
    const QString hottest = figures::plain(warm.warmer_k[warm.hottest], 1);
    const QString coolest = figures::plain(warm.warmer_k[warm.coolest], 1);
    const QString where = run.layout && warm.hottest < run.layout->cells.size()
                              ? tr("%1 in group %2")
                                    .arg(QString::fromStdString(run.layout->cells[warm.hottest].id))
                                    .arg(run.layout->cells[warm.hottest].group + 1)
                              : QString();
    return tr("At the end its hottest place is about %1 K over the air around the case (%2), its coolest %3 K. "
              "Roughly: "
              "still air in a closed case, no heat through strips or holders.")
        .arg(hottest, where, coolest);
}

QStringList first_charge(const VariantRun& run, const BuildQuestion& question) {
    if (!run.charge)
        return {sentence(run.charge_objection)};
    const ChargeRun& charge = *run.charge;
    const auto cells = static_cast<double>(question.cells_per_unit);
    QStringList out;
    const double charger_v =
        question.chemistry.charge_limit_v.value_or(0) * cells * static_cast<double>(question.series);
    const QString within =
        tr("First charge, %1 and %2: %3 into it in %4")
            .arg(figures::volts(charger_v, 2), figures::amperes(*question.design.number(DesignFigure::charger_a)),
                 figures::pack_capacity(charge.charged_ah), hours_minutes(charge.hours));
    if (charge.end == ChargeEnd::group_full)
        out << tr("%1, then group %2 is full at %3 and the board stops; the lowest stands %4 a cell below it.")
                   .arg(within)
                   .arg(charge.first_full + 1)
                   .arg(figures::volts(charge.highest_v * cells, 3),
                        figures::millivolts_signed(charge.highest_v - charge.lowest_v).remove(QLatin1Char('+')));
    else if (charge.end == ChargeEnd::full)
        out << tr("%1; the charger ends it, group %2 highest at %3, the lowest %4 a cell below it.")
                   .arg(within)
                   .arg(charge.first_full + 1)
                   .arg(figures::volts(charge.highest_v * cells, 3),
                        figures::millivolts_signed(charge.highest_v - charge.lowest_v).remove(QLatin1Char('+')));
    else
        out << tr("On this charger it never fills.");
    if (charge.balance_hours && *charge.balance_hours * minutes_an_hour >= 1)
        out << tr("Level after %1 of the board's %2 mA.")
                   .arg(hours_minutes(*charge.balance_hours),
                        figures::plain(*question.design.number(DesignFigure::balance_a) * 1000, 0));
    else if (charge.balance_hours)
        out << tr("Nothing is left for the board to level.");
    return out;
}

QStringList on_the_shelf(const VariantRun& run, const BuildQuestion& question, double from_soc) {
    if (!run.shelf)
        return {sentence(run.shelf_objection)};
    const ShelfStay& stay = *run.shelf;
    const auto months = [](double days) {
        return QString::number(static_cast<int>(std::floor(days / run_month_days)));
    };
    QStringList out;
    const auto standby = question.design.number(DesignFigure::standby_a);
    const QString from = tr("On the shelf, from %1 full").arg(figures::percent(from_soc, 0));
    out << (stay.empty_days ? tr("%1: group %2 is empty after %3 months.")
                                  .arg(from)
                                  .arg(stay.lowest + 1)
                                  .arg(months(*stay.empty_days))
                            : tr("%1: two years leave group %2, the lowest, at %3.")
                                  .arg(from)
                                  .arg(stay.lowest + 1)
                                  .arg(figures::volts(stay.points.back().lowest_v * question.cells_per_unit, 2)));
    out << (stay.balance_days ? tr("Groups stand 3 % of charge apart after %1 months.").arg(months(*stay.balance_days))
                              : tr("Its groups stay level for two years."));
    if (!standby)
        out << tr("What board and device draw is not known and not counted.");
    else if (*standby < run_micro)
        out << tr("Board and device draw next to nothing.");
    return out;
}

} // namespace ingot::wording
