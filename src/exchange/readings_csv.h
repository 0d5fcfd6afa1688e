// Readings of a pack's groups as CSV: the long form (one reading a line), or the snapshot that a board or a vehicle
// recorded (one column for each block). See docs/formats/readings.md.
#pragma once

#include "core/cells/problem.h"
#include "core/triage/explain.h"
#include "exchange/csv.h"

#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

struct GroupReadings {
    std::vector<GroupReading> readings;
    std::vector<GroupCapacity> capacities;
    std::vector<GroupResistance> resistances;
    bool snapshot = false; // the wide form
    int rows = 0;          // of the snapshot; the last one counts
    Dialect dialect;
};

// Long form: `Group,Voltage / V,Condition[,Current / A][,Days][,Capacity / Ah][,Resistance / Ohm]`. Wide form: `Block 1
// / V,Block 2 / V,...` (also Cell, Group or Module) with an optional `Current / A`; under load when the last row's
// current is not nothing. Problems: groups outside 1..layout.series, a condition that is not known, days without a
// stored reading, a current under load that charges, a capacity that is not above 0.
[[nodiscard]] Result<GroupReadings> read_group_readings(std::string_view text, const std::string& file,
                                                        const PackLayout& layout);

// `Group,Unit,Voltage / V`.
[[nodiscard]] Result<std::vector<UnitVoltage>> read_unit_voltages(std::string_view text, const std::string& file,
                                                                  const PackLayout& layout);

// What is known beside voltages, into the case: `Kind,Group,Value`; kinds temperature (degC, at rest), capacity (Ah),
// replaced, lead-moved, lead-stayed (no value).
[[nodiscard]] Result<bool> read_evidence(std::string_view text, const std::string& file, TriageCase& pack);

} // namespace ingot::exchange
