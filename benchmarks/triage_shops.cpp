#include "triage_shops.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <random>

namespace shops {

namespace {

// Rest voltages of one cell by charge, every 10 %: read off typical cells by eye, this file's own.
constexpr std::array<double, 11> lithium{2.85, 3.37, 3.51, 3.58, 3.63, 3.68, 3.76, 3.86, 3.95, 4.05, 4.17};
constexpr std::array<double, 11> rich{2.80, 3.40, 3.54, 3.60, 3.66, 3.74, 3.84, 3.93, 4.03, 4.08, 4.18};
constexpr std::array<double, 11> iron{2.55, 3.19, 3.235, 3.262, 3.283, 3.292, 3.297, 3.312, 3.325, 3.332, 3.40};
constexpr std::array<double, 11> nickel{1.08, 1.205, 1.233, 1.250, 1.262, 1.272, 1.282, 1.294, 1.308, 1.328, 1.385};

struct Kind {
    const char* chemistry;
    const std::array<double, 11>* curve;
    double under_empty; // V lost per unit of charge below empty
    double over_full;
    double full_v;
};
constexpr Kind nmc{"nmc", &lithium, 30, 1.6, 4.2};
constexpr Kind nickel_rich{"nmc", &rich, 26, 1.4, 4.2};
constexpr Kind lfp{"lfp", &iron, 28, 9, 3.6};
constexpr Kind nimh{"nimh", &nickel, 10, 1.2, 1.45};

double volts_at(const Kind& kind, double charge) {
    if (charge < 0)
        return std::max(0.0, kind.curve->front() + charge * kind.under_empty);
    if (charge > 1)
        return kind.curve->back() + (charge - 1) * kind.over_full;
    const double at = charge * 10;
    const auto i = std::min<std::size_t>(9, static_cast<std::size_t>(at));
    const double part = at - static_cast<double>(i);
    return (*kind.curve)[i] * (1 - part) + (*kind.curve)[i + 1] * part;
}

// One cell in series with its siblings, or so many in parallel that act as one.
struct Cell {
    double holds = 1;  // against a new one
    double ohm = 1;    // against a new one
    double charge = 0; // Ah against a new one's capacity, so that equal currents take equal amounts
    double leaks = 0;  // of a new one's capacity a day
    bool dead = false;
    double dead_v = 0;
    bool reversed = false;
    [[nodiscard]] double volts(const Kind& kind) const {
        if (dead)
            return dead_v;
        return (reversed ? -1 : 1) * volts_at(kind, charge / holds);
    }
};

struct Group {
    std::vector<Cell> cells; // in series
    double joint_ohm = 0;    // against a new cell's resistance
    double error_v = 0;      // of its reading
};

class Maker {
public:
    Maker(Shop shop, std::uint64_t seed) : shop_(shop), random_(seed * 7919 + static_cast<std::uint64_t>(shop)) {}

    Case make() {
        do {
            case_ = {};
            groups_.clear();
            choose_pack();
            fill();
            choose_faults();
            live();
            read();
            std::sort(case_.faults.begin(), case_.faults.end());
        } while (!shows());
        return case_;
    }

private:
    double uniform(double from, double to) { return std::uniform_real_distribution<>(from, to)(random_); }
    double normal(double sd) { return std::normal_distribution<>(0, sd)(random_); }
    int whole(int from, int to) { return std::uniform_int_distribution<>(from, to)(random_); }
    bool chance(double p) { return uniform(0, 1) < p; }

    void choose_pack() {
        kind_ = &nmc;
        switch (shop_) {
        case Shop::small_packs:
            case_.series = whole(5, 10);
            case_.parallel = whole(1, 3);
            case_.resolution_v = chance(0.6) ? 0.01 : 0.001;
            break;
        case Shop::modules:
            kind_ = &nimh;
            case_.series = whole(14, 40);
            case_.cells_per_unit = 6;
            case_.resolution_v = chance(0.7) ? 0.1 : 0.01;
            break;
        case Shop::harvest:
            case_.series = whole(7, 14);
            case_.parallel = whole(2, 8);
            case_.resolution_v = chance(0.5) ? 0.01 : 0.001;
            break;
        case Shop::careful:
            if (chance(0.3))
                kind_ = &lfp;
            case_.series = whole(4, 13);
            case_.parallel = whole(1, 5);
            case_.resolution_v = 0.001;
            break;
        case Shop::hire:
            kind_ = chance(0.6) ? &nimh : &lfp;
            case_.series = kind_ == &nimh ? whole(4, 10) : whole(4, 8);
            case_.parallel = kind_ == &nimh ? 1 : whole(1, 3);
            case_.resolution_v = chance(0.5) ? 0.01 : 0.001;
            break;
        case Shop::depot:
            kind_ = &nickel_rich;
            case_.series = whole(10, 16);
            case_.parallel = whole(1, 6);
            case_.resolution_v = chance(0.5) ? 0.01 : 0.001;
            break;
        }
        case_.chemistry = kind_->chemistry;
    }

