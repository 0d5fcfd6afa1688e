#include "workshop/sort.h"

#include <algorithm>
#include <map>

namespace ingot {

void SortService::try_rules(const RuleSet& rules) {
    inventory_.set_rules(rules, false);
    ChangeSet changes;
    changes.rules = true;
    emit session_.committed(changes);
    emit session_.changed(changes);
}

Result<bool> SortService::save_rules() {
    RuleSet next = inventory_.rules();
    if (const auto known = inventory_.library().rule_sets.find(next.id); known != inventory_.library().rule_sets.end())
        next.version = known->second.version + 1;
    ChangeSet changes;
    changes.rules = true;
    const RuleSet tried = inventory_.rules();
    const auto done = session_.step(
        [&] {
            session_.catalogue.add(
                LibraryRow{"rule-sets", next.id + ".toml", exchange::write_rule_set(next), next.version});
            session_.record_event("rule set saved", next.stamp());
            inventory_.set_rules(next, true);
        },
        changes);
    if (!done)
        inventory_.set_rules(tried, false);
    return done;
}

Result<bool> SortService::choose_rules(const std::string& id) {
    const auto found = inventory_.library().rule_sets.find(id);
    if (found == inventory_.library().rule_sets.end())
        return Problem{"", 0, "The library knows no rule set \"" + id + "\"."};
    if (inventory_.rules().id == id && !rules_changed())
        return true;
    const RuleSet chosen = found->second;
    ChangeSet changes;
    changes.rules = true;
    const RuleSet before = inventory_.rules();
    const bool moved = rules_changed();
    const auto done = session_.step(
        [&] {
            session_.catalogue.set(rule_set_setting, id);
            session_.record_event("rule set chosen", chosen.stamp());
            inventory_.set_rules(chosen, true);
        },
        changes);
    if (!done)
        inventory_.set_rules(before, !moved);
    return done;
}

std::vector<SortService::Change> SortService::changes() const {
    std::map<std::pair<Duty, Duty>, int> counts;
    const auto saved = inventory_.library().rule_sets.find(inventory_.rules().id);
    if (!rules_changed() || saved == inventory_.library().rule_sets.end())
        return {};
    for (const UnitState& unit : inventory_.units()) {
        if (!unit.in_stock() || unit.verdict.overruled_from)
            continue;
        const Duty before =
            sort_unit(unit.facts, unit.reference, inventory_.library().chemistry(unit.facts.chemistry), saved->second)
                .duty;
        if (before != unit.verdict.duty)
            ++counts[{before, unit.verdict.duty}];
    }
    std::vector<Change> out;
    out.reserve(counts.size());
    for (const auto& [duties, units] : counts)
        out.push_back({duties.first, duties.second, units});
    std::stable_sort(out.begin(), out.end(), [](const Change& a, const Change& b) { return a.units > b.units; });
    return out;
}

Result<bool> SortService::overrule(Id unit_id, Duty duty, const std::string& reason) {
    const UnitState* u = inventory_.unit(unit_id);
    if (u == nullptr)
        return no_such_unit();
    if (reason.empty())
        return Problem{"", 0, "Give a reason; it is kept with the verdict."};
    if (u->verdict.duty == Duty::quarantine && duty != Duty::scrap)
        return Problem{
            "", 0, u->code() + " is in quarantine. That is not overruled: close the quarantine with what was found."};
    Overrule record;
    record.unit = unit_id;
    record.from_duty = code(u->verdict.overruled_from.value_or(u->verdict.duty));
    record.duty = code(duty);
    record.reason = reason;
    record.rule_set = inventory_.rules().stamp();
    record.made_at = session_.now();
    return session_.step([&] { session_.remarks.add(record); }, ChangeSet::remark(0, unit_id));
}

Result<bool> SortService::withdraw_overrule(Id unit_id) {
    for (const Overrule& record : inventory_.overrules())
        if (record.unit == unit_id) {
            const Id id = record.id;
            return session_.step([&] { session_.remarks.withdraw_overrule(id, session_.now()); },
                                 ChangeSet::remark(0, unit_id));
        }
    return Problem{"", 0, "This verdict was not overruled."};
}

} // namespace ingot
