// The practice bench in words.
#pragma once

#include "core/practice/score.h"

#include <QString>

namespace ingot::wording {

QString practice_measure(PracticeMeasure measure);
QString practice_measure_below(PracticeMeasure measure, const PackDeal& deal);
QString hidden_fault(const HiddenFault& hidden); // "group 2: leaking cell"
QString engine_step(const EngineStep& step);     // "load round: 93 %, 58 %"

} // namespace ingot::wording
