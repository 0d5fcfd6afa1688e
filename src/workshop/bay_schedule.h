// The plan of the bays in the shop's terms: what waits, what runs, who is there when; moments as wall-clock times. The
// channels of chargers that a person operates are bays too, after those of the testers.
#pragma once

#include "core/plan/bay_plan.h"
#include "workshop/bays.h"
#include "workshop/hand_bays.h"

#include <QDateTime>

#include <functional>
#include <set>

namespace ingot {

struct BenchHours {
    AttendedHours attended; // begin_hour and begin_day are set when a plan is made
    std::optional<double> supply_a;
};

class BaySchedule {
public:
    BaySchedule(Workshop& workshop, const Bays& bays) : workshop_(workshop), bays_(bays), hand_(workshop) {}

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
    // The person insists: this unit on this bay of the plan (from 0) at this time (empty: no longer).
    Result<bool> insist(Id unit, const QDateTime& at, int bay);
    Result<bool> set_due(Id unit, const QDateTime& due);

    // --- The plan ---
    struct Planned {
        QDateTime begin;
        PlanProblem problem;
        BayPlan plan;
        std::vector<Id> units;                             // by job
        std::vector<std::string> protocols;                // by job
        int tester_bays = 0;                               // the first of the bays; the others are channels:
        std::vector<std::pair<std::string, int>> channels; // charger, channel
        [[nodiscard]] QString place(int bay) const;        // "bay 3", "Four-way, channel 2"
        [[nodiscard]] QString short_place(int bay) const;  // "3", "Four-way 2"
    };
    // From `now` on, as values: may be solved elsewhere.
    [[nodiscard]] Planned problem(const QDateTime& now, const std::optional<Planned>& before) const;
    [[nodiscard]] static QDateTime at(const Planned& planned, double hour);
    // The next moment at which somebody has to be there, from `now` on.
    [[nodiscard]] static std::optional<QDateTime> next_visit(const Planned& planned, const QDateTime& now);
    // The visits as iCalendar.
    [[nodiscard]] static std::string calendar(const Planned& planned, const QDateTime& stamp);

private:
    [[nodiscard]] std::set<Id> standing() const; // units on any bay or channel
    [[nodiscard]] bool fits_anywhere(Id unit, const Protocol& protocol) const;
    [[nodiscard]] std::vector<bool> fits(Id unit, const Protocol& protocol, const Planned& planned) const;
    void add_running(Planned& out, const std::vector<HandBay>& by_hand,
                     const std::function<void(PlanJob, Id, const std::string&)>& add) const;
    Workshop& workshop_;
    const Bays& bays_;
    HandBays hand_;
};

} // namespace ingot
