#include "triage_packs.h"

#include <algorithm>
#include <cmath>

namespace simulated {

namespace {

double clamp01(double x) {
    return std::clamp(x, 0.0, 1.0);
}

} // namespace

double Pack::random() { // splitmix64, public domain
    state_ += 0x9E3779B97F4A7C15ULL;
    std::uint64_t z = state_;
    z = (z ^ (z >> 30U)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27U)) * 0x94D049BB133111EBULL;
    return static_cast<double>((z ^ (z >> 31U)) >> 11U) / 9007199254740992.0;
}

double Pack::normal() {
    double sum = -6;
    for (int i = 0; i < 12; ++i)
        sum += random();
    return sum;
}

double Pack::curve(double s, double offset, double direction) const {
    double v = 0;
    double hysteresis = 0.004;
    if (truth_.chemistry == "lfp") {
        v = 3.25 + 0.08 * s - 0.45 * std::exp(-std::max(s, 0.0) / 0.03) + 0.15 * std::max(0.0, s - 0.97) / 0.03;
        hysteresis = 0.008;
    } else if (truth_.chemistry == "nimh") {
        v = 1.24 + 0.07 * s - 0.22 * std::exp(-std::max(s, 0.0) / 0.04) + 0.05 * std::exp((s - 1) / 0.06);
        hysteresis = 0.015;
    } else {
        const double charged = std::max(s, 0.0);
        v = 3.05 + 0.50 * (1 - std::exp(-charged / 0.07)) + 0.62 * std::pow(charged, 1.6);
    }
    if (s < 0)
        v = std::max(0.0, v + 45 * s);
    return v + offset + hysteresis * direction - 0.0002 * (celsius_ - 20);
}

Pack::Pack(std::uint64_t seed) : state_(seed * 7919 + 17) {
    make();
    break_it();
}

void Pack::make() {
    const double kind = random();
    truth_.chemistry = kind < 0.84 ? "nmc" : kind < 0.90 ? "lfp" : "nimh";
    truth_.series = 3 + static_cast<int>(random() * 12);
    truth_.parallel = 1 + static_cast<int>(random() * 6);
    if (truth_.chemistry == "nimh") {
        truth_.cells_per_unit = 6;
        truth_.parallel = 1;
        truth_.series = 6 + static_cast<int>(random() * 20);
    }
    celsius_ = 20 + 4 * normal();
    gain_ = 1 + 0.0004 * normal();
    offset_ = 0.0008 * normal();
    const double nominal = truth_.chemistry == "nimh" ? 6.0 : 1.4 + 1.8 * random();
    const double ohm = truth_.chemistry == "nimh" ? 0.002 : 0.05 + 0.07 * random();
    const double ageing = 0.02 + 0.03 * random(); // unequal from pack to pack
    for (int g = 0; g < truth_.series; ++g) {
        Group group;
        const double charge = 0.995 + 0.007 * normal();
        const int count = truth_.cells_per_unit > 1 ? truth_.cells_per_unit : truth_.parallel;
        for (int c = 0; c < count; ++c) {
            Cell cell{};
            cell.capacity = nominal * (1 + ageing * normal());
            cell.charge = charge;
            cell.ohm = ohm * (1 + (0.05 + ageing) * normal());
            cell.leak_per_day = 0.0001 + 0.0002 * random();
            cell.curve_offset = 0.0015 * normal();
            cell.polarity = 1;
            (truth_.cells_per_unit > 1 ? group.chain : group.cells).push_back(cell);
        }
        groups_.push_back(std::move(group));
    }
}

void Pack::settle(Group& group) const {
    double held = 0;
    double room = 0;
    for (const Cell& c : group.cells)
        if (c.joined && !c.dead) {
            held += c.charge * c.capacity;
            room += c.capacity;
        }
    for (Cell& c : group.cells)
        if (c.joined && !c.dead)
            c.charge = held / room;
}

