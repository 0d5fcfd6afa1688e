// Sort: the rule set that judges, and verdicts that a person decided otherwise.
#pragma once

#include "workshop/service.h"

namespace ingot {

class SortService : public Service {
public:
    using Service::Service;

    [[nodiscard]] const RuleSet& rules() const { return inventory_.rules(); }
    // Why these rules cannot judge; nothing where they can.
    [[nodiscard]] static std::optional<Problem> objection(const RuleSet& rules);
    void try_rules(const RuleSet& rules); // takes effect at once, is not saved
    Result<bool> save_rules();            // as the next version
    // Another rule set of the library judges from now on; limits that were moved and not saved are dropped.
    Result<bool> choose_rules(const std::string& id);
    // How many units would change their duty if the moved limits were saved, most first; what is saved decides "from".
    struct Change {
        Duty from{}, to{};
        int units = 0;
    };
    [[nodiscard]] std::vector<Change> changes() const;
    // Units whose duty another rule set would change, in the order of the inventory.
    struct Moved {
        Id unit = 0;
        Duty now{}, then{};
    };
    [[nodiscard]] std::vector<Moved> moved_by(const RuleSet& other) const;
    // The rules as they stand, moved limits included, under a name of their own; they judge from now on. The copy's id.
    Result<std::string> copy_rules(const std::string& name);
    [[nodiscard]] bool rules_changed() const { return inventory_.rules_changed(); }
    [[nodiscard]] std::array<int, duty_count> duty_counts() const { return inventory_.duty_counts(); }

    // What the rules would say of a unit, were this its capacity, Ah.
    [[nodiscard]] Verdict verdict_with(Id unit, const Fact& capacity) const;

    Result<bool> overrule(Id unit, Duty duty, const std::string& reason);
    Result<bool> withdraw_overrule(Id unit);
};

} // namespace ingot
