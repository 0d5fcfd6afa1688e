#include "workshop/triage.h"

#include "core/measure/moment.h"
#include "exchange/csv.h"
#include "exchange/readings_csv.h"
#include "workshop/job.h"
#include "workshop/receive.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace ingot {

namespace {
constexpr const char* resistor_key = "balance_resistor_ohm";
constexpr const char* supply_key = "balance_supply_a";
} // namespace

double TriageService::largest_group_voltage(const Assembly& pack) const {
    const Chemistry* chemistry = inventory_.chemistry_of(pack);
    constexpr double margin = 1.15; // an over-charged group is read, a slipped decimal is not
    return chemistry == nullptr ? 1000.0 : chemistry->full_v * pack.layout.cells_per_tap() * margin;
}

const std::map<int, double>& TriageService::group_readings(Id pack, Condition condition) const {
    static const std::map<int, double> none;
    const auto& newest = inventory_.pack_case(pack).newest;
    const auto found = newest.find(condition);
    return found == newest.end() ? none : found->second;
}

TriageResult TriageService::result(Id id) const {
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr)
        return {};
    const auto& rest = group_readings(id, Condition::rest);
    GroupVoltages voltages;
    voltages.cells_per_unit = p->layout.cells_per_tap();
    for (int g = 1; g <= p->layout.series; ++g) {
        const auto read = rest.find(g);
        voltages.rest_v.push_back(read == rest.end() ? std::nullopt : std::optional<double>(read->second));
    }
    if (const auto terminals = rest.find(0); terminals != rest.end())
        voltages.terminal_v = terminals->second;
    return triage_groups(voltages, *chemistry);
}

std::optional<GroupVerdict> TriageService::group_verdict(Id id, int group) const {
    const Assembly* pack = inventory_.pack(id);
    const Chemistry* chemistry = pack == nullptr ? nullptr : inventory_.chemistry_of(*pack);
    const TriageResult triage = result(id);
    const auto at = static_cast<std::size_t>(std::max(0, group - 1));
    if (chemistry == nullptr || group < 1 || at >= triage.groups.size() || !triage.groups[at].state)
        return std::nullopt;
    const GroupFinding& finding = triage.groups[at];
    const int cells = pack->layout.cells_per_tap();
    GroupVerdict out;
    out.state = *finding.state;
    out.outlier = finding.outlier;
    out.from_median_v = finding.from_median_v;
    const bool hazard = is_hazard(out.state, *chemistry);
    const bool deep = out.state == GroupState::deep || out.state == GroupState::dead;
    out.never_charge = deep && chemistry->lithium;
    out.mark = hazard                                            ? Duty::quarantine
               : out.outlier || out.state != GroupState::working ? Duty::rest_again
                                                                 : Duty::drive;
    out.evidence.kind = EvidenceKind::voltage;
    out.evidence.measured = group_readings(id, Condition::rest).at(group);
    out.evidence.source = chemistry->source;
    out.evidence.limits = {{chemistry->bands.low_below_v * cells, Duty::drive},
                           {chemistry->bands.deep_below_v * cells, Duty::rest_again}};
    out.evidence.allows = hazard ? Duty::quarantine : Duty::drive;
    const auto capacities = group_capacities(id);
    if (const auto held = capacities.find(group); held != capacities.end())
        out.capacity_ah = held->second;
    for (const GroupResistance& r : triage_case(id).resistances)
        if (r.group == group)
            out.ohm = r.ohm;
    return out;
}

std::optional<Problem> TriageService::objection(const Assembly& p, const Measurement& m, bool reversed) const {
    if (receive_.gate_closed(p))
        return Problem{"", 0,
                       said("{} can hold more than 60 V. Pass its gate at Receive before any reading.", p.label)};
    const auto& empty = groups_taken_out(p.id);
    if (std::find(empty.begin(), empty.end(), m.subject.group) != empty.end())
        return Problem{
            "", 0, said("Group {} of {} was taken out: nothing stands there to be read.", m.subject.group, p.label)};
    if (auto problem = implausible(p, m, reversed))
        return problem;
    if (m.conditions.condition == Condition::load && m.quantity == Quantity::voltage && m.subject.place == 0 &&
        !result(p.id).load_round_allowed)
        return Problem{"", 0, said("A group is under its floor voltage: no load round until it is explained.")};
    return std::nullopt;
}

