// A board's log as CSV: a time, all groups of the pack in each row, its current and terminals where they are there. See
// docs/formats/board_log.md.
#pragma once

#include "core/cells/problem.h"
#include "core/prove/board_log.h"

#include <functional>
#include <string>
#include <string_view>

namespace ingot::exchange {

// `Time / s` (also h:mm:ss, or moments), `Cell 1 / V` ... (also Block, Group, Module), [`Current / A`], [`Voltage / V`]
// of the pack. `progress` is told the share done and may stop it by returning false (problem "stopped"). Problems: a
// group of the pack without a column, time that runs backwards, no rows, a number or unit that is not understood.
[[nodiscard]] Result<BoardLog> read_board_log_csv(std::string_view text, const std::string& file, int series,
                                                  const std::function<bool(double)>& progress = {});

} // namespace ingot::exchange
