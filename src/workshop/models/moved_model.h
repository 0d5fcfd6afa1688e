// Units whose duty another rule set would change. A row is a unit.
#pragma once

#include "workshop/models/record_model.h"
#include "workshop/workshop.h"

#include <unordered_map>

namespace ingot {

class MovedModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { code, model, now, then, capacity, dc_resistance, leak };
    MovedModel(const Workshop& workshop, QObject* parent);
    void show(std::vector<SortService::Moved> moved);
    [[nodiscard]] const std::vector<SortService::Moved>& moved() const { return moved_; }

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    const Workshop& workshop_;
    std::vector<SortService::Moved> moved_;
    std::unordered_map<Id, std::size_t> row_of_unit_;
};

} // namespace ingot
