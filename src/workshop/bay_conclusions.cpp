// What a run has shown once it is over: readings, cycles, and the verdict on a module's conditioning.
#include "core/measure/resistance.h"
#include "workshop/bays.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double nearly_hot_k = 2; // under the temperature limit

void judge_row(ConditioningRow& row, const UnitState& unit, double rated_ah, double bar_ah) {
    row.code = unit.code();
    row.rated_ah = rated_ah;
    row.bar_ah = bar_ah;
    ConditioningRules rules;
    rules.bar_ah = bar_ah;
    rules.rated_ah = rated_ah;
    row.result = judge_conditioning(row.cycles, rules);
}

} // namespace

void Bays::conclude(BayView& bay) {
    const UnitState* unit = workshop_.unit(bay.unit);
    const Chemistry* chemistry = chemistry_of(bay.unit);
    if (unit == nullptr || chemistry == nullptr)
        return;
    LogSamples log = workshop_.records().samples_of(bay.run);
    const BayUnit facts = bay_unit(bay.unit);
    const CapacityOptions options = capacity_options(*chemistry, facts.cells);
    const CapacityResult measured = measure_capacity(log, options);
    std::vector<Measurement> readings;
    Measurement reading;
    reading.instrument = tester_.identity().model;
    reading.protocol = bay.protocol.stamp();
    if (!log.temperature_c.empty())
        reading.conditions.temperature_c = log.temperature_c.front();
    const bool early = !bench::as_meant(bay.stop);
    // A discharge counts when it reached its cutoff: one that a limit ended is none.
    const bool counts = measured.discharge && !(early && measured.discharge->last_step + 1 == measured.steps.size());
    if (counts && bay.protocol.purpose != "resistance") {
        const Discharge& step = *measured.discharge;
        Measurement capacity = reading;
        capacity.quantity = Quantity::capacity;
        capacity.value = *measured.discharge_capacity_ah;
        capacity.uncertainty = measured.uncertainty_ah;
        capacity.conditions.discharge_current_a = step.mean_a;
        capacity.conditions.cutoff_v = step.end_v;
        // Rested, where a rest came between.
        const std::size_t at = measured.discharge->first_step;
        const bool rested = at > 0 && measured.steps[at - 1].kind == StepKind::rest;
        capacity.conditions.charged_to_v = rested ? measured.steps[at - 1].end_v : step.start_v;
        readings.push_back(capacity);
        bay.capacity_ah = measured.discharge_capacity_ah;
        bay.energy_wh = measured.discharge_energy_wh;
        bay.efficiency = measured.coulombic_efficiency;
    }
    const ResistanceResult resistance = measure_resistance(log);
    if (resistance.dc_resistance_ohm && *resistance.dc_resistance_ohm > 0) {
        Measurement ohms = reading;
        ohms.quantity = Quantity::dc_resistance;
        ohms.value = *resistance.dc_resistance_ohm;
        ohms.uncertainty = resistance.uncertainty_ohm;
        readings.push_back(ohms);
    }
    std::vector<store::CycleRecord> cycles;
    if (bay.protocol.purpose == "conditioning") {
        double charge = 0;
        double hottest_c = -273;
        const double hot_c = bay.protocol.limits.charge_high_c - nearly_hot_k;
        for (std::size_t i = 0; i < measured.steps.size(); ++i) {
            const Step& step = measured.steps[i];
            for (std::size_t k = step.first; k <= step.last && k < log.temperature_c.size(); ++k)
                hottest_c = std::max(hottest_c, log.temperature_c[k]);
            if (step.kind == StepKind::charge)
                charge += step.capacity_ah;
            if (step.kind != StepKind::discharge)
                continue;
            const bool last = i + 1 == measured.steps.size();
            store::CycleRecord cycle;
            cycle.run_id = bay.run;
            cycle.unit_id = bay.unit;
            cycle.number = static_cast<int>(cycles.size()) + 1;
            cycle.capacity_ah = step.capacity_ah;
            cycle.energy_wh = step.energy_wh;
            if (charge > 0)
                cycle.charge_ah = charge;
            // One that a limit ended, or that ran nearly as hot as the limit, weighs little.
            const bool hot = hottest_c > hot_c;
            cycle.full = !(last && early) && !hot;
            cycle.stop = last && early ? bench::code(bay.stop) : hot ? bench::code(bench::StepEnd::hot) : "cutoff";
            hottest_c = -273;
            cycle.taken_at = workshop_.now();
            cycles.push_back(cycle);
            charge = 0;
        }
    }
    const auto done = workshop_.record_concluded(bay.unit, readings, cycles, bay.run);
    if (!done)
        emit told(QString::fromStdString(done.problem().text()), true);
    if (cycles.empty())
        return;
    ConditioningRow row; // of this unit alone: the others have not changed
    for (const auto& cycle : workshop_.records().cycles())
        if (cycle.unit_id == bay.unit)
            row.cycles.push_back({static_cast<int>(row.cycles.size()) + 1, cycle.capacity_ah, cycle.full});
    judge_row(row, *unit, facts.rated_ah, bar_of(bay.unit));
    bay.verdict = row.result.verdict;
}

double Bays::bar_of(Id unit) const {
    // 5.0 Ah of 6.5 Ah: common practice, no source.
    constexpr double usual_bar = 5.0 / 6.5;
    return usual_bar * bay_unit(unit).rated_ah;
}

std::vector<ConditioningRow> Bays::conditioning_rows() const {
    std::map<Id, ConditioningRow> rows;
    for (const auto& cycle : workshop_.records().cycles()) {
        ConditioningRow& row = rows[cycle.unit_id];
        row.unit = cycle.unit_id;
        row.cycles.push_back({static_cast<int>(row.cycles.size()) + 1, cycle.capacity_ah, cycle.full});
    }
    std::vector<ConditioningRow> out;
    out.reserve(rows.size());
    for (auto& [id, row] : rows) {
        const UnitState* unit = workshop_.unit(id);
        if (unit == nullptr || !(bay_unit(id).rated_ah > 0))
            continue;
        judge_row(row, *unit, bay_unit(id).rated_ah, bar_of(id));
        out.push_back(std::move(row));
    }
    const auto weight = [](const ConditioningRow& row) {
        return row.result.verdict == ConditioningVerdict::replace ? -1 : row.result.pass_probability;
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const ConditioningRow& a, const ConditioningRow& b) { return weight(a) < weight(b); });
    return out;
}

} // namespace ingot
