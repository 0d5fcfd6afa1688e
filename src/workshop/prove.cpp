#include "workshop/prove.h"

#include "workshop/prove_wording.h"
#include "workshop/wording.h"

#include <QDateTime>

#include <algorithm>
#include <fmt/format.h>

namespace ingot {

namespace {

constexpr const char* signed_event = "pack proved";

Condition condition_of(ProofRound round) {
    switch (round) {
    case ProofRound::at_rest:
        return Condition::rest;
    case ProofRound::end_of_charge:
        return Condition::end_of_charge;
    case ProofRound::after_rest:
        return Condition::stored;
    case ProofRound::under_load:
        break;
    }
    return Condition::load;
}

std::optional<ProofRound> round_of(Condition condition) {
    for (int r = 0; r < proof_round_count; ++r)
        if (condition_of(static_cast<ProofRound>(r)) == condition)
            return static_cast<ProofRound>(r);
    return std::nullopt;
}

double days(const std::string& moment) {
    constexpr double ms_per_day = 86'400'000;
    return static_cast<double>(
               QDateTime::fromString(QString::fromStdString(moment), Qt::ISODateWithMs).toMSecsSinceEpoch()) /
           ms_per_day;
}

// When the last joint was covered.
std::string joined_at(const BuildTicks& ticks) {
    const auto found = ticks.find({BuildTask::cover, 1});
    return found == ticks.end() ? std::string() : found->second;
}

Problem no_such_joined_pack() {
    return {"", 0, said("There is no such joined pack.")};
}

} // namespace

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
    if (const Chemistry* chemistry = inventory_.chemistry_of(*build))
        pack.charge_limit_v = chemistry->charge_limit_v;
    const auto series = static_cast<std::size_t>(pack.series);
    std::vector<double> conductance(series, 0);
    std::vector<char> known(series, 1);
    for (const Placement& placement : inventory_.placements(id)) {
        const UnitState* unit = inventory_.unit(placement.unit);
        const auto g = static_cast<std::size_t>(placement.group - 1);
        if (unit == nullptr || !placement.stands() || g >= series)
            continue;
        const auto& facts = unit->facts;
        const auto ohm = facts.dc_resistance_ohm ? facts.dc_resistance_ohm : facts.ac_resistance_ohm;
        if (ohm && *ohm > 0)
            conductance[g] += 1 / *ohm;
        else
            known[g] = 0;
    }
    for (std::size_t g = 0; g < series; ++g)
        pack.group_resistance_ohm.push_back(known[g] != 0 && conductance[g] > 0 ? std::optional(1 / conductance[g])
                                                                                : std::nullopt);
    pack.rounds.assign(proof_round_count, {});
    for (ProofReading& round : pack.rounds)
        round.group_v.resize(series);
    out.read_at.resize(proof_round_count);
    out.last.assign(proof_round_count, 0);
    const std::string since = joined_at(inventory_.ticks(id));
    if (build->state != AssemblyState::joined && inventory_.at_prove(*build))
        for (const Event& event : session_.remarks.events_of(build->label))
            if (event.what == signed_event) {
                out.signed_by = event.detail;
                out.signed_at = event.at;
            }
    for (const Measurement& m : inventory_.measurements(id)) { // oldest first: the newest stands
        const auto round = round_of(m.conditions.condition);
        if (!round || m.quantity != Quantity::voltage || m.subject.place != 0 || m.subject.group > pack.series ||
            m.taken_at < since || (!out.signed_at.empty() && m.taken_at > out.signed_at)) // the field's
            continue;
        const auto r = static_cast<std::size_t>(*round);
        ProofReading& reading = pack.rounds[r];
        if (m.subject.group == 0)
            reading.terminals_v = m.value;
        else
            reading.group_v[static_cast<std::size_t>(m.subject.group) - 1] = m.value;
        if (m.subject.group == 0)
            reading.terminals_resolution = m.resolution;
        else if (m.resolution)
            reading.resolution = std::max(reading.resolution.value_or(0), *m.resolution);
        if (m.conditions.discharge_current_a)
            reading.load_a = m.conditions.discharge_current_a;
        reading.day = days(m.taken_at);
        out.read_at[r] = m.taken_at;
        out.last[r] = m.id;
    }
    out.proof = judge_proof(pack, inventory_.library().practice.proof);
    return out;
}