    void fill() {
        const double worn = uniform(0.65, 0.98);
        const double apart = uniform(0.01, 0.04);
        for (int g = 0; g < case_.series; ++g) {
            Group group;
            for (int c = 0; c < case_.cells_per_unit; ++c) {
                Cell cell;
                cell.holds = std::clamp(worn + normal(apart), 0.4, 1.05);
                cell.ohm = std::pow(cell.holds, -1.6) * (1 + normal(0.06));
                cell.leaks = 0.0002 * std::exp(normal(0.5)) * (kind_ == &nimh ? 8 : 1);
                group.cells.push_back(cell);
            }
            groups_.push_back(std::move(group));
        }
    }

    [[nodiscard]] std::string draw_kind() {
        struct Share {
            const char* fault;
            double share;
        };
        static const std::vector<Share> mixes[shop_count] = {
            {{"dead-group", 0.34},
             {"imbalance", 0.27},
             {"leaking-cell", 0.13},
             {"weak-group", 0.10},
             {"all-discharged", 0.09},
             {"latched-board", 0.04},
             {"disconnected-cell", 0.03}},
            {{"dead-group", 0.40},
             {"weak-group", 0.26},
             {"leaking-cell", 0.22},
             {"sense-fault", 0.06},
             {"high-resistance-joint", 0.06}},
            {{"dead-group", 0.37},
             {"leaking-cell", 0.33},
             {"all-discharged", 0.12},
             {"disconnected-cell", 0.08},
             {"weak-group", 0.10}},
            {{"imbalance", 0.42},
             {"weak-group", 0.20},
             {"sense-fault", 0.14},
             {"high-resistance-joint", 0.14},
             {"leaking-cell", 0.10}},
            {{"weak-group", 0.30},
             {"dead-group", 0.22},
             {"leaking-cell", 0.22},
             {"imbalance", 0.14},
             {"high-resistance-joint", 0.12}},
            {{"leaking-cell", 0.26},
             {"imbalance", 0.24},
             {"dead-group", 0.20},
             {"weak-group", 0.14},
             {"high-resistance-joint", 0.08},
             {"disconnected-cell", 0.05},
             {"sense-fault", 0.03}},
        };
        double at = uniform(0, 1);
        for (const Share& share : mixes[static_cast<int>(shop_)]) {
            if (at < share.share)
                return share.fault;
            at -= share.share;
        }
        return mixes[static_cast<int>(shop_)].front().fault;
    }

    void choose_faults() {
        const double healthy[shop_count] = {0.04, 0.12, 0.06, 0.45, 0.25, 0.20};
        if (chance(healthy[static_cast<int>(shop_)]))
            return;
        const int kinds = chance(0.1) ? 2 : 1;
        for (int k = 0; k < kinds; ++k) {
            const std::string fault = draw_kind();
            if (std::any_of(case_.faults.begin(), case_.faults.end(), [&](const auto& f) { return f.first == fault; }))
                continue;
            if (fault == "all-discharged" || fault == "latched-board") {
                case_.faults.assign(1, {fault, {}});
                break;
            }
            const int most = std::max(1, std::min({6, case_.series / 2, shop_ == Shop::careful ? 2 : 6}));
            int count = 1;
            while (count < most && chance(shop_ == Shop::modules ? 0.55 : 0.33))
                ++count;
            if (fault == "sense-fault")
                count = 1;
            std::vector<int> groups;
            while (static_cast<int>(groups.size()) < count) {
                const int g = whole(1, case_.series);
                const auto taken = [&](int at) {
                    return std::find(groups.begin(), groups.end(), at) != groups.end() ||
                           std::any_of(case_.faults.begin(), case_.faults.end(), [&](const auto& f) {
                               return std::find(f.second.begin(), f.second.end(), at) != f.second.end();
                           });
                };
                if (taken(g))
                    continue;
                groups.push_back(g);
            }
            std::sort(groups.begin(), groups.end());
            case_.faults.emplace_back(fault, groups);
        }
    }

