#include "core/practice/deal.h"

#include "core/practice/dealing.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <stdexcept>

namespace ingot {

using dealing::around;
using dealing::between;
using dealing::mixed;
using dealing::rounded;

namespace {

// Rest voltage of a made-up cell every tenth of its charge.
constexpr std::array<double, 11> practice_curve{3.02, 3.42, 3.54, 3.605, 3.645, 3.695, 3.79, 3.885, 3.975, 4.065, 4.18};
constexpr double empty_slope = 24; // V for what is missing below empty, and for what is too much above full
constexpr double full_slope = 1.4;
constexpr double charge_to_v = 4.2;
constexpr double sound_ohm_ah = 0.15;
constexpr double usual_leak = 0.0002;
constexpr double days_in_week = 7;

double at_rest(double charge) {
    if (charge <= 0)
        return std::max(0.1, practice_curve.front() + charge * empty_slope);
    if (charge >= 1)
        return practice_curve.back() + (charge - 1) * full_slope;
    const double at = charge * 10;
    const auto i = std::min<std::size_t>(9, static_cast<std::size_t>(at));
    const double part = at - static_cast<double>(i);
    // Smooth between the points, unlike a table that is read straight.
    const double eased = part * part * (3 - 2 * part) * 0.3 + part * 0.7;
    return practice_curve[i] * (1 - eased) + practice_curve[i + 1] * eased;
}

// One number for each deal.
std::uint64_t deal_key(int level, int seed) {
    return static_cast<std::uint64_t>(practice_seeds) * static_cast<std::uint64_t>(level) +
           static_cast<std::uint64_t>(seed);
}

void check_deal(int level, int seed) {
    dealing::check_deal(level, seed, practice_levels, practice_seeds);
}

} // namespace

bool about_one_group(PracticeMeasure measure) {
    return measure == PracticeMeasure::swap_lead || measure == PracticeMeasure::unit_voltages;
}

MeasureCost cost_of(PracticeMeasure measure, const PackLayout& layout) {
    const double a_group = 0.5;
    const double round = 0.5 + a_group * layout.series;
    switch (measure) {
    case PracticeMeasure::rest_round:
        return {round, 0, 0};
    case PracticeMeasure::terminals:
        return {1, 0, 0};
    case PracticeMeasure::load_round:
        return {round + 1, 0, 1};
    case PracticeMeasure::end_of_charge:
        return {round + 8, 3, 2};
    case PracticeMeasure::after_storage:
        return {round, days_in_week * 24, 0};
    case PracticeMeasure::swap_lead:
        return {3, 0, 1};
    case PracticeMeasure::unit_voltages:
        return {5 + 2.5 * layout.parallel, 0, 3};
    case PracticeMeasure::look_inside:
        return {6, 0, 1};
    }
    return {};
}

PackDeal::PackDeal(int level, int seed) : level_(level), seed_(seed) {
    check_deal(level, seed);
    Random random(mixed(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(level), 1));
    constexpr std::array<int, 5> lengths{4, 5, 6, 7, 10};
    layout_ = level == 5 ? PackLayout{14, 10, 1}
                         : PackLayout{lengths[static_cast<std::size_t>(random.below(5))], 2 + random.below(3), 1};
    capacity_ah_ = rounded(between(random, 2.0, 3.0), 0.1) * layout_.parallel;
    weeks_ = 2 + random.below(9);
    resolution_v_ = level == 4 ? 0.01 : 0.001;
    const double used = between(random, 0.25, 0.5); // Ah of the rating taken out since it was level and full
    const double worn = between(random, 0.8, 0.97);
    deal_groups(used, worn, random);
    const int faults = level <= 2 || level == 5 ? 1 : 2;
    constexpr std::array<Fault, 7> kinds{Fault::leaking_cell,      Fault::weak_group, Fault::high_resistance_joint,
                                         Fault::disconnected_cell, Fault::imbalance,  Fault::sense_fault,
                                         Fault::dead_group};
    // Now and then nothing is wrong with it, or only its board: that has to be said as well.
    const double nothing = between(random, 0, 1);
    if (level != 3 && level != 4 && nothing < 0.08) {
        lie_for_weeks();
        return;
    }
    if (level == 1 && nothing < 0.16) {
        latched_ = true;
        truth_.push_back({Fault::latched_board, 0});
    }
    while (static_cast<int>(truth_.size()) < faults) {
        const int most = level == 1 ? 7 : 6; // a dead group is plain to see
        const Fault fault = kinds[static_cast<std::size_t>(random.below(most))];
        const int group = 1 + random.below(layout_.series);
        if (std::any_of(truth_.begin(), truth_.end(),
                        [&](const HiddenFault& h) { return h.group == group || h.fault == fault; }))
            continue;
        Group& g = groups_[static_cast<std::size_t>(group) - 1];
        const double hard = between(random, 0, 1);
        const bool slight = level == 2 || level == 4;
        const double size = slight ? 0.25 + 0.25 * hard : 0.6 + 0.4 * hard;
        truth_.push_back({fault, group});
        hide(fault, g, size, hard, used, random);
        g.charge = std::max(g.charge, 0.03);
    }
    std::sort(truth_.begin(), truth_.end(),
              [](const HiddenFault& a, const HiddenFault& b) { return a.group < b.group; });
    lie_for_weeks();
    if (level == 4) {
        do
            misread_group_ = 1 + random.below(layout_.series);
        while (
            std::any_of(truth_.begin(), truth_.end(), [&](const HiddenFault& h) { return h.group == misread_group_; }));
    }
}

PackDeal::PackDeal(const OwnDeal& own)
    : level_(0), seed_(own.seed), title_(own.title), layout_(own.layout), capacity_ah_(own.capacity_ah),
      weeks_(own.weeks_stored), resolution_v_(own.resolution_v), misread_group_(own.misread_group) {
    if (own_deal_objection(own))
        throw std::invalid_argument("an own practice case that cannot be dealt");
    Random random(mixed(static_cast<std::uint64_t>(seed_), 0, 5));
    const double used = between(random, 0.25, 0.5);
    deal_groups(used, between(random, 0.8, 0.97), random);
    for (const OwnDeal::Own& one : own.faults) {
        truth_.push_back(one.fault);
        latched_ = latched_ || one.fault.fault == Fault::latched_board;
        if (one.fault.group == 0)
            continue;
        constexpr double least = 0.25; // a slight one of the dealer's own
        Group& group = groups_[static_cast<std::size_t>(one.fault.group) - 1];
        hide(one.fault.fault, group, least + (1 - least) * one.size, one.size, used, random);
        group.charge = std::max(group.charge, 0.03);
    }
    std::sort(truth_.begin(), truth_.end(),
              [](const HiddenFault& a, const HiddenFault& b) { return a.group < b.group; });
    lie_for_weeks();
}

std::optional<Problem> own_deal_objection(const OwnDeal& own) {
    const auto objection = [](Sentence sentence) { return Problem{"", 0, std::move(sentence)}; };
    constexpr int most_groups = 40;
    constexpr int most_parallel = 20;
    if (own.title.empty())
        return objection(said("An own case needs a title."));
    if (own.layout.series < 3 || own.layout.series > most_groups || own.layout.parallel < 1 ||
        own.layout.parallel > most_parallel)
        return objection(said("A practice pack has 3 to 40 groups of 1 to 20 units."));
    if (!(own.capacity_ah > 0) || !(own.resolution_v > 0) || own.weeks_stored < 1)
        return objection(said("Capacity, the meter's digit and the weeks on the shelf must be over 0."));
    if (own.misread_group < 0 || own.misread_group > own.layout.series)
        return objection(said("There is no group {} to misread.", own.misread_group));
    std::vector<int> taken;
    for (const OwnDeal::Own& one : own.faults) {
        const bool whole = one.fault.fault == Fault::latched_board;
        if (whole ? one.fault.group != 0 : one.fault.group < 1 || one.fault.group > own.layout.series)
            return objection(said("A fault names one of the groups 1 to {}; a latched board none.", own.layout.series));
        if (std::find(taken.begin(), taken.end(), one.fault.group) != taken.end())
            return objection(said("Group {} has two faults. Give each group one.", one.fault.group));
        taken.push_back(one.fault.group);
        if (!(one.size >= 0 && one.size <= 1))
            return objection(said("The size of a fault is 0 (slight) to 1 (plain)."));
        if (one.fault.fault == Fault::disconnected_cell && own.layout.parallel < 2)
            return objection(said("Where one unit stands alone none can be disconnected beside others."));
    }
    return std::nullopt;
}

void PackDeal::deal_groups(double used, double worn, Random& random) {
    for (int g = 0; g < layout_.series; ++g) {
        Group group;
        group.holds = worn * (1 + around(random, 0.012));
        group.ohm = std::pow(worn, -1.4) * (1 + around(random, 0.04));
        group.leaks = usual_leak * between(random, 0.6, 1.6);
        group.charge = 1 - used / group.holds + around(random, 0.004);
        groups_.push_back(group);
    }
}

void PackDeal::lie_for_weeks() {
    for (Group& group : groups_)
        group.charge -= group.leaks * weeks_ * days_in_week / group.holds;
}

// `size` and `hard` 0..1; `used` Ah of the rating taken out since all were level and full.
void PackDeal::hide(Fault fault, Group& g, double size, double hard, double used, Random& random) const {
    switch (fault) {
    case Fault::leaking_cell:
        g.leaks = 0.10 * size / (weeks_ * days_in_week) + 0.0008;
        break;
    case Fault::weak_group:
        g.holds *= 1 - 0.32 * size;
        g.ohm *= 1 + 0.7 * size;
        g.charge = 1 - used / g.holds;
        break;
    case Fault::high_resistance_joint:
        g.joint = 1.8 * size;
        g.joint_seen = random.unit() < 0.7;
        break;
    case Fault::disconnected_cell: {
        const double left = static_cast<double>(layout_.parallel - 1) / layout_.parallel;
        g.holds *= left;
        g.ohm /= left;
        g.charge = 1 - used / g.holds;
        g.loose_unit = true;
        g.joint_seen = random.unit() < 0.5;
        break;
    }
    case Fault::imbalance:
        g.charge += (random.below(3) == 0 ? 1 : -1) * (0.05 + 0.18 * size);
        break;
    case Fault::sense_fault:
        g.lead_v = -(0.04 + 0.3 * size);
        break;
    default:
        g.dead = true;
        g.dead_v = 0.2 + 1.2 * hard;
        break;
    }
}

std::string PackDeal::number() const {
    if (own())
        return title_;
    std::string digits = std::to_string(seed_);
    return std::to_string(level_) + "-" + std::string(4 - digits.size(), '0') + digits;
}

double PackDeal::load_a() const {
    return rounded(0.3 * capacity_ah_, 0.5);
}

double PackDeal::chance(std::uint64_t what, std::uint64_t which) const {
    Random random(mixed(deal_key(level_, seed_), what, which));
    return random.unit();
}

double PackDeal::rest_v(const Group& group, double charge) const {
    return group.dead ? group.dead_v : at_rest(charge);
}

// As the meter shows it, through the group's own sense lead.
double PackDeal::shown(double volts, PracticeMeasure measure, int group) const {
    const double error =
        (chance(10 + static_cast<std::uint64_t>(measure), static_cast<std::uint64_t>(group)) - 0.5) * 0.003;
    double out = volts + groups_[static_cast<std::size_t>(group) - 1].lead_v + error;
    if (measure == PracticeMeasure::rest_round && group == misread_group_)
        out += chance(9, 9) < 0.5 ? 0.1 : -0.1; // one figure
    return rounded(out, resolution_v_);
}

std::vector<PracticeMeasure> PackDeal::given() const {
    return level_ == 5 ? std::vector{PracticeMeasure::rest_round, PracticeMeasure::load_round}
                       : std::vector<PracticeMeasure>();
}

bool PackDeal::under_floor() const {
    constexpr double floor_v = 2.5;
    return std::any_of(groups_.begin(), groups_.end(), [&](const Group& g) { return rest_v(g, g.charge) < floor_v; });
}

std::vector<int> PackDeal::seen_inside() const {
    std::vector<int> out;
    for (int g = 1; g <= layout_.series; ++g)
        if (groups_[static_cast<std::size_t>(g) - 1].joint_seen)
            out.push_back(g);
    return out;
}

// Until the first group is full: the others stay behind.
void PackDeal::read_end_of_charge(TriageCase& known) const {
    double low = 0;
    double high = 2;
    const auto after = [&](const Group& g, double put_in) { return rest_v(g, g.charge + put_in / g.holds); };
    for (int i = 0; i < 60; ++i) {
        const double half = (low + high) / 2;
        double most = 0;
        for (const Group& g : groups_)
            most = std::max(most, after(g, half) + g.lead_v);
        (most < charge_to_v ? low : high) = half;
    }
    for (int g = 1; g <= layout_.series; ++g) {
        GroupReading reading;
        reading.group = g;
        reading.condition = Condition::end_of_charge;
        reading.voltage_v =
            shown(after(groups_[static_cast<std::size_t>(g) - 1], low), PracticeMeasure::end_of_charge, g);
        reading.resolution_v = resolution_v_;
        known.readings.push_back(reading);
    }
}

void PackDeal::read_units(int group, TriageCase& known) const {
    const Group& g = groups_.at(static_cast<std::size_t>(group) - 1);
    for (int k = 0; k < layout_.parallel; ++k) {
        const std::uint64_t which = static_cast<std::uint64_t>(group) * 100 + static_cast<std::uint64_t>(k);
        double volts = rest_v(g, g.charge) + (chance(40, which) - 0.5) * 0.004;
        if (g.loose_unit &&
            k == static_cast<int>(chance(41, static_cast<std::uint64_t>(group)) * (layout_.parallel - 1)))
            volts = at_rest(0.97); // it stands where it was last full
        known.units.push_back({group, "unit " + std::to_string(k + 1), rounded(volts, resolution_v_)});
    }
}

void PackDeal::take(PracticeMeasure measure, int group, TriageCase& known) const {
    known.layout = layout_;
    known.capacity_ah = capacity_ah_;
    const double group_ohm = sound_ohm_ah / capacity_ah_;
    const auto round = [&](Condition condition, auto&& volts) {
        for (int g = 1; g <= layout_.series; ++g) {
            GroupReading reading;
            reading.group = g;
            reading.condition = condition;
            reading.voltage_v = shown(volts(groups_[static_cast<std::size_t>(g) - 1]), measure, g);
            reading.resolution_v = resolution_v_;
            if (condition == Condition::load)
                reading.current_a = -load_a();
            if (condition == Condition::stored)
                reading.days = days_in_week;
            known.readings.push_back(reading);
        }
    };
    switch (measure) {
    case PracticeMeasure::rest_round:
        round(Condition::rest, [&](const Group& g) { return rest_v(g, g.charge); });
        break;
    case PracticeMeasure::terminals: {
        double sum = 0;
        for (const Group& g : groups_)
            sum += rest_v(g, g.charge);
        known.terminal_v = latched_ ? 0.0 : rounded(sum, 0.01);
        break;
    }
    case PracticeMeasure::load_round:
        round(Condition::load, [&](const Group& g) {
            const double sag = load_a() * group_ohm * (1.12 * g.ohm + g.joint);
            return g.dead ? std::max(0.0, g.dead_v - 4 * sag)
                          : rest_v(g, g.charge) - sag - 0.02 * std::pow(std::max(0.0, 0.25 - g.charge), 0.7);
        });
        break;
    case PracticeMeasure::end_of_charge:
        read_end_of_charge(known);
        break;
    case PracticeMeasure::after_storage:
        round(Condition::stored,
              [&](const Group& g) { return rest_v(g, g.charge - g.leaks * days_in_week / g.holds); });
        break;
    case PracticeMeasure::swap_lead:
        known.swaps.push_back({group, groups_.at(static_cast<std::size_t>(group) - 1).lead_v != 0});
        break;
    case PracticeMeasure::unit_voltages:
        read_units(group, known);
        break;
    case PracticeMeasure::look_inside:
        break;
    }
}

LeakDeal::LeakDeal(int level, int seed) : level_(level), seed_(seed) {
    check_deal(level, seed);
    Random random(mixed(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(level), 2));
    constexpr int units = 8;
    resolution_ = level >= 4 ? 0.001 : 0.0001;
    for (int u = 0; u < units; ++u) {
        leak_v_per_day_.push_back(limit_ * between(random, 0.05, 0.3));
        start_v_.push_back(3.66 + around(random, 0.01));
        settles_v_.push_back(between(random, 0.004, 0.018)); // what is left of its last charge
        pace_.push_back(between(random, 0.4, 1.6));
    }
    asked_ = random.below(units);
    // Plainly one or the other at first, close to the limit later.
    const double from_limit = between(random, 0.15, 0.5) * (6.0 - level) / 3;
    const bool leaking = random.below(2) == 0;
    leak_v_per_day_[static_cast<std::size_t>(asked_)] =
        limit_ * std::max(0.1, leaking ? 1 + 2 * from_limit : 1 - from_limit);
}

bool LeakDeal::leaks() const {
    return leak_v_per_day_[static_cast<std::size_t>(asked_)] > limit_;
}

double LeakDeal::read(int unit, int day) const {
    const auto u = static_cast<std::size_t>(unit);
    Random random(mixed(deal_key(level_, seed_), 50 + u, static_cast<std::uint64_t>(day)));
    Random room(mixed(deal_key(level_, seed_), 49, static_cast<std::uint64_t>(day)));
    const double settling = settles_v_[u] / std::pow(1 + day, pace_[u]);
    const double shared = around(room, 0.0006); // room and meter, alike for all
    return rounded(start_v_[u] + settling - leak_v_per_day_[u] * day + shared + around(random, 0.00015), resolution_);
}

CyclingDeal::CyclingDeal(int level, int seed) {
    check_deal(level, seed);
    Random random(mixed(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(level), 3));
    const double first = between(random, 0.35, 0.7) * rated_ah();
    const double settles = between(random, 0.72, 0.98) * rated_ah();
    const double pace = between(random, 1.5, 4.5);
    const int stands = level >= 3 && random.below(2) == 0 ? 2 + random.below(4) : 0; // stands still, then climbs on
    const bool falls = level >= 2 && random.below(5) == 0;
    const double noise = level >= 4 ? 0.05 : 0.02;
    wanted_ = rounded(0.85 * rated_ah(), 0.1);
    double climbed = 0;
    for (int cycle = 1; cycle <= cycles_most(); ++cycle) {
        const bool still = stands > 0 && cycle > 2 && cycle <= 2 + stands;
        if (cycle > 1 && !still)
            climbed += 1;
        double capacity = settles - (settles - first) / std::pow(1 + climbed / pace, 1.8);
        if (falls && cycle > 3)
            capacity -= 0.05 * (cycle - 3) * rated_ah() * 0.3;
        capacity_.push_back(std::max(0.1, capacity + around(random, noise)));
    }
}

double CyclingDeal::capacity_ah(int cycle) const {
    return capacity_.at(static_cast<std::size_t>(cycle) - 1);
}

// Twice, so that it is not the noise of one cycle.
bool CyclingDeal::reaches() const {
    return std::count_if(capacity_.begin(), capacity_.end(), [&](double ah) { return ah >= wanted_; }) >= 2;
}

} // namespace ingot
