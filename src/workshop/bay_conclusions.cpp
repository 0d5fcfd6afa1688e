// What a run has shown once it is over: readings, cycles, and the verdict on a module's conditioning.
#include "core/measure/resistance.h"
#include "workshop/bays.h"
#include "workshop/wording.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

// The pulse step where there is one, with the sample before it; else every usable step of current.
ResistanceResult resistance_of(const std::vector<RunStep>& steps, LogSamples& log) {
    for (auto step = steps.rbegin(); step != steps.rend(); ++step) {
        if (step->kind != RunStepKind::pulse || !step->as_meant)
            continue;
        const auto from = static_cast<std::size_t>(std::max<std::int64_t>(0, step->first_sample - 1));
        const auto to = std::min(log.size(), static_cast<std::size_t>(step->last_sample + 1));
        LogSamples pulse;
        for (std::size_t i = from; i < to; ++i) {
            pulse.time_s.push_back(log.time_s[i]);
            pulse.voltage_v.push_back(log.voltage_v[i]);
            pulse.current_a.push_back(log.current_a[i]);
        }
        const ResistanceResult measured = measure_resistance(pulse);
        if (measured.dc_resistance_ohm)
            return measured;
    }
    return measure_resistance(log);
}

// The discharge that ended as meant before any charge of the run; null: there is none.
const RunStep* discharged_first(const std::vector<RunStep>& steps) {
    for (const RunStep& step : steps) {
        if (step.kind == RunStepKind::charge || step.kind == RunStepKind::pulse)
            return nullptr;
        if (step.kind == RunStepKind::discharge)
            return step.as_meant && step.charge_ah ? &step : nullptr;
    }
    return nullptr;
}

// degC where the discharge of the capacity began, and its warmest; nothing where the bay has no sensor.
std::optional<std::pair<double, double>> warmed_by(const std::vector<RunStep>& steps, const LogSamples& log,
                                                   const std::optional<RunCapacity>& capacity) {
    if (!capacity)
        return std::nullopt;
    for (const RunStep& step : steps) {
        const auto first = static_cast<std::size_t>(std::max<std::int64_t>(0, step.first_sample));
        if (step.number == capacity->step && step.hottest_c && first < log.temperature_c.size() &&
            std::isfinite(log.temperature_c[first]))
            return std::pair(log.temperature_c[first], *step.hottest_c);
    }
    return std::nullopt;
}

} // namespace

// What the steps say; a run that an older Ingot began has none, then its log is split by the sign of the current.
std::optional<RunCapacity> Bays::capacity_of(const BayView& bay, const std::vector<RunStep>& steps, LogSamples& log,
                                             const Chemistry& chemistry) const {
    if (!steps.empty())
        return capacity_of_run(steps, workshop_.test().errors_of(bay.tester), emptying_step(bay.protocol, steps));
    const InstrumentErrors errors =
        workshop_.test().errors_of(bay.tester).value_or(workshop_.library().practice.usual_tester);
    const CapacityResult measured = measure_capacity(log, capacity_options(chemistry, bay_unit(bay).cells, errors));
    if (!measured.discharge)
        return std::nullopt;
    RunCapacity out;
    out.capacity_ah = measured.discharge->capacity_ah;
    out.energy_wh = measured.discharge->energy_wh;
    out.uncertainty_ah = measured.uncertainty_ah;
    out.coulombic_efficiency = measured.coulombic_efficiency;
    out.cutoff_v = measured.discharge->end_v;
    out.charged_to_v = measured.discharge->start_v;
    out.mean_a = measured.discharge->mean_a;
    return out;
}

void Bays::conclude(BayView& bay) {
    const Chemistry* chemistry = chemistry_on(workshop_, bay);
    if (!known_on(workshop_, bay) || chemistry == nullptr)
        return;
    try {
        workshop_.session_.runs.pack(bay.run);
        LogSamples log = workshop_.session_.runs.samples_of(bay.run);
        const auto steps = workshop_.session_.runs.steps_of(bay.run);
        conclude(bay, *chemistry, log, steps);
    } catch (const std::exception& exception) {
        emit told(tr("The run of %1 is safe, but what it shows could not be concluded: %2")
                      .arg(QString::fromStdString(bay.code), QString::fromUtf8(exception.what())),
                  true);
    }
}

