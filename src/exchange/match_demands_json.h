// What a shop asks of its matches, by name, as JSON:
// {"mower": {"one_model_per_group": true, "whole_origins": false, "join_window_v": 0.05, "load_a": null}}.
// Pairs that are kept apart belong to units and are not written.
#pragma once

#include "core/cells/problem.h"
#include "core/match/problem.h"

#include <map>
#include <string>
#include <string_view>

namespace ingot::exchange {

// Empty text: none. Problems name the demands and the key: one that is not known, one whose value does not fit.
[[nodiscard]] Result<std::map<std::string, MatchDemands>> read_match_demands(std::string_view text,
                                                                             const std::string& file);
[[nodiscard]] std::string write_match_demands(const std::map<std::string, MatchDemands>& demands);

} // namespace ingot::exchange
