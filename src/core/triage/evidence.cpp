// What is known beside the groups' voltages: terminals, single units, temperatures, capacities, symptoms, swapped
// leads.
#include "core/measure/statistics.h"
#include "core/triage/densities.h"
#include "core/triage/groups.h"
#include "core/triage/posterior.h"

#include <algorithm>
#include <cmath>

namespace ingot::triage_detail {

double Posterior::terminal_log(const std::vector<Part>& parts) const {
    if (!terminal_shift_)
        return 0;
    const double sum = std::max(terminal_sum_, 1.0);
    const double terminal = std::fabs(*pack_.terminal_v);
    const double meets = log_mix(0.004, log_normal(*terminal_shift_, terminal_sd_), -std::log(1.3 * sum));
    // A board that has opened: next to nothing at the terminals, or some leakage through it.
    const double near_nothing = std::min(2.0, 0.5 * sum);
    const double open = terminal > 0.97 * sum
                            ? -25.0
                            : std::log(0.6 * (terminal <= near_nothing ? 1 / near_nothing : 0) + 0.4 / (0.97 * sum));
    bool low = false;
    for (const Part& part : parts) {
        if (part.fault == Fault::latched_board)
            return open;
        if (part.fault == Fault::sense_fault && part.groups.size() == 1)
            return 0; // taken into account with its readings
        for (const int g : part.groups)
            for (const Round& round : rounds_)
                if (const auto& v = round.volts[static_cast<std::size_t>(g)])
                    low |= *v < chemistry_.test_cutoff_v * pack_.layout.cells_per_unit;
    }
    return low ? log_mix(0.35, meets, open) : meets; // a board opens for good reason, too
}

double Posterior::units_log(const Part* part, int group) const {
    std::vector<double> volts;
    for (const UnitVoltage& unit : pack_.units)
        if (unit.group - 1 == group)
            volts.push_back(unit.voltage_v);
    if (volts.empty())
        return 0;
    constexpr double smallest = 0.008, largest = 5.0, sound_sd = 0.006;
    const double cells = pack_.layout.cells_per_unit;
    std::optional<double> group_v;
    for (const Round& round : rounds_)
        if (round.condition == Condition::rest || round.condition == Condition::stored)
            if (const auto& v = round.volts[static_cast<std::size_t>(group)])
                group_v = v;
    const double middle = volts.size() >= 3 || !group_v ? median(volts) : *group_v;
    const auto odd = std::max_element(
        volts.begin(), volts.end(), [&](double a, double b) { return std::fabs(a - middle) < std::fabs(b - middle); });
    const auto sound = [&](double v) {
        return log_mix(0.005, log_normal(v - middle, sound_sd * cells), -std::log(2 * largest * cells));
    };
    double all_sound = 0;
    for (const double v : volts)
        all_sound += sound(v);
    const double others = all_sound - sound(*odd);
    const double away = *odd - middle;
    const double odd_low = others + (away < 0 ? log_any_size(-away, smallest, largest * cells) : -20);
    const double odd_either = others + log_any_size(std::fabs(away), smallest, largest * cells) - std::log(2.0);
    if (part == nullptr)
        return all_sound;
    switch (part->fault) {
    case Fault::leaking_cell:
        return log_mix(0.9, all_sound, odd_low);
    case Fault::disconnected_cell:
        return log_mix(0.95, all_sound, odd_either);
    case Fault::weak_group:
        return log_mix(0.25, all_sound, odd_low);
    case Fault::dead_group:
    case Fault::reversed_unit: {
        const double low = part->fault == Fault::reversed_unit ? -chemistry_.full_v * cells : 0.0;
        const double high = chemistry_.bands.low_below_v * cells;
        double sum = 0;
        for (const double v : volts)
            sum += log_mix(0.5, sound(v), v >= low - 0.05 && v < high ? -std::log(high - low) : -25.0);
        return sum;
    }
    default:
        return all_sound;
    }
}

double Posterior::temperature_log(const Part* part, int group) const {
    double sum = 0;
    for (const GroupTemperature& t : pack_.temperatures) {
        if (t.group - 1 != group)
            continue;
        std::vector<double> others;
        for (const GroupTemperature& o : pack_.temperatures)
            if (o.group != t.group && o.under_load == t.under_load)
                others.push_back(o.temperature_c);
        if (others.empty())
            continue;
        const double away = t.temperature_c - median(std::move(others));
        const double sound = log_mix(0.01, log_normal(away, 1.2), std::log(1.0 / 60));
        const auto warmer = [&](double mean) { return away < 0 ? sound - 5 : -away / mean - std::log(mean); };
        const Fault fault = part == nullptr ? Fault::healthy : part->fault;
        if (fault == Fault::high_resistance_joint && t.under_load)
            sum += log_mix(0.8, sound, warmer(6));
        else if ((fault == Fault::weak_group || fault == Fault::disconnected_cell) && t.under_load)
            sum += log_mix(0.5, sound, warmer(4));
        else if (fault == Fault::leaking_cell || fault == Fault::dead_group)
            sum += log_mix(0.3, sound, warmer(3));
        else
            sum += sound;
    }
    return sum;
}

// A full discharge of the group alone, against those of its siblings.
double Posterior::capacity_log(const Part* part, int group) const {
    double sum = 0;
    for (const GroupCapacity& c : pack_.capacities) {
        if (c.group - 1 != group)
            continue;
        std::vector<double> others;
        for (const GroupCapacity& o : pack_.capacities)
            if (o.group != c.group)
                others.push_back(o.capacity_ah);
        if (others.empty())
            continue;
        constexpr double meter = 0.01, strange = 0.01, most = 2.0;
        const double share = c.capacity_ah / median(std::move(others));
        const double sd = std::hypot(knowledge_.usual_capacity * looseness_.charge, meter);
        const auto about = [&](double middle) {
            return log_mix(strange, log_normal(share - middle, sd), -std::log(most));
        };
        const auto under = [&](double high) { return share >= 0 && share < high ? -std::log(high) : about(high); };
        switch (part == nullptr ? Fault::healthy : part->fault) {
        case Fault::weak_group:
            sum += under(0.93);
            break;
        case Fault::dead_group:
        case Fault::reversed_unit:
            sum += under(1.0);
            break;
        case Fault::disconnected_cell:
            sum += about(1 - 1.0 / pack_.layout.parallel);
            break;
        default: // out of balance or leaking, it still holds what its siblings hold
            sum += about(1);
        }
    }
    return sum;
}

double Posterior::evidence_log(const std::vector<Part>& parts) const {
    double sum = terminal_log(parts);
    if (!pack_.units.empty() || !pack_.temperatures.empty() || !pack_.capacities.empty())
        for (int g = 0; g < pack_.layout.series; ++g) {
            const auto part = std::find_if(parts.begin(), parts.end(), [&](const Part& p) { return touches(p, g); });
            const Part* here = part == parts.end() ? nullptr : &*part;
            sum += units_log(here, g) + temperature_log(here, g) + capacity_log(here, g);
        }
    for (const std::string& id : pack_.symptoms)
        if (const Symptom* symptom = knowledge_.symptom(id)) {
            double best = parts.empty() ? symptom->likelihood[0] : 0;
            for (const Part& part : parts)
                best = std::max(best, symptom->likelihood[static_cast<std::size_t>(part.fault)]);
            sum += std::log(std::max(best, 0.01));
        }
    for (const LeadSwap& swap : pack_.swaps) {
        const bool measuring = std::any_of(parts.begin(), parts.end(), [&](const Part& p) {
            return p.fault == Fault::sense_fault && touches(p, swap.group - 1);
        });
        sum += std::log(swap.moved == measuring ? 0.96 : 0.04);
    }
    return sum;
}

} // namespace ingot::triage_detail
