// Inside the explanation engine: hypotheses (one fault, or a few together), each weighed by all the evidence.
#pragma once

#include "core/triage/predict.h"

#include <algorithm>
#include <array>
#include <map>
#include <memory>
#include <set>
#include <tuple>
#include <vector>

namespace ingot::triage_detail {

inline constexpr double never = 20; // log units: what cannot be

// One fault in its place. `groups` 0-based, rising; empty for the whole pack.
struct Part {
    Fault fault = Fault::healthy;
    std::vector<int> groups;
    bool whole_pack_spread = false; // imbalance of all groups; `groups` names the one that leads
    friend bool operator<(const Part& a, const Part& b) {
        return std::tie(a.fault, a.groups, a.whole_pack_spread) < std::tie(b.fault, b.groups, b.whole_pack_spread);
    }
    friend bool operator==(const Part&, const Part&) = default;
};

// One figure that is not what the meter showed.
struct Slip {
    int group = 0; // 0-based
    std::size_t round = 0;
    friend bool operator==(const Slip&, const Slip&) = default;
    friend bool operator<(const Slip& a, const Slip& b) {
        return std::tie(a.group, a.round) < std::tie(b.group, b.round);
    }
};

struct Hypothesis {
    std::vector<Part> parts; // empty: healthy
    double log_weight = 0;
    bool unnamed = false;        // something else
    std::optional<Slip> misread; // healthy, but for this figure
    [[nodiscard]] std::vector<int> faulted() const;
};

// Predictions, and sound groups' densities, against one set of references. Shared by all sets of faulted groups whose
// sound groups have the same middle.
struct Frame {
    std::unique_ptr<Predictor> predictor;
    std::vector<double> plain;                // log density of each group as a sound one
    std::vector<std::vector<double>> slipped; // the same with one figure misread, for each of its readings in order
    std::vector<double> robust;               // the same, with the chance of that
    std::map<Part, double> part_logs;
    std::map<int, std::vector<double>> moved_logs; // by group: how well each amount of imbalance fits it
    // What a fault predicts is the same for all groups that were read alike.
    std::map<std::pair<Fault, std::vector<std::size_t>>, std::vector<Severity>> predicted;
    std::map<std::vector<std::size_t>, std::vector<Severity>> moved;
    [[nodiscard]] const std::vector<Severity>& of(Fault fault, const std::vector<std::size_t>& taken);
    [[nodiscard]] const std::vector<Severity>& moved_by(const std::vector<std::size_t>& taken);
};

// What tells one set of references from another, for a key.
inline void add_levels(std::vector<double>& key, const std::vector<Reference>& references) {
    for (const Reference& r : references) {
        key.push_back(r.volts);
        key.push_back(r.inflation);
    }
}

[[nodiscard]] inline bool touches(const Part& part, int group) {
    return std::find(part.groups.begin(), part.groups.end(), group) != part.groups.end();
}

// The frame when the given groups are taken out of the middle.
struct Context {
    Frame* frame = nullptr;
    double robust_sum = 0; // over the sound groups
    [[nodiscard]] const Predictor& predictor() const { return *frame->predictor; }
};

// A reading that was not taken yet.
struct Prospect {
    Condition condition = Condition::rest;
    double days = 0;
};

// What each fault predicts for a reading that was not taken yet, beside those that were.
struct Outlook {
    std::vector<Round> rounds; // the last is the one to come
    std::unique_ptr<Predictor> predictor;
    std::map<std::tuple<std::optional<Fault>, bool, std::vector<std::size_t>>, std::vector<Severity>> predicted;
    // `part`: what is wrong with the group; null: nothing.
    [[nodiscard]] const std::vector<Severity>& of(const Part* part, const std::vector<std::size_t>& taken);
};

// What is expected of a pack's bad groups before anything is read, as logs: asked for thousands of sets.
struct Expected {
    // Shares of bad groups that packs come with, and how often.
    struct Share {
        double bad, log_bad, log_sound, log_weight;
    };
    std::array<Share, 5> shares{};
    std::array<double, fault_count> leads{};                          // by the fault that leads in a pack
    std::array<std::array<double, fault_count>, fault_count> under{}; // by that, and by the fault of a bad group
    double log_some = 0; // of packs that have a bad group, against those that such shares leave without one
    Expected(const TriageKnowledge& knowledge, int series);
    // Of a part of a pack where `theme` leads; of a sense fault, as a pair or as one.
    [[nodiscard]] double log_of(const Part& part, Fault theme) const;
};

class Posterior {
public:
    Posterior(const TriageCase& pack, const Chemistry& chemistry, const TriageKnowledge& knowledge);
    Posterior(const Posterior&) = delete;

    [[nodiscard]] const std::vector<Hypothesis>& hypotheses() const { return hypotheses_; } // normalised, best first
    [[nodiscard]] const std::vector<Round>& rounds() const { return rounds_; }
    [[nodiscard]] const std::vector<int>& disagreeing() const { return disagreeing_; }
    [[nodiscard]] int series() const { return pack_.layout.series; }
    [[nodiscard]] const TriageCase& pack() const { return pack_; }
    [[nodiscard]] const Chemistry& chemistry() const { return chemistry_; }
    [[nodiscard]] const TriageKnowledge& knowledge() const { return knowledge_; }
    [[nodiscard]] std::optional<double> terminal_shift() const { return terminal_shift_; }
    [[nodiscard]] double terminal_sd() const { return terminal_sd_; }

