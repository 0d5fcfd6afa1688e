#include "workshop/triage.h"

#include "core/measure/moment.h"
#include "exchange/readings_csv.h"
#include "workshop/job.h"
#include "workshop/receive.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace ingot {

double TriageService::largest_group_voltage(const Assembly& pack) const {
    const Chemistry* chemistry = inventory_.chemistry_of(pack);
    constexpr double margin = 1.15; // an over-charged group is read, a slipped decimal is not
    return chemistry == nullptr ? 1000.0 : chemistry->full_v * pack.layout.cells_per_unit * margin;
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
    voltages.cells_per_unit = p->layout.cells_per_unit;
    for (int g = 1; g <= p->layout.series; ++g) {
        const auto read = rest.find(g);
        voltages.rest_v.push_back(read == rest.end() ? std::nullopt : std::optional<double>(read->second));
    }
    if (const auto terminals = rest.find(0); terminals != rest.end())
        voltages.terminal_v = terminals->second;
    return triage_groups(voltages, *chemistry);
}

std::optional<Problem> TriageService::objection(const Assembly& p, const Measurement& m, bool reversed) const {
    if (receive_.gate_closed(p))
        return Problem{"", 0, p.label + " can hold more than 60 V. Pass its gate at Receive before any reading."};
    const auto& empty = groups_taken_out(p.id);
    if (std::find(empty.begin(), empty.end(), m.subject.group) != empty.end())
        return Problem{
            "", 0,
            fmt::format("Group {} of {} was taken out: nothing stands there to be read.", m.subject.group, p.label)};
    if (auto problem = implausible(p, m, reversed))
        return problem;
    if (m.conditions.condition == Condition::load && m.quantity == Quantity::voltage && m.subject.place == 0 &&
        !result(p.id).load_round_allowed)
        return Problem{"", 0, "A group is under its floor voltage: no load round until it is explained."};
    return std::nullopt;
}

std::optional<Problem> TriageService::implausible(const Assembly& p, const Measurement& m, bool reversed) const {
    const int group = m.subject.group;
    if (group < 0 || group > p.layout.series || (group == 0 && m.quantity != Quantity::voltage))
        return Problem{"", 0, fmt::format("{} has groups 1 to {}.", p.label, p.layout.series)};
    if (m.subject.place < 0 || m.subject.place > p.layout.parallel)
        return Problem{"", 0,
                       fmt::format("{} has groups 1 to {} of {} units.", p.label, p.layout.series, p.layout.parallel)};
    if (m.quantity == Quantity::capacity) {
        // No group holds much more than its pack's label says; where nothing is said, than the largest module there is.
        constexpr double over_the_label = 1.5, largest_ah = 1000;
        const double limit = p.claim.capacity_ah ? *p.claim.capacity_ah * over_the_label : largest_ah;
        if (m.value > 0 && m.value <= limit)
            return std::nullopt;
        return Problem{"", 0,
                       fmt::format("{} Ah is not believed for a group of {}: give what a full discharge of the group "
                                   "gave, above 0 and at most {} Ah.",
                                   m.value, p.label, limit)};
    }
    if (m.quantity == Quantity::temperature) {
        constexpr double coldest = -40;
        constexpr double hottest = 150;
        if (m.value < coldest || m.value > hottest)
            return Problem{"", 0, fmt::format("{} degC is not believed. Give degrees Celsius.", m.value)};
        return std::nullopt;
    }
    const double limit = group == 0 ? largest_group_voltage(p) * p.layout.series : largest_group_voltage(p);
    // A reversed group is real, but a minus is more often the probes.
    if (m.value < 0 && !reversed)
        return Problem{"", 0,
                       wording::implausible(Implausible::negative, m.quantity, m.value, limit).toStdString() +
                           " If the group really is reversed, enter the same value again."};
    if (const QString doubt =
            wording::implausible(check_plausible(m.quantity, std::fabs(m.value), limit), m.quantity, m.value, limit);
        !doubt.isEmpty())
        return Problem{"", 0, doubt.toStdString()};
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
        return Problem{"", 0, p->label + " can hold more than 60 V. Pass its gate at Receive before any reading."};
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
        measured.push_back(std::move(m));
    }
    for (const GroupCapacity& held : read.value().capacities) {
        measured.push_back(measurement_of(pack_id, held.group, Quantity::capacity, held.capacity_ah));
        measured.back().protocol = "imported";
    }
    for (const Measurement& m : measured)
        if (const auto problem = objection(*p, m, true))
            return Problem{file, 0, fmt::format("group {}: {}", m.subject.group, problem->sentence)};
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
            return Problem{"", 0, fmt::format("unit {}: {}", i + 1, problem->sentence)};
        read.push_back(std::move(m));
    }
    if (read.empty() || group < 1)
        return Problem{"", 0, "No voltage was given. Write one for each unit, such as 3.61 3.60 0.20 3.61."};
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

