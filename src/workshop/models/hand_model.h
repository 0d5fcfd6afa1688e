// The channels of the chargers that only a person operates. A row is a channel, free or taken.
#pragma once

#include "workshop/hand_bays.h"
#include "workshop/models/record_model.h"

namespace ingot {

class HandModel : public RecordModel {
    Q_OBJECT
public:
    enum Column { charger, channel, on_it, protocol, begun, due, cycles, verdict };
    HandModel(Workshop& workshop, QObject* parent);
    // Reads again: also when only the time has gone on.
    void read();
    [[nodiscard]] const HandBay* bay(Id row) const; // null: no such row
    [[nodiscard]] Id row_of_unit(Id unit) const;    // 0: on no channel
    [[nodiscard]] Id row_of_run(Id run) const;      // 0: on none any more
    [[nodiscard]] Id first_free() const;            // 0: none

protected:
    [[nodiscard]] RecordField field(Id id, int column) const override;

private:
    HandBays hand_;
    std::vector<HandBay> bays_;
};

} // namespace ingot
