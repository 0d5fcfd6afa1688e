#include "workshop/round_start.h"

#include "workshop/workshop.h"

#include <algorithm>

namespace ingot {

int first_to_read(const Workshop& workshop, Id pack, Condition condition) {
    const Assembly* record = workshop.pack(pack);
    if (record == nullptr)
        return 1;
    std::string read_at;
    for (const Measurement& m : workshop.triage().last_round(pack, condition))
        read_at = std::max(read_at, m.taken_at);
    for (const Placement& placement : workshop.inventory().placements(pack))
        if (placement.stands() && (placement.unit != 0 || placement.content_assembly != pack) &&
            placement.since > read_at)
            return 1;
    const auto& read = workshop.triage().group_readings(pack, condition);
    for (int g = 1; g <= record->layout.series; ++g)
        if (!read.contains(g))
            return g;
    return 1;
}

} // namespace ingot
