// What is known of a pack, put together from its measurements, its placements and what was noted: only what was read of
// the contents that stand in it now. A group that came out reads nothing; one that came in from another pack brings its
// own history along; nothing is invented.
#pragma once

#include "core/assembly/assembly.h"
#include "core/measure/measurement.h"
#include "core/shop/shop_records.h"
#include "core/triage/explain.h"

#include <functional>
#include <map>
#include <span>
#include <vector>

namespace ingot {

struct PackCase {
    TriageCase known;
    std::map<Condition, std::map<int, double>> newest; // V by group, 0: terminals
    std::map<int, double> capacity_ah;                 // of groups, what a full discharge gave
    std::vector<int> taken_out;                        // groups whose place is empty, rising
    std::string rested_at;                             // when the newest reading at rest was taken; empty: none
};

// What stands in each place, and the measurements of any assembly, oldest first.
using PlacementsOf = std::function<std::span<const Placement>(Id assembly)>;
using MeasurementsOf = std::function<std::span<const Measurement>(Id assembly)>;

[[nodiscard]] PackCase pack_case(const Assembly& pack, const PlacementsOf& placements,
                                 const MeasurementsOf& measurements, std::span<const PackNote> notes);

// The placement of a whole group's content that stands there now; nothing where its place is empty.
[[nodiscard]] const Placement* standing_group(std::span<const Placement> placements, int group);

} // namespace ingot
