// What the person may choose from in Match for one build.
#pragma once

#include "core/match/problem.h"

#include <QSettings>

#include <array>

namespace ingot::app {

inline constexpr std::array<double, 4> give_ups{0.0, 0.001, 0.005, 0.01}; // share of the usable capacity
inline constexpr std::array<MatchWay, 4> ways{MatchWay::voltage_only, MatchWay::deal, MatchWay::twins,
                                              MatchWay::search};
// How much work a search for one build may be (MatchProblem::effort).
[[nodiscard]] inline double patience() {
    return QSettings().value(QStringLiteral("match_patience"), patient_effort).toDouble();
}
inline constexpr int way_search = 3; // in `ways`

} // namespace ingot::app
