// Packs side by side as strings in parallel: each with its own board and balance, joined only when they stand level.
#include "core/build/build_safety.h"
#include "core/measure/moment.h"
#include "workshop/prove.h"
#include "workshop/wording.h"

#include <algorithm>
#include <fmt/format.h>

namespace ingot {

namespace {

constexpr const char* strings_event = "strings joined";
constexpr double fresh_days = 3; // after that a pack is read again before it is joined to another

} // namespace

Result<ProveService::Strings> ProveService::strings(const std::vector<Id>& builds) const {
    Strings out;
    if (builds.size() < 2 || std::set<Id>(builds.begin(), builds.end()).size() != builds.size())
        return Problem{"", 0, said("Strings are two packs or more, each named once.")};
    std::vector<JoinUnit> members;
    const Assembly* first = nullptr;
    JoinLimits limits = inventory_.library().practice.joining;
    for (const Id id : builds) {
        const Assembly* build = inventory_.build(id);
        if (build == nullptr || !inventory_.at_prove(*build))
            return Problem{"", 0, said("Only packs that are joined can stand side by side as strings.")};
        if (first == nullptr)
            first = build;
        const int cells = build->layout.series * build->layout.cells_per_tap();
        if (build->chemistry != first->chemistry || cells != first->layout.series * first->layout.cells_per_tap())
            return Problem{"", 0,
                           said("{} and {} are of unlike chemistry or unlike cells in series: they are never joined.",
                                first->label, build->label)};
        const BuildDesign& design = inventory_.design(id);
        const Chemistry* chemistry = inventory_.chemistry_of(*build);
        const auto kind = board_kind_from(design.word(DesignFigure::board_kind));
        if (chemistry != nullptr && chemistry->lithium && kind != BoardKind::board)
            return Problem{"", 0,
                           said("{} has no protection board of its own. Each string needs one, with its own balance.",
                                build->label)};
        const PackProof known = proof(id);
        JoinUnit member;
        std::optional<double> volts;
        std::string read_at;
        for (const Measurement& m : inventory_.measurements(id)) // oldest first
            if (m.quantity == Quantity::voltage && m.subject.group == 0 && m.subject.place == 0 &&
                m.conditions.condition != Condition::load && m.conditions.condition != Condition::charge) {
                volts = m.value;
                read_at = m.taken_at;
            }
        if (volts) {
            member.voltage_v = Fact(*volts);
            if (days_between(read_at, session_.now()).value_or(0) > fresh_days)
                member.voltage_v->lapse = Lapse::run_since;
        }
        double ohm = 0;
        bool all = !known.readings.group_resistance_ohm.empty();
        for (const auto& group : known.readings.group_resistance_ohm) {
            all = all && group.has_value();
            ohm += group.value_or(0);
        }
        if (all)
            member.resistance_ohm = Fact(ohm);
        member.rated_ah = known.readings.promised_ah.value_or(0);
        members.push_back(member);
        out.labels.push_back(build->label);
        out.volts.push_back(volts);
        if (id == builds.front()) { // per cell in the library
            limits.good_v *= cells;
            limits.largest_v *= cells;
            limits.resistor_below_v *= cells;
        }
    }
    out.check = check_joining(members, limits);
    return out;
}

Result<bool> ProveService::join_strings(const std::vector<Id>& builds) {
    const auto found = strings(builds);
    if (!found)
        return found.problem();
    const JoinCheck& check = found.value().check;
    if (check.lapsed > 0 || check.unknown > 0)
        return Problem{"", 0,
                       said("Read the terminals of each string now, and know the resistance of its units: an old "
                            "voltage says nothing of what would flow.")};
    if (check.advice != JoinAdvice::join && check.advice != JoinAdvice::within_limit)
        return Problem{"", 0,
                       said("They stand {} apart, {} would flow. Charge or drain one until they stand level.",
                            fmt::format("{:.2f} V", check.difference_v.value_or(0)),
                            fmt::format("{:.1f} A", check.largest_current_a.value_or(0)))};
    std::string all;
    for (const std::string& label : found.value().labels) {
        all += all.empty() ? "" : ", ";
        all += label;
    }
    return session_.step(
        [&] {
            for (const std::string& label : found.value().labels)
                session_.record_event(strings_event, label, all);
        },
        {});
}

} // namespace ingot
