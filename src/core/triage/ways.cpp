#include "core/triage/ways.h"

#include "core/measure/statistics.h"
#include "core/triage/groups.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ingot {

namespace {

constexpr double join_window_v = 0.05;     // per cell: may be joined directly (common practice, no source)
constexpr double capacity_window = 0.05;   // a donor's capacity against its siblings'
constexpr double daring_floor_share = 0.5; // of the deep-discharge limit: under this nobody recovers
constexpr double probably_healthy = 0.5;

// The latest voltage at rest (or stored) of each group.
std::vector<std::optional<double>> latest_rest(const TriageCase& pack) {
    std::vector<std::optional<double>> out(static_cast<std::size_t>(pack.layout.series));
    for (const GroupReading& r : pack.readings)
        if (r.condition == Condition::rest || r.condition == Condition::stored)
            out[static_cast<std::size_t>(r.group - 1)] = r.voltage_v;
    return out;
}

// Middle of the groups that are not named.
std::optional<double> middle_of_others(const std::vector<std::optional<double>>& volts, const std::vector<int>& named) {
    std::vector<double> others;
    for (std::size_t g = 0; g < volts.size(); ++g)
        if (volts[g] && std::find(named.begin(), named.end(), static_cast<int>(g) + 1) == named.end())
            others.push_back(*volts[g]);
    if (others.empty())
        return std::nullopt;
    return median(std::move(others));
}

class Collector {
public:
    Collector(const TriageCase& pack, const Chemistry& chemistry, const WaysOptions& options)
        : pack_(pack), chemistry_(chemistry), options_(options), rest_(latest_rest(pack)) {}

    void add(const Explanation& e) {
        switch (e.fault) {
        case Fault::healthy:
            put(WayForward::none, e);
            break;
        case Fault::dead_group:
        case Fault::reversed_unit:
            if (read_by_itself(e))
                swap(e);
            replace(e);
            recover(e);
            break;
        case Fault::leaking_cell:
            swap(e);
            replace(e).leak_share_per_day = e.amount;
            top_up(e);
            break;
        case Fault::weak_group:
            swap(e);
            replace(e);
            break;
        case Fault::imbalance:
            rebalance(e);
            break;
        case Fault::latched_board:
            put(WayForward::replace_board, e);
            break;
        case Fault::sense_fault:
            put(WayForward::check_lead, e);
            break;
        case Fault::high_resistance_joint: {
            Way& joint = put(WayForward::remake_joint, e);
            if (e.current_a)
                joint.joint_ohm = e.amount;
            break;
        }
        case Fault::disconnected_cell:
            put(WayForward::remake_joint, e);
            swap(e);
            break;
        case Fault::all_discharged: // nothing to compare with: neither leads nor a donor's window (N11)
            put(WayForward::check_meter, e);
            put(WayForward::break_for_units, e);
            break;
        case Fault::elsewhere:
            put(WayForward::none, e);
            break;
        }
    }

    std::vector<Way> take() {
        if (std::any_of(ways_.begin(), ways_.end(),
                        [&](const Way& w) { return w.probability >= options_.least_together; }))
            std::erase_if(ways_, [&](const Way& w) { return w.probability < options_.least_together; });
        std::stable_sort(ways_.begin(), ways_.end(), [](const Way& a, const Way& b) {
            return a.advised != b.advised ? a.advised : a.probability > b.probability;
        });
        return std::move(ways_);
    }

private:
    Way& put(WayForward way, const Explanation& e, bool advised = true) {
        for (Way& known : ways_)
            if (known.way == way && known.groups == e.groups) {
                known.probability += e.probability;
                return known;
            }
        Way made;
        made.way = way;
        made.groups = e.groups;
        made.advised = advised;
        made.because = e.fault;
        made.probability = e.probability;
        ways_.push_back(std::move(made));
        return ways_.back();
    }

    // Of a block the units stand in series: each is read without parting anything, and one of them is to blame.
    [[nodiscard]] bool read_by_itself(const Explanation& e) const {
        return pack_.layout.units_per_tap > 1 &&
               std::any_of(pack_.units.begin(), pack_.units.end(), [&](const UnitVoltage& unit) {
                   return std::find(e.groups.begin(), e.groups.end(), unit.group) != e.groups.end();
               });
    }
    // One unit of the group rather than the group (N17).
    void swap(const Explanation& e) {
        if (pack_.layout.units_per_group() < 2)
            return;
        Way& way = put(WayForward::swap_unit, e);
        if (!way.odd_units.empty())
            return;
        constexpr double apart_v = 0.02; // per cell; links cut, rested (common practice, no source)
        for (const int g : e.groups) {
            std::vector<double> volts;
            for (const UnitVoltage& unit : pack_.units)
                if (unit.group == g)
                    volts.push_back(unit.voltage_v);
            if (volts.size() < 2)
                continue;
            const double middle = volts.size() > 2 ? median(volts) : *std::max_element(volts.begin(), volts.end());
            for (const UnitVoltage& unit : pack_.units)
                if (unit.group == g && std::fabs(unit.voltage_v - middle) > apart_v * pack_.layout.cells_per_unit)
                    way.odd_units.push_back(unit.unit);
        }
    }

    // A school lives with a small leak.
    void top_up(const Explanation& e) {
        constexpr double lost_share = 0.1;
        constexpr double seldom_enough_days = 7;
        if (e.amount.value_or(0) <= 0)
            return;
        const double days = lost_share / *e.amount;
        if (days >= seldom_enough_days)
            put(WayForward::top_up, e, false).top_up_days = days;
    }

