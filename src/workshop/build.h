// Build: what to take from which tray, and whether it may be joined.
#pragma once

#include "core/build/joining.h"
#include "workshop/service.h"

namespace ingot {

// One line of a build sheet.
struct BuildLine {
    int group = 0, place = 0;
    Id unit = 0;
    std::string code, model, tray;
    int well = 0;
    std::optional<Fact> capacity_ah, resistance_ohm, leak_ah_per_day, voltage_v;
    bool taken = false;
};
struct BuildSheet {
    Assembly build;
    std::vector<BuildLine> lines;
    std::vector<JoinCheck> joining; // per group, in order
    JoinCheck worst;                // the group with the largest difference
    std::vector<double> group_capacity_ah;
    int taken = 0;
};

class BuildService : public Service {
public:
    using Service::Service;

    [[nodiscard]] BuildSheet sheet(Id build) const;
    // The unit that was scanned while taking units for a build; a wrong one is refused with the reason.
    Result<BuildLine> take(Id build, Id unit);
    Result<bool> put_back(Id build, Id unit);
    // Its units go back to stock.
    Result<bool> give_up(Id build);
    [[nodiscard]] static std::string sheet_csv(const BuildSheet& sheet);

private:
    [[nodiscard]] const Placement* placement_of(Id build, Id unit) const;
};

} // namespace ingot