std::optional<double> TriageService::days_since_rest(Id pack_id) const {
    const std::string& rested_at = inventory_.pack_case(pack_id).rested_at;
    const auto days = days_between(rested_at, session_.now());
    return days ? std::optional(std::max(0.0, *days)) : std::nullopt;
}

Result<Id> TriageService::note(Id pack_id, NoteKind kind, int group, const std::string& code) {
    if (inventory_.pack(pack_id) == nullptr)
        return no_such_pack();
    return session_.commit(
        [&] {
            return session_.remarks.add(PackNote{0, pack_id, kind, group, code, session_.now()});
        },
        ChangeSet::remark(pack_id, 0));
}

std::vector<std::string> TriageService::symptoms_of_pack(Id pack) const {
    std::vector<std::string> out;
    for (const PackNote& n : inventory_.notes())
        if (n.assembly == pack && n.kind == NoteKind::symptom)
            out.push_back(n.code);
    return out;
}

Result<bool> TriageService::note_symptom(Id pack_id, const std::string& id, bool present) {
    if (inventory_.library().triage.symptom(id) == nullptr)
        return Problem{"", 0, "Symptom \"" + id + "\" is not in the library."};
    const auto& notes = inventory_.notes();
    const auto known = std::find_if(notes.begin(), notes.end(), [&](const PackNote& n) {
        return n.assembly == pack_id && n.kind == NoteKind::symptom && n.code == id;
    });
    if (present == (known != notes.end()))
        return true;
    if (!present) {
        const Id noted = known->id;
        return session_.step([&] { session_.remarks.strike_note(noted, session_.now()); },
                             ChangeSet::remark(pack_id, 0));
    }
    const auto added = note(pack_id, NoteKind::symptom, 0, id);
    if (!added)
        return added.problem();
    return true;
}

Result<bool> TriageService::note_replaced(Id pack_id, int group) {
    const auto added = note(pack_id, NoteKind::replaced, group, "");
    if (!added)
        return added.problem();
    return true;
}

Result<bool> TriageService::note_lead_swap(Id pack_id, int group, bool moved) {
    const auto added = note(pack_id, NoteKind::lead_swap, group, moved ? "moved" : "stayed");
    if (!added)
        return added.problem();
    return true;
}

bool TriageService::explained_at_hand(Id pack_id) const {
    const auto found = explained_.find(pack_id);
    return found != explained_.end() && found->second.revision == inventory_.revision(pack_id);
}

const Explained& TriageService::explained(Id id) const {
    Kept& kept = explained_[id];
    const std::int64_t revision = inventory_.revision(id);
    if (kept.revision == revision)
        return kept.explained;
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    kept = {revision,
            chemistry != nullptr ? explain(triage_case(id), *chemistry, inventory_.library().triage) : Explained{}};
    return kept.explained;
}

void TriageService::explain_beside(Job& job, Id id, std::function<void()> then) {
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr)
        return;
    job.begin<Explained>([known = triage_case(id), chemistry = *chemistry, knowledge = inventory_.library().triage](
                             const Job::Token&) { return explain(known, chemistry, knowledge); },
                         [this, id, revision = inventory_.revision(id), then = std::move(then)](const Explained& made) {
                             if (revision == inventory_.revision(id))
                                 explained_[id] = {revision, made};
                             then();
                         });
}