    [[nodiscard]] bool has(const char* fault) const {
        return std::any_of(case_.faults.begin(), case_.faults.end(), [&](const auto& f) { return f.first == fault; });
    }

    // What the faults do to the cells before the last charge.
    void wound(const std::string& fault, int number) {
        Group& group = groups_[static_cast<std::size_t>(number) - 1];
        Cell& one = group.cells[static_cast<std::size_t>(whole(0, case_.cells_per_unit - 1))];
        const double share = 1.0 / case_.parallel;
        if (fault == "weak-group" && shop_ == Shop::depot) { // resistance and capacity each as they like
            const double left = uniform(0.4, 0.82);
            const double stiffer = uniform(1.1, 4);
            for (Cell& cell : group.cells) {
                cell.holds *= left;
                cell.ohm *= stiffer;
            }
        } else if (fault == "weak-group") {
            const double left = uniform(0.35, 0.78);
            for (Cell& cell : group.cells) {
                cell.holds *= left;
                cell.ohm *= std::pow(left, -uniform(0.8, 2.0));
            }
        } else if (fault == "leaking-cell") {
            one.leaks = uniform(0.006, 0.05);
        } else if (fault == "disconnected-cell") {
            one.holds *= 1 - share;
            one.ohm /= 1 - share;
        } else if (fault == "high-resistance-joint") {
            group.joint_ohm = uniform(1.2, 6) * case_.cells_per_unit;
        }
    }

    // A leak takes so much a day, or, as through a resistance, a share of what is left.
    [[nodiscard]] double lost(const Cell& cell, double days) const {
        if (shop_ != Shop::depot)
            return cell.leaks * days;
        return std::max(0.0, cell.charge + 0.2) * (1 - std::exp(-1.3 * cell.leaks * days));
    }

    // Charged in series until the first group is full, used, left lying.
    void live() {
        for (auto& [fault, groups] : case_.faults) {
            if (fault == "disconnected-cell" && case_.parallel < 2)
                fault = "weak-group";
            for (const int g : groups)
                wound(fault, g);
        }
        std::vector<double> missing(groups_.size(), 0.0); // before the charge ended, of each group
        const double usual = uniform(0.002, 0.012);
        for (double& m : missing)
            m = std::fabs(normal(usual));
        for (const auto& [fault, groups] : case_.faults)
            if (fault == "imbalance") {
                const bool ahead = chance(0.6) && static_cast<int>(groups.size()) * 2 < case_.series;
                const double by = uniform(0.07, shop_ == Shop::careful ? 0.2 : 0.45);
                for (std::size_t g = 0; g < missing.size(); ++g) {
                    const bool named = std::find(groups.begin(), groups.end(), static_cast<int>(g) + 1) != groups.end();
                    if (named != ahead)
                        missing[g] += by;
                }
            }
        for (std::size_t g = 0; g < groups_.size(); ++g)
            for (Cell& cell : groups_[g].cells)
                cell.charge = cell.holds - missing[g];
        const double idle_days = uniform(20, 45); // since the groups stood level last
        for (Group& group : groups_)
            for (Cell& cell : group.cells)
                cell.charge -= std::min(0.9, lost(cell, idle_days));
        end_ = open_volts();
        double smallest = 1;
        for (const Group& group : groups_)
            for (const Cell& cell : group.cells)
                smallest = std::min(smallest, cell.charge);
        const double used = std::min(uniform(0.05, 0.75), std::max(0.0, smallest - 0.03));
        for (Group& group : groups_)
            for (Cell& cell : group.cells)
                cell.charge -= used;
        for (auto& [fault, groups] : case_.faults)
            for (const int g : groups) {
                Group& group = groups_[static_cast<std::size_t>(g) - 1];
                if (fault == "dead-group") {
                    if (case_.cells_per_unit > 1) {
                        Cell& one = group.cells[static_cast<std::size_t>(whole(0, case_.cells_per_unit - 1))];
                        one.dead = true;
                        one.dead_v = uniform(0, 0.35);
                    } else {
                        const double most = kind_ == &nimh ? 0.85 : 1.95;
                        group.cells[0].dead = true;
                        group.cells[0].dead_v = chance(0.5) ? uniform(0, 0.4) : uniform(0.4, most);
                    }
                } else if (fault == "sense-fault") {
                    const double by = (chance(0.5) ? 1 : -1) * std::exp(uniform(std::log(0.08), std::log(1.2))) *
                                      case_.cells_per_unit;
                    group.error_v = by;
                }
            }
        if (has("all-discharged")) {
            const double about = uniform(0.2, 1.6);
            for (Group& group : groups_)
                for (Cell& cell : group.cells) {
                    cell.dead = true;
                    cell.dead_v = std::clamp(about + normal(0.35), 0.0, 1.95);
                }
        }
        // A sense lead between two groups takes from one what it gives to the other.
        if (has("sense-fault"))
            for (auto& [fault, groups] : case_.faults)
                if (fault == "sense-fault" && chance(0.6)) {
                    const int g = groups.front();
                    const int other = g < case_.series ? g + 1 : g - 1;
                    const bool free = std::none_of(case_.faults.begin(), case_.faults.end(), [&](const auto& f) {
                        return f.first != "sense-fault" &&
                               std::find(f.second.begin(), f.second.end(), other) != f.second.end();
                    });
                    if (free) {
                        groups_[static_cast<std::size_t>(other) - 1].error_v =
                            -groups_[static_cast<std::size_t>(g) - 1].error_v;
                        groups = {std::min(g, other), std::max(g, other)};
                    }
                }
    }