std::optional<Problem> TriageService::implausible(const Assembly& p, const Measurement& m, bool reversed) const {
    const int group = m.subject.group;
    if (group < 0 || group > p.layout.series || (group == 0 && m.quantity != Quantity::voltage))
        return Problem{"", 0, said("{} has groups 1 to {}.", p.label, p.layout.series)};
    if (m.subject.place < 0 || m.subject.place > p.layout.units_per_group())
        return Problem{
            "", 0, said("{} has groups 1 to {} of {} units.", p.label, p.layout.series, p.layout.units_per_group())};
    if (m.quantity == Quantity::capacity) {
        // No group holds much more than its pack's label says; where nothing is said, than the largest module there is.
        constexpr double over_the_label = 1.5, largest_ah = 1000;
        const double limit = p.claim.capacity_ah ? *p.claim.capacity_ah * over_the_label : largest_ah;
        if (m.value > 0 && m.value <= limit)
            return std::nullopt;
        return Problem{"", 0,
                       said("{} Ah is not believed for a group of {}: give what a full discharge of the group gave, "
                            "above 0 and at most {} Ah.",
                            m.value, p.label, limit)};
    }
    if (m.quantity == Quantity::temperature) {
        constexpr double coldest = -40;
        constexpr double hottest = 150;
        if (m.value < coldest || m.value > hottest)
            return Problem{"", 0, said("{} degC is not believed. Give degrees Celsius.", m.value)};
        return std::nullopt;
    }
    const double limit = group == 0 ? largest_group_voltage(p) * p.layout.series : largest_group_voltage(p);
    // A reversed group is real, but a minus is more often the probes.
    if (m.value < 0 && !reversed)
        return Problem{"", 0,
                       said("{} If the group really is reversed, enter the same value again.",
                            wording::implausible(Implausible::negative, m.quantity, m.value, limit).toStdString())};
    if (const QString doubt =
            wording::implausible(check_plausible(m.quantity, std::fabs(m.value), limit), m.quantity, m.value, limit);
        !doubt.isEmpty())
        return Problem{"", 0, as_told(doubt.toStdString())};
    return std::nullopt;
}

Measurement TriageService::measurement_of(Id pack, int group, Quantity quantity, double value) const {
    Measurement m;
    m.subject.assembly = pack;
    m.subject.group = group;
    m.quantity = quantity;
    m.value = value;
    m.protocol = "typed";
    m.rule_set = inventory_.rules().stamp();
    m.taken_at = m.recorded_at = session_.now();
    return m;
}

Result<Id> TriageService::record_group_reading(Id pack_id, int group, double volts, Condition condition,
                                               const std::string& instrument, const RoundConditions& conditions) {
    const Assembly* p = inventory_.pack(pack_id);
    if (p == nullptr)
        return no_such_pack();
    Measurement m = measurement_of(pack_id, group, Quantity::voltage, volts);
    m.instrument = instrument;
    m.resolution = conditions.resolution_v;
    m.conditions.condition = condition;
    if (condition == Condition::load)
        m.conditions.discharge_current_a = conditions.load_a;
    if (condition == Condition::stored)
        m.conditions.days_since_charge = conditions.days ? conditions.days : days_since_rest(pack_id);
    if (const auto problem = objection(*p, m, conditions.reversed))
        return *problem;
    return session_.commit([&] { return session_.measurements.add(m); }, ChangeSet::assembly(pack_id));
}

Result<Id> TriageService::record(Measurement reading, const std::string& taken_at) {
    const Assembly* p = inventory_.pack(reading.subject.assembly);
    if (p == nullptr)
        return no_such_pack();
    if (receive_.gate_closed(*p))
        return Problem{"", 0,
                       said("{} can hold more than 60 V. Pass its gate at Receive before any reading.", p->label)};
    if (const auto problem = implausible(*p, reading, true)) // a load round that was read was somebody's decision
        return *problem;
    reading.rule_set = inventory_.rules().stamp();
    reading.recorded_at = session_.now();
    reading.taken_at = taken_at;
    return session_.commit([&] { return session_.measurements.add(reading); },
                           ChangeSet::assembly(reading.subject.assembly));
}

Result<int> TriageService::import_group_readings(Id pack_id, const std::string& text, const std::string& file) {
    const Assembly* p = inventory_.pack(pack_id);
    if (p == nullptr)
        return no_such_pack();
    const auto read = exchange::read_group_readings(text, file, p->layout);
    if (!read)
        return read.problem();
    std::vector<Measurement> measured;
    for (const GroupReading& reading : read.value().readings) {
        Measurement m = measurement_of(pack_id, reading.group, Quantity::voltage, reading.voltage_v);
        m.instrument = read.value().snapshot ? "board" : "file";
        m.protocol = "imported";
        m.conditions.condition = reading.condition;
        if (reading.current_a && reading.condition == Condition::charge)
            m.conditions.charge_current_a = std::fabs(*reading.current_a);
        else if (reading.current_a)
            m.conditions.discharge_current_a = std::fabs(*reading.current_a);
        m.conditions.days_since_charge = reading.days;
        m.resolution = reading.resolution_v;
        measured.push_back(std::move(m));
    }
    for (const GroupCapacity& held : read.value().capacities) {
        measured.push_back(measurement_of(pack_id, held.group, Quantity::capacity, held.capacity_ah));
        measured.back().protocol = "imported";
    }
    for (const GroupResistance& r : read.value().resistances) {
        measured.push_back(measurement_of(pack_id, r.group, Quantity::dc_resistance, r.ohm));
        measured.back().protocol = "imported";
    }
    // The gate guards hands: what a device says through its own port touches nothing.
    for (const Measurement& m : measured)
        if (const auto problem = read.value().snapshot ? implausible(*p, m, true) : objection(*p, m, true))
            return Problem{file, 0, said("group {}: {}", m.subject.group, problem->sentence)};
    if (const auto done = record_of_group(pack_id, measured); !done)
        return done.problem();
    return static_cast<int>(read.value().readings.size());
}

