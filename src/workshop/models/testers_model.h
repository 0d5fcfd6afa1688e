// The testers of the shop, one a row, with what is the matter with each.
#pragma once

#include "workshop/bays.h"
#include "workshop/models/record_model.h"

namespace ingot {

class TestersModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { name, numbers, state, speaks, where };
    TestersModel(Bays& of, QObject* parent);
    [[nodiscard]] const TesterView* tester(Id row) const;              // null: no such row
    [[nodiscard]] Id row_of_address(const std::string& address) const; // 0: none

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;
    [[nodiscard]] QString tip(Id id) const override;

private:
    void read();
    Bays& bays_;
    std::vector<TesterView> testers_;
};

} // namespace ingot
