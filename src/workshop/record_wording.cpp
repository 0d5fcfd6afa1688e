#include "workshop/wording.h"

#include "workshop/figures.h"
#include "workshop/translated.h"

namespace ingot::wording {

QString assembly_state(AssemblyState state) {
    switch (state) {
    case AssemblyState::received:
        return tr("at Receive");
    case AssemblyState::in_triage:
        return tr("in triage");
    case AssemblyState::to_open:
        return tr("waits to be opened");
    case AssemblyState::under_repair:
        return tr("under repair");
    case AssemblyState::opened:
        return tr("opened");
    case AssemblyState::refused:
        return tr("refused");
    case AssemblyState::planned:
        return tr("planned");
    case AssemblyState::taken:
        return tr("units taken");
    case AssemblyState::given_up:
        return tr("given up");
    case AssemblyState::joined:
        return tr("joined");
    case AssemblyState::proved:
        return tr("proved");
    case AssemblyState::in_service:
        return tr("in service");
    case AssemblyState::returned:
        return tr("returned");
    case AssemblyState::spent:
        return tr("spent");
    }
    return {};
}

QString whereabouts(Whereabouts whereabouts) {
    switch (whereabouts) {
    case Whereabouts::stock:
        return tr("in stock");
    case Whereabouts::reserved:
        return tr("reserved");
    case Whereabouts::built:
        return tr("built in");
    case Whereabouts::recycled:
        return tr("to recycling");
    }
    return {};
}

QString layout(const PackLayout& layout) {
    const QString text = QStringLiteral("%1S%2P").arg(layout.series).arg(layout.parallel);
    if (layout.units_per_tap > 1 && layout.cells_per_unit == 1)
        return text + tr(" of blocks of %1 cells").arg(layout.units_per_tap);
    if (layout.units_per_tap > 1)
        return text + tr(" of blocks of %1 modules of %2 cells").arg(layout.units_per_tap).arg(layout.cells_per_unit);
    return layout.cells_per_unit > 1 ? text + tr(" of %1-cell modules").arg(layout.cells_per_unit) : text;
}

QString place_in_pack(const Measurement& measurement) {
    const Subject& at = measurement.subject;
    if (at.group > 0)
        return at.place > 0 ? tr("group %1, unit %2").arg(at.group).arg(at.place) : tr("group %1").arg(at.group);
    if (at.place == 0)
        return tr("terminals");
    if (measurement.quantity == Quantity::insulation)
        return at.place == 1 ? tr("plus to the case") : tr("minus to the case");
    return tr("behind the board");
}

QString value(const Measurement& measurement) {
    switch (measurement.quantity) {
    case Quantity::voltage:
        return figures::volts(measurement.value);
    case Quantity::dc_resistance:
    case Quantity::ac_resistance:
    case Quantity::resistance:
        return figures::milliohms(measurement.value);
    case Quantity::capacity:
        return figures::unit_capacity(measurement.value);
    case Quantity::self_discharge:
        return figures::leak(measurement.value);
    case Quantity::temperature:
        return figures::plain(measurement.value, 1) + QStringLiteral("\u202F\u00B0C");
    case Quantity::insulation:
        return figures::megohms(measurement.value);
    case Quantity::sensor:
        return figures::kilohms(measurement.value);
    case Quantity::duration:
        return figures::seconds(measurement.value);
    }
    return {};
}

} // namespace ingot::wording