void Pack::break_it() {
    const double which = random();
    const double severity = truth_.severity = random();
    const int g = static_cast<int>(random() * truth_.series);
    auto& group = groups_[static_cast<std::size_t>(g)];
    const bool module = truth_.cells_per_unit > 1;
    auto& members = module ? group.chain : group.cells;
    auto& one = members[static_cast<std::size_t>(random() * static_cast<double>(members.size()))];
    const auto grow = [&](double from, double to) { return from * std::pow(to / from, severity); };
    truth_.groups = {g + 1};
    double leak_lost = 0;
    std::vector<int> leakers;
    const auto kill = [&](Group& victim) {
        if (module) { // one or two cells of the module
            const std::size_t dead = severity < 0.8 ? 1 : 2;
            for (std::size_t i = 0; i < dead; ++i) {
                victim.chain[i].dead = true;
                victim.chain[i].dead_volts = 0.15 * random();
            }
        } else {
            const double volts = (truth_.chemistry == "lfp" ? 1.9 : 1.95) * random();
            for (Cell& c : victim.cells) {
                c.dead = true;
                c.dead_volts = volts;
            }
        }
    };
    if (which < 0.20) {
        truth_.fault = "healthy";
        truth_.groups.clear();
    } else if (which < 0.33) {
        truth_.fault = "dead-group";
        kill(group);
        if (random() < 0.25) { // a second one
            const int other = (g + 1 + static_cast<int>(random() * (truth_.series - 1))) % truth_.series;
            kill(groups_[static_cast<std::size_t>(other)]);
            truth_.groups.push_back(other + 1);
            std::sort(truth_.groups.begin(), truth_.groups.end());
        }
        if (random() < 0.2)
            board_open_ = true;
    } else if (which < 0.46) {
        truth_.fault = "leaking-cell";
        leak_lost = truth_.chemistry == "nmc" ? grow(0.10, 0.7) : grow(0.5, 1.1);
        leakers = {g};
    } else if (which < 0.58) {
        truth_.fault = "weak-group";
        const double missing = grow(0.25, 0.6);
        const double stiff = 0.7 + 1.5 * random();
        for (Cell& c : members) { // unequal: some cells carry most of the loss
            const double own = missing * (0.7 + 0.6 * random());
            c.capacity *= 1 - std::min(own, 0.9);
            c.ohm *= 1 + stiff * missing / (1 - missing) * (module ? 1 : 0.8 + 0.4 * random());
        }
    } else if (which < 0.68) {
        truth_.fault = "imbalance";
        if (random() < 0.75) {
            for (Cell& c : members)
                c.charge += grow(0.08, 0.5);
        } else {
            double highest = -1;
            const double sd = grow(0.06, 0.14);
            for (int k = 0; k < truth_.series; ++k) {
                const double by = sd * normal();
                auto& all = groups_[static_cast<std::size_t>(k)];
                for (Cell& c : module ? all.chain : all.cells)
                    c.charge += by;
                if (by > highest) {
                    highest = by;
                    truth_.groups = {k + 1};
                }
            }
        }
        double top = 0; // the charger stopped at the first full group
        for (const Group& each : groups_)
            for (const Cell& c : module ? each.chain : each.cells)
                top = std::max(top, c.charge);
        for (Group& each : groups_)
            for (Cell& c : module ? each.chain : each.cells)
                c.charge -= top - 1.0;
    } else if (which < 0.75) {
        truth_.fault = "latched-board";
        truth_.groups.clear();
        board_open_ = true;
    } else if (which < 0.83) {
        truth_.fault = "sense-fault";
        const double error = grow(0.08, 1.2) * (random() < 0.5 ? -1 : 1) * truth_.cells_per_unit;
        if (random() < 0.75) {
            const int low = std::min(g, truth_.series - 2);
            groups_[static_cast<std::size_t>(low)].read_error = error;
            groups_[static_cast<std::size_t>(low) + 1].read_error = -error;
            truth_.groups = {low + 1, low + 2};
        } else { // an end lead
            const int end = random() < 0.5 ? 0 : truth_.series - 1;
            groups_[static_cast<std::size_t>(end)].read_error = error;
            truth_.groups = {end + 1};
        }
    } else if (which < 0.91) {
        truth_.fault = "high-resistance-joint";
        const double sound = module ? one.ohm * truth_.cells_per_unit : one.ohm / truth_.parallel;
        group.joint_ohm = sound * grow(1.2, 12);
    } else if (which < 0.95 && truth_.parallel > 1) {
        truth_.fault = "disconnected-cell";
        one.joined = false;
        one.charge = random() < 0.6 ? 0.95 : 0.1 + 0.5 * random();
    } else if (module || truth_.parallel == 1) {
        truth_.fault = "reversed-unit";
        one.polarity = -1;
    } else {
        truth_.fault = "dead-group";
        kill(group);
    }
    // Use: some of the charge has been taken out, until the first group was empty at most.
    const double wanted = 0.1 + 0.8 * random();
    double taken = wanted;
    double nominal = 0;
    for (const Cell& c : module ? groups_[0].chain : groups_[0].cells)
        nominal += c.capacity;
    if (module)
        nominal /= truth_.cells_per_unit;
    const auto each_charge = [&](const auto& act) {
        for (Group& each : groups_) {
            if (module) {
                for (Cell& c : each.chain)
                    if (!c.dead)
                        act(each, c, c.capacity);
            } else {
                double room = 0;
                for (const Cell& c : each.cells)
                    room += c.joined && !c.dead ? c.capacity : 0;
                for (Cell& c : each.cells)
                    if (c.joined && !c.dead)
                        act(each, c, room);
            }
        }
    };
    each_charge([&](Group&, Cell& c, double room) { taken = std::min(taken, (c.charge - 0.02) * room / nominal); });
    taken = std::max(taken, 0.0);
    each_charge([&](Group&, Cell& c, double room) { c.charge -= taken * nominal / room; });
    direction_ = taken > 0.05 ? -1 : 1;
    stored_days_ = 15 + 100 * random();
    for (const int leaker : leakers) {
        auto& leaking = groups_[static_cast<std::size_t>(leaker)];
        auto& cells = module ? leaking.chain : leaking.cells;
        if (module) { // one cell leaks; the module shows a sixth of it
            cells[0].leak_per_day = leak_lost / stored_days_;
        } else {
            double room = 0;
            for (const Cell& c : cells)
                room += c.capacity;
            cells[0].leak_per_day = leak_lost / stored_days_ * room / cells[0].capacity;
        }
    }
    each_charge([&](Group&, Cell& c, double) { c.charge -= c.leak_per_day * stored_days_; });
    for (Group& each : groups_)
        settle(each);
    // Whatever drained it: a group (or a module's cell) under the deep-discharge limit is called dead.
    if (truth_.fault == "leaking-cell" || truth_.fault == "weak-group") {
        bool dead = !module && open_volts(group, 0) < 2.0;
        for (const Cell& c : group.chain)
            dead |= curve(c.charge, 0, 0) < 0.6;
        if (dead)
            truth_.fault = "dead-group";
    }
}

