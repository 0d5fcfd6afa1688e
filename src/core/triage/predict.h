// Inside the explanation engine: the readings sorted into rounds, and what each fault predicts for a group's readings.
#pragma once

#include "core/triage/explain.h"

#include <array>
#include <optional>
#include <vector>

namespace ingot::triage_detail {

inline constexpr std::size_t most_rounds = 5;                   // of one group, in one evaluation
inline constexpr std::size_t most_values = 2 * most_rounds + 1; // two groups and the terminals

inline constexpr double smoothing = 0.35;      // share of the gap between two grid points that blurs each
inline constexpr double days_since_level = 30; // since the groups last stood level; common practice, no source
inline constexpr double shows_nowhere = 4;     // log units: a fault that stands out in no reading is hardly named

// All readings taken under one condition.
struct Round {
    Condition condition = Condition::rest;
    double days = 0;
    std::optional<double> current_a;
    std::vector<std::optional<double>> volts; // by group, 0-based
    std::vector<bool> confirmed;              // read twice alike: no slip of hand or eye
    std::vector<double> resolutions;          // of the last written digits; 0: finer than the meter's error
    double resolution_v = 0;                  // their middle
};

// The middle of the sound groups in one round, and how far it can be trusted.
struct Reference {
    double volts = 0;
    double inflation = 1; // factor on a group's variance: the reference itself is uncertain
    double extra_sd = 0;  // where it had to be borrowed from another round
    bool known = false;
};

// How much wider than usual this pack's sound groups lie: in charge and capacity, and in resistance.
struct Looseness {
    double charge = 1;
    double resistance = 1;
};

// What moves several readings together: one number for each reading.
using Factor = std::array<double, most_values>;

// One severity of a fault in one group (or a pair): expected distance from the reference for each reading, and how the
// readings vary together about it. Fixed arrays: thousands of these are weighed for one answer.
struct Severity {
    double log_weight = 0;
    double amount = 0;
    std::size_t size = 0; // readings
    Factor mean{};
    Factor blur{}; // what is not known of the fault's size moves all readings together
    std::array<double, most_values*(most_values + 1) / 2> covariance{}; // lower triangle, without the blur

    static std::size_t at(std::size_t row, std::size_t column) { return row * (row + 1) / 2 + column; }
    void add_factor(const Factor& factor);
};

// The OCV curve of one cell, continued past full and past empty.
class LongOcv {
public:
    explicit LongOcv(const Chemistry& chemistry);
    LongOcv(const LongOcv&) = delete;
    [[nodiscard]] double volts(double charge) const;
    [[nodiscard]] double charge(double volts) const;
    [[nodiscard]] double slope(double charge) const; // V per unit of charge, over a window of 2 %

private:
    [[nodiscard]] double exact(double charge) const;

    const OcvCurve* curve_;
    double top_slope_, bottom_slope_;
    std::vector<double> table_; // volts at even steps of charge: it is asked for very often
};

// Reads one group's (or pair's) readings in the order of `rounds` where that group has one.
class Predictor {
public:
    // Keeps references to the first five.
    Predictor(const TriageCase& pack, const Chemistry& chemistry, const TriageKnowledge& knowledge, const LongOcv& ocv,
              const std::vector<Round>& rounds, std::vector<Reference> references, Looseness looseness);

    // Rounds (by index) a group's readings are taken from, as given to the calls below.
    using Taken = std::vector<std::size_t>;
    [[nodiscard]] std::vector<Severity> healthy(const Taken& taken) const;
    // Every group's charge spread by `charge_sd`.
    [[nodiscard]] std::vector<Severity> spread(const Taken& taken, double charge_sd) const;
    // For one group. Sense faults: `read_low` true gives the group that reads low by `amount`.
    [[nodiscard]] std::vector<Severity> fault(Fault fault, const Taken& taken) const;
    // Out of balance, in steps so close that groups which share one amount can be told from groups that do not.
    [[nodiscard]] std::vector<Severity> moved_together(const Taken& taken) const;
    // Two neighbours whose errors cancel: readings of the first, then of the second.
    [[nodiscard]] std::vector<Severity> sense_pair(const Taken& first, const Taken& second) const;

    // Readings under the deep-discharge limit. `x` as for log_density.
    [[nodiscard]] int deep_readings(const Taken& taken, const std::vector<double>& x) const;
    // Whatever brought a group under the deep-discharge limit at rest, it is called dead.
    // A group that took charge, or stood higher before it was stored, can be dead by leaking: it stays a leak.
    [[nodiscard]] bool held_charge(const Taken& taken, const std::vector<double>& x) const;
    [[nodiscard]] bool under_deep(const Taken& taken, const std::vector<double>& x) const;