    [[nodiscard]] std::vector<double> open_volts() const {
        std::vector<double> out;
        for (const Group& group : groups_) {
            double sum = 0;
            for (const Cell& cell : group.cells)
                sum += cell.volts(*kind_);
            out.push_back(sum);
        }
        return out;
    }

    double shown(double volts) {
        const double read = volts * gain_ + offset_ + normal(0.0006);
        return std::round(read / case_.resolution_v) * case_.resolution_v;
    }

    std::vector<Reading> as_read(const std::vector<double>& volts, const char* condition, double amperes, double days) {
        std::vector<Reading> out;
        for (std::size_t g = 0; g < volts.size(); ++g)
            out.push_back({static_cast<int>(g) + 1, condition, shown(volts[g] + groups_[g].error_v), amperes, days});
        return out;
    }

    void read() {
        gain_ = 1 + normal(0.0008);
        offset_ = normal(0.0008);
        // Not yet at rest: what is left of the sag falls as a power of the hours, more in the warm middle.
        const bool hasty = shop_ == Shop::depot;
        const double hours = hasty ? uniform(0.3, 8) : uniform(1, 30);
        const double left = uniform(0, hasty ? 0.03 : 0.02) * std::pow(hours, -0.6) * (chance(0.5) ? 1 : -1);
        const double warm = uniform(0, 0.0015);
        std::vector<double> rest = open_volts();
        for (std::size_t g = 0; g < rest.size(); ++g) {
            const double middle =
                1 - std::fabs(2.0 * static_cast<double>(g) / static_cast<double>(rest.size() - 1) - 1);
            if (!groups_[g].cells[0].dead)
                rest[g] += (left * groups_[g].cells[0].ohm + warm * middle) * case_.cells_per_unit;
        }
        case_.rest = as_read(rest, "rest", 0, 0);
        call_dead_what_is_dead(rest);
        const double sum = std::accumulate(rest.begin(), rest.end(), 0.0);
        case_.terminals_v =
            shown(has("latched-board") ? (chance(0.7) ? uniform(0, 0.6) : uniform(0.2, 0.8) * sum) : sum);
        further(rest);
    }

    // Whatever brought a lithium group under 2.0 V a cell, or a nickel cell by itself under 0.9 V: at rest it is a dead
    // group, and called so.
    void call_dead_what_is_dead(const std::vector<double>& rest) {
        if (has("all-discharged"))
            return;
        const bool single_nickel = kind_ == &nimh && case_.cells_per_unit == 1;
        const double dead_below_v = single_nickel ? 0.9 : 2.0;
        constexpr double dead_cell_v = 0.5; // a nickel cell of a module

        std::vector<int> dead;
        for (auto& [fault, groups] : case_.faults)
            if (fault != "sense-fault")
                std::erase_if(groups, [&](int g) {
                    const auto at = static_cast<std::size_t>(g) - 1;
                    bool is = (kind_ != &nimh || single_nickel) && rest[at] < dead_below_v;
                    for (const Cell& cell : groups_[at].cells)
                        is = is || (kind_ == &nimh && cell.volts(*kind_) < dead_cell_v);
                    if (is)
                        dead.push_back(g);
                    return is;
                });
        if (dead.empty())
            return;
        std::erase_if(case_.faults, [](const auto& f) { return f.second.empty(); });
        std::sort(dead.begin(), dead.end());
        case_.faults.emplace_back("dead-group", dead);
    }