double Pack::open_volts(const Group& group, double direction) const {
    const auto of = [&](const Cell& c) {
        return c.polarity * (c.dead ? c.dead_volts : curve(c.charge, c.curve_offset, direction));
    };
    double sum = 0;
    if (!group.chain.empty()) {
        for (const Cell& c : group.chain)
            sum += of(c);
        return sum;
    }
    double conductance = 0;
    for (const Cell& c : group.cells)
        if (c.joined) {
            sum += of(c) / c.ohm;
            conductance += 1 / c.ohm;
        }
    return sum / conductance;
}

double Pack::shown(double volts) {
    double v = volts * gain_ + offset_ + 0.0008 * normal();
    v = std::round(v * 1000) / 1000;
    if (random() < 0.001) { // a digit misread
        constexpr double places[] = {1.0, 0.1, 0.01};
        v += places[static_cast<int>(random() * 3)] * (random() < 0.5 ? -1 : 1) * (1 + std::floor(random() * 3));
    }
    return v;
}

std::vector<Reading> Pack::read(const std::string& condition, const std::vector<double>& volts, double amperes,
                                double days) {
    std::vector<Reading> out;
    for (std::size_t g = 0; g < volts.size(); ++g)
        out.push_back({static_cast<int>(g) + 1, condition, shown(volts[g] + groups_[g].read_error), amperes, days});
    return out;
}

