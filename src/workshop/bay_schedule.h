// The plan of the bays in the shop's terms: what waits, what runs, who is there when; moments as wall-clock times.
#pragma once

#include "core/plan/bay_plan.h"
#include "workshop/bays.h"

#include <QDateTime>

namespace ingot {

struct BenchHours {
    AttendedHours attended; // begin_hour and begin_day are set when a plan is made
    std::optional<double> supply_a;
};

class BaySchedule {
public:
    BaySchedule(Workshop& workshop, const Bays& bays) : workshop_(workshop), bays_(bays) {}

    [[nodiscard]] BenchHours hours() const;
    Result<bool> set_hours(const BenchHours& hours);

    // --- What waits ---
    [[nodiscard]] std::vector<Waiting> queue() const { return workshop_.session_.runs.queue(); }
    // Units that still want a bay, by their pack's label: those without a capacity, and modules, which are cycled
    // again.
    [[nodiscard]] std::map<std::string, std::vector<Id>> may_wait() const;
    // Units that wait for a bay, each with its usual protocol; `row`: they are clamped side by side in this order.
    Result<int> let_wait(const std::vector<Id>& units, const std::string& protocol, const std::string& row);
    Result<bool> leave_queue(Id unit);
    // The person insists: this unit on this bay at this time (empty: no longer).
    Result<bool> insist(Id unit, const QDateTime& at, int bay);
    Result<bool> set_due(Id unit, const QDateTime& due);

    // --- The plan ---
    struct Planned {
        QDateTime begin;
        PlanProblem problem;
        BayPlan plan;
        std::vector<Id> units;              // by job
        std::vector<std::string> protocols; // by job
    };
    // From `now` on, as values: may be solved elsewhere.
    [[nodiscard]] Planned problem(const QDateTime& now, const std::optional<Planned>& before) const;
    [[nodiscard]] static QDateTime at(const Planned& planned, double hour);
    // The next moment at which somebody has to be there, from `now` on.
    [[nodiscard]] static std::optional<QDateTime> next_visit(const Planned& planned, const QDateTime& now);
    // The visits as iCalendar.
    [[nodiscard]] static std::string calendar(const Planned& planned, const QDateTime& stamp);
    [[nodiscard]] int bays_known() const;

private:
    Workshop& workshop_;
    const Bays& bays_;
};

} // namespace ingot
