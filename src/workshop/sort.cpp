#include "workshop/sort.h"

#include <algorithm>
#include <cctype>
#include <map>

namespace ingot {

std::optional<Problem> SortService::objection(const RuleSet& rules) {
    for (const auto& [chemistry, limits] : rules.by_chemistry)
        for (std::size_t i = 1; i < limits.size(); ++i)
            if (!loosens(limits[i - 1], limits[i]))
                return Problem{"", 0,
                               said("Limits must loosen from Drive to Store to Light, or a unit could be fit for hard "
                                    "work and not for light ({}).",
                                    chemistry)};
    return std::nullopt;
}

void SortService::try_rules(const RuleSet& rules) {
    inventory_.set_rules(rules, false);
    ChangeSet changes;
    changes.rules = true;
    emit session_.committed(changes);
    emit session_.changed(changes);
}

Verdict SortService::verdict_with(Id unit, const Fact& capacity) const {
    const UnitState* state = inventory_.unit(unit);
    if (state == nullptr)
        return {};
    UnitFacts facts = state->facts;
    facts.capacity_ah = capacity;
    return sort_unit(facts, state->reference, inventory_.library().chemistry(facts.chemistry), inventory_.rules());
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
        return Problem{"", 0, said("The library knows no rule set \"{}\".", id)};
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

std::vector<SortService::Moved> SortService::moved_by(const RuleSet& other) const {
    std::vector<Moved> out;
    for (const UnitState& unit : inventory_.units()) {
        if (!unit.in_stock() || unit.verdict.overruled_from)
            continue;
        const Duty then =
            sort_unit(unit.facts, unit.reference, inventory_.library().chemistry(unit.facts.chemistry), other).duty;
        if (then != unit.verdict.duty)
            out.push_back({unit.record.id, unit.verdict.duty, then});
    }
    return out;
}

std::vector<SortService::Change> SortService::changes() const {
    const auto saved = inventory_.library().rule_sets.find(inventory_.rules().id);
    if (!rules_changed() || saved == inventory_.library().rule_sets.end())
        return {};
    std::map<std::pair<Duty, Duty>, int> counts;
    for (const Moved& moved : moved_by(saved->second))
        ++counts[{moved.then, moved.now}];
    std::vector<Change> out;
    out.reserve(counts.size());
    for (const auto& [duties, units] : counts)
        out.push_back({duties.first, duties.second, units});
    std::stable_sort(out.begin(), out.end(), [](const Change& a, const Change& b) { return a.units > b.units; });
    return out;
}

Result<std::string> SortService::copy_rules(const std::string& name) {
    std::string id;
    for (const char letter : name)
        if (std::isalnum(static_cast<unsigned char>(letter)) != 0)
            id += static_cast<char>(std::tolower(static_cast<unsigned char>(letter)));
        else if (!id.empty() && id.back() != '-')
            id += '-';
    while (!id.empty() && id.back() == '-')
        id.pop_back();
    if (id.empty())
        return Problem{"", 0, said("Give the rule set a name of letters or figures.")};
    if (inventory_.library().rule_sets.contains(id))
        return Problem{"", 0, said("There is a rule set \"{}\" already. Take another name.", id)};
    RuleSet copy = inventory_.rules();
    copy.source = "copied from " + copy.stamp() + (rules_changed() ? " with moved limits" : "") + "; " + copy.source;
    copy.id = id;
    copy.name = name;
    copy.version = 1;
    ChangeSet changes;
    changes.rules = true;
    const RuleSet before = inventory_.rules();
    const bool moved = rules_changed();
    const auto done = session_.step(
        [&] {
            session_.catalogue.add(LibraryRow{"rule-sets", id + ".toml", exchange::write_rule_set(copy), 1});
            session_.catalogue.set(rule_set_setting, id);
            session_.record_event("rule set copied", copy.stamp(), before.stamp());
            inventory_.set_rules(copy, true);
        },
        changes);
    if (!done) {
        inventory_.set_rules(before, !moved);
        return done.problem();
    }
    return id;
}

Result<bool> SortService::overrule(Id unit_id, Duty duty, const std::string& reason) {
    const UnitState* u = inventory_.unit(unit_id);
    if (u == nullptr)
        return no_such_unit();
    if (reason.empty())
        return Problem{"", 0, said("Give a reason; it is kept with the verdict.")};
    if (u->verdict.duty == Duty::quarantine && duty != Duty::scrap)
        return Problem{
            "", 0,
            said("{} is in quarantine. That is not overruled: close the quarantine with what was found.", u->code())};
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
    return Problem{"", 0, said("This verdict was not overruled.")};
}

} // namespace ingot
