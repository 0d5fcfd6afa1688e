#include "workshop/stock_wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

namespace ingot::wording {

QString care(Care care) {
    switch (care) {
    case Care::look:
        return tr("a look");
    case Care::charge_up:
        return tr("some charge");
    case Care::bring_down:
        return tr("less charge");
    case Care::none:
        break;
    }
    return {};
}

QString care_reason(const Workshop& workshop, const StockLine& line) {
    const UnitState* unit = workshop.unit(line.unit);
    const Chemistry* chemistry = unit == nullptr ? nullptr : workshop.inventory().chemistry_of(*unit);
    if (chemistry == nullptr || line.care == Care::none)
        return tr("Nobody wrote down how this chemistry is kept: nothing is asked for.");
    const StorageCare& kept = chemistry->storage;
    const QString between = kept.high_soc > 0
                                ? tr("%1 keeps best between %2 and %3 of its charge.")
                                      .arg(QString::fromStdString(chemistry->name), figures::percent(kept.low_soc, 0),
                                           figures::percent(kept.high_soc, 0))
                                : QString();
    switch (line.care) {
    case Care::charge_up:
        return tr("It stands at %1. %2 Charge it a little.").arg(figures::percent(*line.charge, 0), between);
    case Care::bring_down:
        return tr("It stands at %1. %2 Draw some charge, or use it first.")
            .arg(figures::percent(*line.charge, 0), between);
    default:
        return line.volts ? tr("Read it again every %1 days: a leaker is found in time. %2")
                                .arg(figures::plain(kept.look_days, 0), between)
                          : tr("Charge was moved since its voltage was read, or it never was: read it.");
    }
}

} // namespace ingot::wording