std::vector<Way> TriageService::ways(Id id) const {
    const Assembly* p = inventory_.pack(id);
    const Chemistry* chemistry = p != nullptr ? inventory_.chemistry_of(*p) : nullptr;
    if (chemistry == nullptr || explained(id).explanations.empty())
        return {};
    return ways_forward(triage_case(id), explained(id), *chemistry);
}

bool TriageService::may_donate(const Assembly& donor, const Assembly& host) const {
    const bool undecided = donor.state == AssemblyState::in_triage || donor.state == AssemblyState::to_open ||
                           donor.state == AssemblyState::under_repair;
    return undecided && donor.chemistry == host.chemistry && donor.layout == host.layout &&
           !inventory_.pack_quarantined(donor.id);
}

DonorQuestion TriageService::donor_question(const Assembly& kind) const {
    DonorQuestion out;
    for (const Assembly& p : inventory_.packs()) {
        if (!may_donate(p, kind))
            continue;
        const auto& read = group_readings(p.id, Condition::rest);
        const auto& empty = groups_taken_out(p.id);
        const std::size_t groups = read.size() - read.count(0) + empty.size();
        if (static_cast<int>(groups) < p.layout.series) {
            ++out.unread;
            continue;
        }
        out.ids[p.label] = p.id;
        const auto& capacities = group_capacities(p.id);
        for (const auto& [g, v] : read)
            if (g > 0) {
                const auto held = capacities.find(g);
                out.groups.push_back({p.label, g, v,
                                      held == capacities.end() ? std::nullopt : std::optional<double>(held->second),
                                      p.model});
            }
        for (const int g : empty) // a place without a group gives nothing and wants one, as a dead one does
            out.groups.push_back({p.label, g, 0.0, std::nullopt, p.model});
    }
    return out;
}

Result<bool> TriageService::move_group(Id from, int group, Id into, int place) {
    const Assembly* donor = inventory_.pack(from);
    const Assembly* host = inventory_.pack(into);
    if (donor == nullptr || host == nullptr)
        return no_such_pack();
    for (const Assembly* p : {donor, host})
        if (receive_.held(*p))
            return Problem{"", 0, p->label + " is held: pass its gate or close its quarantine first."};
    if (donor->chemistry != host->chemistry || donor->layout.cells_per_unit != host->layout.cells_per_unit)
        return Problem{"", 0, donor->label + " and " + host->label + " do not hold groups of one kind."};
    if (!group_readings(from, Condition::rest).contains(group) || place < 1 || place > host->layout.series)
        return Problem{"", 0, fmt::format("Group {} of {} is not read.", group, donor->label)};
    const Placement* moved = standing_group(inventory_.placements(from), group);
    if (moved == nullptr)
        return Problem{"", 0, fmt::format("Group {} of {} was taken out already.", group, donor->label)};
    const Placement* replaced = standing_group(inventory_.placements(into), place);
    const std::string at = session_.now();
    Placement now = *moved;
    now.assembly = into;
    now.group = place;
    now.since = at;
    now.why = "moved from " + donor->label;
    const Id ends = moved->id;
    const Id makes_room = replaced != nullptr ? replaced->id : 0;
    const std::string from_label = donor->label;
    const std::string into_label = host->label;
    ChangeSet changes = ChangeSet::remark(into, 0);
    changes.assemblies.insert(from);
    return session_.step(
        [&] {
            session_.assemblies.end(ends, at, "moved to " + into_label);
            if (makes_room != 0)
                session_.assemblies.end(makes_room, at, "replaced");
            session_.assemblies.add(now);
            session_.remarks.add(PackNote{0, into, NoteKind::replaced, place, from_label, at});
            session_.record_event("group moved", into_label,
                                  fmt::format("group {} of {} to place {}", group, from_label, place));
        },
        changes);
}

} // namespace ingot
