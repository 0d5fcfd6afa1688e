// Measurements, rounds and instruments of a workshop file. Append-only; the file itself refuses changes.
#pragma once

#include "core/measure/measurement.h"

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot::store {

class Connection;

class Measurements {
public:
    explicit Measurements(Connection& connection) : connection_(connection) {}

    Id add(const Measurement& measurement); // its instrument is made known by its name
    void strike(Id measurement, const std::string& reason, const std::string& now);
    Id add(const Round& round);

    // That stand, with all their conditions, in no order that counts.
    [[nodiscard]] std::vector<Measurement> of_unit(Id unit);
    [[nodiscard]] std::vector<Measurement> of_assembly(Id assembly);
    // Struck ones included, newest first.
    [[nodiscard]] std::vector<Measurement> history_of_unit(Id unit);
    [[nodiscard]] std::vector<Measurement> history_of_assembly(Id assembly);
    [[nodiscard]] std::optional<Measurement> find(Id measurement);
    // The `most` entered last before one (0: of all), newest first, struck ones included.
    [[nodiscard]] std::vector<Measurement> page(Id before, std::size_t most);
    // All that stand of units, each unit's together, units in order; of one unit at a time, so that a large shop opens
    // without holding them all.
    void each_unit(const std::function<void(Id unit, const std::vector<Measurement>&)>& take);
    // Voltages at rest or stored that stand, of all units: unit, value, resolution, moment; by unit, oldest first.
    [[nodiscard]] std::vector<Measurement> rest_voltages();
    // What retention tests are read from, of units that began one: voltages at the end of a charge, all capacities; by
    // unit, oldest first.
    [[nodiscard]] std::vector<Measurement> retention_histories();
    // Of units that several instruments read: unit, value and instrument, oldest first.
    [[nodiscard]] std::vector<Measurement> read_by_several(Quantity quantity);
    [[nodiscard]] std::map<Id, std::vector<Measurement>> of_assemblies(); // that stand, oldest first
    [[nodiscard]] std::int64_t count();

    [[nodiscard]] Id instrument_named(const std::string& name); // made where there is none; 0 for ""
    [[nodiscard]] std::optional<Instrument> instrument(const std::string& name);
    [[nodiscard]] std::vector<Instrument> instruments();
    void set(const Instrument& instrument); // by its name

private:
    Connection& connection_;
};

} // namespace ingot::store