void Bays::conclude(BayView& bay, const Chemistry& chemistry, LogSamples& log, const std::vector<RunStep>& steps) {
    std::vector<Measurement> measured;
    Measurement common;
    common.instrument = bay.tester;
    common.protocol = bay.protocol.stamp();
    if (bay.several()) { // what they gave together stands in the run's steps, and is no unit's own
        conclude_several(bay, steps);
        return;
    }
    const auto capacity = capacity_of(bay, steps, log, chemistry);
    // What the shelf left in it is no capacity of the unit.
    const RunStep* left = discharged_first(steps);
    const auto stored_days =
        left != nullptr && bay.unit != 0 ? workshop_.rest().days_stored(bay.unit, bay.run) : std::nullopt;
    if (stored_days) {
        Measurement& m = measured.emplace_back(common);
        m.quantity = Quantity::capacity;
        m.value = *left->charge_ah;
        m.conditions.condition = Condition::stored;
        m.conditions.days_since_charge = stored_days;
        m.conditions.discharge_current_a = left->mean_a;
        m.conditions.cutoff_v = left->end_v;
    }
    if (capacity && !(stored_days && capacity->step == left->number) && bay.protocol.purpose != "resistance") {
        Measurement& m = measured.emplace_back(common);
        m.quantity = Quantity::capacity;
        m.value = capacity->capacity_ah;
        m.uncertainty = capacity->uncertainty_ah;
        m.conditions.discharge_current_a = capacity->mean_a;
        m.conditions.cutoff_v = capacity->cutoff_v;
        m.conditions.charged_to_v = capacity->charged_to_v;
        m.conditions.temperature_c = capacity->temperature_c;
        bay.capacity_ah = capacity->capacity_ah;
        bay.energy_wh = capacity->energy_wh;
        bay.efficiency = capacity->coulombic_efficiency;
    }
    if (const auto warmed = warmed_by(steps, log, capacity); warmed && bay.protocol.purpose != "resistance") {
        Measurement& m = measured.emplace_back(common);
        m.quantity = Quantity::temperature;
        m.value = warmed->second;
        m.conditions.condition = Condition::load;
        m.conditions.temperature_c = warmed->first;
        m.conditions.discharge_current_a = capacity->mean_a;
    }
    const ResistanceResult resistance = resistance_of(steps, log);
    if (resistance.dc_resistance_ohm && *resistance.dc_resistance_ohm > 0) {
        Measurement& m = measured.emplace_back(common);
        m.quantity = Quantity::dc_resistance;
        m.value = *resistance.dc_resistance_ohm;
        m.uncertainty = resistance.uncertainty_ohm;
        if (!log.temperature_c.empty() && std::isfinite(log.temperature_c.front()))
            m.conditions.temperature_c = log.temperature_c.front();
    }
    std::vector<Cycle> cycles;
    if (bay.protocol.purpose == "conditioning" && bay.unit != 0)
        cycles = cycles_of_run(bay.protocol, bay.run, bay.unit, steps, workshop_.now());
    if (const auto done = workshop_.test().record_concluded(bay, measured, cycles, bay.run); !done)
        emit told(wording::problem(done.problem()), true);
    if (cycles.empty())
        return;
    ConditioningRow row; // of this unit alone: the others have not changed
    for (const Cycle& cycle : workshop_.session_.runs.cycles_of(bay.unit))
        row.add(cycle);
    judge_row(workshop_, bay.unit, row);
    bay.verdict = row.result.verdict;
}

// How the string does, by this run alone.
void Bays::conclude_several(BayView& bay, const std::vector<RunStep>& steps) {
    ConditioningRow row;
    for (const Cycle& cycle : cycles_of_run(bay.protocol, bay.run, bay.unit, steps, workshop_.now()))
        row.add(cycle);
    if (row.cycles.empty())
        return;
    judge_row(workshop_, bay.unit, row);
    bay.verdict = row.result.verdict;
}

double Bays::bar_of(Id unit) const {
    return conditioning_bar_of(workshop_, unit);
}

std::vector<ConditioningRow> Bays::conditioning_rows() const {
    std::map<Id, ConditioningRow> rows;
    for (const auto& cycle : workshop_.session_.runs.cycles()) {
        ConditioningRow& row = rows[cycle.unit];
        row.unit = cycle.unit;
        row.add(cycle);
    }
    std::vector<ConditioningRow> out;
    out.reserve(rows.size());
    for (auto& [id, row] : rows) {
        const UnitState* unit = workshop_.unit(id);
        const double rated_ah = unit == nullptr ? 0 : bay_unit(id).rated_ah;
        if (!(rated_ah > 0))
            continue;
        ConditioningRow& kept = judged_[id];
        if (kept.cycles != row.cycles || kept.rated_ah != rated_ah || kept.bar_ah != bar_of(id)) {
            judge_row(workshop_, id, row);
            kept = std::move(row);
        }
        out.push_back(kept);
    }
    const auto weight = [](const ConditioningRow& row) {
        return row.result.verdict == ConditioningVerdict::replace ? -1 : row.result.pass_probability;
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const ConditioningRow& a, const ConditioningRow& b) { return weight(a) < weight(b); });
    return out;
}

} // namespace ingot
