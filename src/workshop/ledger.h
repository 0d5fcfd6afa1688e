// The ledger: how much there is of everything, and what was done to one thing, in order.
#pragma once

#include "workshop/service.h"

namespace ingot {

struct LedgerCounts {
    std::int64_t lots = 0, packs = 0, units = 0, measurements = 0, runs = 0, builds = 0;
};

class LedgerService : public Service {
public:
    using Service::Service;

    [[nodiscard]] LedgerCounts counts() const {
        return {static_cast<std::int64_t>(inventory_.lots().size()),
                static_cast<std::int64_t>(inventory_.packs().size()),
                static_cast<std::int64_t>(inventory_.units().size()),
                session_.measurements.count(),
                session_.runs.count(),
                static_cast<std::int64_t>(inventory_.builds().size())};
    }
    // A pack's, a unit's or a build's label.
    [[nodiscard]] std::vector<Event> events_of(const std::string& label) const {
        return session_.remarks.events_of(label);
    }
};

} // namespace ingot
