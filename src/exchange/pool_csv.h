// A pool of units: `Cell ID[,Capacity / Ah,DC Resistance / Ohm,Self-discharge / mAh/day,Model,Voltage / V,Chemistry]`,
// and for sorting also `AC Resistance / Ohm`, `Rated Capacity / Ah`, `Cells in Series`, `New DC Resistance / Ohm`.
#pragma once

#include "core/match/problem.h"
#include "core/sort/duty.h"
#include "exchange/csv.h"

#include <string>
#include <vector>

namespace ingot::exchange {

struct PoolRow {
    MatchUnit unit;
    std::optional<double> ac_resistance_ohm;
    std::optional<double> rated_ah;
    std::optional<double> new_dc_resistance_ohm;
    std::optional<int> cells_in_series;
    int line = 0;
};
struct Pool {
    std::vector<PoolRow> rows;
    Dialect dialect;
};

// Problems: no Cell ID column, an ID that is blank or stands twice, a negative capacity, a resistance that is not
// positive.
[[nodiscard]] Result<Pool> read_pool(std::string_view text, const std::string& file);
[[nodiscard]] std::string write_pool(const std::vector<MatchUnit>& units);

// `Cell ID,Group`, groups from 1.
[[nodiscard]] std::string write_assignment(const MatchProblem& problem, const MatchResult& result);

[[nodiscard]] UnitFacts facts_of(const PoolRow& row);

} // namespace ingot::exchange
