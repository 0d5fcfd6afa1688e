// Practice packs with hidden faults, dealt by level and seed: the same deal on any bench. The cells here are not the
// explanation engine's: curve, sag and relaxation are this file's own, so that the engine has to find them like
// anybody. All figures are made up.
#pragma once

#include "core/cells/problem.h"
#include "core/triage/explain.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

class Random;

// What the learner may measure, in the order of the cards.
enum class PracticeMeasure {
    rest_round,
    terminals,
    load_round,
    end_of_charge,
    after_storage, // a week later
    swap_lead,     // of one group
    unit_voltages, // of one group, links cut
    look_inside,
};
inline constexpr int practice_measure_count = 8;
[[nodiscard]] bool about_one_group(PracticeMeasure measure);

// As in life, roughly; common practice, no source.
struct MeasureCost {
    double hands_min = 0;
    double wait_h = 0;
    int risk = 0; // 0..3
};
[[nodiscard]] MeasureCost cost_of(PracticeMeasure measure, const PackLayout& layout);

struct HiddenFault {
    Fault fault = Fault::healthy;
    int group = 0; // from 1; 0: the whole pack
};

// A case of an instructor's own. The cells are dealt like any others; what is wrong is said.
struct OwnDeal {
    std::string title; // stands where the number of a deal stands
    PackLayout layout{7, 4, 1};
    double capacity_ah = 0; // as its label says, > 0
    int weeks_stored = 4;
    double resolution_v = 0.001;
    int seed = 0;          // of what is left to chance
    int misread_group = 0; // one figure of the rest round is misread there; 0: none
    struct Own {
        HiddenFault fault;
        double size = 1; // 0 slight .. 1 plain
    };
    std::vector<Own> faults; // empty: nothing is wrong
};

inline constexpr int practice_levels = 5;
inline constexpr int practice_seeds = 10'000;

class PackDeal {
public:
    // Level 1: one plain fault; 2: one slight; 3: two; 4: two, a coarse meter and one figure misread; 5: a large pack
    // whose log is known. Level 1..5, seed 0..9999, else std::invalid_argument.
    PackDeal(int level, int seed);
    // Throws std::invalid_argument where own_deal_objection has one.
    explicit PackDeal(const OwnDeal& own);

    [[nodiscard]] int level() const { return level_; }
    [[nodiscard]] int seed() const { return seed_; }
    [[nodiscard]] std::string number() const; // "3-4172"; of an own case its title
    [[nodiscard]] bool own() const { return !title_.empty(); }
    [[nodiscard]] const PackLayout& layout() const { return layout_; }
    [[nodiscard]] double capacity_ah() const { return capacity_ah_; } // as its label says
    [[nodiscard]] int weeks_stored() const { return weeks_; }
    [[nodiscard]] double load_a() const;
    [[nodiscard]] const std::vector<HiddenFault>& truth() const { return truth_; } // by group; empty: nothing is wrong
    // Known from the start, at no cost.
    [[nodiscard]] std::vector<PracticeMeasure> given() const;
    // Adds what the measure reads to `known`; `group` where it is about one. The same whenever it is taken.
    void take(PracticeMeasure measure, int group, TriageCase& known) const;
    // What is seen with the case open: groups with a joint that is plainly bad. Not every bad joint is seen.
    [[nodiscard]] std::vector<int> seen_inside() const;
    // A group so low that load or charge would harm it.
    [[nodiscard]] bool under_floor() const;

private:
    struct Group {
        double holds = 1;      // of its rating
        double ohm = 1;        // of a sound group's
        double charge = 0.6;   // of what it holds
        double leaks = 0.0002; // of its rating a day
        double joint = 0;      // of a sound group's resistance
        double lead_v = 0;     // its sense lead reads so much wrong
        bool loose_unit = false, dead = false, joint_seen = false;
        double dead_v = 0;
    };
    void deal_groups(double used, double worn, Random& random);
    void lie_for_weeks();
    void hide(Fault fault, Group& group, double size, double hard, double used, Random& random) const;
    [[nodiscard]] double rest_v(const Group& group, double charge) const;
    [[nodiscard]] double shown(double volts, PracticeMeasure measure, int group) const;
    void read_end_of_charge(TriageCase& known) const;
    void read_units(int group, TriageCase& known) const;
    [[nodiscard]] double chance(std::uint64_t what, std::uint64_t which) const; // (0, 1], always the same

    int level_, seed_;
    std::string title_;
    PackLayout layout_;
    double capacity_ah_ = 0;
    int weeks_ = 0;
    double resolution_v_ = 0.001;
    int misread_group_ = 0;
    bool latched_ = false;
    std::vector<Group> groups_;
    std::vector<HiddenFault> truth_;
};

// Why such a case cannot be dealt, with the remedy; nothing: it can. A fault of one group names one of the pack's, the
// board's fault none; no group has two.
[[nodiscard]] std::optional<Problem> own_deal_objection(const OwnDeal& own);

// A unit at rest among its siblings, read day after day: does it leak?
class LeakDeal {
public:
    LeakDeal(int level, int seed);
    [[nodiscard]] static int days_most() { return 30; }
    [[nodiscard]] int siblings() const { return static_cast<int>(leak_v_per_day_.size()); }
    [[nodiscard]] int asked() const { return asked_; } // 0-based
    [[nodiscard]] double limit_v_per_day() const { return limit_; }
    [[nodiscard]] double resolution_v() const { return resolution_; }
    [[nodiscard]] bool leaks() const;
    // V, all siblings, on that day from the first reading on (0 first).
    [[nodiscard]] double read(int unit, int day) const;

private:
    int level_, seed_;
    int asked_ = 0;
    double limit_ = 0.0015, resolution_ = 0.001;
    std::vector<double> leak_v_per_day_, start_v_, settles_v_, pace_;
};

// A module that is cycled: will it ever reach what is wanted?
class CyclingDeal {
public:
    CyclingDeal(int level, int seed);
    [[nodiscard]] static int cycles_most() { return 16; }
    [[nodiscard]] double rated_ah() const { return 6.5; }
    [[nodiscard]] double wanted_ah() const { return wanted_; }
    [[nodiscard]] double capacity_ah(int cycle) const; // 1..cycles_most
    [[nodiscard]] bool reaches() const;

private:
    std::vector<double> capacity_;
    double wanted_ = 0;
};

} // namespace ingot
