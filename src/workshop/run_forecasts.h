// What a discharge that runs on a bay is expected to give, and what the unit would then be sorted to: from siblings
// that ran the same protocol to its end. Worked out anew as the discharge goes on, not with every sample; their logs
// are unpacked one with each question, so that nobody waits for all of them.
#pragma once

#include "core/measure/forecast.h"
#include "workshop/bays.h"

#include <map>
#include <optional>
#include <vector>

namespace ingot {

struct RunForecast {
    CapacityForecast capacity;
    Duty duty{};       // were that its capacity
    Evidence evidence; // of the capacity, marked as a forecast
};

class RunForecasts {
public:
    explicit RunForecasts(const Workshop& workshop) : workshop_(workshop) {}
    // Nothing where no discharge runs, the unit was not filled in this run before it, or it cannot be told yet.
    [[nodiscard]] std::optional<RunForecast> of(const BayView& bay);

private:
    struct Kept {
        std::vector<Id> to_unpack; // runs of siblings
        std::vector<DischargeCurve> siblings;
        double moved_ah = -1; // when it was worked out last; less: another discharge began
        std::optional<RunForecast> forecast;
    };
    const Workshop& workshop_;
    std::map<Id, Kept> kept_; // by run
};

} // namespace ingot
