// The builds that are wanted from one pool, as CSV:
// `Build,Series,Parallel[,Chemistry,Priority,Duty,Usable Capacity / Ah,Give Up / %,Model,Like]`.
#pragma once

#include "core/cells/evidence.h"
#include "core/cells/problem.h"
#include "core/match/allot.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

struct WantedBuild {
    AllotBuild build;
    std::optional<Duty> duty; // units fit for it, or better
    std::string like;         // a pool file of surviving units, as written
    int line = 0;
};

[[nodiscard]] Result<std::vector<WantedBuild>> read_wanted_builds(std::string_view text, const std::string& file);
// `Cell ID,Build,Group`, groups from 1.
[[nodiscard]] std::string write_allotment(const AllotProblem& problem, const AllotResult& result);

} // namespace ingot::exchange
