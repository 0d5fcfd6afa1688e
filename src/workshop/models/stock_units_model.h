// The stock as a list: a row is a unit.
#pragma once

#include "workshop/models/record_model.h"
#include "workshop/stock.h"

#include <unordered_map>

namespace ingot {

class StockUnitsModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { code, model, duty, home, promised, rest_voltage, read, charge, care, due_on };
    StockUnitsModel(const Workshop& workshop, QObject* parent);
    // Reads the workshop anew.
    void read_again();
    [[nodiscard]] const StockLine* line(Id unit) const; // null: not in stock
    [[nodiscard]] const std::vector<StockLine>& lines() const { return lines_; }
    [[nodiscard]] const std::string& read_at() const { return now_; }

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    const Workshop& workshop_;
    std::vector<StockLine> lines_;
    std::unordered_map<Id, std::size_t> line_of_;
    std::string now_;
};

} // namespace ingot
