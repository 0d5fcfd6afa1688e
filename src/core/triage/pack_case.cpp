#include "core/triage/pack_case.h"

#include <algorithm>
#include <set>

namespace ingot {

namespace {

struct Taken {
    const Measurement* measurement = nullptr;
    int group = 0;          // in the pack that is looked at
    bool elsewhere = false; // read before the content came here
};

// Where a content stood before: its measurements there speak of it, as far as they are the content's own.
void add_history_elsewhere(std::vector<Taken>& out, const Placement& here, const PlacementsOf& placements,
                           const MeasurementsOf& measurements) {
    std::set<Id> visited{here.assembly};
    // From the pack it came in with onward; contents that moved twice were also read in between.
    std::vector<Id> assemblies{here.content_assembly};
    for (std::size_t i = 0; i < assemblies.size(); ++i) {
        if (!visited.insert(assemblies[i]).second)
            continue;
        for (const Placement& there : placements(assemblies[i])) {
            if (there.unit != 0 || there.content_assembly != here.content_assembly ||
                there.content_group != here.content_group || there.until.empty())
                continue;
            const bool came_in_there = there.assembly == there.content_assembly;
            for (const Measurement& m : measurements(there.assembly)) {
                const bool own = m.quantity == Quantity::capacity ||
                                 (m.quantity == Quantity::voltage && m.conditions.condition == Condition::rest);
                if (m.subject.group == there.group && m.subject.place == 0 && own && m.taken_at <= there.until &&
                    (came_in_there || m.taken_at >= there.since))
                    out.push_back({&m, here.group, true});
            }
        }
    }
}

} // namespace

const Placement* standing_group(std::span<const Placement> placements, int group) {
    for (const Placement& p : placements)
        if (p.group == group && p.place == 0 && p.stands())
            return &p;
    return nullptr;
}

PackCase pack_case(const Assembly& pack, const PlacementsOf& placements, const MeasurementsOf& measurements,
                   std::span<const PackNote> notes) {
    PackCase out;
    out.known.layout = pack.layout;
    out.known.capacity_ah = pack.claim.capacity_ah;
    const auto own = placements(pack.id);
    std::map<int, std::string> since; // of contents that came from elsewhere
    std::set<int> empty;
    std::vector<Taken> taken;
    for (int g = 1; g <= pack.layout.series; ++g) {
        const Placement* here = standing_group(own, g);
        if (here == nullptr) {
            empty.insert(g);
        } else if (here->content_assembly != pack.id || here->content_group != g) {
            since[g] = here->since;
            add_history_elsewhere(taken, *here, placements, measurements);
        }
    }
    out.taken_out.assign(empty.begin(), empty.end());
    // What was read of the whole pack speaks of the groups that stood in it then.
    std::string changed_at;
    for (const auto& [group, at] : since)
        changed_at = std::max(changed_at, at);
    for (const Placement& p : own)
        if (p.place == 0 && !p.stands() && empty.contains(p.group))
            changed_at = std::max(changed_at, p.until);
    // What was read of a group before a unit of it was replaced counts no more once it was read again.
    std::map<int, std::string> replaced_at;
    for (const PackNote& note : notes)
        if (note.assembly == pack.id && note.kind == NoteKind::replaced)
            replaced_at[note.group] = note.noted_at;
    for (const Measurement& m : measurements(pack.id)) {
        const int g = m.subject.group;
        const auto came = since.find(g);
        if (g > pack.layout.series || empty.contains(g) || (came != since.end() && m.taken_at < came->second) ||
            (g == 0 && m.taken_at < changed_at))
            continue;
        taken.push_back({&m, g});
    }
    std::stable_sort(taken.begin(), taken.end(),
                     [](const Taken& a, const Taken& b) { return a.measurement->taken_at < b.measurement->taken_at; });
    // A run through the terminals moved all groups: once one was read again, what was read before counts no more.
    std::string ran_at;
    for (const Taken& t : taken)
        if (t.group == 0 && t.measurement->run != 0)
            ran_at = std::max(ran_at, t.measurement->taken_at);
    const auto group_voltage = [](const Taken& t) {
        return t.measurement->quantity == Quantity::voltage && t.measurement->run == 0;
    };
    const bool read_since = !ran_at.empty() && std::any_of(taken.begin(), taken.end(), [&](const Taken& t) {
        return group_voltage(t) && t.measurement->taken_at > ran_at;
    });
    const auto outdated = [&](const Taken& t) {
        if (read_since && group_voltage(t) && t.measurement->taken_at <= ran_at)
            return true;
        const auto at = replaced_at.find(t.group);
        if (at == replaced_at.end() || t.elsewhere || t.measurement->taken_at >= at->second)
            return false;
        if (t.measurement->subject.place > 0 || t.measurement->quantity != Quantity::voltage)
            return true; // of units and contents that are no longer there
        return std::any_of(taken.begin(), taken.end(), [&](const Taken& later) {
            return later.group == t.group && later.measurement->quantity == Quantity::voltage &&
                   later.measurement->subject.place == 0 && later.measurement->taken_at >= at->second;
        });
    };
    std::map<std::pair<int, int>, double> units;
    std::map<std::pair<int, bool>, double> temperatures;
    std::map<int, double> ohm;
    for (const Taken& t : taken) {
        const Measurement& m = *t.measurement;
        if (outdated(t))
            continue;
        if (t.group == 0 && m.quantity != Quantity::voltage) { // of the whole pack
            if (m.quantity == Quantity::capacity)
                out.known.capacity_ah = m.value;
        } else if (m.quantity == Quantity::capacity) {
            out.capacity_ah[t.group] = m.value;
        } else if (m.quantity == Quantity::dc_resistance || m.quantity == Quantity::ac_resistance) {
            if (m.subject.place == 0 && t.group > 0)
                ohm[t.group] = m.value;
        } else if (m.quantity == Quantity::temperature) {
            temperatures[{t.group, m.conditions.condition == Condition::load}] = m.value;
        } else if (m.quantity != Quantity::voltage || m.conditions.condition == Condition::charge) {
            continue;
        } else if (m.subject.place > 0) {
            units[{t.group, m.subject.place}] = m.value;
        } else {
            out.newest[m.conditions.condition][t.group] = m.value;
            if (m.conditions.condition == Condition::rest)
                out.rested_at = std::max(out.rested_at, m.taken_at);
            if (t.group == 0) {
                if (m.conditions.condition == Condition::rest)
                    out.known.terminal_v = m.value;
                continue;
            }
            GroupReading reading;
            reading.group = t.group;
            reading.condition = m.conditions.condition;
            reading.voltage_v = m.value;
            if (m.conditions.discharge_current_a)
                reading.current_a = -*m.conditions.discharge_current_a;
            reading.days = m.conditions.days_since_charge;
            reading.resolution_v = m.resolution;
            out.known.readings.push_back(reading);
        }
    }
    for (const auto& [at, volts] : units)
        out.known.units.push_back({at.first, std::to_string(at.second), volts});
    for (const auto& [at, celsius] : temperatures)
        out.known.temperatures.push_back({at.first, celsius, at.second});
    for (const auto& [group, ah] : out.capacity_ah)
        out.known.capacities.push_back({group, ah});
    for (const auto& [group, value] : ohm)
        out.known.resistances.push_back({group, value});
    for (const PackNote& note : notes) {
        if (note.assembly != pack.id)
            continue;
        if (note.kind == NoteKind::symptom)
            out.known.symptoms.push_back(note.code);
        else if (note.kind == NoteKind::replaced)
            out.known.replaced.push_back(note.group);
        else if (note.kind == NoteKind::lead_swap)
            out.known.swaps.push_back({note.group, note.code == "moved"});
    }
    return out;
}

} // namespace ingot
