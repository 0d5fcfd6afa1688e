#include "workshop/stock.h"

#include "core/measure/moment.h"

#include <QDateTime>

#include <array>
#include <cmath>
#include <unordered_map>

namespace ingot {

const char* code(Care care) {
    constexpr std::array<const char*, care_count> codes{"none", "look", "charge-up", "bring-down"};
    return codes[static_cast<std::size_t>(care)];
}

namespace {

std::string days_after(const std::string& moment, double days) {
    constexpr double seconds = 86400;
    return QDateTime::fromString(QString::fromStdString(moment), Qt::ISODate)
        .addSecs(std::llround(days * seconds))
        .toUTC()
        .toString(Qt::ISODate)
        .toStdString();
}

void ask_care(StockLine& line, const Chemistry& chemistry, const std::string& now) {
    const StorageCare& storage = chemistry.storage;
    if (!(storage.look_days > 0))
        return;
    if (!line.volts || !line.age_days) {
        line.care = Care::look;
        line.due_at = now;
        return;
    }
    constexpr double meter_soc = 0.03; // what a voltage leaves open
    if (line.charge && storage.high_soc > 0 && *line.charge < storage.low_soc - meter_soc) {
        line.care = Care::charge_up;
        line.due_at = now;
    } else if (line.charge && storage.high_soc > 0 && *line.charge > storage.high_soc + meter_soc) {
        line.care = Care::bring_down;
        line.due_at = now;
    } else {
        line.care = Care::look;
        line.due_at = days_after(now, storage.look_days - *line.age_days);
    }
}

} // namespace

std::vector<StockLine> stock_of(const Workshop& workshop) {
    const Inventory& inventory = workshop.inventory();
    std::unordered_map<Id, Id> promised;
    for (const Assembly& build : inventory.builds())
        for (const Placement& placement : inventory.placements(build.id))
            if (placement.stands() && placement.unit != 0)
                promised[placement.unit] = build.id;
    const std::string now = workshop.now();
    std::vector<StockLine> out;
    for (const UnitState& unit : workshop.units()) {
        if (!unit.in_stock() && unit.record.whereabouts != Whereabouts::reserved)
            continue;
        StockLine& line = out.emplace_back();
        line.unit = unit.record.id;
        if (const auto at = promised.find(unit.record.id); at != promised.end())
            line.build = at->second;
        if (const auto volts = unit.facts.fresh_voltage_v()) {
            line.volts = volts->value;
            line.age_days = days_between(volts->taken_at, now);
        }
        const Chemistry* chemistry = inventory.chemistry_of(unit);
        if (chemistry == nullptr)
            continue;
        if (line.volts && chemistry->voltage_tells_charge && !chemistry->ocv.empty())
            line.charge = chemistry->ocv.soc_at(*line.volts / std::max(1, unit.reference.cells_in_series));
        // What is on its way out of the shop is not cared for.
        if (unit.verdict.duty <= Duty::undecided && !unit.quarantined)
            ask_care(line, *chemistry, now);
    }
    return out;
}

bool due(const StockLine& line, const std::string& now) {
    const auto left = days_between(now, line.due_at);
    return line.care != Care::none && left && *left <= 0;
}

StockCount count_of(const std::vector<StockLine>& stock, const std::string& now) {
    StockCount out;
    for (const StockLine& line : stock) {
        ++out.units;
        out.reserved += line.build != 0 ? 1 : 0;
        out.due += due(line, now) ? 1 : 0;
    }
    return out;
}

} // namespace ingot
