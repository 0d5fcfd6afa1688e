#include "workshop/test.h"

#include "core/measure/moment.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>

namespace ingot {

std::optional<Problem> TestService::objection(const UnitState& u, const Measurement& reading) const {
    const Chemistry* chemistry = inventory_.chemistry_of(u);
    constexpr double margin = 1.15;
    const double limit =
        (chemistry != nullptr ? chemistry->full_v : 5.0) * std::max(1, u.reference.cells_in_series) * margin;
    const QString doubt = wording::implausible(check_plausible(reading.quantity, reading.value, limit),
                                               reading.quantity, reading.value, limit);
    if (!doubt.isEmpty())
        return Problem{"", 0, as_told(doubt.toStdString())};
    const Conditions& c = reading.conditions;
    if (c.discharge_current_a && *c.discharge_current_a <= 0)
        return Problem{"", 0, said("A discharge draws more than 0 A, not {} A.", *c.discharge_current_a)};
    for (const auto& volts : {c.charged_to_v, c.cutoff_v})
        if (volts && (*volts < 0 || *volts > limit))
            return Problem{"", 0,
                           said("{} V is not believed of this unit, which takes at most {} V.", *volts,
                                figures::plain(limit / margin, 2).toStdString())};
    if (c.charged_to_v && c.cutoff_v && *c.charged_to_v <= *c.cutoff_v)
        return Problem{
            "", 0,
            said("A discharge from {} V does not end at {} V. Are the two swapped?", *c.charged_to_v, *c.cutoff_v)};
    return std::nullopt;
}

// Where the unit stood and what it was judged under; unknown conditions stay unknown.
void TestService::complete(Measurement& m, const UnitState& u, const std::string& taken_at) const {
    m.subject = {u.record.id, 0, 0, 0};
    m.tray = u.record.tray;
    m.well = u.record.well;
    if (const UnitModel* model = inventory_.library().model(u.record.model))
        m.model_version = model->version;
    m.rule_set = inventory_.rules().stamp();
    m.recorded_at = session_.now();
    m.taken_at = taken_at.empty() ? m.recorded_at : taken_at;
}

Result<Id> TestService::record_reading(Id unit_id, Measurement reading, const std::string& taken_at) {
    const UnitState* u = inventory_.unit(unit_id);
    if (u == nullptr)
        return no_such_unit();
    if (auto problem = objection(*u, reading))
        return *problem;
    const auto moment = taken_at.empty() ? std::optional<std::string>("") : normal_moment(taken_at);
    if (!moment)
        return Problem{"", 0, said("\"{}\" is no moment. Write it as 2026-11-27 or 2026-11-27T10:39.", taken_at)};
    complete(reading, *u, *moment);
    return session_.commit([&] { return session_.measurements.add(reading); }, ChangeSet::unit(unit_id));
}

Result<bool> TestService::strike_reading(Id id, const std::string& reason) {
    if (reason.empty())
        return Problem{"", 0, said("Say why the reading is struck out; it stays on record.")};
    const auto struck = session_.measurements.find(id);
    if (!struck)
        return Problem{"", 0, said("There is no such reading.")};
    if (!struck->struck_reason.empty())
        return Problem{"", 0, said("This reading is struck out already: {}.", struck->struck_reason)};
    ChangeSet changes = ChangeSet::unit(struck->subject.unit);
    changes.add(ChangeSet::assembly(struck->subject.assembly));
    return session_.step([&] { session_.measurements.strike(id, reason, session_.now()); }, changes);
}

std::optional<InstrumentErrors> TestService::errors_of(const std::string& name) const {
    const auto instrument = session_.measurements.instrument(name);
    if (!instrument || !instrument->current_gain || !instrument->current_offset_a)
        return std::nullopt;
    return InstrumentErrors{*instrument->current_gain, *instrument->current_offset_a};
}

CapacityOptions TestService::options_for_log(const UnitState* unit, const std::string& instrument) const {
    const InstrumentErrors errors = errors_of(instrument).value_or(inventory_.library().practice.usual_tester);
    if (unit != nullptr)
        if (const Chemistry* chemistry = inventory_.chemistry_of(*unit))
            return capacity_options(*chemistry, unit->reference.cells_in_series, errors);
    CapacityOptions options;
    options.errors = errors;
    return options;
}

// An assembly is measured at its terminals.
void TestService::complete(Measurement& m, const OnChannel& on) const {
    if (const UnitState* unit = inventory_.unit(on.unit)) {
        complete(m, *unit, {});
        return;
    }
    m.subject = {0, on.assembly, 0, 0};
    m.taken_at = m.recorded_at = session_.now();
}

Result<bool> TestService::record_concluded(const OnChannel& on, const std::vector<Measurement>& measured,
                                           const std::vector<Cycle>& cycles, Id run, const BayRun* ended) {
    if (inventory_.unit(on.unit) == nullptr && inventory_.assembly(on.assembly) == nullptr)
        return Problem{"", 0, said("The unit of this run is not in the workshop.")};
    ChangeSet changes = ChangeSet::assembly(on.assembly);
    for (const Id unit : on.units())
        changes.add(ChangeSet::unit(unit));
    return session_.step(
        [&] {
            for (Measurement m : measured) {
                complete(m, on);
                m.run = run;
                session_.measurements.add(m);
            }
            for (const Cycle& cycle : cycles)
                session_.runs.add(cycle);
            if (ended != nullptr)
                session_.runs.update(*ended);
        },
        changes);
}

Result<bool> TestService::give_run(Id run, Id unit) {
    const auto record = session_.runs.find(run);
    const UnitState* from = record ? inventory_.unit(record->unit) : nullptr;
    const UnitState* to = inventory_.unit(unit);
    if (from == nullptr || to == nullptr)
        return Problem{"", 0, said("Choose a run and the unit that it was made on.")};
    if (record->several())
        return Problem{"", 0, said("Several units in series were on this run. It says nothing of one of them.")};
    if (record->unit == unit)
        return Problem{"", 0, said("The run is {}'s already.", to->code())};
    for (const BayRun& open : session_.runs.open())
        if (open.run == run)
            return Problem{"", 0, said("{} is not lifted out yet. Lift it out, then give the run away.", from->code())};
    // What a run tells was concluded by the unit's chemistry and cells.
    if (from->facts.chemistry != to->facts.chemistry ||
        from->reference.cells_in_series != to->reference.cells_in_series)
        return Problem{"", 0,
                       said("{} and {} are of unlike kinds, so the run was read by the wrong limits. Save its log and "
                            "import it for the right unit.",
                            from->code(), to->code())};
    const auto& measured = session_.measurements.history_of_unit(record->unit);
    std::vector<Measurement> moved;
    for (const Measurement& m : measured)
        if (m.run == run && m.struck_reason.empty()) {
            if (auto problem = objection(*to, m))
                return *problem;
            moved.push_back(m);
        }
    ChangeSet changes = ChangeSet::unit(record->unit);
    changes.units.insert(unit);
    const std::string why = "its run was made on " + to->code();
    const std::string there = from->code();
    return session_.step(
        [&] {
            session_.runs.give(run, unit);
            for (Measurement m : moved) {
                session_.measurements.strike(m.id, why, session_.now());
                m.id = 0;
                m.subject.unit = unit;
                session_.measurements.add(m);
            }
            session_.record_event("run given to another unit", there, "to " + to->code());
        },
        changes);
}

Result<Id> TestService::import_log(Id unit_id, const exchange::ImportedLog& log, const CapacityResult& result,
                                   const std::string& file, const std::string& instrument,
                                   const ResistanceResult& resistance, const std::string& taken_at) {
    const UnitState* u = inventory_.unit(unit_id);
    if (u == nullptr)
        return Problem{"", 0, said("Choose the unit that the log belongs to first: scan its label.")};
    const int cells = std::max(1, u->reference.cells_in_series);
    const Chemistry* chemistry = inventory_.chemistry_of(*u);
    // The wrong file for this unit shows in its voltages.
    constexpr double slack = 1.2;
    const double highest =
        log.samples.size() == 0 ? 0 : *std::max_element(log.samples.voltage_v.begin(), log.samples.voltage_v.end());
    if (chemistry != nullptr && highest > chemistry->full_v * cells * slack)
        return Problem{
            file, 0,
            said("the log reaches {} V, more than {} can have. Is it another unit's log?", highest, u->code())};
    const auto moment = taken_at.empty() ? std::optional<std::string>("") : normal_moment(taken_at);
    if (!moment)
        return Problem{file, 0, said("\"{}\" is no moment. Write it as 2026-11-27 or 2026-11-27T10:39.", taken_at)};
    std::vector<Measurement> measured;
    Measurement common;
    common.instrument = instrument;
    common.protocol = "imported";
    if (!log.samples.temperature_c.empty() && std::isfinite(log.samples.temperature_c.front()))
        common.conditions.temperature_c = log.samples.temperature_c.front();
    if (result.discharge) {
        const Discharge& discharge = *result.discharge;
        Measurement& capacity = measured.emplace_back(common);
        capacity.quantity = Quantity::capacity;
        capacity.value = discharge.capacity_ah;
        capacity.uncertainty = discharge.uncertainty_ah;
        capacity.conditions.discharge_current_a = discharge.mean_a;
        capacity.conditions.cutoff_v = discharge.end_v;
        capacity.conditions.charged_to_v = discharge.start_v;
    }
    if (resistance.dc_resistance_ohm && *resistance.dc_resistance_ohm > 0) {
        Measurement& ohms = measured.emplace_back(common);
        ohms.quantity = Quantity::dc_resistance;
        ohms.value = *resistance.dc_resistance_ohm;
        ohms.uncertainty = resistance.uncertainty_ohm;
    }
    for (const Measurement& m : measured)
        if (const auto problem = objection(*u, m))
            return Problem{file, 0, problem->sentence};
    return session_.commit(
        [&] {
            Run run;
            run.unit = unit_id;
            run.file = file;
            run.instrument = instrument;
            run.protocol = "imported";
            run.recorded_at = session_.now();
            run.ended_at = moment->empty() ? run.recorded_at : *moment; // at the latest
            const Id id = session_.runs.add(run, log.samples);
            for (Measurement m : measured) {
                complete(m, *u, *moment);
                m.run = id;
                session_.measurements.add(m);
            }
            session_.record_event("log imported", u->code(), file);
            return id;
        },
        ChangeSet::unit(unit_id));
}

std::vector<Id> TestService::sibling_runs(Id unit, std::size_t most) const {
    const UnitState* u = inventory_.unit(unit);
    return u == nullptr ? std::vector<Id>() : session_.runs.of_model(u->record.model, most, unit);
}

std::vector<Id> TestService::runs_discharged_like(Id unit, const std::string& protocol, std::size_t most) const {
    const UnitState* u = inventory_.unit(unit);
    return u == nullptr ? std::vector<Id>() : session_.runs.discharged_like(u->record.model, protocol, most, unit);
}

DischargeCurve TestService::last_discharge(Id run) const {
    const auto steps = session_.runs.steps_of(run);
    const auto last = std::find_if(steps.rbegin(), steps.rend(), [](const RunStep& step) {
        return step.kind == RunStepKind::discharge && step.as_meant;
    });
    const LogSamples log = session_.runs.samples_of(run);
    if (last == steps.rend() || last->first_sample < 0 || last->last_sample <= last->first_sample ||
        static_cast<std::size_t>(last->last_sample) >= log.size())
        return {};
    return discharge_curve(log, static_cast<std::size_t>(last->first_sample),
                           static_cast<std::size_t>(last->last_sample));
}

CapacityComparison TestService::compare_capacity(Id unit_id) const {
    CapacityComparison out;
    const UnitState* unit = inventory_.unit(unit_id);
    const Chemistry* chemistry = unit == nullptr ? nullptr : inventory_.chemistry_of(*unit);
    if (chemistry == nullptr || !unit->facts.capacity_ah)
        return out;
    const Fact& newest = *unit->facts.capacity_ah;
    const int cells = std::max(1, unit->reference.cells_in_series);
    constexpr double clearly_less = 0.06; // V a cell
    out.full_v = chemistry->full_v * cells;
    out.charged_to_v = newest.conditions.charged_to_v.value_or(0);
    // Emptied to its cutoff: by definition the curve's empty end.
    if (newest.conditions.charged_to_v && !chemistry->ocv.empty() &&
        *newest.conditions.charged_to_v / cells < chemistry->full_v - clearly_less)
        out.corrected = to_full_window(newest.value, newest.uncertainty.value_or(0), *newest.conditions.charged_to_v,
                                       chemistry->ocv.ocv_at(0) * cells, *chemistry, cells);
    constexpr int most_compared = 40;
    const auto& units = inventory_.units();
    for (auto other = units.rbegin(); other != units.rend() && out.siblings < most_compared; ++other) {
        if (other->record.id == unit_id || other->record.model != unit->record.model || !other->facts.capacity_ah)
            continue;
        ++out.siblings;
        const auto why = incomparable(newest.conditions, other->facts.capacity_ah->conditions);
        out.unlike += why.empty() ? 0 : 1;
        for (const Incomparable reason : why)
            ++out.reasons[reason];
    }
    return out;
}

Id TestService::next_waiting(Id after) const {
    const auto& units = inventory_.units();
    const auto waits = [](const UnitState& u) {
        return u.in_stock() && !u.facts.capacity_ah && u.verdict.duty <= Duty::undecided;
    };
    const auto here =
        std::find_if(units.begin(), units.end(), [&](const UnitState& u) { return u.record.id == after; });
    auto next = std::find_if(here == units.end() ? units.begin() : here + 1, units.end(), waits);
    if (next == units.end())
        next = std::find_if(units.begin(), units.end(), waits);
    return next == units.end() ? 0 : next->record.id;
}

} // namespace ingot
