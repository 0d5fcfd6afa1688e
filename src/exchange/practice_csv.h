// Scores of the practice bench as CSV, one line an answer:
// `Learner,Answered,Case,Deal,Right,Minutes,Safety,Score`. Right of 60, minutes and safety of 20 each.
#pragma once

#include "core/cells/problem.h"
#include "core/practice/score.h"

#include <string>
#include <string_view>
#include <vector>

namespace ingot::exchange {

struct PracticeResult {
    std::string learner;
    std::string answered_at; // ISO 8601
    std::string kind;        // what-is-wrong, leaking, cycling
    std::string deal;        // "3-4172"
    PracticeScore score;
};

[[nodiscard]] Result<std::vector<PracticeResult>> read_practice(std::string_view text, const std::string& file);
[[nodiscard]] std::string write_practice(const std::vector<PracticeResult>& results);

} // namespace ingot::exchange
