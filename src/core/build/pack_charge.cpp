#include "core/build/pack_charge.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double charge_step_s = 5;
constexpr double seconds_an_hour = 3600;
constexpr double longest_h = 100;
constexpr double apart_share = 0.03; // as in the field
constexpr double month_of_days = 30;
constexpr int months = 24;

// The curve goes on at its last slope: a group that was joined a little high passes full.
double ocv_beyond(const OcvCurve& ocv, double soc) {
    if (soc <= 1)
        return ocv.ocv_at(soc);
    const std::size_t n = ocv.soc().size();
    const double slope = (ocv.ocv_v()[n - 1] - ocv.ocv_v()[n - 2]) / (ocv.soc()[n - 1] - ocv.soc()[n - 2]);
    return ocv.ocv_v().back() + (soc - 1) * slope;
}

std::optional<Problem> wrong(const ChargeDesign& design, const Chemistry& chemistry) {
    if (chemistry.ocv.empty() || !chemistry.charge_limit_v)
        return Problem{"", 0, said("The charge of this chemistry does not end at a voltage.")};
    if (design.groups.empty() || !(design.charger_v > 0) || !(design.charger_a > 0) || design.joint_ohm < 0 ||
        !(design.end_share > 0 && design.end_share < 1))
        return Problem{"", 0, said("A charge needs groups, the charger's voltage and its current, all over 0.")};
    for (const ChargeGroup& group : design.groups)
        if (!(group.capacity_ah > 0) || !(group.resistance_ohm > 0) || group.soc < 0 || group.soc > 1 ||
            group.cells < 1)
            return Problem{"", 0, said("Each group has a capacity and a resistance over 0 and a charge from 0 to 1.")};
    return std::nullopt;
}

} // namespace

const char* code(ChargeEnd end) {
    switch (end) {
    case ChargeEnd::full:
        return "full";
    case ChargeEnd::group_full:
        return "group-full";
    case ChargeEnd::never:
        return "never";
    }
    return "";
}

Result<ChargeRun> charge_pack(const ChargeDesign& design, const Chemistry& chemistry) {
    if (const auto problem = wrong(design, chemistry))
        return *problem;
    ChargeRun out;
    std::vector<double> soc;
    double ohm = design.joint_ohm;
    for (const ChargeGroup& group : design.groups) {
        soc.push_back(group.soc);
        ohm += group.resistance_ohm;
    }
    const double stop_v = *chemistry.charge_limit_v + chemistry.charge_tolerance_v;
    const auto volts = [&](std::size_t g, double current) {
        return ocv_beyond(chemistry.ocv, soc[g]) + current * design.groups[g].resistance_ohm / design.groups[g].cells;
    };
    const auto look = [&](double current) {
        out.first_full = 0;
        out.highest_v = -1e9;
        out.lowest_v = 1e9;
        for (std::size_t g = 0; g < soc.size(); ++g) {
            const double v = volts(g, current);
            out.lowest_v = std::min(out.lowest_v, v);
            if (v > out.highest_v) {
                out.highest_v = v;
                out.first_full = g;
            }
        }
    };
    double time_s = 0;
    double current = 0;
    while (time_s < longest_h * seconds_an_hour) {
        double open_v = 0;
        for (std::size_t g = 0; g < soc.size(); ++g)
            open_v += design.groups[g].cells * ocv_beyond(chemistry.ocv, soc[g]);
        current = std::clamp((design.charger_v - open_v) / ohm, 0.0, design.charger_a);
        look(current);
        if (out.highest_v >= stop_v) {
            out.end = ChargeEnd::group_full;
            break;
        }
        if (current <= design.end_share * design.charger_a) {
            out.end = ChargeEnd::full;
            break;
        }
        for (std::size_t g = 0; g < soc.size(); ++g)
            soc[g] += current * charge_step_s / seconds_an_hour / design.groups[g].capacity_ah;
        out.charged_ah += current * charge_step_s / seconds_an_hour;
        time_s += charge_step_s;
    }
    out.hours = time_s / seconds_an_hour;
    out.soc = soc;
    // A board bleeds every group above the lowest at once; the one that holds most beyond it takes longest.
    double lowest = 1e9;
    for (const double s : soc)
        lowest = std::min(lowest, s);
    double most_ah = 0;
    for (std::size_t g = 0; g < soc.size(); ++g) {
        most_ah = std::max(most_ah, (soc[g] - lowest) * design.groups[g].capacity_ah);
        if (soc[g] <= lowest)
            out.unused_ah = std::max(0.0, (1 - soc[g]) * design.groups[g].capacity_ah);
    }
    if (design.balance_a && *design.balance_a > 0)
        out.balance_hours = most_ah / *design.balance_a;
    return out;
}

Result<ShelfStay> leave_on_shelf(const std::vector<ShelfGroup>& groups, const Chemistry& chemistry, double soc,
                                 double standby_a) {
    if (groups.empty() || chemistry.ocv.empty() || soc < 0 || soc > 1 || standby_a < 0)
        return Problem{"", 0,
                       said("A shelf needs groups, a curve, a charge from 0 to 1 and a standby current of 0 or more.")};
    constexpr double hours_a_day = 24;
    std::vector<double> pace; // share a day
    for (const ShelfGroup& group : groups) {
        if (!(group.capacity_ah > 0) || group.leak_ah_per_day < 0)
            return Problem{"", 0, said("Each group has a capacity over 0 and a leak of 0 or more.")};
        pace.push_back((group.leak_ah_per_day + standby_a * hours_a_day) / group.capacity_ah);
    }
    ShelfStay out;
    const auto [slow, fast] = std::minmax_element(pace.begin(), pace.end());
    out.lowest = static_cast<std::size_t>(fast - pace.begin());
    const double empty_soc = chemistry.ocv.soc_at(chemistry.test_cutoff_v);
    constexpr double longest_days = months * month_of_days;
    if (*fast > 0 && (soc - empty_soc) / *fast <= longest_days)
        out.empty_days = std::max(0.0, (soc - empty_soc) / *fast);
    if (*fast > *slow && apart_share / (*fast - *slow) <= longest_days)
        out.balance_days = apart_share / (*fast - *slow);
    for (int month = 0; month <= months; ++month) {
        const double days = month * month_of_days;
        out.points.push_back({days, chemistry.ocv.ocv_at(std::max(0.0, soc - *slow * days)),
                              chemistry.ocv.ocv_at(std::max(0.0, soc - *fast * days))});
        if (out.empty_days && days >= *out.empty_days)
            break;
    }
    return out;
}

} // namespace ingot