    // A pack comes to the bench because something shows: each group with a fault stands apart in one of its readings.
    [[nodiscard]] bool shows() const {
        std::vector<bool> bad(groups_.size());
        for (const auto& [fault, groups] : case_.faults)
            for (const int g : groups)
                bad[static_cast<std::size_t>(g) - 1] = true;
        const double least = std::max(2.5 * case_.resolution_v, 0.012 * case_.cells_per_unit);
        std::vector<bool> seen(groups_.size());
        for (const auto* readings : {&case_.rest, &case_.further}) {
            std::vector<double> sound;
            for (const Reading& r : *readings)
                if (!bad[static_cast<std::size_t>(r.group) - 1])
                    sound.push_back(r.volts);
            if (sound.empty())
                continue;
            std::nth_element(sound.begin(), sound.begin() + static_cast<std::ptrdiff_t>(sound.size() / 2), sound.end());
            for (const Reading& r : *readings)
                if (std::fabs(r.volts - sound[sound.size() / 2]) > least)
                    seen[static_cast<std::size_t>(r.group) - 1] = true;
        }
        for (std::size_t g = 0; g < bad.size(); ++g)
            if (bad[g] && !seen[g])
                return false;
        return true;
    }

    void further(const std::vector<double>& rest) {
        const bool dead = has("dead-group") || has("all-discharged");
        const int which = dead && kind_ != &nimh ? 2 : whole(0, 2);
        const std::vector<Group> before = groups_;
        if (which == 0)
            case_.further = under_load(rest);
        else if (which == 1 && !dead)
            case_.further = at_end_of_charge();
        else
            case_.further = after_days(std::exp(uniform(std::log(2), std::log(30))));
        // The other kinds, of the same pack, by chances of their own: the case itself stays what it was.
        const std::mt19937_64 kept = random_;
        const std::vector<Group> after = groups_;
        groups_ = before;
        if (!dead || kind_ == &nimh)
            case_.load = under_load(rest);
        if (!dead)
            case_.end_of_charge = at_end_of_charge();
        case_.stored = after_days(7);
        groups_ = after;
        random_ = kept;
    }

    std::vector<Reading> under_load(const std::vector<double>& rest) {
        const double sag = uniform(0.03, 0.12);
        std::vector<double> load = rest;
        for (std::size_t g = 0; g < load.size(); ++g) {
            for (const Cell& cell : groups_[g].cells) {
                // A cell that is empty altogether is driven under zero, but no further than its resistance does it.
                const double emptiness = std::clamp(0.12 - cell.charge / cell.holds, 0.0, 0.12) / 0.12;
                load[g] -= cell.dead ? uniform(0, 0.2) : sag * cell.ohm * (1 + 2.2 * emptiness * emptiness);
            }
            load[g] -= sag * groups_[g].joint_ohm;
        }
        return as_read(load, "load", -2.0, 0);
    }

    std::vector<Reading> at_end_of_charge() {
        std::vector<double> end = end_;
        for (std::size_t g = 0; g < end.size(); ++g)
            end[g] += uniform(0.0, 0.004) * case_.cells_per_unit;
        return as_read(end, "end-of-charge", 0, 0);
    }

    std::vector<Reading> after_days(double days) {
        std::vector<double> stored;
        for (Group& group : groups_) {
            double sum = 0;
            for (Cell& cell : group.cells) {
                cell.charge -= lost(cell, days);
                cell.dead_v *= uniform(0.85, 1.0);
                sum += cell.volts(*kind_);
            }
            stored.push_back(sum);
        }
        return as_read(stored, "stored", 0, days);
    }

    Shop shop_;
    std::mt19937_64 random_;
    Case case_;
    const Kind* kind_ = &nmc;
    std::vector<Group> groups_;
    std::vector<double> end_; // volts when the charge ended
    double gain_ = 1, offset_ = 0;
};

} // namespace

const char* name(Shop shop) {
    constexpr std::array<const char*, shop_count> names{"small packs", "modules", "harvest",
                                                        "careful",     "hire",    "depot"};
    return names[static_cast<std::size_t>(shop)];
}

Case make(Shop shop, std::uint64_t seed) {
    return Maker(shop, seed).make();
}

} // namespace shops
