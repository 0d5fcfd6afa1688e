// Test: readings of units, testers' logs, what runs have shown.
#pragma once

#include "core/measure/correction.h"
#include "core/measure/discharge_curve.h"
#include "core/measure/resistance.h"
#include "core/measure/run.h"
#include "exchange/log_csv.h"
#include "workshop/service.h"

namespace ingot {

// What the newest capacity of a unit is beside those of its siblings.
struct CapacityComparison {
    std::optional<CorrectedCapacity> corrected; // where it was charged to less than full
    double full_v = 0, charged_to_v = 0;        // over the unit
    int siblings = 0, unlike = 0;
    std::map<Incomparable, int> reasons;
};

class TestService : public Service {
public:
    using Service::Service;

    // Why a reading of a unit is not believed.
    [[nodiscard]] std::optional<Problem> objection(const UnitState& unit, const Measurement& reading) const;
    // `taken_at` empty: now. ISO 8601.
    Result<Id> record_reading(Id unit, Measurement reading, const std::string& taken_at = {});
    Result<bool> strike_reading(Id measurement, const std::string& reason);
    // Stores the run and, if the log holds them, the capacity of a complete discharge and the DC resistance. All or
    // nothing. `taken_at`: when the log was written, where that is known.
    Result<Id> import_log(Id unit, const exchange::ImportedLog& log, const CapacityResult& result,
                          const std::string& file, const std::string& instrument,
                          const ResistanceResult& resistance = {}, const std::string& taken_at = {});
    // What a run on a bay has shown: measurements and cycles, all or nothing.
    // `ended`: its header, written in the same step. Of several units in series nothing is measured.
    Result<bool> record_concluded(const OnChannel& on, const std::vector<Measurement>& measured,
                                  const std::vector<Cycle>& cycles, Id run, const BayRun* ended = nullptr);
    // A run that was made on another unit of the same kind: its curves, cycles and readings stand there, here the
    // readings are struck out.
    Result<bool> give_run(Id run, Id unit);
    // What is known of an instrument's errors; nothing where nobody entered them.
    [[nodiscard]] std::optional<InstrumentErrors> errors_of(const std::string& instrument) const;

    // How a log of this unit is read: by its chemistry and its cells in series, with that instrument's errors, or those
    // of a usual tester while nobody entered them. `unit` may be null.
    [[nodiscard]] CapacityOptions options_for_log(const UnitState* unit, const std::string& instrument) const;
    [[nodiscard]] std::vector<Measurement> history(Id unit) const { // newest first, struck ones included
        return session_.measurements.history_of_unit(unit);
    }
    [[nodiscard]] std::vector<Run> runs(Id unit) const { return session_.runs.of_unit(unit); } // newest first
    [[nodiscard]] std::vector<Run> runs_of_assembly(Id assembly) const { return session_.runs.of_assembly(assembly); }
    [[nodiscard]] std::string last_run_at_assembly(Id assembly) const {
        return session_.runs.last_run_at_assembly(assembly);
    }
    [[nodiscard]] std::vector<RunStep> steps(Id run) const { return session_.runs.steps_of(run); }
    // The discharges of a unit that is conditioned, in order.
    [[nodiscard]] std::vector<Cycle> cycles(Id unit) const { return session_.runs.cycles_of(unit); }
    [[nodiscard]] LogSamples samples(Id run) const { return session_.runs.samples_of(run); }
    // The newest runs of a unit's siblings, one each.
    [[nodiscard]] std::vector<Id> sibling_runs(Id unit, std::size_t most) const;
    // The newest run of each sibling that ran this protocol (id and version) with a whole discharge; and the last of
    // these.
    [[nodiscard]] std::vector<Id> runs_discharged_like(Id unit, const std::string& protocol, std::size_t most) const;
    [[nodiscard]] DischargeCurve last_discharge(Id run) const;
    [[nodiscard]] CapacityComparison compare_capacity(Id unit) const;
    // Of units that several instruments read: unit, value, instrument, oldest first.
    [[nodiscard]] std::vector<Measurement> read_by_several(Quantity quantity) const {
        return session_.measurements.read_by_several(quantity);
    }
    // The next unit in stock that lacks a capacity, after this one and around again; 0: none.
    [[nodiscard]] Id next_waiting(Id after) const;

private:
    void complete(Measurement& m, const OnChannel& on) const;
    void complete(Measurement& m, const UnitState& unit, const std::string& taken_at) const;
};

} // namespace ingot