std::vector<Reading> Pack::at_rest() {
    std::vector<double> volts;
    for (const Group& group : groups_)
        volts.push_back(open_volts(group, direction_));
    return read("rest", volts, 0, 0);
}

std::vector<Reading> Pack::under_load() {
    if (load_rate_ == 0) // read again under the same load
        load_rate_ = 0.2 + 0.4 * random();
    double capacity = 0;
    for (const Cell& c : groups_[0].chain.empty() ? groups_[0].cells : groups_[0].chain)
        capacity += c.capacity;
    if (!groups_[0].chain.empty())
        capacity /= truth_.cells_per_unit;
    const double amperes = load_rate_ * capacity;
    const double cold = std::exp(1800 * (1 / (celsius_ + 273.15) - 1 / 293.15));
    std::vector<double> volts;
    for (const Group& group : groups_) {
        const auto ohm = [&](const Cell& c) {
            return c.ohm * cold * (1 + 2.5 * std::exp(-clamp01(c.charge) / 0.06)) * (c.dead ? 3 : 1);
        };
        double r = 0;
        if (!group.chain.empty()) {
            for (const Cell& c : group.chain)
                r += ohm(c);
        } else {
            double g = 0;
            for (const Cell& c : group.cells)
                if (c.joined)
                    g += 1 / ohm(c);
            r = 1 / g;
        }
        volts.push_back(open_volts(group, direction_) - amperes * (r + group.joint_ohm) * (1 + 0.02 * normal()));
    }
    return read("load", volts, -amperes, 0);
}

std::vector<Reading> Pack::after_storage(double days) {
    const double room = celsius_;
    celsius_ += 2 * normal();
    std::vector<double> volts;
    for (Group group : groups_) {
        for (auto* list : {&group.cells, &group.chain})
            for (Cell& c : *list)
                c.charge -= c.leak_per_day * days;
        settle(group);
        volts.push_back(open_volts(group, direction_ * 0.8));
    }
    celsius_ = room;
    return read("stored", volts, 0, days);
}

std::vector<Reading> Pack::at_end_of_charge() {
    auto groups = groups_;
    // In small steps until the first group is full.
    const double full = truth_.chemistry == "lfp" ? 3.62 : truth_.chemistry == "nimh" ? 1.45 : 4.19;
    for (int step = 0; step < 400; ++step) {
        bool done = false;
        for (Group& group : groups) {
            double room = 0;
            for (const Cell& c : group.cells)
                room += c.joined ? c.capacity : 0;
            for (Cell& c : group.cells)
                if (c.joined && !c.dead)
                    c.charge += 0.005 * truth_.parallel / room * 2.0;
            for (Cell& c : group.chain)
                if (!c.dead)
                    c.charge += 0.005 * 6.0 / c.capacity;
            for (auto* list : {&group.cells, &group.chain})
                for (Cell& c : *list)
                    if (c.dead)
                        c.dead_volts = std::min(c.dead_volts + 0.004, 2.6);
            if (truth_.chemistry == "nimh") {
                for (const Cell& c : group.chain)
                    done |= c.charge > 1.02;
            } else {
                done |= open_volts(group, 1) >= full;
            }
        }
        if (done)
            break;
    }
    std::vector<double> volts;
    for (const Group& group : groups)
        volts.push_back(open_volts(group, 1) + 0.004 * normal());
    return read("end-of-charge", volts, 0, 0);
}

double Pack::terminals() {
    if (board_open_)
        return std::round(std::fabs(0.4 * normal()) * 1000) / 1000;
    double sum = 0;
    for (const Group& group : groups_)
        sum += open_volts(group, direction_);
    return std::round((sum * gain_ + 0.004 * normal()) * 100) / 100;
}

std::vector<double> Pack::units_of(int group) {
    std::vector<double> out;
    const Group& g = groups_[static_cast<std::size_t>(group - 1)];
    if (!g.chain.empty())
        return out;
    for (const Cell& c : g.cells)
        out.push_back(shown(c.dead ? c.dead_volts : c.polarity * curve(c.charge, c.curve_offset, direction_)));
    return out;
}

bool Pack::swap_moves(int group) {
    return groups_[static_cast<std::size_t>(group - 1)].read_error != 0;
}

} // namespace simulated