    Context& context(const std::vector<int>& faulted);
    // Severities of a part with their logs (weight and density together), readings as taken.
    struct Weighed {
        std::vector<Severity> severities;
        std::vector<double> logs;
        std::vector<std::size_t> taken; // rounds in order of the readings, group after group
        std::vector<double> x;
    };
    [[nodiscard]] Weighed weigh(const Part& part, const Context& context) const;
    // How much better a part explains its groups than soundness does.
    [[nodiscard]] double gain(const Part& part, Context& context) const;

    // Mixture of normals for a prospective reading of `group` under a hypothesis: distance from the siblings' middle.
    struct Component {
        double weight, mean, sd;
    };
    [[nodiscard]] std::vector<Component> foresee(const Hypothesis& hypothesis, int group, const Prospect& prospect);

private:
    void sort_readings();
    Frame& frame(std::vector<Reference> references, Looseness looseness);
    void estimate_looseness();
    void search();
    // --- fault_sets.cpp ---
    struct Options; // what each group may be, weighed against one level of the sound ones
    [[nodiscard]] Options options_at(const std::vector<int>& faulted);
    [[nodiscard]] std::vector<Part> best_parts(const Options& options, double share_bad, Fault theme) const;
    using Proposed = std::map<std::vector<Part>, double>; // with their gains
    void propose(const Options& options, Proposed& proposed) const;
    void propose_moved_together(const Options& options, const Context& now, Proposed& proposed);
    [[nodiscard]] const std::vector<double>& moved_logs(int group, const Context& context) const;
    [[nodiscard]] double moved_together_log(const std::vector<const Part*>& parts, const Context& context) const;
    double parts_log(const std::vector<Part>& parts, const Context& context);
    [[nodiscard]] std::vector<std::vector<Part>> most_likely(const Proposed& proposed) const;
    [[nodiscard]] std::vector<std::vector<int>> starts() const; // sets of groups that may be the bad ones
    void add_for_the_whole_pack();
    [[nodiscard]] Hypothesis weighed(std::vector<Part> parts);
    [[nodiscard]] double level_log(const std::vector<int>& faulted) const;
    [[nodiscard]] double run_down_log() const;
    [[nodiscard]] bool still_read() const; // groups at rest or after storage
    double weight_of(Hypothesis& hypothesis);
    double part_log(const Part& part, const Context& context);
    [[nodiscard]] bool told_of(int group) const; // by more than its voltages
    [[nodiscard]] bool stands_out(const Part& part, const Context& context) const;
    [[nodiscard]] double log_but_for_a_slip(const Part& part, const Context& context, const Weighed& weighed) const;
    double prior_log(const std::vector<Part>& parts) const;
    double evidence_log(const std::vector<Part>& parts) const; // beside the voltages
    double terminal_log(const std::vector<Part>& parts) const;
    double units_log(const Part* part, int group) const;
    double temperature_log(const Part* part, int group) const;
    double capacity_log(const Part* part, int group) const;
    double resistance_log(const Part* part, int group) const;
    double alone_log(const Part* part) const; // of one group without siblings, against what is usual
    [[nodiscard]] bool refuses_charge() const;
    double spread_log();
    [[nodiscard]] std::vector<double> chances_to_lead(); // of the groups, when all are apart
    void add_slips_and_unnamed();
    [[nodiscard]] static std::vector<Component> merged(std::vector<Component> components);
    [[nodiscard]] Outlook& outlook(const std::vector<int>& faulted, const Prospect& prospect);
    [[nodiscard]] std::vector<std::size_t> taken(int group) const;
    void widen_by_digits(std::vector<Severity>& list, int group, const std::vector<std::size_t>& rounds,
                         std::size_t from) const;
    [[nodiscard]] std::vector<double> shifts(int group, const std::vector<std::size_t>& taken,
                                             const Predictor& predictor) const;
    [[nodiscard]] std::vector<Reference> references(const std::vector<int>& faulted,
                                                    const std::vector<Round>& rounds) const;

    const TriageCase& pack_;
    const Chemistry& chemistry_;
    const TriageKnowledge& knowledge_;
    Expected expected_;
    LongOcv ocv_;
    Looseness looseness_;
    double looseness_log_ = 0; // log of the chance that a pack is so loose in charge, its readings taken into account
    std::vector<Round> rounds_;
    std::vector<int> disagreeing_;
    std::optional<double> terminal_shift_;
    double terminal_sum_ = 0;
    double terminal_sd_ = 0.01;
    std::optional<double> spread_log_;            // the same whichever group leads
    bool slips_in_parts_ = false;                 // also in a faulted group one figure may be misread
    std::map<std::vector<double>, Frame> frames_; // by the references' volts and weights
    std::map<std::vector<int>, Context> contexts_;
    std::map<std::vector<double>, Outlook> outlooks_; // by the prospect and the references' volts and weights
    std::vector<Hypothesis> hypotheses_;
};

[[nodiscard]] std::optional<NextReading> settle(Posterior& posterior);

} // namespace ingot::triage_detail