Result<bool> TriageService::record_of_group(Id pack_id, const std::vector<Measurement>& read) {
    return session_.step(
        [&] {
            for (const Measurement& m : read)
                session_.measurements.add(m);
        },
        ChangeSet::assembly(pack_id));
}

Result<bool> TriageService::note_unit_voltages(Id pack_id, int group, const std::vector<std::optional<double>>& volts) {
    const Assembly* p = inventory_.pack(pack_id);
    if (p == nullptr)
        return no_such_pack();
    std::vector<Measurement> read;
    for (std::size_t i = 0; i < volts.size(); ++i) {
        if (!volts[i])
            continue;
        Measurement m = measurement_of(pack_id, group, Quantity::voltage, *volts[i]);
        m.subject.place = static_cast<int>(i) + 1;
        if (const auto problem = objection(*p, m, true))
            return Problem{"", 0, said("unit {}: {}", i + 1, problem->sentence)};
        read.push_back(std::move(m));
    }
    if (read.empty() || group < 1)
        return Problem{"", 0, said("No voltage was given. Write one for each unit, such as 3.61 3.60 0.20 3.61.")};
    return record_of_group(pack_id, read);
}

Result<bool> TriageService::note_temperature(Id pack_id, int group, double celsius, bool under_load) {
    const Assembly* p = inventory_.pack(pack_id);
    if (p == nullptr)
        return no_such_pack();
    Measurement m = measurement_of(pack_id, group, Quantity::temperature, celsius);
    m.conditions.condition = under_load ? Condition::load : Condition::rest;
    if (const auto problem = objection(*p, m, false))
        return *problem;
    return record_of_group(pack_id, {m});
}

Result<bool> TriageService::note_group_capacity(Id pack_id, int group, double capacity_ah) {
    const Assembly* p = inventory_.pack(pack_id);
    if (p == nullptr)
        return no_such_pack();
    const Measurement m = measurement_of(pack_id, group, Quantity::capacity, capacity_ah);
    if (const auto problem = objection(*p, m, false))
        return *problem;
    return record_of_group(pack_id, {m});
}

Result<bool> TriageService::note_group_resistance(Id pack_id, int group, double ohm) {
    const Assembly* p = inventory_.pack(pack_id);
    if (p == nullptr)
        return no_such_pack();
    Measurement m = measurement_of(pack_id, group, Quantity::dc_resistance, ohm);
    m.instrument = "charger";
    if (const auto problem = objection(*p, m, false))
        return *problem;
    return record_of_group(pack_id, {m});
}

bool TriageService::explained_at_hand(Id pack_id) const {
    const auto found = explained_.find(pack_id);
    return found != explained_.end() && found->second.revision == inventory_.revision(pack_id) &&
           found->second.outcomes == outcomes_noted();
}

const Explained& TriageService::explained(Id id) const {
    Kept& kept = explained_[id];
    if (explained_at_hand(id))
        return kept.explained;
    const std::int64_t revision = inventory_.revision(id);
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    kept = {revision, outcomes_noted(),
            chemistry != nullptr ? explain(triage_case(id), *chemistry, knowledge_for(*p)) : Explained{}};
    return kept.explained;
}

void TriageService::explain_beside(Job& job, Id id, std::function<void()> then) {
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr)
        return;
    job.begin<Explained>([known = triage_case(id), chemistry = *chemistry, knowledge = knowledge_for(*p)](
                             const Job::Token&) { return explain(known, chemistry, knowledge); },
                         [this, id, revision = inventory_.revision(id), learned = outcomes_noted(),
                          then = std::move(then)](const Explained& made) {
                             if (revision == inventory_.revision(id))
                                 explained_[id] = {revision, learned, made};
                             then();
                         });
}

std::vector<Way> TriageService::ways(Id id) const {
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr || explained(id).explanations.empty())
        return {};
    const BalanceGear gear = balance_gear();
    WaysOptions options;
    options.bleed_ohm = gear.resistor_ohm;
    options.lift_a = gear.supply_a;
    options.recover_slowly = inventory_.rules().recovers_deep;
    return ways_forward(triage_case(id), explained(id), *chemistry, options);
}

TriageService::BalanceGear TriageService::balance_gear() const {
    return {exchange::parse_number(session_.catalogue.value(resistor_key)),
            exchange::parse_number(session_.catalogue.value(supply_key))};
}

Result<bool> TriageService::set_balance_gear(const BalanceGear& gear) {
    for (const std::optional<double>& figure : {gear.resistor_ohm, gear.supply_a})
        if (figure && !(*figure > 0))
            return Problem{"", 0, said("A resistor's ohms and a supply's amperes are over 0.")};
    ChangeSet changes;
    changes.settings = true;
    return session_.step(
        [&] {
            session_.catalogue.set(resistor_key, exchange::csv_number(gear.resistor_ohm));
            session_.catalogue.set(supply_key, exchange::csv_number(gear.supply_a));
        },
        changes);
}

} // namespace ingot
