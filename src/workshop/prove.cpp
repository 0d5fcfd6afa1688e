#include "workshop/prove.h"

#include "core/prove/proof_records.h"
#include "workshop/prove_wording.h"
#include "workshop/wording.h"

#include <QDateTime>

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace ingot {

namespace {

constexpr const char* bench_sign_key = "bench_sign";

// `shown`: of the figure what is held against the limits; whichever way round it was read.
std::optional<Problem> doubted(Quantity quantity, double shown, double value, double limit) {
    const QString doubt =
        wording::implausible(check_plausible(quantity, std::abs(shown), limit), quantity, value, limit);
    return doubt.isEmpty() ? std::nullopt : std::optional(Problem{"", 0, as_told(doubt.toStdString())});
}

Problem no_such_joined_pack() {
    return {"", 0, said("There is no such joined pack.")};
}

} // namespace

Result<Id> ProveService::record(Id id, ProofRound round, int group, double volts, std::optional<double> resolution,
                                std::optional<double> load_a, int place) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || !inventory_.at_prove(*build))
        return no_such_joined_pack();
    if (group < 0 || group > build->layout.series)
        return Problem{"", 0, said("This pack has {} groups.", build->layout.series)};
    if (round == ProofRound::units && (group < 1 || place < 1 || place > build->layout.parallel))
        return Problem{"", 0, said("A group of this pack has {} units.", build->layout.parallel)};
    if (!reads_groups(round) && round != ProofRound::units)
        return Problem{"", 0, said("This round asks for other figures than the groups' volts.")};
    const bool loaded = round == ProofRound::under_load || round == ProofRound::units;
    if (loaded && (!load_a || !(*load_a > 0)))
        return Problem{"", 0, said("Say first how many amperes the load draws.")};
    if (auto doubt = doubted(Quantity::voltage, volts, volts, most_volts(*build, group)))
        return std::move(*doubt);
    Measurement reading;
    reading.subject = {0, id, group, round == ProofRound::units ? place : 0};
    reading.value = volts;
    reading.resolution = resolution;
    reading.protocol = "typed";
    reading.conditions.condition = condition_of(round);
    if (loaded)
        reading.conditions.discharge_current_a = load_a;
    reading.taken_at = reading.recorded_at = session_.now();
    auto kept = session_.commit([&] { return session_.measurements.add(reading); }, ChangeSet::assembly(id));
    if (kept)
        sign_passed(id);
    return kept;
}

Result<int> ProveService::record_log(Id id, const BoardLog& log, const BoardLogReading& reading) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || build->state != AssemblyState::joined)
        return no_such_joined_pack();
    if (static_cast<int>(log.groups()) != build->layout.series)
        return Problem{"", 0, said("This pack has {} groups.", build->layout.series)};
    std::vector<Measurement> rows;
    const std::string now = session_.now();
    const auto take = [&](ProofRound round, std::size_t row, std::optional<double> load_a) {
        Measurement m;
        m.resolution = log.resolution_v;
        m.instrument = "board";
        m.protocol = "log";
        m.conditions.condition = condition_of(round);
        m.conditions.discharge_current_a = load_a;
        m.taken_at = m.recorded_at = now;
        for (std::size_t g = 0; g < log.groups(); ++g) {
            m.subject = {0, id, static_cast<int>(g) + 1, 0};
            m.value = log.group_v[row][g];
            rows.push_back(m);
        }
        if (log.terminals_v.empty() || std::isnan(log.terminals_v[row]))
            return;
        m.subject = {0, id, 0, 0};
        m.value = log.terminals_v[row];
        rows.push_back(m);
    };
    // A rest before the load is a round of its own; the end of a charge says more where there is one.
    if (reading.before_load)
        take(ProofRound::at_rest, *reading.before_load, {});
    if (reading.end_of_charge)
        take(ProofRound::end_of_charge, *reading.end_of_charge, {});
    if (reading.under_load && reading.before_load)
        take(ProofRound::under_load, *reading.under_load, -reading.charging_a[*reading.under_load]);
    if (rows.empty())
        return Problem{"", 0,
                       said("The log has neither a charge nor a load after a rest: there is no figure to take.")};
    for (const Measurement& m : rows)
        if (auto doubt = doubted(Quantity::voltage, m.value, m.value, most_volts(*build, m.subject.group)))
            return std::move(*doubt);
    auto kept = session_.commit(
        [&] {
            Id last = 0;
            for (const Measurement& m : rows)
                last = session_.measurements.add(m);
            return last;
        },
        ChangeSet::assembly(id));
    if (!kept)
        return kept.problem();
    sign_passed(id);
    return static_cast<int>(rows.size());
}

// A charger that went wrong is still read.
double ProveService::most_volts(const Assembly& build, int group) const {
    const Chemistry* chemistry = inventory_.chemistry_of(build);
    constexpr double room = 1.2;
    constexpr double any_cell_v = 5; // of a chemistry that the library does not know
    const double cells = build.layout.cells_per_tap() * (group == 0 ? build.layout.series : 1);
    return room * cells * (chemistry != nullptr ? chemistry->charging_v() : any_cell_v);
}

