// Many packs of one kind with dead groups: which groups move where so that most packs live, least is moved, and each
// rebuilt pack is matched. See docs/methods/donors.md.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/problem.h"

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace ingot {

// One group of a pack in the shop. Volts at rest over its cells in series.
struct DonorGroup {
    std::string pack;
    int group = 0; // its place in the pack, from 1
    double voltage_v = 0;
    std::optional<double> capacity_ah;
    std::string model; // empty: not known
};

struct DonorRules {
    double least_capacity_share = 0.7;        // of the median of the known capacities; under it a group is not good
    std::optional<double> voltage_window_v;   // within a rebuilt pack, highest minus lowest, V
    std::optional<double> capacity_tolerance; // highest over lowest minus one; groups of unknown capacity fit
    bool one_model = false;                   // never two models in one pack; unknown counts as a model of its own
    int cells_per_unit = 1;
    std::set<std::string> never_host;  // they give groups and are not rebuilt: another layout, a dead board
    std::set<std::string> hosts_first; // where a choice is left, these are rebuilt: their boards are sound
    [[nodiscard]] bool windows() const { return voltage_window_v || capacity_tolerance || one_model; }
};

struct PlacedGroup {
    int position = 0;     // in the rebuilt pack
    std::size_t from = 0; // index into the groups
};
struct RebuiltPack {
    std::string pack;
    std::vector<PlacedGroup> groups; // by position
};

struct DonorPlan {
    std::vector<RebuiltPack> packs;    // complete good packs at the end, whole ones included, in the order of the input
    int bound = 0;                     // no plan rebuilds more: good groups over groups needed, and hosts
    bool proved = false;               // no plan rebuilds more, and none of as many moves less
    int moved = 0;                     // groups that end in another pack than they began in
    std::vector<bool> good;            // by group
    std::vector<std::size_t> leftover; // good groups that no rebuilt pack needs
    [[nodiscard]] int packs_rebuilt() const { return static_cast<int>(packs.size()); }
};

// Asked now and then; false stops with the best plan so far.
using DonorObserver = std::function<bool()>;

// Deterministic unless the observer stops it. Problems: no groups, a group that stands twice, and, with windows, packs
// of unequal size.
[[nodiscard]] Result<DonorPlan> plan_donors(const std::vector<DonorGroup>& groups, const Chemistry& chemistry,
                                            const DonorRules& rules = {}, const DonorObserver& observer = {});

// What a further pack of this kind would bring, if it is as those at hand are.
struct DonorForecast {
    double packs_each = 0; // rebuilt by each further one, in the long run
    int until_next = 0;    // so many further ones until the next one lives; 0: never
};
// `series`: groups of a pack that is rebuilt. Counts only packs that may host.
[[nodiscard]] DonorForecast forecast_donors(const std::vector<DonorGroup>& groups, const DonorPlan& plan,
                                            const DonorRules& rules, int series);

} // namespace ingot