    Way& replace(const Explanation& e) {
        // A pack of one group has nothing to be joined to: no window, no donor, nothing left over.
        if (pack_.layout.series == 1)
            return put(WayForward::refill, e);
        DonorWindow window;
        const double cells = pack_.layout.cells_per_tap();
        const double middle = middle_of_others(rest_, e.groups).value_or(chemistry_.nominal_v() * cells);
        window.from_v = middle - join_window_v * cells;
        window.to_v = middle + join_window_v * cells;
        if (pack_.capacity_ah) {
            window.from_ah = *pack_.capacity_ah * (1 - capacity_window);
            window.to_ah = *pack_.capacity_ah * (1 + capacity_window);
        }
        put(WayForward::donor, e).donor = window;
        // More than half of the groups gone: what is left is worth more as units.
        if (2 * static_cast<int>(e.groups.size()) > pack_.layout.series)
            put(WayForward::break_for_units, e);
        Way& refill = put(WayForward::refill, e);
        refill.donor = window;
        return refill;
    }

    void recover(const Explanation& e) {
        const auto recovery = recovery_of(chemistry_);
        if (!recovery || e.fault == Fault::reversed_unit)
            return;
        const double cells = pack_.layout.cells_per_tap();
        for (const int g : e.groups) {
            const auto& v = rest_[static_cast<std::size_t>(g - 1)];
            // Under half of the limit, and over the floor, there is nothing to recover.
            if (!v || *v < daring_floor_share * chemistry_.bands.deep_below_v * cells ||
                *v > chemistry_.floor_v * cells)
                return;
        }
        Way& way = put(WayForward::recover_slowly, e, options_.recover_slowly);
        way.recovery = recovery;
        if (pack_.capacity_ah)
            way.recovery_a = recovery->current_it * *pack_.capacity_ah;
    }

    void rebalance(const Explanation& e) {
        Way& way = put(WayForward::rebalance, e);
        if (!e.amount || !pack_.capacity_ah || e.groups.empty())
            return;
        const double apart = std::fabs(*e.amount) * *pack_.capacity_ah;
        const auto others = static_cast<double>(pack_.layout.series) - static_cast<double>(e.groups.size());
        const double volts = rest_[static_cast<std::size_t>(e.groups.front() - 1)].value_or(
            chemistry_.nominal_v() * pack_.layout.cells_per_tap());
        const bool high = *e.amount > 0;
        way.bleed_ah = high ? apart : apart * others;
        if (volts > 0 && options_.bleed_ohm)
            way.bleed_hours = bleed_hours(apart, volts, *options_.bleed_ohm); // each through its own resistor
        way.lift_ah = high ? apart * others : apart;
        for (const int g : e.groups)
            way.balance.push_back(balance_of(g, e));
    }

    // By its own voltage where that tells the charge, else what the explanation says of all of them.
    [[nodiscard]] GroupBalance balance_of(int group, const Explanation& e) const {
        const double cells = pack_.layout.cells_per_tap();
        const auto& rest = rest_[static_cast<std::size_t>(group - 1)];
        const auto others = middle_of_others(rest_, e.groups);
        GroupBalance out{group, *e.amount * *pack_.capacity_ah, {}};
        constexpr double tells_v = 0.3; // per unit of state of charge: a flat curve tells nothing
        if (rest && others && !chemistry_.ocv.empty()) {
            const double here = *rest / cells;
            const double there = *others / cells;
            const double apart = chemistry_.ocv.soc_at(here) - chemistry_.ocv.soc_at(there);
            if (chemistry_.ocv.slope_at(here) > tells_v && chemistry_.ocv.slope_at(there) > tells_v &&
                apart * *e.amount > 0)
                out.charge_ah = apart * *pack_.capacity_ah;
        }
        const double volts = rest.value_or(chemistry_.nominal_v() * cells);
        if (out.charge_ah > 0 && options_.bleed_ohm && volts > 0)
            out.hours = bleed_hours(out.charge_ah, volts, *options_.bleed_ohm);
        else if (out.charge_ah < 0 && options_.lift_a)
            out.hours = -out.charge_ah / *options_.lift_a;
        return out;
    }

    const TriageCase& pack_;
    const Chemistry& chemistry_;
    const WaysOptions& options_;
    std::vector<std::optional<double>> rest_;
    std::vector<Way> ways_;
};

} // namespace

std::optional<Recovery> recovery_of(const Chemistry& chemistry) {
    Recovery recovery;
    recovery.to_v = chemistry.test_cutoff_v;
    if (!chemistry.lithium) {
        constexpr double nickel_minutes = 30;
        constexpr double nickel_rest_days = 14;
        if (chemistry.nominal_v() > 1.5) // lead: another matter
            return std::nullopt;
        recovery.within_minutes = nickel_minutes;
        recovery.hours_watched = nickel_minutes / 60;
        recovery.hold_days = nickel_rest_days;
    }
    return recovery;
}

double bleed_hours(double charge_ah, double volts, double ohm) {
    return charge_ah * ohm / volts;
}

std::vector<Way> ways_forward(const TriageCase& pack, const Explained& explained, const Chemistry& chemistry,
                              const WaysOptions& options) {
    Collector collector(pack, chemistry, options);
    for (const Explanation& e : explained.explanations) {
        if (e.probability < options.least_probability && &e != &explained.explanations.front())
            break;
        collector.add(e);
        for (const auto& [fault, groups] : e.with) {
            Explanation beside;
            beside.fault = fault;
            beside.groups = groups;
            beside.probability = e.probability;
            collector.add(beside);
        }
        if (e.fault == Fault::healthy && e.probability >= probably_healthy && &e == &explained.explanations.front())
            break;
    }
    return collector.take();
}

} // namespace ingot