Result<Id> ProveService::record_item(Id id, ProofItem item, double value, std::optional<double> resolution) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || !inventory_.at_prove(*build))
        return no_such_joined_pack();
    if (is_yes_or_no(item))
        return Problem{"", 0, said("This asks for yes or no.")};
    Measurement reading = item_measurement(item);
    const double limit = most_volts(*build, 0);
    // A hundred cells of four hundred ampere-hours are read as one.
    const double shown = item == ProofItem::capacity ? value / build->layout.parallel : value;
    if (auto doubt = doubted(reading.quantity, shown, value, limit))
        return std::move(*doubt);
    if (value < 0)
        return Problem{"", 0, said("This is never negative.")};
    reading.subject.assembly = id;
    reading.value = item == ProofItem::hours_to_wake ? value * kept_seconds_per_hour : value;
    if (resolution)
        reading.resolution = item == ProofItem::hours_to_wake ? *resolution * kept_seconds_per_hour : *resolution;
    reading.protocol = "typed";
    reading.taken_at = reading.recorded_at = session_.now();
    auto kept = session_.commit([&] { return session_.measurements.add(reading); }, ChangeSet::assembly(id));
    if (kept)
        sign_passed(id);
    return kept;
}

Result<bool> ProveService::answer(Id id, ProofItem item, Answer answer) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || !inventory_.at_prove(*build))
        return no_such_joined_pack();
    if (!is_yes_or_no(item) && (answer == Answer::yes || answer == Answer::no))
        return Problem{"", 0, said("This asks for a figure.")};
    if (answer == Answer::none && !may_be_missing(item))
        return Problem{"", 0,
                       said("Every pack has this. Leave the round out, with a reason, where it cannot be done.")};
    const ProofNote note{0,
                         id,
                         ProofNoteKind::answer,
                         code(item),
                         answer == Answer::yes    ? "yes"
                         : answer == Answer::no   ? "no"
                         : answer == Answer::none ? "none"
                                                  : "",
                         session_.now()};
    auto done = session_.step([&] { session_.remarks.add(note); }, ChangeSet::assembly(id));
    if (done)
        sign_passed(id);
    return done;
}

Result<bool> ProveService::leave_out(Id id, ProofRound round, const std::string& reason) {
    const Assembly* build = inventory_.build(id);
    if (build == nullptr || build->state != AssemblyState::joined)
        return no_such_joined_pack();
    if (!may_be_left_out(round))
        return Problem{"", 0, said("No pack is signed without this round.")};
    const ProofNote note{0, id, ProofNoteKind::left_out, code(round), reason, session_.now()};
    return session_.step([&] { session_.remarks.add(note); }, ChangeSet::assembly(id));
}

std::string ProveService::bench_sign() const {
    return session_.catalogue.value(bench_sign_key);
}

Result<bool> ProveService::set_bench_sign(const std::string& sign) {
    return session_.step([&] { session_.catalogue.set(bench_sign_key, sign); }, {});
}

void ProveService::sign_passed(Id id) {
    const std::string by = bench_sign();
    if (by.empty())
        return;
    const PackProof now = proof(id);
    std::vector<ProofNote> notes;
    for (int r = 0; r < proof_round_count; ++r)
        if (const auto at = static_cast<std::size_t>(r);
            now.proof.rounds[at].state == ProofState::passed && now.signatures[at].by.empty())
            notes.push_back({0, id, ProofNoteKind::signed_, code(static_cast<ProofRound>(r)), by, session_.now()});
    if (notes.empty())
        return;
    // The reading stands without it; one that could not be signed is signed with the next.
    (void)session_.step(
        [&] {
            for (const ProofNote& note : notes)
                session_.remarks.add(note);
        },
        ChangeSet::assembly(id));
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
        if (holds_up(proof.rounds[static_cast<std::size_t>(r)].state))
            return Problem{
                "", 0,
                as_told(wording::not_passed(static_cast<ProofRound>(r), proof.rounds[static_cast<std::size_t>(r)])
                            .toStdString())};
    const std::string label = build->label;
    return session_.step(
        [&] {
            session_.assemblies.set_state(id, AssemblyState::proved);
            session_.record_event(pack_proved_event, label, by);
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
    out.joined_at = pack_joined_at(inventory_.ticks(id));
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
        if (!proof.read_at[at].empty() || proof.proof.rounds[at].state == ProofState::left_out)
            out.rounds.push_back({static_cast<ProofRound>(r), proof.read_at[at], proof.readings.rounds[at],
                                  proof.proof.rounds[at], proof.signatures[at].by, proof.readings.left_out[at]});
    }
    for (int i = 0; i < proof_item_count; ++i)
        if (const auto& value = proof.readings.items[static_cast<std::size_t>(i)])
            out.items.push_back({static_cast<ProofItem>(i), *value});
    return out;
}

} // namespace ingot
