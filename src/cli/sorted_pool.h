// A pool judged under a shipped rule set: what `sort` shows and `allot` asks for.
#pragma once

#include "core/cells/evidence.h"
#include "core/cells/problem.h"
#include "exchange/pool_csv.h"

#include <set>
#include <string>
#include <vector>

namespace ingot::cli {

struct SortedPool {
    std::string rule_set; // id and version
    std::vector<std::string> ids;
    std::vector<Verdict> verdicts;
    std::set<std::string> judged_by_siblings; // models
};
[[nodiscard]] Result<SortedPool> sorted_pool(const exchange::Pool& pool, const std::string& file,
                                             const std::string& rules);

} // namespace ingot::cli
