// Rest: units that lie on the shelf, what their voltages say of leaks, and when each is to be read again.
#pragma once

#include "core/measure/self_discharge.h"
#include "workshop/service.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// Siblings of one model that stand at about the same voltage, with what their leaks are held against.
struct RestingSet {
    std::string model;
    Chemistry chemistry;
    LeakRules rules;
    bool told_by_voltage = true; // false: the curve is too flat there; charge, rest for weeks and discharge instead
    std::vector<Id> units;
    std::vector<RestingUnit> readings; // hours from the shelf's first reading
};
// By value, so that it can be judged beside the window.
struct RestQuestion {
    std::string first_at; // hour 0
    std::vector<RestingSet> sets;
};

struct RestingLine {
    Id unit = 0;
    std::size_t set = 0; // in the question
    std::size_t readings = 0;
    std::string last_at;
    std::string due_at; // when the next reading is expected to decide; empty: decided, or not told by voltage
    double limit_v_per_day = 0;
    bool told_by_voltage = true;
    LeakResult leak;
};
struct RestShelf {
    std::string first_at;
    std::vector<RestingLine> lines; // what leaks first, then by when each is to be read
};

class RestService : public Service {
public:
    using Service::Service;

    // Every unit in stock that was read at rest since charge was last moved through it. The limit is what the rule set
    // lets a Store unit lose in a month, at the slope of the curve where the unit stands.
    [[nodiscard]] RestQuestion question() const;
    [[nodiscard]] static RestShelf judge(const RestQuestion& question);
    // The self-discharge of every unit that is decided, as a measurement; its rate is kept where it differs from what
    // stands. How many were kept.
    Result<int> keep(const RestShelf& shelf);
};

} // namespace ingot
