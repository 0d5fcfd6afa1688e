// What is known of a joined pack's proof: its units, its readings since it was joined, what was said, what that means.
#include "core/prove/proof_records.h"
#include "core/prove/proven_units.h"
#include "workshop/build.h"
#include "workshop/build_plan.h"
#include "workshop/prove.h"

#include <QDateTime>

#include <algorithm>
#include <map>

namespace ingot {

namespace {

double days(const std::string& moment) {
    constexpr double ms_per_day = 86'400'000;
    return static_cast<double>(
               QDateTime::fromString(QString::fromStdString(moment), Qt::ISODateWithMs).toMSecsSinceEpoch()) /
           ms_per_day;
}

} // namespace

std::string pack_joined_at(const BuildTicks& ticks) {
    const auto found = ticks.find({BuildTask::cover, 1});
    return found == ticks.end() ? std::string() : found->second;
}

const GroupCauses* PackProof::causes_of(int group) const {
    const auto found = std::find_if(causes.begin(), causes.end(), [&](const auto& g) { return g.group == group; });
    return found == causes.end() ? nullptr : &*found;
}

PackProof ProveService::proof(Id id) const {
    PackProof out;
    const Assembly* build = inventory_.build(id);
    if (build == nullptr)
        return out;
    out.pack = *build;
    ProvenPack& pack = out.readings;
    pack.series = build->layout.series;
    pack.parallel = build->layout.parallel;
    pack.cells_per_unit = build->layout.cells_per_tap();
    if (const Chemistry* chemistry = inventory_.chemistry_of(*build)) {
        pack.charge_limit_v = chemistry->charge_limit_v;
        pack.ocv = chemistry->ocv;
        pack.voltage_tells_charge = chemistry->voltage_tells_charge;
    }
    out.signatures.resize(proof_round_count);
    out.read_at.resize(proof_round_count);
    out.last.assign(proof_round_count, 0);
    const std::string since = pack_joined_at(inventory_.ticks(id));
    if (build->state != AssemblyState::joined && inventory_.at_prove(*build))
        for (const Event& event : session_.remarks.events_of(build->label))
            if (event.what == pack_proved_event) {
                out.signed_by = event.detail;
                out.signed_at = event.at;
            }
    fill_units(out);
    fill_measured(since, out);
    fill_notes(since, out);
    fill_promises(out);
    out.proof = judge_proof(pack, inventory_.library().practice.proof);
    // A round that no longer passes is not signed either.
    for (std::size_t r = 0; r < out.signatures.size(); ++r)
        if (out.proof.rounds[r].state != ProofState::passed)
            out.signatures[r] = {};
    out.causes = explain_proof(pack, out.proof);
    return out;
}

// What its units were measured as before they were built in.
void ProveService::fill_units(PackProof& out) const {
    ProvenPack& pack = out.readings;
    const auto series = static_cast<std::size_t>(pack.series);
    const auto across = static_cast<std::size_t>(pack.parallel);
    pack.units.assign(series, std::vector<ProvenUnit>(across));
    out.unit_code.assign(series, std::vector<std::string>(across));
    for (const Placement& placement : inventory_.placements(out.pack.id)) {
        const UnitState* unit = inventory_.unit(placement.unit);
        const auto g = static_cast<std::size_t>(placement.group - 1);
        const auto p = static_cast<std::size_t>(std::max(placement.place, 1) - 1);
        if (unit == nullptr || !placement.stands() || g >= series || p >= across)
            continue;
        const auto& facts = unit->facts;
        ProvenUnit& known = pack.units[g][p];
        known.resistance_ohm = facts.dc_resistance_ohm ? facts.dc_resistance_ohm : facts.ac_resistance_ohm;
        if (facts.capacity_ah) {
            known.capacity_ah = *facts.capacity_ah;
            known.capacity_error_ah = facts.capacity_ah->uncertainty;
        }
        out.unit_code[g][p] = unit->code();
    }
    for (const auto& group : pack.units) {
        double conductance = 0;
        bool known = true;
        for (const ProvenUnit& unit : group) {
            known = known && unit.resistance_ohm && *unit.resistance_ohm > 0;
            conductance += known ? 1 / *unit.resistance_ohm : 0;
        }
        pack.group_resistance_ohm.push_back(known && conductance > 0 ? std::optional(1 / conductance) : std::nullopt);
    }
}

void ProveService::fill_measured(const std::string& since, PackProof& out) const {
    ProvenPack& pack = out.readings;
    const auto series = static_cast<std::size_t>(pack.series);
    pack.rounds.assign(proof_round_count, {});
    for (ProofReading& round : pack.rounds) {
        round.group_v.resize(series);
        round.group_day.resize(series);
    }
    pack.rounds[static_cast<std::size_t>(ProofRound::units)].unit_v.assign(
        series, std::vector<std::optional<double>>(static_cast<std::size_t>(pack.parallel)));
    for (const Measurement& m : inventory_.measurements(out.pack.id)) { // oldest first: the newest stands
        if (m.subject.group > pack.series || m.subject.place > std::max(pack.parallel, 2) || m.taken_at < since ||
            (!out.signed_at.empty() && m.taken_at > out.signed_at)) // the field's
            continue;
        const auto item = proof_item_of(m);
        const auto round = item ? std::optional(round_of(*item)) : proof_round_of(m);
        if (!round)
            continue;
        const auto r = static_cast<std::size_t>(*round);
        out.read_at[r] = m.taken_at;
        if (m.run == 0) // what a tester concluded is no slip of the hand
            out.last[r] = m.id;
        if (item) {
            pack.items[static_cast<std::size_t>(*item)] =
                *item == ProofItem::hours_to_wake ? m.value / kept_seconds_per_hour : m.value;
            continue;
        }
        ProofReading& reading = pack.rounds[r];
        const auto g = static_cast<std::size_t>(std::max(m.subject.group, 1) - 1);
        if (*round == ProofRound::units) {
            if (m.subject.place > pack.parallel)
                continue;
            reading.unit_v[g][static_cast<std::size_t>(m.subject.place) - 1] = m.value;
        } else if (m.subject.group == 0)
            reading.terminals_v = m.value;
        else {
            reading.group_v[g] = m.value;
            reading.group_day[g] = days(m.taken_at);
        }
        if (m.subject.group == 0)
            reading.terminals_resolution = m.resolution;
        else if (m.resolution)
            reading.resolution = std::max(reading.resolution.value_or(0), *m.resolution);
        if (m.conditions.discharge_current_a)
            reading.load_a = m.conditions.discharge_current_a;
        reading.day = days(m.taken_at);
    }
}

void ProveService::fill_notes(const std::string& since, PackProof& out) const {
    ProvenPack& pack = out.readings;
    pack.left_out.assign(proof_round_count, {});
    std::map<ProofItem, std::string> said_at; // empty: taken back
    for (const ProofNote& note : session_.remarks.proof_notes(out.pack.id)) {
        if (note.noted_at < since || (!out.signed_at.empty() && note.noted_at > out.signed_at))
            continue;
        if (note.kind == ProofNoteKind::answer) {
            const auto item = proof_item_from(note.about);
            if (!item)
                continue;
            const auto i = static_cast<std::size_t>(*item);
            pack.not_there[i] = note.value == "none";
            if (is_yes_or_no(*item))
                pack.items[i] = note.value == "yes"  ? std::optional(1.0)
                                : note.value == "no" ? std::optional(0.0)
                                                     : std::nullopt;
            said_at[*item] = note.value.empty() ? std::string() : note.noted_at;
        } else if (const auto round = proof_round_from(note.about)) {
            const auto r = static_cast<std::size_t>(*round);
            if (note.kind == ProofNoteKind::left_out)
                pack.left_out[r] = note.value;
            else
                out.signatures[r] = {note.value, note.value.empty() ? std::string() : note.noted_at};
        }
    }
    for (const auto& [item, at] : said_at) // after what was read last; one that was taken back says nothing
        if (const auto r = static_cast<std::size_t>(round_of(item)); !at.empty() && at >= out.read_at[r]) {
            out.read_at[r] = at;
            out.last[r] = 0;
        }
}

// What its units promise: the weakest group's charge, and how long it runs under the load of its design.
void ProveService::fill_promises(PackProof& out) const {
    ProvenPack& pack = out.readings;
    std::optional<double> weakest;
    for (const auto& group : pack.units) {
        const auto sum = group_capacity_ah(group);
        if (!sum)
            return;
        weakest = std::min(weakest.value_or(*sum), *sum);
    }
    pack.promised_ah = weakest;
    if (!pack.item(ProofItem::run_time))
        return;
    constexpr double promise_step_s = 10; // it is held to a tenth, and worked out at every figure
    const BuildQuestion question = BuildService(session_, inventory_).question(out.pack.id);
    const auto set_up = run_set_up(question, 0);
    if (!set_up)
        return;
    if (const auto run = run_pack(set_up.value().design, question.chemistry, set_up.value().load,
                                  {set_up.value().cell_until_v, promise_step_s}))
        pack.promised_run_s = run.value().run_time_s;
}

} // namespace ingot
