#include "workshop/bay_rules.h"

#include "bench/tester_lines.h"
#include "exchange/csv.h"

#include <QCoreApplication>

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

namespace ingot {

namespace {
constexpr const char* acceptance_key = "acceptance_share";
}

namespace {

bool board_known(const Workshop& workshop, const Assembly& pack) {
    if (!pack.came_in()) {
        const BuildDesign& design = workshop.inventory().design(pack.id);
        const auto kind = board_kind_from(design.word(DesignFigure::board_kind));
        return kind ? *kind == BoardKind::board || *kind == BoardKind::left_in_pack
                    : !says_none(design.word(DesignFigure::board));
    }
    const auto particulars = workshop.receive().particulars(pack.id);
    const auto board = particulars.find(ParticularKind::board);
    return board != particulars.end() && !says_none(board->second);
}

bool may_stand_on_bay(AssemblyState state) {
    switch (state) {
    case AssemblyState::received:
    case AssemblyState::in_triage:
    case AssemblyState::to_open:
    case AssemblyState::joined:
    case AssemblyState::proved:
    case AssemblyState::in_service:
    case AssemblyState::returned:
        return true;
    case AssemblyState::under_repair: // groups may be missing
    case AssemblyState::opened:
    case AssemblyState::refused:
    case AssemblyState::planned:
    case AssemblyState::taken:
    case AssemblyState::given_up:
    case AssemblyState::spent:
        break;
    }
    return false;
}

// What its weakest group is built of; 0: not known of all.
double built_rating_ah(const Workshop& workshop, const Assembly& pack) {
    std::map<int, double> by_group;
    for (const Placement& placement : workshop.inventory().placements(pack.id)) {
        const UnitState* unit = placement.stands() ? workshop.unit(placement.unit) : nullptr;
        if (unit != nullptr)
            by_group[placement.group] +=
                unit->facts.capacity_ah ? unit->facts.capacity_ah->value : unit->reference.rated_ah;
    }
    if (static_cast<int>(by_group.size()) < pack.layout.series)
        return 0;
    const auto least = std::min_element(by_group.begin(), by_group.end(),
                                        [](const auto& a, const auto& b) { return a.second < b.second; });
    return least->second;
}

BayUnit assembly_on_bay(const Workshop& workshop, const Assembly& pack) {
    BayUnit out;
    out.cells = std::max(1, pack.layout.cells_in_series());
    const double built_ah = built_rating_ah(workshop, pack);
    // A label that cannot be true gives no current.
    const Chemistry* chemistry = workshop.library().chemistry(pack.chemistry);
    const CellFormat* format = pack.format.empty() ? nullptr : workshop.library().format(pack.format);
    const auto believed =
        chemistry != nullptr ? believable_unit_ah(pack.claim, pack.layout, *chemistry, format) : std::nullopt;
    out.rated_ah = built_ah > 0 ? built_ah : believed.value_or(0) * pack.layout.parallel;
    const std::string ran = workshop.test().last_run_at_assembly(pack.id);
    for (const Measurement& m : workshop.inventory().measurements(pack.id)) // oldest first
        if (m.quantity == Quantity::voltage && m.subject.group == 0 && m.conditions.condition == Condition::rest)
            out.rested_v = m.taken_at >= ran ? std::optional(m.value) : std::nullopt;
    return out;
}

// A group of which it is known that it lies under its floor.
std::optional<int> group_under_floor(const Workshop& workshop, const Assembly& pack, const Chemistry& chemistry) {
    std::map<int, double> newest;
    if (pack.came_in()) { // of the contents that stand in it now
        newest = workshop.triage().group_readings(pack.id, Condition::rest);
    } else {
        for (const Measurement& m : workshop.inventory().measurements(pack.id))
            if (m.quantity == Quantity::voltage && m.subject.place == 0 && m.conditions.condition == Condition::rest)
                newest[m.subject.group] = m.value;
    }
    for (const auto& [group, volts] : newest)
        if (group > 0 && volts < chemistry.floor_v * std::max(1, pack.layout.cells_per_tap()))
            return group;
    return std::nullopt;
}

std::optional<Problem> unit_may_not(const Workshop& workshop, Id unit) {
    const UnitState* u = workshop.unit(unit);
    if (u == nullptr)
        return Problem{"", 0, said("Scan the unit first, then the bay.")};
    if (u->quarantined || u->verdict.duty == Duty::quarantine)
        return Problem{"", 0, said("{} is in quarantine. It is not put on a bay.", u->code())};
    if (!u->in_stock() && u->record.whereabouts != Whereabouts::reserved)
        return Problem{"", 0, said("{} is not in stock.", u->code())};
    return std::nullopt;
}

std::optional<Problem> series_may_not(const Workshop& workshop, const OnChannel& on, const Protocol& protocol) {
    const auto no = [](Sentence why) { return Problem{"", 0, std::move(why)}; };
    const UnitState& first = *workshop.unit(on.unit);
    const Chemistry* chemistry = chemistry_on(workshop, on.unit);
    if (chemistry == nullptr || chemistry->lithium)
        return no(
            said("Nothing watches each unit of a string, so only nickel units share a channel in series. Put {} on "
                 "a channel of its own.",
                 first.code()));
    std::set<Id> seen{on.unit};
    for (const Id unit : on.behind) {
        const UnitState& other = *workshop.unit(unit);
        if (!seen.insert(unit).second)
            return no(said("{} is named twice.", other.code()));
        if (other.record.model != first.record.model || other.record.model.empty())
            return no(said("{} and {} are not of one model. In series the larger ones drive the smallest one under its "
                           "floor.",
                           first.code(), other.code()));
    }
    if (protocol.purpose != "conditioning")
        return no(said("Units in series are conditioned together, no more: what they give together is no unit's own "
                       "capacity. Test each on a channel of its own."));
    return std::nullopt;
}

std::optional<Problem> assembly_may_not(const Workshop& workshop, Id id, const Protocol* protocol) {
    const auto no = [](Sentence why) { return Problem{"", 0, std::move(why)}; };
    const Assembly* pack = workshop.assembly(id);
    if (pack == nullptr)
        return no(said("This pack is not in the workshop."));
    if (pack->came_in())
        if (const auto held = workshop.receive().held(*pack))
            return held;
    if (workshop.receive().pack_quarantined(id))
        return no(said("{} is in quarantine. It is not put on a bay.", pack->label));
    if (!may_stand_on_bay(pack->state))
        return no(said("{} is {}: there is no whole pack to put on a bay.", pack->label, code(pack->state)));
    const Chemistry* chemistry = workshop.library().chemistry(pack->chemistry);
    if (protocol == nullptr || chemistry == nullptr)
        return no(said("There is no protocol for {}: its chemistry is not known.", pack->label));
    if (protocol->recovers_deep)
        return no(said("Deep-discharged cells are recovered one by one, never in a pack."));
    if (chemistry->lithium && pack->layout.series > 1 && !board_known(workshop, *pack))
        return no(
            said("Nobody noted a protection board of {}. Nothing else watches its groups: a lithium pack goes on a "
                 "bay through its board only.",
                 pack->label));
    if (const auto group = group_under_floor(workshop, *pack, *chemistry))
        return no(said("Group {} of {} lies under its floor. A pack with such a group is not charged or discharged.",
                       *group, pack->label));
    return std::nullopt;
}

// Of two figures of which 0 is not known.
double least_known(double a, double b) {
    return a > 0 && b > 0 ? std::min(a, b) : std::max(a, b);
}

} // namespace

BayUnit bay_unit_of(const Workshop& workshop, const OnChannel& on) {
    BayUnit out;
    if (const Assembly* pack = workshop.assembly(on.assembly))
        return assembly_on_bay(workshop, *pack);
    const UnitState* u = workshop.unit(on.unit);
    if (u == nullptr)
        return out;
    out.rated_ah = u->reference.rated_ah;
    out.cells = std::max(1, u->reference.cells_in_series);
    if (const UnitModel* model = workshop.library().model(u->record.model)) {
        out.continuous_a = model->continuous_a;
        out.charge_a = model->charge_a;
        out.charge_limit_v = model->charge_limit_v;
    }
    out.rested_v = u->facts.fresh_voltage_v();
    out.capacity_ah = u->facts.capacity_ah;
    for (const Id unit : on.behind) {
        const BayUnit other = bay_unit_of(workshop, unit);
        out.cells += other.cells;
        out.rated_ah = std::min(out.rated_ah, other.rated_ah);
        out.continuous_a = least_known(out.continuous_a, other.continuous_a);
        out.charge_a = least_known(out.charge_a, other.charge_a);
        if (other.charge_limit_v)
            out.charge_limit_v = std::min(*other.charge_limit_v, out.charge_limit_v.value_or(*other.charge_limit_v));
        out.rested_v = out.rested_v && other.rested_v ? std::optional(*out.rested_v + *other.rested_v) : std::nullopt;
        out.capacity_ah = out.capacity_ah && other.capacity_ah
                              ? std::optional(std::min(*out.capacity_ah, *other.capacity_ah))
                              : std::nullopt;
    }
    return out;
}

const Chemistry* chemistry_on(const Workshop& workshop, const OnChannel& on) {
    if (const Assembly* pack = workshop.assembly(on.assembly))
        return workshop.library().chemistry(pack->chemistry);
    const UnitState* u = workshop.unit(on.unit);
    return u == nullptr ? nullptr : workshop.library().chemistry(u->facts.chemistry);
}

std::string code_on(const Workshop& workshop, const OnChannel& on) {
    if (const Assembly* pack = workshop.assembly(on.assembly))
        return pack->label;
    const UnitState* u = workshop.unit(on.unit);
    if (u == nullptr || !on.several())
        return u == nullptr ? std::string() : u->code();
    return QCoreApplication::translate("ingot::wording", "%1 + %2 in series")
        .arg(QString::fromStdString(u->code()))
        .arg(on.behind.size())
        .toStdString();
}

Result<OnChannel> in_series_from(const Workshop& workshop, const std::string& codes) {
    std::vector<Id> units;
    const QString all = QString::fromStdString(codes).replace(QLatin1Char(','), QLatin1Char(' '));
    for (const QString& code : all.simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
        const auto unit = workshop.find_unit(code.toStdString());
        if (!unit)
            return unit.problem();
        units.push_back(unit.value());
    }
    if (units.empty())
        return Problem{"", 0, said("Give the codes of the units, in the order in which they are joined.")};
    return OnChannel::in_series(units);
}

bool known_on(const Workshop& workshop, const OnChannel& on) {
    const auto units = on.units();
    return on.assembly != 0 ? workshop.assembly(on.assembly) != nullptr
                            : !units.empty() && std::all_of(units.begin(), units.end(),
                                                            [&](Id unit) { return workshop.unit(unit) != nullptr; });
}

bool quarantined_on(const Workshop& workshop, const OnChannel& on) {
    const auto units = on.units();
    return on.assembly != 0 ? workshop.receive().pack_quarantined(on.assembly)
                            : std::any_of(units.begin(), units.end(), [&](Id unit) {
                                  const UnitState* u = workshop.unit(unit);
                                  return u != nullptr && u->quarantined;
                              });
}

std::string usual_protocol_of(const Workshop& workshop, const OnChannel& on) {
    const Chemistry* chemistry = chemistry_on(workshop, on);
    if (chemistry == nullptr)
        return {};
    const bool module =
        on.assembly == 0 && (on.several() || bay_unit_of(workshop, on).cells > 1) && !chemistry->lithium;
    const Protocol* best = nullptr;
    for (const auto& [id, protocol] : workshop.library().protocols) {
        if (!protocol.suits(chemistry->id) || protocol.purpose != (module ? "conditioning" : "capacity"))
            continue;
        if (best == nullptr || protocol.steps.size() < best->steps.size())
            best = &protocol;
    }
    if (best == nullptr && module)
        for (const auto& [id, protocol] : workshop.library().protocols)
            if (protocol.suits(chemistry->id) && protocol.purpose == "capacity")
                best = &protocol;
    return best == nullptr ? std::string() : best->id;
}

std::vector<Id> assemblies_for_bays(const Workshop& workshop) {
    std::vector<const Assembly*> found;
    for (const auto* rows : {&workshop.packs(), &workshop.builds()})
        for (const Assembly& pack : *rows)
            if (may_stand_on_bay(pack.state))
                found.push_back(&pack);
    std::sort(found.begin(), found.end(), [](const Assembly* a, const Assembly* b) { return a->label < b->label; });
    std::vector<Id> out;
    out.reserve(found.size());
    for (const Assembly* pack : found)
        out.push_back(pack->id);
    return out;
}

std::optional<std::string> shared_by(const Workshop& workshop, const OnChannel& one, const OnChannel& other) {
    if (one.assembly != 0 && one.assembly == other.assembly)
        return code_on(workshop, one);
    for (const Id unit : one.units())
        if (other.holds(unit))
            return code_on(workshop, unit);
    return std::nullopt;
}

ChangeSet touched_by(const OnChannel& on) {
    ChangeSet out = ChangeSet::assembly(on.assembly);
    for (const Id unit : on.units())
        out.add(ChangeSet::unit(unit));
    return out;
}

Result<bool> hold_apart(Workshop& workshop, const OnChannel& on, const std::string& reason) {
    if (on.assembly != 0)
        return workshop.receive().open_pack_quarantine(on.assembly, reason);
    for (const Id unit : on.units())
        if (auto opened = workshop.receive().open_quarantine(unit, reason); !opened)
            return opened;
    return true;
}

double acceptance_share(const Workshop& workshop) {
    const auto own = exchange::parse_number(workshop.catalogue().setting(acceptance_key));
    return own ? *own : workshop.library().practice.conditioning_bar_share;
}

Result<bool> set_acceptance_share(Workshop& workshop, double share) {
    constexpr double least = 0.3;
    constexpr double most = 1.2;
    if (!(share >= least) || share > most)
        return Problem{"", 0, said("An acceptance limit lies from {} to {} % of the rating.", 100 * least, 100 * most)};
    return workshop.catalogue().set_setting(acceptance_key, fmt::format("{}", share));
}

double conditioning_bar_of(const Workshop& workshop, Id unit) {
    return acceptance_share(workshop) * bay_unit_of(workshop, unit).rated_ah;
}

std::optional<Problem> may_run_on_no_bay(const Workshop& workshop, const OnChannel& on, const Protocol* protocol) {
    const auto no = [](Sentence why) { return Problem{"", 0, std::move(why)}; };
    if (!workshop.writable())
        return no(said("This workshop can only be read here, so nothing is started from it."));
    if (on.assembly != 0)
        return assembly_may_not(workshop, on.assembly, protocol);
    if (on.unit == 0)
        return unit_may_not(workshop, 0);
    for (const Id unit : on.units())
        if (auto problem = unit_may_not(workshop, unit))
            return problem;
    if (protocol == nullptr)
        return no(said("There is no protocol for {}: its chemistry is not known.", code_on(workshop, on)));
    if (protocol->recovers_deep && !workshop.sort().rules().recovers_deep)
        return no(
            said("\"{}\" scraps deep-discharged cells. Recovering them is another school: a rule set has to allow "
                 "it first (Limits and rule sets).",
                 workshop.sort().rules().name));
    return on.several() ? series_may_not(workshop, on, *protocol) : std::nullopt;
}

int emptying_step(const Protocol& protocol, const std::vector<RunStep>& steps) {
    if (!protocol.empties_first())
        return 0;
    const auto first = std::find_if(steps.begin(), steps.end(),
                                    [](const RunStep& step) { return step.kind == RunStepKind::discharge; });
    return first == steps.end() ? 0 : first->number;
}

std::vector<Cycle> cycles_of_run(const Protocol& protocol, Id run, Id unit, const std::vector<RunStep>& steps,
                                 const std::string& taken_at) {
    constexpr double nearly_hot_k = 2; // under the temperature limit
    constexpr double coldest_c = -273;
    std::vector<Cycle> cycles;
    double charge = 0;
    double hottest_c = coldest_c;
    bool took_all = false;
    const int emptying = emptying_step(protocol, steps);
    const double hot_c = protocol.limits.charge_high_c - nearly_hot_k;
    for (const RunStep& step : steps) {
        hottest_c = std::max(hottest_c, step.hottest_c.value_or(coldest_c));
        if (step.kind == RunStepKind::charge) {
            charge += step.charge_ah.value_or(0);
            took_all = step.end == bench::code(bench::StepEnd::capacity);
        }
        if (step.kind != RunStepKind::discharge)
            continue;
        if (step.number == emptying) {
            hottest_c = coldest_c;
            continue;
        }
        Cycle cycle;
        cycle.run = run;
        cycle.unit = unit;
        cycle.number = static_cast<int>(cycles.size()) + 1;
        cycle.capacity_ah = step.charge_ah.value_or(0);
        cycle.energy_wh = step.energy_wh.value_or(0);
        if (charge > 0)
            cycle.charge_ah = charge;
        const bool hot = hottest_c > hot_c;
        cycle.full = step.as_meant && !hot;
        cycle.stop = !step.as_meant ? step.end : hot ? bench::code(bench::StepEnd::hot) : "cutoff";
        cycle.taken_at = taken_at;
        cycle.took_all = took_all;
        cycles.push_back(cycle);
        charge = 0;
        took_all = false;
        hottest_c = coldest_c;
    }
    return cycles;
}

void ConditioningRow::add(const Cycle& cycle) {
    cycles.push_back({static_cast<int>(cycles.size()) + 1, cycle.capacity_ah, cycle.full});
    charged_ah.push_back(cycle.charge_ah);
    took_all.push_back(cycle.took_all);
}

void judge_row(const Workshop& workshop, Id unit, ConditioningRow& row) {
    const UnitState* u = workshop.unit(unit);
    row.unit = unit;
    row.code = u == nullptr ? std::string() : u->code();
    row.rated_ah = bay_unit_of(workshop, unit).rated_ah;
    row.bar_ah = conditioning_bar_of(workshop, unit);
    ConditioningRules rules;
    rules.bar_ah = row.bar_ah;
    rules.rated_ah = row.rated_ah;
    row.result = judge_conditioning(row.cycles, rules);
}

} // namespace ingot
