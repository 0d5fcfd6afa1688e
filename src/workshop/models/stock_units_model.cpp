#include "workshop/models/stock_units_model.h"

#include "workshop/figures.h"
#include "workshop/stock_wording.h"
#include "workshop/wording.h"

#include <QDateTime>
#include <QLocale>

namespace ingot {

namespace {

QString stock_day(const std::string& moment) {
    return QLocale().toString(QDateTime::fromString(QString::fromStdString(moment), Qt::ISODate).toLocalTime().date(),
                              QLocale::ShortFormat);
}

} // namespace

StockUnitsModel::StockUnitsModel(const Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("code"), tr("unit")},
                   {QStringLiteral("model"), tr("model")},
                   {QStringLiteral("duty"), tr("duty")},
                   {QStringLiteral("home"), tr("home")},
                   {QStringLiteral("promised"), tr("reserved for")},
                   {QStringLiteral("rest_voltage"), tr("at rest"), true},
                   {QStringLiteral("read"), tr("days ago"), true},
                   {QStringLiteral("charge"), tr("charge"), true},
                   {QStringLiteral("care"), tr("storage asks")},
                   {QStringLiteral("due_on"), tr("by")}},
                  parent),
      workshop_(workshop) {}

void StockUnitsModel::read_again() {
    lines_ = stock_of(workshop_);
    now_ = workshop_.now();
    line_of_.clear();
    std::vector<Id> rows;
    rows.reserve(lines_.size());
    for (std::size_t i = 0; i < lines_.size(); ++i) {
        rows.push_back(lines_[i].unit);
        line_of_[lines_[i].unit] = i;
    }
    show_rows(std::move(rows));
    touch_all();
}

const StockLine* StockUnitsModel::line(Id unit) const {
    const auto at = line_of_.find(unit);
    return at == line_of_.end() ? nullptr : &lines_[at->second];
}

RecordField StockUnitsModel::field(Id id, int column) const {
    const UnitState* unit = workshop_.unit(id);
    const StockLine* at = line(id);
    if (unit == nullptr || at == nullptr)
        return {};
    switch (column) {
    case code:
        return {QString::fromStdString(unit->code()), {}};
    case model:
        return {QString::fromStdString(unit->record.model), {}};
    case duty:
        return {wording::duty(unit->verdict.duty), static_cast<int>(unit->verdict.duty)};
    case home:
        return {unit->record.tray.empty()
                    ? QString()
                    : QStringLiteral("%1 %2").arg(QString::fromStdString(unit->record.tray)).arg(unit->record.well),
                {}};
    case promised: {
        const Assembly* build = workshop_.build_of(at->build);
        return {build == nullptr ? QString() : QString::fromStdString(build->label), {}};
    }
    case rest_voltage:
        return at->volts ? RecordField{figures::volts(*at->volts), *at->volts} : RecordField{};
    case read:
        return at->age_days ? RecordField{figures::plain(*at->age_days, 0), *at->age_days} : RecordField{};
    case charge:
        return at->charge ? RecordField{figures::percent(*at->charge, 0), *at->charge} : RecordField{};
    case care:
        return {wording::care(at->care), static_cast<int>(at->care)};
    case due_on:
        if (at->due_at.empty())
            return {};
        return {due(*at, now_) ? tr("now") : stock_day(at->due_at), QString::fromStdString(at->due_at)};
    default:
        return {};
    }
}

} // namespace ingot