Result<Id> ProveService::record(Id id, ProofRound round, int group, double volts, std::optional<double> resolution,
                                std::optional<double> load_a) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || !inventory_.at_prove(*build))
        return no_such_joined_pack();
    if (group < 0 || group > build->layout.series)
        return Problem{"", 0, said("This pack has {} groups.", build->layout.series)};
    if (round == ProofRound::under_load && (!load_a || !(*load_a > 0)))
        return Problem{"", 0, said("Say first how many amperes the load draws.")};
    const Chemistry* chemistry = inventory_.chemistry_of(*build);
    constexpr double room = 1.2;     // a charger that went wrong is still read
    constexpr double any_cell_v = 5; // of a chemistry that the library does not know
    const double cells = build->layout.cells_per_tap() * (group == 0 ? build->layout.series : 1);
    const double limit = room * cells * (chemistry != nullptr ? chemistry->charging_v() : any_cell_v);
    if (const QString doubt = wording::implausible(check_plausible(Quantity::voltage, std::abs(volts), limit),
                                                   Quantity::voltage, volts, limit);
        !doubt.isEmpty())
        return Problem{"", 0, as_told(doubt.toStdString())};
    Measurement reading;
    reading.subject = {0, id, group, 0};
    reading.value = volts;
    reading.resolution = resolution;
    reading.protocol = "typed";
    reading.conditions.condition = condition_of(round);
    if (round == ProofRound::under_load)
        reading.conditions.discharge_current_a = load_a;
    reading.taken_at = reading.recorded_at = session_.now();
    return session_.commit([&] { return session_.measurements.add(reading); }, ChangeSet::assembly(id));
}

Result<bool> ProveService::strike(Id measurement, const std::string& reason) {
    const auto found = session_.measurements.find(measurement);
    const Assembly* pack = found ? inventory_.assembly(found->subject.assembly) : nullptr;
    if (pack == nullptr || (pack->came_in() && !in_field(*pack)))
        return Problem{"", 0, said("There is no such reading of a built pack.")};
    return session_.step([&] { session_.measurements.strike(measurement, reason, session_.now()); },
                         ChangeSet::assembly(found->subject.assembly));
}

Result<bool> ProveService::sign(Id id, const std::string& by) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || build->state != AssemblyState::joined)
        return no_such_joined_pack();
    if (by.empty())
        return Problem{"", 0, said("Say who signs: a short sign is enough.")};
    const Proof proof = this->proof(id).proof;
    for (int r = 0; r < proof_round_count; ++r)
        if (proof.rounds[static_cast<std::size_t>(r)].state != ProofState::passed)
            return Problem{
                "", 0,
                as_told(wording::not_passed(static_cast<ProofRound>(r), proof.rounds[static_cast<std::size_t>(r)])
                            .toStdString())};
    const std::string label = build->label;
    return session_.step(
        [&] {
            session_.assemblies.set_state(id, AssemblyState::proved);
            session_.record_event(signed_event, label, by);
        },
        ChangeSet::assembly(id));
}

Result<bool> ProveService::move_on(Id id, AssemblyState to) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || !inventory_.at_prove(*build))
        return no_such_joined_pack();
    if (!may_follow(build->state, to) || to == AssemblyState::joined || to == AssemblyState::proved)
        return Problem{"", 0, said("{} is {}; that does not follow.", build->label, code(build->state))};
    if (to == AssemblyState::in_service && build->state == AssemblyState::joined)
        return Problem{"", 0, said("{} is not proved yet. Sign its proof first.", build->label)};
    const std::string label = build->label;
    return session_.step(
        [&] {
            session_.assemblies.set_state(id, to);
            session_.record_event("pack moved on", label, code(to));
        },
        ChangeSet::assembly(id));
}