    [[nodiscard]] const std::vector<Reference>& references() const { return references_; }
    [[nodiscard]] double reference(std::size_t round) const { return references_[round].volts; }

private:
    struct Latent {
        double charge = 0;             // state of charge against the siblings, at rest
        double of_cells = 0;           // that move so; 0: all in series
        double charge_at_end = 0;      // at the end of charge
        double charge_at_end_sd = 0;   // what is not known of it
        double per_day = 0;            // charge lost a day while stored
        double sag = 0;                // sag beyond the siblings', relative
        double sag_sd = 0;             // what is not known of it
        double joint_v = 0;            // sag in a joint, V
        std::optional<double> level_v; // the group's own voltage, where it does not follow the siblings at all
        int odd = 0;                   // cells of a module that do not; the others sag as their siblings do
        double offset_v = 0;           // error of the measuring side
        double level_load_sd = 0, level_end_sd = 0;
        bool holds_less = false;     // a measured capacity would show it
        bool spread_counted = false; // `charge` already stands for the usual spread
        double siblings_at_end = 0;  // charge by which these are fuller at the end than their voltage tells
    };
    struct Paths;
    [[nodiscard]] Latent at_level(double volts, int odd) const;
    void dead_group(Paths& paths) const;
    void leaking_cell(Paths& paths) const;
    void weak_group(Paths& paths) const;
    void disconnected_cell(Paths& paths) const;
    void imbalance(Paths& paths, int steps) const; // from the least to the most, either way
    void sense_fault(Paths& paths) const;
    void high_resistance_joint(Paths& paths) const;
    void reversed_unit(Paths& paths) const;
    // `capacity_sd`: of the charge at rest, by unlike capacities; at the end of a charge nothing of it is missing.
    void spread_into(std::vector<Severity>& list, const Taken& taken, double charge_sd, double capacity_sd,
                     double weight) const;
    [[nodiscard]] double expected(const Latent& latent, std::size_t round) const;
    [[nodiscard]] Severity severity(const Latent& latent, const Taken& taken, double charge_sd) const;
    // `chances`: of each step of the path against the others.
    void along(std::vector<Severity>& list, const std::vector<Latent>& path, const Taken& taken,
               const std::vector<double>& amounts, const std::vector<double>& chances, double weight) const;
    [[nodiscard]] double sag(std::size_t round) const;
    // What a severity does to no reading more than this, nobody sees: such a fault is not named.
    [[nodiscard]] bool visible(const Severity& severity, const Taken& taken) const;
    [[nodiscard]] double usual_leak_per_day() const;
    // How far sound cells' charges lie apart by what leaves them while they stand, which a charge in series leaves as
    // it is; and a group's from its siblings', by that and as they were put together.
    [[nodiscard]] double unlike_leaks() const;
    [[nodiscard]] double usual_charge_sd() const;
    [[nodiscard]] double flatness(double charge) const;
    [[nodiscard]] double charge_of(std::size_t round) const;
    // Charge missing against the siblings, from little to `most`, or to where a cell falls under the deep-discharge
    // limit: there use and leakage end.
    [[nodiscard]] std::vector<double> losses(double from, double most, int count) const;
    [[nodiscard]] double deepest_loss() const;
    // Where the curve is flat the siblings' voltage leaves open how full they were at the end of charge: what they may
    // have held beyond what it tells.
    [[nodiscard]] std::vector<double> siblings_at_end(const Taken& taken) const;
    // What the cells of a group whose own voltage is `level_v` show that do not follow its siblings, V.
    [[nodiscard]] double odd_cells_v(const Latent& latent) const;

    const TriageCase& pack_;
    const Chemistry& chemistry_;
    const TriageKnowledge& knowledge_;
    const std::vector<Round>& rounds_;
    std::vector<Reference> references_;
    const LongOcv& ocv_;
    std::vector<double> charges_;
    double rest_v_ = 0; // reference at rest, or the nearest to it
    double cells_;
    Looseness looseness_;
};

// Log density of `x` under a severity (multivariate normal), without its weight.
[[nodiscard]] double log_density(const Severity& severity, const std::vector<double>& x);
// Mean and variance of the last reading given the others before it.
struct Conditional {
    double mean = 0;
    double variance = 0;
};
[[nodiscard]] Conditional conditional_last(const Severity& severity, const std::vector<double>& x);
[[nodiscard]] double log_sum(const std::vector<double>& logs);

} // namespace ingot::triage_detail
