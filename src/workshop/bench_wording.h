// Sentences of the test bench: resistance, conditioning and the plan.
#pragma once

#include "core/measure/conditioning.h"
#include "core/measure/resistance.h"

#include <QString>

namespace ingot::wording {

QString resistance_note(ResistanceWarning warning);
QString resistance_method(ResistanceMethod method);
QString conditioning_verdict(ConditioningVerdict verdict);
// Why, in one sentence, with its figures.
QString conditioning_reason(const ConditioningResult& result, double bar_ah);
// "run 3 more", "replace it", "use it".
QString conditioning_advice(const ConditioningResult& result);
// Where the old hands' rule says otherwise; empty where both agree.
QString rule_of_thumb(const ConditioningResult& result);

} // namespace ingot::wording
