// Triage: rounds of readings, what else is known of a pack, and what explains it.
#include "exchange/readings_csv.h"
#include "workshop/wording.h"
#include "workshop/workshop.h"

#include <QDateTime>

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace ingot {

double Workshop::largest_group_voltage(const store::PackRecord& pack) const {
    const Chemistry* chemistry = library_.chemistry(pack.chemistry);
    constexpr double margin = 1.15; // an over-charged group is read, a slipped decimal is not
    return chemistry == nullptr ? 1000.0 : chemistry->full_v * pack.layout.cells_per_unit * margin;
}

GroupReadings Workshop::group_readings(Id pack, Condition condition) const {
    const auto of_pack = group_readings_.find(pack);
    if (of_pack == group_readings_.end())
        return {};
    const auto found = of_pack->second.find(condition);
    return found == of_pack->second.end() ? GroupReadings{} : found->second;
}

TriageResult Workshop::triage(Id id) const {
    const store::PackRecord* p = pack(id);
    const Chemistry* chemistry = p != nullptr ? library_.chemistry(p->chemistry) : nullptr;
    if (chemistry == nullptr)
        return {};
    const GroupReadings rest = group_readings(id, Condition::rest);
    GroupVoltages voltages;
    voltages.cells_per_unit = p->layout.cells_per_unit;
    for (int g = 1; g <= p->layout.series; ++g) {
        const auto read = rest.by_group.find(g);
        voltages.rest_v.push_back(read == rest.by_group.end() ? std::nullopt : std::optional<double>(read->second));
    }
    if (const auto terminals = rest.by_group.find(0); terminals != rest.by_group.end())
        voltages.terminal_v = terminals->second;
    return triage_groups(voltages, *chemistry);
}

std::optional<Problem> Workshop::objection_to_group_reading(const store::PackRecord& p, int group, double volts,
                                                            Condition condition, bool reversed) const {
    if (gate_closed(p))
        return Problem{"", 0, p.label + " can hold more than 60 V. Pass its gate at Receive before any reading."};
    if (group < 0 || group > p.layout.series)
        return Problem{"", 0, fmt::format("{} has groups 1 to {}.", p.label, p.layout.series)};
    const double limit = group == 0 ? largest_group_voltage(p) * p.layout.series : largest_group_voltage(p);
    // A reversed group is real, but a minus is more often the probes.
    if (volts < 0 && !reversed)
        return Problem{"", 0,
                       wording::implausible(Implausible::negative, Quantity::voltage, volts, limit).toStdString() +
                           " If the group really is reversed, enter the same value again."};
    if (const QString objection = wording::implausible(check_plausible(Quantity::voltage, std::fabs(volts), limit),
                                                       Quantity::voltage, volts, limit);
        !objection.isEmpty())
        return Problem{"", 0, objection.toStdString()};
    if (condition == Condition::load && !triage(p.id).load_round_allowed)
        return Problem{"", 0, "A group is under its floor voltage: no load round until it is explained."};
    return std::nullopt;
}

Result<Id> Workshop::record_group_reading(Id pack_id, int group, double volts, Condition condition,
                                          const std::string& instrument, const RoundConditions& conditions) {
    const store::PackRecord* p = pack(pack_id);
    if (p == nullptr)
        return Problem{"", 0, "There is no such pack."};
    if (const auto objection = objection_to_group_reading(*p, group, volts, condition, conditions.reversed))
        return *objection;
    store::ReadingRecord record;
    record.pack_id = pack_id;
    record.group = group;
    record.reading.value = volts;
    record.reading.instrument = instrument;
    record.reading.protocol = "typed";
    record.reading.conditions.condition = condition;
    if (condition == Condition::load)
        record.reading.conditions.discharge_current_a = conditions.load_a;
    if (condition == Condition::stored)
        record.reading.conditions.days_since_charge = conditions.days ? conditions.days : days_since_rest(pack_id);
    record.rule_set = rules_.stamp();
    record.taken_at = record.recorded_at = now();
    const auto id = guarded([&] { return records_.add(record); }, touched_nothing);
    if (id) {
        apply_reading({0,
                       pack_id,
                       group,
                       Quantity::voltage,
                       condition,
                       volts,
                       {},
                       record.reading.conditions.discharge_current_a,
                       record.reading.conditions.days_since_charge,
                       record.taken_at});
        emit changed();
    }
    return id;
}

Result<int> Workshop::import_group_readings(Id pack_id, const std::string& text, const std::string& file) {
    const store::PackRecord* p = pack(pack_id);
    if (p == nullptr)
        return Problem{"", 0, "There is no such pack."};
    const auto read = exchange::read_group_readings(text, file, p->layout);
    if (!read)
        return read.problem();
    for (const GroupReading& reading : read.value().readings)
        if (const auto objection =
                objection_to_group_reading(*p, reading.group, reading.voltage_v, reading.condition, true))
            return Problem{file, 0, fmt::format("group {}: {}", reading.group, objection->sentence)};
    for (const GroupCapacity& held : read.value().capacities)
        if (const auto objection = objection_to_capacity(*p, held.capacity_ah))
            return Problem{file, 0, fmt::format("group {}: {}", held.group, objection->sentence)};
    const std::string at = now();
    const auto done = guarded_step([&] {
        for (const GroupReading& reading : read.value().readings) {
            store::ReadingRecord record;
            record.pack_id = pack_id;
            record.group = reading.group;
            record.reading.value = reading.voltage_v;
            record.reading.instrument = read.value().snapshot ? "board" : "file";
            record.reading.protocol = "imported";
            record.reading.conditions.condition = reading.condition;
            if (reading.current_a)
                record.reading.conditions.discharge_current_a = std::fabs(*reading.current_a);
            record.reading.conditions.days_since_charge = reading.days;
            record.rule_set = rules_.stamp();
            record.taken_at = record.recorded_at = at;
            records_.add(record);
        }
        for (const GroupCapacity& held : read.value().capacities)
            records_.add(store::InsideRecord{pack_id, held.group, 0, Quantity::capacity, held.capacity_ah, false, at});
    });
    if (!done)
        return done.problem();
    return static_cast<int>(read.value().readings.size());
}

std::optional<double> Workshop::days_since_rest(Id pack_id) const {
    const auto found = pack_readings_.find(pack_id);
    if (found == pack_readings_.end())
        return std::nullopt;
    std::optional<double> days;
    const QDateTime today = clock_();
    for (const store::ReadingFact& r : found->second)
        if (r.condition == Condition::rest) {
            const QDateTime at = QDateTime::fromString(QString::fromStdString(r.taken_at), Qt::ISODateWithMs);
            constexpr double seconds_per_day = 86400;
            if (at.isValid())
                days = std::max(0.0, static_cast<double>(at.secsTo(today)) / seconds_per_day);
        }
    return days;
}

Result<Id> Workshop::note(Id pack_id, const std::string& kind, int group, const std::string& code) {
    if (pack(pack_id) == nullptr)
        return Problem{"", 0, "There is no such pack."};
    const auto id = guarded(
        [&] {
            return records_.add(store::PackNoteRecord{0, pack_id, kind, group, code, now()});
        },
        touched_nothing);
    if (id) {
        notes_.push_back({id.value(), pack_id, kind, group, code, now()});
        forget_explanation(pack_id);
        emit changed();
    }
    return id;
}

std::vector<std::string> Workshop::symptoms_of_pack(Id pack) const {
    std::vector<std::string> out;
    for (const auto& n : notes_)
        if (n.pack_id == pack && n.kind == "symptom")
            out.push_back(n.code);
    return out;
}

Result<bool> Workshop::note_symptom(Id pack_id, const std::string& id, bool present) {
    if (library_.triage.symptom(id) == nullptr)
        return Problem{"", 0, "Symptom \"" + id + "\" is not in the library."};
    const auto known = std::find_if(notes_.begin(), notes_.end(), [&](const auto& n) {
        return n.pack_id == pack_id && n.kind == "symptom" && n.code == id;
    });
    if (present) {
        if (known != notes_.end())
            return true;
        const auto added = note(pack_id, "symptom", 0, id);
        if (!added)
            return added.problem();
        return true;
    }
    if (known == notes_.end())
        return true;
    const auto done = guarded_step([&] { records_.strike_note(known->id, now()); }, touched_nothing);
    if (done) {
        notes_.erase(known);
        forget_explanation(pack_id);
        emit changed();
    }
    return done;
}

Result<bool> Workshop::note_replaced(Id pack_id, int group) {
    const auto added = note(pack_id, "replaced", group, "");
    if (!added)
        return added.problem();
    return true;
}

Result<bool> Workshop::note_lead_swap(Id pack_id, int group, bool moved) {
    const auto added = note(pack_id, "lead-swap", group, moved ? "moved" : "stayed");
    if (!added)
        return added.problem();
    return true;
}

Result<bool> Workshop::note_unit_voltages(Id pack_id, int group, const std::vector<std::optional<double>>& volts) {
    const store::PackRecord* p = pack(pack_id);
    if (p == nullptr)
        return Problem{"", 0, "There is no such pack."};
    if (gate_closed(*p))
        return Problem{"", 0, p->label + " can hold more than 60 V. Pass its gate at Receive before any reading."};
    if (group < 1 || group > p->layout.series || static_cast<int>(volts.size()) > p->layout.parallel)
        return Problem{
            "", 0, fmt::format("{} has groups 1 to {} of {} units.", p->label, p->layout.series, p->layout.parallel)};
    const double limit = largest_group_voltage(*p);
    std::vector<store::InsideRecord> read;
    for (std::size_t i = 0; i < volts.size(); ++i) {
        if (!volts[i])
            continue;
        if (const QString objection = wording::implausible(
                check_plausible(Quantity::voltage, std::fabs(*volts[i]), limit), Quantity::voltage, *volts[i], limit);
            !objection.isEmpty())
            return Problem{"", 0, fmt::format("unit {}: {}", i + 1, objection.toStdString())};
        read.push_back({pack_id, group, static_cast<int>(i) + 1, Quantity::voltage, *volts[i], false, now()});
    }
    if (read.empty())
        return Problem{"", 0, "No voltage was given. Write one for each unit, such as 3.61 3.60 0.20 3.61."};
    return note_inside(read);
}

Result<bool> Workshop::note_temperature(Id pack_id, int group, double celsius, bool under_load) {
    const store::PackRecord* p = pack(pack_id);
    constexpr double coldest = -40;
    constexpr double hottest = 150;
    if (p == nullptr || group < 1 || group > p->layout.series)
        return Problem{"", 0, "There is no such group."};
    if (celsius < coldest || celsius > hottest)
        return Problem{"", 0, fmt::format("{} degC is not believed. Give degrees Celsius.", celsius)};
    return note_inside({{pack_id, group, 0, Quantity::temperature, celsius, under_load, now()}});
}

std::optional<Problem> Workshop::objection_to_capacity(const store::PackRecord& p, double capacity_ah) const {
    // No group holds much more than its pack's label says; where nothing is said, than the largest module there is.
    constexpr double over_the_label = 1.5, largest_ah = 1000;
    const double limit = p.claim.capacity_ah ? *p.claim.capacity_ah * over_the_label : largest_ah;
    if (capacity_ah > 0 && capacity_ah <= limit)
        return std::nullopt;
    return Problem{"", 0,
                   fmt::format("{} Ah is not believed for a group of {}: give what a full discharge of the group gave, "
                               "above 0 and at most {} Ah.",
                               capacity_ah, p.label, limit)};
}

Result<bool> Workshop::note_group_capacity(Id pack_id, int group, double capacity_ah) {
    const store::PackRecord* p = pack(pack_id);
    if (p == nullptr || group < 1 || group > p->layout.series)
        return Problem{"", 0, "There is no such group."};
    if (gate_closed(*p))
        return Problem{"", 0, p->label + " can hold more than 60 V. Pass its gate at Receive before any reading."};
    if (const auto objection = objection_to_capacity(*p, capacity_ah))
        return *objection;
    return note_inside({{pack_id, group, 0, Quantity::capacity, capacity_ah, false, now()}});
}

std::map<int, double> Workshop::group_capacities(Id pack_id) const {
    std::map<int, double> out;
    for (const auto& inside : inside_of(pack_id))
        if (inside.quantity == Quantity::capacity)
            out[inside.group] = inside.value;
    return out;
}

// The newest of each place and quantity; nothing of what a group was before its unit was replaced.
std::vector<store::InsideRecord> Workshop::inside_of(Id id) const {
    const store::PackRecord* p = pack(id);
    std::map<int, std::string> replaced_at;
    for (const auto& n : notes_)
        if (n.pack_id == id && n.kind == "replaced")
            replaced_at[n.group] = n.noted_at;
    std::map<std::tuple<int, int, Quantity, bool>, store::InsideRecord> newest;
    for (const auto& inside : inside_) {
        if (p == nullptr || inside.pack_id != id || inside.group > p->layout.series)
            continue;
        const auto at = replaced_at.find(inside.group);
        if (at == replaced_at.end() || inside.taken_at >= at->second)
            newest[{inside.group, inside.place, inside.quantity, inside.under_load}] = inside;
    }
    std::vector<store::InsideRecord> out;
    out.reserve(newest.size());
    for (auto& [place, inside] : newest)
        out.push_back(std::move(inside));
    return out;
}

Result<bool> Workshop::note_inside(const std::vector<store::InsideRecord>& read) {
    const auto done = guarded_step(
        [&] {
            for (const auto& inside : read)
                records_.add(inside);
        },
        touched_nothing);
    if (done) {
        inside_.insert(inside_.end(), read.begin(), read.end());
        forget_explanation(read.front().pack_id);
        emit changed();
    }
    return done;
}

void Workshop::forget_explanation(Id pack_id) {
    explained_.erase(pack_id);
    ++revisions_[pack_id];
}

int Workshop::known_revision(Id pack_id) const {
    const auto found = revisions_.find(pack_id);
    constexpr int loads_apart = 1'000'000;
    return load_count_ * loads_apart + (found == revisions_.end() ? 0 : found->second);
}

void Workshop::keep_explained(Id pack_id, int revision, Explained made) {
    if (revision == known_revision(pack_id))
        explained_[pack_id] = std::move(made);
}

Result<bool> Workshop::move_group(Id from, int group, Id into, int place) {
    const store::PackRecord* donor = pack(from);
    const store::PackRecord* host = pack(into);
    if (donor == nullptr || host == nullptr)
        return Problem{"", 0, "There is no such pack."};
    for (const store::PackRecord* p : {donor, host})
        if (gate_closed(*p) || pack_quarantined(p->id))
            return Problem{"", 0, p->label + " is held: pass its gate or close its quarantine first."};
    const auto read = group_readings(from, Condition::rest).by_group;
    const auto volts = read.find(group);
    if (volts == read.end() || place < 1 || place > host->layout.series)
        return Problem{"", 0, fmt::format("Group {} of {} is not read.", group, donor->label)};
    const std::string at = now();
    const auto reading = [&](Id pack_id, int number, double value) {
        store::ReadingRecord record;
        record.pack_id = pack_id;
        record.group = number;
        record.reading.value = value;
        record.reading.instrument = "moved";
        record.reading.protocol = "moved";
        record.rule_set = rules_.stamp();
        record.taken_at = record.recorded_at = at;
        return record;
    };
    const double carried = volts->second;
    const auto capacities = group_capacities(from);
    const auto held = capacities.find(group);
    const std::string from_label = donor->label;
    const std::string into_label = host->label;
    return guarded_step([&] {
        records_.add(reading(into, place, carried));
        records_.add(reading(from, group, 0.0));
        records_.add(store::PackNoteRecord{0, into, "replaced", place, from_label, at});
        if (held != capacities.end())
            records_.add(store::InsideRecord{into, place, 0, Quantity::capacity, held->second, false, at});
        records_.add(store::EventRecord{at, "group moved", into_label,
                                        fmt::format("group {} of {} to place {}", group, from_label, place)});
    });
}

TriageCase Workshop::triage_case(Id id) const {
    TriageCase out;
    const store::PackRecord* p = pack(id);
    if (p == nullptr)
        return out;
    out.layout = p->layout;
    out.capacity_ah = p->claim.capacity_ah;
    // What was read of a group before its unit was replaced counts no more once it was read again.
    std::map<int, std::string> replaced_at;
    for (const auto& n : notes_)
        if (n.pack_id == id && n.kind == "replaced")
            replaced_at[n.group] = n.noted_at;
    const auto found = pack_readings_.find(id);
    const auto outdated = [&](const store::ReadingFact& r) {
        const auto at = replaced_at.find(r.group);
        return at != replaced_at.end() && r.taken_at < at->second &&
               std::any_of(found->second.begin(), found->second.end(), [&](const store::ReadingFact& later) {
                   return later.group == r.group && later.taken_at >= at->second;
               });
    };
    if (found != pack_readings_.end())
        for (const store::ReadingFact& r : found->second) {
            if (outdated(r))
                continue;
            if (r.group == 0) {
                if (r.condition == Condition::rest)
                    out.terminal_v = r.value;
                continue;
            }
            if (r.group > p->layout.series)
                continue;
            GroupReading reading;
            reading.group = r.group;
            reading.condition = r.condition;
            reading.voltage_v = r.value;
            if (r.discharge_current_a)
                reading.current_a = -*r.discharge_current_a;
            reading.days = r.days;
            out.readings.push_back(reading);
        }
    for (const auto& inside : inside_of(id)) {
        if (inside.quantity == Quantity::voltage)
            out.units.push_back({inside.group, std::to_string(inside.place), inside.value});
        else if (inside.quantity == Quantity::capacity)
            out.capacities.push_back({inside.group, inside.value});
        else
            out.temperatures.push_back({inside.group, inside.value, inside.under_load});
    }
    for (const auto& n : notes_) {
        if (n.pack_id != id)
            continue;
        if (n.kind == "symptom")
            out.symptoms.push_back(n.code);
        else if (n.kind == "replaced")
            out.replaced.push_back(n.group);
        else if (n.kind == "lead-swap")
            out.swaps.push_back({n.group, n.code == "moved"});
    }
    return out;
}

const Explained& Workshop::explained(Id id) const {
    if (const auto found = explained_.find(id); found != explained_.end())
        return found->second;
    const store::PackRecord* p = pack(id);
    const Chemistry* chemistry = p != nullptr ? library_.chemistry(p->chemistry) : nullptr;
    Explained& made = explained_[id];
    if (chemistry != nullptr)
        made = explain(triage_case(id), *chemistry, library_.triage);
    return made;
}

std::vector<Way> Workshop::ways(Id id) const {
    const store::PackRecord* p = pack(id);
    const Chemistry* chemistry = p != nullptr ? library_.chemistry(p->chemistry) : nullptr;
    if (chemistry == nullptr || explained(id).explanations.empty())
        return {};
    return ways_forward(triage_case(id), explained(id), *chemistry);
}

} // namespace ingot
