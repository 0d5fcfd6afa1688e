#include "workshop/build_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

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

QString needs_board(int series, std::optional<double> current_a) {
    return current_a ? tr("Needs a protection board for %1 cells in series that carries %2.")
                           .arg(series)
                           .arg(figures::amperes(*current_a))
                     : tr("Needs a protection board for %1 cells in series.").arg(series);
}

} // namespace ingot::wording
