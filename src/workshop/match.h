// Match: which units may be used, what is known of them, and reserving them for a build.
#pragma once

#include "core/match/problem.h"
#include "workshop/service.h"
#include "workshop/wanted_builds.h"

namespace ingot {

struct PoolFilter {
    std::string chemistry;
    std::string model; // empty: any
    std::string tray;  // empty: any
    std::vector<Duty> duties;
    Id set = 0; // a matched set, and nothing else; 0: what belongs to none
};

// What is asked of a match, under a name of the shop's own. Pairs that are kept apart belong to units, and are not
// named.
struct NamedDemands {
    std::string name;
    MatchDemands demands;
};

class MatchService : public Service {
public:
    using Service::Service;

    [[nodiscard]] std::vector<Id> pool(const PoolFilter& filter) const;
    // Facts of these units, with their conditions; a voltage that no longer holds counts as not read.
    [[nodiscard]] MatchProblem problem_for(const std::vector<Id>& units) const;
    // `groups` holds unit ids; `way` nothing: brought in from a file, not matched here. Refuses more than one
    // chemistry, quarantined or reserved units.
    Result<Id> reserve(int series, int parallel, const std::vector<std::vector<Id>>& groups,
                       std::optional<MatchWay> way, double give_up, const std::string& label = {});
    // The same, for a build that has no units yet: its form becomes that of the groups.
    Result<Id> reserve_for(Id build, int parallel, const std::vector<std::vector<Id>>& groups,
                           std::optional<MatchWay> way, double give_up);

    // Every build that is met takes its units, all or none; how many builds.
    Result<int> reserve_met(const AllotAnswer& answer);

    // Demands that the shop gave a name, in the order of names. A name again: in its place.
    [[nodiscard]] std::vector<NamedDemands> named_demands() const;
    Result<bool> name_demands(const NamedDemands& named);
    Result<bool> forget_demands(const std::string& name);

    // Who of the builds without units gets what: all that is known, by value.
    [[nodiscard]] AllotQuestion allot_question(double give_up) const;
    // The filter by which Match looks for units of a build without any.
    [[nodiscard]] PoolFilter filter_for(Id build) const;
    // How a group shares a load of one ampere a unit while all open-circuit voltages are alike: A, in the order of its
    // units. Units whose resistance is not known carry what the group's sum counts for them.
    [[nodiscard]] static std::vector<double> current_shares(const MatchProblem& problem, const GroupSums& group);

private:
    struct Chosen {
        std::string chemistry;
        int cells_per_unit = 1;
        std::vector<Placement> placements;
    };
    [[nodiscard]] Result<Chosen> chosen(const std::vector<std::vector<Id>>& groups) const;
    Result<Id> keep(Assembly build, Chosen chosen);
};

} // namespace ingot
