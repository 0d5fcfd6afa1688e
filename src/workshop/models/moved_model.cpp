#include "workshop/models/moved_model.h"

#include "workshop/figures.h"
#include "workshop/wording.h"

namespace ingot {

MovedModel::MovedModel(const Workshop& workshop, QObject* parent)
    : RecordModel({{QStringLiteral("code"), tr("unit")},
                   {QStringLiteral("model"), tr("model")},
                   {QStringLiteral("now"), tr("now")},
                   {QStringLiteral("then"), tr("by the other")},
                   {QStringLiteral("capacity"), tr("capacity"), true},
                   {QStringLiteral("dc_resistance"), tr("DC resistance"), true},
                   {QStringLiteral("leak"), tr("leak"), true}},
                  parent),
      workshop_(workshop) {}

void MovedModel::show(std::vector<SortService::Moved> moved) {
    moved_ = std::move(moved);
    row_of_unit_.clear();
    std::vector<Id> rows;
    rows.reserve(moved_.size());
    for (std::size_t i = 0; i < moved_.size(); ++i) {
        rows.push_back(moved_[i].unit);
        row_of_unit_[moved_[i].unit] = i;
    }
    show_rows(std::move(rows));
    touch_all();
}

RecordField MovedModel::field(Id id, int column) const {
    const UnitState* unit = workshop_.unit(id);
    const auto at = row_of_unit_.find(id);
    if (unit == nullptr || at == row_of_unit_.end())
        return {};
    const SortService::Moved& moved = moved_[at->second];
    const auto figure = [](const std::optional<Fact>& fact, QString (*shown)(double)) {
        return fact ? RecordField{shown(*fact), fact->value} : RecordField{};
    };
    switch (column) {
    case code:
        return {QString::fromStdString(unit->code()), {}};
    case model:
        return {QString::fromStdString(unit->record.model), {}};
    case now:
        return {wording::duty(moved.now), static_cast<int>(moved.now)};
    case then:
        return {wording::duty(moved.then), static_cast<int>(moved.then)};
    case capacity:
        return figure(unit->facts.capacity_ah, figures::unit_capacity);
    case dc_resistance:
        return figure(unit->facts.dc_resistance_ohm, figures::milliohms);
    case leak:
        return figure(unit->facts.self_discharge_ah_per_day, figures::leak);
    default:
        return {};
    }
}

} // namespace ingot
