// Test and Sort.
#include "workshop/workshop.h"

#include "workshop/wording.h"

#include <algorithm>
#include <cmath>

namespace ingot {

Result<Id> Workshop::record_reading(Id unit_id, const Measurement& reading, const std::string& taken_at) {
    UnitState* u = unit_at(unit_id);
    if (u == nullptr)
        return Problem{"", 0, "There is no such unit."};
    const Chemistry* chemistry = library_.chemistry(u->facts.chemistry);
    constexpr double margin = 1.15;
    const double limit =
        (chemistry != nullptr ? chemistry->full_v : 5.0) * std::max(1, u->reference.cells_in_series) * margin;
    if (const QString objection = wording::implausible(check_plausible(reading.quantity, reading.value, limit),
                                                       reading.quantity, reading.value, limit);
        !objection.isEmpty())
        return Problem{"", 0, objection.toStdString()};
    store::ReadingRecord record;
    record.unit_id = unit_id;
    record.reading = reading;
    record.tray = u->record.tray;
    record.well = u->record.well;
    if (const UnitModel* model = library_.model(u->record.model))
        record.model_version = model->version;
    record.rule_set = rules_.stamp();
    record.recorded_at = now();
    record.taken_at = taken_at.empty() ? record.recorded_at : taken_at;
    const auto id = guarded([&] { return records_.add(record); }, touched_nothing);
    if (id) {
        apply_reading({unit_id,
                       0,
                       0,
                       reading.quantity,
                       reading.conditions.condition,
                       reading.value,
                       reading.uncertainty,
                       {},
                       {},
                       {}});
        prepare_references();
        judge_all();
        emit changed();
    }
    return id;
}

Result<bool> Workshop::strike_reading(Id reading, const std::string& reason) {
    if (reason.empty())
        return Problem{"", 0, "Say why the reading is struck out; it stays on record."};
    return guarded_step([&] { records_.strike_reading(reading, reason, now()); });
}

Result<bool> Workshop::record_concluded(Id unit_id, const std::vector<Measurement>& readings,
                                        const std::vector<store::CycleRecord>& cycles, Id run) {
    const UnitState* u = unit(unit_id);
    if (u == nullptr)
        return Problem{"", 0, "The unit of this run is not in the workshop."};
    std::vector<store::ReadingFact> facts;
    const auto done = guarded_step(
        [&] {
            for (const Measurement& reading : readings) {
                store::ReadingRecord record;
                record.unit_id = unit_id;
                record.run_id = run;
                record.reading = reading;
                record.tray = u->record.tray;
                record.well = u->record.well;
                record.rule_set = rules_.stamp();
                record.taken_at = record.recorded_at = now();
                records_.add(record);
                store::ReadingFact fact;
                fact.unit_id = unit_id;
                fact.quantity = reading.quantity;
                fact.condition = reading.conditions.condition;
                fact.value = reading.value;
                fact.uncertainty = reading.uncertainty;
                facts.push_back(fact);
            }
            for (const auto& cycle : cycles)
                records_.add(cycle);
        },
        touched_nothing);
    if (!done)
        return done;
    for (const auto& fact : facts)
        apply_reading(fact);
    judge(*unit_at(unit_id));
    emit changed();
    return true;
}

Result<bool> Workshop::open_unit_quarantine(Id unit_id, const std::string& reason) {
    const UnitState* u = unit(unit_id);
    if (u == nullptr)
        return Problem{"", 0, "This unit is not in the workshop."};
    if (u->quarantined)
        return true;
    return guarded_step(
        [&] {
            records_.open_quarantine(0, unit_id, reason, now());
            records_.add(store::EventRecord{now(), "quarantine opened", u->code(), reason});
        },
        touched_unit(unit_id));
}

Result<Id> Workshop::import_log(Id unit_id, const exchange::ImportedLog& log, const CapacityResult& result,
                                const std::string& file, const std::string& instrument,
                                const ResistanceResult& resistance) {
    const UnitState* u = unit(unit_id);
    if (u == nullptr)
        return Problem{"", 0, "Choose the unit that the log belongs to first: scan its label."};
    const int cells = std::max(1, u->reference.cells_in_series);
    const Chemistry* chemistry = library_.chemistry(u->facts.chemistry);
    // The wrong file for this unit shows in its voltages.
    const auto [low, high] = std::minmax_element(log.samples.voltage_v.begin(), log.samples.voltage_v.end());
    if (chemistry != nullptr && *high > chemistry->full_v * cells * 1.2)
        return Problem{file, 0,
                       "the log reaches " + std::to_string(*high) + " V, more than " + u->code() +
                           " can have. Is it another unit's log?"};
    return guarded([&] {
        store::RunRecord run;
        run.unit_id = unit_id;
        run.file = file;
        run.instrument = instrument;
        run.protocol = "imported";
        run.imported_at = now();
        const Id id = records_.add_run(run, log.samples);
        const auto keep = [&](Measurement reading) {
            store::ReadingRecord record;
            record.unit_id = unit_id;
            record.run_id = id;
            record.reading = std::move(reading);
            record.reading.instrument = instrument;
            record.reading.protocol = "imported";
            if (!log.samples.temperature_c.empty() && std::isfinite(log.samples.temperature_c.front()))
                record.reading.conditions.temperature_c = log.samples.temperature_c.front();
            record.tray = u->record.tray;
            record.well = u->record.well;
            record.rule_set = rules_.stamp();
            record.taken_at = record.recorded_at = now();
            records_.add(record);
        };
        if (result.discharge_capacity_ah) {
            const Discharge& step = *result.discharge;
            Measurement capacity;
            capacity.quantity = Quantity::capacity;
            capacity.value = *result.discharge_capacity_ah;
            capacity.uncertainty = result.uncertainty_ah;
            capacity.conditions.discharge_current_a = step.mean_a;
            capacity.conditions.cutoff_v = step.end_v;
            capacity.conditions.charged_to_v = step.start_v;
            keep(capacity);
        }
        if (resistance.dc_resistance_ohm && *resistance.dc_resistance_ohm > 0) {
            Measurement ohms;
            ohms.quantity = Quantity::dc_resistance;
            ohms.value = *resistance.dc_resistance_ohm;
            ohms.uncertainty = resistance.uncertainty_ohm;
            keep(ohms);
        }
        records_.add(store::EventRecord{now(), "log imported", u->code(), file});
        return id;
    });
}

void Workshop::try_rules(const RuleSet& rules) {
    rules_ = rules;
    rules_changed_ = true;
    judge_all();
    emit changed();
}

Result<bool> Workshop::save_rules() {
    RuleSet next = rules_;
    for (const auto& [id, shipped] : library_.rule_sets)
        if (id == next.id)
            next.version = shipped.version + 1;
    const auto done = guarded_step(
        [&] {
            records_.add_library_text("rule-sets", next.id + ".toml", next.version, exchange::write_rule_set(next));
            records_.add(store::EventRecord{now(), "rule set saved", next.stamp(), ""});
        },
        touched_nothing);
    if (done) {
        rules_ = next;
        library_.rule_sets[next.id] = next;
        rules_changed_ = false;
        judge_all();
        emit changed();
    }
    return done;
}

std::array<int, duty_count> Workshop::duty_counts() const {
    std::array<int, duty_count> counts{};
    for (const UnitState& u : units_)
        if (u.in_stock())
            ++counts[static_cast<std::size_t>(u.verdict.duty)];
    return counts;
}

Result<bool> Workshop::overrule(Id unit_id, Duty duty, const std::string& reason) {
    const UnitState* u = unit(unit_id);
    if (u == nullptr)
        return Problem{"", 0, "There is no such unit."};
    if (reason.empty())
        return Problem{"", 0, "Give a reason; it is kept with the verdict."};
    if (u->verdict.duty == Duty::quarantine && duty != Duty::scrap)
        return Problem{
            "", 0, u->code() + " is in quarantine. That is not overruled: close the quarantine with what was found."};
    store::OverruleRecord record;
    record.unit_id = unit_id;
    record.from_duty = code(u->verdict.overruled_from.value_or(u->verdict.duty));
    record.duty = code(duty);
    record.reason = reason;
    record.rule_set = rules_.stamp();
    record.made_at = now();
    return guarded_step([&] { records_.add(record); }, touched_unit(unit_id));
}

Result<bool> Workshop::withdraw_overrule(Id unit_id) {
    for (const auto& record : overrules_)
        if (record.unit_id == unit_id)
            return guarded_step([&] { records_.withdraw_overrule(record.id, now()); }, touched_unit(unit_id));
    return Problem{"", 0, "This verdict was not overruled."};
}

} // namespace ingot