Result<bool> ProveService::send_back(Id id, const std::string& reason) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || (build->state != AssemblyState::joined && build->state != AssemblyState::returned))
        return no_such_joined_pack();
    if (reason.empty())
        return Problem{"", 0, said("Say what is to be mended; it stays on record.")};
    ChangeSet changes = ChangeSet::assembly(id);
    for (const Placement& placement : inventory_.placements(id))
        if (placement.stands() && placement.unit != 0)
            changes.units.insert(placement.unit);
    const std::string label = build->label;
    const BuildTicks ticks = inventory_.ticks(id);
    return session_.step(
        [&] {
            // What covers the joints and what hangs on them comes off first.
            for (const BuildTask task : {BuildTask::cover, BuildTask::board, BuildTask::fuse})
                if (ticks.contains({task, 1}))
                    session_.assemblies.tick(id, task, 1, false, session_.now());
            session_.assemblies.set_state(id, AssemblyState::taken);
            session_.record_event("sent back to Build", label, reason);
        },
        changes);
}

Passport ProveService::passport(Id id) const {
    Passport out;
    const PackProof proof = this->proof(id);
    const Assembly* build = inventory_.build(id);
    if (build == nullptr)
        return out;
    out.label = build->label;
    out.workshop = session_.catalogue.value("name");
    out.chemistry = build->chemistry;
    out.series = build->layout.series;
    out.parallel = build->layout.parallel;
    out.cells_per_unit = build->layout.cells_per_tap();
    const int cells = out.series * out.cells_per_unit;
    if (const Chemistry* chemistry = inventory_.chemistry_of(*build)) {
        out.chemistry_name = chemistry->name;
        out.nominal_v = cells * chemistry->nominal_v();
        out.empty_v = cells * chemistry->test_cutoff_v;
        out.lithium = chemistry->lithium;
        if (chemistry->charge_limit_v)
            out.charge_limit_v = cells * *chemistry->charge_limit_v;
    }
    out.joined_at = joined_at(inventory_.ticks(id));
    out.proved_at = proof.signed_at;
    out.proved_by = proof.signed_by;
    std::vector<double> group_ah(static_cast<std::size_t>(out.series), 0);
    bool all = true;
    for (const Placement& placement : inventory_.placements(id)) {
        const UnitState* unit = inventory_.unit(placement.unit);
        if (unit == nullptr || !placement.stands())
            continue;
        Passport::Unit& line = out.units.emplace_back();
        line.code = unit->code();
        line.model = unit->record.model;
        line.group = placement.group;
        line.place = placement.place;
        if (const Assembly* from = inventory_.assembly(unit->record.pack))
            line.origin = from->label;
        line.capacity_ah = unit->facts.capacity_ah;
        line.resistance_ohm =
            unit->facts.dc_resistance_ohm ? unit->facts.dc_resistance_ohm : unit->facts.ac_resistance_ohm;
        line.leak_ah_per_day = unit->facts.self_discharge_ah_per_day;
        if (line.capacity_ah)
            group_ah[static_cast<std::size_t>(placement.group) - 1] += *line.capacity_ah;
        else
            all = false;
    }
    std::sort(out.units.begin(), out.units.end(), [](const Passport::Unit& a, const Passport::Unit& b) {
        return std::pair(a.group, a.place) < std::pair(b.group, b.place);
    });
    if (all && !out.units.empty())
        out.usable_ah = *std::min_element(group_ah.begin(), group_ah.end());
    const BuildDesign& design = inventory_.design(id);
    for (int f = 0; f < design_figure_count; ++f) {
        const auto figure = static_cast<DesignFigure>(f);
        if (design.knows(figure) && !asks_stock(figure))
            out.design.emplace_back(code(figure), design.word(figure));
    }
    for (int r = 0; r < proof_round_count; ++r) {
        const auto at = static_cast<std::size_t>(r);
        if (!proof.read_at[at].empty())
            out.rounds.push_back(
                {static_cast<ProofRound>(r), proof.read_at[at], proof.readings.rounds[at], proof.proof.rounds[at]});
    }
    return out;
}

} // namespace ingot
