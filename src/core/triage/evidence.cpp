// What is known beside the groups' voltages: terminals, single units, temperatures, capacities, symptoms, swapped
// leads.
#include "core/measure/statistics.h"
#include "core/triage/densities.h"
#include "core/triage/groups.h"
#include "core/triage/posterior.h"

#include <algorithm>
#include <cmath>

namespace ingot::triage_detail {

namespace {

// How readily each explanation brings about what was seen. Chosen by hand from what a bench would bet, not fitted; the
// calibration over simulated packs of unlike make-up (tests/workshop/explain.cpp) is what holds them. Shares of the
// form "strays" keep one odd figure from ruling an explanation out altogether.
constexpr double cannot_be = -25.0; // as a log: seen only by a slip

constexpr double board_opens_when_low = 0.35;   // a sound board that opened because a group is under the cutoff
constexpr double open_board_shows_little = 0.6; // nearly nothing; else anything, through the board's leakage
constexpr double latched_against_charge = 0.35; // of latched boards that are said to refuse a charge: the output lives
constexpr double latched_and_yet_open = 0.003;  // the same where nobody said so: nothing shows it
constexpr double open_board_below = 0.97;       // of the sum: more than that at the terminals is a closed board

// One unit of a group that stands apart from its neighbours once the group's bars are cut.
constexpr double unit_strays = 0.005;
constexpr double sound_unit_sd_v = 0.006;
constexpr double smallest_away_v = 0.008, largest_away_v = 5.0;
constexpr double leaking_one_stands_out = 0.9;
constexpr double disconnected_one_stands_out = 0.95; // it kept its charge, or lost it, alone
constexpr double weak_one_stands_out = 0.25;         // mostly all of them are worn alike
constexpr double dead_ones_share = 0.5;              // of the units in a dead group

// Warmer than the other groups, K; exponential about these means.
constexpr double temperature_strays = 0.01, sound_temperature_sd_k = 1.2, temperature_range_k = 60;
constexpr double joint_warms = 0.8, joint_warmer_k = 6;     // under load: I squared R in one place
constexpr double worn_warms = 0.5, worn_warmer_k = 4;       // under load: more loss in fewer or older units
constexpr double leaking_warms = 0.3, leaking_warmer_k = 3; // at rest, if the leak is strong
constexpr double weak_below_share = 0.93;                   // of the siblings' capacity: what is called weak
constexpr double swap_tells = 0.96;                         // a lead swap done and read as it should be
constexpr double symptom_least = 0.01;                      // people say what they say

} // namespace

double Posterior::terminal_log(const std::vector<Part>& parts) const {
    if (!terminal_shift_)
        return 0;
    const double sum = std::max(terminal_sum_, 1.0);
    const double terminal = std::fabs(*pack_.terminal_v);
    const double meets = log_mix(terminals_stray, log_normal(*terminal_shift_, terminal_sd_), -std::log(1.3 * sum));
    // A board that has opened: next to nothing at the terminals, or some leakage through it.
    const double near_nothing = std::min(2.0, 0.5 * sum);
    const double open = terminal > open_board_below * sum
                            ? cannot_be
                            : std::log(open_board_shows_little * (terminal <= near_nothing ? 1 / near_nothing : 0) +
                                       (1 - open_board_shows_little) / (open_board_below * sum));
    bool low = false;
    for (const Part& part : parts) {
        if (part.fault == Fault::latched_board) // it lets nothing out, or nothing in
            return log_mix(refuses_charge() ? latched_against_charge : latched_and_yet_open, open, meets);
        if (part.fault == Fault::sense_fault && part.groups.size() == 1)
            return 0; // taken into account with its readings
        for (const int g : part.groups)
            for (const Round& round : rounds_)
                if (const auto& v = round.volts[static_cast<std::size_t>(g)])
                    low |= *v < chemistry_.test_cutoff_v * pack_.layout.cells_per_tap();
    }
    return low ? log_mix(board_opens_when_low, meets, open) : meets; // a board opens for good reason, too
}

double Posterior::units_log(const Part* part, int group) const {
    std::vector<double> volts;
    for (const UnitVoltage& unit : pack_.units)
        if (unit.group - 1 == group)
            volts.push_back(unit.voltage_v);
    if (volts.empty())
        return 0;
    const double cells = pack_.layout.cells_per_unit;
    std::optional<double> group_v;
    for (const Round& round : rounds_)
        if (round.condition == Condition::rest || round.condition == Condition::stored)
            if (const auto& v = round.volts[static_cast<std::size_t>(group)])
                group_v = v;
    const double middle = volts.size() >= 3 || !group_v ? median(volts) : *group_v / pack_.layout.units_per_tap;
    const auto odd = std::max_element(
        volts.begin(), volts.end(), [&](double a, double b) { return std::fabs(a - middle) < std::fabs(b - middle); });
    const auto sound = [&](double v) {
        return log_mix(unit_strays, log_normal(v - middle, sound_unit_sd_v * cells),
                       -std::log(2 * largest_away_v * cells));
    };
    double all_sound = 0;
    for (const double v : volts)
        all_sound += sound(v);
    const double others = all_sound - sound(*odd);
    const double away = *odd - middle;
    const double odd_low = others + (away < 0 ? log_any_size(-away, smallest_away_v, largest_away_v * cells) : -20);
    const double odd_either =
        others + log_any_size(std::fabs(away), smallest_away_v, largest_away_v * cells) - std::log(2.0);
    if (part == nullptr)
        return all_sound;
    switch (part->fault) {
    case Fault::leaking_cell:
        return log_mix(leaking_one_stands_out, all_sound, odd_low);
    case Fault::disconnected_cell:
        return log_mix(disconnected_one_stands_out, all_sound, odd_either);
    case Fault::weak_group:
        return log_mix(weak_one_stands_out, all_sound, odd_low);
    case Fault::dead_group:
    case Fault::reversed_unit: {
        const double low = part->fault == Fault::reversed_unit ? -chemistry_.full_v * cells : 0.0;
        const double high = chemistry_.bands.low_below_v * cells;
        double sum = 0;
        for (const double v : volts)
            sum += log_mix(dead_ones_share, sound(v), v >= low - 0.05 && v < high ? -std::log(high - low) : cannot_be);
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
        const double sound =
            log_mix(temperature_strays, log_normal(away, sound_temperature_sd_k), std::log(1 / temperature_range_k));
        const auto warmer = [&](double mean) { return away < 0 ? sound - 5 : -away / mean - std::log(mean); };
        const Fault fault = part == nullptr ? Fault::healthy : part->fault;
        if (fault == Fault::high_resistance_joint && t.under_load)
            sum += log_mix(joint_warms, sound, warmer(joint_warmer_k));
        else if ((fault == Fault::weak_group || fault == Fault::disconnected_cell) && t.under_load)
            sum += log_mix(worn_warms, sound, warmer(worn_warmer_k));
        else if (fault == Fault::leaking_cell || fault == Fault::dead_group)
            sum += log_mix(leaking_warms, sound, warmer(leaking_warmer_k));
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
            sum += under(weak_below_share);
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

// Its resistance against its siblings', as one instrument read them.
double Posterior::resistance_log(const Part* part, int group) const {
    double sum = 0;
    for (const GroupResistance& r : pack_.resistances) {
        if (r.group - 1 != group)
            continue;
        std::vector<double> others;
        for (const GroupResistance& o : pack_.resistances)
            if (o.group != r.group)
                others.push_back(o.ohm);
        if (others.empty())
            continue;
        constexpr double meter = 0.05, strange = 0.004, most = 3.0; // as logs of the ratio
        const double away = std::log(r.ohm / median(std::move(others)));
        const double sd = std::hypot(knowledge_.usual_resistance * looseness_.resistance, meter);
        const auto about = [&](double middle) {
            return log_mix(strange, log_normal(away - middle, sd), -std::log(2 * most));
        };
        const auto over = [&](double share) { // higher, by whatever; or as usual
            return log_mix(share, about(0), away > 0 ? log_any_size(away, 0.05, most) : -20.0);
        };
        switch (part == nullptr ? Fault::healthy : part->fault) {
        case Fault::weak_group:
        case Fault::high_resistance_joint:
            sum += over(0.9);
            break;
        case Fault::dead_group:
        case Fault::reversed_unit:
            sum += over(0.7);
            break;
        case Fault::disconnected_cell:
            sum += about(std::log(pack_.layout.parallel / std::max(1.0, pack_.layout.parallel - 1.0)));
            break;
        default:
            sum += about(0);
        }
    }
    return sum;
}

// A single cell, or a pack of one group, has no siblings: its resistance, as read or from the sag under a known
// current, against what is usual for its capacity. A low one is never suspicious.
double Posterior::alone_log(const Part* part) const {
    const auto usual = knowledge_.usual_ohm_ah.find(chemistry_.id);
    if (usual == knowledge_.usual_ohm_ah.end())
        return 0;
    std::optional<double> ohm;
    std::optional<double> rest_v;
    for (const Round& round : rounds_)
        if (round.condition == Condition::rest || round.condition == Condition::stored)
            rest_v = round.volts.front();
    for (const Round& round : rounds_)
        if (round.condition == Condition::load && rest_v && round.volts.front() && round.current_a &&
            *round.current_a < 0)
            ohm = (*rest_v - *round.volts.front()) / -*round.current_a;
    for (const GroupResistance& r : pack_.resistances)
        ohm = r.ohm;
    if (!ohm || *ohm <= 0)
        return 0;
    // Where nobody claims a capacity, a common cell's, and a wide guess.
    constexpr double common_ah = 2.2, sd_known = 0.45, sd_guessed = 0.7, strange = 0.004, most = 4.0;
    const double ah = pack_.capacity_ah.value_or(common_ah * pack_.layout.parallel);
    const double expected = usual->second * pack_.layout.cells_per_tap() / ah;
    const double away = std::log(*ohm / expected);
    const double sound = log_mix(strange, log_normal(std::max(0.0, away), pack_.capacity_ah ? sd_known : sd_guessed),
                                 -std::log(2 * most));
    const Fault fault = part == nullptr ? Fault::healthy : part->fault;
    if (fault != Fault::weak_group && fault != Fault::high_resistance_joint && fault != Fault::dead_group)
        return sound;
    return log_mix(0.9, sound, away > 0 ? log_any_size(away, 0.2, most) : -20.0);
}

bool Posterior::refuses_charge() const {
    return std::any_of(pack_.symptoms.begin(), pack_.symptoms.end(), [this](const std::string& id) {
        const Symptom* symptom = knowledge_.symptom(id);
        return symptom != nullptr && symptom->refuses_charge;
    });
}

double Posterior::evidence_log(const std::vector<Part>& parts) const {
    double sum = terminal_log(parts);
    if (pack_.layout.series == 1)
        sum += alone_log(parts.empty() || parts.front().groups.empty() ? nullptr : &parts.front());
    if (!pack_.units.empty() || !pack_.temperatures.empty() || !pack_.capacities.empty() || !pack_.resistances.empty())
        for (int g = 0; g < pack_.layout.series; ++g) {
            const auto part = std::find_if(parts.begin(), parts.end(), [&](const Part& p) { return touches(p, g); });
            const Part* here = part == parts.end() ? nullptr : &*part;
            sum += units_log(here, g) + temperature_log(here, g) + capacity_log(here, g) + resistance_log(here, g);
        }
    for (const std::string& id : pack_.symptoms)
        if (const Symptom* symptom = knowledge_.symptom(id)) {
            double best = parts.empty() ? symptom->likelihood[0] : 0;
            for (const Part& part : parts)
                best = std::max(best, symptom->likelihood[static_cast<std::size_t>(part.fault)]);
            sum += std::log(std::max(best, symptom_least));
        }
    for (const LeadSwap& swap : pack_.swaps) {
        const bool measuring = std::any_of(parts.begin(), parts.end(), [&](const Part& p) {
            return p.fault == Fault::sense_fault && touches(p, swap.group - 1);
        });
        sum += std::log(swap.moved == measuring ? swap_tells : 1 - swap_tells);
    }
    return sum;
}

} // namespace ingot::triage_detail
